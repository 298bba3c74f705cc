/** Figures of a load flow as plain data: buses, branches with their losses, sources, loads, the balance. */
import { throughCurrents } from '../assembly/wiring';
import { add, angle, magnitude, multiply, polar, scale, subtract, zero, type Complex } from '../linear/complex';
import { kinds, nameOf, type ElementKind } from '../model/element';
import type { ElementId } from '../model/fields';
import { ofKind } from '../model/network';
import { terminalKey, type TerminalKey } from '../model/topology';
import { noCurrents, type SequenceCurrents } from '../sequence/components';
import type { LoadFlow } from './loadFlow';
import { loadRatingOf } from './rating';

export interface BusVoltage {
  readonly bus: ElementId;
  readonly name: string;
  readonly nominalKv: number;
  /** Phase to phase; nought without supply. */
  readonly kv: number;
  readonly percent: number;
  readonly angleDeg: number;
}

/** What flows into an element at one of its terminals. */
export interface EndFlow {
  readonly element: ElementId;
  readonly terminal: number;
  readonly name: string;
  readonly kind: ElementKind;
  /** Bus at this end; empty where there is none. */
  /** The bus there; where there is none, the voltage. */
  readonly at: string;
  readonly mw: number;
  readonly mvar: number;
  readonly ampere: number;
  /** Of its rated current; null without one. */
  readonly loadingPercent: number | null;
}

export interface BranchFlow {
  readonly element: ElementId;
  readonly name: string;
  readonly kind: ElementKind;
  readonly ends: readonly EndFlow[];
  readonly lossMw: number;
  readonly lossMvar: number;
  /** The highest of its ends. */
  readonly loadingPercent: number | null;
}

export interface SourceFlow {
  readonly element: ElementId;
  readonly name: string;
  readonly kind: ElementKind;
  readonly terminal: number;
  /** Given to the network. */
  readonly mw: number;
  readonly mvar: number;
  readonly kv: number;
  readonly holds: 'angleAndVoltage' | 'voltage' | 'power';
  readonly atLimit: 'min' | 'max' | null;
}

/** Current through a switch or a current transformer, from terminal 0 to terminal 1. */
export interface ThroughFlow {
  readonly element: ElementId;
  readonly ampere: number;
  readonly mw: number;
  readonly mvar: number;
  readonly loadingPercent: number | null;
}

export interface Balance {
  readonly sourceMw: number;
  readonly sourceMvar: number;
  readonly loadMw: number;
  readonly loadMvar: number;
  readonly lossMw: number;
  readonly lossMvar: number;
}

export interface FlowFigures {
  readonly converged: boolean;
  readonly buses: readonly BusVoltage[];
  readonly branches: readonly BranchFlow[];
  readonly sources: readonly SourceFlow[];
  readonly loads: readonly EndFlow[];
  readonly through: readonly ThroughFlow[];
  readonly balance: Balance;
  readonly taps: readonly { readonly element: ElementId; readonly name: string; readonly position: number }[];
}

/** What current passes through from one terminal to the others. */
export const branchKinds: ReadonlySet<ElementKind> = new Set<ElementKind>([
  'line',
  'transformer',
  'threeWindingTransformer',
  'seriesReactor',
]);
/** What feeds a network, and a fault for as long as a device that backs up takes. */
export const sourceKinds: ReadonlySet<ElementKind> = new Set<ElementKind>([
  'networkFeeder',
  'synchronousMachine',
  'powerStationUnit',
  'converterSource',
  'doublyFedMachine',
]);

/** Powers drawn are counted positive into branches and loads, powers given positive out of sources. */
export function flowFigures(flow: LoadFlow): FlowFigures {
  const { network } = flow.assembly;
  const ends = endFlows(flow);
  const byElement = new Map<ElementId, EndFlow[]>();
  for (const end of ends) {
    const list = byElement.get(end.element);
    if (list) list.push(end);
    else byElement.set(end.element, [end]);
  }
  const branches = [...byElement].flatMap(([element, list]): BranchFlow[] => {
    const { kind, name } = list[0];
    if (!branchKinds.has(kind)) return [];
    const loadings = list.flatMap(({ loadingPercent }) => (loadingPercent === null ? [] : [loadingPercent]));
    const through = list.reduce((most, { mw, mvar }) => Math.max(most, Math.hypot(mw, mvar)), 0);
    return [
      {
        element,
        name,
        kind,
        ends: list.sort((p, q) => p.terminal - q.terminal),
        lossMw: withoutTrace(sumOf(list, 'mw'), through),
        lossMvar: withoutTrace(sumOf(list, 'mvar'), through),
        loadingPercent: loadings.length > 0 ? Math.max(...loadings) : null,
      },
    ];
  });
  const sources = ends.flatMap((end) => (sourceKinds.has(end.kind) ? [sourceFlow(flow, end)] : []));
  const loads = ends.filter(({ kind }) => !branchKinds.has(kind) && !sourceKinds.has(kind));
  return {
    converged: flow.converged,
    buses: busVoltages(flow),
    branches,
    sources,
    loads,
    through: throughFlows(flow),
    balance: {
      sourceMw: sumOf(sources, 'mw'),
      sourceMvar: sumOf(sources, 'mvar'),
      loadMw: sumOf(loads, 'mw'),
      loadMvar: sumOf(loads, 'mvar'),
      lossMw: branches.reduce((sum, { lossMw }) => sum + lossMw, 0),
      lossMvar: branches.reduce((sum, { lossMvar }) => sum + lossMvar, 0),
    },
    taps: [...flow.taps].map(([element, position]) => ({
      element,
      name: nameOf(network.elements.get(element)!),
      position,
    })),
  };
}

