/** Lists of numbers as people write them: "14, 15, 22", "3, 7-9". */

export type NumberList =
  { readonly ok: true; readonly values: number[] } | { readonly ok: false; readonly message: string };

/** Separated by commas and blanks; where semicolons, tabs or line ends separate, a comma is a decimal one. */
export function numbersOf(text: string, { whole = false, ranges = false, most = 2000 } = {}): NumberList {
  const separators = /[;\t\n]/.test(text) ? /[;\s]+/ : /[,\s]+/;
  const parts = text.split(separators).filter((part) => part !== '');
  const values: number[] = [];
  for (const part of parts) {
    const range = ranges ? /^(\d+)[-–](\d+)$/.exec(part) : null;
    if (range) {
      const [from, to] = [Number(range[1]), Number(range[2])];
      if (to < from || to - from > most) return { ok: false, message: `"${part}" is no range` };
      for (let k = from; k <= to; k++) values.push(k);
      continue;
    }
    const value = Number(part.replace(',', '.'));
    if (!Number.isFinite(value) || (whole && !Number.isInteger(value)))
      return { ok: false, message: `"${part}" is not a number` };
    values.push(value);
  }
  if (values.length > most) return { ok: false, message: `at most ${most} values` };
  return { ok: true, values };
}

export const listText = (values: readonly number[] | null): string =>
  (values ?? []).map((value) => Number(value.toPrecision(6))).join('; ');

/** Runs of numbers as ranges. */
export function towersText(towers: readonly number[]): string {
  const sorted = [...towers].sort((p, q) => p - q);
  const parts: string[] = [];
  for (let k = 0; k < sorted.length;) {
    let end = k;
    while (end + 1 < sorted.length && sorted[end + 1] === sorted[end] + 1) end++;
    parts.push(end > k + 1 ? `${sorted[k]}-${sorted[end]}` : sorted.slice(k, end + 1).join(', '));
    k = end + 1;
  }
  return parts.join(', ');
}
