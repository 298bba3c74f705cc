/** Earth-return systems of a network: an earth fault at a station or at a tower, the lines around with the currents that they bring, the stations at their ends. */
import { faultAtPlace, type Iec60909Study } from '../faults/iec60909/study';
import { solidFault } from '../faults/kinds';
import type { Place } from '../faults/solution/solve';
import { add, magnitude, scale, subtract, zero, type Complex } from '../linear/complex';
import type { Line, Tower } from '../model/branches';
import { usualPath, type ReturnPath, type StationEarthing } from '../model/earthing';
import type { ElementId } from '../model/fields';
import { find, nameIn, ofKind, settingsOf, type Network } from '../model/network';
import { stationOf, type Station } from '../model/stations';
import { seenAtEnds, type EndSeen } from '../reach/seen';
import type { Studies } from '../studies/studies';
import type { Trace } from '../working/trace';
import { earthingImpedance } from './electrodes';
import { laid, type LaidLine } from './path';
import type { EarthLine, EarthStation, EarthSystem } from './system';

/** Residual current below which a line brings nothing, in amperes. */
const leastA = 0.1;

/** A station without earthing that delivers more than this is told, in amperes. */
const toldA = 1;
/** Begins the key of a place where lines meet in no station. */
const joint = 'joint ';

/** Faults that current returns through earth from. */
export const earthFaultKinds = ['1ph', '2phE'] as const;
export type EarthFaultKind = (typeof earthFaultKinds)[number];

/** Where the fault is; a tower is counted from terminal 0 of its line, and looked at from the station there or at the other end. */
export type EarthPlace =
  | { readonly at: 'bus'; readonly bus: ElementId }
  | { readonly at: 'tower'; readonly line: ElementId; readonly tower: number; readonly hubTerminal: 0 | 1 };

/** A system with what is told of it: stations and lines by their keys. */
export interface EarthCase {
  readonly system: EarthSystem;
  readonly names: Readonly<Record<string, string>>;
  /** Of the network; null without one. */
  readonly place: Place | null;
  /** By line. */
  readonly laid: Readonly<Record<string, LaidLine>>;
  /** What was assumed or left out. */
  readonly remarks: readonly string[];
  /** Reactance over resistance of the fault, for the decrement factor; null where there is no resistance. */
  readonly xOverR: number | null;
  /** Surface that people stand on at the hub station, and the soil below. */
  readonly surface: { readonly ohmM: number; readonly thicknessM: number; readonly soilOhmM: number };
}

export type EarthCaseResult =
  | { readonly ok: true; readonly case: EarthCase }
  | {
      readonly ok: false;
      readonly problem: string;
      /** There is nothing to compute, rather than something wrong. */
      readonly isNothing?: true;
    };

/** Earthing of a station: of the first of its busbars that has one, with that busbar. */
export function earthingOf(
  network: Network,
  station: Station,
): { readonly bus: ElementId; readonly given: StationEarthing } | null {
  for (const id of [...station.elements].sort()) {
    const given = find(network, 'bus', id)?.stationEarthing;
    if (given) return { bus: id, given };
  }
  return null;
}

/** An end of a line: the station there, or the joint of several lines that is none. */
interface Node {
  readonly key: string;
  readonly name: string;
  readonly station: Station | null;
}

