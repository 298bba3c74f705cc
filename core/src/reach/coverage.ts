/**
 * Which faults on lines are cleared by whom, and how fast: every place along them, every kind and resistance, every condition and outage, as the distance relays at the
 * ends see it. A relay whose breaker at the other end has opened first sees the fault anew: ends that clear one after the other are told as such.
 */
import { faultKinds, resistiveFault, type FaultCondition, type FaultKind } from '../faults/kinds';
import type { Condition } from '../model/condition';
import type { ElementId } from '../model/fields';
import type { State } from '../model/state';
import { inputOf, type Device } from '../protection/device';
import { tripName, tripOf } from '../protection/distance';
import type { DistanceFunction } from '../protection/distance/schema';
import type { DeviceSeen } from '../protection/family';
import { seenUnder } from '../protection/seen';
import type { Studies } from '../studies/studies';
import { isSameEnd, type Circuit } from './circuits';
import { placeOn } from './ends';
import type { ReachRow } from './plan';
import { withArc } from './resistance';
import type { LineEnd } from './seen';

/** A distance relay at an end of a line. */
export interface CoveringEnd {
  readonly end: LineEnd;
  readonly device: Device;
  readonly fn: DistanceFunction;
}

/** `both`: every end at once; `sequential`: one at once, the others as soon as it has opened; `delayed`: all, by a later zone; `partly`: some end not at all. */
export const coverages = ['both', 'sequential', 'delayed', 'partly', 'none'] as const;
export type Coverage = (typeof coverages)[number];

export interface Covered {
  readonly line: ElementId;
  /** From terminal 0 of the line. */
  readonly fraction: number;
  readonly kind: FaultKind;
  readonly resistance: number;
  readonly condition: ElementId;
  readonly outage: ElementId | null;
  readonly coverage: Coverage;
  /** Time at which the last end that clears has tripped, in seconds; null where none does. */
  readonly timeS: number | null;
  /** Of each end with a relay: its zone and time, null where it sees nothing. */
  readonly ends: readonly { readonly end: LineEnd; readonly zone: string; readonly timeS: number }[];
}

export interface CoverageOptions {
  readonly places: number;
  readonly kinds: readonly FaultKind[];
  /** Ohms: of the fault to earth for earth faults, between phases for others. */
  readonly resistances: readonly number[];
  readonly outages: readonly ElementId[];
  /** Faults burn: an arc by A. R. van C. Warrington's formula is added to their resistance. */
  readonly arc: boolean;
}
export const usualCoverage: CoverageOptions = {
  places: 21,
  kinds: faultKinds,
  resistances: [0],
  outages: [],
  arc: false,
};

/** What trips at once: the first zone, without a delay that anybody would notice. */
const atOnceS = 0.06;

/** What a relay does about what it sees. */
function hitOf({ device, fn, end }: CoveringEnd, seen: DeviceSeen | null) {
  const input = inputOf(device, fn.input);
  const at = seen?.[input.id];
  const trip = at ? tripOf(fn, input.rating, at).trip : null;
  return trip ? { end, zone: tripName(trip), timeS: trip.delayS + fn.operatingS } : null;
}

/** All faults on the lines of a circuit. Yields the share that is done. */
export function* coverageOf(
  studies: Studies,
  conditions: readonly Condition[],
  circuit: Circuit,
  relays: readonly CoveringEnd[],
  { places, kinds, resistances, outages, arc }: CoverageOptions,
): Generator<number, readonly Covered[]> {
  const own = relays.filter(({ end }) => circuit.ends.some((each) => isSameEnd(each, end)));
  const devices = own.map(({ device }) => device);
  const found: Covered[] = [];
  const states = conditions.flatMap(({ id: condition }): State[] =>
    [null, ...outages.filter((id) => !circuit.lines.includes(id))].map((outage) => ({ condition, outage })),
  );
  const faults = kinds.flatMap((kind) => resistances.map((resistance) => ({ kind, resistance })));
  const total = states.length * circuit.lines.length * places;
  let done = 0;
  for (const state of states) {
    const study = studies.iec60909(state);
    for (const line of circuit.lines)
      for (let k = 0; k < places; k++) {
        yield done++ / total;
        const fraction = (k + 0.5) / places;
        const place = placeOn(line, fraction);
        const conditionsHere = faults.map(({ kind, resistance }) => {
          const fault = resistiveFault(kind, resistance);
          return arc ? withArc(study, place, fault) : fault;
        });
        const seen = seenUnder(study, place, conditionsHere, devices);
        seen.forEach((each, f) => {
          const hits = own.map((relay, e) => hitOf(relay, each?.devices[e] ?? null));
          const again = () => afterFirst(studies, state, own, line, fraction, conditionsHere[f], hits);
          found.push({
            line,
            fraction,
            ...faults[f],
            condition: state.condition,
            outage: state.outage ?? null,
            ...judged(hits, again),
          });
        });
      }
  }
  return found;
}

