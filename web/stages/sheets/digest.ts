import type { SheetContent } from '@mesura/core/sheets/sheet';

/** SHA-256 of a sheet's content, as the server computes it when it issues one. */
export async function digestOf(content: SheetContent | null): Promise<string> {
  const bytes = await crypto.subtle.digest('SHA-256', new TextEncoder().encode(JSON.stringify(content)));
  return [...new Uint8Array(bytes)].map((byte) => byte.toString(16).padStart(2, '0')).join('');
}
