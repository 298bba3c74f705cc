/** `mesura cases`: reference cases in the form of `core/reference/`, computed by the program's own functions and compared. */
import type { Compared, Figure } from '../cases/case';
import { comparisons } from '../cases/file';
import { plainFormat, type Command } from '../command';
import { Refusal } from '../options';
import { tableOf, type Cell, type Column } from '../output';

const cell = (figure: Figure): Cell => (typeof figure === 'boolean' ? (figure ? 'yes' : 'no') : figure);

const columns: Column<Compared>[] = [
  { head: 'case', name: 'case', value: (row) => row.id },
  { head: 'figure', name: 'figure', value: (row) => row.figure },
  { head: 'expected', name: 'expected', value: (row) => cell(row.expected) },
  { head: 'computed', name: 'computed', value: (row) => cell(row.computed) },
  { head: 'deviation', name: 'deviation', value: (row) => row.deviation },
  { head: 'verdict', name: 'verdict', value: (row) => row.verdict },
  { head: 'mark', name: 'mark', value: (row) => row.mark },
];

export const casesCommand: Command = {
  name: 'cases',
  takes: 'FILE…',
  summary: 'reference cases, computed and compared',
  /** Exit code 3 where a figure deviates. Refusals: a file that is no list of cases. */
  run({ paths, values, read, ask }) {
    const format = plainFormat(values);
    if (paths.length === 0) throw new Refusal(2, 'cases takes one or more files: mesura cases FILE… [options]');
    const rows = paths.flatMap((path) => comparisons(path, read, ask));
    const count = (verdict: Compared['verdict']) => rows.filter((row) => row.verdict === verdict).length;
    const [agree, differ, open] = [count('agrees'), count('differs'), count('not yet computed')];
    const output =
      format === 'json'
        ? `${JSON.stringify({ command: 'cases', agree, differ, notYetComputed: open, cases: rows }, null, 2)}\n`
        : tableOf(columns, rows, format);
    const errors = format === 'table' ? `${agree} agree, ${differ} differ, ${open} not yet computed\n` : '';
    return { code: differ > 0 ? 3 : 0, output, errors };
  },
};
