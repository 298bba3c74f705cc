import { defineConfig } from 'vitest/config';

/** The tests that mutants are held against: those of the folders that are mutated. */
export default defineConfig({
  test: {
    testTimeout: 60_000,
    env: { MESURA_FEW_RUNS: '1' },
    include: ['core/src/{protection,grading,checks,sheets,studies}/**/*.test.ts'],
    // Held against the whole network at thousands of places: what it covers the others cover too, and a mutant would wait for it.
    exclude: ['core/src/studies/seen.test.ts'],
  },
});
