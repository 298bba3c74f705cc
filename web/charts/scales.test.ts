import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { currentLabel, logExtent, logScale, logTicks } from './scales';

describe('axes of a time–current chart', () => {
  it('hold all values, and at least a decade', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: 1e-3, max: 1e6, noNaN: true }), { minLength: 1 }), (values) => {
        const { from, to } = logExtent(values, { from: 1, to: 10 });
        expect(Math.min(...values)).toBeGreaterThanOrEqual(from);
        expect(Math.max(...values)).toBeLessThanOrEqual(to);
        expect(to / from).toBeGreaterThanOrEqual(10 * (1 - 1e-9));
      }),
    );
    expect(logExtent([NaN, 0, -1, Infinity], { from: 1, to: 10 })).toEqual({ from: 1, to: 10 });
  });
  it('tick 1 to 9 in each decade', () => {
    const ticks = logTicks({ from: 0.01, to: 1 });
    expect(ticks).toHaveLength(19);
    expect(ticks.filter((tick) => tick.decade).map((tick) => tick.value)).toEqual([0.01, 0.1, 1]);
    expect(currentLabel(1500)).toBe('1.5 kA');
  });
  it('a decade has the same width everywhere', () => {
    const x = logScale({ from: 10, to: 1000 }, [0, 200]);
    expect(x(100)).toBeCloseTo(100, 9);
  });
});
