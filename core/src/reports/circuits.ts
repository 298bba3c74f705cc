/** Circuits of a board, or some of them, as a report: the schedule with formulas that go on calculating in a workbook, what is short, the working. */
import { installationOf } from '../lowVoltage/demand';
import { cellText, deviceText } from '../lowVoltage/cells';
import { atHeat } from '../lowVoltage/cable';
import { circuitTable, keyOf, type CircuitRow } from '../lowVoltage/study';
import { clauseOf, criterionTexts, reasonTexts } from '../lowVoltage/texts';
import { circuitWorking } from '../lowVoltage/working';
import { caseMaker, type CircuitCase } from '../lowVoltage/case';
import { circuitsIn } from '../circuits/find';
import type { Condition } from '../model/condition';
import type { ElementId } from '../model/fields';
import { find, nameIn, settingsOf, type Network } from '../model/network';
import { conditionOf } from '../model/state';
import type { LiveCell } from '../formats/format';
import type { Studies } from '../studies/studies';
import type { Report, ReportCell, ReportColumn, ReportSection, Tone } from './report';

const live = (value: number | null, origin: LiveCell['origin'], more: Partial<LiveCell> = {}): ReportCell =>
  value === null ? '' : { value, origin, ...more };

const toneOf = ({ verdict }: Pick<CircuitRow, 'verdict'>): Tone | undefined =>
  verdict === 'short' ? 'fail' : verdict === 'holds' ? undefined : 'warn';
const verdictWords = { holds: 'holds', short: 'short', doubtful: 'doubtful', unknown: 'not known' } as const;

export const circuitName = (network: Network, { ends }: Pick<CircuitRow, 'ends'>): string =>
  ends.map((id) => nameIn(network, id)).join(', ');

/** `board`: null for all; `only`: keys of circuits, empty for all. Yields the share that is done. */
export function* circuitReport(
  studies: Studies,
  conditions: readonly Condition[],
  board: ElementId | null,
  only: readonly ElementId[] = [],
): Generator<number, Report> {
  const { network } = studies;
  const table = yield* circuitTable(studies, conditions, board);
  const rows = table.rows.filter(({ key }) => only.length === 0 || only.includes(key));
  const caseOf = caseMaker(studies, conditions);
  const cases = new Map(circuitsIn(network).map((circuit) => [keyOf(circuit), circuit]));
  const given = (row: CircuitRow): CircuitCase => caseOf(cases.get(row.key)!);
  const boards = [...new Set(rows.map((row) => row.board))];
  const isSingle = only.length > 0;
  return {
    title: isSingle ? `Circuit ${rows.map((row) => circuitName(network, row)).join(', ')}` : 'Board schedule',
    owner: settingsOf(network).owner,
    sections: [
      {
        title: 'Basis',
        facts: [
          ['Conditions', conditions.map(({ name }) => name).join(', ')],
          ...boards.flatMap((id): [string, string][] => {
            const { system, rules, dropPercent, coincidencePercent } = installationOf(network, id);
            const figures = table.boards.find((each) => each.board === id);
            return [
              [
                nameIn(network, id),
                `${system}, ${rules === 'machine' ? 'IEC 60204-1' : 'IEC 60364'}, voltage drop at most ${dropPercent} %, coincidence ${coincidencePercent} %`,
              ],
              ...(figures
                ? ([['L1, L2, L3', `${figures.phasesA.map((each) => each.toPrecision(4)).join(', ')} A`]] as [
                    string,
                    string,
                  ][])
                : []),
            ];
          }),
          ['Result', `${rows.length} circuits, ${rows.filter(({ verdict }) => verdict === 'short').length} short`],
        ],
        text: [
          'Ampacities, times of devices and factors are those of the standards as remembered where the working says so.',
        ],
      },
      ...boards.map((id) =>
        schedule(
          network,
          id,
          rows.filter((row) => row.board === id),
          given,
        ),
      ),
      ...(isSingle || rows.some(({ verdict }) => verdict !== 'holds') ? [criteriaTable(network, rows, isSingle)] : []),
      ...(isSingle
        ? [
            {
              title: 'Working',
              workings: rows.map((row) => ({
                title: circuitName(network, row),
                sections: circuitWorking(network, given(row)),
              })),
            },
          ]
        : []),
    ],
  };
}

