import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['tests/**/*.test.ts'],
    setupFiles: ['tests/drawn.ts'],
    testTimeout: 60_000,
    hookTimeout: 120_000,
    fileParallelism: true,
    maxWorkers: 2,
  },
});
