/** A setting sheet as PDF: A4, title block and signatures on every page, page numbers, vector charts. Made from the frozen content alone. */
import type { Content, TableCell, TDocumentDefinitions } from 'pdfmake/interfaces';
import { digits as checkDigits, verdictTitles, type CheckVerdict } from '@mesura/core/checks/check';
import { faultKindTitles, type FaultKind } from '@mesura/core/faults/kinds';
import type { ProjectSettings } from '@mesura/core/model/element';
import { originTitles } from '@mesura/core/proposals/origin';
import type { DocumentContent, IssuableContent, SheetContent, SheetValue } from '@mesura/core/sheets/content';
import type { SheetDifference } from '@mesura/core/sheets/difference';
import { inWords, sheetWords, type SheetWords } from '@mesura/core/sheets/words';
import { verdictTitles as trialTitles } from '@mesura/core/trials/words';
import { sheetScene } from '../../plots/sheetChart';
import { planeScene, zonesScene } from '../../plots/sheetPlanes';
import { svgOf } from '../../plots/svg';
import { light } from '../../theme/tokens';
import type { SheetHead, Signature } from '../sheets/seal';
import { cell, digits, head, list, number, pdfOf, rules, runs, section, small } from './base';
import { labelAt } from './labels';
import { reportParts } from './report';

/** What stands on a sheet besides its content; `head` null for a draft, which says so on every page. */
export interface SheetIssue {
  readonly project: string;
  readonly head: SheetHead | null;
  /** Revisions before this one, oldest first. */
  readonly history: readonly SheetHead[];
  /** What has changed since the last of them. */
  readonly since: readonly SheetDifference[];
}

const amperes = (value: number) => (value >= 1000 ? `${digits(value / 1000)} kA` : `${digits(value)} A`);
const right = { alignment: 'right' };

const measuredTitles: Record<string, string> = {
  phase: 'phase faults',
  earth: 'earth faults',
  negative: 'negative sequence',
};
const marginVerdicts: Record<string, string> = {
  holds: 'OK',
  short: 'not met',
  blind: 'no pickup',
  noBackup: 'no backup',
  unknown: 'unknown',
};

const verdictInk = (verdict: CheckVerdict) =>
  verdict === 'holds' ? light.pass : verdict === 'doubtful' ? light.warn : light.fail;

function settingsTable(words: SheetWords, values: readonly SheetValue[]): Content {
  const said = (value: { value: number | string; unit: string; shown?: string } | null) =>
    value === null ? '' : (value.shown ?? inWords(words, value.value, value.unit));
  let last = '';
  return list(
    [44, '*', 'auto', 'auto', 'auto', 'auto', 'auto'],
    [
      head(words.function),
      head(words.setting),
      head(words.value, right),
      head(words.primary, right),
      head(words.secondary, right),
      head(words.range, right),
      head('', {}),
    ],
    values.map((value): TableCell[] => {
      const isNew = value.functionId !== last;
      last = value.functionId;
      const { range, state } = value;
      return [
        cell(isNew ? value.code : '', { bold: true }),
        cell(value.setting),
        { ...(number(said(value)) as object), bold: true } as TableCell,
        number(value.secondary || value.unit !== 'A' ? said(value.primary) : ''),
        number(said(value.secondary)),
        number(range ? `${inWords(words, range.min, '')} … ${inWords(words, range.max, '')}` : ''),
        cell(state === 'typed' ? '' : originTitles[state], { color: light.muted, fontSize: 7.5 }),
      ];
    }),
  );
}

