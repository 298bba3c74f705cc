/**
 * `npm run mutate`: mutation testing of what judges and documents settings. Slow, and no part of `npm test`; figures in docs/testing.md. Some files only:
 * `npm run mutate -- --mutate core/src/grading/margin.ts`.
 */
export default {
  packageManager: 'npm',
  plugins: ['@stryker-mutator/vitest-runner'],
  testRunner: 'vitest',
  vitest: { configFile: 'vitest.mutate.config.mts' },
  mutate: [
    'core/src/{protection,grading,checks,sheets,studies}/**/*.ts',
    '!core/src/**/*.test.ts',
    // Schemas and lists of values have no branches to get wrong; texts are not what is tested here.
    '!core/src/protection/**/schema.ts',
    '!core/src/protection/{schemas,overcurrent/library}.ts',
  ],
  // Wording is read, not tested; what else is a string in these folders is a code, and those are.
  mutator: { excludedMutations: ['StringLiteral'] },
  coverageAnalysis: 'perTest',
  concurrency: 2,
  timeoutMS: 20000,
  timeoutFactor: 3,
  reporters: ['clear-text', 'json', 'progress'],
  clearTextReporter: { allowColor: false, logTests: false, reportScoreTable: true },
  jsonReporter: { fileName: '.data/mutation.json' },
  tempDirName: '.data/stryker',
  ignorePatterns: ['web', 'e2e', 'docs', 'test-results', '.data', 'scripts/campaign'],
  disableTypeChecks: false,
};
