import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { newElement } from '@mesura/core/model/defaults';
import { elementId } from '@mesura/core/model/fields';
import { genericRelays, newFunction } from '@mesura/core/protection/overcurrent/library';
import { functionTime, primaryRelay } from '@mesura/core/protection/overcurrent/relay';
import { isSettable } from '@mesura/core/protection/overcurrent/settings';
import { dragTo, stepBy } from './dragging';

const fn = newFunction(elementId('f'), '51', genericRelays[0].ranges);
const ct = newElement('currentTransformer', elementId('ct'), 'CT', { primaryA: 400 });
const relay = newElement('relay', elementId('r'), 'R', { functions: [fn] });
const timeAt = (dragged: typeof relay, primaryA: number) =>
  functionTime(primaryRelay(dragged, ct).functions[0], primaryA);

describe('dragging a curve', () => {
  it('lands on steps of the device, near the pointer, wherever the pointer goes', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 1, max: 1e5, noNaN: true }),
        fc.double({ min: 0.001, max: 1000, noNaN: true }),
        fc.double({ min: 0.01, max: 10, noNaN: true }),
        (chartA, timeS, factor) => {
          const sideways = dragTo(relay, fn, 'pickup', { chartA, timeS }, factor, 400).functions[0];
          expect(isSettable(fn.ranges.pickup, sideways.pickup)).toBe(true);
          const wanted = chartA / factor / 400;
          if (wanted >= fn.ranges.pickup.min && wanted <= fn.ranges.pickup.max)
            expect(Math.abs(sideways.pickup - wanted)).toBeLessThanOrEqual(0.005 + 1e-9);
          const upright = dragTo(relay, fn, 'time', { chartA, timeS }, factor, 400);
          expect(isSettable(fn.ranges.timeMultiplier, upright.functions[0].timeMultiplier)).toBe(true);
          const multiplier = upright.functions[0].timeMultiplier;
          const primaryA = chartA / factor;
          if (primaryA > 1.1 * fn.pickup * 400 && multiplier > 0.05 && multiplier < 3) {
            const step = timeAt(upright, primaryA) / multiplier / 100;
            expect(Math.abs(timeAt(upright, primaryA) - timeS)).toBeLessThanOrEqual(step * 0.51);
          }
        },
      ),
    );
  });
  it('moves the delay of a definite-time function', () => {
    const high = newFunction(elementId('h'), '50', genericRelays[0].ranges);
    expect(
      dragTo({ ...relay, functions: [high] }, high, 'time', { chartA: 1, timeS: 0.1234 }, 1, 400).functions[0].delayS,
    ).toBe(0.12);
  });
  it('steps stop at the end of the range', () => {
    expect(stepBy(relay, fn, 'timeMultiplier', 1).functions[0].timeMultiplier).toBe(0.31);
    expect(stepBy(relay, fn, 'timeMultiplier', -1000).functions[0].timeMultiplier).toBe(0.05);
  });
});
