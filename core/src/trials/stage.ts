/** Functions of a device as what runs to a trip in a trial: measured anew whenever the network changes, phase by phase where the device has an element for each. */
import { magnitude, zero } from '../linear/complex';
import type { ElementId } from '../model/fields';
import { currentOf, inputOf, type Device, type DeviceInput } from '../protection/device';
import {
  atRest,
  type Family,
  type Progress,
  type SeenCurrents,
  type TimeCurrent,
  type Timer,
} from '../protection/family';
import { familyOf } from '../protection/registry';
import type { DeviceFunction } from '../protection/schemas';
import { travelled } from '../protection/travel';
import { SilentTrace } from '../working/trace';

/** What a lane sees that has picked up; `arcS`: from melting to the end of the arc. */
export interface Running extends Timer {
  readonly arcS?: number;
}

export interface Stage {
  readonly fn: DeviceFunction;
  readonly code: string;
  readonly input: DeviceInput;
  /** With an element for each phase. */
  readonly byPhase: boolean;
  /** Opens phase by phase, by itself. */
  readonly melts: boolean;
  /** The current has ceased when it trips: no breaker's time on top. */
  readonly clears: boolean;
  readonly opens: readonly ElementId[];
  /** Begun by a trip command to one of these. */
  readonly after: readonly ElementId[] | null;
  /** Below this current nothing picks up; null where more than a current decides. */
  readonly leastA: number | null;
  /** Devices that hold it back while they have picked up. */
  readonly heldBackBy?: readonly ElementId[];
  /** Of a device that recloses. */
  readonly operations: 'all' | 'fast' | 'slow';
  /** What has picked up. */
  running(seen: SeenCurrents): readonly Running[];
  /** Towards the trip, or back where it has dropped out. */
  advance(before: Progress, seen: SeenCurrents, running: Running | null, seconds: number): Progress;
  /** Seconds to the trip at these quantities. */
  remaining(before: Progress, seen: SeenCurrents, running: Running): number;
}

/** All functions of a device in use that lead to something. */
export function stagesOf(device: Device): Stage[] {
  if (device.inputs.length === 0) return [];
  return device.functions.flatMap((fn) => {
    const family = familyOf(fn);
    if (!fn.enabled || family.sequence) return [];
    const stage = stageOf(device, fn, family);
    const fast = stage && interlockedStage(stage, fn, family);
    return [...(stage ? [stage] : []), ...(fast ? [fast] : [])];
  });
}

function opened(device: Device, fn: DeviceFunction): readonly ElementId[] {
  const { element } = device;
  if (element.kind === 'switch') return device.opens;
  const circuits = element.circuits.filter(({ id }) => fn.circuits.length === 0 || fn.circuits.includes(id));
  return [...new Set(circuits.flatMap(({ breakers }) => breakers))];
}

function stageOf(device: Device, fn: DeviceFunction, family: Family): Stage | null {
  const input = inputOf(device, fn.input);
  const { rating } = input;
  const after = family.afterTrip?.(fn) ?? null;
  const curves = family.timeCurrents?.(fn, rating) ?? [];
  const melts = device.kind === 'fuse';
  const operations = 'operations' in fn ? fn.operations : 'all';
  const common = {
    fn,
    code: family.code(fn),
    input,
    melts,
    operations,
    opens: after ?? opened(device, fn),
    after: after && opened(device, fn),
  };
  const { advance } = family;
  if (family.timers) {
    const timers = family.timers.bind(family);
    return {
      ...common,
      byPhase: false,
      clears: curves.length > 0 && curves.every(({ clears }) => clears),
      leastA: family.leastA ? family.leastA(fn, rating) : leastOf(curves),
      running: (seen) => timers(fn, rating, seen),
      advance: (before, _, running, seconds) => (running ? travelled(before, running.timeS, seconds) : atRest),
      remaining: rest,
    };
  }
  const curve = curves.at(0);
  if (curve && melts) return { ...common, ...meltingStage(curve) };
  if (curve && advance)
    return {
      ...common,
      byPhase: curve.quantity === 'phase',
      clears: curve.clears,
      leastA: leastOf(curves),
      running: (seen) => {
        const currentA = curve.measure?.(seen) ?? currentOf(seen, curve.quantity);
        const { latestS: timeS } = curve.at(currentA);
        return timeS < Infinity ? [{ id: '', name: '', multiple: currentA / curve.pickupA, timeS }] : [];
      },
      advance: (before, seen, _, seconds) => advance(fn, rating, before, seen, seconds),
      remaining: (before, seen, running) => family.remaining?.(fn, rating, before, seen) ?? rest(before, seen, running),
    };
  const { respond } = family;
  if (!respond || !advance) return null;
  const quiet = new SilentTrace();
  return {
    ...common,
    byPhase: false,
    clears: false,
    leastA: null,
    running: (seen) => {
      const { pickedUp, multiple, band } = respond(fn, rating, seen, quiet);
      return pickedUp ? [{ id: '', name: '', multiple, timeS: band.latestS }] : [];
    },
    advance: (before, seen, _, seconds) => advance(fn, rating, before, seen, seconds),
    remaining: rest,
  };
}

