/** Direct current in every condition: voltages and loads in service, short-circuit currents at boards and loads, and what clears them. */
import type { Condition } from '../model/condition';
import { directPart } from '../model/directPart';
import type { ElementId } from '../model/fields';
import { ofKind, settingsOf, type Network } from '../model/network';
import { Trace, type Section } from '../working/trace';
import { bolted, directCourse, type DirectCourse } from './clearing';
import { directFault, operating, type DirectFault } from './currents';
import { directNetwork, type DirectNetwork } from './network';
import { solveDirect, type DirectSolution } from './solve';

/** Voltage in service at a place, and whether a load is still supplied. */
export interface DirectVoltage {
  readonly condition: ElementId;
  readonly volts: number;
  /** Null where nothing tells the nominal voltage. */
  readonly percent: number | null;
}

export interface DirectResult {
  readonly condition: ElementId;
  readonly fault: DirectFault;
  readonly course: DirectCourse;
}

export interface DirectRow {
  readonly element: ElementId;
  readonly kind: 'board' | 'load';
  readonly nominalV: number | null;
  /** Of a load: least voltage that it works at, % of nominal. */
  readonly lowestPercent: number | null;
  readonly voltages: readonly DirectVoltage[];
  readonly lowest: DirectVoltage | null;
  readonly results: readonly DirectResult[];
  readonly largest: DirectResult | null;
  readonly smallest: DirectResult | null;
}

/** A load that has less than it works at. */
export const isBelow = ({ lowest, lowestPercent }: Pick<DirectRow, 'lowest' | 'lowestPercent'>): boolean =>
  lowestPercent !== null && lowest !== null && lowest.percent !== null && lowest.percent < lowestPercent;

/** What each feed and each branch carries in service. */
export interface DirectFlow {
  readonly condition: ElementId;
  readonly rows: readonly {
    readonly element: ElementId;
    readonly kind: 'battery' | 'charger' | 'bridge' | 'motor' | 'cable' | 'switch';
    readonly amperes: number;
    readonly ratedA: number | null;
    readonly lossW: number | null;
  }[];
  /** Loads that fall out. */
  readonly collapsed: readonly ElementId[];
}

export interface DirectAnswer {
  readonly rows: readonly DirectRow[];
  readonly flows: readonly DirectFlow[];
}

/** A fault counts as not cleared after this. */
export const longestFaultS = 60;

/** Boards and loads of direct current. */
export const directPlaces = (network: Network): { readonly element: ElementId; readonly kind: DirectRow['kind'] }[] => {
  const { ids } = directPart(network);
  return [
    ...ofKind(network, 'bus').flatMap(({ id }) => (ids.has(id) ? [{ element: id, kind: 'board' as const }] : [])),
    ...ofKind(network, 'directLoad').map(({ id }) => ({ element: id, kind: 'load' as const })),
    ...ofKind(network, 'directMotor').map(({ id }) => ({ element: id, kind: 'load' as const })),
  ];
};

/** Yields the share that is done. */
export function* directStudy(whole: Network, conditions: readonly Condition[]): Generator<number, DirectAnswer> {
  const places = directPlaces(whole);
  if (places.length === 0) return { rows: [], flows: [] };
  const states = conditions.map(({ id: condition }) => {
    const network = directNetwork(whole, { condition });
    return { condition, network, service: solveDirect(operating(network)) };
  });
  const { motorsFeedS } = settingsOf(whole).arc;
  const rows: DirectRow[] = [];
  for (const [k, { element, kind }] of places.entries()) {
    yield k / places.length;
    const voltages = states.flatMap(({ condition, network, service }): DirectVoltage[] => {
      const node = network.nodeAt(element, 0);
      if (node === undefined) return [];
      const nominal = network.nominalV(node);
      const volts = service.volts[node];
      return [{ condition, volts, percent: nominal === null ? null : (100 * volts) / nominal }];
    });
    const results = states.flatMap(({ condition, network }): DirectResult[] => {
      const node = network.nodeAt(element, 0);
      const fault = node === undefined ? null : directFault(network, node);
      return fault && node !== undefined
        ? [{ condition, fault, course: directCourse(network, node, bolted(node), longestFaultS, motorsFeedS) }]
        : [];
    });
    const load = whole.elements.get(element);
    const by = (value: (result: DirectResult) => number) =>
      results.reduce<DirectResult | null>((p, q) => (p && value(p) >= value(q) ? p : q), null);
    rows.push({
      element,
      kind,
      nominalV: states[0]?.network.nominalV(states[0].network.nodeAt(element, 0)!) ?? null,
      lowestPercent: load?.kind === 'directLoad' ? load.lowestPercent : null,
      voltages,
      lowest: voltages.reduce<DirectVoltage | null>((p, q) => (p && p.volts <= q.volts ? p : q), null),
      results,
      largest: by(({ fault }) => fault.peakA),
      smallest: by(({ fault }) => -fault.steadyA),
    });
  }
  return { rows, flows: states.map(({ condition, network, service }) => flowOf(condition, network, service)) };
}

function flowOf(condition: ElementId, network: DirectNetwork, service: DirectSolution): DirectFlow {
  const { feeds } = operating(network);
  const rated = (id: ElementId): number | null => {
    const element = network.network.elements.get(id)!;
    return 'ratedA' in element ? element.ratedA : null;
  };
  return {
    condition,
    rows: [
      ...feeds.map(({ element, kind }, k) => ({
        element,
        kind,
        amperes: service.feedA[k],
        ratedA: rated(element),
        lossW: null,
      })),
      ...network.branches.map(({ element, kind, ohm }, k) => ({
        element,
        kind,
        amperes: Math.abs(service.branchA[k]),
        ratedA: rated(element),
        lossW: kind === 'cable' ? service.branchA[k] ** 2 * ohm : null,
      })),
    ],
    collapsed: service.collapsed.map(({ element }) => element),
  };
}

/** How the short-circuit current at a place came about; null where none flows. */
export function directWorking(whole: Network, element: ElementId, condition: ElementId): readonly Section[] | null {
  const network = directNetwork(whole, { condition });
  const node = network.nodeAt(element, 0);
  if (node === undefined) return null;
  const trace = new Trace();
  return directFault(network, node, trace) ? trace.sections : null;
}
