/**
 * Numbers to nine significant digits: the last bits of exp and log differ from one engine to the next, and must not make a sheet
 * look changed.
 */
export function rounded<T>(value: T): T {
  if (typeof value === 'number') return (Number.isFinite(value) ? Number(value.toPrecision(9)) : value) as T;
  if (Array.isArray(value)) return value.map(rounded) as T;
  if (value === null || typeof value !== 'object') return value;
  return Object.fromEntries(Object.entries(value).map(([key, inner]) => [key, rounded(inner)])) as T;
}
