/** Answers as tables, CSV and JSON. */
import type { BranchFigures, BusFigures, FaultDetail, FaultRow } from '@mesura/core/studies/engine';
import { angle, magnitude, type Complex } from '@mesura/core/linear/complex';
import { csv } from '@mesura/core/formats/tables/csv';
import type { PhaseCurrents } from '@mesura/core/sequence/components';
import type { Section } from '@mesura/core/working/trace';
import { Refusal } from './options';

export type Cell = string | number | null;
export type Format = 'table' | 'csv' | 'json';

const significant = (value: number, digits = 4) =>
  Number.isFinite(value) ? Number(value.toPrecision(digits)).toString() : '-';

/** Columns line up: text to the left, figures to the right. */
export function textTable(heads: readonly string[], rows: readonly (readonly Cell[])[]): string {
  const cells = rows.map((row) =>
    row.map((cell) => (cell === null ? '-' : typeof cell === 'number' ? significant(cell) : cell)),
  );
  const numeric = heads.map((_, k) => rows.some((row) => typeof row[k] === 'number'));
  const widths = heads.map((head, k) => Math.max(head.length, ...cells.map((row) => row[k].length)));
  const line = (row: readonly string[]) =>
    row
      .map((text, k) => (numeric[k] ? text.padStart(widths[k]) : text.padEnd(widths[k])))
      .join('  ')
      .trimEnd();
  return `${[line(heads), ...cells.map(line)].join('\n')}\n`;
}

/** A column: its head in tables, its name in CSV, its value. `scale` turns SI into what a table shows. */
export interface Column<R> {
  readonly head: string;
  readonly name: string;
  value(row: R): Cell;
  readonly scale?: number;
}

/** Columns asked for by name, and those that tables had; one command runs at a time. */
let asked: { readonly names: readonly string[]; readonly seen: Set<string> } | null = null;

/** Runs with tables and CSV of these columns alone, in this order ("place,ik_A"). Refusals: names that no table has. */
export function withColumns<T>(text: string, run: () => T): T {
  const names = text.split(',').map((name) => name.trim());
  const mine = { names, seen: new Set<string>() };
  asked = mine;
  try {
    const result = run();
    const unknown = names.filter((name) => !mine.seen.has(name));
    if (unknown.length > 0 && mine.seen.size > 0)
      throw new Refusal(
        2,
        `--columns: there is no column ${unknown.join(', ')}; there are ${[...mine.seen].join(', ')}`,
      );
    return result;
  } finally {
    asked = null;
  }
}

/** The columns asked for; of a table that has none of them all. */
function chosen<R>(columns: readonly Column<R>[]): readonly Column<R>[] {
  if (!asked) return columns;
  for (const { name } of columns) asked.seen.add(name);
  const wanted = asked.names.flatMap((name) => columns.find((column) => column.name === name) ?? []);
  return wanted.length > 0 ? wanted : columns;
}

export function tableOf<R>(all: readonly Column<R>[], rows: readonly R[], format: Exclude<Format, 'json'>): string {
  const columns = chosen(all);
  if (format === 'csv')
    return csv([columns.map(({ name }) => name), ...rows.map((row) => columns.map((column) => column.value(row)))]);
  const shown = rows.map((row) =>
    columns.map(({ value, scale = 1 }) => {
      const cell = value(row);
      return typeof cell === 'number' ? cell * scale : cell;
    }),
  );
  return textTable(
    columns.map(({ head }) => head),
    shown,
  );
}

/** A fault row with what it was asked under. */
export interface AskedRow extends FaultRow {
  readonly condition: string;
  readonly outage: string | null;
}

const kilo = 1e-3;
const of = <K extends keyof NonNullable<FaultRow['result']>>(row: FaultRow, key: K) => row.result?.[key] ?? null;

const first: Column<AskedRow>[] = [
  { head: 'place', name: 'place', value: (row) => row.name },
  { head: 'kV', name: 'nominal_kV', value: (row) => row.nominalKv },
  { head: 'kind', name: 'kind', value: (row) => row.kind },
  { head: 'condition', name: 'condition', value: (row) => row.condition },
];
const outage: Column<AskedRow> = { head: 'without', name: 'outage', value: (row) => row.outage ?? '' };
const problems: Column<AskedRow> = {
  head: 'problem',
  name: 'problem',
  value: (row) => row.problems.map(({ message }) => message).join('; '),
};
const earth: Column<AskedRow> = { head: '3I0 kA', name: 'earth_A', value: (row) => of(row, 'earthA'), scale: kilo };
const power: Column<AskedRow> = { head: 'Sk" MVA', name: 'sk_VA', value: (row) => of(row, 'powerVa'), scale: 1e-6 };

