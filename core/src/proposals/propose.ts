/**
 * Settings by rule, for any number of devices: pickups between what rules ask at least and at most; times from the far end upward, each raised no further
 * than the margins over the devices below ask. What cannot be met is told as a conflict of two demands, and the more important one is kept. The
 * outcome does not depend on the order of the devices: times only rise, to the smallest that hold.
 */
import type { Condition } from '../model/condition';
import type { Studies } from '../studies/studies';
import { completed, lackDirection, missing, setAngles } from './directions';
import { outcome } from './outcome';
import { gradePickups, setPickups } from './pickups';
import type { Proposal, ProposeOptions } from './proposal';
import { grade, setTimes } from './times';
import { Work, type Ground } from './work';

/** Yields the share that is done. */
export function* propose(
  studies: Studies,
  conditions: readonly Condition[],
  options: ProposeOptions,
): Generator<number, Proposal> {
  let ground: Ground = { studies, stored: studies.network, given: new Map() };
  let work = new Work(ground, conditions, options);
  ground = completed(ground, missing(work));
  work = new Work(ground, conditions, options, work);
  yield* within(pickups(work), 0, 0.3);
  // A direction changes what a device sees: who stands above whom is judged with it.
  const directions = lackDirection(work);
  if (directions.length > 0) {
    ground = completed(ground, directions);
    work = new Work(ground, conditions, options, work);
    yield* within(pickups(work), 0.3, 0.4);
  }
  for (const [k, device] of work.devices.entries()) {
    yield 0.4 + (0.04 * k) / work.devices.length;
    setAngles(work, device);
    setTimes(work, device);
  }
  yield* grade(work);
  return outcome(work);
}

/** Who follows whom, and all pickups. */
function* pickups(work: Work): Generator<number, void> {
  yield* within(work.find(), 0, 0.55);
  for (const [k, device] of work.devices.entries()) {
    yield 0.55 + (0.4 * k) / work.devices.length;
    setPickups(work, device);
  }
  yield* within(gradePickups(work), 0.95, 1);
}

function* within(steps: Generator<number, void>, from: number, to: number): Generator<number, void> {
  for (const share of steps) yield from + (to - from) * share;
}
