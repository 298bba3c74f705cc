/**
 * The test network of IEC TR 60909-4, clause 6, for the tests and the validation report. Three-winding transformers and power-station units have no element of their own yet;
 * here their impedances are worked out by the standard's formulas and put into the same networks and solver that the program uses, so
 * that the printed currents prove the solver, the feeder, line, transformer and machine rules, and the earth-fault formula.
 */
import { magnitude, type Complex } from '../linear/complex';
import { newElement } from '../model/defaults';
import { elementId } from '../model/fields';
import type { Element } from '../model/element';
import { sequenceModel } from '../sequence/models';
import type { FaultCase, Primitive, SequenceContext } from '../sequence/stamp';
import { faultCase } from './reference';
import { SilentTrace } from '../working/trace';
import { peakFrequencyRatio } from '../faults/assembly';
import {
  atFrequencyRatio,
  buildSequenceNetwork,
  drivingPoint,
  type NetworkSeries,
  type NetworkShunt,
} from '../faults/sequenceNetwork';
import { faultComponents } from '../faults/iec60909/kinds';
import { peakFactor } from '../faults/iec60909/study';
import { voltageFactor } from '../faults/iec60909/voltageFactor';

interface Reference {
  network: {
    buses: Record<string, number>;
    feeders: { name: string; bus: string; Ik_kA: number; R_over_X: number; X0_over_X1: number; R0_over_X0: number }[];
    trafos3: Three[];
    trafos2: {
      name: string;
      hv: string;
      lv: string;
      SrT_MVA: number;
      UrHV_kV: number;
      UrLV_kV: number;
      ukr_pct: number;
      uRr_pct: number;
    }[];
    units: Unit[];
    generators: { bus: string; SrG_MVA: number; UrG_kV: number; xd2_pct: number; cosphi: number; RG_ohm: number }[];
    motors: {
      name: string;
      bus: string;
      PrM_MW: number;
      UrM_kV: number;
      cosphi: number;
      eta: number;
      ILR_over_Ir: number;
      pole_pairs: number;
    }[];
    lines: {
      name: string;
      from: string;
      to: string;
      length_km: number;
      parallel?: number;
      R1_ohm_per_km: number;
      X1_ohm_per_km: number;
      R0_ohm_per_km: number;
      X0_ohm_per_km: number;
    }[];
  };
  expected: {
    ik3Ka: Record<string, number>;
    ik1Ka: Record<string, number>;
    ip3By20HzKa_secondSolver: Record<string, number>;
  };
}
interface Three {
  hv: string;
  mv: string;
  lv: string | null;
  SrHVMV_MVA: number;
  SrHVLV_MVA: number;
  SrMVLV_MVA: number;
  UrHV_kV: number;
  UrMV_kV: number;
  UrLV_kV: number;
  ukr_HVMV_pct: number;
  ukr_HVLV_pct: number;
  ukr_MVLV_pct: number;
  uRr_HVMV_pct: number;
  uRr_HVLV_pct: number;
  uRr_MVLV_pct: number;
  vector: string[];
  X0_over_X1: number;
}
interface Unit {
  bus: string;
  generator: { SrG_MVA: number; UrG_kV: number; xd2_pct: number; cosphi: number; RG_ohm: number; pG?: number };
  transformer: {
    SrT_MVA: number;
    UrHV_kV: number;
    UrLV_kV: number;
    ukr_pct: number;
    uRr_pct: number;
    oltc: boolean;
    pT: number;
    X0_over_X1: number;
    XN_hv_ohm?: number;
    vector: string[];
  };
}
type Z = { r: number; x: number; rPeak: number };

const reference = faultCase<Reference>('iec-tr-60909-4-clause-6');
const { network: data, expected } = reference;
const cMax = 1.1;
const names = [...Object.keys(data.buses), 'star3', 'star4'];
const node = (name: string) => names.indexOf(name);

const positive = { series: [] as NetworkSeries[], shunts: [] as NetworkShunt[] };
const zero = { series: [] as NetworkSeries[], shunts: [] as NetworkShunt[] };
type Lists = typeof positive;
const id = elementId('x');
const series = (lists: Lists, a: string, b: string, z: Z, ratio = 1) =>
  lists.series.push({ element: id, a: node(a), b: node(b), ratio, rOhm: z.r, xOhm: z.x, rPeakOhm: z.rPeak });
