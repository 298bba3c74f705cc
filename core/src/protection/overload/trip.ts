/**
 * The band of a motor overload release by its trip class. IEC 60947-4-1, Table 2, as remembered: the time from cold at 7.2 times the setting, and the warm
 * limit at 1.5 times; balanced, it does not trip at 1.05 times within two hours, and trips at 1.2 times. Between these it heats as a body of one time constant.
 */
import { never, ownInput, type Band, type TimeCurrent } from '../family';
import { coldTime, timeConstantFor } from '../thermal/image';
import type { OverloadFunction } from './schema';

/** Seconds at 7.2 times the setting from cold, not before and not after; latest at 1.5 times after load at the setting. */
export const tripTimes: Readonly<
  Record<OverloadFunction['tripClass'], { readonly from: number; readonly to: number; readonly warmS: number }>
> = {
  '5': { from: 0.5, to: 5, warmS: 120 },
  '10A': { from: 2, to: 10, warmS: 120 },
  '10': { from: 4, to: 10, warmS: 240 },
  '20': { from: 6, to: 20, warmS: 480 },
  '30': { from: 9, to: 30, warmS: 720 },
};

/** Multiples of the setting held for two hours from cold, and that trip within two hours after it. */
export const held = 1.05;
export const trips = 1.2;
export const testedAt = 7.2;

/** The slowest that its class allows, as a body with one time constant. */
export const lateOf = ({ tripClass }: Pick<OverloadFunction, 'tripClass'>) => ({
  constantS: timeConstantFor(trips, testedAt, tripTimes[tripClass].to),
  level: trips,
});

export function overloadCurve(fn: OverloadFunction): TimeCurrent {
  const early = timeConstantFor(held, testedAt, tripTimes[fn.tripClass].from);
  const late = lateOf(fn).constantS;
  return {
    fn,
    code: '49',
    input: fn.input ?? ownInput,
    quantity: 'phase',
    pickupA: held * fn.settingA,
    assuredA: trips * fn.settingA,
    cornersA: [held * fn.settingA, trips * fn.settingA],
    at: (currentA): Band => {
      const multiple = currentA / fn.settingA;
      if (!(multiple > held)) return never;
      return { earliestS: coldTime(early, held, multiple), latestS: coldTime(late, trips, multiple) };
    },
    accuracy: null,
    clears: true,
    remembered: 'IEC 60947-4-1, Table 2 (as remembered)',
  };
}
