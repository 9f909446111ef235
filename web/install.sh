#!/bin/sh
# Installs the front end's packages when the lock file changed since the last time.
set -eu
cd "$(dirname "$0")"
if [ ! -d node_modules ] || ! cmp -s package-lock.json node_modules/.posada-lock; then
  npm ci --no-audit --no-fund --loglevel=error
  cp package-lock.json node_modules/.posada-lock
fi
