/**
 * All faults that a network can have, one by one, each played and judged: at every busbar and along every line, of every kind, in every condition, and once more with each
 * breaker, relay, battery and channel failing that took part. What is not as it ought to be is grouped by its cause and ranked by its harm.
 */
import { faultKinds, resistiveFault, type FaultKind } from '../faults/kinds';
import type { Disturbance, Place } from '../faults/solution/solve';
import type { ElementId } from '../model/fields';
import { ofKind, type Network } from '../model/network';
import type { Condition } from '../model/condition';
import type { State } from '../model/state';
import { stationOf } from '../model/stations';
import { newTrial, newTrialFault, type Trial } from '../model/trial';
import { devicesOf, type Device } from '../protection/device';
import type { Studies } from '../studies/studies';
import { noFailures, type Failures } from './event';
import { Grid, GridProblem, placeKey } from './grid';
import { longestFaultS } from './limits';
import { actorsOf, play, type Actor, type Played } from './play';
import { pilotsOf, type Pilot } from './signals';
import { openingIn } from './trial';
import { judged, neededAround, verdicts, type Judged, type Verdict } from './verdict';

export const failing = ['breaker', 'device', 'battery', 'channel'] as const;
export type Failing = (typeof failing)[number];

export interface SearchOptions {
  readonly kinds: readonly FaultKind[];
  /** Ohms, as in `resistiveFault`. */
  readonly resistances: readonly number[];
  /** Places inside each line, evenly apart. */
  readonly alongLines: number;
  readonly outages: readonly (ElementId | null)[];
  /** What fails, one at a time; nothing: only the faults themselves. */
  readonly failing: readonly Failing[];
  /** Lines and busbars that are looked at; null: all. */
  readonly only: readonly ElementId[] | null;
}
export const usualSearch: SearchOptions = {
  kinds: faultKinds,
  resistances: [0],
  alongLines: 9,
  outages: [null],
  failing: [],
  only: null,
};

/** What a search is asked for by hand. */
export interface SearchSetup {
  readonly kinds: readonly FaultKind[];
  readonly alongLines: number;
  /** Ohms. */
  readonly resistance: number;
  readonly failing: readonly Failing[];
  /** Each line out of service in turn. */
  readonly lineOutages: boolean;
}

export const searchOptions = (
  network: Network,
  { kinds, alongLines, resistance, failing: fails, lineOutages }: SearchSetup,
): SearchOptions => ({
  ...usualSearch,
  kinds,
  alongLines,
  resistances: [resistance],
  failing: fails,
  outages: [null, ...(lineOutages ? ofKind(network, 'line').map(({ id }) => id) : [])],
});

/** `remoteBackup`: cleared by the right breakers, of which one stands at another station than those that ought to. */
export type Found = Exclude<Verdict, 'selective'> | 'remoteBackup';

export interface SearchFault {
  readonly place: Place;
  readonly kind: FaultKind;
  readonly resistance: number;
  readonly condition: ElementId;
  readonly outage: ElementId | null;
  readonly failures: Failures;
  readonly found: Found;
  readonly clearedS: number | null;
  readonly withinS: number;
  readonly extra: readonly ElementId[];
  readonly missing: readonly ElementId[];
  readonly lostVa: number;
  readonly energyA2s: number;
}

/** Faults that go wrong in the same way. */
export interface SearchGroup {
  readonly key: string;
  readonly found: Found;
  readonly failing: Failing | null;
  readonly extra: readonly ElementId[];
  readonly missing: readonly ElementId[];
  /** The worst first. */
  readonly faults: readonly SearchFault[];
  readonly harm: number;
}

export interface Search {
  readonly groups: readonly SearchGroup[];
  readonly played: number;
  readonly counts: Readonly<Record<Verdict, number>>;
  /** Places where a fault of some kind could not be computed, with why. */
  readonly problems: readonly string[];
}

/** One MVA without supply weighs as much as ten kA²s in the fault. */
export const harmOf = ({ lostVa, energyA2s }: Pick<SearchFault, 'lostVa' | 'energyA2s'>): number =>
  lostVa / 1e6 + energyA2s / 1e7;

/** Busbars, and places along lines. */
export function placesOf(network: Network, { alongLines, only }: Pick<SearchOptions, 'alongLines' | 'only'>): Place[] {
  const isAsked = (id: ElementId) => only === null || only.includes(id);
  return [
    ...ofKind(network, 'bus')
      .filter(({ id }) => isAsked(id))
      .map(({ id }): Place => ({ at: 'terminal', element: id, terminal: 0 })),
    ...ofKind(network, 'line')
      .filter(({ id }) => isAsked(id))
      .flatMap(({ id }) =>
        Array.from({ length: alongLines }, (_, k): Place => ({
          at: 'line',
          element: id,
          fraction: (k + 1) / (alongLines + 1),
        })),
      ),
  ];
}

/** Nothing is played beyond, in seconds: what is not cleared by then is not. */
const longestS = 60;

