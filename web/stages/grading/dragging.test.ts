import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { newElement } from '@mesura/core/model/defaults';
import { elementId } from '@mesura/core/model/fields';
import { genericRelays, newFunction } from '@mesura/core/protection/overcurrent/library';
import { networkOf } from '@mesura/core/model/network';
import { currentInput } from '@mesura/core/model/protection';
import { deviceFrom, timeCurrents, type DeviceElement } from '@mesura/core/protection/device';
import type { OvercurrentFunction } from '@mesura/core/protection/overcurrent/schema';
import { isSettable } from '@mesura/core/protection/settings/range';
import { dragTo, settingOf, stepBy } from './dragging';

const fn = newFunction(elementId('f'), '51', genericRelays[0].ranges);
const ct = newElement('currentTransformer', elementId('ct'), 'CT', { primaryA: 400 });
const relay = newElement('relay', elementId('r'), 'R', { inputs: [currentInput(ct.id)], functions: [fn] });
const deviceOf = (element: DeviceElement) => deviceFrom(networkOf([ct, element]), element)!;
const device = deviceOf(relay);
const first = (element: DeviceElement) => element.functions[0] as OvercurrentFunction;
const timeAt = (dragged: DeviceElement, primaryA: number) => timeCurrents(deviceOf(dragged))[0].at(primaryA).latestS;

describe('dragging a curve', () => {
  it('lands on steps of the device, near the pointer, wherever the pointer goes', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 1, max: 1e5, noNaN: true }),
        fc.double({ min: 0.001, max: 1000, noNaN: true }),
        fc.double({ min: 0.01, max: 10, noNaN: true }),
        (chartA, timeS, factor) => {
          const sideways = first(dragTo(device, fn, 'pickup', { chartA, timeS }, factor));
          expect(isSettable(fn.ranges.pickup, sideways.pickup)).toBe(true);
          const wanted = chartA / factor / 400;
          if (wanted >= fn.ranges.pickup.min && wanted <= fn.ranges.pickup.max)
            expect(Math.abs(sideways.pickup - wanted)).toBeLessThanOrEqual(0.005 + 1e-9);
          const upright = dragTo(device, fn, 'time', { chartA, timeS }, factor);
          expect(isSettable(fn.ranges.timeMultiplier, first(upright).timeMultiplier)).toBe(true);
          const multiplier = first(upright).timeMultiplier;
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
    const own = deviceOf({ ...relay, functions: [high] });
    expect(first(dragTo(own, high, 'time', { chartA: 1, timeS: 0.1234 }, 1)).delayS).toBe(0.12);
  });
  it('steps stop at the end of the range', () => {
    expect(first(stepBy(device, fn, settingOf(fn, 'time')!, 1)).timeMultiplier).toBe(0.31);
    expect(first(stepBy(device, fn, settingOf(fn, 'time')!, -1000)).timeMultiplier).toBe(0.05);
  });
});
