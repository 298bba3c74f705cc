/** Fault rows as a table, as CSV and as JSON. */
import type { Contribution } from '@mesura/core/faults/iec60909/contributions';
import type { FaultRow } from '@mesura/core/faults/report';
import { angle, magnitude, type Complex } from '@mesura/core/linear/complex';

const heads = ['bus', 'kV', 'kind', 'case', 'Ik" kA', 'ip kA', 'X/R', '3I0 kA', 'Sk" MVA'];

const significant = (value: number, digits = 4) => Number(value.toPrecision(digits)).toString();

export function textTable(rows: readonly FaultRow[]): string {
  const cells = rows.map((row) => {
    const r = row.result;
    const figures = r
      ? [
          significant(r.ikA / 1000),
          significant(r.ipA / 1000),
          significant(r.xOverR, 3),
          significant(r.earthA / 1000),
          r.powerVa === null ? '' : significant(r.powerVa / 1e6),
        ]
      : ['-', '-', '-', '-', '-'];
    return [row.name, String(row.nominalKv), row.kind, row.faultCase, ...figures];
  });
  const widths = heads.map((head, k) => Math.max(head.length, ...cells.map((cell) => cell[k].length)));
  const line = (cell: readonly string[]) =>
    cell
      .map((text, k) => (k === 0 || k === 2 || k === 3 ? text.padEnd(widths[k]) : text.padStart(widths[k])))
      .join('  ')
      .trimEnd();
  return `${[line(heads), ...cells.map(line)].join('\n')}\n`;
}

export const csvRows = (rows: readonly FaultRow[]): (string | number | null)[][] => [
  ['bus', 'nominal_kV', 'kind', 'case', 'ik_A', 'ip_A', 'x_over_r', 'earth_A', 'sk_MVA', 'problem'],
  ...rows.map(({ name, nominalKv, kind, faultCase, result: r, problems }) => [
    name,
    nominalKv,
    kind,
    faultCase,
    r && r.ikA,
    r && r.ipA,
    r && r.xOverR,
    r && r.earthA,
    r?.powerVa == null ? null : r.powerVa / 1e6,
    problems.map((problem) => problem.message).join('; '),
  ]),
];

const phasor = (value: Complex) => ({
  re: value.re,
  im: value.im,
  abs: magnitude(value),
  angleDeg: (angle(value) * 180) / Math.PI,
});

/** Currents in amperes, impedances in ohms. `contributions` add up to the fault current, phase by phase. */
export const jsonFaults = (rows: readonly FaultRow[], shares: (row: FaultRow) => readonly Contribution[]) => ({
  method: 'IEC 60909-0:2016',
  faults: rows.map((row) => ({
    bus: row.name,
    id: row.bus,
    nominalKv: row.nominalKv,
    kind: row.kind,
    case: row.faultCase,
    problems: row.problems.map(({ code, message, element }) => ({ code, message, element })),
    ...(row.result && {
      c: row.result.cFactor,
      ikA: row.result.ikA,
      phasesA: {
        l1: phasor(row.result.phases.l1),
        l2: phasor(row.result.phases.l2),
        l3: phasor(row.result.phases.l3),
        residual: phasor(row.result.phases.residual),
      },
      ipA: row.result.ipA,
      kappa: row.result.kappa,
      xOverR: row.result.xOverR,
      z1Ohm: row.result.z1,
      z2Ohm: row.result.z2,
      z0Ohm: row.result.z0,
      contributions: shares(row).map((share) => ({
        element: share.name,
        id: share.element,
        terminal: share.terminal,
        currentA: share.currentA,
        phasesA: {
          l1: phasor(share.phases.l1),
          l2: phasor(share.phases.l2),
          l3: phasor(share.phases.l3),
          residual: phasor(share.phases.residual),
        },
        ...(share.remark && { remark: share.remark }),
      })),
    }),
  })),
});
