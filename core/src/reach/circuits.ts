/**
 * Lines as protection takes them: one line, or several that are joined at tees. A tee is a place where lines meet without a breaker or a current transformer of
 * theirs; elsewhere a line ends.
 */
import { inverse, add, magnitude, zero, type Complex } from '../linear/complex';
import type { Assembly } from '../assembly/assemble';
import { admittance, indicesOf } from '../assembly/sequenceNetwork';
import type { ElementId } from '../model/fields';
import { ofKind, type Network } from '../model/network';
import { stationsOf } from '../model/stations';
import type { LineEnd } from './seen';

export interface Circuit {
  /** Of its first line. */
  readonly id: ElementId;
  readonly lines: readonly ElementId[];
  /** Where it ends at stations, or hangs free. */
  readonly ends: readonly LineEnd[];
  /** Lines that meet at its tees, by their ends. */
  readonly tees: readonly (readonly LineEnd[])[];
}

/** A way through a circuit, from one end to another. */
export interface Path {
  readonly to: LineEnd;
  /** Lines in order, from the end that it begins at; `terminal`: the one that is entered by. */
  readonly legs: readonly LineEnd[];
  /** Positive sequence, in ohms. */
  readonly ohm: Complex;
}

const endKey = ({ line, terminal }: LineEnd): string => `${line}:${terminal}`;
export const otherEnd = ({ line, terminal }: LineEnd): LineEnd => ({ line, terminal: 1 - terminal });
export const isSameEnd = (p: LineEnd, q: LineEnd): boolean => p.line === q.line && p.terminal === q.terminal;

const known = new WeakMap<Network, readonly Circuit[]>();

export function circuitsOf(network: Network): readonly Circuit[] {
  let circuits = known.get(network);
  if (!circuits) known.set(network, (circuits = found(network)));
  return circuits;
}

const byNode = new WeakMap<Assembly, ReadonlyMap<number, readonly { circuit: Circuit; end: LineEnd }[]>>();

/** Circuits that end at a node, with that end; found once for an assembly. */
export function circuitsAt(assembly: Assembly, node: number): readonly { circuit: Circuit; end: LineEnd }[] {
  let all = byNode.get(assembly);
  if (!all) {
    const found = new Map<number, { circuit: Circuit; end: LineEnd }[]>();
    for (const circuit of circuitsOf(assembly.network))
      for (const end of circuit.ends) {
        const at = assembly.topology.nodeAt(end.line, end.terminal);
        if (at === undefined) continue;
        const list = found.get(at);
        if (list) list.push({ circuit, end });
        else found.set(at, [{ circuit, end }]);
      }
    byNode.set(assembly, (all = found));
  }
  return all.get(node) ?? [];
}

/** The circuit that an end belongs to. Throws where there is no such line. */
export function circuitAt(network: Network, { line }: Pick<LineEnd, 'line'>): Circuit {
  const circuit = circuitsOf(network).find(({ lines }) => lines.includes(line));
  if (!circuit) throw new Error(`there is no line "${line}"`);
  return circuit;
}

