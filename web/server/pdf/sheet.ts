/** A setting sheet as PDF: A4, title block on every page, page numbers, vector chart. Made from the frozen content alone. */
import type { Content, TDocumentDefinitions } from 'pdfmake/interfaces';
import type { SheetContent } from '@mesura/core/sheets/sheet';
import { sheetScene } from '../../plots/sheetChart';
import { svgOf } from '../../plots/svg';
import { light } from '../../theme/tokens';
import type { SheetHead } from '../sheets';
import { cell, digits, head, list, number, pdfOf, runs, section, small, titleBlockOf } from './base';

const amperes = (value: number) => (value >= 1000 ? `${digits(value / 1000)} kA` : `${digits(value)} A`);

const kindTitles: Record<string, string> = {
  '3ph': 'three-phase',
  '2ph': 'two-phase',
  '2phE': 'two-phase-earth',
  '1ph': 'single-phase-earth',
};
const measuredTitles: Record<string, string> = {
  phase: 'phase faults',
  earth: 'earth faults',
  negative: 'negative sequence',
};
const verdicts: Record<string, string> = {
  holds: 'OK',
  short: 'not met',
  blind: 'no pickup',
  noBackup: 'no backup',
  unknown: 'unknown',
};

function functionTable(content: SheetContent): Content {
  const right = { alignment: 'right' };
  return list(
    [40, '*', 'auto', 'auto', 'auto', 'auto', 'auto'],
    [
      head('Function'),
      head('Characteristic'),
      head('× In', right),
      head('primary', right),
      head('secondary', right),
      head('multiplier', right),
      head('delay', right),
    ],
    content.functions.map((fn) => [
      cell(fn.code, { bold: true }),
      cell(fn.characteristic),
      number(digits(fn.pickupIn)),
      number(`${digits(fn.primaryA)} A`),
      number(`${digits(fn.secondaryA)} A`),
      number(fn.timeMultiplier === null ? '' : digits(fn.timeMultiplier)),
      number(fn.delayS === null ? '' : `${digits(fn.delayS)} s`),
    ]),
  );
}

function faultTable(content: SheetContent): Content {
  const right = { alignment: 'right' };
  return list(
    ['*', 'auto', 'auto', 'auto', 'auto', 'auto'],
    [
      head('Fault at'),
      head('Kind'),
      head('Condition'),
      head('phase', right),
      head('3 I0', right),
      head('operating time', right),
    ],
    content.faults.map((fault) => [
      cell(`${fault.place} (${fault.nominalKv} kV)`),
      cell(kindTitles[fault.kind]),
      cell(fault.condition),
      number(amperes(fault.phaseA)),
      number(fault.residualA < 0.5 ? '–' : amperes(fault.residualA)),
      number(fault.tripS === null ? 'no trip' : `${fault.tripS.toFixed(3)} s (${fault.by})`),
    ]),
  );
}

function marginTable(content: SheetContent): Content {
  const right = { alignment: 'right' };
  return list(
    ['*', 'auto', 'auto', 'auto', 'auto', 'auto'],
    [
      head('Pair (downstream to upstream)'),
      head('Faults'),
      head('decisive at', right),
      head('margin', right),
      head('required', right),
      head('verdict'),
    ],
    content.margins.map((margin) => [
      cell(`${margin.downstream} → ${margin.upstream}`),
      cell(margin.measured),
      number(margin.atA === null ? '' : amperes(margin.atA)),
      number(margin.marginS === null ? '' : `${margin.marginS.toFixed(3)} s`),
      number(`${digits(margin.wantedS)} s`),
      cell(margin.reason ? `${verdicts[margin.verdict]}: ${margin.reason}` : verdicts[margin.verdict], {
        color: margin.verdict === 'holds' ? light.pass : light.fail,
        bold: true,
      }),
    ]),
  );
}

