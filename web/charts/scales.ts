/** Logarithmic axes of time–current charts: extents, ticks and their labels. Shared by the screen and the PDF. */
import { scaleLog, type ScaleLogarithmic } from 'd3';

export type LogScale = ScaleLogarithmic<number, number>;

export interface Extent {
  from: number;
  to: number;
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

export const logScale = ({ from, to }: Extent, range: [number, number]): LogScale =>
  scaleLog().domain([from, to]).range(range);

/** Every 1…9 of each decade inside the extent; `major` are those to be labelled. */
export function logTicks(
  { from, to }: Extent,
  labelled: readonly number[] = [1, 2, 5],
): { value: number; major: boolean; decade: boolean }[] {
  const ticks = [];
  for (let decade = Math.floor(Math.log10(from)); decade <= Math.ceil(Math.log10(to)); decade++)
    for (let digit = 1; digit <= 9; digit++) {
      const value = Number((digit * 10 ** decade).toPrecision(2));
      if (value >= from * (1 - 1e-9) && value <= to * (1 + 1e-9))
        ticks.push({ value, major: labelled.includes(digit), decade: digit === 1 });
    }
  return ticks;
}

export const currentLabel = (amperes: number): string =>
  amperes >= 1000 ? `${Number((amperes / 1000).toPrecision(3))} kA` : `${Number(amperes.toPrecision(3))} A`;
export const timeLabel = (seconds: number): string => String(Number(seconds.toPrecision(3)));
