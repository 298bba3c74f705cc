/**
 * A low-voltage circuit from its supply to its load: design current, what the cable may carry, voltage drop, largest and smallest fault currents, disconnection (IEC 60364-4-41), overload and heat
 * (IEC 60364-4-43), protective conductor (IEC 60364-5-54). Volts, amperes, ohms, seconds, metres; voltages between phases.
 */
import { add, magnitude, scale, zero, type Complex } from '../linear/complex';
import { earthingSystems, type EarthingSystem } from '../model/circuit';
import {
  adiabaticK,
  protectiveSection,
  resistanceAt20,
  sections,
  tableCurrent,
  typicalReactance,
  type CableInsulation,
  type CableMetal,
  type LayingMethod,
} from './ampacity';
import { cutOffS, letThroughA2s, operatingA, overloadOf, residualS, type CircuitDevice } from './device';

export { earthingSystems, type EarthingSystem };

/** Where circuits begin: of a given prospective current, or behind a transformer (Dyn) with its network. */
export type Supply =
  | {
      readonly kind: 'board';
      readonly ik3MaxA: number;
      readonly ik3MinA: number;
      readonly rOverXMax: number;
      readonly rOverXMin: number;
      readonly r0OverR1: number;
      readonly x0OverX1: number;
    }
  | {
      readonly kind: 'transformer';
      readonly ratedVa: number;
      readonly ukPercent: number;
      readonly uRPercent: number;
      readonly skMaxVa: number;
      readonly skMinVa: number;
      readonly rOverXHv: number;
      readonly r0OverRT: number;
      readonly x0OverXT: number;
    };

export interface Cable {
  readonly metal: CableMetal;
  readonly insulation: CableInsulation;
  readonly sectionMm2: number;
  readonly peSectionMm2: number;
  readonly parallel: number;
  readonly lengthM: number;
  readonly method: LayingMethod;
  readonly loadedConductors: 2 | 3;
  /** Current of the table, before all factors. */
  readonly tableA: number;
  /** Of surroundings, of other circuits and of the soil. */
  readonly factor: number;
  /** Ω/km at 20 °C. */
  readonly rOhmPerKm: number;
  readonly xOhmPerKm: number;
  readonly rPeOhmPerKm: number;
  readonly xPeOhmPerKm: number;
  /** Temperatures in °C at the smallest fault current. */
  readonly hotC: number;
  readonly hotPeC: number;
  readonly k: number;
  readonly kPe: number;
}

/** A cable on the way to the board, with what flows in it in service. */
export interface UpstreamCable extends Cable {
  readonly currentA: number;
  readonly cosPhi: number;
}

export type CircuitLoad =
  | { readonly kind: 'motor'; readonly mechanicalW: number; readonly efficiency: number; readonly cosPhi: number }
  | { readonly kind: 'active'; readonly watt: number; readonly cosPhi: number }
  | { readonly kind: 'apparent'; readonly va: number; readonly cosPhi: number }
  | { readonly kind: 'current'; readonly ampere: number; readonly cosPhi: number };

export interface Circuit {
  readonly unV: number;
  readonly frequencyHz: number;
  readonly cMax: number;
  readonly cMin: number;
  readonly system: EarthingSystem;
  readonly phases: 1 | 3;
  readonly isFinal: boolean;
  readonly hasSockets: boolean;
  readonly dropLimitPercent: number;
  readonly supply: Supply;
  readonly upstream: readonly UpstreamCable[];
  readonly cable: Cable;
  readonly load: CircuitLoad;
  readonly device: CircuitDevice;
  readonly breakingA: number;
  /** Overload relay beside the device, and residual-current device. */
  readonly overloadRelayA: number | null;
  readonly residual: { readonly ratedA: number; readonly isSelective: boolean } | null;
  /** TT: electrodes of the exposed parts and of the source. */
  readonly raOhm: number;
  readonly rbOhm: number;
  /** IT: the other circuit that has a fault too. */
  readonly secondFault: Cable | null;
}

/** Impedances of the supply, positive and zero sequence. */
export interface SupplyImpedance {
  readonly z1: Complex;
  readonly z0: Complex;
}

const touchLimitV = 50;

