/**
 * Arcing current, incident energy and arc-flash boundary of a three-phase arc, IEEE 1584-2018, 4.4 to 4.10: an empirical model for 208 V to 15 kV. Currents in kA, voltages
 * in kV, lengths in mm, times in ms, energies in J/cm².
 */
import { formula, quantityOf, SilentTrace, type Part, type Quantity, type Trace } from '../working/trace';
import { boxCoefficients, coefficients, isBoxed, levels, type Electrodes, type Level } from './coefficients';

const source = 'IEEE 1584-2018';

/** Energy at which the boundary lies: 1.2 cal/cm². */
export const boundaryEnergy = 5.0208;
export const joulesPerCalorie = 4.184;

export interface Enclosure {
  readonly heightMm: number;
  readonly widthMm: number;
  readonly depthMm: number;
}

export interface ArcPlace2018 {
  readonly electrodes: Electrodes;
  readonly voltageKv: number;
  readonly gapMm: number;
  readonly distanceMm: number;
  /** Of no account for electrodes in open air. */
  readonly enclosure: Enclosure;
}

/** What keeps a place from being judged by the model, or is beyond what it was tested for. */
export interface OutOfRange {
  readonly field: 'voltageKv' | 'boltedKa' | 'gapMm' | 'distanceMm' | 'heightMm' | 'widthMm' | 'opening';
  readonly message: string;
}

/** Clause 4.2, as remembered. */
export function outOfRange2018(
  { electrodes, voltageKv, gapMm, distanceMm, enclosure }: ArcPlace2018,
  boltedKa: number | null = null,
): OutOfRange[] {
  const low = voltageKv <= 0.6;
  const [leastKa, mostKa] = low ? [0.5, 106] : [0.2, 65];
  const [leastGap, mostGap] = low ? [6.35, 76.2] : [19.05, 254];
  const { heightMm, widthMm } = enclosure;
  const kv = `${low ? 'up to' : 'above'} 0.6 kV`;
  const all: (OutOfRange | false)[] = [
    (voltageKv < 0.208 || voltageKv > 15) && {
      field: 'voltageKv',
      message: `${voltageKv} kV is outside of 0.208 to 15 kV`,
    },
    boltedKa !== null &&
      (boltedKa < leastKa || boltedKa > mostKa) && {
        field: 'boltedKa',
        message: `bolted current ${boltedKa.toPrecision(3)} kA is outside of ${leastKa} to ${mostKa} kA (${kv})`,
      },
    (gapMm < leastGap || gapMm > mostGap) && {
      field: 'gapMm',
      message: `gap ${gapMm} mm is outside of ${leastGap} to ${mostGap} mm (${kv})`,
    },
    distanceMm < 305 && { field: 'distanceMm', message: `working distance ${distanceMm} mm is below 305 mm` },
    isBoxed(electrodes) &&
      heightMm > 1244.6 && { field: 'heightMm', message: `height ${heightMm} mm counts as 1244.6 mm` },
    isBoxed(electrodes) && widthMm > 1244.6 && { field: 'widthMm', message: `width ${widthMm} mm counts as 1244.6 mm` },
    isBoxed(electrodes) &&
      widthMm < 4 * gapMm && { field: 'widthMm', message: `width ${widthMm} mm is below four gaps` },
    isBoxed(electrodes) && heightMm * widthMm > 1.549e6 && { field: 'opening', message: `opening above 1.549 m²` },
  ];
  return all.filter((each) => each !== false);
}

/** Those that forbid a result; the others widen what the model was tested for. */
export const forbids = ({ field }: OutOfRange): boolean =>
  field === 'voltageKv' || field === 'boltedKa' || field === 'gapMm' || field === 'distanceMm';

/** Whether printed examples confirm the coefficients that decide here. */
export const isConfirmed = ({ electrodes, voltageKv, enclosure }: ArcPlace2018): boolean =>
  electrodes === 'VCB' &&
  (voltageKv <= 0.6 || voltageKv > 2.7) &&
  !isShallow(voltageKv, enclosure) &&
  enclosure.heightMm <= 1244.6 &&
  enclosure.widthMm <= 1244.6;

const polynomial = (powers: readonly number[], x: number): number => powers.reduce((sum, k) => sum * x + k, 0);

