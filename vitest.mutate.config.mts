import { defineConfig } from 'vitest/config';

/** Of one folder, with MUTATE_FOLDER=studies: what all others lean on is quicker held against its own tests alone. */
const folders = process.env.MUTATE_FOLDER ?? '{protection,grading,checks,sheets,studies}';

/** The tests that mutants are held against: those of the folders that are mutated. */
export default defineConfig({
  test: {
    testTimeout: 60_000,
    env: { MESURA_FEW_RUNS: '1' },
    include: [`core/src/${folders}/**/*.test.ts`],
  },
});
