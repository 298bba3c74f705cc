import { defineConfig } from 'vitest/config';

/** How quick it is belongs to the benchmarks; a busy machine must not fail a test. */
const testTimeout = 600_000;

export default defineConfig({
  test: {
    maxWorkers: '100%',
    projects: [
      {
        test: {
          name: 'core',
          // Pure functions leave nothing behind that the next file could stumble over.
          isolate: false,
          testTimeout,
          hookTimeout: testTimeout,
          include: ['core/src/**/*.test.ts', 'cli/src/**/*.test.ts', 'scripts/**/*.test.ts'],
        },
      },
      {
        test: {
          name: 'web',
          testTimeout,
          hookTimeout: testTimeout,
          include: ['web/**/*.test.ts'],
          exclude: ['web/server/**', '**/node_modules/**'],
        },
      },
      {
        test: {
          name: 'database',
          testTimeout,
          hookTimeout: testTimeout,
          include: ['web/server/**/*.test.ts'],
          fileParallelism: false,
        },
      },
    ],
  },
});
