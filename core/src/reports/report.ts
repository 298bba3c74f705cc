/** A report as plain data: what a study found, with its inputs and workings. Written as PDF and as a workbook. */
import type { Cell, LiveCell, Sheet } from '../formats/format';
import type { Section } from '../working/trace';

export type ReportCell = Cell | LiveCell;
/** How a row stands. */
export type Tone = 'pass' | 'warn' | 'fail';

export interface ReportColumn {
  readonly head: string;
  /** Figures stand to the right. */
  readonly figure?: boolean;
  /** Part of the width; the head's length where none is given. */
  readonly wide?: number;
}

export interface ReportTable {
  readonly columns: readonly ReportColumn[];
  /** Which of them stand on paper; the workbook has all. */
  readonly onPaper?: readonly boolean[];
  readonly rows: readonly { readonly cells: readonly ReportCell[]; readonly tone?: Tone }[];
}

export interface ReportWorking {
  readonly title: string;
  readonly clause?: string;
  readonly sections: readonly Section[];
}

export interface ReportSection {
  readonly title: string;
  /** Long lists that nobody reads on paper. */
  readonly workbookOnly?: true;
  readonly text?: readonly string[];
  /** Name and value. */
  readonly facts?: readonly (readonly [string, string])[];
  readonly table?: ReportTable;
  readonly workings?: readonly ReportWorking[];
}

export interface Report {
  readonly title: string;
  readonly owner: string;
  readonly sections: readonly ReportSection[];
}

/** A formula as one line: symbols, figures, result, clause. */
export function workingLines({ sections }: ReportWorking): string[] {
  return sections.flatMap(({ title, steps }) => [
    ...(title ? [title] : []),
    ...steps.map(({ result, expression, clause, remark }) => {
      const symbols = expression.map((part) => (typeof part === 'string' ? part : part.symbol)).join('');
      const figures = expression.map((part) => (typeof part === 'string' ? part : valueText(part.value))).join('');
      const notes = [clause, remark].filter(Boolean).join('; ');
      const middle = figures === symbols ? symbols : `${symbols} = ${figures}`;
      return `${result.symbol} = ${middle} = ${valueText(result.value)} ${result.unit}${notes ? `   [${notes}]` : ''}`.trim();
    }),
  ]);
}

const digits = (value: number): string => String(Number(value.toPrecision(5)));
const valueText = (value: Section['steps'][number]['result']['value']): string =>
  typeof value === 'number'
    ? digits(value)
    : `(${digits(value.re)} ${value.im < 0 ? '−' : '+'} j${digits(Math.abs(value.im))})`;

/** A sheet for each section with a table, one with the rest before them and one with the workings at the end. */
export function reportSheets({ title, owner, sections }: Report): Sheet[] {
  const head: (string | number)[][] = [[title], ...(owner ? [[owner]] : [])];
  for (const { title: of, text = [], facts = [], table } of sections) {
    if (text.length + facts.length === 0) continue;
    head.push([], [of], ...facts.map(([name, value]) => [name, value]), ...text.map((line) => [line]));
    if (table) head.push(['see the sheet of this name']);
  }
  const tables = sections.flatMap(({ title: name, table }): Sheet[] =>
    table
      ? [
          {
            name,
            rows: [
              table.columns.map((column) => column.head),
              ...table.rows.map(({ cells }) => cells.map((cell) => cell ?? '')),
            ],
          },
        ]
      : [],
  );
  const workings = sections.flatMap(({ workings: list = [] }) => list);
  const lines = workings.flatMap((working) => [
    [working.title],
    ...workingLines(working).map((line) => ['', line]),
    [],
  ]);
  return [{ name: 'Study', rows: head }, ...tables, ...(lines.length > 0 ? [{ name: 'Working', rows: lines }] : [])];
}
