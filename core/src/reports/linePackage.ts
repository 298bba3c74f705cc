/** A line package as a report: typed, simulated and calculated figures told apart; in the workbook the calculated ones are formulas over the others. */
import type { LiveCell } from '../formats/format';
import { spreadsheetFormula } from '../formulas/spreadsheet';
import { faultKindTitles, faultKinds } from '../faults/kinds';
import { magnitude } from '../linear/complex';
import type { LinePackage } from '../model/linePackage';
import { find, settingsOf } from '../model/network';
import { conditionOf } from '../model/state';
import { isTyped, type PackageFigure } from '../linePackage/figures';
import { steps, stepSlack, type Margin, type PackageElement } from '../linePackage/elements';
import { criterionTitles, type Loading } from '../linePackage/loading';
import { packageBasis, packageResult, type PackageBasis, type PackageResult } from '../linePackage/package';
import { runPlaces, type PackageRun } from '../linePackage/runs';
import {
  figureTitle,
  figureUnit,
  fromText,
  runPlaceTitles,
  schemeNotes,
  schemeTitles,
  stateText,
} from '../linePackage/words';
import { lineOhm, lineZeroOhm } from '../reach/circuits';
import { loadAngleDeg, loadSource, loadVoltage } from '../reach/loadability';
import type { LineEnd } from '../reach/seen';
import { readyRule } from '../rules/book';
import { namesByName, namesFor } from '../rules/names';
import type { Studies } from '../studies/studies';
import type { Report, ReportCell, ReportColumn, ReportSection } from './report';

export interface PackageView {
  readonly pack: LinePackage;
  readonly basis: PackageBasis;
  readonly result: PackageResult;
}

/** Yields the share that is done. */
export function* packageReport(studies: Studies, pack: LinePackage, date: string): Generator<number, Report> {
  const basis = yield* packageBasis(studies, pack);
  return reportOf(studies, { pack, basis, result: packageResult(studies, pack, basis) }, date);
}

const figure = (head: string, wide = 1): ReportColumn => ({ head, figure: true, wide });
const endKey = ({ line, terminal }: LineEnd): string => `${line}:${terminal}`;
const live = (value: number | null, origin: LiveCell['origin'], more: Partial<LiveCell> = {}): ReportCell =>
  value === null ? null : { value, origin, ...more };

export function reportOf(studies: Studies, view: PackageView, date: string): Report {
  const { network } = studies;
  const { pack, basis, result } = view;
  const line = find(network, 'line', pack.line)!;
  const kv = basis.ends[0]?.row.nominalKv ?? 0;
  const many = result.statements;
  const count = (holds: boolean) => many.filter((each) => each.holds === holds).length;
  const head: ReportSection = {
    title: 'Line and scheme',
    facts: [
      ['Line', line.name],
      ['Voltage', `${kv} kV`],
      ['Date', date],
      ['Ends', basis.ends.map(({ row }) => `${row.stationName} (${row.relay?.device.name ?? 'no relay'})`).join(', ')],
      ['Scheme', schemeTitles[pack.scheme]],
      ['Conditions', studies.conditions.map(({ name }) => name).join(', ')],
      ['Statements', `${count(true)} hold, ${count(false)} do not`],
    ],
    text: [
      schemeNotes[pack.scheme],
      ...(pack.note ? [pack.note] : []),
      'Yellow: typed or data of the network. Green: simulated. White (grey in the workbook): calculated. In the workbook the calculated cells are formulas.',
      'Fault currents by the equivalent voltage source of IEC 60909-0, without load before the fault.',
    ],
  };
  return {
    title: `Line package ${line.name}, ${kv} kV, ${date}`,
    owner: settingsOf(network).owner,
    sections: [
      head,
      inputs(studies, view),
      runsTable(studies, basis),
      ...basis.ends.flatMap((end) => endSections(studies, view, end)),
      loadability(view),
      standing(view),
      {
        title: 'All fault runs',
        workbookOnly: true,
        table: allRuns(studies, basis),
      },
    ],
  };
}

