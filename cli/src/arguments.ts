/** From what was typed to values: negative numbers, options that are unknown or lack a value, and the line of help that belongs to each. */
import { parseArgs } from 'node:util';
import { lettersApart } from '@mesura/core/formulas/near';
import { optionTypes, Refusal, type Values } from './options';
import { usage } from './usage';

export interface Arguments {
  readonly values: Values;
  readonly positionals: readonly string[];
  /** Names of the options that were typed. */
  readonly typed: ReadonlySet<string>;
}

/** Throws a {@link Refusal} that names the option. */
export function argumentsOf(args: readonly string[]): Arguments {
  const known = joined(args);
  for (const name of known.flatMap((arg) => /^--([^=]*)/.exec(arg)?.[1] ?? []).filter(Boolean))
    if (!(name in optionTypes)) throw new Refusal(2, unknown(name));
  try {
    const { values, positionals, tokens } = parseArgs({
      args: known,
      allowPositionals: true,
      options: optionTypes,
      tokens: true,
    });
    const typed = new Set(tokens.flatMap((token) => (token.kind === 'option' ? token.name : [])));
    return { values: values as Values, positionals, typed };
  } catch (error) {
    const message = (error as Error).message;
    const option = /--([a-z-]+)/.exec(message)?.[1];
    throw new Refusal(2, option && option in optionTypes ? `--${option} needs a value` : message);
  }
}

/** "--phase-x -2" as "--phase-x=-2": a number after an option that takes a value is that value. */
const joined = (args: readonly string[]): string[] => {
  const result: string[] = [];
  for (let k = 0; k < args.length; k++) {
    const name = /^--([a-z-]+)$/.exec(args[k])?.[1];
    const takesValue = name !== undefined && name in optionTypes && optionTypes[name as keyof Values].type === 'string';
    if (takesValue && /^-[\d.]/.test(args[k + 1] ?? '')) result.push(`${args[k]}=${args[++k]}`);
    else result.push(args[k]);
  }
  return result;
};

function unknown(name: string): string {
  const near = Object.keys(optionTypes)
    .map((option) => ({ option, off: lettersApart(option, name) }))
    .sort((p, q) => p.off - q.off)[0];
  return near.off <= 2
    ? `there is no option --${name}; --${near.option} is meant, perhaps`
    : `there is no option --${name}`;
}

/** A message about an option with the line of help that belongs to the first option it names. */
export function withHelp(message: string): string {
  for (const [option] of message.matchAll(/--[a-z-]+/g)) {
    const line = usage.split('\n').find((each) => new RegExp(`^ +(--[a-z-]+, )?${option}(?![a-z-])`).test(each));
    if (line) return `${message}\n${line}`;
  }
  return `${message}\nmesura --help lists commands and options`;
}
