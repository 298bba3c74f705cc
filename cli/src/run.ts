/** The terminal program as a function: arguments in, text and exit code out. */
import { argumentsOf, withHelp } from './arguments';
import type { Outcome, Read } from './command';
import { commands } from './commands';
import { Refusal } from './options';
import { commandLines, usage } from './usage';

const fail = (code: 1 | 2, errors: string): Outcome => ({ code, output: '', errors: `${errors}\n` });

export function run(args: readonly string[], read: Read): Outcome {
  try {
    const { values, positionals } = argumentsOf(args);
    if (values.help) return { code: 0, output: usage, errors: '' };
    const [name, ...paths] = positionals;
    const command = commands.find((each) => each.name === name);
    if (!command) throw new Refusal(2, notACommand(name));
    return command.run({ paths, values, read, ask: (inner) => run(inner, read) });
  } catch (error) {
    if (error instanceof Refusal) return fail(error.code, error.code === 2 ? withHelp(error.message) : error.message);
    throw error;
  }
}

const notACommand = (name: string | undefined) =>
  `${name === undefined ? 'a command is missing' : `there is no command "${name}"`}; there are\n${commandLines}`;

export { usage };