/** A solid earth fault in a condition; the condition must exist. Problems in words for people. */
export function earthCase(
  studies: Studies,
  condition: ElementId,
  place: EarthPlace,
  kind: EarthFaultKind = '1ph',
  trace?: Trace,
): EarthCaseResult {
  const { network } = studies;
  const { farther } = settingsOf(network).earthReturn;
  const nodes = nodesOf(network);
  const faulted = place.at === 'tower' ? (find(network, 'line', place.line) ?? null) : null;
  if (place.at === 'tower' && !faulted) return no('the line is not in the network');
  const hub =
    place.at === 'bus' ? stationNode(stationOf(network, place.bus)) : nodes.get(`${place.line}:${place.hubTerminal}`);
  if (!hub) return no(`${nameIn(network, place.at === 'bus' ? place.bus : place.line)} stands in no station`);
  const earthing = hub.station && earthingOf(network, hub.station);
  if (!earthing) return no(`the earthing of ${hub.name} is not given: type it on the stage "Earth return"`);

  const spans = around(network, nodes, hub.key, farther);
  const study = studies.iec60909({ condition });
  const carrier = faulted && carrierOf(network, faulted);
  const own = faulted && carrier && laidOf(network, carrier, [carrier], terminalAt(nodes, carrier, hub.key) === 1);
  const at = own && place.at === 'tower' ? towerFrom(own, place) : null;
  if (own && faulted && place.at === 'tower' && (at === null || at < 1 || at > own.distancesM.length - 2))
    return no(`${faulted.name} has no tower ${place.tower}`);
  const fault: Place =
    place.at === 'bus'
      ? { at: 'terminal', element: place.bus, terminal: 0 }
      : {
          at: 'line',
          element: place.line,
          fraction: fractionOf(own!, at!, place.hubTerminal),
        };
  const ends = spans.flatMap(({ line }) => [
    { line: line.id, terminal: 0 },
    { line: line.id, terminal: 1 },
  ]);
  const [seen] = seenAtEnds(study, fault, [solidFault(kind)], ends);
  if (!seen.ok) return no(seen.problems.map(({ message }) => message).join('; '));
  const into = new Map(ends.map(({ line, terminal }, k) => [`${line}:${terminal}`, seen.ends[k]]));

  const remarks = new Set<string>();
  const names: Record<string, string> = {};
  const laidLines: Record<string, LaidLine> = {};
  const stations = new Map<string, EarthStation>();
  const impedanceOf = (node: Node): Complex | null => {
    const found = node.station && earthingOf(network, node.station);
    return found ? earthingImpedance(found.given) : null;
  };
  const stationNamed = (node: Node): string => {
    names[node.key] = node.name;
    if (node.key !== hub.key && !stations.has(node.key)) {
      stations.set(node.key, { name: node.key, earthing: impedanceOf(node) });
    }
    return node.key;
  };
  names[hub.key] = hub.name;

  const groups = onTowers(network, spans, remarks);
  const bare: string[] = [];
  let faultCurrent: Complex | null = null;
  const lines = groups.flatMap(({ line, members, near, far, nearTerminal }): EarthLine[] => {
    const isFaulted = faulted !== null && members.some(({ id }) => id === faulted.id);
    // Currents of the phases towards the beginning: into each line at its far end, or out of it at the near one.
    const phases = members.flatMap((member) => {
      const terminal = terminalAt(nodes, member, near.key) ?? nearTerminal;
      const end =
        member.id === faulted?.id ? into.get(`${member.id}:${1 - terminal}`) : into.get(`${member.id}:${terminal}`);
      return phasesOf(end, member.id === faulted?.id ? 1 : -1);
    });
    const current = phases.reduce(add, zero);
    const hasPath = members.some(({ returnPath }) => returnPath);
    if (!isFaulted && magnitude(current) < leastA && !hasPath) return [];
    if (near.key === far.key) {
      remarks.add(`${line.name} begins and ends in ${near.name}: left out`);
      return [];
    }
    const laidLine = laidOf(network, line, members, nearTerminal === 1);
    for (const remark of laidLine.remarks) remarks.add(`${line.name}: ${remark}`);
    if (laidLine.heated.size === 0 && near.key === hub.key) bare.push(line.name);
    laidLines[line.id] = laidLine;
    names[line.id] = members.map(({ name }) => name).join(', ');
    const fromHub = isFaulted
      ? members.flatMap((member) => {
          const terminal = terminalAt(nodes, member, near.key) ?? nearTerminal;
          return phasesOf(into.get(`${member.id}:${terminal}`), 1);
        })
      : null;
    if (fromHub) faultCurrent = add(fromHub.reduce(add, zero), current);
    return [
      {
        name: line.id,
        ...(near.key !== hub.key && { from: stationNamed(near) }),
        source: stationNamed(far),
        current,
        phases,
        ...(fromHub && { phasesFromHub: fromHub }),
        stretches: laidLine.stretches,
        openAtHub: laidLine.openAtStart,
        openAtSource: laidLine.openAtEnd,
      },
    ];
  });
  if (bare.length > 0)
    remarks.add(
      `nothing returns along ${bare.slice(0, 6).join(', ')}${bare.length > 6 ? ` and ${bare.length - 6} more` : ''}: no shield wire or sheath is given`,
    );
  for (const { name, earthing: own } of stations.values()) {
    if (own || name.startsWith(joint)) continue;
    // What goes out of it in phase conductors and does not come in must come up there.
    const delivered = lines.reduce(
      (sum, { source, from, current }) =>
        source === name ? add(sum, current) : from === name ? subtract(sum, current) : sum,
      zero,
    );
    if (magnitude(delivered) > toldA)
      remarks.add(
        isAdrift({ lines, stations: [...stations.values()] }, name)
          ? `neither the earthing of ${names[name]} nor any wire there is given, though it delivers current: its potential is not known`
          : `the earthing of ${names[name]} is not given, though it delivers current: its towers alone earth it`,
      );
  }
  const ofHub = lines.filter(({ from }) => from === undefined);
  if (ofHub.length === 0) return { ...no(`no line ends in ${hub.name} that brings a current`), isNothing: true };
  const remote = ofHub.reduce((sum, { current }) => add(sum, current), zero);
  const faultedLine = faulted && groups.find(({ members }) => members.some(({ id }) => id === faulted.id))?.line;
  return {
    ok: true,
    case: {
      system: {
        frequencyHz: settingsOf(network).frequencyHz,
        hub: { name: hub.key, earthing: earthingImpedance(earthing.given, trace) },
        localCurrent: faultCurrent ? subtract(faultCurrent, remote) : zero,
        stations: [...stations.values()],
        lines,
        fault: faultedLine && at !== null ? { line: faultedLine.id, tower: at } : null,
      },
      names,
      place: fault,
      laid: laidLines,
      remarks: [...remarks],
      xOverR: xOverROf(study, fault, kind),
      surface: surfaceOf(earthing.given),
    },
  };
}

