/**
 * An arc at a place, from its beginning until everything that feeds it has opened: played like any fault, with the current that the arc draws instead of the bolted one. The
 * arc is the resistance that makes the circuit give the arcing current of the bolted current of the moment; so every device sees its own share, with its angle.
 */
import { magnitude, type Complex } from '../linear/complex';
import type { Disturbance, Place } from '../faults/solution/solve';
import type { ElementId } from '../model/fields';
import { noFailures } from '../trials/event';
import type { Grid, Scene, Sight } from '../trials/grid';
import { play, type Actor, type Played, type Stand } from '../trials/play';
import type { Pilot } from '../trials/signals';

/** What the arc draws of a bolted current, both in kA. */
export type ArcingOf = (boltedKa: number) => number;

/** Ohms in each phase that make `boltedKa` behind `z` fall to `arcingKa`. */
export function arcOhm(z: Complex, boltedKa: number, arcingKa: number): number {
  const size = magnitude(z);
  const ratio = boltedKa / arcingKa;
  if (!(ratio > 1)) return 0;
  const [cos, sin] = [z.re / size, z.im / size];
  return size * (Math.sqrt(Math.max(ratio ** 2 - sin ** 2, 0)) - cos);
}

export const arcAt = (place: Place, ohm = 0): Disturbance => ({
  type: 'shunt',
  place,
  kind: '3ph',
  odd: 0,
  phaseOhm: { re: ohm, im: 0 },
  earthOhm: { re: 0, im: 0 },
});

/** A grid with an arc in it. */
export class ArcStand implements Stand {
  constructor(
    /** By how often the reactances of generators have passed on. */
    private readonly grids: readonly Grid[],
    private readonly place: Place,
    private readonly arcingOf: ArcingOf,
  ) {}

  look(scene: Scene): Sight {
    const grid = this.grids[Math.min(scene.decay ?? 0, this.grids.length - 1)];
    const bolted = grid.look({ ...scene, faults: [arcAt(this.place)] });
    const boltedA = bolted.largestA;
    // With a link molten in one phase the rest burns on: its impedance is taken as it was.
    if (!bolted.z1 || !(boltedA > 0)) return { ...bolted, boltedA };
    const ohm = arcOhm(bolted.z1, boltedA / 1000, this.arcingOf(boltedA / 1000));
    return { ...grid.look({ ...scene, faults: [arcAt(this.place, ohm)] }), boltedA };
  }
}

/** A time over which the current stays. */
export interface CourseStage {
  readonly fromS: number;
  readonly toS: number;
  readonly boltedKa: number;
  readonly arcingKa: number;
}

/** A device that opened something while the arc burned. */
export interface Opening {
  readonly device: ElementId;
  readonly fn: ElementId;
  readonly code: string;
  readonly element: ElementId;
  readonly trippedS: number;
  readonly openedS: number;
}

export interface Course {
  readonly stages: readonly CourseStage[];
  /** How long it burned, at most for the longest time. */
  readonly burnsS: number;
  /** Nothing cleared it within the longest time. */
  readonly limited: boolean;
  readonly openings: readonly Opening[];
  /** Whose opening ended it; null where nothing did. */
  readonly governing: Opening | null;
  readonly played: Played;
}

export interface CourseSetup {
  /** Of the network at the beginning, then as generators decay. */
  readonly grids: readonly Grid[];
  readonly decayAtS: readonly number[];
  readonly actors: readonly Actor[];
  readonly pilots: readonly Pilot[];
  readonly openingS: (element: ElementId) => number;
  readonly motorsFeedS: number | null;
  readonly longestS: number;
}

export function courseOf(setup: CourseSetup, place: Place, arcingOf: ArcingOf): Course {
  const { grids, decayAtS, actors, pilots, openingS, motorsFeedS, longestS } = setup;
  const played = play({
    actors,
    stand: new ArcStand(grids, place, arcingOf),
    openingS,
    faults: [{ atS: 0, faults: [arcAt(place)] }],
    failures: noFailures,
    pilots,
    motorsFeedS,
    decayAtS,
    untilS: longestS,
  });
  const { intervals, events } = played;
  const stages: CourseStage[] = [];
  intervals.forEach(({ fromS, sight }, k) => {
    const toS = Math.min(intervals.at(k + 1)?.fromS ?? Infinity, longestS);
    // What motors alone feed once the sources are gone dies away within a few cycles.
    if (!sight.fed || !(toS > fromS)) return;
    const [boltedKa, arcingKa] = [(sight.boltedA ?? 0) / 1000, sight.largestA / 1000];
    const last = stages.at(-1);
    // An event that changes no current begins no stage.
    if (last && last.toS === fromS && Math.abs(last.boltedKa - boltedKa) < 1e-9 * boltedKa)
      stages[stages.length - 1] = { ...last, toS };
    else stages.push({ fromS, toS, boltedKa, arcingKa });
  });
  const openings = events.flatMap((event): Opening[] => {
    if (event.kind !== 'open' || event.because === null || !event.element) return [];
    const cause = events[event.because];
    if (!cause.device || !cause.fn) return [];
    return [
      {
        device: cause.device,
        fn: cause.fn,
        code: cause.code ?? '',
        element: event.element,
        trippedS: cause.atS,
        openedS: event.atS,
      },
    ];
  });
  const gone = events.filter(({ kind }) => kind === 'gone').at(-1);
  const limited = played.outcome === 'stillFed';
  const last = gone && !limited ? openings.filter(({ openedS }) => openedS <= gone.atS + 1e-9).at(-1) : undefined;
  return {
    stages,
    burnsS: stages.reduce((sum, { fromS, toS }) => sum + toS - fromS, 0),
    limited,
    openings,
    governing: last ?? null,
    played,
  };
}