/** What rounding leaves of nothing is nothing. */
const withoutTrace = (value: number, beside: number): number => (Math.abs(value) < 1e-12 * beside ? 0 : value);

const sumOf = <K extends string>(list: readonly Readonly<Record<K, number>>[], key: K): number =>
  list.reduce((sum, each) => sum + each[key], 0);

/** Highest voltage first, then by name. */
export function busVoltages(flow: LoadFlow): BusVoltage[] {
  const { compare } = new Intl.Collator('en', { numeric: true });
  return ofKind(flow.assembly.network, 'bus')
    .map((bus): BusVoltage => {
      const { kv, angleRad } = nodeVoltage(flow, flow.assembly.topology.nodeAt(bus.id, 0)!);
      return {
        bus: bus.id,
        name: bus.name,
        nominalKv: bus.nominalKv,
        kv,
        percent: (100 * kv) / bus.nominalKv,
        angleDeg: kv === 0 ? 0 : (angleRad * 180) / Math.PI,
      };
    })
    .sort((p, q) => q.nominalKv - p.nominalKv || compare(p.name, q.name));
}

/** Voltage at a node: phase-to-phase kV and angle in its own phase position. */
export function nodeVoltage({ assembly, voltages }: LoadFlow, node: number): { kv: number; angleRad: number } {
  const v = multiply({ re: voltages.re[node], im: voltages.im[node] }, polar(1, -assembly.lag[node]));
  return { kv: (magnitude(v) * Math.sqrt(3)) / 1000, angleRad: angle(v) };
}

/** S = 3·V·I* in MVA. */
const powerOf = (v: Complex, i: Complex): Complex => scale(multiply(v, { re: i.re, im: -i.im }), 3e-6);

function endFlows({ assembly, currents, voltages }: LoadFlow): EndFlow[] {
  const { network, topology } = assembly;
  return [...currents].map(([key, current]): EndFlow => {
    const at = key.lastIndexOf(':');
    const element = network.elements.get(key.slice(0, at) as ElementId)!;
    const terminal = Number(key.slice(at + 1));
    const node = topology.nodes[topology.nodeOf.get(key)!];
    const s = powerOf({ re: voltages.re[node.index], im: voltages.im[node.index] }, current);
    const rating = loadRatingOf(element, terminal);
    const ampere = magnitude(current);
    return {
      element: element.id,
      terminal,
      name: nameOf(element),
      kind: element.kind,
      at: node.buses[0]?.name ?? (node.nominalKv === null ? '' : `${node.nominalKv} kV`),
      mw: withoutTrace(s.re, magnitude(s)),
      mvar: withoutTrace(s.im, magnitude(s)),
      ampere,
      loadingPercent: rating && (100 * ampere) / rating.ratedA,
    };
  });
}

function sourceFlow(flow: LoadFlow, { element, name, kind, terminal, mw, mvar }: EndFlow): SourceFlow {
  const held = flow.holders.find((holder) => holder.element === element && holder.terminal === terminal);
  const node = flow.assembly.topology.nodeAt(element, terminal)!;
  return {
    element,
    name,
    kind,
    terminal,
    mw: 0 - mw,
    mvar: 0 - mvar,
    kv: nodeVoltage(flow, node).kv,
    holds: held?.isSlack ? 'angleAndVoltage' : held ? 'voltage' : 'power',
    atLimit: held?.atLimit ?? null,
  };
}

/** Through all closed switches and current transformers where Kirchhoff's law tells. */
function throughFlows({ assembly, currents, voltages }: LoadFlow): ThroughFlow[] {
  const { network, topology } = assembly;
  const found: ThroughFlow[] = [];
  for (const node of topology.nodes) {
    const inline = node.wires.filter(({ element }) => {
      const kind = network.elements.get(element)!.kind;
      return kind === 'switch' || kind === 'currentTransformer';
    });
    if (inline.length === 0) continue;
    const injected = new Map<TerminalKey, SequenceCurrents>();
    for (const key of node.terminals) {
      const current = currents.get(key);
      if (current) injected.set(key, { ...noCurrents, positive: scale(current, -1) });
    }
    const through = throughCurrents(node, injected);
    const v = { re: voltages.re[node.index], im: voltages.im[node.index] };
    for (const { element: id, from } of inline) {
      const current = through.get(id)?.positive;
      if (!current) continue;
      const element = network.elements.get(id)!;
      const onward = from === terminalKey(id, 0) ? current : scale(current, -1);
      const s = powerOf(v, onward);
      const rating = loadRatingOf(element, 0);
      const ampere = magnitude(onward);
      found.push({
        element: id,
        ampere,
        mw: s.re,
        mvar: s.im,
        loadingPercent: rating && (100 * ampere) / rating.ratedA,
      });
    }
  }
  return found;
}

/** What flows along a busbar at most: the sum of the currents that come in, whatever their order along it. */
export function busCurrent({ assembly, currents, voltages }: LoadFlow, bus: ElementId): number {
  const node = assembly.topology.nodes[assembly.topology.nodeAt(bus, 0)!];
  const v = { re: voltages.re[node.index], im: voltages.im[node.index] };
  let [into, out] = [zero, zero];
  for (const key of node.terminals) {
    const current = currents.get(key);
    if (
      !current ||
      kinds[assembly.network.elements.get(key.slice(0, key.lastIndexOf(':')) as ElementId)!.kind].terminals === 0
    )
      continue;
    if (powerOf(v, current).re < 0) into = subtract(into, current);
    else out = add(out, current);
  }
  return Math.max(magnitude(into), magnitude(out));
}
