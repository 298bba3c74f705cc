/** A state of the system laid over the model: switch positions, what is out of service, lines earthed for work. */
import type { Element, ElementKind } from './element';
import type { Line } from './branches';
import type { ElementId } from './fields';
import { networkOf, type Network } from './network';
import { buildTopology, terminalKey, type TerminalKey } from './topology';

export interface Condition {
  /** Switches taken as open or closed, whatever the drawing says. */
  readonly open?: readonly ElementId[];
  readonly closed?: readonly ElementId[];
  /** Elements out of service, switched off at all ends. */
  readonly out?: readonly ElementId[];
  /** Lines out of service and earthed at both ends: they take no load, but couple. */
  readonly earthed?: readonly ElementId[];
}

/** Kinds of element that are taken out of service as a whole; switches are opened instead. */
export const outageKinds = [
  'line',
  'transformer',
  'threeWindingTransformer',
  'seriesReactor',
  'networkFeeder',
  'synchronousMachine',
  'powerStationUnit',
  'asynchronousMotor',
  'staticDrive',
  'converterSource',
  'doublyFedMachine',
  'load',
  'shunt',
  'earthingTransformer',
] as const satisfies readonly ElementKind[];

/** The network in a condition. Unknown ids are left unheeded. */
export function inCondition(network: Network, condition: Condition): Network {
  const { open = [], closed = [], out = [], earthed = [] } = condition;
  const position = new Map([...open.map((id) => [id, false] as const), ...closed.map((id) => [id, true] as const)]);
  const loose = new Set([...out, ...earthed]);
  const elements: Element[] = [];
  for (const element of network.elements.values()) {
    if (out.includes(element.id)) continue;
    if (element.kind === 'lineCoupling' && (out.includes(element.first) || out.includes(element.second))) continue;
    if (element.kind === 'connection' && (loose.has(element.from.element) || loose.has(element.to.element))) continue;
    const wanted = position.get(element.id);
    if ((element.kind === 'switch' || element.kind === 'earthingSwitch') && wanted !== undefined)
      elements.push({ ...element, closed: wanted });
    else elements.push(element);
    if (element.kind === 'line' && earthed.includes(element.id)) elements.push(...earthAtBothEnds(element));
  }
  return networkOf(elements);
}

/** Ids made from another one; may be longer than typed ones. */
const madeFrom = (id: ElementId, what: string): ElementId => `${id}~${what}` as ElementId;

function earthAtBothEnds({ id, name }: Line): Element[] {
  return [0, 1].flatMap((terminal): Element[] => {
    const earth = madeFrom(id, `earth${terminal}`);
    const called = `earth of ${name}, end ${terminal + 1}`;
    return [
      { kind: 'earthingSwitch', id: earth, name: called, note: '', x: 0, y: 0, turn: 0, closed: true },
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
        if (element.type === 'breaker') return inCondition(network, { open: [element.id] });
        other ??= element.id;
      }
      const [id] = [next.slice(0, next.lastIndexOf(':')) as ElementId];
      seen.add(next);
      // Beyond a bus the switches are those of other feeders.
      if (network.elements.get(id)?.kind !== 'bus') queue.push(next);
    }
  if (other !== null) return inCondition(network, { open: [other] });
  return networkOf(
    [...network.elements.values()].filter(
      (element) =>
        element.kind !== 'connection' ||
        ![element.from, element.to].some((end) => end.element === line && end.terminal === terminal),
    ),
  );
}
