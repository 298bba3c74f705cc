import { describe, expect, it } from 'vitest';
import { isSettable, snap, snapUp } from './range';

const range = { min: 0.05, max: 2.4, step: 0.05 };

describe('a range with steps', () => {
  it('snaps to the nearest, within its ends', () => {
    expect([0.3, 0.312, 0.326, 0, 9, Number.NaN, -Infinity].map((value) => snap(range, value))).toEqual([
      0.3, 0.3, 0.35, 0.05, 2.4, 0.05, 0.05,
    ]);
    // A last step that does not fit ends at the end.
    expect(snap({ min: 0, max: 1, step: 0.3 }, 0.99)).toBe(0.9);
    expect(snap({ min: 0, max: 1, step: 0.4 }, 1)).toBe(1);
    expect(snap({ min: 0.5, max: 20, step: 0.5 }, 7.3)).toBe(7.5);
    expect(snap({ min: 0.001, max: 1, step: 0.25 }, 0.4)).toBe(0.501);
    expect(snap({ min: 0, max: 1, step: 1e-4 }, 0.12346)).toBe(0.1235);
    expect(snap({ min: 0, max: 9, step: 1 / 3 }, 0.3)).toBeCloseTo(1 / 3, 9);
  });
  it('upwards never falls below what is asked, and ends with the range', () => {
    expect([0.3, 0.301, 0.349, 0.35, 0.01, -4].map((value) => snapUp(range, value))).toEqual([
      0.3, 0.35, 0.35, 0.35, 0.05, 0.05,
    ]);
    expect(snapUp(range, 2.4)).toBe(2.4);
    expect(snapUp(range, 2.36)).toBe(2.4);
    expect(snapUp(range, 2.41)).toBeNull();
    // The next step above would pass the end, though the value does not.
    expect(snapUp({ min: 0, max: 1, step: 0.3 }, 0.95)).toBeNull();
    expect(snapUp({ min: 0, max: 1, step: 0.3 }, 0.9)).toBe(0.9);
    // Rounding of what was computed does not cost a step.
    expect(snapUp(range, 0.1 + 0.2)).toBe(0.3);
    expect(snapUp({ min: 1, max: 9, step: 2 }, 4)).toBe(5);
    expect(snapUp({ min: 1, max: 9, step: 2 }, 9 * (1 + 1e-13))).toBe(9);
    expect(snapUp({ min: 0.001, max: 1, step: 0.25 }, 0.3)).toBe(0.501);
  });
  it('knows what can be set', () => {
    expect([0.05, 0.3, 2.4, 0.1 + 0.2].map((value) => isSettable(range, value))).toEqual([true, true, true, true]);
    expect([0.31, 0, 2.45, 0.3 + 1e-6, Number.NaN].map((value) => isSettable(range, value))).toEqual([
      false,
      false,
      false,
      false,
      false,
    ]);
    expect(isSettable(range, 0.3 + 4e-8)).toBe(true);
  });
});