const shunt = (lists: Lists, bus: string, z: Z) =>
  lists.shunts.push({ element: id, terminal: 0, node: node(bus), rOhm: z.r, xOhm: z.x, rPeakOhm: z.rPeak });
const z = (r: number, x: number, rPeak = r): Z => ({ r, x, rPeak });
const times = (a: Z, factor: number) => z(a.r * factor, a.x * factor, a.rPeak * factor);

/** Elements that the program knows go through its own sequence models. */
function own(element: Element, at: (terminal: number) => string): void {
  const factor = voltageFactor(10);
  const context: SequenceContext = {
    faultCase: 'max',
    nominalKv: (_, terminal) => data.buses[at(terminal)],
    cFactor: (kv, wanted: FaultCase = 'max') => factor(kv, wanted),
    trace: new SilentTrace(),
  };
  const model = sequenceModel(element, context)!;
  const put = (lists: Lists, primitives: readonly Primitive[]) => {
    for (const p of primitives) {
      const own = z(p.rOhm, p.xOhm, p.rPeakOhm);
      if (p.type === 'series') series(lists, at(0), at(1), own, p.ratio);
      else shunt(lists, at(p.terminal), own);
    }
  };
  put(positive, model.positive);
  put(zero, model.zero);
}

for (const f of data.feeders) {
  const level = {
    given: 'current' as const,
    ikKa: f.Ik_kA,
    skMva: null,
    rOverX: f.R_over_X,
    x0OverX1: f.X0_over_X1,
    r0OverX0: f.R0_over_X0,
  };
  own(newElement('networkFeeder', id, f.name, { max: level }), () => f.bus);
}
for (const l of data.lines)
  own(
    newElement('line', id, l.name, {
      lengthKm: l.length_km,
      circuits: l.parallel ?? 1,
      r1OhmPerKm: l.R1_ohm_per_km,
      x1OhmPerKm: l.X1_ohm_per_km,
      r0OhmPerKm: l.R0_ohm_per_km,
      x0OhmPerKm: l.X0_ohm_per_km,
    }),
    (terminal) => (terminal === 0 ? l.from : l.to),
  );
for (const t of data.trafos2)
  own(
    newElement('transformer', id, t.name, {
      ratedMva: t.SrT_MVA,
      hvKv: t.UrHV_kV,
      lvKv: t.UrLV_kV,
      ukPercent: t.ukr_pct,
      uRPercent: t.uRr_pct,
      vectorGroup: 'Yd11',
    }),
    (terminal) => (terminal === 0 ? t.hv : t.lv),
  );
for (const m of data.motors)
  own(
    newElement('asynchronousMotor', id, m.name, {
      ratedMw: m.PrM_MW,
      ratedKv: m.UrM_kV,
      powerFactor: m.cosphi,
      efficiencyPercent: m.eta * 100,
      startingRatio: m.ILR_over_Ir,
      polePairs: m.pole_pairs,
      rOverX: 0.1,
    }),
    () => m.bus,
  );
for (const g of data.generators)
  own(
    newElement('synchronousMachine', id, 'G', {
      ratedMva: g.SrG_MVA,
      ratedKv: g.UrG_kV,
      powerFactor: g.cosphi,
      xd2Percent: g.xd2_pct,
      rOhm: g.RG_ohm,
    }),
    () => g.bus,
  );
data.trafos3.forEach((t, k) => threeWinding(t, `star${k + 3}`));
data.units.forEach(unit);

