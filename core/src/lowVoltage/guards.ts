/** What guards a circuit: the real devices at its switches, and when they have certainly ended a current. */
import { heatOfDc } from '../faults/iec60909/thermal';
import { peakFactor } from '../faults/iec60909/peak';
import type { ElementId } from '../model/fields';
import type { Network } from '../model/network';
import { devicesOf, timeCurrents, type Device } from '../protection/device';
import { latestClearing, ownInput, type OverloadGuard, type TimeCurrent } from '../protection/family';
import { familyOf } from '../protection/registry';
import type { DeviceFunction } from '../protection/schemas';
import type { Switch } from '../model/switching';

/** One device on the way to a load. */
export interface Guard {
  readonly device: ElementId;
  readonly name: string;
  /** The switch that it opens on this way. */
  readonly at: ElementId;
  readonly functions: readonly TimeCurrent[];
  readonly openingS: number;
  readonly overload: OverloadGuard | null;
}

/** What a guard sees of a fault in its circuit. */
export interface GuardSees {
  readonly phaseA: number;
  readonly residualA: number;
}

const bySwitchIn = new WeakMap<Network, ReadonlyMap<ElementId, readonly Device[]>>();

function devicesBySwitch(network: Network): ReadonlyMap<ElementId, readonly Device[]> {
  let found = bySwitchIn.get(network);
  if (!found) {
    const map = new Map<ElementId, Device[]>();
    // Of relays those with one input: a circuit is fed from one side, and what flows into it flows through that.
    for (const device of devicesOf(network))
      if (device.inputs.length === 1) for (const id of device.opens) map.set(id, [...(map.get(id) ?? []), device]);
    bySwitchIn.set(network, (found = map));
  }
  return found;
}

/** By the functions and what they are rated by, which outlive a change of the network elsewhere. */
const madeOf = new WeakMap<readonly DeviceFunction[], Map<string, Omit<Guard, 'at' | 'name' | 'device'>>>();

function partsOf(device: Device): Omit<Guard, 'at' | 'name' | 'device'> {
  const { rating } = device.inputs[0];
  const key = `${rating.primaryA} ${rating.secondaryA} ${device.openingS}`;
  let made = madeOf.get(device.functions);
  if (!made) madeOf.set(device.functions, (made = new Map()));
  let parts = made.get(key);
  if (!parts) {
    const overloads = device.functions.flatMap((fn) => (fn.enabled ? (familyOf(fn).guards?.(fn, rating) ?? []) : []));
    parts = {
      functions: timeCurrents(device),
      openingS: device.openingS,
      // The one that is set lowest guards.
      overload: overloads.sort((p, q) => p.referenceA - q.referenceA)[0] ?? null,
    };
    made.set(key, parts);
  }
  return parts;
}

const guardsMade = new WeakMap<Device, Map<ElementId, Guard>>();

export function guardFrom(device: Device, at: ElementId): Guard {
  let made = guardsMade.get(device);
  if (!made) guardsMade.set(device, (made = new Map()));
  let guard = made.get(at);
  if (!guard) made.set(at, (guard = { device: device.id, name: device.name, at, ...partsOf(device) }));
  return guard;
}

/** Of all devices that open one of these switches. */
export function guardsOf(network: Network, switches: readonly ElementId[]): Guard[] {
  const all = devicesBySwitch(network);
  return switches.flatMap((at) => (all.get(at) ?? []).map((device) => guardFrom(device, at)));
}

/** A switch's functions as a guard, though they are not stored. */
export function guardWith(element: Switch, functions: readonly DeviceFunction[], openingS: number): Guard {
  const device: Device = {
    id: element.id,
    name: element.name,
    kind: 'release',
    element,
    inputs: [
      {
        id: ownInput,
        through: element.id,
        towards: 1,
        reversed: false,
        rating: { primaryA: element.ratedA ?? 1, secondaryA: element.ratedA ?? 1 },
      },
    ],
    functions,
    opens: [element.id],
    openingS,
    voltageAt: null,
  };
  return guardFrom(device, element.id);
}

const measured = ({ quantity, measure }: TimeCurrent, { phaseA, residualA }: GuardSees): number => {
  const negativeA = phaseA / 3;
  if (measure) return measure({ phaseA, residualA, negativeA });
  return quantity === 'phase' ? phaseA : quantity === 'residual' ? residualA : negativeA;
};