function inputs(studies: Studies, { basis }: PackageView): ReportSection {
  const { assembly } = studies.max;
  const columns = [
    { head: 'End', wide: 2 },
    { head: 'Line', wide: 1.5 },
    figure('km'),
    figure('R1 Ω'),
    figure('X1 Ω'),
    figure('R0 Ω'),
    figure('X0 Ω'),
    figure('CT primary A'),
    figure('CT secondary A'),
    figure('VT primary kV'),
    figure('VT secondary V'),
    figure('Ω secondary/Ω'),
    figure('Emergency A'),
  ];
  const rows = basis.ends.flatMap(({ row, figures }) =>
    row.circuit.lines.map((id, k) => {
      const line = find(studies.network, 'line', id)!;
      const [z1, z0] = [lineOhm(assembly, id), lineZeroOhm(assembly, id)];
      const { relay } = row;
      const rating = relay?.device.inputs[0]?.rating;
      const vt = relay?.device.voltageAt;
      const key = (name: string) => (k === 0 ? { key: `${endKey(row.end)} ${name}` } : {});
      const typed = (value: number | null | undefined, name = ''): ReportCell =>
        live(value ?? null, 'input', name ? key(name) : {});
      const ohm = (name: string) => `{${endKey(row.end)} ${name}}`;
      return {
        cells: [
          k === 0 ? row.stationName : '',
          line.name,
          typed(line.lengthKm),
          typed(z1?.re),
          typed(z1?.im),
          typed(z0?.re),
          typed(z0?.im),
          ...(k === 0
            ? [
                typed(rating?.primaryA, 'ct1'),
                typed(rating?.secondaryA, 'ct2'),
                typed(vt?.ratedKv, 'vt1'),
                typed(vt?.secondaryV, 'vt2'),
                live(relay?.secondary ?? null, 'calculated', {
                  ...key('ohm'),
                  formula: `${ohm('ct1')}/${ohm('ct2')}/(1000*${ohm('vt1')}/${ohm('vt2')})`,
                }),
                live(valueOf(figures.emergencyLoad), 'input'),
              ]
            : [null, null, null, null, null, null]),
        ],
      };
    }),
  );
  return { title: 'Data of the line and of its ends', table: { columns, rows } };
}

const valueOf = (of: PackageFigure | undefined): number | null => (of?.value ? magnitude(of.value) : null);

/** What is next to nothing is nothing: residues of the solution, in amperes and kilovolts. */
const settled = (value: number): number => (Math.abs(value) < 1e-3 ? 0 : value);

/** Of each place and kind the largest and the smallest, with what was out. */
function runsTable({ network }: Studies, basis: PackageBasis): ReportSection {
  const columns = [
    { head: 'End', wide: 1.4 },
    { head: 'Fault', wide: 3 },
    figure('largest I A', 1.2),
    { head: 'in', wide: 3 },
    figure('smallest I A', 1.2),
    { head: 'in', wide: 3 },
    figure('3I0 largest A', 1.2),
    figure('smallest A', 1.2),
    figure('least U kV', 1.2),
  ];
  const rows = basis.ends.flatMap(({ row, runs }) =>
    runPlaces.flatMap((place) =>
      faultKinds.flatMap((kind) => {
        const own = runs.filter((run) => run.place === place && run.kind === kind);
        if (own.length === 0) return [];
        const by = (of: (run: PackageRun) => number) => [...own].sort((p, q) => of(p) - of(q));
        const phase = by(({ largestPhaseA }) => largestPhaseA);
        const residual = by(({ residualA }) => residualA);
        const [least, most] = [phase[0], phase[phase.length - 1]];
        return [
          {
            cells: [
              row.stationName,
              `${faultKindTitles[kind]} ${runPlaceTitles[place]}`,
              live(most.largestPhaseA, 'simulated'),
              stateText(network, most),
              live(least.largestPhaseA, 'simulated'),
              stateText(network, least),
              live(settled(residual[residual.length - 1].residualA), 'simulated'),
              live(settled(residual[0].residualA), 'simulated'),
              live(settled(by(({ smallestV }) => smallestV)[0].smallestV / 1000), 'simulated'),
            ],
          },
        ];
      }),
    ),
  );
  return {
    title: 'Fault runs',
    text: ['At the far busbar also with each line, transformer and generator at either end out in turn.'],
    table: { columns, rows },
  };
}

function allRuns({ network }: Studies, basis: PackageBasis) {
  const columns = ['End', 'Fault', 'Place', 'Condition', 'Out', 'I A', '3I0 A', '3I0 to 3U0 °', 'least U kV'].map(
    (head): ReportColumn => ({ head }),
  );
  const rows = basis.ends.flatMap(({ row, runs }) =>
    runs.map((run) => {
      const out = run.out && network.elements.get(run.out);
      return {
        cells: [
          row.stationName,
          faultKindTitles[run.kind],
          runPlaceTitles[run.place],
          conditionOf(network, run.condition)?.name ?? run.condition,
          out && 'name' in out ? out.name : '',
          live(settled(run.largestPhaseA), 'simulated'),
          live(settled(run.residualA), 'simulated'),
          live(run.residualDeg, 'simulated'),
          live(settled(run.smallestV / 1000), 'simulated'),
        ],
      };
    }),
  );
  return { columns, rows };
}