/** IEC 60909-0 for a transformer: its correction by the largest c also for the smallest current; the network behind it is not in the zero sequence of a Dyn unit. */
export function supplyImpedance({ supply, unV, cMax, cMin }: Circuit, which: 'max' | 'min'): SupplyImpedance {
  if (supply.kind === 'board') {
    const [c, ampere, ratio] =
      which === 'max' ? [cMax, supply.ik3MaxA, supply.rOverXMax] : [cMin, supply.ik3MinA, supply.rOverXMin];
    const size = (c * unV) / (Math.sqrt(3) * ampere);
    const x = size / Math.hypot(1, ratio);
    const z1 = { re: ratio * x, im: x };
    return { z1, z0: { re: supply.r0OverR1 * z1.re, im: supply.x0OverX1 * z1.im } };
  }
  const base = unV ** 2 / supply.ratedVa;
  const r = (supply.uRPercent / 100) * base;
  const x = Math.sqrt(((supply.ukPercent / 100) * base) ** 2 - r ** 2);
  const kT = (0.95 * cMax) / (1 + (0.6 * x) / base);
  const [c, power] = which === 'max' ? [1.1, supply.skMaxVa] : [1, supply.skMinVa];
  const feeder = (c * unV ** 2) / power;
  const xQ = feeder / Math.hypot(1, supply.rOverXHv);
  return {
    z1: { re: kT * r + supply.rOverXHv * xQ, im: kT * x + xQ },
    z0: { re: supply.r0OverRT * kT * r, im: supply.x0OverXT * kT * x },
  };
}

type Conductor = 'phase' | 'pe';
type At = 'max' | 'min' | 'service';

/** Rise of resistance per kelvin: of IEC 60909-0 for faults, of the metal in service. */
const perKelvin = { Cu: 0.00393, Al: 0.00403 } as const;
const serviceC = { PVC: 70, XLPE: 90 } as const;

/** Of one conductor over its length: cold for the largest fault current, hot for the smallest, as in service for voltages. */
export function conductorOhm(cable: Cable, conductor: Conductor, at: At): Complex {
  const { metal, insulation, lengthM, parallel, hotC, hotPeC } = cable;
  const r20 = conductor === 'phase' ? cable.rOhmPerKm : cable.rPeOhmPerKm;
  const x = conductor === 'phase' ? cable.xOhmPerKm : cable.xPeOhmPerKm;
  const heat =
    at === 'max'
      ? 1
      : at === 'min'
        ? 1 + 0.004 * ((conductor === 'phase' ? hotC : hotPeC) - 20)
        : 1 + perKelvin[metal] * (serviceC[insulation] - 20);
  const km = lengthM / 1000 / parallel;
  return { re: r20 * heat * km, im: x * km };
}

const sum = (list: readonly Complex[]): Complex => list.reduce(add, zero);
const loopOf = (cable: Cable, at: 'max' | 'min'): Complex =>
  add(conductorOhm(cable, 'phase', at), conductorOhm(cable, 'pe', at));
const neutralLoopOf = (cable: Cable, at: 'max' | 'min'): Complex => scale(conductorOhm(cable, 'phase', at), 2);
/** Of the supply, as one phase to earth meets it: (2·Z1 + Z0)/3. */
const singlePhase = ({ z1, z0 }: SupplyImpedance): Complex => scale(add(scale(z1, 2), z0), 1 / 3);

/** In service, A. */
export function designCurrent({ load, phases, unV }: Circuit): number {
  if (load.kind === 'current') return load.ampere;
  const watt =
    load.kind === 'motor'
      ? load.mechanicalW / load.efficiency
      : load.kind === 'active'
        ? load.watt
        : load.va * load.cosPhi;
  return watt / ((phases === 3 ? Math.sqrt(3) * unV : unV / Math.sqrt(3)) * load.cosPhi);
}

/** Voltage drop over a cable in percent of the voltage to neutral: by the usual formula; exactly for this current; with the power held, null where there is no such operation. */
export function voltageDrop(cable: Cable, phases: 1 | 3, unV: number, ampere: number, cosPhi: number) {
  const u0 = unV / Math.sqrt(3);
  const z = scale(conductorOhm(cable, 'phase', 'service'), phases === 3 ? 1 : 2);
  const sin = Math.sqrt(1 - cosPhi ** 2);
  const [along, across] = [z.re * cosPhi + z.im * sin, z.im * cosPhi - z.re * sin];
  const percent = (volts: number) => (100 * volts) / u0;
  const square = u0 ** 2 - (ampere * across) ** 2;
  // |Ur + k/Ur·(along + j·across)| = U0 with k = I·U0.
  const k = ampere * u0;
  const b = 2 * k * along - u0 ** 2;
  const discriminant = b ** 2 - 4 * k ** 2 * (along ** 2 + across ** 2);
  return {
    usual: percent(ampere * along),
    exactCurrent: square > 0 ? percent(u0 - (Math.sqrt(square) - ampere * along)) : null,
    constantPower: discriminant < 0 ? null : percent(u0 - Math.sqrt((-b + Math.sqrt(discriminant)) / 2)),
  };
}