/** A polynomial as a reader writes it. `first`: number of its first coefficient. */
function written(powers: readonly number[], x: Quantity, first: number): Part[] {
  return powers.flatMap((k, n): Part[] => {
    const power = powers.length - 1 - n;
    if (k === 0) return [];
    const own: Part[] = [quantityOf(`k${first + n}`, k)];
    if (power > 0) own.push(' · ', x);
    if (power > 1) own.push(`^${power}`);
    return power < powers.length - 1 && powers.slice(0, n).some((each) => each !== 0) ? [' + ', ...own] : own;
  });
}

/** Between the three voltages of the model. */
function between(
  symbol: string,
  voltage: Quantity & { readonly value: number },
  [low, middle, high]: readonly (Quantity & { readonly value: number })[],
  unit: string,
  clause: string,
  trace: Trace,
): number {
  const kv = voltage.value;
  const second = trace.step(
    `${symbol},2`,
    formula`(${high} - ${middle}) / 11.6 · (${voltage} - 14.3) + ${high}`,
    ((high.value - middle.value) / 11.6) * (kv - 14.3) + high.value,
    unit,
    clause,
  );
  if (kv > 2.7) return second.value;
  const first = trace.step(
    `${symbol},1`,
    formula`(${middle} - ${low}) / 2.1 · (${voltage} - 2.7) + ${middle}`,
    ((middle.value - low.value) / 2.1) * (kv - 2.7) + middle.value,
    unit,
    clause,
  );
  return trace.step(
    `${symbol},3`,
    formula`${first} · (2.7 - ${voltage}) / 2.1 + ${second} · (${voltage} - 0.6) / 2.1`,
    (first.value * (2.7 - kv)) / 2.1 + (second.value * (kv - 0.6)) / 2.1,
    unit,
    clause,
  ).value;
}

export interface ArcingCurrents {
  readonly intermediateKa: Readonly<Record<Level, number>>;
  readonly currentKa: number;
  readonly variation: number;
  readonly reducedKa: number;
}

/** Arcing current at full and reduced value: 4.4, 4.5. */
export function arcingCurrents(
  { electrodes, voltageKv, gapMm }: Pick<ArcPlace2018, 'electrodes' | 'voltageKv' | 'gapMm'>,
  boltedKa: number,
  trace: Trace = new SilentTrace(),
): ArcingCurrents {
  const { at, variation } = coefficients[electrodes];
  const ibf = quantityOf('Ibf', boltedKa, 'kA');
  const gap = quantityOf('G', gapMm, 'mm');
  const voc = { ...quantityOf('Voc', voltageKv, 'kV'), value: voltageKv };
  const of = (level: Level): Quantity & { value: number } => {
    const { current, polynomial: powers } = at[level];
    const [k1, k2, k3] = current;
    const p = trace.step('P', written(powers, ibf, 4), polynomial(powers, boltedKa), '', `${source}, 4.4, (1)`);
    return trace.step(
      `Iarc,${level * 1000}`,
      formula`10^(${quantityOf('k1', k1)} + ${quantityOf('k2', k2)} · lg(${ibf}) + ${quantityOf('k3', k3)} · lg(${gap})) · ${p}`,
      10 ** (k1 + k2 * Math.log10(boltedKa) + k3 * Math.log10(gapMm)) * p.value,
      'kA',
      `${source}, 4.4, (1)`,
    );
  };
  const low = of(0.6);
  const [middle, high] = voltageKv > 0.6 ? [of(2.7), of(14.3)] : [null, null];
  const currentKa =
    middle && high
      ? between('Iarc', voc, [low, middle, high], 'kA', `${source}, 4.5`, trace)
      : trace.step(
          'Iarc',
          formula`1 / √((0.6 / ${voc})^2 · (1 / ${low}^2 - (0.6^2 - ${voc}^2) / (0.6^2 · ${ibf}^2)))`,
          lowVoltageCurrent(voltageKv, low.value, boltedKa),
          'kA',
          `${source}, 4.6, (25)`,
        ).value;
  const share = polynomial(variation, voltageKv);
  const varCf = trace.step('VarCf', written(variation, voc, 1), share, '', `${source}, 4.5, (2), Table 2`);
  const reduced = trace.step(
    'Iarc,min',
    formula`${quantityOf('Iarc', currentKa, 'kA')} · (1 - 0.5 · ${varCf})`,
    currentKa * (1 - 0.5 * share),
    'kA',
    `${source}, 4.5`,
  );
  return {
    intermediateKa: { 0.6: low.value, 2.7: middle?.value ?? NaN, 14.3: high?.value ?? NaN },
    currentKa,
    variation: share,
    reducedKa: reduced.value,
  };
}

