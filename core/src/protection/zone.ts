/** What a device protects: from its own place, on its protected side, to the next nodes beyond the branches there. */
import type { Iec60909Study } from '../faults/iec60909/study';
import { terminalPlace } from '../faults/iec60909/study';
import type { Place } from '../faults/solution/solve';
import type { ElementKind } from '../model/element';
import type { ElementId } from '../model/fields';
import { terminalKey } from '../model/topology';
import { neighboursIn, splitKey } from '../studies/cut';
import { mainInput, type Device } from './device';

/** Just beyond the device's own place, on the protected side; null when it measures nowhere. */
export function closeInPlace(device: Device): Place | null {
  const input = mainInput(device);
  return input ? terminalPlace(input.through, input.towards) : null;
}

export interface FarEnd {
  readonly element: ElementId;
  readonly terminal: number;
}

const endsFeeder: ReadonlySet<ElementKind> = new Set([
  'load',
  'asynchronousMotor',
  'staticDrive',
  'synchronousMachine',
  'powerStationUnit',
  'shunt',
]);

/** Far ends of what a device protects: the next nodes beyond the branches on its protected side, or its own busbar. */
export function farEnds({ assembly }: Iec60909Study, device: Device): FarEnd[] {
  const input = mainInput(device);
  if (!input) return [];
  const { topology, network } = assembly;
  const start = terminalKey(input.through, input.towards);
  const index = topology.nodeAt(input.through, input.towards);
  if (index === undefined) return [];
  const neighbours = neighboursIn(topology.nodes[index]);
  const reached = new Set([start]);
  const queue = [start];
  const ends: FarEnd[] = [];
  while (queue.length > 0) {
    const key = queue.pop()!;
    const [element, terminal] = splitKey(key);
    const kind = network.elements.get(element)?.kind;
    if (kind === 'bus') return [{ element, terminal: 0 }];
    if (kind === 'line' || kind === 'transformer' || kind === 'seriesReactor')
      ends.push({ element, terminal: 1 - terminal });
    // What ends a feeder is its own far end.
    if (kind !== undefined && endsFeeder.has(kind)) ends.push({ element, terminal });
    if (kind === 'threeWindingTransformer')
      for (const other of [0, 1, 2]) if (other !== terminal) ends.push({ element, terminal: other });
    for (const { key: next, by } of neighbours.get(key) ?? [])
      if (by !== input.through && !reached.has(next)) {
        reached.add(next);
        queue.push(next);
      }
  }
  return ends;
}