/** Longest disconnection that is allowed, s. */
export const requiredTime = ({ system, unV, isFinal, hasSockets, device }: Circuit): number =>
  demandedS({ system, unV, isFinal, hasSockets, ratedA: device.ratedA });

/** IEC 60364-4-41:2017, 411.3.2, by the earthing, the voltage between phases, the kind of circuit and the rated current of its device. */
export function demandedS({
  system,
  unV,
  isFinal,
  hasSockets,
  ratedA,
}: Pick<Circuit, 'system' | 'unV' | 'isFinal' | 'hasSockets'> & { readonly ratedA: number }): number {
  const isTt = system === 'TT';
  if (!isFinal || ratedA > (hasSockets ? 63 : 32)) return isTt ? 1 : 5;
  // Nominal voltages: 400/230 has 230.9 V to earth.
  const u0 = unV / Math.sqrt(3) / 1.01;
  const k = u0 <= 120 ? 0 : u0 <= 230 ? 1 : u0 <= 400 ? 2 : 3;
  return (isTt ? [0.3, 0.2, 0.07, 0.04] : [0.8, 0.4, 0.2, 0.1])[k];
}

export interface CircuitResult {
  readonly designA: number;
  readonly ampacityA: number;
  readonly overload: {
    readonly referenceA: number;
    readonly tripsA: number;
    readonly holds: boolean;
    readonly byRatedCurrentAlone: boolean;
  };
  readonly drop: ReturnType<typeof voltageDrop> & {
    readonly upstream: number;
    readonly total: number;
    readonly holds: boolean;
  };
  readonly ik3MaxAtDeviceA: number;
  readonly ik1MaxAtDeviceA: number;
  /** Three-phase, or of a single-phase circuit phase to neutral. */
  readonly maxAtLoadA: number;
  /** Phase to earth, hot: of TT through the electrodes, of IT the second fault. */
  readonly earthFaultA: number;
  readonly secondFault: { readonly withOtherA: number; readonly conventionalA: number } | null;
  readonly loopOhm: number;
  /** Smallest short-circuit current without earth, of TT and IT what the overcurrent device is judged with. */
  readonly shortCircuitMinA: number;
  readonly requiredS: number;
  readonly operatingA: number | null;
  /** Of the device that disconnects an earth fault; null where it is not certain. */
  readonly disconnectionS: number | null;
  readonly overcurrentS: number | null;
  readonly shortCircuitS: number | null;
  readonly disconnects: boolean;
  readonly breaks: boolean;
  readonly heat: CircuitHeat;
  readonly heatPe: CircuitHeat | null;
  readonly holds: boolean;
  /** Longest cable that is still disconnected in time; null where the loop is not what decides, or no length does. */
  readonly maximumLengthM: number | null;
}

export interface CircuitHeat {
  /** At the largest current at the device, and at the smallest at the load. */
  readonly nearA2s: number | null;
  readonly farA2s: number | null;
  readonly limitA2s: number;
  /** Null where the device does not certainly cut off. */
  readonly holds: boolean | null;
}

