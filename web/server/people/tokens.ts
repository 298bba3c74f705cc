/** Secrets that are handed out once and kept as digests only; and the lock for what must be read again. */
import { createCipheriv, createDecipheriv, createHash, randomBytes } from 'node:crypto';

/** 256 bits, as they stand in a cookie or an address. */
export const newToken = (): string => randomBytes(32).toString('base64url');

export const digestOfToken = (token: string): string => createHash('sha256').update(token).digest('hex');

/** Of the installation; null where it has none. */
function key(): Buffer | null {
  const text = process.env.MESURA_SECRET ?? '';
  return text.length >= 32 ? createHash('sha256').update(`mesura one-time codes ${text}`).digest() : null;
}

export const canLock = (): boolean => key() !== null;

/** AES-256-GCM under the secret of the installation: the database alone tells nothing. Error: there is no secret. */
export function locked(text: string): string {
  const secret = key();
  if (!secret) throw new Error('no secret is configured');
  const nonce = randomBytes(12);
  const cipher = createCipheriv('aes-256-gcm', secret, nonce);
  const body = Buffer.concat([cipher.update(text, 'utf8'), cipher.final()]);
  return Buffer.concat([nonce, cipher.getAuthTag(), body]).toString('base64url');
}

/** Null where it was locked under another secret, or tampered with. */
export function unlocked(stored: string): string | null {
  const secret = key();
  if (!secret) return null;
  const bytes = Buffer.from(stored, 'base64url');
  try {
    const decipher = createDecipheriv('aes-256-gcm', secret, bytes.subarray(0, 12));
    decipher.setAuthTag(bytes.subarray(12, 28));
    return Buffer.concat([decipher.update(bytes.subarray(28)), decipher.final()]).toString('utf8');
  } catch {
    return null;
  }
}
