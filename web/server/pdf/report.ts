/** A report as PDF: A4 across, title block on every page, page numbers, tables that go on over pages, workings at the end. */
import type { Content, TableCell, TDocumentDefinitions } from 'pdfmake/interfaces';
import {
  workingLines,
  type Report,
  type ReportSection,
  type ReportTable,
  type Tone,
} from '@mesura/core/reports/report';
import type { FigureOrigin } from '@mesura/core/formats/format';
import { light } from '../../theme/tokens';
import { cell, digits, head, pdfOf, rules, runs, section, small, titleBlockOf } from './base';

const inks: Readonly<Record<Tone, string | undefined>> = { pass: undefined, warn: light.warn, fail: light.fail };

/** As in the workbook: typed, simulated, calculated. */
const fills: Readonly<Record<FigureOrigin, string | undefined>> = {
  input: '#fff1c9',
  simulated: '#cfe8e4',
  calculated: undefined,
};

/** With the columns that stand on paper. */
const paperOf = ({ columns, rows, onPaper }: ReportTable): ReportTable =>
  onPaper
    ? {
        columns: columns.filter((_, k) => onPaper[k]),
        rows: rows.map((row) => ({ ...row, cells: row.cells.filter((_, k) => onPaper[k]) })),
      }
    : { columns, rows };

function tableOf(table: ReportTable): Content {
  const { columns, rows } = paperOf(table);
  const right = (figure: boolean | undefined) => (figure ? { alignment: 'right' } : {});
  const body = rows.map(({ cells, tone }) =>
    cells.map((value, k): TableCell => {
      const last = k === cells.length - 1;
      const ink = tone && last ? inks[tone] : undefined;
      const plain = typeof value === 'object' && value !== null ? value.value : value;
      const text = plain === null ? '' : typeof plain === 'number' ? digits(plain) : plain;
      const fill = typeof value === 'object' && value !== null ? { fillColor: fills[value.origin] } : {};
      return cell(text, { fontSize: 7, ...right(columns[k].figure), ...fill, ...(ink && { color: ink, bold: true }) });
    }),
  );
  const whole = columns.reduce((sum, { wide = 1 }) => sum + wide, 0);
  return {
    table: {
      headerRows: 1,
      widths: columns.map(({ wide = 1 }) => `${(100 * wide) / whole}%`),
      body: [columns.map(({ head: text, figure }) => head(text, { fontSize: 7, ...right(figure) })), ...body],
    },
    layout: { ...rules, paddingLeft: () => 2, paddingRight: () => 2, paddingTop: () => 1.5, paddingBottom: () => 1.5 },
  };
}

function partOf({ title, facts = [], text = [], table }: ReportSection): Content[] {
  return [
    section(title),
    ...(facts.length > 0
      ? [
          {
            table: {
              widths: [130, '*'],
              body: facts.map(([name, value]) => [cell(name, { color: light.muted }), cell(value)]),
            },
            layout: 'noBorders',
          } satisfies Content,
        ]
      : []),
    ...text.map((line): Content => ({ text: runs(line), margin: [0, 3, 0, 0] })),
    ...(table && table.rows.length > 0 ? [tableOf(table)] : []),
    ...(table && table.rows.length === 0 && text.length === 0 ? [{ text: 'Nothing to list.' }] : []),
  ];
}

function workingsOf({ sections }: Report): Content[] {
  const workings = sections.flatMap(({ workings: list = [] }) => list);
  if (workings.length === 0) return [];
  return [
    { ...(section('Working') as object), pageBreak: 'before' } as Content,
    ...workings.flatMap((working): Content[] => [
      { text: runs(working.title), bold: true, margin: [0, 7, 0, 2], fontSize: 8.5 },
      ...workingLines(working).map((line): Content => ({ text: runs(line), fontSize: 7.5, margin: [8, 0, 0, 1] })),
    ]),
  ];
}

export const reportDocument = (
  report: Report,
  project: string,
  revision: number,
  date: string,
): TDocumentDefinitions => ({
  pageSize: 'A4',
  pageOrientation: 'landscape',
  pageMargins: [40, 40, 40, 62],
  info: { title: `${report.title}, ${project}` },
  defaultStyle: { font: 'Sans', fontSize: 9, color: light.ink },
  footer: (page, pages) =>
    titleBlockOf([
      small(project, report.title),
      small('Revision of the project', String(revision)),
      small('Date', date),
      small('Page', `${page} of ${pages}`),
    ]),
  content: [
    { text: runs(report.title), fontSize: 17, bold: true },
    { text: runs([report.owner, project].filter(Boolean).join(' · ')), color: light.muted, margin: [0, 0, 0, 8] },
    ...reportParts(report),
  ],
});

/** All that stands under the title. */
export const reportParts = (report: Report): Content[] => [
  ...report.sections.filter(({ workbookOnly }) => !workbookOnly).flatMap(partOf),
  ...workingsOf(report),
];

export const reportPdf = (report: Report, project: string, revision: number, date: string): Promise<Buffer> =>
  pdfOf(reportDocument(report, project, revision, date));