/** Multiplying factors of IEEE C37.13 for power circuit breakers, of places up to 1 kV. */
const lowVoltageFactors: Column<AskedRow>[] = (['unfused', 'fused'] as const).map((which) => ({
  head: `LV MF ${which}`,
  name: `lv_factor_${which}`,
  value: (row) => row.result?.c37?.firstCycle.lowVoltage?.[which] ?? null,
}));

/** Columns of a method; breaking and thermal currents where they were asked for. */
export function faultColumns(method: FaultRow['method'], rows: readonly AskedRow[]): Column<AskedRow>[] {
  const some = (key: keyof NonNullable<FaultRow['result']>) => rows.some((row) => of(row, key) !== null);
  const tail = [
    ...(rows.some((row) => row.outage) ? [outage] : []),
    ...(rows.some((row) => row.problems.length > 0) ? [problems] : []),
  ];
  if (method === 'c37')
    return [
      ...first,
      { head: 'sym kA', name: 'symmetrical_A', value: (row) => of(row, 'ikA'), scale: kilo },
      { head: 'X/R', name: 'x_over_r', value: (row) => of(row, 'xOverR') },
      {
        head: 'asym kA',
        name: 'asymmetrical_A',
        value: (row) => row.result?.c37?.firstCycle.asymmetricalA ?? null,
        scale: kilo,
      },
      { head: 'peak kA', name: 'peak_A', value: (row) => of(row, 'ipA'), scale: kilo },
      {
        head: 'int kA',
        name: 'interrupting_A',
        value: (row) => row.result?.c37?.interrupting.symmetricalA ?? null,
        scale: kilo,
      },
      { head: 'X/R int', name: 'x_over_r_interrupting', value: (row) => row.result?.c37?.interrupting.xOverR ?? null },
      { head: 'remote', name: 'remote_share', value: (row) => row.result?.c37?.interrupting.remoteShare ?? null },
      { head: 'MF', name: 'multiplying_factor', value: (row) => row.result?.c37?.interrupting.factor ?? null },
      {
        head: 'duty kA',
        name: 'interrupting_duty_A',
        value: (row) => row.result?.c37?.interrupting.dutyA ?? null,
        scale: kilo,
      },
      {
        head: '30 cyc kA',
        name: 'thirty_cycle_A',
        value: (row) => row.result?.c37?.thirtyCycle.symmetricalA ?? null,
        scale: kilo,
      },
      ...(rows.some((row) => row.result?.c37?.firstCycle.lowVoltage) ? lowVoltageFactors : []),
      ...tail,
    ];
  return [
    ...first,
    { head: method === 'superposition' ? 'I kA' : 'Ik" kA', name: 'ik_A', value: (row) => of(row, 'ikA'), scale: kilo },
    ...(method === 'iec60909'
      ? [
          { head: 'ip kA', name: 'ip_A', value: (row: AskedRow) => of(row, 'ipA'), scale: kilo },
          { head: 'X/R', name: 'x_over_r', value: (row: AskedRow) => of(row, 'xOverR') },
        ]
      : []),
    earth,
    power,
    ...(some('ibA')
      ? [
          { head: 'Ib kA', name: 'ib_A', value: (row: AskedRow) => of(row, 'ibA'), scale: kilo },
          { head: 'idc kA', name: 'idc_A', value: (row: AskedRow) => of(row, 'idcA'), scale: kilo },
          { head: 'Ib by', name: 'ib_rule', value: (row: AskedRow) => of(row, 'ibRule') },
        ]
      : []),
    ...(some('steady')
      ? [
          {
            head: 'Ik kA',
            name: 'ik_steady_A',
            value: (row: AskedRow) => row.result?.steady?.maxA ?? null,
            scale: kilo,
          },
        ]
      : []),
    ...(some('ithA')
      ? [
          { head: 'Ith kA', name: 'ith_A', value: (row: AskedRow) => of(row, 'ithA'), scale: kilo },
          { head: 'I²t kA²s', name: 'joule_A2s', value: (row: AskedRow) => of(row, 'jouleIntegral'), scale: 1e-6 },
        ]
      : []),
    ...tail,
  ];
}

const phaseColumns = <R extends { phases: PhaseCurrents }>(unit: string, scale: number, symbol: string): Column<R>[] =>
  (['l1', 'l2', 'l3'] as const).flatMap((phase): Column<R>[] => [
    {
      head: `${symbol}${phase.toUpperCase()} ${unit}`,
      name: `${symbol.toLowerCase()}_${phase}`,
      value: (row) => magnitude(row.phases[phase]),
      scale,
    },
    { head: '°', name: `${symbol.toLowerCase()}_${phase}_deg`, value: (row) => degrees(row.phases[phase]) },
  ]);

