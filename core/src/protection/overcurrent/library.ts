/** Generic overcurrent devices to start from; no maker, no model. */
import type { ElementId } from '../../model/fields';
import { numericalRanges, plainOvercurrent } from '../../model/feederFunctions';
import { firstInput } from '../../model/upgrade';
import type { FunctionCode, OvercurrentFunction } from './schema';

export interface GenericRelay {
  readonly title: string;
  readonly ranges: OvercurrentFunction['ranges'];
}

export const genericRelays: readonly GenericRelay[] = [
  {
    title: 'Numerical feeder relay',
    ranges: numericalRanges,
  },
  {
    title: 'Electromechanical disc relay',
    ranges: {
      pickup: { min: 0.5, max: 2, step: 0.25 },
      timeMultiplier: { min: 0.1, max: 1, step: 0.05 },
      delayS: { min: 0.05, max: 1, step: 0.05 },
    },
  },
];

/** Careful pickups to begin with, in multiples of the rated current. */
const starts: Readonly<Record<FunctionCode, number>> = {
  '51': 1.2,
  '50': 10,
  '51N': 0.2,
  '50N': 2,
  '51G': 0.1,
  '50G': 1,
  '46': 0.2,
  '67': 0.6,
  '67N': 0.1,
  '51V': 1.2,
  '48': 2,
  '51LR': 2,
};

/**
 * Ahead of the polarising voltage: phases by the voltage of the other two, which lags their own by 90°; residual by −3U0, through the line's own angle.
 */
const angles: Partial<Record<FunctionCode, number>> = { '67': 45, '67N': -45 };

/** A new function with the ranges of a device and careful values. */
export function newFunction(
  id: ElementId,
  code: FunctionCode,
  ranges: OvercurrentFunction['ranges'],
  input: ElementId | null = firstInput as ElementId,
): OvercurrentFunction {
  const highSet = code.startsWith('50');
  const definite = highSet || code === '48' || code === '51LR';
  const angle = angles[code];
  return plainOvercurrent({
    id,
    code,
    input,
    characteristic: definite ? 'definite' : 'iecA',
    pickup: Math.min(ranges.pickup.max, starts[code]),
    timeMultiplier: Math.max(0.3, ranges.timeMultiplier.min),
    delayS: highSet ? 0.05 : definite ? 10 : 0.3,
    ranges,
    direction:
      angle === undefined
        ? null
        : {
            looks: 'forward',
            characteristicAngleDeg: angle,
            sectorDeg: 88,
            minPolarisingPercent: 1,
            withoutVoltage: 'memory',
          },
    voltage: code === '51V' ? { mode: 'restrained', belowPercent: 80, factor: 0.4 } : null,
  });
}
