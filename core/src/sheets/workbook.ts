/**
 * The workbook of a sheet: the same content, its calculated cells as formulas over the others. Typed, simulated and calculated cells are told apart by their fill; the first
 * sheet says how.
 */
import type { LiveCell, Sheet } from '../formats/format';
import { faultKindTitles, type FaultKind } from '../faults/kinds';
import { reportSheets, type ReportCell } from '../reports/report';
import { verdictTitles } from '../checks/check';
import { originTitles } from '../proposals/origin';
import { verdictTitles as trialTitles } from '../trials/words';
import type { IssuableContent, SheetContent, SheetValue } from './content';
import { valueKey } from './content';

/** What stands in the title block, besides the content. */
export interface WorkbookHead {
  readonly project: string;
  /** "Revision 3", "Draft". */
  readonly revision: string;
  readonly reason: string;
  readonly digest: string;
  /** Name, value: prepared, checked, approved. */
  readonly signatures: readonly (readonly [string, string])[];
}

type Row = (ReportCell | string)[];

const live = (value: number | null, origin: LiveCell['origin'], more: Partial<LiveCell> = {}): ReportCell =>
  value === null ? null : { value, origin, ...more };

const legend: Row[] = [
  [],
  ['Cells'],
  [live(1, 'input'), 'typed, or data of the network'],
  [live(1, 'simulated'), 'simulated'],
  [live(1, 'calculated'), 'calculated: a formula over other cells'],
];

const headRows = ({ project, revision, reason, digest, signatures }: WorkbookHead): Row[] => [
  ['Project', project],
  ['Revision', revision],
  ...(reason ? [['Reason of this revision', reason]] : []),
  ...signatures.map(([name, value]): Row => [name, value]),
  ...(digest ? [['Digest', digest]] : []),
];

export function sheetWorkbook(content: IssuableContent, head: WorkbookHead): Sheet[] {
  if (content.subject !== 'device') {
    const [first, ...rest] = reportSheets(content.report);
    return [{ ...first, rows: [...first.rows, [], ...headRows(head), ...legend] }, ...rest];
  }
  return [
    identification(content, head),
    transformers(content),
    settings(content),
    ...(content.values.some(({ rules }) => rules.length > 0) ? [rulesSheet(content)] : []),
    figures(content),
    checks(content),
    ...(content.margins.length > 0 ? [grading(content)] : []),
    ...(content.trials.length > 0 ? [trials(content)] : []),
  ];
}

const identification = (content: SheetContent, head: WorkbookHead): Sheet => ({
  name: 'Sheet',
  rows: [
    [`Setting sheet ${content.relay.name}`],
    ...headRows(head),
    ['Owner', content.owner],
    ['Station', content.station],
    ['Device', content.relay.device],
    ['Nominal voltage kV', content.nominalKv ?? 'unknown'],
    ['Frequency Hz', content.frequencyHz],
    ['Trips', content.trips.join(', ')],
    ['From the trip to the end of the current s', live(content.openingS, 'input')],
    ...(content.notInUse.length > 0 ? [['Functions not in use', content.notInUse.join(', ')]] : []),
    ...(content.relay.note ? [['Note', content.relay.note]] : []),
    ...legend,
  ],
});

const scaleKey = ({ functionId }: { readonly functionId: string }, name: string): string => `${functionId} ${name}`;

