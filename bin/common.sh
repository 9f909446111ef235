# Shared by the commands in bin/: finds Java, builds modules whose sources are newer than their jar.

# What frees memory: the quickest, unless a program asks for another.
collector=-XX:+UseParallelGC

# java_release JAVA: its version's first number; 0 if that is not told.
java_release() {
  release=$(sed -n 's/^JAVA_VERSION="\([0-9]*\).*/\1/p' "$(dirname "$(dirname "$(readlink -f "$1")")")/release" 2>/dev/null) || :
  echo "${release:-0}"
}

newest_java() {
  best=17
  found=
  for home in "${JAVA_HOME:-}" /usr/lib/jvm/*; do
    [ -x "$home/bin/java" ] || continue
    v=$(java_release "$home/bin/java")
    if [ "$v" -ge "$best" ]; then
      best=$v
      found=$home/bin/java
    fi
  done
  [ -n "$found" ] || found=$(command -v java) || {
    echo "Posada needs JDK 17 or newer; install it, for instance with: apt-get install openjdk-17-jdk" >&2
    exit 1
  }
  echo "$found"
}

# without_notice: leaves out Java's first line about the vector module, which it has no option for; all
# other lines of the error stream pass through as they come.
without_notice() {
  pipe=$(mktemp -u) && mkfifo -m 600 "$pipe" || return 0
  {
    IFS= read -r line || :
    case $line in
      "WARNING: Using incubator modules: jdk.incubator.vector" | "") ;;
      *) printf '%s\n' "$line" ;;
    esac
    exec cat
  } <"$pipe" >&2 &
  exec 2>"$pipe"
  rm "$pipe"
}

# run_java ARGS...: becomes a Java program, with the vector unit where this Java has the module for it.
# POSADA_JAVA names another Java, POSADA_MEMORY the most memory for scenes, pictures and frames, such
# as 6g.
run_java() {
  java=${POSADA_JAVA:-$(newest_java)}
  [ -z "${POSADA_MEMORY:-}" ] || set -- "-Xmx$POSADA_MEMORY" "$@"
  # The video library brings code of its own, which Java otherwise warns of.
  set -- "$collector" --enable-native-access=ALL-UNNAMED "$@"
  # Some functions of the Draco decoder are so long that Java would only interpret them.
  set -- -XX:-DontCompileHugeMethods "$@"
  # Large pages for the heap, where the system gives them to those who ask: walks through large scenes
  # look up fewer addresses.
  if grep -q '\[madvise\]' /sys/kernel/mm/transparent_hugepage/enabled 2>/dev/null; then
    set -- -XX:+UseTransparentHugePages "$@"
  fi
  # Offsets of vectors are right by construction (and checked by every test): the check costs a tenth.
  if grep -q jdk.incubator.vector "$(dirname "$(dirname "$(readlink -f "$java")")")/release" 2>/dev/null; then
    without_notice
    set -- --add-modules jdk.incubator.vector -Djdk.incubator.vector.VECTOR_ACCESS_OOB_CHECK=0 "$@"
  fi
  exec "$java" "$@"
}

# build_if_needed MODULE SOURCES...: the module's jar against the folders of its sources.
build_if_needed() {
  module=$1
  shift
  jar=$root/$module/target/posada-$module-0.1.0.jar
  stale=
  if [ ! -f "$jar" ] || [ ! -d "$root/$module/target/lib" ]; then
    stale=1
  else
    for s in "$@"; do
      from=$root/$s/src
      [ "$s" = web ] && from="$from $root/web/public $root/web/index.html $root/web/package-lock.json $root/web/vite.config.ts"
      [ "$s" = formats ] && from="$from $root/formats/draco/package-lock.json"
      # shellcheck disable=SC2086
      [ -z "$(find $from "$root/$s/pom.xml" -newer "$jar" -not -path '*/test/*' -not -name schema.d.ts -type f -print -quit 2>/dev/null)" ] || stale=1
    done
  fi
  if [ -n "$stale" ]; then
    command -v mvn >/dev/null || {
      echo "Posada builds with Maven; install it, for instance with: apt-get install maven" >&2
      exit 1
    }
    echo "building $module (the first time takes a few minutes)" >&2
    (cd "$root" && mvn -q -B -T1C -DskipTests -pl "$module" -am package) >&2
    touch "$jar"
  fi
}

# train_server: has the server started and ended once, and keeps what Java has learned of its classes
# beside its jar: from then on it starts in two thirds of the time. Java 25 or newer can do that.
train_server() {
  jar=$root/server/target/posada-server-0.1.0.jar
  learned=$root/server/target/server.aot
  [ "$(java_release "${POSADA_JAVA:-$(newest_java)}")" -ge 25 ] || return 0
  [ ! "$learned" -nt "$jar" ] || return 0
  rm -f "$learned"
  home=$(mktemp -d)
  (
    export POSADA_HOME="$home" PORT=0 JDK_JAVA_OPTIONS="-XX:AOTCacheOutput=$learned.new"
    run_server
  ) >"$home/log" 2>&1 &
  server=$!
  for _ in $(seq 600); do
    if ! kill -0 $server 2>/dev/null || grep -q "Started PosadaServer" "$home/log"; then break; fi
    sleep 0.2
  done
  kill $server 2>/dev/null || :
  wait $server || :
  [ ! -f "$learned.new" ] || mv "$learned.new" "$learned"
  rm -rf "$home"
}

# run_server ARGS...: becomes the server, which gives memory back when it rests. From JDK 24 on the queue
# needs leave to free its buffers by hand.
run_server() {
  java=${POSADA_JAVA:-$(newest_java)}
  set -- -cp "$root/server/target/posada-server-0.1.0.jar:$root/server/target/lib/*" \
    posada.server.app.PosadaServer "$@"
  collector=-XX:+UseG1GC
  learned=$root/server/target/server.aot
  if [ "$learned" -nt "$root/server/target/posada-server-0.1.0.jar" ] && [ "$(java_release "$java")" -ge 25 ]; then
    set -- "-XX:AOTCache=$learned" -Xlog:aot=off "$@"
  fi
  set -- -XX:G1PeriodicGCInterval=20000 -XX:MinHeapFreeRatio=5 -XX:MaxHeapFreeRatio=15 "$@"
  if "$java" --sun-misc-unsafe-memory-access=allow -version >/dev/null 2>&1; then
    set -- --sun-misc-unsafe-memory-access=allow -Dio.netty.noUnsafe=false "$@"
  fi
  run_java "$@"
}
