/** Cases of low-voltage circuits, and look-ups of what cables may carry. */
import {
  adiabaticK,
  ambientFactor,
  groupingFactor,
  resistanceAt20,
  soilFactor,
  tableCurrent,
  typicalReactance,
  type CableInsulation,
  type CableMetal,
  type LayingMethod,
} from '@mesura/core/circuits/ampacity';
import {
  circuitResult,
  nextRated,
  smallestSection,
  supplyImpedance,
  type Cable,
  type Circuit,
  type CircuitLoad,
  type EarthingSystem,
} from '@mesura/core/circuits/circuit';
import type { CircuitDevice } from '@mesura/core/circuits/device';
import { pairsOf, type Pair, type ReferenceCase } from './case';

type Values = Readonly<Record<string, number>>;
interface GivenCable extends Readonly<Record<string, unknown>> {
  readonly material: CableMetal;
  readonly insulation: CableInsulation;
  readonly method: LayingMethod;
  readonly loadedConductors: 2 | 3;
}

interface Given {
  readonly unV: number;
  readonly frequencyHz: number;
  readonly cMax: number;
  readonly cMin: number;
  readonly system: EarthingSystem;
  readonly phases: 1 | 3;
  readonly circuit: string;
  readonly sockets: boolean;
  readonly dropLimitPercent: number;
  readonly supply: Values & { readonly kind: unknown };
  readonly upstream: readonly GivenCable[];
  readonly cable: GivenCable;
  readonly load: Values & { readonly kind: unknown };
  readonly device: Readonly<Record<string, unknown>>;
  readonly raOhm?: number;
  readonly rbOhm?: number;
  readonly secondFault?: GivenCable;
}

function cableOf(given: GivenCable): Cable {
  const n = given as unknown as Values;
  return {
    metal: given.material,
    insulation: given.insulation,
    method: given.method,
    loadedConductors: given.loadedConductors,
    sectionMm2: n.sectionMm2,
    peSectionMm2: n.peSectionMm2,
    parallel: n.parallel,
    lengthM: n.lengthM,
    tableA: n.tableA,
    factor: n.ambientFactor * n.groupingFactor * n.soilFactor,
    rOhmPerKm: n.rOhmPerKm20,
    xOhmPerKm: n.xOhmPerKm,
    rPeOhmPerKm: n.rPeOhmPerKm20,
    xPeOhmPerKm: n.xPeOhmPerKm,
    hotC: n.minPhaseC,
    hotPeC: n.minPeC,
    k: n.k,
    kPe: n.kPe,
  };
}

function loadOf({ kind, ...n }: Given['load']): CircuitLoad {
  const { cosPhi } = n;
  if (kind === 'motor') return { kind, mechanicalW: 1000 * n.mechanicalKw, efficiency: n.efficiency, cosPhi };
  if (kind === 'kva') return { kind: 'apparent', va: 1000 * n.kva, cosPhi };
  if (kind === 'kw') return { kind: 'active', watt: 1000 * n.kw, cosPhi };
  return { kind: 'current', ampere: n.ampere ?? n.currentA, cosPhi };
}

function deviceOf(given: Given['device']): CircuitDevice {
  const n = given as unknown as Values;
  if (given.kind === 'gG') {
    const gates = given.gatesA as Values;
    return { kind: 'gG', ratedA: n.ratedA, max5sA: gates.max5s, max01sA: gates.max01s };
  }
  if (given.kind === 'mcb')
    return {
      kind: 'mcb',
      type: given.type as 'B' | 'C' | 'D',
      ratedA: n.ratedA,
      letThroughA2s: n.letThroughA2s ?? null,
    };
  return {
    kind: 'breaker',
    ratedA: n.ratedA,
    irA: n.irA,
    longS: n.longS,
    shortTime: n.isdA === undefined ? null : { isdA: n.isdA, tolerance: n.shortTolerance, clearS: n.shortClearS },
    instantaneous: n.iiA === undefined ? null : { iiA: n.iiA, tolerance: n.iiTolerance, clearS: n.iiClearS },
    letThroughA2s: n.letThroughA2s ?? null,
  };
}

function circuitOf(given: Given): Circuit {
  const { supply, device } = given;
  const n = device as unknown as Values;
  return {
    unV: given.unV,
    frequencyHz: given.frequencyHz,
    cMax: given.cMax,
    cMin: given.cMin,
    system: given.system,
    phases: given.phases,
    isFinal: given.circuit === 'final',
    hasSockets: given.sockets,
    dropLimitPercent: given.dropLimitPercent,
    supply:
      supply.kind === 'board'
        ? {
            kind: 'board',
            ik3MaxA: 1000 * supply.ik3MaxKa,
            ik3MinA: 1000 * supply.ik3MinKa,
            rOverXMax: supply.rOverXMax,
            rOverXMin: supply.rOverXMin,
            r0OverR1: supply.r0OverR1,
            x0OverX1: supply.x0OverX1,
          }
        : {
            kind: 'transformer',
            ratedVa: 1000 * supply.ratedKva,
            ukPercent: supply.ukPercent,
            uRPercent: supply.uRPercent,
            skMaxVa: 1e6 * supply.skMaxMva,
            skMinVa: 1e6 * supply.skMinMva,
            rOverXHv: supply.rOverXHv,
            r0OverRT: supply.r0OverRT,
            x0OverXT: supply.x0OverXT,
          },
    upstream: given.upstream.map((each) => ({
      ...cableOf(each),
      currentA: (each as unknown as Values).currentA,
      cosPhi: (each as unknown as Values).cosPhi,
    })),
    cable: cableOf(given.cable),
    load: loadOf(given.load),
    device: deviceOf(device),
    breakingA: 1000 * n.breakingKa,
    overloadRelayA: n.overloadRelayA ?? null,
    residual: n.residualA === undefined ? null : { ratedA: n.residualA, isSelective: device.residualType === 'S' },
    raOhm: given.raOhm ?? 0,
    rbOhm: given.rbOhm ?? 0,
    secondFault: given.secondFault ? cableOf(given.secondFault) : null,
  };
}

