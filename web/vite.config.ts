import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vitest/config';

export default defineConfig({
  plugins: [react(), tailwindcss()],
  build: { outDir: 'target/classes/static', emptyOutDir: true },
  // On a machine that builds at the same time a page takes seconds.
  test: { testTimeout: 60_000 },
  server: { proxy: { '/api': 'http://localhost:8080' } },
});