/** Nothing is known that joins a station to earth. */
export const isAdrift = ({ stations, lines }: Pick<EarthSystem, 'stations' | 'lines'>, name: string): boolean =>
  stations.find((station) => station.name === name)?.earthing === null &&
  lines.every(
    ({ source, from, stretches }) =>
      (source !== name && from !== name) ||
      stretches.every(({ conductors }) => conductors.every(({ role }) => role === 'phase')),
  );

const no = (problem: string) => ({ ok: false, problem }) as const;

export const surfaceOf = ({ surfaceOhmM, surfaceM, electrode }: StationEarthing): EarthCase['surface'] => ({
  ohmM: surfaceOhmM,
  thicknessM: surfaceM,
  soilOhmM: electrode?.soil.upperOhmM ?? 100,
});

const stationNode = (station: Station | undefined): Node | undefined =>
  station && { key: station.id, name: station.name, station };

const phasesOf = (end: EndSeen | null | undefined, sign: 1 | -1): Complex[] =>
  end ? end.currents.map((current) => scale(current, sign)) : [zero, zero, zero];

/** The line whose towers it stands on. */
const carrierOf = (network: Network, line: Line): Line => find(network, 'line', line.returnPath?.along ?? null) ?? line;

/** Towers counted from the hub station, of one that is counted from terminal 0. */
const towerFrom = (own: LaidLine, place: { readonly tower: number; readonly hubTerminal: 0 | 1 }): number =>
  place.hubTerminal === 0 ? place.tower : own.distancesM.length - 1 - place.tower;

function fractionOf({ distancesM }: LaidLine, at: number, hubTerminal: 0 | 1): number {
  const fraction = distancesM[at] / distancesM.at(-1)!;
  return hubTerminal === 0 ? fraction : 1 - fraction;
}

