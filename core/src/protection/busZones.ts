/** Zones of busbars as they stand with the switches of the moment: from a busbar through everything closed, as far as the current transformers of a device. */
import type { ElementId } from '../model/fields';
import { terminalKey, type Topology } from '../model/topology';
import { neighboursIn, splitKey } from '../studies/cut';
import type { Device } from './device';
import type { ProtectedZone } from './family';
import { familyOf } from './registry';

const kept = new WeakMap<Topology, WeakMap<Device, ReadonlyMap<ElementId, ProtectedZone>>>();

/** Null for devices that protect no busbars. */
export function zonesIn(topology: Topology, device: Device): ReadonlyMap<ElementId, ProtectedZone> | null {
  const buses = device.functions.flatMap((fn) => familyOf(fn).zones?.(fn) ?? []);
  if (buses.length === 0) return null;
  let known = kept.get(topology);
  if (!known) kept.set(topology, (known = new WeakMap()));
  let zones = known.get(device);
  if (!zones)
    known.set(
      device,
      (zones = new Map(
        buses.flatMap((bus) => {
          const zone = zoneOf(topology, device, bus, buses);
          return zone ? [[bus, zone] as const] : [];
        }),
      )),
    );
  return zones;
}

function zoneOf(topology: Topology, device: Device, bus: ElementId, buses: readonly ElementId[]): ProtectedZone | null {
  const index = topology.nodeAt(bus, 0);
  if (index === undefined) return null;
  const neighbours = neighboursIn(topology.nodes[index]);
  const inputOf = new Map(device.inputs.map((input) => [input.through, input]));
  const opens = new Set(device.opens);
  const start = terminalKey(bus, 0);
  const reached = new Set([start]);
  const [inputs, breakers, joined] = [new Set<string>(), new Set<ElementId>(), new Set<ElementId>([bus])];
  /** Beyond its current transformers a bay's breaker still belongs to the zone; nothing behind it does. */
  const beyond: string[] = [];
  for (const key of reached)
    for (const { key: next, by } of neighbours.get(key) ?? []) {
      const input = inputOf.get(by);
      if (input) {
        inputs.add(input.id);
        beyond.push(next);
        continue;
      }
      if (opens.has(by)) breakers.add(by);
      const [element] = splitKey(next);
      if (buses.includes(element)) joined.add(element);
      reached.add(next);
    }
  const passed = new Set([...reached, ...beyond]);
  const outside = [...beyond];
  while (outside.length > 0) {
    for (const { key: next, by } of neighbours.get(outside.pop()! as typeof start) ?? []) {
      if (passed.has(next as typeof start) || inputOf.has(by)) continue;
      passed.add(next as typeof start);
      if (opens.has(by)) breakers.add(by);
      else if (!buses.includes(splitKey(next)[0])) outside.push(next);
    }
  }
  return { buses: [...joined], inputs: [...inputs], breakers: [...breakers] };
}
