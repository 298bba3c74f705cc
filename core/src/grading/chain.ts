/**
 * Who must clear before whom, found from the network: from the source side of a device on, through everything that is closed, to the next devices that look this
 * way. What stands between nothing and a source is last. In every condition, since couplers and infeeds change who follows.
 */
import type { Iec60909Study } from '../faults/iec60909/study';
import type { Condition } from '../model/condition';
import { kinds } from '../model/element';
import type { ElementId } from '../model/fields';
import type { Network } from '../model/network';
import { terminalKey, type TerminalKey } from '../model/topology';
import { devicesOf, mainInput, timeCurrents, type Device } from '../protection/device';
import { neighboursIn, splitKey } from '../studies/cut';
import type { Studies } from '../studies/studies';

export interface FoundPair {
  readonly downstream: ElementId;
  readonly upstream: ElementId;
  /** Conditions in which they follow each other. */
  readonly conditions: readonly ElementId[];
}

/** Devices that open something and have a curve, by what their main current flows through. */
function barriers(network: Network): ReadonlyMap<ElementId, readonly Device[]> {
  const map = new Map<ElementId, Device[]>();
  for (const device of devicesOf(network)) {
    const input = mainInput(device);
    if (!input || device.opens.length === 0 || timeCurrents(device).length === 0) continue;
    map.set(input.through, [...(map.get(input.through) ?? []), device]);
  }
  return map;
}

/** Branches that current passes through, from one terminal to the others. */
const passes: ReadonlySet<string> = new Set(['line', 'transformer', 'threeWindingTransformer', 'seriesReactor']);

/** What feeds a fault for as long as a device that backs up takes. */
const sources: ReadonlySet<string> = new Set([
  'networkFeeder',
  'synchronousMachine',
  'powerStationUnit',
  'converterSource',
  'doublyFedMachine',
]);

/** Terminals that are come to from one, through all that is closed. `crosses`: whether the way through this element is open, come to at that terminal. */
function* reachedFrom(
  { assembly }: Iec60909Study,
  start: TerminalKey,
  crosses: (element: ElementId, terminal: number) => boolean,
): Generator<ElementId> {
  const { topology, network } = assembly;
  const reached = new Set([start]);
  for (const key of reached) {
    const [element, terminal] = splitKey(key);
    const kind = network.elements.get(element)?.kind;
    if (!kind) continue;
    yield element;
    if (passes.has(kind))
      for (let other = 0; other < kinds[kind].terminals; other++)
        if (other !== terminal && topology.nodeAt(element, other) !== undefined)
          reached.add(terminalKey(element, other));
    const index = topology.nodeAt(element, terminal);
    if (index === undefined) continue;
    for (const { key: next, by } of neighboursIn(topology.nodes[index]).get(key) ?? [])
      if (element !== by || crosses(by, terminal)) reached.add(next);
  }
}

/** The next devices on the source side of one, in one state of the network; each once. Behind each of them stands a source. */
export function nextUpstream(
  study: Iec60909Study,
  device: Device,
  at: ReadonlyMap<ElementId, readonly Device[]> = barriers(study.assembly.network),
): readonly ElementId[] {
  const input = mainInput(device);
  const { topology, network } = study.assembly;
  if (!input || topology.nodeAt(input.through, 0) === undefined) return [];
  const own = input.through;
  const found = new Map<ElementId, number>();
  // From its source side; and from the far ends of what it protects, which a parallel path may feed.
  for (const side of [1 - input.towards, input.towards]) {
    const crossed = new Set<ElementId>([own]);
    const walk = reachedFrom(study, terminalKey(own, side), (by, terminal) => {
      if (crossed.has(by)) return false;
      const here = at.get(by);
      if (!here) return true;
      // Past a device that looks the other way there is no way back through it.
      crossed.add(by);
      if (!here.some((other) => mainInput(other)!.towards === terminal)) return true;
      found.set(by, terminal);
      return false;
    });
    while (!walk.next().done);
  }
  const fed = (by: ElementId, terminal: number) => {
    const blocked = new Set([own, by]);
    for (const element of reachedFrom(study, terminalKey(by, 1 - terminal), (other) => !blocked.has(other)))
      if (sources.has(network.elements.get(element)!.kind)) return true;
    return false;
  };
  return [...found]
    .filter(([by, terminal]) => fed(by, terminal))
    .flatMap(([by, terminal]) => at.get(by)!.filter((other) => mainInput(other)!.towards === terminal))
    .map(({ id }) => id);
}

/** All pairs of the network, in the order of the devices, with the conditions in which they follow each other. */
export function pairsFrom(studies: Studies, conditions: readonly Condition[]): readonly FoundPair[] {
  return studies.remembered(`pairs found ${JSON.stringify(conditions)}`, () => {
    const at = barriers(studies.network);
    const found = new Map<string, { downstream: ElementId; upstream: ElementId; conditions: ElementId[] }>();
    for (const { id: condition } of conditions) {
      const study = studies.iec60909({ condition });
      for (const device of [...at.values()].flat())
        for (const upstream of nextUpstream(study, device, at)) {
          const key = `${device.id} ${upstream}`;
          const pair = found.get(key) ?? { downstream: device.id, upstream, conditions: [] };
          pair.conditions.push(condition);
          found.set(key, pair);
        }
    }
    return [...found.values()];
  });
}

/** A way of supply: devices from the farthest one to the source, each backed up by the next. */
export interface SupplyPath {
  readonly devices: readonly ElementId[];
}

/** From a device on to the source: everyone that backs it up, and who backs up those; nearest first. */
export function pathFrom(pairs: readonly FoundPair[], device: ElementId): readonly ElementId[] {
  const path = new Set([device]);
  for (const id of path) for (const pair of pairs) if (pair.downstream === id) path.add(pair.upstream);
  return [...path];
}

/** The supply paths of a project: from each device that backs up nobody, longest first. */
export function supplyPaths(pairs: readonly FoundPair[]): readonly SupplyPath[] {
  const backs = new Set(pairs.map(({ upstream }) => upstream));
  const ends = [...new Set(pairs.map(({ downstream }) => downstream))].filter((id) => !backs.has(id));
  return ends
    .map((id): SupplyPath => ({ devices: pathFrom(pairs, id) }))
    .sort((p, q) => q.devices.length - p.devices.length);
}
