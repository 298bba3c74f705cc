/** `mesura batch`: a batch that is kept in the project, all answers as one table, and what became other since an earlier state. */
import { changeRows } from '@mesura/core/batch/changes';
import { compareTables, oneTable, type BatchTable } from '@mesura/core/batch/table';
import { bytesOf } from '@mesura/core/formats/open';
import { csv } from '@mesura/core/formats/tables/csv';
import type { Batch, BatchRun } from '@mesura/core/model/batch';
import { nameOf } from '@mesura/core/model/element';
import { ofKind } from '@mesura/core/model/network';
import { watchedPart } from '@mesura/core/working/steps';
import { onePath, projectFrom, type Ask, type Call, type Command, type OpenProject, type Outcome } from '../command';
import { oneOf, Refusal } from '../options';
import { textTable } from '../output';
import { isStudy, studySummaries, typedOptions } from '../words';

const forms = ['table', 'csv', 'json', 'xlsx'] as const;

/** What one run came to. */
export interface RunOutcome {
  readonly run: string;
  readonly study: string;
  readonly code: Outcome['code'];
  readonly notes: readonly string[];
}

export interface BatchAnswer {
  readonly batch: string;
  readonly runs: readonly RunOutcome[];
  readonly table: BatchTable;
}

export const batchCommand: Command = {
  name: 'batch',
  takes: 'FILE',
  summary: studySummaries.batch,
  run,
};

/** Exit code 3 where a run has it, 1 where one could not be computed. */
async function run(call: Call): Promise<Outcome> {
  const { values } = call;
  const format = oneOf('--format', values.format, forms);
  const project = projectFrom(onePath(call, 'batch'), call.read);
  const answer = await batchAnswer(project, batchNamed(project, values.name), call.study);
  const earlier = values.against === undefined ? null : projectFrom(values.against, call.read);
  const changes =
    earlier &&
    compareTables((await batchAnswer(earlier, batchNamed(project, values.name), call.study)).table, answer.table);
  const codes = answer.runs.map(({ code }) => code);
  const code = codes.includes(3) ? 3 : codes.some((each) => each === 1 || each === 2) ? 1 : 0;
  const errors = answer.runs.flatMap(({ run: of, notes }) => notes.map((note) => `${of}: ${note}\n`)).join('');
  if (format === 'json') {
    const output = `${JSON.stringify({ command: 'batch', ...answer, ...(changes && { changes }) }, null, 2)}\n`;
    return { code, output, errors };
  }
  const rows = [answer.table.columns, ...answer.table.rows];
  if (format === 'xlsx') {
    const sheets = [{ name: 'Batch', rows }, ...(changes ? [{ name: 'Changes', rows: changeRows(changes) }] : [])];
    return { code, output: '', errors, bytes: await bytesOf(sheets, 'xlsx') };
  }
  if (format === 'csv') return { code, output: csv(changes ? changeRows(changes) : rows), errors };
  const shown = changes ? changeRows(changes) : rows;
  const output = textTable(shown[0].map(String), shown.slice(1));
  const told = changes ? `${output}${changes.same} rows are the same\n` : output;
  return { code, output: told, errors };
}

/** The batch called so; the only one where no name is given. */
function batchNamed({ network }: OpenProject, name: string | undefined): Batch {
  const all = ofKind(network, 'batch');
  const found =
    name === undefined && all.length === 1 ? all[0] : all.find((each) => each.id === name || each.name === name);
  if (found) return found;
  const known = all.map(nameOf).join(', ') || 'none';
  throw new Refusal(
    name === undefined && all.length > 1 ? 2 : 1,
    name === undefined
      ? `batch needs --name NAME; there are: ${known}`
      : `no batch is called "${name}"; there are: ${known}`,
  );
}

/** All runs, one after the other; what one of them cannot do does not stop the others. */
export async function batchAnswer(project: OpenProject, { name, runs }: Batch, ask: Ask): Promise<BatchAnswer> {
  const outcomes: RunOutcome[] = [];
  const answers: { run: string; csv: string }[] = [];
  for (const [k, each] of runs.entries()) {
    const label = runLabel(k, each);
    const { code, output, errors } = await watchedPart(k, runs.length, () => outcomeOf(each, project, ask));
    outcomes.push({ run: label, study: each.study, code, notes: errors.split('\n').filter(Boolean) });
    if (output) answers.push({ run: label, csv: output });
  }
  return { batch: name, runs: outcomes, table: oneTable(answers) };
}

export const runLabel = (k: number, { study }: BatchRun): string => `${k + 1} ${study}`;

function outcomeOf({ study, options }: BatchRun, project: OpenProject, ask: Ask): Outcome | Promise<Outcome> {
  const wrong = (message: string): Outcome => ({ code: 2, output: '', errors: `${message}\n` });
  // A script gives its tables; a batch within a batch would have no end.
  if (!isStudy(study) || study === 'batch') return wrong(`"${study}" is no study of a batch`);
  try {
    return ask(study, typedOptions(study, options), 'csv', project);
  } catch (error) {
    if (error instanceof Refusal) return wrong(error.message);
    throw error;
  }
}
