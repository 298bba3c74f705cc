import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    projects: [
      { test: { name: 'core', include: ['core/src/**/*.test.ts', 'cli/src/**/*.test.ts', 'scripts/**/*.test.ts'] } },
      { test: { name: 'web', include: ['web/**/*.test.ts'], exclude: ['web/server/**', '**/node_modules/**'] } },
      { test: { name: 'database', include: ['web/server/**/*.test.ts'], fileParallelism: false } },
    ],
  },
});
