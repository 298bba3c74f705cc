/** Studies as functions: an open project and options in, what the terminal would print out. Nothing of files or of the terminal is needed here. */
import type { AnswerForm, Ask, Call, Command, Documents, OpenProject, Outcome, Read } from './command';
import { studyCommands } from './commands/studies';
import { overGrid } from './grid';
import { optionTypes, Refusal, type Values } from './options';
import { withColumns } from './output';
import { asArguments, isStudy, studyOptions } from './words';

/** Runs a command once, or for every case of a grid of values, with the columns chosen. Throws a {@link Refusal}. */
export function answered(command: Command, call: Call): Outcome | Promise<Outcome> {
  const { values, paths, read } = call;
  if (values.set?.length) {
    if (command.takes !== 'FILE' || paths.length !== 1)
      throw new Refusal(2, `--set is for studies of one project, not for ${command.name}`);
    const { set, ...others } = values;
    return overGrid(set, values.format ?? 'table', paths[0], read, (changed: Read) => {
      const outcome = answered(command, { ...call, values: others, read: changed });
      if (outcome instanceof Promise) throw new Refusal(2, `${command.name} knows no --set`);
      return outcome;
    });
  }
  return values.columns === undefined ? command.run(call) : withColumns(values.columns, () => command.run(call));
}

export const refused = (error: Refusal, message = error.message): Outcome => ({
  code: error.code,
  output: '',
  errors: `${message}\n`,
});

const opened = 'project';

/** A study of an open project. Options that are wrong give exit code 2 with words, never an exception. `documents`: the writer of PDF. */
export function ask(
  study: string,
  options: Readonly<Record<string, unknown>>,
  form: AnswerForm,
  project: OpenProject,
  documents?: Documents,
): Outcome | Promise<Outcome> {
  if (!isStudy(study)) return refused(new Refusal(2, `there is no study "${study}"`));
  const read = studyOptions(study).safeParse(options);
  if (!read.success) {
    const [{ path, message }] = read.error.issues;
    return refused(new Refusal(2, `${path.length > 0 ? `${path.join('.')}: ` : ''}${message}`));
  }
  const command = studyCommands.find(({ name }) => name === study)!;
  const values = { ...valuesOf(read.data), format: form };
  const known: Read = Object.assign(
    (): string => {
      throw new Error('there are no files');
    },
    { project: (path: string) => (path === opened ? project : undefined) },
  );
  const none = () => {
    throw new Refusal(2, `${study} needs the terminal for this`);
  };
  const call: Call = {
    paths: [opened],
    values,
    read: known,
    bytes: none,
    ask: none,
    documents,
    study: askWith(documents),
  };
  const later = (error: unknown): Outcome => {
    if (error instanceof Refusal) return refused(error);
    throw error;
  };
  try {
    const outcome = answered(command, call);
    return outcome instanceof Promise ? outcome.catch(later) : outcome;
  } catch (error) {
    return later(error);
  }
}

/** The same for those who ask in turn. */
export const askWith =
  (documents?: Documents): Ask =>
  (study, options, form, project) =>
    ask(study, options, form, project, documents);

/** Options as the terminal would have read them, with what holds where nothing is said. */
function valuesOf(options: Readonly<Record<string, unknown>>): Values {
  const values: Record<string, string | string[] | boolean> = {};
  for (const [name, type] of Object.entries(optionTypes)) if ('default' in type) values[name] = type.default;
  for (const text of asArguments(options)) {
    const [, name, value] = /^--([^=]+)(?:=([^]*))?$/.exec(text)!;
    const type = optionTypes[name as keyof typeof optionTypes];
    if (type.type === 'boolean') values[name] = true;
    else if ('multiple' in type) values[name] = [...((values[name] as string[] | undefined) ?? []), value];
    else values[name] = value;
  }
  return values as Values;
}
