/** The terminal program as a function: arguments in, text and exit code out. */
import { watched } from '@mesura/core/working/steps';
import { argumentsOf, withHelp } from './arguments';
import type { Documents, Outcome, Read, ReadBytes } from './command';
import { commands } from './commands';
import { Refusal } from './options';
import { atServer } from './remote';
import { answered, askWith, refused } from './study';
import { commandLines, usage } from './usage';
import { optionsOf } from './words';

function begin(
  args: readonly string[],
  read: Read,
  bytes: ReadBytes,
  documents?: Documents,
  tell: (share: number) => void = () => undefined,
): Outcome | Promise<Outcome> {
  const { values, positionals, typed } = argumentsOf(args);
  if (values.help) return { code: 0, output: usage, errors: '' };
  const [name, ...paths] = positionals;
  const command = commands.find((each) => each.name === name);
  if (!command) throw new Refusal(2, notACommand(name));
  const known = optionsOf(name);
  for (const option of typed)
    if (option !== 'format' && option !== 'help' && !known.includes(option))
      throw new Refusal(2, `${name} takes no --${option}${known.length > 0 ? `; it takes ${listed(known)}` : ''}`);
  if (values.server !== undefined) return atServer(name, values, typed, tell);
  return answered(command, {
    paths,
    values,
    read,
    bytes,
    documents,
    ask: (inner) => run(inner, read),
    study: askWith(documents),
  });
}

const listed = (options: readonly string[]): string => options.map((option) => `--${option}`).join(', ');

function inWords(error: unknown): Outcome {
  if (error instanceof Refusal) return refused(error, error.code === 2 ? withHelp(error.message) : error.message);
  throw error;
}

/** Whatever the program does; `tell` hears how far it is. `bytes` reads files that are no texts; `documents` writes those that the core cannot. */
export async function perform(
  args: readonly string[],
  read: Read,
  bytes: ReadBytes,
  documents?: Documents,
  tell?: (share: number) => void,
): Promise<Outcome> {
  try {
    const work = () => begin(args, read, bytes, documents, tell);
    return await (tell ? watched(tell, work) : work());
  } catch (error) {
    return inWords(error);
  }
}

/** Commands that answer at once: all studies. */
export function run(args: readonly string[], read: Read): Outcome {
  try {
    const outcome = begin(args, read, (path) => new TextEncoder().encode(read(path)));
    if (outcome instanceof Promise) throw new Error(`${args[0]} does not answer at once`);
    return outcome;
  } catch (error) {
    return inWords(error);
  }
}

const notACommand = (name: string | undefined) =>
  `${name === undefined ? 'a command is missing' : `there is no command "${name}"`}; there are\n${commandLines}`;

export { usage };