/** The document; `issue` is null for a draft, which says so on every page. */
export function sheetDocument(content: SheetContent, project: string, issue: SheetHead | null): TDocumentDefinitions {
  const revision = issue ? `Revision ${issue.number}` : 'Draft';
  const facts: [string, string][] = [
    ['Device', content.relay.device],
    [
      'Current transformer',
      content.ct
        ? `${content.ct.name}, ${content.ct.primaryA}/${content.ct.secondaryA} A, ${content.ct.accuracy}`
        : 'none',
    ],
    ['Trips', content.trips.join(', ') || 'nothing'],
    ['Voltage level', content.nominalKv === null ? 'unknown' : `${content.nominalKv} kV, ${content.frequencyHz} Hz`],
    ...(content.notInUse.length > 0 ? [['Functions not in use', content.notInUse.join(', ')] as [string, string]] : []),
    ...(content.relay.note ? [['Note', content.relay.note] as [string, string]] : []),
    ...(issue?.reason ? [['Reason of this revision', issue.reason] as [string, string]] : []),
  ];
  return {
    pageSize: 'A4',
    pageMargins: [40, 40, 40, 74],
    info: {
      title: `Setting sheet ${content.relay.name}, ${revision.toLowerCase()}`,
      author: content.owner || 'Mesura',
      creator: 'Mesura',
    },
    defaultStyle: { font: 'Sans', fontSize: 9, color: light.ink },
    ...(issue ? {} : { watermark: { text: 'DRAFT', color: light.muted, opacity: 0.05, bold: true, font: 'Sans' } }),
    footer: (page, pages) => titleBlock(content, project, issue, revision, page, pages),
    content: [
      { text: runs(`Setting sheet ${content.relay.name}`), fontSize: 17, bold: true },
      { text: runs([content.owner, project].filter(Boolean).join(' · ')), color: light.muted, margin: [0, 0, 0, 8] },
      {
        table: {
          widths: [130, '*'],
          body: facts.map(([name, value]) => [cell(name, { color: light.muted }), cell(value)]),
        },
        layout: 'noBorders',
      },
      section('Settings'),
      content.functions.length > 0 ? functionTable(content) : { text: 'No function is in use.' },
      ...(content.origins ?? []).map(({ code, setting, words }): Content => ({
        text: runs(`${code}, ${setting.toLowerCase()}: ${words}.`),
        fontSize: 7.5,
        color: light.muted,
        margin: [0, 1, 0, 0],
      })),
      section('Fault currents used'),
      content.faults.length > 0 ? faultTable(content) : { text: 'No fault current reaches this relay.' },
      {
        text: runs(
          'Initial symmetrical currents after IEC 60909-0:2016, at the current transformer, primary; maximum close in, minimum at the far end.',
        ),
        fontSize: 7.5,
        color: light.muted,
        margin: [0, 2, 0, 0],
      },
      ...(content.sensitivities.length > 0
        ? [
            {
              text: runs(
                content.sensitivities
                  .map(
                    (s) =>
                      `Sees the smallest ${s.measured} fault at ${s.place} (${amperes(s.currentA)}) ${s.factor.toFixed(2)} times its pickup.`,
                  )
                  .join(' '),
              ),
              margin: [0, 4, 0, 0],
            } as Content,
          ]
        : []),
      section('Grading'),
      content.margins.length > 0 ? marginTable(content) : { text: 'This relay belongs to no grading pair.' },
      ...content.chart.flatMap((chart): Content[] => [
        {
          stack: [
            section(`Time–current chart, ${measuredTitles[chart.measured]}`),
            { svg: svgOf(sheetScene(chart)), width: 515 },
          ],
          unbreakable: true,
        },
      ]),
    ],
  };
}

function titleBlock(
  content: SheetContent,
  project: string,
  issue: SheetHead | null,
  revision: string,
  page: number,
  pages: number,
): Content {
  return titleBlockOf([
    small(project, `Setting sheet ${content.relay.name}`),
    small('Revision', revision),
    small('Issued', issue ? `${issue.issuedAt.slice(0, 10)} by ${issue.issuedBy}` : 'not issued'),
    small('Digest', issue ? issue.digest.slice(0, 12) : '–'),
    small('Seal', issue ? issue.seal.slice(0, 12) : '–'),
    small('Page', `${page} of ${pages}`),
  ]);
}

export function sheetPdf(content: SheetContent, project: string, issue: SheetHead | null): Promise<Buffer> {
  return pdfOf(sheetDocument(content, project, issue));
}