const lowVoltageCurrent = (voltageKv: number, intermediateKa: number, boltedKa: number): number =>
  1 /
  Math.sqrt(
    (0.6 / voltageKv) ** 2 * (1 / intermediateKa ** 2 - (0.6 ** 2 - voltageKv ** 2) / (0.6 ** 2 * boltedKa ** 2)),
  );

export const isShallow = (voltageKv: number, { heightMm, widthMm, depthMm }: Enclosure): boolean =>
  voltageKv < 0.6 && heightMm < 508 && widthMm < 508 && depthMm <= 203.2;

export interface Correction {
  readonly factor: number;
  readonly shallow: boolean;
  /** Equivalent height, width and mean of both in inches; null in open air. */
  readonly size: { readonly heightIn: number; readonly widthIn: number; readonly equivalentIn: number } | null;
}

const inchesPerMm = 0.03937;

/** Factor for the size of the enclosure: 4.8. */
export function enclosureCorrection(
  { electrodes, voltageKv, enclosure }: Pick<ArcPlace2018, 'electrodes' | 'voltageKv' | 'enclosure'>,
  trace: Trace = new SilentTrace(),
): Correction {
  if (!isBoxed(electrodes)) return { factor: 1, shallow: false, size: null };
  const { a, b, typical, shallow: ofShallow } = boxCoefficients[electrodes];
  const shallow = isShallow(voltageKv, enclosure);
  const counted = (mm: number) => (660.4 + (Math.min(mm, 1244.6) - 660.4) * ((voltageKv + a) / b)) / 25.4;
  const equivalent = (mm: number, isWidth: boolean): number => {
    if (mm < 508) return shallow ? inchesPerMm * mm : 20;
    if (mm <= 660.4) return inchesPerMm * mm;
    // The height of vertical electrodes counts in full up to the largest box that was tested.
    if (electrodes === 'VCB' && !isWidth) return mm > 1244.6 ? 49 : inchesPerMm * mm;
    return counted(mm);
  };
  const [heightIn, widthIn] = [equivalent(enclosure.heightMm, false), equivalent(enclosure.widthMm, true)];
  const ees = trace.step(
    'EES',
    formula`(${quantityOf('Height1', heightIn, 'in')} + ${quantityOf('Width1', widthIn, 'in')}) / 2`,
    (heightIn + widthIn) / 2,
    'in',
    `${source}, 4.8.3, Table 6`,
    shallow ? 'shallow enclosure' : 'typical enclosure',
  );
  const [b1, b2, b3] = (shallow ? ofShallow : typical).map((each, k) => quantityOf(`b${k + 1}`, each));
  const value = (b1.value as number) * ees.value ** 2 + (b2.value as number) * ees.value + (b3.value as number);
  const sum = formula`${b1} · ${ees}^2 + ${b2} · ${ees} + ${b3}`;
  const cf = trace.step(
    'CF',
    shallow ? ['1 / (', ...sum, ')'] : sum,
    shallow ? 1 / value : value,
    '',
    `${source}, 4.8.4, Table 7`,
  );
  return { factor: cf.value, shallow, size: { heightIn, widthIn, equivalentIn: ees.value } };
}

/** What the energy follows from: the bolted current, and the arcing current at full or reduced value. */
export interface ArcCurrents {
  readonly boltedKa: number;
  readonly arcing: ArcingCurrents;
  readonly reduced: boolean;
}

/** Exponent of the intermediate energy without distance and time. */
function exponent(
  level: Level,
  place: ArcPlace2018,
  { boltedKa, arcing, reduced }: ArcCurrents,
  factor: number,
): number {
  const { polynomial: powers, energy } = coefficients[place.electrodes].at[level];
  const [k1, k2, k3, k11, , k13] = energy;
  const full = arcing.intermediateKa[level];
  const less = 1 - 0.5 * arcing.variation;
  const low = place.voltageKv <= 0.6;
  // Up to 0.6 kV the term with k3 keeps the full intermediate current, and the last one takes the final current.
  const inner = reduced && !low ? full * less : full;
  const last = low ? (reduced ? arcing.reducedKa : arcing.currentKa) : inner;
  return (
    k1 +
    k2 * Math.log10(place.gapMm) +
    (k3 * inner) / (polynomial(powers, boltedKa) * boltedKa) +
    k11 * Math.log10(boltedKa) +
    k13 * Math.log10(last) +
    Math.log10(1 / factor)
  );
}

