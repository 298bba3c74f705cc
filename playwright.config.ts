import { defineConfig } from '@playwright/test';

/** Drives the production build that `npm test` started; MESURA_URL says where. */
export default defineConfig({
  testDir: 'e2e',
  // Machines that are shared have been seen five times as slow as at other hours.
  timeout: 300_000,
  // How quick it is belongs to the benchmarks; a busy machine must not fail a test.
  expect: { timeout: 60_000 },
  // Chromium paints without a graphics card and takes every core by itself: two at once took longer than one after the other.
  workers: 1,
  reporter: [['list'], ['json']],
  use: {
    baseURL: process.env.MESURA_URL ?? 'http://127.0.0.1:3000',
    viewport: { width: 1280, height: 800 },
    launchOptions: { executablePath: '/usr/bin/chromium' },
    // A recording nearly doubles the time of the large drawings; asked for when a failure is looked into.
    trace: process.env.MESURA_TRACE ? 'retain-on-failure' : 'off',
  },
});