interface KnownPath {
  readonly key: string;
  /** Arrangements that it was laid out with. */
  readonly towers: readonly (Tower | undefined)[];
  readonly laid: LaidLine;
}
const knownPaths = new WeakMap<ReturnPath, KnownPath[]>();

/** Line laid out from one of its stations, with all circuits on its towers; the same for as long as nothing of it changes, so that its impedances are found once. */
export function laidOf(network: Network, line: Line, members: readonly Line[], reversed: boolean): LaidLine {
  const path = line.returnPath ?? usualPath;
  const circuits = members.map((member) => circuitOf(member));
  const towerNamed = (id: string | null) => find(network, 'tower', id as ElementId | null);
  const towers = path.stretches.map(({ tower }) => towerNamed(tower));
  const key = `${line.lengthKm} ${circuits.join()} ${reversed}`;
  const list = knownPaths.get(path) ?? [];
  const known = list.find((each) => each.key === key && each.towers.every((tower, k) => tower === towers[k]));
  if (known) return known.laid;
  const made = laid(path, line.lengthKm, circuits, towerNamed, reversed);
  // A path of many lines (the usual one) would gather what nobody asks for again.
  knownPaths.set(path, [...list.slice(-7), { key, towers, laid: made }]);
  return made;
}

const circuitOf = ({ returnPath, towerCircuit }: Line): number => returnPath?.circuit ?? towerCircuit;

interface Group {
  readonly line: Line;
  /** Lines on the same towers, that one first. */
  readonly members: readonly Line[];
  readonly near: Node;
  readonly far: Node;
  readonly nearTerminal: 0 | 1;
}

/** Lines that stand on the towers of others go with them where both end in the same stations. */
function onTowers(network: Network, spans: readonly Span[], remarks: Set<string>): Group[] {
  const byLine = new Map(spans.map((span) => [span.line.id, span]));
  const guests = new Map<ElementId, Line[]>();
  const apart: Span[] = [];
  for (const span of spans) {
    const { line, near, far } = span;
    const host = line.returnPath?.along ? byLine.get(line.returnPath.along) : undefined;
    const sameEnds =
      host &&
      ((host.near.key === near.key && host.far.key === far.key) ||
        (host.near.key === far.key && host.far.key === near.key));
    if (host && sameEnds && host.line.id !== line.id && !host.line.returnPath?.along) {
      if (circuitOf(host.line) === circuitOf(line))
        remarks.add(`${line.name} and ${host.line.name} are the same circuit of their towers: set one of them`);
      guests.set(host.line.id, [...(guests.get(host.line.id) ?? []), line]);
      continue;
    }
    if (line.returnPath?.along)
      remarks.add(
        `${line.name} stands on the towers of ${nameIn(network, line.returnPath.along)}, which ends elsewhere: it is taken by itself`,
      );
    apart.push(span);
  }
  return apart.map((span) => ({ ...span, members: [span.line, ...(guests.get(span.line.id) ?? [])] }));
}

interface Span {
  readonly line: Line;
  readonly near: Node;
  readonly far: Node;
  readonly nearTerminal: 0 | 1;
}

/** Lines of the hub, then those of the stations that they lead to, as many steps as asked for. Joints of lines are no step. */
function around(network: Network, nodes: ReadonlyMap<string, Node>, hub: string, farther: number): Span[] {
  const byNode = new Map<string, { line: Line; terminal: 0 | 1 }[]>();
  for (const line of ofKind(network, 'line'))
    for (const terminal of [0, 1] as const) {
      const node = nodes.get(`${line.id}:${terminal}`);
      if (node) byNode.set(node.key, [...(byNode.get(node.key) ?? []), { line, terminal }]);
    }
  const found = new Map<ElementId, Span>();
  const steps = new Map([[hub, 0]]);
  const queue = [hub];
  while (queue.length > 0) {
    const key = queue.shift()!;
    const step = steps.get(key)!;
    if (step > farther) continue;
    for (const { line, terminal } of byNode.get(key) ?? []) {
      const far = nodes.get(`${line.id}:${1 - terminal}`);
      if (!far || found.has(line.id)) continue;
      found.set(line.id, { line, near: nodes.get(`${line.id}:${terminal}`)!, far, nearTerminal: terminal });
      if (steps.has(far.key)) continue;
      steps.set(far.key, isPassing(network, far) ? step : step + 1);
      queue.push(far.key);
    }
  }
  return [...found.values()];
}

