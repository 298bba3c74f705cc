/** Labels of arc energy as PDF: one a sheet, or several on A4, each cut out along its edge. */
import type { Content } from 'pdfmake/interfaces';
import { labelLayouts, type ArcLabel, type LabelLayout } from '@mesura/core/arc/labels';
import { pdfOf, runs } from './base';

const pointsPerMm = 72 / 25.4;
/** Signal colours of ISO 3864 and ANSI Z535: danger red, warning orange. */
const danger = '#c8102e';
const warning = '#f57c00';

interface Issue {
  readonly project: string;
  readonly revision: number;
  readonly date: string;
  readonly owner: string;
  /** As a data address. */
  readonly mark: string | null;
}

export function labelsPdf(
  labels: readonly ArcLabel[],
  layout: LabelLayout,
  withCode: boolean,
  issue: Issue,
): Promise<Buffer> {
  const sheet = labelLayouts[layout];
  const isSingle = sheet.columns * sheet.rows === 1;
  const perSheet = sheet.columns * sheet.rows;
  const [width, height] = [sheet.widthMm * pointsPerMm, sheet.heightMm * pointsPerMm];
  const content = labels.flatMap((label, k): Content[] => {
    const at = k % perSheet;
    const [column, row] = [at % sheet.columns, Math.floor(at / sheet.columns)];
    const x = (sheet.left + column * (sheet.widthMm + sheet.between)) * pointsPerMm;
    const y = (sheet.top + row * sheet.heightMm) * pointsPerMm;
    return labelAt(label, { x, y, width, height, isNewSheet: k > 0 && at === 0 }, withCode, issue);
  });
  return pdfOf({
    pageSize: isSingle ? { width, height } : 'A4',
    pageMargins: 0,
    info: { title: `Arc labels, ${issue.project}` },
    defaultStyle: { font: 'Sans', fontSize: 9, color: '#111111' },
    content,
  });
}

interface Box {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  readonly isNewSheet: boolean;
}

/** One label at a place of the page; what stands there takes no room by itself. */
export function labelAt(
  label: ArcLabel,
  { x, y, width, height, isNewSheet }: Box,
  withCode: boolean,
  issue: Issue,
): Content[] {
  const pad = 8;
  // Sizes follow the label, so that the small one says as much as the large one.
  const unit = Math.min(height / 200, width / 270);
  const inner = width - 2 * pad;
  const band = 30 * unit;
  const codeSize = withCode ? 52 * unit : 0;
  const [, ...facts] = label.facts;
  const [energyName, energy] = label.facts[0];
  // Lines of one's own must not run into what stands at the foot.
  const markWidth = issue.mark ? 46 * unit : 0;
  const top = band + 72 * unit;
  const foot = 30 * unit;
  const factUnit = Math.min(unit, (height - top - foot) / ((facts.length + 1) * 11.5));
  const own: Content[] = [
    {
      absolutePosition: { x, y },
      canvas: [
        { type: 'rect', x: 2, y: 2, w: width - 4, h: height - 4, lineWidth: 0.6, lineColor: '#111111' },
        { type: 'rect', x: 2, y: 2, w: width - 4, h: band, color: label.isDanger ? danger : warning },
      ],
    },
    {
      absolutePosition: { x: x + pad, y: y + 2 + band * 0.16 },
      text: runs(label.signal),
      bold: true,
      fontSize: 19 * unit,
      color: label.isDanger ? '#ffffff' : '#111111',
    },
    ...(label.only
      ? [
          {
            absolutePosition: { x: x + width / 2, y: y + 2 + band * 0.2 },
            columns: [
              {
                width: width / 2 - pad,
                text: runs(label.only),
                bold: true,
                fontSize: 8 * unit,
                alignment: 'right' as const,
                color: label.isDanger ? '#ffffff' : '#111111',
              },
            ],
          },
        ]
      : []),
    {
      absolutePosition: { x: x + pad, y: y + band + 5 * unit },
      columns: [
        {
          width: inner - codeSize,
          stack: [
            { text: runs(label.hazard), bold: true, fontSize: 10.5 * unit },
            { text: runs(label.place), bold: true, fontSize: 12 * unit, margin: [0, 2 * unit, 0, 3 * unit] },
            { text: runs(energyName), fontSize: 7.5 * unit },
            { text: runs(energy), bold: true, fontSize: 14 * unit, margin: [0, 0, 0, 3 * unit] },
          ],
        },
        ...(withCode ? [{ width: codeSize, qr: label.code, fit: codeSize, eccLevel: 'M' as const }] : []),
      ],
    },
    {
      absolutePosition: { x: x + pad, y: y + top },
      table: {
        widths: [82 * unit, inner - 82 * unit - 4],
        body: facts.map(([name, value]) => [
          { text: runs(name), fontSize: 7.5 * factUnit },
          { text: runs(value), bold: true, fontSize: 8.5 * factUnit },
        ]),
      },
      layout: {
        hLineWidth: (k: number) => (k === 0 ? 0.6 : 0),
        vLineWidth: () => 0,
        paddingTop: () => 1.5 * factUnit,
        paddingBottom: () => 0,
        paddingLeft: () => 0,
        paddingRight: () => 2,
      },
    },
    ...(issue.mark
      ? [
          {
            absolutePosition: { x: x + width - pad - markWidth, y: y + height - 4 - 22 * unit },
            image: issue.mark,
            fit: [markWidth, 20 * unit] as [number, number],
          },
        ]
      : []),
    {
      absolutePosition: { x: x + pad, y: y + height - 4 - 23 * unit },
      columns: [
        {
          width: inner - markWidth - 4,
          stack: [
            { text: runs(label.notes.join(' · ')), fontSize: 5.5 * unit },
            {
              text: runs(
                [issue.owner, issue.project, `revision ${issue.revision}`, issue.date].filter(Boolean).join(' · '),
              ),
              fontSize: 5.5 * unit,
            },
          ],
        },
      ],
    },
  ];
  // What stands at a fixed place takes no room: the sheet has to be broken by hand.
  return isNewSheet ? [{ text: '', pageBreak: 'before' }, ...own] : own;
}
