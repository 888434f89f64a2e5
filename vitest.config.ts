import { defineConfig } from 'vitest/config';

/** No test is judged by a clock: limits are there so that a run ends at all, on a machine with eight other busy processes too. */
const AT_ALL_MS = Number(process.env['SIGNAL_POST_TEST_MS'] ?? 600_000);
const COMMON = {
  setupFiles: process.env['MUTANTS_SEEN'] === undefined ? ['tests/drawn.ts'] : ['tests/drawn.ts', 'ops/mutants/seen-in-tests.ts'],
  testTimeout: AT_ALL_MS,
  hookTimeout: AT_ALL_MS,
  expect: { poll: { timeout: Number(process.env['SIGNAL_POST_UNTIL_MS'] ?? 240_000), interval: 20 } },
};

export default defineConfig({
  test: {
    maxWorkers: Number(process.env['SIGNAL_POST_WORKERS'] ?? 2),
    projects: [
      {
        test: {
          ...COMMON,
          name: 'alone',
          include: ['tests/**/*.test.ts'],
          exclude: ['tests/{server,db,ops}/**'],
          // The modules are loaded once by each worker, not by each file: that was half the time.
          isolate: false,
          sequence: { groupOrder: 0 },
        },
      },
      {
        test: {
          ...COMMON,
          name: 'processes',
          include: ['tests/{server,db,ops}/**/*.test.ts'],
          isolate: false,
          sequence: { groupOrder: 0 },
        },
      },
    ],
  },
});
