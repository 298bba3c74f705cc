/** Arcing current, incident energy and boundary after IEEE 1584-2002, 5.2 to 5.5 (as remembered). Currents in kA, voltages in kV, lengths in mm, times in s, energies in J/cm². */
import { formula, quantityOf, SilentTrace, type Trace } from '../working/trace';

const source = 'IEEE 1584-2002 (as remembered)';

export interface ArcPlace2002 {
  readonly inBox: boolean;
  readonly voltageKv: number;
  readonly gapMm: number;
  readonly distanceMm: number;
  /** Of the kind of equipment: Table 4. */
  readonly distanceExponent: number;
  /** False: not earthed, or through a high resistance. */
  readonly earthed: boolean;
}

export interface Exposure2002 {
  readonly normalised: number;
  readonly energy: number;
  readonly boundaryMm: number;
}

/** The edition draws the boundary at 5.0 J/cm². */
export const boundaryEnergy2002 = 5;

/** Clause 5.1, as remembered: messages where the model does not reach. */
export function outOfRange2002({ voltageKv, gapMm }: ArcPlace2002, boltedKa: number | null = null): string[] {
  return [
    ...(voltageKv < 0.208 || voltageKv > 15 ? [`${voltageKv} kV is outside of 0.208 to 15 kV`] : []),
    ...(boltedKa !== null && (boltedKa < 0.7 || boltedKa > 106)
      ? [`bolted current ${boltedKa.toPrecision(3)} kA is outside of 0.7 to 106 kA`]
      : []),
    ...(gapMm < 13 || gapMm > 152 ? [`gap ${gapMm} mm is outside of 13 to 152 mm`] : []),
  ];
}

export function arcingCurrent2002(
  { inBox, voltageKv, gapMm }: Pick<ArcPlace2002, 'inBox' | 'voltageKv' | 'gapMm'>,
  boltedKa: number,
  trace: Trace = new SilentTrace(),
): number {
  const ibf = quantityOf('Ibf', boltedKa, 'kA');
  const lg = Math.log10(boltedKa);
  if (voltageKv >= 1)
    return trace.step(
      'Ia',
      formula`10^(0.00402 + 0.983 · lg(${ibf}))`,
      10 ** (0.00402 + 0.983 * lg),
      'kA',
      `${source}, 5.2, (2)`,
    ).value;
  const k = inBox ? -0.097 : -0.153;
  const [v, g] = [quantityOf('V', voltageKv, 'kV'), quantityOf('G', gapMm, 'mm')];
  return trace.step(
    'Ia',
    formula`10^(${quantityOf('K', k)} + 0.662 · lg(${ibf}) + 0.0966 · ${v} + 0.000526 · ${g} + 0.5588 · ${v} · lg(${ibf}) - 0.00304 · ${g} · lg(${ibf}))`,
    10 ** (k + 0.662 * lg + 0.0966 * voltageKv + 0.000526 * gapMm + 0.5588 * voltageKv * lg - 0.00304 * gapMm * lg),
    'kA',
    `${source}, 5.2, (1)`,
  ).value;
}

/** Share of the arcing current that the second calculation takes below 1 kV. */
export const reducedShare2002 = 0.85;

export function exposure2002(
  { inBox, voltageKv, gapMm, distanceMm, distanceExponent, earthed }: ArcPlace2002,
  arcingKa: number,
  timeS: number,
  trace: Trace = new SilentTrace(),
): Exposure2002 {
  const [k1, k2] = [inBox ? -0.555 : -0.792, earthed ? -0.113 : 0];
  const en = trace.step(
    'En',
    formula`10^(${quantityOf('K1', k1)} + ${quantityOf('K2', k2)} + 1.081 · lg(${quantityOf('Ia', arcingKa, 'kA')}) + 0.0011 · ${quantityOf('G', gapMm, 'mm')})`,
    10 ** (k1 + k2 + 1.081 * Math.log10(arcingKa) + 0.0011 * gapMm),
    'J/cm²',
    `${source}, 5.3, (4)`,
    'at 610 mm, for 0.2 s',
  );
  const cf = quantityOf('Cf', voltageKv > 1 ? 1 : 1.5);
  const [t, d, x] = [quantityOf('t', timeS, 's'), quantityOf('D', distanceMm, 'mm'), quantityOf('x', distanceExponent)];
  const at610 = 4.184 * (cf.value as number) * en.value * (timeS / 0.2);
  const energy = trace.step(
    'E',
    formula`4.184 · ${cf} · ${en} · (${t} / 0.2) · (610 / ${d})^${x}`,
    at610 * (610 / distanceMm) ** distanceExponent,
    'J/cm²',
    `${source}, 5.3, (6)`,
  );
  const boundary = trace.step(
    'DB',
    formula`610 · (4.184 · ${cf} · ${en} · (${t} / 0.2) / 5)^(1 / ${x})`,
    610 * (at610 / boundaryEnergy2002) ** (1 / distanceExponent),
    'mm',
    `${source}, 5.5, (7)`,
  );
  return { normalised: en.value, energy: energy.value, boundaryMm: boundary.value };
}
