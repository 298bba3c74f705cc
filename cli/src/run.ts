/** The terminal program as a function: arguments in, text and exit code out. */
import { argumentsOf, withHelp } from './arguments';
import type { Command, Outcome, Read, ReadBytes } from './command';
import { commands } from './commands';
import { Refusal } from './options';
import { overGrid } from './grid';
import { withColumns } from './output';
import { commandLines, usage } from './usage';

const fail = (code: 1 | 2, errors: string): Outcome => ({ code, output: '', errors: `${errors}\n` });

function begin(args: readonly string[], read: Read, bytes: ReadBytes): Outcome | Promise<Outcome> {
  const { values, positionals } = argumentsOf(args);
  if (values.help) return { code: 0, output: usage, errors: '' };
  const [name, ...paths] = positionals;
  const command = commands.find((each) => each.name === name);
  if (!command) throw new Refusal(2, notACommand(name));
  const answer = () =>
    values.set?.length
      ? overGrid(args, values, gridPath(command, paths), read, run)
      : command.run({ paths, values, read, bytes, ask: (inner) => run(inner, read) });
  // Within a grid each case chooses its columns itself.
  return values.columns === undefined || values.set?.length ? answer() : withColumns(values.columns, answer);
}

/** The project that values are set in. */
function gridPath({ name, takes }: Command, paths: readonly string[]): string {
  if (takes === 'FILE' && name !== 'import' && name !== 'export' && paths.length === 1) return paths[0];
  throw new Refusal(2, `--set is for studies of one project, not for ${name}`);
}

function refused(error: unknown): Outcome {
  if (error instanceof Refusal) return fail(error.code, error.code === 2 ? withHelp(error.message) : error.message);
  throw error;
}

/** Whatever the program does. `bytes` reads files that are no texts. */
export async function perform(args: readonly string[], read: Read, bytes: ReadBytes): Promise<Outcome> {
  try {
    return await begin(args, read, bytes);
  } catch (error) {
    return refused(error);
  }
}

/** Commands that answer at once: all studies. */
export function run(args: readonly string[], read: Read): Outcome {
  try {
    const outcome = begin(args, read, (path) => new TextEncoder().encode(read(path)));
    if (outcome instanceof Promise) throw new Error(`${args[0]} does not answer at once`);
    return outcome;
  } catch (error) {
    return refused(error);
  }
}

const notACommand = (name: string | undefined) =>
  `${name === undefined ? 'a command is missing' : `there is no command "${name}"`}; there are\n${commandLines}`;

export { usage };
