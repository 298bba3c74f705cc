/** What ought to have happened, and what a trial makes of it. */
import type { ElementId } from '../model/fields';
import type { Place } from '../faults/solution/solve';
import { terminalKey } from '../model/topology';
import type { Device } from '../protection/device';
import type { Failures } from './event';
import type { Played } from './play';
import type { Supply, Supplied } from './supply';

/**
 * selective: the smallest set of breakers, in time; tooSlow: the right ones, later than wanted; tooMuchLost: others as well, and supply with them, or others because nothing
 * that looks towards the fault opens the nearest ones; wrongBreaker: others in the place of the right ones, whose devices look towards it; notCleared: the fault goes on; noCurrent: it draws none, so that nothing can see it.
 */
export const verdicts = ['selective', 'tooSlow', 'tooMuchLost', 'wrongBreaker', 'notCleared', 'noCurrent'] as const;
export type Verdict = (typeof verdicts)[number];

/** Switches that ought to open, and how long the fault may last. */
export interface Wanted {
  readonly opens: readonly ElementId[];
  readonly withinS: number;
}

export interface Judged {
  readonly verdict: Verdict;
  readonly wanted: Wanted;
  /** Everything that has opened, for good or for a time. */
  readonly opened: readonly ElementId[];
  /** Opened without need, and not opened though needed. */
  readonly extra: readonly ElementId[];
  readonly missing: readonly ElementId[];
  /** Loads lost beyond those that had to be, and their apparent power in VA. */
  readonly lost: readonly ElementId[];
  readonly lostVa: number;
  /** ∫I²·dt at the fault, in A²s, up to the end of what was played. */
  readonly energyA2s: number;
}

/** What devices that work could open: nearest around the fault. Breakers that fail do not count, nor does what nothing opens. */
export function neededAround(
  supply: Supply,
  devices: readonly Device[],
  places: readonly Place[],
  { stuck, dead }: Pick<Failures, 'stuck' | 'dead'>,
): readonly ElementId[] {
  const mayOpen = new Set(
    devices.flatMap(({ id, opens, functions }) =>
      dead.includes(id) || !functions.some(({ enabled }) => enabled) ? [] : opens,
    ),
  );
  for (const each of stuck) mayOpen.delete(each);
  return [...new Set(places.flatMap((place) => supply.around(place, mayOpen) ?? []))];
}

/** A fault that nothing clears counts as lasting so long at least, in seconds. */
const unclearedS = 10;

export function judged(
  played: Played,
  devices: readonly Device[],
  supply: Supply,
  supplied: Supplied,
  wanted: Wanted,
  places: readonly Place[],
): Judged {
  const around = new Set(wanted.opens);
  /** Whether a device that would open this breaker has the fault on its protected side. */
  const isMeant = (breaker: ElementId) =>
    devices.some(
      ({ opens, inputs: [input] }) =>
        input &&
        opens.includes(breaker) &&
        places.some((place) => supply.joins(around, terminalKey(input.through, input.towards), keyOfPlace(place))),
    );
  const opened = [
    ...new Set(played.events.flatMap(({ kind, element }) => (kind === 'open' && element ? [element] : []))),
  ];
  const extra = opened.filter((id) => !wanted.opens.includes(id));
  const missing = wanted.opens.filter((id) => !opened.includes(id));
  const least = supply.of(new Set(wanted.opens));
  const isSame = supplied === least;
  const before = new Set(least.lost);
  const lost = isSame ? [] : supplied.lost.filter((id) => !before.has(id));
  const left = new Set(isSame ? [] : supplied.buses);
  const fewer = isSame ? [] : least.buses.filter((id) => !left.has(id));
  const lostVa = supply.powerOf(lost);
  const verdict = (): Verdict => {
    if (played.outcome === 'noCurrent') return 'noCurrent';
    if (played.outcome === 'stillFed' || played.cutOff || played.clearedS === null) return 'notCleared';
    if (extra.length > 0 && missing.length > 0)
      return missing.some((id) => isMeant(id)) ? 'wrongBreaker' : 'tooMuchLost';
    if (extra.length > 0 && (lost.length > 0 || fewer.length > 0)) return 'tooMuchLost';
    return played.clearedS > wanted.withinS + 1e-9 ? 'tooSlow' : 'selective';
  };
  return { verdict: verdict(), wanted, opened, extra, missing, lost, lostVa, energyA2s: energyOf(played) };
}

const keyOfPlace = (place: Place) => terminalKey(place.element, place.at === 'line' ? 0 : place.terminal);

function energyOf({ intervals, endS: playedS, outcome }: Played): number {
  const endS = outcome === 'stillFed' ? Math.max(playedS, unclearedS) : playedS;
  return intervals.reduce((sum, { fromS, sight }, k) => {
    const toS = intervals[k + 1]?.fromS ?? endS;
    return sum + sight.largestA ** 2 * (toS - fromS);
  }, 0);
}
