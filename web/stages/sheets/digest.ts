import { digestible, inForm1 } from '@mesura/core/sheets/digestible';
import type { SheetContent } from '@mesura/core/sheets/sheet';

/** Digests under which a sheet with this content may have been issued: of today's form, and of the one before. */
export async function digestsOf(content: SheetContent | null): Promise<readonly string[]> {
  if (!content) return [];
  const earlier = inForm1(content);
  return Promise.all([sha256(digestible(content)), ...(earlier ? [sha256(earlier)] : [])]);
}

/** SHA-256 of a content, as the server computes it when it issues a sheet. */
async function sha256(content: unknown): Promise<string> {
  const bytes = await crypto.subtle.digest('SHA-256', new TextEncoder().encode(JSON.stringify(content)));
  return [...new Uint8Array(bytes)].map((byte) => byte.toString(16).padStart(2, '0')).join('');
}
