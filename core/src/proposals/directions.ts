/** Functions that are missing, directions that are missing, and the angles of those that are there. */
import { withElements } from '../model/network';
import { timeCurrents, type Device } from '../protection/device';
import { type TimeCurrent } from '../protection/family';
import { familyOf } from '../protection/registry';
import { Studies } from '../studies/studies';
import { canBeDirected, missingFunctions, withDirected, withGiven } from './complete';
import { demandsOf, strictest, type Demand } from './demand';
import { kindsBehind } from './figures';
import { isHighStage, modeOf, stepsOf, subjectOf } from './slots';
import { directionWays } from './ways';
import { almost, conflictWords, curveKey, type Work, type Completion, type Ground } from './work';

const angleField = 'direction.characteristicAngleDeg';
/** To steps of 5°, as angles are commonly set: up, down, or the nearer one. */
const towardsRound = (degrees: number, way: 1 | -1 | 0): number =>
  5 *
  (way === 0 ? Math.round(degrees / 5) : way > 0 ? Math.ceil(degrees / 5 - almost) : Math.floor(degrees / 5 + almost));

/** Functions carry no current: the studies stay. */
export function completed({ studies, stored, given }: Ground, completions: readonly Completion[]): Ground {
  if (completions.length === 0) return { studies, stored, given };
  const elements = completions.map(({ element }) => element);
  return {
    studies: new Studies(withElements(studies.network, elements), { studies, changed: elements.map(({ id }) => id) }),
    stored,
    given: new Map([
      ...given,
      ...completions.flatMap(({ element, given: own }) => own.map(([fn, by]) => [`${element.id} ${fn}`, by] as const)),
    ]),
  };
}

/** Functions that rules ask for and that are not there. */
export function missing(work: Work): Completion[] {
  return work.devices.flatMap((device): Completion[] => {
    const plant = work.plantOf(device);
    const given = missingFunctions(work.book, device, plant, (mode) => work.figures(device, mode));
    if (given.length === 0) return [];
    return [{ element: withGiven(device.element, given), given: given.map(({ fn, by }) => [fn.id, by] as const) }];
  });
}

/** Functions that need a direction, of devices that measure a voltage. */
export function lackDirection(work: Work): Completion[] {
  return work.devices.flatMap((device): Completion[] => {
    const lacking = device.voltageAt ? undirected(work, device) : [];
    if (lacking.length === 0) return [];
    const ids = lacking.map(({ curve }) => curve.fn.id);
    return [
      {
        element: withDirected(device.element, ids),
        given: lacking.map(({ curve, demands }) => [curve.fn.id, demands] as const),
      },
    ];
  });
}

/** Functions whose pickup, as proposed, a fault behind reaches, while no higher one still sees the smallest ahead. */
function undirected(
  work: Work,
  device: Device,
): { readonly curve: TimeCurrent; readonly demands: readonly [Demand, Demand] }[] {
  if (device.kind !== 'relay') return [];
  const kinds = kindsBehind(work.plantOf(device));
  return timeCurrents(work.now(device)).flatMap((curve) => {
    const subject = subjectOf(curve);
    if (!subject || curve.measure || isHighStage(curve) || !canBeDirected(curve.fn)) return [];
    const figures = work.figures(device, modeOf(curve));
    const asked = strictest(demandsOf(work.book, subject, kinds, 'directed', figures), 'atLeast');
    const sees = strictest(demandsOf(work.book, subject, kinds, 'pickup', figures), 'atMost');
    const isNeeded = asked && sees && curve.pickupA < asked.value && sees.value < asked.value;
    return isNeeded ? [{ curve, demands: [sees, asked] as const }] : [];
  });
}

/** Characteristic angles of what looks forward: kept while they lie between what rules ask. Elsewhere, that a direction is missing. */
export function setAngles(work: Work, device: Device): void {
  const kinds = kindsBehind(work.plantOf(device));
  for (const { curve, demands } of undirected(work, device)) {
    const [sees, asked] = demands;
    const words = `${conflictWords(device, curve, sees, asked)}: no pickup tells faults ahead from faults behind`;
    const ways = directionWays(work.studies, work.conditions, device, curve);
    const short = asked.value - curve.pickupA;
    work.conflict(`direction ${curveKey(device, curve)}`, device, curve, demands, short, words, ways);
  }
  for (const curve of timeCurrents(work.now(device))) {
    const { fn } = curve;
    const subject = subjectOf(curve);
    if (!subject || fn.family !== 'overcurrent' || fn.direction?.looks !== 'forward') continue;
    const demands = demandsOf(work.book, subject, kinds, 'angle', work.figures(device, modeOf(curve)));
    const [low, high] = [strictest(demands, 'atLeast'), strictest(demands, 'atMost')];
    const setting = familyOf(fn)
      .settings(fn)
      .find(({ field }) => field === angleField)!;
    const value = setting.value;
    let to = Math.max(
      low ? towardsRound(low.value, 1) : -180,
      Math.min(high ? towardsRound(high.value, -1) : 180, value),
    );
    if (low && high && low.value > high.value) {
      const [kept, given] = low.importance < high.importance ? [low, high] : [high, low];
      // Of equal weight: half way, so that neither is missed by more.
      to = low.importance === high.importance ? Math.round((low.value + high.value) / 2) : towardsRound(kept.value, 0);
      const short = Math.abs(given.value - to);
      work.conflict(
        `angle ${curveKey(device, curve)}`,
        device,
        curve,
        [kept, given],
        short,
        conflictWords(device, curve, kept, given),
      );
    }
    if (to !== value)
      work.put(device, familyOf(fn).withSetting(fn, angleField, to), {
        field: angleField,
        setting,
        steps: stepsOf(setting),
        by: [low, high].flatMap((each) => each ?? []),
      });
  }
}
