/** Generic overcurrent devices to start from; no maker, no model. */
import type { ElementId } from '../../model/fields';
import type { FunctionCode, OvercurrentFunction } from '../../model/protection';

export interface GenericRelay {
  readonly title: string;
  readonly ranges: OvercurrentFunction['ranges'];
}

export const genericRelays: readonly GenericRelay[] = [
  {
    title: 'Numerical feeder relay',
    ranges: {
      pickup: { min: 0.05, max: 40, step: 0.01 },
      timeMultiplier: { min: 0.05, max: 3, step: 0.01 },
      delayS: { min: 0, max: 60, step: 0.01 },
    },
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

/** A new function with the ranges of a device and careful values. */
export function newFunction(
  id: ElementId,
  code: FunctionCode,
  ranges: OvercurrentFunction['ranges'],
): OvercurrentFunction {
  const highSet = code.startsWith('50');
  return {
    id,
    code,
    enabled: true,
    characteristic: highSet ? 'definite' : 'iecA',
    pickup: Math.min(ranges.pickup.max, code === '51' ? 1.2 : code === '50' ? 10 : code === '51N' ? 0.2 : 2),
    timeMultiplier: Math.max(0.3, ranges.timeMultiplier.min),
    delayS: highSet ? 0.05 : 0.3,
    ranges,
  };
}