function endSections(
  studies: Studies,
  { result }: PackageView,
  { row }: PackageBasis['ends'][number],
): ReportSection[] {
  const { network } = studies;
  const own = result.elements.filter(({ end }) => end === row.end);
  const key = (name: string) => `${endKey(row.end)} ${name}`;
  const named = new Map<string, PackageFigure>();
  for (const { decided, sensitivity, security } of own) {
    for (const each of decided?.by.figures ?? []) named.set(each.name, each as PackageFigure);
    for (const margin of [sensitivity, security]) if (margin) named.set(margin.figure.name, margin.figure);
  }
  const figureRows = [...named.values()].map((each) => {
    const value = each.value;
    const isComplex = value !== null && value.im !== 0;
    const origin: LiveCell['origin'] = each.run ? 'simulated' : isTyped(each.name) ? 'input' : 'calculated';
    return {
      cells: [
        each.name,
        figureTitle(each.name),
        live(value ? value.re : null, origin, { key: key(`${each.name}.re`) }),
        isComplex ? live(value.im, origin, { key: key(`${each.name}.im`) }) : null,
        live(value ? magnitude(value) : null, isComplex ? 'calculated' : origin, {
          key: key(each.name),
          formula: isComplex
            ? `SQRT({${key(`${each.name}.re`)}}^2+{${key(`${each.name}.im`)}}^2)`
            : `{${key(`${each.name}.re`)}}`,
        }),
        figureUnit(each.name),
        fromText(network, each),
      ],
    };
  });
  return [
    {
      title: `${row.stationName}: figures`,
      table: {
        columns: [
          { head: 'Name', wide: 1.6 },
          { head: 'What it is', wide: 4 },
          figure('Value or real'),
          figure('imaginary'),
          figure('Size'),
          { head: 'Unit', wide: 0.6 },
          { head: 'From', wide: 4 },
        ],
        rows: figureRows,
      },
    },
    {
      title: `${row.stationName}: elements`,
      text: [
        'Sensitivity and security in percent: by how much the value lies on the right side of the figure that it is held against.',
      ],
      table: {
        columns: [
          { head: 'Code', wide: 0.7 },
          { head: 'Element', wide: 3.2 },
          figure('Proposed'),
          figure('Set'),
          { head: 'Unit', wide: 0.5 },
          figure('Secondary'),
          figure('Sensitive %'),
          { head: 'against', wide: 1.7 },
          figure('Secure %'),
          { head: 'against', wide: 1.7 },
          { head: 'Rule or reason', wide: 3.4 },
        ],
        rows: own.map((each) => elementRow(each, key)),
      },
    },
  ];
}

function elementRow(element: PackageElement, key: (name: string) => string) {
  const { kind, proposed, value, secondary, secondaryUnit, sensitivity, security, isUsed, override, decided } = element;
  const [own, set] = [key(`${kind.id} proposed`), key(`${kind.id} value`)];
  const rule = decided?.by.rule;
  const formula = rule && readyRule(rule).formula;
  const text =
    formula &&
    spreadsheetFormula(formula, namesByName(namesFor(rule.subject)), (name) => {
      const at = decided.by.figures.find((each) => each.name === name);
      if (!at?.value) return null;
      return {
        re: `{${key(`${name}.re`)}}`,
        im: at.value.im !== 0 ? `{${key(`${name}.im`)}}` : null,
        isPositive: at.value.re >= 0,
      };
    });
  const step = steps[kind.unit];
  const stepped =
    text && step !== null && rule
      ? rule.sense === 'atLeast'
        ? `MAX(0,ROUNDUP((${text})/${step}-${stepSlack},0))*${step}`
        : `ROUNDDOWN((${text})/${step}+${stepSlack},0)*${step}`
      : text;
  const inTerms =
    kind.unit === 'A'
      ? `{${set}}*{${key('ct2')}}/{${key('ct1')}}`
      : kind.unit === 'Ω'
        ? `{${set}}*{${key('ohm')}}`
        : kind.unit === 'V'
          ? `{${set}}*{${key('vt2')}}/(1000*{${key('vt1')}})`
          : `{${set}}`;
  const percent = (margin: Margin | null): ReportCell =>
    margin &&
    live(margin.percent, 'calculated', {
      formula:
        margin.side === 'above'
          ? `100*({${set}}/{${key(margin.figure.name)}}-1)`
          : `100*({${key(margin.figure.name)}}/{${set}}-1)`,
    });
  const against = (margin: Margin | null) => (margin ? `${margin.side} ${margin.figure.name}` : '');
  const isShort = isUsed && [sensitivity, security].some((margin) => margin && margin.percent < 0);
  return {
    tone: isShort ? ('fail' as const) : ('pass' as const),
    cells: [
      kind.code,
      isUsed ? kind.title : `${kind.title} (not used)`,
      live(proposed, 'calculated', { key: own, ...(stepped ? { formula: stepped } : {}) }),
      live(value, override ? 'input' : 'calculated', { key: set, ...(override ? {} : { formula: `{${own}}` }) }),
      kind.unit,
      live(secondary, 'calculated', secondaryUnit ? { formula: inTerms } : {}),
      percent(sensitivity),
      against(sensitivity),
      percent(security),
      against(security),
      override ? `set by hand: ${override.reason || 'no reason given'}` : rule ? `${rule.title}: ${rule.formula}` : '',
    ] satisfies ReportCell[],
  };
}

