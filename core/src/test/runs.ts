/** How often a property is tried: a quarter of it for each of thousands of mutants (`npm run mutate`). */
export const runs = (usual: number): number => (process.env.MESURA_FEW_RUNS ? Math.ceil(usual / 4) : usual);
