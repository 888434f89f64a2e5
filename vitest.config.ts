import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['tests/{core,analysis,ui,islands,outside,foreign,server,demo,ops}/**/*.test.ts'],
    setupFiles: ['tests/drawn.ts'],
    testTimeout: 60_000,
    hookTimeout: 120_000,
    fileParallelism: true,
    maxWorkers: 2,
  },
});
