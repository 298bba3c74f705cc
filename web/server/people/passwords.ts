/** Passwords: Argon2id, how good they must be, and how many are worked on at once. */
import { hash, verify } from '@node-rs/argon2';
import { passwordLength } from './limits';

/** OWASP's cheat sheet on password storage, as remembered: Argon2id with 19 MiB, two passes, one lane. The package's own default algorithm is Argon2id. */
const cost = { memoryCost: 19_456, timeCost: 2, parallelism: 1 };

/** Each takes memory and a thread: more than these wait, and more than those are sent away. */
const atOnce = 4;
const waiting: (() => void)[] = [];
const mostWaiting = 40;
let working = 0;

/** Too many at once. */
export class Busy extends Error {}

async function inTurn<T>(work: () => Promise<T>): Promise<T> {
  if (working >= atOnce) {
    if (waiting.length >= mostWaiting) throw new Busy();
    await new Promise<void>((resolve) => waiting.push(resolve));
  } else working++;
  try {
    return await work();
  } finally {
    const next = waiting.shift();
    if (next) next();
    else working--;
  }
}

export const hashOf = (password: string): Promise<string> => inTurn(() => hash(password.normalize('NFKC'), cost));

let nobodys: Promise<string> | null = null;
/** Checks against a hash; against one of nobody's where there is none, so that a name that is unknown takes as long as one that is not. */
export async function fits(stored: string | null, password: string): Promise<boolean> {
  const against = stored ?? (await (nobodys ??= hashOf('nobody has this password')));
  const same = await inTurn(() => verify(against, password.normalize('NFKC')));
  return stored !== null && same;
}

/** What is wrong with a new password, in words; null when nothing is. `about`: words that lie close for whoever guesses. */
export async function weakness(password: string, about: readonly string[]): Promise<string | null> {
  const length = [...password].length;
  if (length < passwordLength.least) return `A password has at least ${passwordLength.least} characters.`;
  if (length > passwordLength.most) return `A password has at most ${passwordLength.most} characters.`;
  const [{ ZxcvbnFactory }, common] = await Promise.all([
    import('@zxcvbn-ts/core'),
    import('@zxcvbn-ts/language-common'),
  ]);
  const { score } = new ZxcvbnFactory({ dictionary: common.dictionary, graphs: common.adjacencyGraphs }).check(
    password,
  );
  // Names of the person and of this desk are tried first: what is left without them has to be worth something.
  const close = [...about, 'mesura']
    .flatMap((word) => word.toLowerCase().split(/[\s@._+-]+/))
    .filter((word) => word.length > 2);
  const rest = close.reduce((text, word) => text.replaceAll(word, ''), password.toLowerCase());
  return score < 3 || rest.length < 8
    ? 'This password is easily guessed. Take a longer one, of words that do not belong together.'
    : null;
}
