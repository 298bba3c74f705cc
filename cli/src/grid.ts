/** A command over a grid of values: the project with each combination, the command's own answer for each, put together. */
import { gridOf, inCase, SettingRefusal, settingsOf, type GridCase } from '@mesura/core/batch/values';
import { delimited } from '@mesura/core/fields/delimited';
import { watchedPart } from '@mesura/core/working/steps';
import { csv } from '@mesura/core/formats/tables/csv';
import { projectFrom, type Outcome, type Read } from './command';
import { Refusal } from './options';

const labelOf = ({ values }: GridCase): string =>
  values.map(({ setting, value }) => `${setting.label}=${value}`).join(' ');

/** Runs it for every case, each on the project with its values. The worst exit code counts. */
export function overGrid(
  set: readonly string[],
  format: string,
  path: string,
  read: Read,
  answer: (read: Read) => Outcome,
): Outcome {
  const { network, name, notes } = projectFrom(path, read);
  const cases = inWords(() => gridOf(settingsOf(network, set)));
  const answers = cases.map((each, k) => {
    const changed = inWords(() => inCase(network, each));
    const project = { name, notes, network: changed };
    const known: Read = Object.assign((asked: string) => read(asked), {
      project: (asked: string) => (asked === path ? project : read.project?.(asked)),
    });
    return { each, outcome: watchedPart(k, cases.length, () => answer(known)) };
  });
  const codes = answers.map(({ outcome }) => outcome.code);
  const code = codes.includes(3) ? 3 : codes.every((each) => each === 1) ? 1 : 0;
  const errors = answers
    .flatMap(({ each, outcome }) =>
      outcome.errors
        .split('\n')
        .filter(Boolean)
        .map((line) => `${labelOf(each)}: ${line}\n`),
    )
    .join('');
  return { code, output: together(answers, format), errors };
}

function inWords<T>(work: () => T): T {
  try {
    return work();
  } catch (error) {
    if (error instanceof SettingRefusal) throw new Refusal(2, `--set ${error.message}`);
    throw error;
  }
}

interface Answer {
  readonly each: GridCase;
  readonly outcome: Outcome;
}

function together(answers: readonly Answer[], format: string): string {
  if (format === 'json') {
    const cases = answers.map(({ each, outcome }) => ({
      set: Object.fromEntries(each.values.map(({ setting, value }) => [setting.label, asFigure(value)])),
      code: outcome.code,
      answer: outcome.output ? (JSON.parse(outcome.output) as unknown) : null,
    }));
    return `${JSON.stringify({ cases }, null, 2)}\n`;
  }
  if (format === 'csv') return oneTable(answers);
  return answers.map(({ each, outcome }) => `${labelOf(each)}\n${outcome.output}`).join('\n');
}

const asFigure = (text: string): string | number =>
  text.trim() !== '' && Number.isFinite(Number(text)) ? Number(text) : text;

/** One table, the values set in front; heads once where all cases have the same. */
function oneTable(answers: readonly Answer[]): string {
  const rows: (string | number)[][] = [];
  let heads = '';
  for (const { each, outcome } of answers) {
    const [head, ...body] = delimited(outcome.output.trimEnd(), ',');
    if (!head || outcome.output === '') continue;
    const labels = each.values.map(({ setting }) => setting.label);
    const own = [...labels, ...head];
    if (own.join('\u0000') !== heads) rows.push(own);
    heads = own.join('\u0000');
    for (const line of body) rows.push([...each.values.map(({ value }) => asFigure(value)), ...line.map(asFigure)]);
  }
  return rows.length === 0 ? '' : csv(rows);
}
