/**
 * Whether people sign in. On loopback the desk is its owner's own: one local person, who may take any role. Whatever is reached from elsewhere, by another address or
 * under another name, has accounts.
 */
export type DeskMode = 'ownDesk' | 'accounts';

type Environment = Readonly<Record<string, string | undefined>>;

const loopback = /^(127\.\d{1,3}\.\d{1,3}\.\d{1,3}|::1|localhost)$/;

/** Address that the server listens on. */
export const listensAt = (env: Environment): string => env.MESURA_LISTEN?.trim() || '127.0.0.1';

/** Error: a word in MESURA_ACCOUNTS that stands for nothing. */
export function modeOf(env: Environment = process.env): DeskMode {
  const asked = env.MESURA_ACCOUNTS?.trim() ?? '';
  if (asked !== '' && asked !== 'required')
    throw new Error(`MESURA_ACCOUNTS must be "required" or left out, not "${asked}".`);
  const isReachedFromElsewhere = !loopback.test(listensAt(env)) || Boolean(env.MESURA_HOSTS?.trim());
  return asked === 'required' || isReachedFromElsewhere ? 'accounts' : 'ownDesk';
}

/** Whether what a proxy says of the client is believed. Error: as {@link modeOf}. */
export function trustsProxy(env: Environment = process.env): boolean {
  const asked = env.MESURA_PROXY?.trim() ?? '';
  if (asked !== '' && asked !== 'trusted')
    throw new Error(`MESURA_PROXY must be "trusted" or left out, not "${asked}".`);
  return asked === 'trusted';
}