export function circuitResult(circuit: Circuit): CircuitResult {
  const { unV, cMax, cMin, system, phases, cable, device, upstream, load, frequencyHz } = circuit;
  const u0 = unV / Math.sqrt(3);
  const designA = designCurrent(circuit);
  const ampacityA = cable.tableA * cable.factor * cable.parallel;
  const own = overloadOf(device);
  const relay = circuit.overloadRelayA;
  const overload = relay === null ? own : { referenceA: relay, tripsA: 1.2 * relay };
  const byRatedCurrentAlone = designA <= overload.referenceA && overload.referenceA <= ampacityA;
  const drops = voltageDrop(cable, phases, unV, designA, load.cosPhi);
  const before = upstream.reduce(
    (total, each) =>
      total + voltageDrop(each, each.loadedConductors === 3 ? 3 : 1, unV, each.currentA, each.cosPhi).usual,
    0,
  );

  const [max, min] = [supplyImpedance(circuit, 'max'), supplyImpedance(circuit, 'min')];
  const phaseWay = (at: At, list: readonly Cable[]) => sum(list.map((each) => conductorOhm(each, 'phase', at)));
  const board = add(max.z1, phaseWay('max', upstream));
  const ik3MaxAtDeviceA = (cMax * u0) / magnitude(board);
  const loopAtDevice = add(singlePhase(max), sum(upstream.map((each) => loopOf(each, 'max'))));
  const ik1MaxAtDeviceA = (cMax * u0) / magnitude(loopAtDevice);
  const all = [...upstream, cable];
  const maxAtLoadA =
    phases === 3
      ? (cMax * u0) / magnitude(add(max.z1, phaseWay('max', all)))
      : (cMax * u0) / magnitude(add(singlePhase(max), sum(all.map((each) => neutralLoopOf(each, 'max')))));

  const loop = add(singlePhase(min), sum(all.map((each) => loopOf(each, 'min'))));
  const neutralLoop = add(singlePhase(min), sum(all.map((each) => neutralLoopOf(each, 'min'))));
  const shortCircuitMinA =
    phases === 1
      ? (cMin * u0) / magnitude(neutralLoop)
      : ((Math.sqrt(3) / 2) * cMin * u0) / magnitude(add(min.z1, phaseWay('min', all)));
  const itLoop = add(min.z1, add(phaseWay('min', upstream), loopOf(cable, 'min')));
  const secondFault =
    system === 'IT'
      ? {
          conventionalA: (cMin * unV) / (2 * magnitude(itLoop)),
          withOtherA: circuit.secondFault
            ? (cMin * unV) /
              magnitude(
                add(
                  scale(add(min.z1, phaseWay('min', upstream)), 2),
                  add(loopOf(cable, 'min'), loopOf(circuit.secondFault, 'min')),
                ),
              )
            : Infinity,
        }
      : null;
  const earthFaultA = secondFault
    ? Math.min(secondFault.conventionalA, secondFault.withOtherA)
    : (cMin * u0) / magnitude(system === 'TT' ? add(loop, { re: circuit.raOhm + circuit.rbOhm, im: 0 }) : loop);
  const loopOhm = magnitude(system === 'IT' ? itLoop : loop);

  const requiredS = requiredTime(circuit);
  const overcurrentS = cutOffS(device, earthFaultA);
  const { residual } = circuit;
  const byResidual = residual ? residualS(residual.ratedA, residual.isSelective, earthFaultA) : null;
  const disconnectionS = byResidual === null ? overcurrentS : Math.min(byResidual, overcurrentS ?? Infinity);
  const isTouchable = system === 'TT' && residual !== null && circuit.raOhm * residual.ratedA > touchLimitV;
  const disconnects = disconnectionS !== null && disconnectionS <= requiredS && !isTouchable;

  // What the overcurrent device has to end at the far end.
  const farA = system === 'TT' ? shortCircuitMinA : earthFaultA;
  const nearA = phases === 3 ? ik3MaxAtDeviceA : ik1MaxAtDeviceA;
  const offset = { rOverX: board.re / board.im, frequencyHz };
  const heatOf = (near: number, limitA2s: number): CircuitHeat => {
    const [nearA2s, farA2s] = [near, farA].map((ampere) => letThroughA2s(device, ampere, offset));
    return {
      nearA2s,
      farA2s,
      limitA2s,
      holds: nearA2s === null || farA2s === null ? null : Math.max(nearA2s, farA2s) <= limitA2s,
    };
  };
  const heat = heatOf(nearA, (cable.k * cable.sectionMm2 * cable.parallel) ** 2);
  const isTn = system === 'TN-S' || system === 'TN-C-S';
  const heatPe = isTn ? heatOf(ik1MaxAtDeviceA, (cable.kPe * cable.peSectionMm2 * cable.parallel) ** 2) : null;

  const drop = {
    ...drops,
    upstream: before,
    total: drops.usual + before,
    holds: drops.usual + before <= circuit.dropLimitPercent,
  };
  const overloadHolds = byRatedCurrentAlone && overload.tripsA <= 1.45 * ampacityA;
  const breaks = circuit.breakingA >= ik3MaxAtDeviceA;
  const operating = operatingA(device, requiredS);
  return {
    designA,
    ampacityA,
    overload: { ...overload, holds: overloadHolds, byRatedCurrentAlone },
    drop,
    ik3MaxAtDeviceA,
    ik1MaxAtDeviceA,
    maxAtLoadA,
    earthFaultA,
    secondFault,
    loopOhm,
    shortCircuitMinA,
    requiredS,
    operatingA: operating,
    disconnectionS,
    overcurrentS,
    shortCircuitS: cutOffS(device, shortCircuitMinA),
    disconnects,
    breaks,
    heat,
    heatPe,
    holds:
      overloadHolds &&
      drop.holds &&
      disconnects &&
      breaks &&
      heat.holds === true &&
      heatPe?.holds !== false &&
      heatPe?.holds !== null,
    maximumLengthM:
      isTn && operating !== null
        ? lengthFor(
            (cMin * u0) / operating,
            add(singlePhase(min), sum(upstream.map((each) => loopOf(each, 'min')))),
            scale(loopOf(cable, 'min'), 1 / cable.lengthM),
          )
        : null,
  };
}

