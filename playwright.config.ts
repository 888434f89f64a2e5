import { defineConfig } from '@playwright/test';

export const launchOptions = {
  executablePath: '/usr/bin/chromium-headless-shell',
  chromiumSandbox: false,
  args: [
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
    '--disable-features=Translate,OptimizationHints',
    '--disable-renderer-backgrounding',
  ],
};

export default defineConfig({
  testDir: 'tests/browser',
  outputDir: process.env['PLAYWRIGHT_OUTPUT'] ?? 'test-results',
  workers: 1,
  // No test is judged by a clock: limits are there so that a run ends at all, on a busy machine too.
  timeout: 1_800_000,
  expect: { timeout: Number(process.env['SIGNAL_POST_EXPECT_MS'] ?? 180_000) },
  reporter: [['line'], ['json']],
  use: {
    baseURL: process.env['BASE_URL'] ?? 'http://127.0.0.1:4610',
    viewport: { width: 1280, height: 800 },
    actionTimeout: 180_000,
    trace: 'off',
    launchOptions,
  },
});
