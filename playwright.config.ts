import { defineConfig } from '@playwright/test';

export const launchOptions = {
  executablePath: '/usr/bin/chromium',
  chromiumSandbox: false,
  args: [
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
  ],
};

export default defineConfig({
  testDir: 'tests/browser',
  workers: 1,
  timeout: 300_000,
  expect: { timeout: 20_000 },
  reporter: [['line'], ['json']],
  use: {
    baseURL: process.env['BASE_URL'] ?? 'http://127.0.0.1:4610',
    viewport: { width: 1280, height: 800 },
    actionTimeout: 30_000,
    trace: 'off',
    launchOptions,
  },
});