/** Null for a case of another form. */
export function circuitPairs({ inputs, expected }: ReferenceCase): Pair[] | null {
  const given = inputs as Partial<Given> | undefined;
  if (!given?.cable || !given.supply || !given.load || !given.device) return null;
  const circuit = circuitOf(given as Given);
  const result = circuitResult(circuit);
  const smallest = smallestSection(circuit);
  const isTt = circuit.system === 'TT';
  const parts = (which: 'max' | 'min') => {
    const { z1, z0 } = supplyImpedance(circuit, which);
    return { r1: z1.re, x1: z1.im, r0: z0.re, x0: z0.im };
  };
  return pairsOf(expected, {
    designA: result.designA,
    ampacityA: result.ampacityA,
    overloadReferenceA: result.overload.referenceA,
    i2A: result.overload.tripsA,
    overloadOk: result.overload.holds,
    overloadByRatedCurrentAlone: result.overload.byRatedCurrentAlone,
    dropUsualPercent: result.drop.usual,
    dropExactCurrentPercent: result.drop.exactCurrent,
    dropConstantPowerPercent: result.drop.constantPower,
    dropUpstreamPercent: result.drop.upstream,
    dropTotalUsualPercent: result.drop.total,
    dropOk: result.drop.holds,
    ik3MaxAtDeviceA: result.ik3MaxAtDeviceA,
    ik3MaxAtLoadA: circuit.phases === 3 ? result.maxAtLoadA : null,
    ik1MaxAtDeviceA: result.ik1MaxAtDeviceA,
    ik1MaxAtLoadA: circuit.phases === 1 ? result.maxAtLoadA : null,
    requiredTimeS: result.requiredS,
    breakingOk: result.breaks,
    ik1MinA: result.earthFaultA,
    earthFaultA: result.earthFaultA,
    loopImpedanceOhm: result.loopOhm,
    operatingCurrentA: result.operatingA,
    timeS: result.disconnectionS,
    overcurrentTimeS: result.overcurrentS,
    disconnectionOk: result.disconnects,
    touchVoltageV: circuit.raOhm * result.earthFaultA,
    touchVoltageAtResidualV: circuit.raOhm * (circuit.residual?.ratedA ?? 0),
    maximumEarthResistanceOhm: circuit.residual ? 50 / circuit.residual.ratedA : null,
    ikLNMinA: result.shortCircuitMinA,
    ik2MinA: result.shortCircuitMinA,
    shortCircuitTimeS: result.shortCircuitS,
    secondFaultA: result.secondFault?.withOtherA,
    conventionalSecondFaultA: result.secondFault?.conventionalA,
    energyNearA2s: result.heat.nearA2s,
    energyFarA2s: result.heat.farA2s,
    adiabaticLimitA2s: result.heat.limitA2s,
    adiabaticOk: result.heat.holds,
    energyPeNearA2s: result.heatPe?.nearA2s,
    adiabaticPeLimitA2s: result.heatPe?.limitA2s,
    adiabaticPeOk: result.heatPe?.holds,
    allOk: result.holds,
    nextRatedA: nextRated(result.designA),
    maximumLengthM: isTt ? null : result.maximumLengthM,
    smallestSectionMm2: smallest.sectionMm2,
    nextSmallerFails: smallest.below,
    supplyMinOhm: parts('min'),
    supplyMaxOhm: parts('max'),
  });
}

/** Look-ups in the tables: current, factors, resistance, reactance, k. Null for a case of another form. */
export function ampacityPairs({ inputs, expected }: ReferenceCase): Pair[] | null {
  const given = inputs as (Partial<GivenCable> & Values) | undefined;
  if (!given?.material || !given.insulation || given.sectionMm2 === undefined) return null;
  const { material, insulation, method, loadedConductors, sectionMm2 } = given;
  const table =
    method && loadedConductors ? tableCurrent(material, insulation, loadedConductors, method, sectionMm2) : null;
  const ambient = method && given.ambientC !== undefined ? ambientFactor(insulation, method, given.ambientC) : 1;
  const grouping =
    method && given.circuits !== undefined ? groupingFactor(method, given.circuits, 'bunched', 'touching') : 1;
  const soil = method && given.resistivityKmW !== undefined ? soilFactor(method, given.resistivityKmW) : 1;
  return pairsOf(expected, {
    currentA: table?.ampere,
    tableA: table?.ampere,
    ambientFactor: ambient,
    groupingFactor: grouping,
    soilFactor: soil,
    factor: ambient,
    ampacityA: table && grouping !== null ? table.ampere * ambient * grouping * soil : undefined,
    rOhmPerKm20: resistanceAt20(material, sectionMm2),
    xOhmPerKm: typicalReactance(sectionMm2),
    k: adiabaticK(material, insulation, sectionMm2),
  });
}
