/** The system in one state, and the network in it. */
import type { Line } from './branches';
import { alterationFields, builtInConditions, type Alterations, type Condition } from './condition';
import { newElement } from './defaults';
import type { Element } from './element';
import type { ElementId } from './fields';
import { find, networkOf, ofKind, type Network } from './network';
import { buildTopology, terminalKey, type TerminalKey } from './topology';

export const isBuiltIn = (id: ElementId): boolean => builtInConditions.some((condition) => condition.id === id);

/** The two that always exist, then those of the project. */
export const conditionsOf = (network: Network): readonly Condition[] => [
  ...builtInConditions,
  ...ofKind(network, 'condition'),
];

/** A condition by its identifier; undefined when there is none. */
export const conditionOf = (network: Network, id: ElementId): Condition | undefined =>
  builtInConditions.find((condition) => condition.id === id) ?? find(network, 'condition', id);

/**
 * The system in one state: a condition, and what a study changes on top of it. A fault in a state is a place and a kind besides (`faults/query`).
 */
export interface State {
  readonly condition: ElementId;
  /** Changes on top of the condition. */
  readonly alterations?: Alterations;
  /** One more element out of service, by an update of the factored networks. */
  readonly outage?: ElementId | null;
  /** An end of a line whose breaker is open. */
  readonly openEnd?: { readonly element: ElementId; readonly terminal: number } | null;
}

export const inState = (condition: Condition): State => ({ condition: condition.id });

const isNothing = (changes: Alterations): boolean => alterationFields.every((field) => !changes[field]?.length);

/** Two sets of changes, the second on top of the first. */
export function together(first: Alterations, second: Alterations): Alterations {
  const without = (list: readonly ElementId[] = [], gone: readonly ElementId[] = []) =>
    list.filter((id) => !gone.includes(id));
  const joined = (field: 'out' | 'earthed') => [...new Set([...(first[field] ?? []), ...(second[field] ?? [])])];
  const replaced = <T extends { element: ElementId }>(list: readonly T[] = [], by: readonly T[] = []) => [
    ...list.filter(({ element }) => !by.some((each) => each.element === element)),
    ...by,
  ];
  return {
    open: [...without(first.open, second.closed), ...without(second.open, first.open)],
    closed: [...without(first.closed, second.open), ...without(second.closed, first.closed)],
    out: joined('out'),
    earthed: joined('earthed'),
    stopped: [...without(first.stopped, second.running), ...without(second.stopped, first.stopped)],
    running: [...without(first.running, second.stopped), ...without(second.running, first.running)],
    taps: replaced(first.taps, second.taps),
    voltages: replaced(first.voltages, second.voltages),
  };
}

/** The network with these changes; the network itself when there are none. Unknown ids are left unheeded. */
export function altered(network: Network, changes: Alterations): Network {
  if (isNothing(changes)) return network;
  const { open = [], closed = [], earthed = [], stopped = [], running = [], taps = [], voltages = [] } = changes;
  const out = new Set([...(changes.out ?? []), ...stopped]);
  const position = new Map([...open.map((id) => [id, false] as const), ...closed.map((id) => [id, true] as const)]);
  const loose = new Set([...out, ...earthed]);
  const dead = new Set(earthed);
  const tapAt = new Map(taps.map((tap) => [tap.element, tap.position]));
  const voltageAt = new Map(voltages.map((each) => [each.element, each.percent]));
  const elements: Element[] = [];
  for (const element of network.elements.values()) {
    if (out.has(element.id)) continue;
    if (element.kind === 'lineCoupling' && (out.has(element.first) || out.has(element.second))) continue;
    if (element.kind === 'connection' && (loose.has(element.from.element) || loose.has(element.to.element))) continue;
    elements.push(changedElement(element));
    if (element.kind === 'line' && dead.has(element.id)) elements.push(...earthAtBothEnds(element));
  }
  return networkOf(elements);

  function changedElement(element: Element): Element {
    switch (element.kind) {
      case 'switch':
      case 'earthingSwitch': {
        const wanted = position.get(element.id);
        return wanted === undefined || wanted === element.closed ? element : { ...element, closed: wanted };
      }
      case 'transformer':
      case 'threeWindingTransformer': {
        const tap = tapAt.get(element.id);
        if (tap === undefined || element.tap.side === 'none') return element;
        const within = Math.min(element.tap.steps, Math.max(-element.tap.steps, tap));
        return { ...element, tap: { ...element.tap, position: within } };
      }
      case 'networkFeeder': {
        const percent = voltageAt.get(element.id);
        return percent === undefined ? element : { ...element, voltagePercent: percent };
      }
      case 'synchronousMachine':
      case 'powerStationUnit':
        return running.includes(element.id) ? { ...element, runsAtMinimum: true } : element;
      default:
        return element;
    }
  }
}

/** The network in a state; that as drawn, itself, where nothing differs. The condition must exist. */
export function networkIn(network: Network, { condition, alterations: more, outage, openEnd }: State): Network {
  const own: Alterations = conditionOf(network, condition)!;
  const changes = more ? together(own, more) : own;
  const changed = altered(network, outage ? { ...changes, out: [...(changes.out ?? []), outage] } : changes);
  return openEnd ? withEndOpen(changed, openEnd.element, openEnd.terminal) : changed;
}

/** Ids made from another one; may be longer than typed ones. */
const madeFrom = (id: ElementId, what: string): ElementId => `${id}~${what}` as ElementId;

function earthAtBothEnds({ id, name }: Line): Element[] {
  return [0, 1].flatMap((terminal): Element[] => {
    const earth = madeFrom(id, `earth${terminal}`);
    const called = `earth of ${name}, end ${terminal + 1}`;
    return [
      newElement('earthingSwitch', earth, called, { closed: true }),
      {
        kind: 'connection',
        id: madeFrom(id, `wire${terminal}`),
        from: { element: id, terminal },
        to: { element: earth, terminal: 0 },
      },
    ];
  });
}

/**
 * The network with one end of a line switched off: the nearest breaker towards the node is opened, another switch where there is none, and the
 * connection taken away where there is no switch at all.
 */
export function withEndOpen(network: Network, line: ElementId, terminal: number): Network {
  const topology = buildTopology(network);
  const start = terminalKey(line, terminal);
  const node = topology.nodes[topology.nodeOf.get(start)!];
  const seen = new Set<TerminalKey>([start]);
  const queue = [start];
  let other: ElementId | null = null;
  for (const key of queue)
    for (const wire of node.wires) {
      const next = wire.from === key ? wire.to : wire.to === key ? wire.from : null;
      if (next === null || seen.has(next)) continue;
      const element = network.elements.get(wire.element)!;
      if (element.kind === 'switch') {
        if (element.type === 'breaker') return altered(network, { open: [element.id] });
        other ??= element.id;
      }
      const [id] = [next.slice(0, next.lastIndexOf(':')) as ElementId];
      seen.add(next);
      // Beyond a bus the switches are those of other feeders.
      if (network.elements.get(id)?.kind !== 'bus') queue.push(next);
    }
  if (other !== null) return altered(network, { open: [other] });
  return networkOf(
    [...network.elements.values()].filter(
      (element) =>
        element.kind !== 'connection' ||
        ![element.from, element.to].some((end) => end.element === line && end.terminal === terminal),
    ),
  );
}
