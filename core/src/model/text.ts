/** Texts that every part can store and show: well-formed Unicode without NUL. */

/** Halves of surrogate pairs that stand alone, and NUL. */
const unstorable = /[\0]|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/;

export const isStorable = (text: string): boolean => !unstorable.test(text);

/** What was typed or pasted without the characters that cannot be stored. */
export const storableText = (text: string): string => text.replace(new RegExp(unstorable.source, 'g'), '');

/** Path of the first text in a value that cannot be stored; null when all can. */
export function unstorableText(value: unknown, path: readonly (string | number)[] = []): (string | number)[] | null {
  if (typeof value === 'string') return isStorable(value) ? null : [...path];
  if (typeof value !== 'object' || value === null) return null;
  for (const [key, inner] of Object.entries(value)) {
    const found = unstorableText(inner, [...path, Array.isArray(value) ? Number(key) : key]);
    if (found) return found;
  }
  return null;
}
