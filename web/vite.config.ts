import react from '@vitejs/plugin-react';
import { defineConfig } from 'vitest/config';

// In development the pages come from Vite and the answers from a running ./run on its usual port.
export default defineConfig({
  plugins: [react()],
  build: {
    outDir: 'dist',
    chunkSizeWarningLimit: 1600,
    rollupOptions: { output: { manualChunks: (id) => (id.includes('node_modules') ? 'packages' : undefined) } },
  },
  server: { host: '127.0.0.1', proxy: { '/api': 'http://127.0.0.1:5180' } },
  test: {
    environment: 'jsdom',
    include: ['src/**/*.test.{ts,tsx}'],
    setupFiles: ['src/testing/setup.ts'],
    testTimeout: 20_000,
    // Setting up a document for each file takes longer than most files; what a test leaves is taken away in setup.ts.
    isolate: false,
    // One for each core; it would leave one idle.
    maxWorkers: '100%',
  },
});