/** Yields the share that is done. */
export function* search(
  studies: Studies,
  conditions: readonly Condition[],
  options: SearchOptions,
): Generator<number, Search> {
  const { network } = studies;
  const devices = devicesOf(network);
  const found: SearchFault[] = [];
  const counts = Object.fromEntries(verdicts.map((each) => [each, 0])) as Record<Verdict, number>;
  const problems = new Set<string>();
  const places = placesOf(network, options);
  const states = conditions.flatMap(({ id: condition }): State[] =>
    options.outages.map((outage) => ({ condition, outage })),
  );
  const pilots = pilotsOf(studies);
  const actors = actorsOf(devices);
  let played = 0;
  for (const [s, state] of states.entries()) {
    const one = new Searched(studies, state, devices, actors, pilots);
    for (const [p, place] of places.entries()) {
      yield (s + p / places.length) / states.length;
      for (const kind of options.kinds)
        for (const resistance of options.resistances) {
          const fault: Disturbance = { type: 'shunt', place, ...resistiveFault(kind, resistance) };
          try {
            for (const each of one.all(fault, options.failing)) {
              played++;
              counts[each.judged.verdict]++;
              if (each.found === null) continue;
              const { extra, missing, lostVa, energyA2s, wanted } = each.judged;
              found.push({
                place,
                kind,
                resistance,
                condition: state.condition,
                outage: state.outage ?? null,
                failures: each.failures,
                found: each.found,
                clearedS: each.played.clearedS,
                withinS: wanted.withinS,
                extra,
                missing,
                lostVa,
                energyA2s,
              });
            }
          } catch (error) {
            if (!(error instanceof GridProblem)) throw error;
            error.problems.forEach(({ message }) => problems.add(message));
          }
        }
    }
  }
  return { groups: grouped(found), played, counts, problems: [...problems] };
}

interface Tried {
  readonly failures: Failures;
  readonly played: Played;
  readonly judged: Judged;
  readonly found: Found | null;
}

/** One state of the network, with what does not change from fault to fault. */
class Searched {
  private readonly grid: Grid;
  private readonly openingS: (element: ElementId) => number;
  private readonly stations = new Map<ElementId, ElementId | null>();
  private readonly needed = new Map<string, readonly ElementId[]>();
  private readonly limits = new Map<string, number>();

  constructor(
    private readonly studies: Studies,
    state: State,
    private readonly devices: readonly Device[],
    private readonly actors: readonly Actor[],
    private readonly pilots: readonly Pilot[],
  ) {
    this.grid = new Grid(studies, state, devices);
    this.openingS = openingIn(studies.network);
  }

  /** The fault alone, then with each failure of what took part. */
  *all(fault: Disturbance, failingOf: readonly Failing[]): Generator<Tried> {
    const base = this.try(fault, noFailures);
    yield base;
    if (failingOf.length === 0 || base.judged.verdict === 'noCurrent') return;
    for (const failures of this.failuresOf(base.played, failingOf)) yield this.try(fault, failures, base);
  }

  private try(fault: Disturbance, failures: Failures, base?: Tried): Tried {
    const { network } = this.studies;
    const place = fault.type === 'shunt' ? fault.place : null;
    const isPlain = failures === noFailures;
    const played = play({
      actors: isPlain ? this.actors : actorsOf(this.devices, failures),
      stand: this.grid,
      openingS: this.openingS,
      faults: [{ atS: 0, faults: [fault] }],
      failures,
      pilots: this.pilots,
      untilS: longestS,
    });
    const places = place ? [place] : [];
    const scene = { open: new Set(played.open), partly: new Map(played.partly), faults: [] };
    const wanted = {
      opens: this.neededFor(places, failures),
      withinS: this.limitFor(network, places, !isPlain),
    };
    const own = judged(played, this.devices, this.grid.supply, this.grid.supplied(scene), wanted, places);
    const found =
      own.verdict === 'selective' ? (base && this.isRemote(own, base) ? 'remoteBackup' : null) : own.verdict;
    return { failures, played, judged: own, found };
  }

  private neededFor(places: readonly Place[], failures: Failures): readonly ElementId[] {
    const key = JSON.stringify([places.map(placeOfNeed), failures.stuck, failures.dead]);
    let needed = this.needed.get(key);
    if (!needed) this.needed.set(key, (needed = neededAround(this.grid.supply, this.devices, places, failures)));
    return needed;
  }

  private limitFor(network: Network, places: readonly Place[], byBackup: boolean): number {
    const kv = Math.max(0, ...places.map((place) => this.grid.nominalKv(place)));
    const key = `${kv} ${byBackup}`;
    let limit = this.limits.get(key);
    if (limit === undefined) this.limits.set(key, (limit = longestFaultS(network, kv, byBackup)));
    return limit;
  }