const passingKinds: ReadonlySet<string> = new Set([
  'bus',
  'switch',
  'currentTransformer',
  'voltageTransformer',
  'earthingSwitch',
  'relay',
]);

/** Lines meet there and nothing else: what comes in over one goes out over others, and no earthing of its own is given. */
export const isPassing = (network: Network, { station }: { readonly station: Station | null }): boolean =>
  !station ||
  (!earthingOf(network, station) &&
    [...station.elements].every((id) => passingKinds.has(network.elements.get(id)!.kind)));

const terminalAt = (nodes: ReadonlyMap<string, Node>, line: Line, key: string): 0 | 1 | null =>
  nodes.get(`${line.id}:0`)?.key === key ? 0 : nodes.get(`${line.id}:1`)?.key === key ? 1 : null;

const knownNodes = new WeakMap<Network, ReadonlyMap<string, Node>>();

/** Where each end of a line stands, by "line:terminal". An end in no station is a joint with those that it is connected to. */
export function nodesOf(network: Network): ReadonlyMap<string, Node> {
  const known = knownNodes.get(network);
  if (known) return known;
  const neighbours = new Map<string, string[]>();
  const keyOf = (element: ElementId, terminal: number) =>
    network.elements.get(element)?.kind === 'line' ? `${element}:${terminal}` : element;
  for (const { from, to } of ofKind(network, 'connection')) {
    const [a, b] = [keyOf(from.element, from.terminal), keyOf(to.element, to.terminal)];
    neighbours.set(a, [...(neighbours.get(a) ?? []), b]);
    neighbours.set(b, [...(neighbours.get(b) ?? []), a]);
  }
  const lines = ofKind(network, 'line');
  const endOf = new Map<string, ElementId>(
    lines.flatMap(({ id }) => [0, 1].map((terminal) => [`${id}:${terminal}`, id] as const)),
  );
  const found = new Map<string, Node>();
  for (const start of endOf.keys()) {
    if (found.has(start)) continue;
    const reached = new Set([start]);
    const queue = [start];
    while (queue.length > 0)
      for (const next of neighbours.get(queue.pop()!) ?? [])
        if (!reached.has(next)) {
          reached.add(next);
          queue.push(next);
        }
    const ends = [...reached].filter((key) => endOf.has(key)).sort();
    const inside = [...reached].find((key) => network.elements.get(key as ElementId)?.kind === 'bus');
    const station = inside === undefined ? undefined : stationOf(network, inside as ElementId);
    const others = [...reached].filter((key) => !endOf.has(key)) as ElementId[];
    const node = stationNode(station) ?? {
      key: `${joint}${ends[0]}`,
      name:
        ends.length > 1
          ? `joint of ${ends.map((key) => nameIn(network, endOf.get(key)!)).join(', ')}`
          : (others.map((id) => nameIn(network, id)).at(0) ?? `open end of ${nameIn(network, endOf.get(start)!)}`),
      station: null,
    };
    for (const key of ends) found.set(key, node);
  }
  knownNodes.set(network, found);
  return found;
}

/** Of the loop of the fault: Z1 + Z2 + Z0 of a single-phase one. */
function xOverROf(study: Iec60909Study, place: Place, kind: EarthFaultKind): number | null {
  const found = faultAtPlace(study, place, solidFault(kind));
  if (!found.ok) return null;
  const { rOverX } = found.fault;
  return rOverX !== null && rOverX > 0 ? 1 / rOverX : null;
}

/** Whether a path says anything that returns current. */
export const returnsAnything = (path: ReturnPath | undefined): boolean =>
  path !== undefined &&
  (path.along !== null || path.stretches.some(({ tower, sheath, wires }) => tower ?? sheath ?? wires.length > 0));