const degrees = (value: Complex) => (magnitude(value) < 1e-9 ? 0 : Number(((angle(value) * 180) / Math.PI).toFixed(3)));

const sequenceColumns = <R extends { components: { positive: Complex; negative: Complex; zero: Complex } }>(
  unit: string,
  scale: number,
  symbol: string,
): Column<R>[] =>
  (['positive', 'negative', 'zero'] as const).map((sequence, k) => ({
    head: `${symbol}${[1, 2, 0][k]} ${unit}`,
    name: `${symbol.toLowerCase()}${[1, 2, 0][k]}`,
    value: (row) => magnitude(row.components[sequence]),
    scale,
  }));

export const branchColumns: Column<BranchFigures>[] = [
  { head: 'element', name: 'element', value: (row) => row.name },
  { head: 'terminal', name: 'terminal', value: (row) => String(row.terminal + 1) },
  { head: 'at', name: 'at', value: (row) => row.end },
  ...phaseColumns<BranchFigures>('A', 1, 'I'),
  ...sequenceColumns<BranchFigures>('A', 1, 'I'),
];

export const busColumns: Column<BusFigures>[] = [
  { head: 'bus', name: 'bus', value: (row) => row.name },
  { head: 'kV', name: 'nominal_kV', value: (row) => row.nominalKv },
  ...phaseColumns<BusFigures>('kV', kilo, 'U'),
  ...sequenceColumns<BusFigures>('kV', kilo, 'U'),
];

/** A working as plain lines: symbol = formula with values = result, unit, clause. */
export function workingText(title: string, sections: readonly Section[]): string {
  const value = (v: number | Complex) =>
    typeof v === 'number' ? significant(v, 6) : `(${significant(v.re, 6)} + j${significant(v.im, 6)})`;
  const lines = [title];
  for (const section of sections) {
    if (section.title) lines.push('', section.title);
    for (const { result, expression, clause, remark } of section.steps) {
      const symbols = expression.map((part) => (typeof part === 'string' ? part : part.symbol)).join('');
      const figures = expression.map((part) => (typeof part === 'string' ? part : value(part.value))).join('');
      const notes = [clause, remark].filter(Boolean).join('; ');
      lines.push(
        `  ${result.symbol} = ${symbols} = ${figures} = ${value(result.value)} ${result.unit}${notes ? `   [${notes}]` : ''}`,
      );
    }
  }
  return `${lines.join('\n')}\n`;
}

const phasor = (value: Complex) => ({
  re: value.re,
  im: value.im,
  abs: magnitude(value),
  angleDeg: magnitude(value) < 1e-9 ? 0 : (angle(value) * 180) / Math.PI,
});

export const jsonPhases = ({ l1, l2, l3, residual }: PhaseCurrents) => ({
  l1: phasor(l1),
  l2: phasor(l2),
  l3: phasor(l3),
  residual: phasor(residual),
});

const jsonComponents = ({ positive, negative, zero }: { positive: Complex; negative: Complex; zero: Complex }) => ({
  positive: phasor(positive),
  negative: phasor(negative),
  zero: phasor(zero),
});

export const jsonBranches = (rows: readonly BranchFigures[]) =>
  rows.map(({ element, terminal, name, end, components, phases }) => ({
    element: name,
    id: element,
    terminal: terminal + 1,
    at: end,
    phasesA: jsonPhases(phases),
    componentsA: jsonComponents(components),
  }));

export const jsonBuses = (rows: readonly BusFigures[]) =>
  rows.map(({ bus, name, nominalKv, components, phases }) => ({
    bus: name,
    id: bus,
    nominalKv,
    phasesV: jsonPhases(phases),
    componentsV: jsonComponents(components),
  }));

/** Everything about one fault; amperes, volts and ohms. */
export function jsonFault(row: AskedRow, detail: FaultDetail | null, show: readonly string[]) {
  const r = row.result;
  return {
    place: row.name,
    id: row.place.element,
    nominalKv: row.nominalKv,
    kind: row.kind,
    case: row.faultCase,
    condition: row.condition,
    ...(row.outage && { without: row.outage }),
    problems: row.problems.map(({ code, message, element }) => ({ code, message, element })),
    ...(r && {
      ...r,
      phases: undefined,
      phasesA: r.phases && jsonPhases(r.phases),
      contributions: detail?.contributions.map((share) => ({
        element: share.name,
        id: share.element,
        terminal: share.terminal + 1,
        currentA: share.currentA,
        phasesA: jsonPhases(share.phases),
        ...(share.remark && { remark: share.remark }),
      })),
      ...(show.includes('branches') && { branches: jsonBranches(detail?.branches ?? []) }),
      ...(show.includes('buses') && { buses: jsonBuses(detail?.buses ?? []) }),
      ...(show.includes('working') && { working: detail?.working }),
    }),
  };
}
