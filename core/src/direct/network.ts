/**
 * The direct-current network in one state: nodes, resistances between them, and what feeds each node. Sources are piecewise straight: a voltage behind a resistance that takes nothing back,
 * limited where it has a limit. Volts, ohms, henries, amperes; currents between the poles, resistances there and back.
 */
import type { Battery, Rectifier } from '../model/direct';
import { direct } from '../model/directPart';
import { faultCaseOf } from '../model/condition';
import type { FaultCase } from '../sequence/stamp';
import type { ElementId } from '../model/fields';
import { ofKind, settingsOf, withElements, type Network } from '../model/network';
import { conditionOf, networkIn, type State } from '../model/state';
import { buildTopology, type Topology } from '../model/topology';
import { copper, loopOhm } from './circuit';

/** A closed switch: small against everything, and large enough for the arithmetic. */
export const switchOhm = 1e-7;
/** How stiffly a charger holds its voltage. */
const chargerOhm = 1e-3;
/** Aluminium, IEC 60228, at 20 °C. */
const aluminium = { rho20: 0.028264, alpha: 0.00403 } as const;
/** Of the resistance charged, where that at the end of discharge is not known; IEC 61660-1, 2.3 (as remembered). */
export const dischargedShare = 1.7;
/** Inductance of a battery, µH per cell, where nothing is given; IEC 61660-1, 2.3 (as remembered). */
export const cellUh = 0.2;
/** Share of the resistance of a charged battery that counts for the largest current; IEC 61660-1, 2.3 (as remembered). */
export const chargedShare = 0.9;
/** No-load voltage of a three-phase bridge over that of its valve side. */
export const bridgeVoltage = (3 * Math.SQRT2) / Math.PI;

/** A resistance between two nodes. */
export interface DirectBranch {
  readonly element: ElementId;
  readonly kind: 'cable' | 'switch';
  readonly a: number;
  readonly b: number;
  readonly ohm: number;
  readonly henry: number;
}

export interface DirectFeed {
  readonly element: ElementId;
  readonly kind: 'battery' | 'charger' | 'bridge' | 'motor';
  readonly node: number;
  readonly volts: number;
  readonly ohm: number;
  readonly limitA: number;
}

export interface DirectDraw {
  readonly element: ElementId;
  readonly node: number;
  readonly watts: number;
  readonly behaves: 'constantPower' | 'constantCurrent' | 'constantImpedance';
  readonly nominalV: number;
}

export interface DirectNetwork {
  readonly network: Network;
  readonly topology: Topology;
  readonly faultCase: FaultCase;
  readonly nodes: number;
  readonly branches: readonly DirectBranch[];
  /** In a fault: motors give current. */
  readonly feeds: readonly DirectFeed[];
  readonly draws: readonly DirectDraw[];
  nodeAt(element: ElementId, terminal: number): number | undefined;
  /** In volts; null where nothing tells. */
  nominalV(node: number): number | null;
}

/** Cells in series, strings in parallel. */
export const batteryFigures = (
  { cells, strings, cellV, cellMohm, dischargedV, dischargedMohm, connectorMohm, inductanceUh }: Battery,
  faultCase: FaultCase,
) => {
  const charged = faultCase === 'max';
  const cell = charged ? cellMohm : (dischargedMohm ?? dischargedShare * cellMohm);
  return {
    volts: cells * (charged ? cellV : dischargedV),
    /** Of the cells alone, and of what joins them. */
    cellsOhm: (cells * cell) / strings / 1000,
    connectorsOhm: (cells * connectorMohm) / strings / 1000,
    henry: (inductanceUh ?? (cellUh * cells) / strings) / 1e6,
  };
};

/** A.c. side of a bridge, referred to the valve side: source voltage and impedance (IEC 61660-1, 2.2). */
export function bridgeFigures(
  { acV, transformerKva, ukPercent, uRPercent, skMva, smoothingMohm, smoothingMh }: Rectifier,
  faultCase: FaultCase,
  tolerancePercent: number,
) {
  const factor = faultCase === 'max' ? 1 + tolerancePercent / 100 : 0.95;
  const base = acV ** 2 / (transformerKva * 1000);
  const rT = (base * uRPercent) / 100;
  const xT = base * Math.sqrt(Math.max((ukPercent / 100) ** 2 - (uRPercent / 100) ** 2, 0));
  const zQ = skMva === null ? 0 : (factor * acV ** 2) / (skMva * 1e6);
  // R/X of the a.c. network as IEC 60909-0, 6.2 has it where nothing is known.
  const xQ = 0.995 * zQ;
  return {
    sourceV: factor * acV,
    rnOhm: rT + 0.1 * xQ,
    xnOhm: xT + xQ,
    directOhm: smoothingMohm / 1000,
    directHenry: smoothingMh / 1000,
    factor,
  };
}

