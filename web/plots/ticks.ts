/** Extents of axes, where they are ruled and what stands there. */
import { ticks as roundTicks } from 'd3';

export interface Extent {
  readonly from: number;
  readonly to: number;
}

export interface Tick {
  readonly value: number;
  /** Written beside it. */
  readonly major: boolean;
  /** Ruled more strongly: full decades, nought. */
  readonly strong: boolean;
}

/** Extent that holds all values, with some room, from full to full half-decade; `fallback` when there are none. */
export function logExtent(values: readonly number[], fallback: Extent): Extent {
  const usable = values.filter((value) => Number.isFinite(value) && value > 0);
  if (usable.length === 0) return fallback;
  const from = roundLog(Math.min(...usable) / 1.15, Math.floor);
  const to = roundLog(Math.max(...usable) * 1.15, Math.ceil);
  return { from, to: Math.max(to, from * 10) };
}

const anchors = [1, 2, 5, 10];

function roundLog(value: number, direction: (x: number) => number): number {
  const decade = 10 ** Math.floor(Math.log10(value));
  const mantissa = value / decade;
  const fitting =
    direction === Math.floor
      ? anchors.filter((a) => a <= mantissa * (1 + 1e-12)).at(-1)!
      : anchors.find((a) => a >= mantissa * (1 - 1e-12))!;
  return fitting * decade;
}

/** Extent from nought that holds all values with a little room, to a full tick; `fallback` when none is above nought. */
export function extentFromNought(values: readonly number[], fallback: Extent, count = 5): Extent {
  const most = Math.max(0, ...values.filter(Number.isFinite));
  if (most === 0) return fallback;
  const [, step = most] = roundTicks(0, most * 1.05, count);
  return { from: 0, to: step * Math.ceil((most * 1.05) / step - 1e-9) };
}

/** Every 1…9 of each decade inside the extent; written are the digits in `labelled`. */
export function logTicks({ from, to }: Extent, labelled: readonly number[] = [1, 2, 5]): Tick[] {
  const ticks = [];
  for (let decade = Math.floor(Math.log10(from)); decade <= Math.ceil(Math.log10(to)); decade++)
    for (let digit = 1; digit <= 9; digit++) {
      const value = Number((digit * 10 ** decade).toPrecision(2));
      if (value >= from * (1 - 1e-9) && value <= to * (1 + 1e-9))
        ticks.push({ value, major: labelled.includes(digit), strong: digit === 1 });
    }
  return ticks;
}

/** About so many round values from end to end. */
export const linearTicks = ({ from, to }: Extent, count = 5): Tick[] =>
  roundTicks(from, to, count).map((value) => ({ value, major: true, strong: value === 0 }));

export const currentLabel = (amperes: number): string =>
  amperes >= 1000 ? `${Number((amperes / 1000).toPrecision(3))} kA` : `${Number(amperes.toPrecision(3))} A`;
export const timeLabel = (seconds: number): string => `${Number(seconds.toPrecision(3))} s`;
export const multipleLabel = (multiple: number): string => `${Number(multiple.toPrecision(3))} ×`;
export function energyLabel(a2s: number): string {
  const [unit, prefix] = a2s >= 1e9 ? [1e9, 'G'] : a2s >= 1e6 ? [1e6, 'M'] : a2s >= 1e3 ? [1e3, 'k'] : [1, ''];
  return `${Number((a2s / unit).toPrecision(3))} ${prefix}A²s`;
}
