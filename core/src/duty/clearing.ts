/**
 * How long a short circuit flows through an element: until the protection on its own run opens it, by the latest time of the band and the opening time of the
 * breaker; where it has none, until all that protects the place has opened; else as long as the project says.
 */
import type { FaultKind } from '../faults/kinds';
import type { Iec60909Study } from '../faults/iec60909/study';
import type { Place } from '../faults/solution/solve';
import type { ElementId } from '../model/fields';
import { find, settingsOf, type Network } from '../model/network';
import type { Switch } from '../model/switching';
import { terminalKey } from '../model/topology';
import { measuredBy } from '../protection/curve';
import { devicesOf, timeCurrents, type Device } from '../protection/device';
import { latestClearing } from '../protection/family';
import { seenBy } from '../protection/seen';
import { neighboursIn, splitKey } from '../studies/cut';

export interface Clearing {
  readonly timeS: number;
  /** The device that clears; null: the time of the project. */
  readonly device: ElementId | null;
  /** A breaker that limits the current and opens at once lets through no more, in A²s. */
  readonly limitA2s?: number;
  /** False where nothing that clears is known, and the time of the project stands in. */
  readonly known: boolean;
}

/** A breaker that has opened by then has limited the current. */
const atOnceS = 0.1;
/** Longest that is taken; whoever clears later does not clear. */
const longestS = 5;

/**
 * For a fault of a kind at a place, through an element at one of its terminals. `network` has the devices as they are set now: a study outlives their settings, on which
 * no current depends.
 */
export function clearingOf(
  network: Network,
  study: Iec60909Study,
  at: { readonly element: ElementId; readonly terminal: number },
  place: Place,
  kind: FaultKind,
): Clearing {
  const { clearing, clearingS } = settingsOf(network).ratingLimits;
  const chosen = (known: boolean): Clearing => ({ timeS: clearingS, device: null, known });
  if (clearing === 'chosen') return chosen(true);
  const inline = onRun(study, at);
  const all = protecting(network);
  const own = [...new Set(inline.flatMap((id) => all.bySwitch.get(id) ?? []))];
  const fastest = timesOf(study, own, place, kind).sort((p, q) => p.timeS - q.timeS)[0];
  if (fastest) return fastest;
  // It protects by itself, by a curve that is not known here.
  if (inline.some((id) => protectsItself(find(network, 'switch', id)!, study, id))) return chosen(false);
  const node = study.assembly.topology.nodeAt(at.element, at.terminal);
  const around = all.devices.filter(
    (device) =>
      !own.includes(device) && device.inputs.some(({ through }) => study.assembly.topology.nodeAt(through, 0) === node),
  );
  return timesOf(study, around, place, kind).sort((p, q) => q.timeS - p.timeS)[0] ?? chosen(false);
}

/** Fuses, reclosers and motor starters do, and low-voltage breakers have releases. */
function protectsItself({ type }: Switch, { assembly }: Iec60909Study, id: ElementId): boolean {
  if (type === 'fuse' || type === 'recloser' || type === 'contactor') return true;
  const kv = assembly.topology.nodes[assembly.topology.nodeAt(id, 0)!].nominalKv;
  return type === 'breaker' && kv !== null && kv <= 1;
}

interface Protecting {
  readonly devices: readonly Device[];
  readonly bySwitch: ReadonlyMap<ElementId, readonly Device[]>;
}

const known = new WeakMap<Network, Protecting>();

function protecting(network: Network): Protecting {
  let found = known.get(network);
  if (!found) {
    const devices = devicesOf(network).filter((device) => device.opens.length > 0 && timeCurrents(device).length > 0);
    const bySwitch = new Map<ElementId, Device[]>();
    for (const device of devices)
      for (const id of device.opens) bySwitch.set(id, [...(bySwitch.get(id) ?? []), device]);
    known.set(network, (found = { devices, bySwitch }));
  }
  return found;
}

/** Closed switches in line with a terminal, up to the busbar. */
function onRun(
  { assembly }: Iec60909Study,
  { element, terminal }: { readonly element: ElementId; readonly terminal: number },
): ElementId[] {
  const { network, topology } = assembly;
  const index = topology.nodeAt(element, terminal);
  if (index === undefined) return [];
  const neighbours = neighboursIn(topology.nodes[index]);
  const starts = network.elements.get(element)!.kind === 'switch' ? [0, 1] : [terminal];
  const queue = starts.map((end) => terminalKey(element, end));
  const reached = new Set(queue);
  const found = new Set<ElementId>();
  if (network.elements.get(element)!.kind === 'switch') found.add(element);
  while (queue.length > 0) {
    const key = queue.pop()!;
    const kind = network.elements.get(splitKey(key)[0])?.kind;
    if (kind === 'bus') continue;
    for (const { key: next, by } of neighbours.get(key) ?? []) {
      if (network.elements.get(by)?.kind === 'switch') found.add(by);
      if (reached.has(next)) continue;
      reached.add(next);
      queue.push(next);
    }
  }
  return [...found];
}

function timesOf(study: Iec60909Study, devices: readonly Device[], place: Place, kind: FaultKind): Clearing[] {
  if (devices.length === 0) return [];
  const [seen] = seenBy(study, place, [kind], devices);
  if (!seen) return [];
  return devices.flatMap((device, k): Clearing[] => {
    const inputs = seen.devices[k];
    if (!inputs) return [];
    let timeS = Infinity;
    let limitA2s: number | undefined;
    for (const fn of timeCurrents(device)) {
      const current = measuredBy(fn, inputs);
      const own = current < fn.assuredA ? Infinity : latestClearing(fn, current, device.openingS);
      timeS = Math.min(timeS, own);
      // Whatever trips it first: what opens at once limits as well.
      if (own <= atOnceS && fn.limitA2s !== undefined) limitA2s = Math.min(limitA2s ?? Infinity, fn.limitA2s);
    }
    return timeS <= longestS
      ? [{ timeS, device: device.id, known: true, ...(limitA2s !== undefined && { limitA2s }) }]
      : [];
  });
}