const heads: readonly ReportColumn[] = [
  { head: 'Circuit', wide: 3 },
  { head: 'Device', wide: 2.2 },
  { head: 'Load', wide: 1.8 },
  { head: 'cos φ', figure: true },
  { head: 'Phases', wide: 0.9 },
  { head: 'Ib A', figure: true },
  { head: 'In A', figure: true },
  { head: 'Ib/In', figure: true },
  { head: 'Cable', wide: 2.4 },
  { head: 'Laid', wide: 0.7 },
  { head: 'It A', figure: true },
  { head: 'fθ', figure: true },
  { head: 'fg', figure: true },
  { head: 'fs', figure: true },
  { head: 'n', figure: true },
  { head: 'Iz A', figure: true },
  { head: 'In/Iz', figure: true },
  { head: 'Length m', figure: true },
  { head: 'R Ω', figure: true },
  { head: 'X Ω', figure: true },
  { head: 'ΔU before %', figure: true },
  { head: 'ΔU %', figure: true },
  { head: 'Ik max A', figure: true },
  { head: 'Ik1 min A', figure: true },
  { head: 'Ia A', figure: true },
  { head: 'Ia/Ik1', figure: true },
  { head: 't s', figure: true },
  { head: 'ta s', figure: true },
  { head: '', wide: 2 },
];

/** On paper half of the columns are enough; the workbook has all. */
const onPaper: ReadonlySet<string> = new Set([
  ...['Circuit', 'Device', 'Load', 'Phases', 'Ib A', 'Cable', 'Laid', 'Iz A', 'Length m', 'ΔU %'],
  ...['Ik max A', 'Ik1 min A', 't s', 'ta s', ''],
]);

function schedule(
  network: Network,
  board: ElementId,
  rows: readonly CircuitRow[],
  given: (row: CircuitRow) => CircuitCase,
): ReportSection {
  const un = (find(network, 'bus', board)?.nominalKv ?? 0.4) * 1000;
  const u0 = un / Math.sqrt(3);
  const all = rows.map((row) => {
    const own = given(row);
    const main = row.main === null ? null : own.cables[row.main];
    const figures = row.main === null ? null : row.cables[row.main];
    const parts = {
      board,
      end: row.ends.length === 1 && !row.isFeeder ? row.ends[0] : null,
      cable: figures?.element ?? null,
      device: row.guard?.device ?? row.switches.at(0) ?? null,
    };
    const at = (name: string) => `${row.key} ${name}`;
    const r = main ? atHeat(main.cable.phase, main.cable, 'service') : null;
    const capacity = figures?.capacity ?? null;
    const rated = row.guard?.referenceA ?? null;
    const isSole = row.cables.length === 1;
    const cells: ReportCell[] = [
      circuitName(network, row),
      parts.device && find(network, 'switch', parts.device)
        ? `${nameIn(network, parts.device)} ${deviceText(find(network, 'switch', parts.device)!)}`
        : (row.guard?.name ?? ''),
      cellText(network, parts, 'size'),
      live(row.cosPhi, 'input', { key: at('cos') }),
      cellText(network, parts, 'phases'),
      live(row.designA, 'calculated', { key: at('Ib') }),
      live(rated, 'input', { key: at('In') }),
      live(rated === null ? null : row.designA / rated, 'calculated', { formula: `{${at('Ib')}}/{${at('In')}}` }),
      main
        ? `${main.cable.name} ${main.cable.sectionMm2 === null ? '' : `${main.cable.sectionMm2} mm² ${main.cable.metal ?? ''} ${main.cable.insulation ?? ''}`}`
        : '',
      capacity?.method ?? '',
      live(capacity?.tableA ?? null, 'input', { key: at('It') }),
      live(capacity?.by === 'table' ? capacity.ambient : null, 'input', { key: at('fa') }),
      live(capacity?.by === 'table' ? capacity.grouping : null, 'input', { key: at('fg') }),
      live(capacity?.by === 'table' ? capacity.soil : null, 'input', { key: at('fs') }),
      live(main?.cable.parallel ?? null, 'input', { key: at('n') }),
      live(capacity?.ampere ?? null, 'calculated', {
        key: at('Iz'),
        ...(capacity?.by === 'table' && {
          formula: ['It', 'fa', 'fg', 'fs', 'n'].map((name) => `{${at(name)}}`).join('*'),
        }),
      }),
      live(rated === null || !capacity?.ampere ? null : rated / capacity.ampere, 'calculated', {
        formula: `{${at('In')}}/{${at('Iz')}}`,
      }),
      live(figures?.lengthM ?? null, 'input', { key: at('l') }),
      live(r?.re ?? null, 'calculated', { key: at('R') }),
      live(r?.im ?? null, 'calculated', { key: at('X') }),
      live(row.upstreamPercent, 'calculated', { key: at('before') }),
      live(row.upstreamPercent + row.ownPercent, 'calculated', {
        // Of a run with several cables the sum stands here, not one product.
        ...(isSole &&
          main!.sinPhi >= 0 && {
            formula: `{${at('before')}}+100*${row.isSinglePhase ? 2 : 1}*{${at('Ib')}}*({${at('R')}}*{${at('cos')}}+{${at('X')}}*SQRT(1-{${at('cos')}}^2))/${u0}`,
          }),
      }),
      live(row.endMax?.ampere ?? null, 'simulated'),
      live(row.endEarth?.ampere ?? null, 'simulated', { key: at('Ik1') }),
      live(row.operatingA, 'calculated', { key: at('Ia') }),
      live(row.operatingA === null || !row.endEarth ? null : row.operatingA / row.endEarth.ampere, 'calculated', {
        formula: `{${at('Ia')}}/{${at('Ik1')}}`,
      }),
      live(row.cleared.timeS, 'calculated'),
      live(row.requiredS, 'input'),
      row.verdict === 'holds' || !row.binding
        ? verdictWords[row.verdict]
        : `${verdictWords[row.verdict]}: ${criterionTexts[row.binding].title.toLowerCase()}`,
    ];
    return { cells, tone: toneOf(row) };
  });
  return {
    title: nameIn(network, board),
    table: { columns: heads, rows: all, onPaper: heads.map(({ head }) => onPaper.has(head)) },
  };
}