/** Inputs as they are built, and what each function measures through. */
function transformers({ inputs, scales, values }: SheetContent): Sheet {
  const codeOf = new Map(values.map(({ functionId, code }) => [functionId, code]));
  return {
    name: 'Transformers',
    rows: [
      ['Input', 'Kind', 'Primary', '', 'Secondary', '', 'Class', 'Polarity'],
      ...inputs.map(({ name, type, primary, secondary, accuracy, reversed }): Row => [
        name,
        type,
        live(primary?.value ?? null, 'input'),
        primary?.unit ?? '',
        live(secondary?.value ?? null, 'input'),
        secondary?.unit ?? '',
        accuracy,
        reversed ? 'reversed' : '',
      ]),
      [],
      ['Function', 'CT primary A', 'CT secondary A', 'VT primary kV', 'VT secondary V', 'Base A', 'Ω secondary/Ω'],
      ...scales.map((scale): Row => {
        const of = (name: string) => `{${scaleKey(scale, name)}}`;
        const { ct, vt, baseA, functionId } = scale;
        const cell = (value: number | null, name: string) => live(value, 'input', { key: scaleKey(scale, name) });
        return [
          codeOf.get(functionId) ?? '',
          cell(ct?.primaryA ?? null, 'ct1'),
          cell(ct?.secondaryA ?? null, 'ct2'),
          cell(vt?.primaryKv ?? null, 'vt1'),
          cell(vt?.secondaryV ?? null, 'vt2'),
          cell(baseA, 'base'),
          ct && vt
            ? live(ct.primaryA / ct.secondaryA / ((1000 * vt.primaryKv) / vt.secondaryV), 'calculated', {
                key: scaleKey(scale, 'ohm'),
                formula: `${of('ct1')}/${of('ct2')}/(1000*${of('vt1')}/${of('vt2')})`,
              })
            : null,
        ];
      }),
    ],
  };
}

/** How a value comes to both sides of the transformers, as formulas over its own cell. */
function sideFormulas(
  value: SheetValue,
  isSecondary: boolean,
): { readonly primary: string | null; readonly secondary: string | null } {
  const own = `{${valueKey(value)}}`;
  const of = (name: string) => `{${scaleKey(value, name)}}`;
  const ratio = `${of('ct1')}/${of('ct2')}`;
  switch (value.unit) {
    case '× In':
      return { primary: `${own}*${of('ct1')}`, secondary: `${own}*${of('ct2')}` };
    case '× base':
      return { primary: `${own}*${of('base')}`, secondary: `${own}*${of('base')}/(${ratio})` };
    case 'A':
      return isSecondary
        ? { primary: `${own}*${ratio}`, secondary: own }
        : { primary: own, secondary: `${own}/(${ratio})` };
    case 'Ω':
      return isSecondary
        ? { primary: `${own}/${of('ohm')}`, secondary: own }
        : { primary: own, secondary: `${own}*${of('ohm')}` };
    default:
      return { primary: null, secondary: null };
  }
}

/** A value in amperes or ohms is the same figure on the side that it is of. */
const isOfSecondary = ({ value, primary, secondary }: SheetValue): boolean =>
  secondary?.value === value && primary?.value !== value;

const settings = ({ values }: SheetContent): Sheet => ({
  name: 'Settings',
  rows: [
    ['Function', 'Setting', 'Value', 'Unit', 'Primary', '', 'Secondary', '', 'From', 'To', 'Step', 'Origin', 'Reason'],
    ...values.map((value): Row => {
      const { code, setting, unit, primary, secondary, range, state, words } = value;
      const formulas = sideFormulas(value, isOfSecondary(value));
      const side = (amount: typeof primary, formula: string | null) =>
        amount === null ? null : live(amount.value, 'calculated', formula === null ? {} : { formula });
      return [
        code,
        setting,
        typeof value.value === 'string'
          ? (value.shown ?? value.value)
          : live(value.value, 'input', { key: valueKey(value) }),
        unit,
        side(primary, formulas.primary),
        primary?.unit ?? '',
        side(secondary, formulas.secondary),
        secondary?.unit ?? '',
        range?.min ?? '',
        range?.max ?? '',
        range?.step ?? '',
        originTitles[state],
        words,
      ];
    }),
  ],
});

/** Each rule behind a value, with the figures it was fed with and what it comes to. */
function rulesSheet({ values }: SheetContent): Sheet {
  const rows = values.flatMap((value) => {
    if (value.rules.length === 0) return [];
    const key = (name: string) => `${valueKey(value)} ${name}`;
    return [
      [
        `${value.code} ${value.setting}`,
        'set',
        live(typeof value.value === 'number' ? value.value : null, 'input'),
        value.unit,
      ],
      ...value.figures.map(({ name, value: of, unit, place }): Row => [
        '',
        name,
        live(of, 'simulated', { key: key(name) }),
        unit,
        place,
      ]),
      ...value.rules.map(({ title, formula, unit, result, live: text, clause, remembered }): Row => [
        '',
        title,
        live(
          result,
          'calculated',
          text === null ? {} : { formula: text.replaceAll(/\{([^}]+)\}/g, (_, name: string) => `{${key(name)}}`) },
        ),
        unit,
        formula,
        `${clause}${remembered ? ' (as remembered)' : ''}`,
      ]),
    ];
  });
  return { name: 'Rules', rows: [['Value', 'Figure or rule', 'Result', 'Unit', 'At, or formula', 'Clause'], ...rows] };
}

