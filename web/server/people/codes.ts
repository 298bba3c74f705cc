/** One-time codes after RFC 6238: six digits, thirty seconds, SHA-1, as every authenticator reads them; and codes for the day when the telephone is lost. */
import { randomInt } from 'node:crypto';
import { Secret, TOTP } from 'otpauth';

const period = 30;

const of = (secret: string, label: string): TOTP =>
  new TOTP({ issuer: 'Mesura', label, algorithm: 'SHA1', digits: 6, period, secret: Secret.fromBase32(secret) });

export const newSecret = (): string => new Secret({ size: 20 }).base32;

/** Address that an authenticator reads, as text or as a picture. */
export const codeAddress = (secret: string, label: string): string => of(secret, label).toString();

/** The step of a code that fits now or one step before or after (RFC 6238, 5.2), and that is later than the last one used; null for none. */
export function stepOf(secret: string, code: string, lastStep: number, nowMs: number): number | null {
  const plain = code.replace(/\s/g, '');
  if (!/^\d{6}$/.test(plain)) return null;
  const delta = of(secret, '').validate({ token: plain, timestamp: nowMs, window: 1 });
  if (delta === null) return null;
  const step = Math.floor(nowMs / 1000 / period) + delta;
  return step > lastStep ? step : null;
}

const letters = 'abcdefghjkmnpqrstuvwxyz23456789';
export const recoveryCodes = (): string[] =>
  Array.from({ length: 10 }, () =>
    Array.from({ length: 12 }, (_, k) => (k % 4 === 0 && k > 0 ? '-' : '') + letters[randomInt(letters.length)]).join(
      '',
    ),
  );
export const plainRecovery = (code: string): string => code.toLowerCase().replace(/[^a-z0-9]/g, '');
