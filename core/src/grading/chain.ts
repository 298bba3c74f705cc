/**
 * Who must clear before whom, found from the network: from the source side of a device on, through everything that is closed, to the next devices that look this
 * way. What stands between nothing and a source is last. In every condition, since couplers and infeeds change who follows.
 */
import { terminalPlace, type Iec60909Study } from '../faults/iec60909/study';
import { branchKinds, sourceKinds } from '../flow/figures';
import type { Condition } from '../model/condition';
import { kinds } from '../model/element';
import type { ElementId } from '../model/fields';
import type { Network } from '../model/network';
import { terminalKey, type TerminalKey } from '../model/topology';
import { devicesOf, mainInput, timeCurrents, type Device, type DeviceElement } from '../protection/device';
import { closeInPlace } from '../protection/zone';
import { turned } from '../sequence/components';
import { look } from '../studies/seen';
import type { Studies } from '../studies/studies';
import type { Place } from '../faults/solution/solve';
import { magnitude, scale } from '../linear/complex';

export interface FoundPair {
  readonly downstream: ElementId;
  readonly upstream: ElementId;
  /** Conditions in which they follow each other. */
  readonly conditions: readonly ElementId[];
}

/** Whether elements have a curve: asked anew only of those that have changed. */
const curved = new WeakMap<DeviceElement, boolean>();

function hasCurve(device: Device): boolean {
  let has = curved.get(device.element);
  if (has === undefined) curved.set(device.element, (has = timeCurrents(device).length > 0));
  return has;
}

/** Devices that open something and have a curve, by what their main current flows through. */
function barriers(network: Network): ReadonlyMap<ElementId, readonly Device[]> {
  const map = new Map<ElementId, Device[]>();
  for (const device of devicesOf(network)) {
    const input = mainInput(device);
    if (!input || device.opens.length === 0 || !hasCurve(device)) continue;
    map.set(input.through, [...(map.get(input.through) ?? []), device]);
  }
  return map;
}

/**
 * What hangs together without passing the place of a device, in one state of the network: regions, joined by those places. Few of them, however large the
 * network.
 */
class Regions {
  private readonly of = new Map<TerminalKey, number>();
  private readonly parents: number[] = [];
  /** Regions that hold a source. */
  readonly fed = new Set<number>();
  /** Places of devices at the rim of each region, with the terminal that they show it. */
  readonly rim = new Map<number, { readonly by: ElementId; readonly terminal: number }[]>();

  constructor(
    { assembly }: Iec60909Study,
    readonly at: ReadonlyMap<ElementId, readonly Device[]>,
  ) {
    const { topology, network } = assembly;
    for (const node of topology.nodes) {
      for (const key of node.terminals) this.number(key);
      for (const { element, from, to } of node.wires)
        if (!at.has(element)) this.join(this.number(from), this.number(to));
    }
    for (const { kind, id } of network.elements.values()) {
      if (!branchKinds.has(kind)) continue;
      const live = Array.from({ length: kinds[kind].terminals }, (_, k) => this.of.get(terminalKey(id, k))).filter(
        (each) => each !== undefined,
      );
      for (const other of live.slice(1)) this.join(live[0], other);
    }
    for (const element of network.elements.values())
      if (sourceKinds.has(element.kind)) {
        const region = this.regionAt(terminalKey(element.id, 0));
        if (region !== undefined) this.fed.add(region);
      }
    for (const by of at.keys()) {
      // An open switch joins nothing.
      const node = topology.nodeAt(by, 0);
      if (node === undefined || !topology.nodes[node].wires.some(({ element }) => element === by)) continue;
      for (const terminal of [0, 1]) {
        const region = this.regionAt(terminalKey(by, terminal));
        if (region === undefined) continue;
        const list = this.rim.get(region) ?? [];
        list.push({ by, terminal });
        this.rim.set(region, list);
      }
    }
  }

  regionAt(key: TerminalKey): number | undefined {
    const number = this.of.get(key);
    return number === undefined ? undefined : this.root(number);
  }

