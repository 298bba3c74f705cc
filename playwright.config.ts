import { defineConfig } from '@playwright/test';

/** Drives the production build that `npm test` started; MESURA_URL says where. */
export default defineConfig({
  testDir: 'e2e',
  timeout: 120_000,
  // How quick it is belongs to the benchmarks; a busy machine must not fail a test.
  expect: { timeout: 30_000 },
  workers: 1,
  reporter: [['list'], ['json']],
  use: {
    baseURL: process.env.MESURA_URL ?? 'http://127.0.0.1:3000',
    viewport: { width: 1280, height: 800 },
    launchOptions: { executablePath: '/usr/bin/chromium' },
    trace: 'retain-on-failure',
  },
});