const figures = ({ faults, sensitivities }: SheetContent): Sheet => ({
  name: 'Figures',
  rows: [
    ['Fault at', 'kV', 'Kind', 'Condition', 'Phase A', '3 I0 A', 'Operating time s', 'By'],
    ...faults.map(({ place, nominalKv, kind, condition, phaseA, residualA, tripS, by }): Row => [
      place,
      nominalKv,
      faultKindTitles[kind as FaultKind] ?? kind,
      condition,
      live(phaseA, 'simulated'),
      live(residualA, 'simulated'),
      tripS === null ? 'no trip' : live(tripS, 'simulated'),
      by ?? '',
    ]),
    ...(sensitivities.length > 0 ? [[], ['Smallest fault', '', '', '', 'Current A', 'Pickup A', 'Times pickup']] : []),
    ...sensitivities.map(({ measured, place, currentA, factor }, k): Row => {
      const of = (name: string) => `sensitivity ${k} ${name}`;
      return [
        `${measured}, ${place}`,
        '',
        '',
        '',
        live(currentA, 'simulated', { key: of('current') }),
        live(currentA / factor, 'simulated', { key: of('pickup') }),
        live(factor, 'calculated', { formula: `{${of('current')}}/{${of('pickup')}}` }),
      ];
    }),
  ],
});

const checks = ({ statements }: SheetContent): Sheet => ({
  name: 'Checks',
  rows: [
    ['Check', 'Value', 'Bound', 'Unit', 'Margin', 'Verdict', 'Condition', 'Clause', 'In words'],
    ...statements.map(({ id, title, value, bound, unit, sense, verdict, condition, clause, message }): Row => {
      const of = (name: string) => `${id} ${name}`;
      const margin = value === null || bound === null ? null : sense === 'atLeast' ? value - bound : bound - value;
      return [
        title,
        live(value, 'simulated', { key: of('value') }),
        live(bound, 'input', { key: of('bound') }),
        unit,
        live(margin, 'calculated', {
          formula: sense === 'atLeast' ? `{${of('value')}}-{${of('bound')}}` : `{${of('bound')}}-{${of('value')}}`,
        }),
        verdictTitles[verdict],
        condition,
        clause,
        message,
      ];
    }),
  ],
});

const grading = ({ margins }: SheetContent): Sheet => ({
  name: 'Grading',
  rows: [
    ['Downstream', 'Upstream', 'Faults', 'At A', 'Margin s', 'Required s', 'In reserve s', 'Verdict'],
    ...margins.map(({ downstream, upstream, measured, atA, marginS, wantedS, verdict, reason }, k): Row => {
      const of = (name: string) => `margin ${k} ${name}`;
      return [
        downstream,
        upstream,
        measured,
        live(atA, 'simulated'),
        live(marginS, 'simulated', { key: of('margin') }),
        live(wantedS, 'input', { key: of('required') }),
        live(marginS === null ? null : marginS - wantedS, 'calculated', {
          formula: `{${of('margin')}}-{${of('required')}}`,
        }),
        reason || verdict,
      ];
    }),
  ],
});

const trials = ({ trials: list }: SheetContent): Sheet => ({
  name: 'Trials',
  rows: [
    ['Trial', 'Outcome', 'Cleared after s', 'After s', 'This device'],
    ...list.flatMap(({ name, verdict, clearedS, events }): Row[] => [
      [name, trialTitles[verdict], live(clearedS, 'simulated')],
      ...events.map(({ atS, text }): Row => ['', '', '', live(atS, 'simulated'), text]),
    ]),
  ],
});
