/** Labels of circuits as PDF: A4 with three in a row, cut along the lines. */
import type { Content, TableCell } from 'pdfmake/interfaces';
import type { CircuitLabel } from '@mesura/core/reports/circuits';
import { light } from '../../theme/tokens';
import { pdfOf, runs } from './base';

const pointsPerMm = 72 / 25.4;
const perRow = 3;
const [widthMm, heightMm] = [64, 34];

export function circuitLabelsPdf(
  labels: readonly CircuitLabel[],
  { project, revision, date }: { readonly project: string; readonly revision: number; readonly date: string },
): Promise<Buffer> {
  const rows: TableCell[][] = [];
  for (let k = 0; k < labels.length; k += perRow)
    rows.push(
      Array.from({ length: perRow }, (_, n): TableCell => {
        const label = labels.at(k + n);
        return label && k + n < labels.length ? { stack: told(label) } : { text: '' };
      }),
    );
  return pdfOf({
    pageSize: 'A4',
    pageMargins: [8 * pointsPerMm, 12 * pointsPerMm],
    info: { title: `Circuit labels, ${project}` },
    defaultStyle: { font: 'Sans', fontSize: 9 },
    footer: {
      text: runs(`${project}, revision ${revision}, ${date}`),
      fontSize: 6.5,
      color: light.muted,
      alignment: 'center',
    },
    content: [
      {
        table: {
          widths: Array.from({ length: perRow }, () => widthMm * pointsPerMm - 10),
          heights: heightMm * pointsPerMm - 8,
          dontBreakRows: true,
          body: rows,
        },
        layout: {
          hLineWidth: () => 0.4,
          vLineWidth: () => 0.4,
          hLineColor: () => light.muted,
          vLineColor: () => light.muted,
          paddingLeft: () => 5,
          paddingRight: () => 5,
          paddingTop: () => 4,
          paddingBottom: () => 4,
        },
      },
    ],
  });
}

const told = ({ title, board, device, lines }: CircuitLabel): Content[] => [
  { text: runs(device), bold: true, fontSize: 9 },
  { text: runs(title), bold: true, fontSize: 12, margin: [0, 2, 0, 3] },
  ...lines.map((line): Content => ({ text: runs(line), fontSize: 8 })),
  { text: runs(board), fontSize: 7, color: light.muted, margin: [0, 2, 0, 0] },
];