/** The shorter time of a function that devices ahead would hold back; of one with several parts that of the short circuit with a delay. */
function interlockedStage(stage: Stage, fn: DeviceFunction, family: Family): Stage | null {
  const { interlock } = fn;
  const curves = family.timeCurrents?.(fn, stage.input.rating) ?? [];
  const curve = curves.find(({ part }) => part === 'shortTime') ?? curves.at(0);
  if (!interlock || interlock.from.length === 0 || !curve) return null;
  return {
    ...stage,
    code: `${stage.code} interlock`,
    byPhase: false,
    clears: false,
    heldBackBy: interlock.from,
    leastA: leastOf([curve]),
    running: (seen) => {
      const currentA = curve.measure?.(seen) ?? currentOf(seen, curve.quantity);
      if (curve.at(currentA).latestS === Infinity) return [];
      return [{ id: '', name: '', multiple: currentA / curve.pickupA, timeS: interlock.fastS }];
    },
    advance: (before, _, running, seconds) => (running ? travelled(before, running.timeS, seconds) : atRest),
    remaining: rest,
  };
}

const rest = ({ share }: Progress, _: SeenCurrents, { timeS }: Running): number => (1 - share) * timeS;

const leastOf = (curves: readonly TimeCurrent[]): number | null =>
  // A voltage may lower what is picked up at.
  curves.length > 0 && curves.every(({ measure }) => !measure)
    ? // 3I0 is three times the largest phase current at most.
      Math.min(...curves.map(({ pickupA, quantity }) => (quantity === 'residual' ? pickupA / 3 : pickupA)))
    : null;

/** From the last corner of both curves of a link the arc burns no longer than a current zero. */
const shortArcS = 0.02;

/** A link melts by its melting curve, and its arc burns as long as the clearing curve is above that; what has molten stays molten. */
export const meltingStage = (
  curve: TimeCurrent,
  forgets = false,
): Omit<Stage, 'fn' | 'code' | 'input' | 'opens' | 'after' | 'operations' | 'melts'> => ({
  byPhase: true,
  clears: true,
  leastA: curve.pickupA,
  running: (seen) => {
    const { earliestS, latestS } = curve.at(seen.phaseA);
    if (earliestS === Infinity) return [];
    const arcS = latestS === Infinity ? shortArcS : latestS - earliestS;
    return [{ id: '', name: '', multiple: seen.phaseA / curve.pickupA, timeS: earliestS, arcS }];
  },
  advance: (before, _, running, seconds) =>
    running ? travelled(before, running.timeS, seconds) : forgets ? atRest : before,
  remaining: rest,
});

/** What an element of one phase sees: nothing of the other two. */
export function seenOfPhase(seen: SeenCurrents, phase: number): SeenCurrents {
  const { vectors } = seen;
  if (!vectors) return seen;
  const current = vectors.currents[phase];
  const currents = [0, 1, 2].map((k) => (k === phase ? current : zero)) as unknown as typeof vectors.currents;
  return { ...seen, phaseA: magnitude(current), vectors: { ...vectors, currents } };
}