/** Where values came from: by which rules, from which figures, or why not. */
function reasons(values: readonly SheetValue[]): Content[] {
  const told = values.filter(
    ({ state, rules: asked }) => state !== 'typed' && (asked.length > 0 || state === 'overridden'),
  );
  if (told.length === 0) return [];
  return [
    section('Reasons and working'),
    ...told.flatMap(({ code, setting, words, rules: asked }): Content[] => [
      { text: runs(`${code}, ${setting.toLowerCase()}: ${words}.`), fontSize: 8, margin: [0, 2, 0, 0] },
      ...asked.map(({ title, formula, result, unit, clause, remembered }): Content => ({
        text: runs(
          `${title}: ${formula}${result === null ? '' : ` = ${digits(result)} ${unit}`}${clause ? `   [${clause}${remembered ? ', as remembered' : ''}]` : ''}`,
        ),
        fontSize: 7.5,
        color: light.muted,
        margin: [10, 0, 0, 0],
      })),
    ]),
  ];
}

/** Zones and planes have no curve: that none trips says nothing then. */
const untripped = ({ zones, planes }: SheetContent): string =>
  zones.length + planes.length > 0 ? 'not by a curve' : 'no trip';

const faultTable = (content: SheetContent): Content =>
  list(
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
      cell(faultKindTitles[fault.kind as FaultKind] ?? fault.kind),
      cell(fault.condition),
      number(amperes(fault.phaseA)),
      number(fault.residualA < 0.5 ? '–' : amperes(fault.residualA)),
      number(fault.tripS === null ? untripped(content) : `${fault.tripS.toFixed(3)} s (${fault.by})`),
    ]),
  );

const marginTable = ({ margins }: SheetContent): Content =>
  list(
    ['*', 'auto', 'auto', 'auto', 'auto', 'auto'],
    [
      head('Pair (downstream to upstream)'),
      head('Faults'),
      head('decisive at', right),
      head('margin', right),
      head('required', right),
      head('verdict'),
    ],
    margins.map((margin) => [
      cell(`${margin.downstream} → ${margin.upstream}`),
      cell(margin.measured),
      number(margin.atA === null ? '' : amperes(margin.atA)),
      number(margin.marginS === null ? '' : `${margin.marginS.toFixed(3)} s`),
      number(`${digits(margin.wantedS)} s`),
      cell(margin.reason ? `${marginVerdicts[margin.verdict]}: ${margin.reason}` : marginVerdicts[margin.verdict], {
        color: margin.verdict === 'holds' ? light.pass : light.fail,
        bold: true,
      }),
    ]),
  );

const statementTable = ({ statements }: SheetContent): Content =>
  list(
    ['*', 'auto', 'auto', 'auto', 'auto'],
    [head('Check'), head('value', right), head('bound', right), head('margin', right), head('verdict')],
    statements.map(({ title, value, bound, unit, sense, verdict, condition, clause, message }) => {
      const margin = value === null || bound === null ? null : sense === 'atLeast' ? value - bound : bound - value;
      const figure = (of: number | null): TableCell =>
        ({
          ...(number(of === null ? '' : `${checkDigits(of)} ${unit}`.trim()) as object),
          noWrap: true,
        }) as TableCell;
      return [
        {
          stack: [
            { text: runs(title) },
            {
              text: runs([verdict === 'holds' ? '' : message, condition, clause].filter(Boolean).join(' · ')),
              fontSize: 7,
              color: light.muted,
            },
          ],
        },
        figure(value),
        figure(bound),
        figure(margin),
        cell(verdictTitles[verdict], { color: verdictInk(verdict), bold: true, noWrap: true }),
      ];
    }),
  );

const trialTable = ({ trials }: SheetContent): Content =>
  list(
    ['*', '*', 'auto', 'auto'],
    [head('Trial'), head('This device'), head('cleared', right), head('outcome')],
    trials.map(({ name, events, clearedS, verdict }) => [
      cell(name),
      cell(events.map(({ atS, text }) => `${checkDigits(atS)} s: ${text}`).join('; ') || 'picks up and drops out'),
      number(clearedS === null ? '' : `${checkDigits(clearedS)} s`),
      cell(trialTitles[verdict], { bold: true, color: verdict === 'selective' ? light.pass : light.fail }),
    ]),
  );

const differenceTitles: Readonly<Record<SheetDifference['part'], string>> = {
  value: 'Value',
  function: 'Functions',
  device: 'Device',
  statement: 'Check',
  margin: 'Margin',
  figure: 'Fault',
  trial: 'Trial',
  row: 'Row',
};

