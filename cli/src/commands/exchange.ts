/** `mesura import` and `mesura export`: files into a project and out of it. */
import { entryGroups, FileRefusal, type EntryGroup, type Entry, type Report } from '@mesura/core/formats/format';
import { bytesOf, opened } from '@mesura/core/formats/open';
import { remarkText } from '@mesura/core/formats/remarks';
import { writeProject } from '@mesura/core/formats/project/project';
import { exporters, knownFormats, reportOn } from '@mesura/core/formats/registry';
import { batchOf, freeIds } from '@mesura/core/formats/taking';
import { applyChanges } from '@mesura/core/model/changes';
import { blankElements } from '@mesura/core/model/defaults';
import { networkOf } from '@mesura/core/model/network';
import { done, onePath, projectFrom, type Call, type Command, type Outcome } from '../command';
import { oneOf, Refusal } from '../options';
import { tableOf, type Column } from '../output';

export const importCommand: Command = {
  name: 'import',
  takes: 'FILE',
  summary: 'what a file would bring into a project, or the project with it',
  run: bring,
};

async function bring(call: Call): Promise<Outcome> {
  const path = onePath(call, 'import');
  const { into, format, take, beside } = call.values;
  const form = oneOf('--format', format, ['table', 'csv', 'json', 'project']);
  const { network, name, notes } = into
    ? projectFrom(into, call.read)
    : { network: networkOf(blankElements()), name: '', notes: '' };
  const file = await opened(path, bytesFrom(call, path));
  if (!file.ok) throw new Refusal(1, file.message);
  const newId = freeIds(network, 'in');
  const report = await reportOn(file.source, { network, newId, mode: beside ? 'beside' : 'merge' });
  if (!report) throw new Refusal(1, `${path} is none of these: ${knownFormats()}`);
  const batch = batchOf(report, groupsIn(take));
  const code = batch.length === 0 && report.entries === undefined ? 1 : 0;
  if (form === 'json') {
    const answer = { command: 'import', ...report, batch };
    return { code, output: `${JSON.stringify(answer, null, 2)}\n`, errors: '' };
  }
  const remarks = remarksOf(report);
  if (form !== 'project') return { code, output: tablesOf(report, form), errors: remarks };
  const applied = applyChanges(network, batch);
  if (!applied.ok) throw new Refusal(1, applied.problems.map(({ message }) => message).join('\n'));
  if (batch.length === 0 && !into) throw new Refusal(1, remarks.trim() || `${path} brings nothing`);
  const called = name || report.label.replace(/^Import /, '') || 'Imported';
  return {
    code,
    output: writeProject({ name: called, notes, elements: applied.network.elements.values() }),
    errors: remarks,
  };
}

const groupsIn = (take: string | undefined): EntryGroup[] | null =>
  take === undefined ? null : take.split(',').map((each) => oneOf('--take', each.trim(), entryGroups));

const remarksOf = ({ problems, assumed = [], left = [] }: Report): string =>
  [
    ...problems.map(({ message }) => `note: ${message}`),
    ...assumed.map((each) => `assumed: ${remarkText(each)}`),
    ...left.map((each) => `left out: ${remarkText(each)}`),
  ]
    .map((each) => `${each}\n`)
    .join('');

interface EntryRow {
  readonly entry: Entry;
  readonly field: string;
  readonly before: string;
  readonly after: string;
}

const entryColumns: Column<EntryRow>[] = [
  { head: 'what', name: 'what', value: ({ entry }) => entry.what },
  { head: 'kind', name: 'kind', value: ({ entry }) => entry.kind },
  { head: 'element', name: 'element', value: ({ entry }) => entry.name },
  { head: 'field', name: 'field', value: ({ field }) => field },
  { head: 'here', name: 'before', value: ({ before }) => before },
  { head: 'in the file', name: 'after', value: ({ after }) => after },
  { head: 'taken', name: 'taken', value: ({ entry }) => (entry.usual ? 'yes' : 'no') },
];

/** What it brings by kind; where it meets elements that are there already, these one by one. */
function tablesOf({ found, entries = [] }: Report, form: 'table' | 'csv'): string {
  const counts = tableOf<Report['found'][number]>(
    [
      { head: 'what it brings', name: 'what', value: ({ what }) => what },
      { head: 'number', name: 'number', value: ({ count }) => count },
    ],
    [...found],
    form,
  );
  const rows = entries
    .filter(({ what }) => what !== 'new')
    .flatMap((entry): EntryRow[] =>
      entry.differences.length > 0
        ? entry.differences.map((each) => ({ entry, ...each }))
        : [{ entry, field: '', before: '', after: '' }],
    );
  return rows.length === 0 ? counts : `${counts}\n${tableOf(entryColumns, rows, form)}`;
}

export const exportCommand: Command = {
  name: 'export',
  takes: 'FILE',
  summary: 'a project in another format, to standard output',
  async run(call) {
    const { name, notes, network } = projectFrom(onePath(call, 'export'), call.read);
    const id = oneOf(
      '--as',
      call.values.as,
      exporters.map((each) => each.id),
    );
    const { write, extension } = exporters.find((each) => each.id === id)!;
    try {
      const { content, left = [] } = write(network, name, notes);
      const errors = left.map((each) => `left out: ${remarkText(each)}\n`).join('');
      return { ...done('', errors), bytes: await bytesOf(content, extension) };
    } catch (error) {
      if (error instanceof FileRefusal) throw new Refusal(1, error.message);
      throw error;
    }
  },
};

function bytesFrom(call: Call, path: string): Uint8Array {
  try {
    return call.bytes(path);
  } catch (error) {
    throw new Refusal(1, `${path} cannot be read: ${(error as Error).message}`);
  }
}