/** Metres at which |fixed + l·perMetre| is so many ohms; null where it is more without any. */
function lengthFor(ohms: number, fixed: Complex, perMetre: Complex): number | null {
  const a = perMetre.re ** 2 + perMetre.im ** 2;
  const b = 2 * (fixed.re * perMetre.re + fixed.im * perMetre.im);
  const c = fixed.re ** 2 + fixed.im ** 2 - ohms ** 2;
  if (c > 0) return null;
  return (-b + Math.sqrt(b ** 2 - 4 * a * c)) / (2 * a);
}

/** Criteria of a circuit, in the order in which they are told. */
export const criteria = ['overload', 'drop', 'disconnection', 'adiabatic', 'adiabaticPe'] as const;
export type Criterion = (typeof criteria)[number];

/** Criteria that a circuit does not meet. */
export const failing = ({ overload, drop, disconnects, heat, heatPe }: CircuitResult): Criterion[] => {
  const bad: Readonly<Record<Criterion, boolean>> = {
    overload: !overload.holds,
    drop: !drop.holds,
    disconnection: !disconnects,
    adiabatic: heat.holds === false,
    adiabaticPe: heatPe?.holds === false,
  };
  return criteria.filter((each) => bad[each]);
};

/** The same circuit with another section and what goes with it; null where that is not made or not in the tables. */
export function withSection(circuit: Circuit, sectionMm2: number): Circuit | null {
  const { metal, insulation, loadedConductors, method } = circuit.cable;
  const table = tableCurrent(metal, insulation, loadedConductors, method, sectionMm2);
  const peSectionMm2 = protectiveSection(sectionMm2);
  const [r, rPe] = [resistanceAt20(metal, sectionMm2), resistanceAt20(metal, peSectionMm2)];
  if (!table || r === null || rPe === null) return null;
  const x = typicalReactance(sectionMm2);
  return {
    ...circuit,
    cable: {
      ...circuit.cable,
      sectionMm2,
      peSectionMm2,
      tableA: table.ampere,
      rOhmPerKm: r,
      rPeOhmPerKm: rPe,
      xOhmPerKm: x,
      xPeOhmPerKm: x,
      k: adiabaticK(metal, insulation, sectionMm2),
      kPe: adiabaticK(metal, insulation, peSectionMm2),
    },
  };
}

/** Smallest section that meets everything with this device, and what the one below it misses. */
export function smallestSection(circuit: Circuit): {
  readonly sectionMm2: number | null;
  readonly below: readonly Criterion[] | null;
} {
  let below: readonly Criterion[] | null = null;
  for (const sectionMm2 of sections) {
    const next = withSection(circuit, sectionMm2);
    if (!next) continue;
    const missed = failing(circuitResult(next));
    if (missed.length === 0) return { sectionMm2, below };
    below = missed;
  }
  return { sectionMm2: null, below };
}

/** Rated currents of fuses and breakers, A. */
const ratedCurrents = [
  6, 10, 13, 16, 20, 25, 32, 40, 50, 63, 80, 100, 125, 160, 200, 250, 315, 400, 500, 630, 800, 1000, 1250, 1600,
];
export const nextRated = (ampere: number): number | null => ratedCurrents.find((each) => each >= ampere) ?? null;
