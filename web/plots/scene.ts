/**
 * A plot as plain data: axes and marks in the units of the paper. The screen draws the same scene (`Marks`) as the PDF (`svg`), so that what is
 * issued is what was looked at.
 */
import { scaleLinear, scaleLog } from 'd3';
import { linearTicks, logTicks, type Extent, type Tick } from './ticks';

/** Colours by what they stand for; a number is the style of a curve, see `deviceStyles`. */
export type Ink =
  'ink' | 'muted' | 'grid' | 'gridStrong' | 'panel' | 'accent' | 'pass' | 'passSoft' | 'fail' | 'failSoft' | number;

export interface Point {
  readonly x: number;
  readonly y: number;
}

export type Mark =
  | {
      readonly kind: 'line';
      readonly points: readonly Point[];
      readonly ink: Ink;
      readonly width: number;
      readonly dash?: string;
      readonly opacity?: number;
      /** Not beyond the frame. */
      readonly clipped?: boolean;
      /** What it shows, for whoever looks for it by name. */
      readonly of?: string;
    }
  | {
      readonly kind: 'text';
      readonly at: Point;
      readonly text: string;
      readonly size: number;
      readonly ink: Ink;
      readonly anchor?: 'start' | 'middle' | 'end';
      readonly bold?: boolean;
      /** Key of what it names: a click on it chooses that. */
      readonly names?: string;
    }
  | {
      readonly kind: 'box';
      readonly at: Point;
      readonly width: number;
      readonly height: number;
      readonly fill: Ink | null;
      readonly line?: Ink;
      readonly radius?: number;
    }
  | {
      readonly kind: 'area';
      readonly points: readonly Point[];
      readonly ink: Ink;
      readonly opacity: number;
      readonly clipped?: boolean;
    }
  | { readonly kind: 'dot'; readonly at: Point; readonly radius: number; readonly ink: Ink };

export interface Axis {
  /** The same for axes that put every value at the same place. */
  readonly key: string;
  readonly extent: Extent;
  /** Place on the paper. */
  at(value: number): number;
  /** Value at a place on the paper. */
  valueAt(place: number): number;
  readonly ticks: readonly Tick[];
  readonly label: (value: number) => string;
}

interface AxisSpec {
  readonly extent: Extent;
  readonly label: (value: number) => string;
}

/** `unit`: the value that is one on the axis, where it is ruled and labelled in multiples of it. */
export function logAxis(
  { extent, label, labelled, unit = 1 }: AxisSpec & { readonly labelled?: readonly number[]; readonly unit?: number },
  range: readonly [number, number],
): Axis {
  const scale = scaleLog().domain([extent.from, extent.to]).range(range);
  const ticks = logTicks({ from: extent.from / unit, to: extent.to / unit }, labelled);
  return {
    key: `log ${extent.from} ${extent.to} ${range.join()} ${unit} ${labelled?.join('')}`,
    extent,
    at: (value) => scale(value),
    valueAt: (place) => scale.invert(place),
    ticks: ticks.map((tick) => ({ ...tick, value: tick.value * unit })),
    label: (value) => label(value / unit),
  };
}

export function linearAxis(
  { extent, label, count }: AxisSpec & { readonly count?: number },
  range: readonly [number, number],
): Axis {
  const scale = scaleLinear().domain([extent.from, extent.to]).range(range);
  return {
    key: `linear ${extent.from} ${extent.to} ${range.join()} ${count}`,
    extent,
    at: (value) => scale(value),
    valueAt: (place) => scale.invert(place),
    ticks: linearTicks(extent, count),
    label,
  };
}

export interface Paper {
  readonly width: number;
  readonly height: number;
  readonly margin: { readonly top: number; readonly right: number; readonly bottom: number; readonly left: number };
  /** Of ordinary text. */
  readonly text: number;
  /** Width of a letter as a part of its size; of the font that is used, about. */
  readonly letter?: number;
}

export interface Scene {
  readonly paper: Paper;
  readonly marks: readonly Mark[];
}

export interface Frame {
  readonly left: number;
  readonly right: number;
  readonly top: number;
  readonly bottom: number;
}

export const frameOf = ({ width, height, margin }: Paper): Frame => ({
  left: margin.left,
  right: width - margin.right,
  top: margin.top,
  bottom: height - margin.bottom,
});

export const acrossOf = (paper: Paper): [number, number] => [frameOf(paper).left, frameOf(paper).right];
export const upOf = (paper: Paper): [number, number] => [frameOf(paper).bottom, frameOf(paper).top];

/** About how wide a text comes to be. */
export const widthOf = (paper: Paper, text: string, size = paper.text): number =>
  text.length * size * (paper.letter ?? 0.6);

const thin = 0.7;

/** Rules and texts of both axes. */
export function gridOf(paper: Paper, x: Axis, y: Axis): Mark[] {
  const { left, right, top, bottom } = frameOf(paper);
  const size = paper.text;
  const rule = (from: Point, to: Point, strong: boolean): Mark => ({
    kind: 'line',
    points: [from, to],
    ink: strong ? 'gridStrong' : 'grid',
    width: thin,
  });
  return [
    ...x.ticks.flatMap(({ value, major, strong }): Mark[] => {
      const at = x.at(value);
      const text = x.label(value);
      // The last one must not stand out over the edge of the paper.
      const anchor = at + widthOf(paper, text) / 2 > paper.width ? ('end' as const) : ('middle' as const);
      const under: Mark = { kind: 'text', at: { x: at, y: bottom + 1.4 * size }, text, size, ink: 'ink', anchor };
      return [rule({ x: at, y: top }, { x: at, y: bottom }, strong), ...(major ? [under] : [])];
    }),
    ...y.ticks.flatMap(({ value, major, strong }): Mark[] => {
      const at = y.at(value);
      const text = y.label(value);
      const beside: Mark = {
        kind: 'text',
        at: { x: left - 6, y: at + 0.36 * size },
        text,
        size,
        ink: 'ink',
        anchor: 'end',
      };
      return [rule({ x: left, y: at }, { x: right, y: at }, strong), ...(major ? [beside] : [])];
    }),
  ];
}

/** The frame around what is plotted. */
export function border(paper: Paper): Mark {
  const { left, right, top, bottom } = frameOf(paper);
  return { kind: 'box', at: { x: left, y: top }, width: right - left, height: bottom - top, fill: null, line: 'muted' };
}

/** What the axes are about, under the plot. */
export const caption = (paper: Paper, text: string): Mark => ({
  kind: 'text',
  at: { x: frameOf(paper).right, y: paper.height - 3 },
  text,
  size: paper.text,
  ink: 'muted',
  anchor: 'end',
});

/**
 * What was made of something last, as long as it is made of the same thing for the same key: while one curve of a plot is dragged, all others keep their marks, and
 * with them their paths and their elements.
 */
export function kept<K extends object, T>(): (of: K, key: string, make: () => T) => T {
  const known = new WeakMap<K, { readonly key: string; readonly made: T }>();
  return (of, key, make) => {
    const last = known.get(of);
    if (last?.key === key) return last.made;
    const made = make();
    known.set(of, { key, made });
    return made;
  };
}