const endsWith = (fn: TimeCurrent, openingS: number, ampere: number): number =>
  ampere < fn.assuredA ? Infinity : latestClearing(fn, ampere, openingS);

export interface Cleared {
  /** Infinity where nothing certainly ends it. */
  readonly timeS: number;
  readonly by: Guard | null;
  readonly fn: TimeCurrent | null;
}

/** When a current has certainly ended, by the quickest. */
export function clearedBy(guards: readonly Guard[], sees: GuardSees): Cleared {
  let best: Cleared = { timeS: Infinity, by: null, fn: null };
  for (const guard of guards)
    for (const fn of guard.functions) {
      const timeS = endsWith(fn, guard.openingS, measured(fn, sees));
      if (timeS < best.timeS) best = { timeS, by: guard, fn };
    }
  return best;
}

/** Over the protective conductor or earth, where all of the current is residual; or between conductors of the circuit. */
export type FaultWay = 'earth' | 'short';
export const seesOf = (way: FaultWay, ampere: number): GuardSees => ({
  phaseA: ampere,
  residualA: way === 'earth' ? ampere : 0,
});

/** Beyond these no device is judged, A. */
const [leastA, mostA] = [0.005, 200_000];

/** By the functions of a guard, which outlive a change elsewhere. */
const operatingOf = new WeakMap<readonly TimeCurrent[], Map<string, number | null>>();

function operatingOne({ functions, openingS }: Guard, seconds: number, way: FaultWay): number | null {
  const key = `${seconds} ${way} ${openingS}`;
  let made = operatingOf.get(functions);
  if (!made) operatingOf.set(functions, (made = new Map()));
  const before = made.get(key);
  if (before !== undefined) return before;
  let best: number | null = null;
  for (const fn of functions) {
    const inTime = (ampere: number) => endsWith(fn, openingS, measured(fn, seesOf(way, ampere))) <= seconds;
    let [low, high]: [number, number] = [leastA, best ?? mostA];
    if (!inTime(high)) continue;
    while (high / low > 1 + 1e-7) {
      const middle = Math.sqrt(low * high);
      if (inTime(middle)) high = middle;
      else low = middle;
    }
    best = high;
  }
  made.set(key, best);
  return best;
}

/** Smallest current that is certainly ended within so many seconds, to 1e-7; null where none is. */
export function operatingCurrent(guards: readonly Guard[], seconds: number, way: FaultWay): number | null {
  const all = guards.flatMap((guard) => operatingOne(guard, seconds, way) ?? []);
  return all.length > 0 ? Math.min(...all) : null;
}

export interface Through {
  readonly a2s: number;
  /** No data of the device says it: the longest time of its standard at the whole current. */
  readonly isBound: boolean;
  readonly timeS: number;
}

/** I²t with the heat of the d.c. component where the current ends early. */
function wholeHeat(
  ampere: number,
  timeS: number,
  { rOverX, frequencyHz }: { readonly rOverX: number; readonly frequencyHz: number },
): number {
  const m = timeS < 0.1 ? heatOfDc(peakFactor(rOverX), frequencyHz, Math.max(timeS, 1e-4)) : 0;
  return ampere ** 2 * timeS * (1 + m);
}

/** Heat that is let through until the current has ended, with the offset of the current where that is early; null where nothing certainly ends it. */
export function letThrough(
  guards: readonly Guard[],
  sees: GuardSees,
  offset: { readonly rOverX: number; readonly frequencyHz: number },
): Through | null {
  let best: Through | null = null;
  for (const { functions, openingS } of guards)
    for (const fn of functions) {
      const ampere = measured(fn, sees);
      const timeS = endsWith(fn, openingS, ampere);
      if (timeS === Infinity || fn.quantity !== 'phase') continue;
      // A fuse's time below a cycle is a virtual one: its energy says what it lets through.
      const melts = timeS <= 0.1 && fn.energy ? fn.energy.throughA2s(ampere) : null;
      const known = melts ?? (timeS <= 0.1 ? (fn.limitA2s ?? null) : null);
      const a2s = melts ?? Math.min(known ?? Infinity, wholeHeat(sees.phaseA, timeS, offset));
      const through = { a2s, isBound: known === null && timeS <= 0.1, timeS };
      if (!best || a2s < best.a2s) best = through;
    }
  return best;
}