function loadability({ pack, basis, result }: PackageView): ReportSection {
  const name = ({ end }: Pick<Loading, 'end'>) =>
    basis.ends.find(({ row }) => endKey(row.end) === endKey(end))?.row.stationName ?? '';
  const missing = result.loading.filter(({ missing: what }) => what !== '');
  return {
    title: 'Loadability',
    facts: [
      ['Criterion', `${pack.criterion}: ${criterionTitles[pack.criterion]}`],
      ['After', loadSource],
      ['Load', `at ${loadVoltage} of the nominal voltage, angle ${loadAngleDeg}°`],
      ...result.loading.flatMap(({ required, rates, end }): [string, string][] => [
        ...(required
          ? [
              [
                name({ end }),
                `${required.factor} × ${required.ofA.toFixed(0)} A = ${required.ampere.toFixed(0)} A`,
              ] as [string, string],
            ]
          : []),
        ...(rates ? [[`${name({ end })}, rates the line`, `${rates.ratingA.toFixed(0)} A`] as [string, string]] : []),
      ]),
    ],
    text: missing.map((each) => `${name(each)}: not proven, ${each.missing} is not known.`),
    table: {
      columns: [
        { head: 'End', wide: 1.5 },
        { head: 'Statement', wide: 4 },
        figure('carries A'),
        figure('required A'),
        figure('margin %'),
        { head: 'Holds' },
      ],
      rows: result.loading.flatMap((loading) =>
        loading.statements.map(({ id, title, carriesA, requiredA, marginPercent, holds }) => {
          const [p, q] = [`${endKey(loading.end)} ${id} carries`, `${endKey(loading.end)} ${id} required`];
          return {
            tone: holds ? ('pass' as const) : ('fail' as const),
            cells: [
              name(loading),
              title,
              live(carriesA, 'calculated', { key: p }),
              live(requiredA, 'calculated', { key: q }),
              live(marginPercent, 'calculated', { formula: `100*({${p}}/{${q}}-1)` }),
              holds ? 'yes' : 'no',
            ],
          };
        }),
      ),
    },
  };
}

function standing({ basis, result }: PackageView): ReportSection {
  const name = (end: LineEnd) => basis.ends.find(({ row }) => endKey(row.end) === endKey(end))?.row.stationName ?? '';
  const told = { open: 'open', agreed: 'agreed', moved: 'open again: a figure has moved' } as const;
  return {
    title: 'Statements and who has agreed',
    text: result.gone.map(
      ({ statement, on }) => `${statement}, agreed on ${on}, is none any more: the scheme or the network has changed.`,
    ),
    table: {
      columns: [
        { head: 'End', wide: 1.3 },
        { head: 'Statement', wide: 5 },
        figure('Value'),
        figure('Bound'),
        { head: 'Unit', wide: 0.6 },
        figure('Margin %'),
        { head: 'Holds', wide: 0.7 },
        { head: 'Agreed', wide: 2.2 },
      ],
      rows: result.statements.map(({ end, title, value, bound, unit, marginPercent, holds, state, agreed }) => ({
        tone: !holds ? ('fail' as const) : state === 'moved' ? ('warn' as const) : ('pass' as const),
        cells: [
          name(end),
          title,
          value,
          bound,
          unit,
          marginPercent,
          holds ? 'yes' : 'no',
          agreed ? `${told[state]} (${agreed.on})` : told[state],
        ],
      })),
    },
  };
}
