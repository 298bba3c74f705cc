/** Storage of a browser as tests see it: what is kept lies in a map of theirs. */
export const mapStorage = (kept: Map<string, string>) => ({
  getItem: (key: string) => kept.get(key) ?? null,
  setItem: (key: string, value: string) => void kept.set(key, value),
  removeItem: (key: string) => void kept.delete(key),
  key: (k: number) => [...kept.keys()][k] ?? null,
  get length() {
    return kept.size;
  },
});