function criteriaTable(network: Network, rows: readonly CircuitRow[], isAll: boolean): ReportSection {
  const lines = rows.flatMap((row) =>
    row.checks.filter(({ verdict }) => isAll || verdict !== 'holds').map((check) => ({ row, check })),
  );
  return {
    title: isAll ? 'What the circuit has to meet' : 'What is not met, or not certain',
    table: {
      columns: [
        { head: 'Circuit', wide: 2.4 },
        { head: 'What is asked', wide: 2.6 },
        { head: 'is', figure: true },
        { head: 'at most', figure: true },
        { head: '', wide: 0.6 },
        { head: '%', figure: true },
        { head: 'Decided by', wide: 2.4 },
        { head: 'Clause', wide: 3 },
        { head: 'Remark', wide: 3 },
      ],
      rows: lines.map(({ row, check }) => ({
        cells: [
          circuitName(network, row),
          criterionTexts[check.criterion].title,
          check.value,
          check.limit,
          check.unit,
          check.used === null ? null : 100 * check.used,
          [
            check.subject && nameIn(network, check.subject),
            check.condition && conditionOf(network, check.condition)?.name,
          ]
            .filter(Boolean)
            .join(', '),
          `${clauseOf(check.criterion, installationOf(network, row.board).rules)}${criterionTexts[check.criterion].isRemembered ? ' (as remembered)' : ''}`,
          check.why ? reasonTexts[check.why] : '',
        ],
        tone: toneOf(check),
      })),
    },
  };
}

export interface CircuitLabel {
  readonly title: string;
  readonly board: string;
  readonly device: string;
  readonly lines: readonly string[];
}

/** What stands at the outlet of each circuit of a board. */
export function circuitLabels(network: Network, rows: readonly CircuitRow[]): CircuitLabel[] {
  return rows.map((row) => {
    const element = find(network, 'switch', row.guard?.device ?? row.switches.at(0) ?? null);
    const cable = row.main === null ? null : row.cables[row.main];
    const line = cable && find(network, 'line', cable.element);
    const phases = row.isSinglePhase
      ? ['L1', 'L2', 'L3'].filter((_, k) => row.phasesA[k] > 0).join(', ')
      : 'L1, L2, L3';
    return {
      title: circuitName(network, row),
      board: nameIn(network, row.board),
      device: element ? `${element.name} ${deviceText(element)}` : '',
      lines: [
        line
          ? `${line.name}: ${cable.parallel > 1 ? `${cable.parallel} × ` : ''}${cable.sectionMm2 ?? '?'} mm², ${Number(cable.lengthM.toPrecision(4))} m`
          : '',
        `${phases}, ${row.designA.toPrecision(3)} A`,
      ].filter(Boolean),
    };
  });
}