/** Ends of lines that nothing but wires and busbars keeps from other ends, by the place where they meet. */
function teesOf(network: Network): LineEnd[][] {
  const parent = new Map<string, string>();
  const root = (key: string): string => {
    let at = key;
    for (let up = parent.get(at); up !== undefined; up = parent.get(at)) at = up;
    return at;
  };
  /** What separates: both sides of it are places of their own. */
  const keyOf = (element: ElementId, terminal: number): string =>
    ['line', 'switch', 'currentTransformer'].includes(network.elements.get(element)?.kind ?? '')
      ? `${element}:${terminal}`
      : element;
  for (const { from, to } of ofKind(network, 'connection')) {
    const [a, b] = [root(keyOf(from.element, from.terminal)), root(keyOf(to.element, to.terminal))];
    if (a !== b) parent.set(a, b);
  }
  const stations = stationsOf(network);
  const stationAt = new Map<string, number>();
  stations.forEach(({ elements }, k) => {
    for (const id of elements) stationAt.set(id, k);
  });
  // Which station the end of a line hangs at, through whatever stands between.
  const wired = new Map<string, number>();
  for (const { from, to } of ofKind(network, 'connection'))
    for (const [p, q] of [
      [from, to],
      [to, from],
    ])
      if (network.elements.get(p.element)?.kind === 'line') {
        const station = stationAt.get(q.element);
        if (station !== undefined) wired.set(`${p.element}:${p.terminal}`, station);
      }
  const places = new Map<string, LineEnd[]>();
  const separated = new Set<number>();
  const meeting = new Map<string, LineEnd[]>();
  for (const { id: line } of ofKind(network, 'line'))
    for (const terminal of [0, 1]) {
      const place = root(`${line}:${terminal}`);
      meeting.set(place, [...(meeting.get(place) ?? []), { line, terminal }]);
    }
  const buses = new Set(ofKind(network, 'bus').map(({ id }) => root(id)));
  for (const [place, ends] of meeting) {
    const direct = ends.length > 1 || buses.has(place);
    if (direct) places.set(place, ends);
    else for (const end of ends) if (wired.has(endKey(end))) separated.add(wired.get(endKey(end))!);
  }
  return [...places.values()].filter(
    (ends) => ends.length > 1 && !ends.some((end) => separated.has(wired.get(endKey(end)) ?? -1)),
  );
}

function found(network: Network): readonly Circuit[] {
  const tees = teesOf(network);
  const teeAt = new Map(tees.flatMap((ends) => ends.map((end) => [endKey(end), ends] as const)));
  const taken = new Set<ElementId>();
  return ofKind(network, 'line').flatMap(({ id }): Circuit[] => {
    if (taken.has(id)) return [];
    const lines = new Set([id]);
    const met = new Set<readonly LineEnd[]>();
    for (const line of lines)
      for (const terminal of [0, 1]) {
        const tee = teeAt.get(`${line}:${terminal}`);
        if (!tee) continue;
        met.add(tee);
        for (const end of tee) lines.add(end.line);
      }
    for (const line of lines) taken.add(line);
    const ends = [...lines].flatMap((line) =>
      [0, 1].map((terminal) => ({ line, terminal })).filter((end) => !teeAt.has(endKey(end))),
    );
    return [{ id, lines: [...lines], ends, tees: [...met] }];
  });
}

/** Positive-sequence impedance of a line, in ohms; null where it has none. */
export function lineOhm({ positive }: Assembly, line: ElementId): Complex | null {
  const index = indicesOf(positive.series, line)[0];
  return index === undefined ? null : inverse(admittance(positive.weight(positive.series[index])));
}

/** The same in the zero sequence; null where its data are missing. */
export function lineZeroOhm({ zero: homopolar }: Assembly, line: ElementId): Complex | null {
  const index = indicesOf(homopolar.series, line)[0];
  return index === undefined ? null : inverse(admittance(homopolar.weight(homopolar.series[index])));
}

/** Ways from an end to all others of its circuit, without turning back. */
export function pathsFrom(assembly: Assembly, circuit: Circuit, from: LineEnd): readonly Path[] {
  const teeAt = new Map(circuit.tees.flatMap((ends) => ends.map((end) => [endKey(end), ends] as const)));
  const paths: Path[] = [];
  const walk = (at: LineEnd, legs: readonly LineEnd[], ohm: Complex): void => {
    const own = lineOhm(assembly, at.line);
    if (!own || legs.some(({ line }) => line === at.line)) return;
    const far = otherEnd(at);
    const through = [...legs, at];
    const sum = add(ohm, own);
    const tee = teeAt.get(endKey(far));
    if (!tee) paths.push({ to: far, legs: through, ohm: sum });
    else for (const next of tee) if (!isSameEnd(next, far)) walk(next, through, sum);
  };
  walk(from, [], zero);
  return paths;
}

export const byOhm = (p: Path, q: Path): number => magnitude(p.ohm) - magnitude(q.ohm);