  /** What took part in clearing, each failing by itself. */
  private *failuresOf({ events }: Played, failingOf: readonly Failing[]): Generator<Failures> {
    const ofKindIn = (kind: string, part: 'element' | 'device') => [
      ...new Set(events.flatMap((event) => (event.kind === kind && event[part] ? [event[part]] : []))),
    ];
    const tripped = [...ofKindIn('trip', 'device'), ...ofKindIn('melt', 'device')];
    if (failingOf.includes('breaker'))
      for (const id of ofKindIn('open', 'element')) if (this.isBreaker(id)) yield { ...noFailures, stuck: [id] };
    if (failingOf.includes('device'))
      for (const id of tripped) if (this.isRelay(id)) yield { ...noFailures, dead: [id] };
    if (failingOf.includes('battery')) {
      const rooms = new Set(tripped.filter((id) => this.isRelay(id)).map((id) => this.station(id)));
      for (const room of rooms) {
        if (room === null) continue;
        const dead = this.devices
          .filter(({ id, kind }) => kind === 'relay' && this.station(id) === room)
          .map(({ id }) => id);
        if (dead.length > 1) yield { ...noFailures, dead };
      }
    }
    if (failingOf.includes('channel')) {
      const sent = new Set(events.flatMap(({ kind, signal }) => (kind === 'receive' && signal ? [signal] : [])));
      for (const { id, name } of this.pilots) if (sent.has(name)) yield { ...noFailures, silent: [id] };
      for (const { device, stages } of this.actors) {
        const hears = stages.some(
          ({ fn }) => tripped.includes(device.id) && 'partners' in fn && fn.partners.length > 0,
        );
        if (hears) yield { ...noFailures, silent: [device.id] };
      }
    }
  }

  private isBreaker(id: ElementId): boolean {
    const element = this.studies.network.elements.get(id);
    return element?.kind === 'switch' && element.type !== 'fuse';
  }

  private isRelay(id: ElementId): boolean {
    return this.studies.network.elements.get(id)?.kind === 'relay';
  }

  private station(id: ElementId): ElementId | null {
    let known = this.stations.get(id);
    if (known === undefined) {
      const element = this.studies.network.elements.get(id);
      // A relay stands where its first breaker does.
      const at = element?.kind === 'relay' ? (element.circuits.at(0)?.breakers.at(0) ?? id) : id;
      this.stations.set(id, (known = stationOf(this.studies.network, at)?.id ?? null));
    }
    return known;
  }

  private isRemote({ opened }: Judged, base: Tried): boolean {
    const own = new Set(base.judged.wanted.opens.map((id) => this.station(id)));
    return opened.some((id) => !own.has(this.station(id)));
  }
}

/** All places inside a line are parted by the same breakers. */
const placeOfNeed = (place: Place): string => (place.at === 'line' ? place.element : placeKey(place));

const failingOf = ({ stuck, dead, silent }: Failures): Failing | null =>
  stuck.length > 0
    ? 'breaker'
    : dead.length > 1
      ? 'battery'
      : dead.length > 0
        ? 'device'
        : silent.length > 0
          ? 'channel'
          : null;

function grouped(list: readonly SearchFault[]): SearchGroup[] {
  const groups = new Map<string, SearchFault[]>();
  for (const each of list) {
    const which = failingOf(each.failures);
    const failed = [...each.failures.stuck, ...each.failures.dead, ...each.failures.silent].sort();
    const key = JSON.stringify([each.found, which, failed, [...each.extra].sort(), [...each.missing].sort()]);
    const group = groups.get(key);
    if (group) group.push(each);
    else groups.set(key, [each]);
  }
  return [...groups]
    .map(([key, faults]): SearchGroup => {
      const sorted = [...faults].sort((p, q) => harmOf(q) - harmOf(p));
      const { found, extra, missing, failures } = sorted[0];
      const harm = sorted.reduce((sum, each) => sum + harmOf(each), 0);
      return { key, found, failing: failingOf(failures), extra, missing, faults: sorted, harm };
    })
    .sort((p, q) => rank(p.found) - rank(q.found) || q.harm - p.harm);
}

/** What goes on burning comes first, what is only late last. */
const order: readonly Found[] = ['notCleared', 'wrongBreaker', 'tooMuchLost', 'tooSlow', 'remoteBackup', 'noCurrent'];
const rank = (found: Found): number => order.indexOf(found);

/** A fault of a search as a trial of its own. */
export function trialOf(fault: SearchFault, id: ElementId, name: string): Trial {
  const { place, kind, resistance, failures } = fault;
  const { phaseOhm, earthOhm } = resistiveFault(kind, resistance);
  return {
    ...newTrial(id, name, [
      newTrialFault({
        element: place.element,
        terminal: place.at === 'terminal' ? place.terminal : null,
        fraction: place.at === 'line' ? place.fraction : null,
        kind,
        phaseOhm: phaseOhm.re,
        earthOhm: earthOhm.re,
      }),
    ]),
    condition: fault.condition,
    outage: fault.outage,
    stuck: [...failures.stuck],
    dead: [...failures.dead],
    silent: [...failures.silent],
  };
}