/** Every figure moves a little when the network does: so many are told one by one. */
const mostDifferences = 24;

function changesSince({ since, history }: SheetIssue): Content[] {
  if (history.length === 0) return [];
  const order = ['value', 'function', 'device', 'statement', 'margin', 'trial', 'figure', 'row'];
  const sorted = [...since].sort((p, q) => order.indexOf(p.part) - order.indexOf(q.part));
  return [
    section(`Changed since revision ${history.at(-1)!.number}`),
    since.length === 0
      ? { text: 'Nothing.' }
      : list(
          ['auto', '*', 'auto', 'auto'],
          [head(''), head('What'), head('before', right), head('now', right)],
          sorted
            .slice(0, mostDifferences)
            .map(({ part, what, before, after, worse }) => [
              cell(differenceTitles[part], { color: light.muted }),
              cell(what, worse ? { color: light.fail } : {}),
              number(before || '–'),
              number(after || '–'),
            ]),
        ),
    ...(since.length > mostDifferences
      ? [{ text: `and ${since.length - mostDifferences} more.`, color: light.muted } as Content]
      : []),
  ];
}

const signedOn = ({ at }: Pick<Signature, 'at'>) => at.slice(0, 16).replace('T', ' ');
const signatureTitles = { prepared: 'Prepared', checked: 'Checked', approved: 'Approved and issued' } as const;

/** Names under the document, and the revisions before. */
function signatures({ head: own, history }: SheetIssue): Content[] {
  const signed: Content = own?.signatures
    ? list(
        ['auto', '*', 'auto', 'auto'],
        [head(''), head('Name'), head('On'), head('')],
        own.signatures.map(({ step, name, at, signedIn }) => [
          cell(signatureTitles[step], { color: light.muted }),
          cell(name, { bold: true }),
          number(signedOn({ at })),
          cell(signedIn ? 'signed in' : 'not signed in', signedIn ? {} : { color: light.warn }),
        ]),
      )
    : { text: own ? `Issued by ${own.issuedBy}.` : 'Nobody has signed this draft.' };
  return [
    { stack: [section('Signatures'), signed], unbreakable: true },
    ...(history.length > 0
      ? [
          section('Revisions before'),
          list(
            ['auto', 'auto', 'auto', '*', 'auto'],
            [head('Revision'), head('Issued'), head('By'), head('Reason'), head('Digest')],
            history.map(({ number: revision, issuedAt, issuedBy, reason, digest }) => [
              cell(String(revision)),
              number(issuedAt.slice(0, 10)),
              cell(issuedBy),
              cell(reason || '–'),
              number(digest.slice(0, 12)),
            ]),
          ),
        ]
      : []),
  ];
}

function identification(content: SheetContent, drawing: string | null, issue: SheetIssue): Content {
  const { inputs } = content;
  const ratio = ({ primary, secondary }: (typeof inputs)[number]) =>
    primary && secondary ? `${digits(primary.value)}/${digits(secondary.value)} ${secondary.unit}` : '';
  const facts: [string, string][] = [
    ['Station', content.station || 'none'],
    ['Device', content.relay.device],
    ...inputs.map(({ name, type, accuracy, primary, secondary, reversed }, k): [string, string] => [
      k === 0 || inputs[k - 1].type !== type
        ? {
            current: 'Current transformer',
            voltage: 'Voltage transformer',
            neutral: 'Star point',
            winding: 'Winding',
            own: '',
          }[type]
        : '',
      [
        name,
        type === 'voltage' && primary && secondary
          ? `${digits(primary.value)} kV/${digits(secondary.value)} V`
          : ratio({ primary, secondary } as (typeof inputs)[number]),
        accuracy,
        reversed ? 'polarity reversed' : '',
      ]
        .filter(Boolean)
        .join(', '),
    ]),
    ['Trips', content.trips.join(', ') || 'nothing'],
    ['Voltage level', content.nominalKv === null ? 'unknown' : `${content.nominalKv} kV, ${content.frequencyHz} Hz`],
    ...(content.notInUse.length > 0 ? [['Functions not in use', content.notInUse.join(', ')] as [string, string]] : []),
    ...(content.relay.note ? [['Note', content.relay.note] as [string, string]] : []),
    ...(issue.head?.reason ? [['Reason of this revision', issue.head.reason] as [string, string]] : []),
  ];
  const table: Content = {
    table: {
      widths: [112, '*'],
      body: facts.map(([name, value]) => [cell(name, { color: light.muted }), cell(value)]),
    },
    layout: 'noBorders',
  };
  return drawing
    ? {
        columns: [
          { width: '*', stack: [table] },
          { width: 150, svg: drawing, fit: [150, 190] },
        ],
        columnGap: 12,
      }
    : table;
}