  private number(key: TerminalKey): number {
    let number = this.of.get(key);
    if (number === undefined) {
      number = this.parents.length;
      this.parents.push(number);
      this.of.set(key, number);
    }
    return number;
  }

  private root(number: number): number {
    let at = number;
    while (this.parents[at] !== at) at = this.parents[at] = this.parents[this.parents[at]];
    return at;
  }

  private join(p: number, q: number): void {
    const [a, b] = [this.root(p), this.root(q)];
    if (a !== b) this.parents[b] = a;
  }

  /** Regions come to from one; `crosses` says whether the way through a place is open, come to at that terminal. */
  *reached(from: number, crosses: (by: ElementId, terminal: number) => boolean): Generator<number> {
    const seen = new Set([from]);
    for (const region of seen) {
      yield region;
      for (const { by, terminal } of this.rim.get(region) ?? []) {
        if (!crosses(by, terminal)) continue;
        const next = this.regionAt(terminalKey(by, 1 - terminal));
        if (next !== undefined) seen.add(next);
      }
    }
  }
}

/** The next devices on the source side of one, in one state of the network; each once. Behind each of them stands a source. */
function upstreamIn(
  study: Iec60909Study,
  regions: Regions,
  device: Device,
  opened: () => Iec60909Study,
): readonly ElementId[] {
  const input = mainInput(device);
  if (!input) return [];
  const { at } = regions;
  const own = input.through;
  const facing = (by: ElementId, terminal: number) =>
    at.get(by)!.filter((other) => mainInput(other)!.towards === terminal);
  const found = new Map<ElementId, { readonly terminal: number; readonly region: number }>();
  // From its source side only: what feeds a fault from the far ends of what it protects has to clear it too, and waits for nobody here.
  const start = regions.regionAt(terminalKey(own, 1 - input.towards));
  const crossed = new Set<ElementId>([own]);
  const walk =
    start === undefined
      ? []
      : regions.reached(start, (by, terminal) => {
          if (by === own || crossed.has(by)) return false;
          if (facing(by, terminal).length > 0) {
            const region = regions.regionAt(terminalKey(by, terminal))!;
            if (!found.has(by)) found.set(by, { terminal, region });
            return false;
          }
          // Where a way leads around it there is nothing to come to behind it.
          if (regions.regionAt(terminalKey(by, 0)) === regions.regionAt(terminalKey(by, 1))) return false;
          // Past a device that looks the other way there is no way back through it.
          crossed.add(by);
          return true;
        });
  const protectedSide = regions.regionAt(terminalKey(own, input.towards));
  // Where a way leads around the device, what comes to the fault on it does not come through the device.
  let around = false;
  for (const region of walk) around ||= region === protectedSide;
  return [...found]
    .filter(([by, { terminal, region }]) => {
      const beyond = regions.regionAt(terminalKey(by, 1 - terminal));
      if (beyond === undefined) return false;
      const isFed = (within: (region: number | undefined) => boolean) => {
        const walk = regions.reached(
          beyond,
          (other, from) => other !== own && other !== by && within(regions.regionAt(terminalKey(other, 1 - from))),
        );
        for (const reached of walk) if (regions.fed.has(reached)) return true;
        return false;
      };
      // A source behind it, to which no way leads back through where it was found.
      if (beyond !== region && isFed((next) => next !== region)) return true;
      // A way around leaves its direction open: the currents tell.
      return isFed(() => true) && feeds(study, device, facing(by, terminal)[0]);
    })
    .flatMap(([by, { terminal }]) => facing(by, terminal))
    .filter((above) => !around || ceases(study, opened, device, above))
    .map(({ id }) => id);
}

/** Of the current of a device that another one must carry at least, in its own direction, to back it up. */
const leastShare = 0.01;