type Hit = ReturnType<typeof hitOf>;

/** What the other ends see when those that trip at once have opened; of the first of them, as one end of a line can be open at a time. */
function afterFirst(
  studies: Studies,
  state: State,
  own: readonly CoveringEnd[],
  line: ElementId,
  fraction: number,
  condition: FaultCondition,
  hits: readonly Hit[],
): Hit[] {
  const opened = own.findIndex((_, k) => hits[k] !== null && hits[k].timeS <= atOnceS);
  const { end } = own[opened];
  const study = studies.iec60909({ ...state, openEnd: { element: end.line, terminal: end.terminal } });
  const [seen] = seenUnder(
    study,
    placeOn(line, fraction),
    [condition],
    own.map(({ device }) => device),
  );
  return own.map((relay, k) => {
    if (hits[k] !== null && hits[k].timeS <= atOnceS) return hits[k];
    const anew = k !== opened ? hitOf(relay, seen?.devices[k] ?? null) : null;
    // From its trip on the fault looks different: what is then quicker counts.
    const later = anew && { ...anew, timeS: anew.timeS + hits[opened]!.timeS };
    const before = hits[k];
    return later && before ? (later.timeS < before.timeS ? later : before) : (later ?? before);
  });
}

function judged(first: readonly Hit[], again: () => Hit[]): Pick<Covered, 'coverage' | 'timeS' | 'ends'> {
  const isQuick = (hit: Hit) => hit !== null && hit.timeS <= atOnceS;
  const told = (coverage: Coverage, hits: readonly Hit[]) => {
    const ends = hits.flatMap((hit) => hit ?? []);
    return { coverage, timeS: ends.length > 0 ? Math.max(...ends.map(({ timeS }) => timeS)) : null, ends };
  };
  if (first.every((hit) => hit === null)) return told('none', first);
  if (first.every(isQuick)) return told('both', first);
  if (!first.some(isQuick)) return told(first.every((hit) => hit !== null) ? 'delayed' : 'partly', first);
  const then = again();
  if (then.some((hit) => hit === null)) return told('partly', then);
  // The other end has seen it anew, in its first zone.
  return told(then.every((hit) => hit!.timeS <= 2.5 * atOnceS) ? 'sequential' : 'delayed', then);
}

/** Relays that measure impedances, by the line ends that they look in from. */
export const coveringEnds = (plan: readonly ReachRow[]): CoveringEnd[] =>
  plan.flatMap(({ end, relay }) => (relay?.fn?.enabled ? [{ end, device: relay.device, fn: relay.fn }] : []));

/** What of coverage has been found, to be taken over where neither currents nor the relays of a line have changed. */
export class CoverageKeeper {
  private kept = new Map<string, { readonly on: readonly unknown[]; readonly list: readonly Covered[] }>();
  private before: Studies | null = null;

  /** As {@link coverageOf}. */
  *of(
    studies: Studies,
    conditions: readonly Condition[],
    circuit: Circuit,
    relays: readonly CoveringEnd[],
    options: CoverageOptions,
  ): Generator<number, readonly Covered[]> {
    if (!this.before?.sharesCurrentsWith(studies)) this.kept.clear();
    this.before = studies;
    const key = JSON.stringify([circuit.id, conditions, options]);
    const on = relays
      .filter(({ end }) => circuit.ends.some((each) => isSameEnd(each, end)))
      .map(({ device }) => device.element);
    const known = this.kept.get(key);
    if (known && known.on.length === on.length && known.on.every((each, k) => each === on[k])) return known.list;
    const list = yield* coverageOf(studies, conditions, circuit, relays, options);
    this.kept.set(key, { on, list });
    return list;
  }
}

/** How many faults of each coverage. */
export const countsOf = (list: readonly Covered[]): Readonly<Record<Coverage, number>> =>
  Object.fromEntries(
    coverages.map((each) => [each, list.filter(({ coverage }) => coverage === each).length]),
  ) as Record<Coverage, number>;