function deviceParts(content: SheetContent, drawing: string | null, issue: SheetIssue, words: SheetWords): Content[] {
  const main = content.values.filter(({ more }) => !more);
  const further = content.values.filter(({ more }) => more);
  return [
    identification(content, drawing, issue),
    section('Settings'),
    main.length > 0 ? settingsTable(words, main) : { text: 'No function is in use.' },
    ...(further.length > 0
      ? [
          {
            text: runs(
              `Also: ${further.map(({ code, setting, value, unit, shown }) => `${code} ${setting.toLowerCase()} ${shown ?? inWords(words, value, unit)}`).join('; ')}.`,
            ),
            fontSize: 7.5,
            color: light.muted,
            margin: [0, 3, 0, 0],
          } as Content,
        ]
      : []),
    ...reasons(content.values),
    ...changesSince(issue),
    section('Fault currents used'),
    content.faults.length > 0 ? faultTable(content) : { text: 'No fault current reaches this device.' },
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
    section('Checks'),
    content.statements.length > 0 ? statementTable(content) : { text: 'No check is about this device.' },
    section('Grading'),
    content.margins.length > 0 ? marginTable(content) : { text: 'This device belongs to no grading pair.' },
    ...(content.trials.length > 0 ? [section('Trials that it takes part in'), trialTable(content)] : []),
    ...content.chart.map((chart): Content => ({
      stack: [
        section(`Time–current chart, ${measuredTitles[chart.measured]}`),
        { svg: svgOf(sheetScene(chart)), width: 515 },
      ],
      unbreakable: true,
    })),
    ...[...new Set(content.zones.map(({ code }) => code))].map((code): Content => ({
      stack: [
        section(`Zones of ${code}`),
        {
          columns: content.zones
            .filter((each) => each.code === code)
            .map((each) => ({ svg: svgOf(zonesScene(each, 252, 250)), width: 252 })),
          columnGap: 11,
        },
      ],
      unbreakable: true,
    })),
    ...content.planes.map((plane): Content => ({
      stack: [section(`Plane of ${plane.code}`), { svg: svgOf(planeScene(plane, 515, 240)), width: 515 }],
      unbreakable: true,
    })),
    ...signatures(issue),
  ];
}

/** The label itself, as it is stuck on, above its record. */
function labelOf(
  { label, owner }: DocumentContent,
  { head: own, project }: SheetIssue,
  { mark }: ProjectSettings,
): Content[] {
  if (!label) return [];
  const size = { width: 330, height: 236 };
  const date = own ? own.issuedAt.slice(0, 10) : 'draft';
  return [
    ...labelAt(label, { x: 40, y: 92, ...size, isNewSheet: false }, false, {
      project,
      revision: own?.number ?? 0,
      date,
      owner,
      mark,
    }),
    { text: '', margin: [0, size.height + 8, 0, 0] },
  ];
}

const titleOf = (content: IssuableContent): string =>
  content.subject === 'device' ? `Setting sheet ${content.relay.name}` : content.report.title;
const ownerOf = (content: IssuableContent): string => content.owner;

