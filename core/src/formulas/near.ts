/** Fewest letters to be added, left out or changed to come from one word to another. */
export function lettersApart(p: string, q: string): number {
  let row = Array.from({ length: q.length + 1 }, (_, k) => k);
  for (let i = 1; i <= p.length; i++) {
    const next = [i];
    for (let j = 1; j <= q.length; j++)
      next.push(Math.min(row[j] + 1, next[j - 1] + 1, row[j - 1] + (p[i - 1] === q[j - 1] ? 0 : 1)));
    row = next;
  }
  return row[q.length];
}
