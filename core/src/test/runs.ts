/** How often a property is tried: a quarter of it for each of thousands of mutants (`npm run mutate`). */
export const runs = (usual: number): number => (process.env.MESURA_FEW_RUNS ? Math.ceil(usual / 4) : usual);

/** A list to go through: every eighth for each of thousands of mutants. */
export const thinned = <T>(usual: readonly T[]): readonly T[] =>
  process.env.MESURA_FEW_RUNS ? usual.filter((_, k) => k % 8 === 0) : usual;
