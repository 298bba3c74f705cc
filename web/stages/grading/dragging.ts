/** Dragging a curve: from a place on the chart to a setting that the device has. Pure. */
import type { OvercurrentFunction, Relay } from '@mesura/core/model/protection';
import { characteristics, timeMultiplierFor } from '@mesura/core/protection/overcurrent/characteristics';
import { isDefinite } from '@mesura/core/protection/overcurrent/relay';
import { snap } from '@mesura/core/protection/overcurrent/settings';
import { withFunction } from '@mesura/core/grading/proposal';
import type { SettingField } from './FunctionRow';

export type Grip = 'pickup' | 'time';

/** The field that a grip moves. */
export const fieldOf = (fn: OvercurrentFunction, grip: Grip): SettingField =>
  grip === 'pickup' ? 'pickup' : isDefinite(fn) ? 'delayS' : 'timeMultiplier';

/**
 * The relay with the function moved so that its pickup lies at `chartA`, or its curve passes through (`chartA`, `timeS`); settings
 * snap to the device's steps. `factor`: amperes on the chart for one primary ampere.
 */
export function dragTo(
  relay: Relay,
  fn: OvercurrentFunction,
  grip: Grip,
  place: { chartA: number; timeS: number },
  factor: number,
  ctPrimaryA: number,
): Relay {
  const primaryA = place.chartA / factor;
  if (grip === 'pickup') return withFunction(relay, { ...fn, pickup: snap(fn.ranges.pickup, primaryA / ctPrimaryA) });
  if (isDefinite(fn)) return withFunction(relay, { ...fn, delayS: snap(fn.ranges.delayS, place.timeS) });
  const multiple = Math.max(primaryA / (fn.pickup * ctPrimaryA), 1.02);
  const wanted = timeMultiplierFor(characteristics[fn.characteristic].constants!, multiple, place.timeS);
  return wanted === null
    ? relay
    : withFunction(relay, { ...fn, timeMultiplier: snap(fn.ranges.timeMultiplier, wanted) });
}

/** One step of the device up or down. */
export function stepBy(relay: Relay, fn: OvercurrentFunction, field: SettingField, steps: number): Relay {
  const range = fn.ranges[field];
  return withFunction(relay, { ...fn, [field]: snap(range, fn[field] + steps * range.step) });
}
