/** Overcurrent functions of a numerical feeder relay, with settings to begin with: what a drawing places, and what more particular ones are made of. */
import type { FunctionOf } from '../protection/schemas';
import type { ElementId } from './fields';
import { firstInput } from './upgrade';

type Overcurrent = FunctionOf<'overcurrent'>;

export const numericalRanges: Overcurrent['ranges'] = {
  pickup: { min: 0.05, max: 40, step: 0.01 },
  timeMultiplier: { min: 0.05, max: 3, step: 0.01 },
  delayS: { min: 0, max: 60, step: 0.01 },
};

/** A function with nothing particular about it. */
export const plainOvercurrent = (
  over: Pick<Overcurrent, 'id' | 'code' | 'pickup'> & Partial<Overcurrent>,
): Overcurrent => ({
  family: 'overcurrent',
  input: firstInput as ElementId,
  circuits: [],
  enabled: true,
  characteristic: 'iecA',
  timeMultiplier: 0.3,
  delayS: 0.3,
  ranges: numericalRanges,
  own: null,
  points: null,
  reset: 'instant',
  resetS: 0,
  dependentTo: 20,
  errorPercent: 5,
  errorS: 0.01,
  overshootS: 0.03,
  direction: null,
  voltage: null,
  operations: 'all',
  ...over,
});

/** What a feeder relay has as a rule: delayed and undelayed overcurrent of the phases, delayed earth fault. */
export const usualFunctions: readonly Overcurrent[] = [
  plainOvercurrent({ id: 'usual-51' as ElementId, code: '51', pickup: 1.2 }),
  plainOvercurrent({ id: 'usual-50' as ElementId, code: '50', pickup: 10, characteristic: 'definite', delayS: 0.05 }),
  plainOvercurrent({ id: 'usual-51n' as ElementId, code: '51N', pickup: 0.2 }),
];