/** Whether a fault just beyond one device draws current through another one in the direction that it looks into. */
function feeds(study: Iec60909Study, below: Device, above: Device): boolean {
  const place = closeInPlace(below);
  const ways = [below, above].map((device) => mainInput(device)!);
  if (!place) return false;
  const [looked] = look(study, place, ['3ph'], { through: ways.map(({ through }) => through) });
  if (!looked.ok) return false;
  const { lag, topology } = study.assembly;
  // In the position of the sources, so that the groups of transformers between them do not count.
  const currents = ways.map(({ through, towards }, k) => {
    const components = looked.seen.through[k];
    const node = topology.nodeAt(through, 0);
    if (!components || node === undefined) return null;
    return scale(turned(components, -lag[node]).positive, towards === 1 ? 1 : -1);
  });
  const [own, other] = currents;
  if (!own || !other) return false;
  const along = own.re * other.re + own.im * other.im;
  return along > leastShare * (own.re ** 2 + own.im ** 2);
}

/** Whether what flows through one device towards a fault beyond another one ceases once that one has opened: else it comes another way, and has to be cleared too. */
function ceases(study: Iec60909Study, opened: () => Iec60909Study, below: Device, above: Device): boolean {
  const through = [mainInput(above)!.through];
  const flowing = (when: Iec60909Study, place: Place): number => {
    const [looked] = look(when, place, ['3ph'], { through });
    const components = looked.ok ? looked.seen.through[0] : null;
    return components ? magnitude(components.positive) : 0;
  };
  // On one side of what it opens the fault is cut off then.
  return below.opens.some((by) =>
    [0, 1].some((terminal) => {
      const place = terminalPlace(by, terminal);
      return flowing(opened(), place) <= leastShare * flowing(study, place);
    }),
  );
}

/** For each condition what is found of each device, gathered by pair; remembered while devices stand where they do and currents flow as they did. */
function gathered(
  studies: Studies,
  conditions: readonly Condition[],
  what: string,
  from: (study: Iec60909Study, regions: Regions, device: Device, opened: () => Iec60909Study) => readonly ElementId[],
): readonly FoundPair[] {
  const at = barriers(studies.network);
  // Where devices stand and look is no matter of currents: a function switched off changes who follows whom.
  const standing = [...at.values()].flat().map((device) => {
    const { through, towards } = mainInput(device)!;
    return `${device.id}=${through}:${towards}>${device.opens.join('+')}`;
  });
  return studies.remembered(`${what} ${standing.join()} ${JSON.stringify(conditions)}`, () => {
    const found = new Map<string, { downstream: ElementId; upstream: ElementId; conditions: ElementId[] }>();
    for (const { id: condition } of conditions) {
      const study = studies.iec60909({ condition });
      const regions = new Regions(study, at);
      for (const device of [...at.values()].flat()) {
        const opened = () => studies.iec60909({ condition, alterations: { open: [...device.opens] } });
        for (const upstream of from(study, regions, device, opened)) {
          const key = `${device.id} ${upstream}`;
          const pair = found.get(key) ?? { downstream: device.id, upstream, conditions: [] };
          pair.conditions.push(condition);
          found.set(key, pair);
        }
      }
    }
    return [...found.values()];
  });
}

/** All pairs of the network, in the order of the devices, with the conditions in which they follow each other. */
export const pairsFrom = (studies: Studies, conditions: readonly Condition[]): readonly FoundPair[] =>
  gathered(studies, conditions, 'pairs found', upstreamIn);

/** Devices on the source side of each one that look away from it: a fault that it must clear lies behind them. `upstream` is the one that looks away. */
export const neighboursFrom = (studies: Studies, conditions: readonly Condition[]): readonly FoundPair[] =>
  gathered(studies, conditions, 'neighbours', (_, regions, device) => {
    const { through, towards } = mainInput(device)!;
    const region = regions.regionAt(terminalKey(through, 1 - towards));
    if (region === undefined) return [];
    return (regions.rim.get(region) ?? [])
      .filter(({ by }) => by !== through)
      .flatMap(({ by, terminal }) => regions.at.get(by)!.filter((other) => mainInput(other)!.towards !== terminal))
      .map(({ id }) => id);
  });

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