/** The document; a draft says so on every page. */
export function sheetDocument(
  content: IssuableContent,
  drawing: string | null,
  issue: SheetIssue,
  settings: ProjectSettings,
): TDocumentDefinitions {
  const { head: own, project } = issue;
  const words = sheetWords[settings.sheets.language];
  const revision = own ? `Revision ${own.number}` : 'Draft';
  const title = titleOf(content);
  const isAcross = content.subject === 'linePackage';
  return {
    pageSize: 'A4',
    pageOrientation: isAcross ? 'landscape' : 'portrait',
    pageMargins: [40, 40, 40, settings.sheets.titleLines.length > 0 ? 124 : 98],
    info: { title: `${title}, ${revision.toLowerCase()}`, author: ownerOf(content) || 'Mesura', creator: 'Mesura' },
    defaultStyle: { font: 'Sans', fontSize: 9, color: light.ink },
    ...(own ? {} : { watermark: { text: 'DRAFT', color: light.muted, opacity: 0.05, bold: true, font: 'Sans' } }),
    ...(settings.mark ? { images: { mark: settings.mark } } : {}),
    footer: (page, pages) => titleBlock(content, issue, settings, revision, page, pages),
    content: [
      { text: runs(title), fontSize: 17, bold: true },
      { text: runs([ownerOf(content), project].filter(Boolean).join(' · ')), color: light.muted, margin: [0, 0, 0, 8] },
      ...(content.subject === 'device'
        ? deviceParts(content, drawing, issue, words)
        : [
            ...labelOf(content, issue, settings),
            ...reportParts(content.report),
            ...changesSince(issue),
            ...signatures(issue),
          ]),
    ],
  };
}

function titleBlock(
  content: IssuableContent,
  { project, head: own }: SheetIssue,
  { mark, sheets }: ProjectSettings,
  revision: string,
  page: number,
  pages: number,
): Content {
  const by = (step: Signature['step']) => {
    const found = own?.signatures?.find((each) => each.step === step);
    return found ? `${found.name}${found.signedIn ? '' : ' *'}` : '–';
  };
  const isUnsigned = own?.signatures?.some(({ signedIn }) => !signedIn) ?? false;
  const upper = [
    ...(mark ? [{ image: 'mark', fit: [46, 24] } as TableCell] : []),
    small(project, titleOf(content)),
    small('Revision', revision),
    small('Issued', own ? own.issuedAt.slice(0, 10) : 'not issued'),
    small('Page', `${page} of ${pages}`),
  ];
  const lower = [
    ...(own && !own.signatures
      ? [small('Issued by', own.issuedBy)]
      : [small('Prepared', by('prepared')), small('Checked', by('checked')), small('Approved', by('approved'))]),
    small('Digest', own ? own.digest.slice(0, 12) : '–'),
    small('Seal', own ? own.seal.slice(0, 12) : '–'),
  ];
  const row = (cells: TableCell[], widths: (string | number)[], top: number): Content => ({
    margin: [40, top, 40, 0],
    table: { widths, body: [cells] },
    layout: {
      ...rules,
      hLineWidth: () => 0.5,
      vLineWidth: () => 0.4,
      hLineColor: () => light.ink,
      vLineColor: () => light.rule,
    },
  });
  return [
    row(upper, [...(mark ? [48] : []), '*', 'auto', 'auto', 'auto'], 10),
    row(lower, [...lower.slice(2).map(() => '*'), 'auto', 'auto'], 0),
    ...(sheets.titleLines.length > 0
      ? [
          row(
            sheets.titleLines.map(({ title, text }) => small(title, text)),
            sheets.titleLines.map(() => '*'),
            0,
          ),
        ]
      : []),
    ...(isUnsigned
      ? [
          {
            text: runs('* not signed in: written on a desk of its own'),
            fontSize: 6.5,
            color: light.muted,
            margin: [40, 1, 40, 0],
          } as Content,
        ]
      : []),
  ];
}

export const sheetPdf = (
  content: IssuableContent,
  drawing: string | null,
  issue: SheetIssue,
  settings: ProjectSettings,
): Promise<Buffer> => pdfOf(sheetDocument(content, drawing, issue, settings));
