/** The test network of IEC TR 60909-4, clause 6, as a model of the program, and its currents; for the tests and the validation report. */
import type { Network } from '../model/network';
import { elementId, neutralOf } from '../model/fields';
import { breakingCurrent } from '../faults/iec60909/breaking';
import { steadyCurrent } from '../faults/iec60909/steady';
import { faultAt, iec60909Study, type Fault, type Iec60909Study } from '../faults/iec60909/study';
import type { FaultKind } from '../faults/kinds';
import { Builder } from './network';
import { faultCase } from './reference';

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
    ib01sKa: Record<string, number>;
    ikSteadyKa: Record<string, number>;
    ip3By20HzKa_secondSolver: Record<string, number>;
  };
}
interface Three {
  name: string;
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
  name: string;
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

const reference = faultCase<Reference>('iec-tr-60909-4-clause-6');
const { expected } = reference;
const solid = neutralOf('solid');
const isolated = neutralOf('isolated');
const earthed = (winding: string) => (winding === 'YN' ? solid : isolated);

export function tr60909Network(data: Reference['network'] = reference.network): Network {
  const b = new Builder();
  const bus = (name: string) => `B${name}`;
  for (const [name, nominalKv] of Object.entries(data.buses)) b.add('bus', bus(name), { nominalKv });
  for (const f of data.feeders) {
    const level = {
      given: 'current' as const,
      ikKa: f.Ik_kA,
      skMva: null,
      rOverX: f.R_over_X,
      x0OverX1: f.X0_over_X1,
      r0OverX0: f.R0_over_X0,
    };
    b.add('networkFeeder', f.name, { max: level, min: level });
    b.join(f.name, bus(f.bus));
  }
  for (const l of data.lines) {
    b.add('line', l.name, {
      lengthKm: l.length_km,
      circuits: l.parallel ?? 1,
      r1OhmPerKm: l.R1_ohm_per_km,
      x1OhmPerKm: l.X1_ohm_per_km,
      r0OhmPerKm: l.R0_ohm_per_km,
      x0OhmPerKm: l.X0_ohm_per_km,
    });
    b.join(`${l.name}:0`, bus(l.from), `${l.name}:1`, bus(l.to));
  }
  for (const t of data.trafos2) {
    b.add('transformer', t.name, {
      ratedMva: t.SrT_MVA,
      hvKv: t.UrHV_kV,
      lvKv: t.UrLV_kV,
      ukPercent: t.ukr_pct,
      uRPercent: t.uRr_pct,
      vectorGroup: 'Yd11',
      lvNeutral: isolated,
    });
    b.join(`${t.name}:0`, bus(t.hv), `${t.name}:1`, bus(t.lv));
  }
  for (const m of data.motors) {
    b.add('asynchronousMotor', m.name, {
      ratedMw: m.PrM_MW,
      ratedKv: m.UrM_kV,
      powerFactor: m.cosphi,
      efficiencyPercent: m.eta * 100,
      startingRatio: m.ILR_over_Ir,
      polePairs: m.pole_pairs,
      rOverX: 0.1,
    });
    b.join(m.name, bus(m.bus));
  }
  for (const g of data.generators) {
    b.add('synchronousMachine', 'G3', {
      ratedMva: g.SrG_MVA,
      ratedKv: g.UrG_kV,
      powerFactor: g.cosphi,
      xd2Percent: g.xd2_pct,
      rOhm: g.RG_ohm,
    });
    b.join('G3', bus(g.bus));
  }
  for (const t of data.trafos3) {
    // The reference gives the zero sequence of the earthed winding against the delta in terms of the HV–MV pair.
    const hm = Math.sqrt(t.ukr_HVMV_pct ** 2 - t.uRr_HVMV_pct ** 2) / t.SrHVMV_MVA;
    const pair = (ratedMva: number, ukPercent: number, uRPercent: number) => ({
      ratedMva,
      ukPercent,
      uRPercent,
      x0OverX1: (t.X0_over_X1 * hm) / (Math.sqrt(ukPercent ** 2 - uRPercent ** 2) / ratedMva),
      r0OverR1: t.uRr_HVMV_pct / t.SrHVMV_MVA / (uRPercent / ratedMva),
    });
    b.add('threeWindingTransformer', t.name, {
      hvKv: t.UrHV_kV,
      mvKv: t.UrMV_kV,
      lvKv: t.UrLV_kV,
      vectorGroup: `${t.vector[0]}${t.vector[1].toLowerCase()}0d5`,
      hvMv: pair(t.SrHVMV_MVA, t.ukr_HVMV_pct, t.uRr_HVMV_pct),
      hvLv: pair(t.SrHVLV_MVA, t.ukr_HVLV_pct, t.uRr_HVLV_pct),
      mvLv: pair(t.SrMVLV_MVA, t.ukr_MVLV_pct, t.uRr_MVLV_pct),
      hvNeutral: earthed(t.vector[0]),
      mvNeutral: earthed(t.vector[1]),
    });
    b.join(`${t.name}:0`, bus(t.hv), `${t.name}:1`, bus(t.mv));
    if (t.lv) b.join(`${t.name}:2`, bus(t.lv));
  }
  for (const { name, bus: at, generator: g, transformer: t } of data.units) {
    b.add('powerStationUnit', name, {
      generator: {
        ratedMva: g.SrG_MVA,
        ratedKv: g.UrG_kV,
        powerFactor: g.cosphi,
        xd2Percent: g.xd2_pct,
        x2Percent: null,
        rOhm: g.RG_ohm,
        regulationPercent: (g.pG ?? 0) * 100,
        xd1Percent: null,
        td2S: null,
        td1S: null,
        taS: null,
        xdPercent: null,
        rotor: 'turbo',
        excitation: 'series1',
      },
      transformer: {
        ratedMva: t.SrT_MVA,
        hvKv: t.UrHV_kV,
        lvKv: t.UrLV_kV,
        ukPercent: t.ukr_pct,
        uRPercent: t.uRr_pct,
        vectorGroup: `${t.vector[0]}${t.vector[1].toLowerCase()}5`,
        onLoadTapChanger: t.oltc,
        pTPercent: t.pT * 100,
        x0OverX1: t.X0_over_X1,
        r0OverR1: 1,
      },
      hvNeutral: t.vector[0] === 'YN' ? neutralOf('reactor', 0, t.XN_hv_ohm ?? 0) : isolated,
    });
    b.join(`${name}:0`, bus(at));
  }
  return b.network();
}

let study: Iec60909Study | undefined;

export function trFault(bus: string, kind: FaultKind): Fault {
  study ??= iec60909Study(tr60909Network(), 'max');
  const result = faultAt(study, elementId(`B${bus}`), 0, kind);
  if (!result.ok) throw new Error(result.problems[0].message);
  return result.fault;
}

export const printed = expected;

/** Three-phase Ik″ in kA. */
export const ik3Ka = (bus: string): number => trFault(bus, '3ph').ikA / 1000;
/** Single-phase-earth Ik″ in kA. */
export const ik1Ka = (bus: string): number => trFault(bus, '1ph').ikA / 1000;
/** Three-phase peak in kA by the 20 Hz method. */
export const ip3Ka = (bus: string): number => trFault(bus, '3ph').ipA / 1000;
/** Breaking current in kA at 0.1 s. */
export const ibKa = (bus: string): number => breakingCurrent(trFault(bus, '3ph'), 0.1).ibA / 1000;
/** Steady current in kA. */
export const ikSteadyKa = (bus: string): number => steadyCurrent(trFault(bus, '3ph')).maxA / 1000;