const ofDistance = (level: Level, electrodes: Electrodes): number => coefficients[electrodes].at[level].energy[4];

export interface Exposure {
  readonly energy: number;
  readonly boundaryMm: number;
  /** At the voltages of the model; one up to 0.6 kV. */
  readonly intermediate: Readonly<Partial<Record<Level, { readonly energy: number; readonly boundaryMm: number }>>>;
}

/** Incident energy and boundary of an arc that burns for a time: 4.6, 4.7, 4.9. */
export function exposure(
  place: ArcPlace2018,
  currents: ArcCurrents,
  timeMs: number,
  { factor }: Pick<Correction, 'factor'>,
  trace: Trace = new SilentTrace(),
): Exposure {
  const { voltageKv, distanceMm, electrodes } = place;
  const time = quantityOf('T', timeMs, 'ms');
  const distance = quantityOf('D', distanceMm, 'mm');
  const used: readonly Level[] = voltageKv <= 0.6 ? [0.6] : levels;
  const at = used.map((level) => {
    const sum = exponent(level, place, currents, factor);
    const k12 = ofDistance(level, electrodes);
    const name = voltageKv <= 0.6 ? 'E' : `E${level * 1000}`;
    const [x, k] = [quantityOf('x', sum), quantityOf('k12', k12)];
    const energy = trace.step(
      name,
      formula`12.552 / 50 · ${time} · 10^(${x} + ${k} · lg(${distance}))`,
      (12.552 / 50) * timeMs * 10 ** (sum + k12 * Math.log10(distanceMm)),
      'J/cm²',
      `${source}, 4.6, (3) to (6)`,
      'x: k1 + k2·lg G + k3·Iarc/(Ibf·P) + k11·lg Ibf + k13·lg Iarc + lg(1/CF)',
    );
    const boundary = trace.step(
      name.replace('E', 'AFB'),
      formula`10^((${x} - lg(20 / ${time})) / (-${k}))`,
      10 ** ((sum - Math.log10(20 / timeMs)) / -k12),
      'mm',
      `${source}, 4.9, (7) to (10)`,
    );
    return { level, energy, boundary };
  });
  const intermediate = Object.fromEntries(
    at.map(({ level, energy, boundary }) => [level, { energy: energy.value, boundaryMm: boundary.value }]),
  );
  if (at.length === 1) return { energy: at[0].energy.value, boundaryMm: at[0].boundary.value, intermediate };
  const voc = { ...quantityOf('Voc', voltageKv, 'kV'), value: voltageKv };
  return {
    energy: between(
      'E',
      voc,
      at.map(({ energy }) => energy),
      'J/cm²',
      `${source}, 4.7`,
      trace,
    ),
    boundaryMm: between(
      'AFB',
      voc,
      at.map(({ boundary }) => boundary),
      'mm',
      `${source}, 4.9`,
      trace,
    ),
    intermediate,
  };
}

/** Energy of each millisecond over the distance in mm; what does not depend on the distance is worked out once. */
export function energyRate(
  place: ArcPlace2018,
  currents: ArcCurrents,
  { factor }: Pick<Correction, 'factor'>,
): (distanceMm: number) => number {
  const { voltageKv, electrodes } = place;
  const at = (voltageKv <= 0.6 ? ([0.6] as const) : levels).map((level) => ({
    size: (12.552 / 50) * 10 ** exponent(level, place, currents, factor),
    power: ofDistance(level, electrodes),
  }));
  if (at.length === 1) return (mm) => at[0].size * mm ** at[0].power;
  return (mm) => {
    const [low, middle, high] = at.map(({ size, power }) => size * mm ** power);
    const second = ((high - middle) / 11.6) * (voltageKv - 14.3) + high;
    if (voltageKv > 2.7) return second;
    const first = ((middle - low) / 2.1) * (voltageKv - 2.7) + middle;
    return (first * (2.7 - voltageKv)) / 2.1 + (second * (voltageKv - 0.6)) / 2.1;
  };
}