export const cableFigures = (
  {
    lengthM,
    sectionMm2,
    metal,
    parallel,
    inductanceUhPerM,
    serviceTemperatureC,
  }: {
    readonly lengthM: number;
    readonly sectionMm2: number;
    readonly metal: 'copper' | 'aluminium';
    readonly parallel: number;
    readonly inductanceUhPerM: number;
    readonly serviceTemperatureC: number;
  },
  faultCase: FaultCase,
) => ({
  ohm:
    loopOhm(
      lengthM,
      sectionMm2,
      faultCase === 'max' ? 20 : serviceTemperatureC,
      metal === 'copper' ? copper : aluminium,
    ) / parallel,
  henry: (lengthM * inductanceUhPerM) / parallel / 1e6,
});

/** What carries direct current in a state; the condition must exist. */
export function directNetwork(whole: Network, state: State): DirectNetwork {
  const network = direct(networkIn(whole, state));
  const faultCase = faultCaseOf(conditionOf(whole, state.condition)!);
  // Closed switches stay apart: the current through each is wanted.
  const closed = ofKind(network, 'switch').filter((each) => each.closed);
  const topology = buildTopology(
    withElements(
      network,
      closed.map((each) => ({ ...each, closed: false })),
    ),
  );
  const at = (element: ElementId, terminal = 0) => topology.nodeAt(element, terminal)!;
  const branches: DirectBranch[] = [
    ...ofKind(network, 'directCable').map((cable): DirectBranch => ({
      element: cable.id,
      kind: 'cable',
      a: at(cable.id, 0),
      b: at(cable.id, 1),
      ...cableFigures(cable, faultCase),
    })),
    ...closed.map(({ id }): DirectBranch => ({
      element: id,
      kind: 'switch',
      a: at(id, 0),
      b: at(id, 1),
      ohm: switchOhm,
      henry: 0,
    })),
  ];
  const { lowVoltageTolerancePercent } = settingsOf(whole);
  const feeds: DirectFeed[] = [
    ...ofKind(network, 'battery').map((battery): DirectFeed => {
      const { volts, cellsOhm, connectorsOhm } = batteryFigures(battery, faultCase);
      const ohm = (faultCase === 'max' ? chargedShare : 1) * cellsOhm + connectorsOhm;
      return { element: battery.id, kind: 'battery', node: at(battery.id), volts, ohm, limitA: Infinity };
    }),
    ...ofKind(network, 'rectifier').map((rectifier): DirectFeed => {
      const { id, type, floatV, ratedA, limitPercent } = rectifier;
      const node = at(id, 1);
      if (type === 'limited')
        return {
          element: id,
          kind: 'charger',
          node,
          volts: floatV,
          ohm: chargerOhm,
          limitA: (ratedA * limitPercent) / 100,
        };
      const { sourceV, rnOhm, xnOhm, directOhm } = bridgeFigures(rectifier, faultCase, lowVoltageTolerancePercent);
      // The voltage falls by the commutation (3/π)·X, and by two phases of R.
      const ohm = directOhm + (3 / Math.PI) * xnOhm + 2 * rnOhm;
      return { element: id, kind: 'bridge', node, volts: bridgeVoltage * sourceV, ohm, limitA: Infinity };
    }),
    ...ofKind(network, 'directMotor').map(({ id, ratedV, ratedA, armatureMohm }): DirectFeed => ({
      element: id,
      kind: 'motor',
      node: at(id),
      volts: ratedV - (ratedA * armatureMohm) / 1000,
      ohm: armatureMohm / 1000,
      limitA: Infinity,
    })),
  ];
  const nominalV = (node: number): number | null => {
    const kv = topology.nodes[node]?.nominalKv ?? null;
    return kv === null ? null : 1000 * kv;
  };
  const draws: DirectDraw[] = [
    ...ofKind(network, 'directLoad').map(({ id, powerW, behaves }): DirectDraw => ({
      element: id,
      node: at(id),
      watts: powerW,
      behaves,
      nominalV: nominalV(at(id)) ?? 110,
    })),
    ...ofKind(network, 'directMotor').map(({ id, ratedV, ratedA }): DirectDraw => ({
      element: id,
      node: at(id),
      watts: ratedV * ratedA,
      behaves: 'constantPower',
      nominalV: ratedV,
    })),
  ];
  return {
    network,
    topology,
    faultCase,
    nodes: topology.nodes.length,
    branches,
    feeds,
    draws,
    nodeAt: (e, t) => topology.nodeAt(e, t),
    nominalV,
  };
}