/** IEC 60909-0, 6.3.2 and 6.3.3: one KT for each pair of windings, then the star, in ohms of the MV side. */
function threeWinding(t: Three, star: string): void {
  const pair = (uk: number, uR: number, s: number) => {
    const base = t.UrMV_kV ** 2 / s / 100;
    const x = Math.sqrt(uk ** 2 - uR ** 2);
    const k = (0.95 * cMax) / (1 + (0.6 * x) / 100);
    return { k, z: z(k * uR * base, k * x * base) };
  };
  const hm = pair(t.ukr_HVMV_pct, t.uRr_HVMV_pct, t.SrHVMV_MVA);
  const hl = pair(t.ukr_HVLV_pct, t.uRr_HVLV_pct, t.SrHVLV_MVA);
  const ml = pair(t.ukr_MVLV_pct, t.uRr_MVLV_pct, t.SrMVLV_MVA);
  const star3 = (p: Z, q: Z, o: Z) => z((p.r + q.r - o.r) / 2, (p.x + q.x - o.x) / 2);
  const [za, zb, zc] = [star3(hm.z, hl.z, ml.z), star3(hm.z, ml.z, hl.z), star3(hl.z, ml.z, hm.z)];
  series(positive, t.hv, star, za, t.UrHV_kV / t.UrMV_kV);
  series(positive, t.mv, star, zb);
  if (t.lv) series(positive, star, t.lv, times(zc, (t.UrLV_kV / t.UrMV_kV) ** 2), t.UrMV_kV / t.UrLV_kV);
  // One neutral earthed, delta tertiary: Z0 = K·(R + j·2.1·X) of the HV–MV pair, K that of the earthed winding and the tertiary.
  const base = t.UrMV_kV ** 2 / t.SrHVMV_MVA / 100;
  const x = Math.sqrt(t.ukr_HVMV_pct ** 2 - t.uRr_HVMV_pct ** 2);
  const onMv = z(t.uRr_HVMV_pct * base, t.X0_over_X1 * x * base);
  if (t.vector[0] === 'YN') shunt(zero, t.hv, times(onMv, hl.k * (t.UrHV_kV / t.UrMV_kV) ** 2));
  if (t.vector[1] === 'YN') shunt(zero, t.mv, times(onMv, ml.k));
}

/** IEC 60909-0, 6.7: generator and transformer corrected together, KS with and KSO without on-load tap changer. */
function unit({ bus, generator: g, transformer: t }: Unit): void {
  const ratio = t.UrHV_kV / t.UrLV_kV;
  const xd = g.xd2_pct / 100;
  const sin = Math.sqrt(1 - g.cosphi ** 2);
  const xT = Math.sqrt(t.ukr_pct ** 2 - t.uRr_pct ** 2) / 100;
  const un = data.buses[bus];
  const k = t.oltc
    ? (un ** 2 / g.UrG_kV ** 2) * (t.UrLV_kV ** 2 / t.UrHV_kV ** 2) * (cMax / (1 + Math.abs(xd - xT) * sin))
    : (un / (g.UrG_kV * (1 + (g.pG ?? 0)))) * (t.UrLV_kV / t.UrHV_kV) * (1 - t.pT) * (cMax / (1 + xd * sin));
  const xG = xd * (g.UrG_kV ** 2 / g.SrG_MVA) * ratio ** 2;
  const base = t.UrHV_kV ** 2 / t.SrT_MVA;
  const [rT, xTohm] = [(t.uRr_pct / 100) * base, xT * base];
  const fictitious = (g.SrG_MVA >= 100 ? 0.05 : 0.07) * xG;
  shunt(positive, bus, z(k * (g.RG_ohm * ratio ** 2 + rT), k * (xG + xTohm), k * (fictitious + rT)));
  if (t.vector[0] === 'YN') shunt(zero, bus, z(k * rT, k * t.X0_over_X1 * xTohm + 3 * (t.XN_hv_ohm ?? 0)));
}

const build = (lists: Lists, ...rest: Parameters<typeof atFrequencyRatio> | []) =>
  buildSequenceNetwork(
    names.length,
    lists.series,
    lists.shunts,
    [],
    ...(rest.length ? [atFrequencyRatio(rest[0])] : []),
  );
const networks = { positive: build(positive), zero: build(zero), low: build(positive, peakFrequencyRatio) };
const sourceV = (bus: string) => (cMax * data.buses[bus] * 1000) / Math.sqrt(3);
const z1At = (bus: string): Complex => drivingPoint(networks.positive, node(bus))!;

export const printed = expected;

/** Three-phase Ik″ in kA. */
export const ik3Ka = (bus: string): number =>
  magnitude(faultComponents('3ph', sourceV(bus), z1At(bus), z1At(bus), null).positive) / 1000;

/** Single-phase-earth Ik″ in kA. */
export function ik1Ka(bus: string): number {
  const components = faultComponents('1ph', sourceV(bus), z1At(bus), z1At(bus), drivingPoint(networks.zero, node(bus)));
  return (3 * magnitude(components.zero)) / 1000;
}

/** Three-phase peak in kA by the 20 Hz method. */
export function ip3Ka(bus: string): number {
  const zc = drivingPoint(networks.low, node(bus))!;
  return peakFactor((zc.re / zc.im) * peakFrequencyRatio) * Math.SQRT2 * ik3Ka(bus);
}
