/** Nothing that is not a number is shown on a sheet, or issued. */

/** Path of the first number that is none; null when all are finite. */
export function notFinite(value: unknown, path: readonly string[] = []): readonly string[] | null {
  if (typeof value === 'number') return Number.isFinite(value) ? null : path;
  if (typeof value !== 'object' || value === null) return null;
  for (const [key, inner] of Object.entries(value)) {
    const found = notFinite(inner, [...path, key]);
    if (found) return found;
  }
  return null;
}
