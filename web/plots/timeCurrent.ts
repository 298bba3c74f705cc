/** The time–current plot: log over log, a curve for each device with its name, fault currents as flags, a margin between two curves. */
import { deviceStyles } from '../theme/tokens';
import {
  acrossOf,
  border,
  caption,
  frameOf,
  gridOf,
  kept,
  logAxis,
  upOf,
  widthOf,
  type Axis,
  type Mark,
  type Paper,
  type Point,
  type Scene,
} from './scene';
import { currentLabel, multipleLabel, timeLabel, type Extent } from './ticks';

interface CurvePoint {
  readonly currentA: number;
  readonly timeS: number;
}

export interface PlottedCurve {
  /** Key of what it belongs to. */
  readonly of: string;
  readonly label: string;
  /** Index of its colour, and of its dash. */
  readonly style: number;
  readonly dash: number;
  /** Beside another one of the same device: a thinner line. */
  readonly second?: boolean;
  readonly points: readonly CurvePoint[];
  /** As it was before it was changed. */
  readonly before?: readonly CurvePoint[];
  /** A second line of the same device: fast operations. */
  readonly fast?: readonly CurvePoint[];
  /** Edges of its band, from the early one; empty where it has none. */
  readonly band?: {
    readonly early: readonly CurvePoint[];
    readonly late: readonly CurvePoint[];
    /** The early edge is a line too: melting, before clearing. */
    readonly solid?: boolean;
  };
  /** Stands out before the others. */
  readonly strong: boolean;
}

/** A line of what is protected, or one of one's own. */
export interface PlottedLimit {
  readonly label: string;
  readonly kind: 'damage' | 'load' | 'inrush' | 'start' | 'supply' | 'device';
  readonly points: readonly CurvePoint[];
}

export interface PlottedNote {
  readonly text: string;
  readonly currentA: number;
  readonly timeS: number;
}

export interface PlottedFlag {
  readonly label: string;
  readonly currentA: number;
  /** Null: of no device. */
  readonly style: number | null;
}

export interface PlottedMargin {
  readonly downA: number;
  readonly upA: number;
  readonly downstreamS: number;
  readonly upstreamS: number;
  readonly holds: boolean;
}

export interface TimeCurrentPlot {
  readonly curves: readonly PlottedCurve[];
  readonly flags: readonly PlottedFlag[];
  readonly limits?: readonly PlottedLimit[];
  readonly notes?: readonly PlottedNote[];
  /** Current that is asked about. */
  readonly asked?: number | null;
  readonly margin: PlottedMargin | null;
  readonly extents: { readonly currents: Extent; readonly times: Extent };
  /** What the axes are about. */
  readonly caption: string;
  /** Amperes that are one on the current axis, where it counts in multiples. */
  readonly unitA?: number;
  /** How strongly bands are filled. */
  readonly bandOpacity?: number;
  /** Where it is no time that stands upright: what is written there. */
  readonly upright?: (value: number) => string;
}

export interface PlottedTimeCurrent {
  readonly x: Axis;
  readonly y: Axis;
  readonly under: Scene;
  /** What must not be covered: names and margin. */
  readonly over: Scene;
}

export function timeCurrentScene(plot: TimeCurrentPlot, paper: Paper): PlottedTimeCurrent {
  const { currents, times } = plot.extents;
  // Where many decades stand side by side fewer figures have room.
  const labelled = currents.to / currents.from > 2e3 ? [1, 3] : [1, 2, 5];
  const unit = plot.unitA ?? 1;
  const x = logAxis(
    { extent: currents, label: unit === 1 ? currentLabel : multipleLabel, labelled, unit },
    acrossOf(paper),
  );
  const y = logAxis({ extent: times, label: plot.upright ?? timeLabel, labelled: [1] }, upOf(paper));
  const limitNamed = limitNames(plot.limits ?? [], paper, x, y);
  const under = [
    ...gridFor(paper, x, y),
    border(paper),
    caption(paper, plot.caption),
    ...flags(plot, paper, x),
    ...plot.curves.flatMap((curve) => band(curve, plot.bandOpacity ?? 0.13, x, y)),
    ...(plot.limits ?? []).flatMap((limit, k) => limitMarks(limit, limitNamed[k], paper, x, y)),
    ...plot.curves.flatMap((curve) => drawn(curve, paper, x, y)),
  ];
  const over = [
    ...names(plot, limitNamed, paper, x, y),
    ...(plot.notes ?? []).flatMap((note) => noteMarks(note, paper, x, y)),
    ...askedMarks(plot.asked ?? null, paper, x),
    ...caliper(plot.margin, paper, x, y),
  ];
  return { x, y, under: { paper, marks: under }, over: { paper, marks: over } };
}

/** The grid drawn last: it stands still while curves are dragged. */
let lastGrid: { readonly key: string; readonly marks: readonly Mark[] } | null = null;

function gridFor(paper: Paper, x: Axis, y: Axis): readonly Mark[] {
  const key = `${x.key} ${y.key} ${JSON.stringify(paper)} ${y.label(y.extent.to)} ${x.label(x.extent.to)}`;
  if (lastGrid?.key !== key) lastGrid = { key, marks: gridOf(paper, x, y) };
  return lastGrid.marks;
}

const keptPlaces = kept<readonly CurvePoint[], Point[]>();

/** Points as places; the line is led beyond the frame, so that clipping does not cut a step short. */
export const placesOf = (points: readonly CurvePoint[], x: Axis, y: Axis): Point[] =>
  keptPlaces(points, `${x.key} ${y.key}`, () =>
    points
      .filter((p) => p.currentA <= x.extent.to * 1.5)
      .map((p) => ({
        x: x.at(p.currentA),
        y: y.at(Math.min(Math.max(p.timeS, y.extent.from / 2), y.extent.to * 2)),
      })),
  );

function drawn(
  { points, before = [], fast = [], band: edges, style, dash, second, strong, label }: PlottedCurve,
  { text }: Paper,
  x: Axis,
  y: Axis,
): Mark[] {
  const width = (strong ? 0.24 : 0.16) * (second ? 0.75 : 1) * text;
  const line = (
    list: readonly CurvePoint[],
    more: { width: number; dash?: string; opacity?: number; of?: string },
  ): Mark[] => {
    const places = placesOf(list, x, y);
    return places.length === 0 ? [] : [{ kind: 'line', points: places, ink: style, clipped: true, ...more }];
  };
  return [
    ...line(before, { width: 0.09 * text, dash: '1.5 3', opacity: 0.8 }),
    ...line(fast, { width: 0.12 * text, dash: '6 2 1 2' }),
    ...(edges && edges.solid ? line(edges.early, { width: 0.11 * text }) : []),
    ...line(points, { width, dash: deviceStyles[dash % deviceStyles.length].dash, of: label }),
  ];
}

const keptRim = kept<NonNullable<PlottedCurve['band']>, Point[]>();

/** Between the early and the late edge. Where only the early one has begun the band is open to above. */
function band({ band: edges, style }: PlottedCurve, opacity: number, x: Axis, y: Axis): Mark[] {
  if (!edges || edges.early.length === 0) return [];
  const points = keptRim(edges, `${x.key} ${y.key}`, () => {
    const beyond = { currentA: edges.early[0].currentA, timeS: y.extent.to * 2 };
    const start = edges.late.length > 0 ? { currentA: edges.late[0].currentA, timeS: y.extent.to * 2 } : null;
    return placesOf([beyond, ...edges.early, ...[...edges.late].reverse(), ...(start ? [start] : [])], x, y);
  });
  return [{ kind: 'area', points, ink: style, opacity, clipped: true }];
}

const limitDash: Readonly<Record<PlottedLimit['kind'], string | undefined>> = {
  damage: undefined,
  load: '2 4',
  inrush: '1 3',
  start: '6 3 1 3',
  supply: '8 3',
  device: '4 2',
};

const keptHatch = kept<readonly Point[], Mark[]>();

/** What must not be reached is hatched on its far side; the rest is a thin line that must stay below the devices. */
function limitMarks(
  { points, kind, label }: PlottedLimit,
  name: LineName | null,
  paper: Paper,
  x: Axis,
  y: Axis,
): Mark[] {
  const places = placesOf(points, x, y);
  if (places.length === 0) return [];
  const { text } = paper;
  const ink = kind === 'damage' ? 'fail' : 'ink';
  const marks: Mark[] = [];
  if (kind === 'inrush')
    for (const place of places)
      if (inFrame(place, paper)) marks.push({ kind: 'dot', at: place, radius: 0.32 * text, ink });
  marks.push({
    kind: 'line',
    points: places,
    ink,
    width: 0.13 * text,
    dash: limitDash[kind],
    clipped: true,
    of: label,
  });
  if (kind === 'damage')
    marks.push(
      ...keptHatch(places, String(text), () =>
        hatch(places, 0.85 * text).map((tick): Mark => ({
          kind: 'line',
          points: tick,
          ink,
          width: 0.07 * text,
          clipped: true,
        })),
      ),
    );
  if (name) marks.push({ kind: 'text', at: name.at, text: label, size: name.size, ink, anchor: name.anchor });
  return marks;
}

/** The name of a line: where its text stands and what it covers. */
interface LineName {
  readonly at: Point;
  readonly size: number;
  readonly anchor: 'start' | 'end';
  readonly left: number;
  readonly right: number;
  readonly y: number;
}

/** Each line is named beside where it enters the frame, on the side with room, and one line of text lower where another name stands. */
function limitNames(limits: readonly PlottedLimit[], paper: Paper, x: Axis, y: Axis): (LineName | null)[] {
  const size = 0.86 * paper.text;
  const taken: LineName[] = [];
  return limits.map(({ points, kind, label }) => {
    const at = placesOf(points, x, y).find((place) => inFrame(place, paper));
    if (!at) return null;
    const width = widthOf(paper, label, size);
    const room = frameOf(paper).right - at.x > width + 8;
    const edge = at.x + (room ? 6 : -6);
    const made = (k: number): LineName => {
      const base = at.y + (kind === 'damage' ? -4 : 2) + size * (1 + 1.3 * k);
      const [left, right] = room ? [edge, edge + width] : [edge - width, edge];
      return { at: { x: edge, y: base }, size, anchor: room ? 'start' : 'end', left, right, y: base - 0.3 * size };
    };
    const meets = (name: LineName) =>
      taken.some((t) => Math.abs(t.y - name.y) < 1.2 * size && name.left < t.right && name.right > t.left);
    let k = 0;
    while (k < 8 && meets(made(k))) k++;
    taken.push(made(k));
    return made(k);
  });
}

const inFrame = ({ x, y }: Point, paper: Paper): boolean => {
  const { left, right, top, bottom } = frameOf(paper);
  return x >= left && x <= right && y >= top && y <= bottom;
};

/** Short strokes to the upper right of a line, evenly spread along it. */
function hatch(places: readonly Point[], length: number): Point[][] {
  const strokes: Point[][] = [];
  const every = 0.8 * length;
  let left = every / 2;
  for (let k = 1; k < places.length; k++) {
    const [p, q] = [places[k - 1], places[k]];
    const span = Math.hypot(q.x - p.x, q.y - p.y);
    let at = left;
    for (; at <= span && strokes.length < 400; at += every) {
      const from = { x: p.x + ((q.x - p.x) * at) / span, y: p.y + ((q.y - p.y) * at) / span };
      strokes.push([from, { x: from.x + 0.75 * length, y: from.y - 0.75 * length }]);
    }
    left = at - span;
  }
  return strokes;
}

function noteMarks({ text: words, currentA, timeS }: PlottedNote, paper: Paper, x: Axis, y: Axis): Mark[] {
  const at = { x: x.at(currentA), y: y.at(timeS) };
  if (!inFrame(at, paper)) return [];
  const size = 0.95 * paper.text;
  const width = widthOf(paper, words, size) + size;
  const left = Math.max(Math.min(at.x + 8, frameOf(paper).right - width), frameOf(paper).left);
  return [
    { kind: 'dot', at, radius: 0.25 * paper.text, ink: 'ink' },
    {
      kind: 'box',
      at: { x: left, y: at.y - 1.9 * size },
      width,
      height: 1.6 * size,
      fill: 'panel',
      line: 'muted',
      radius: 3,
    },
    { kind: 'text', at: { x: left + size / 2, y: at.y - 0.75 * size }, text: words, size, ink: 'ink' },
  ];
}

function askedMarks(currentA: number | null, paper: Paper, x: Axis): Mark[] {
  if (currentA === null || currentA < x.extent.from || currentA > x.extent.to) return [];
  const { top, bottom } = frameOf(paper);
  const place = x.at(currentA);
  const points = [
    { x: place, y: top },
    { x: place, y: bottom },
  ];
  return [{ kind: 'line', points, ink: 'accent', width: 1.2, dash: '6 3' }];
}

function flags({ flags: all, unitA = 1 }: TimeCurrentPlot, paper: Paper, x: Axis): Mark[] {
  const { bottom, top } = frameOf(paper);
  const size = 0.95 * paper.text;
  const row = 1.42 * size;
  const first = bottom + 1.8 * size;
  const shown = all
    .filter(({ currentA }) => currentA >= x.extent.from && currentA <= x.extent.to)
    .sort((p, q) => p.currentA - q.currentA);
  const ends = [-Infinity, -Infinity, -Infinity];
  return shown.flatMap(({ label, currentA, style }): Mark[] => {
    const ink = style ?? 'ink';
    const text = `${label} ${unitA === 1 ? currentLabel(currentA) : multipleLabel(currentA / unitA)}`;
    const width = widthOf(paper, text, size) + 8;
    const place = x.at(currentA);
    const at = Math.max(place - width, 0);
    // Rows of flags: the next one takes what those above have no room for.
    const free = Math.max(
      ends.findIndex((end) => at > end),
      0,
    );
    ends[free] = at + width + 2;
    const upper = first + free * row;
    const pole = [
      { x: place, y: top },
      { x: place, y: upper },
    ];
    return [
      { kind: 'line', points: pole, ink, width: 1, dash: '4 3', opacity: 0.8 },
      { kind: 'box', at: { x: at, y: upper }, width, height: row - 1, fill: ink },
      { kind: 'text', at: { x: at + width / 2, y: upper + size }, text, size, ink: 'panel', anchor: 'middle' },
    ];
  });
}

/** Each curve is named where it enters the plot from above; names that would meet step down along their curves. */
function names(
  { curves, extents }: TimeCurrentPlot,
  limits: readonly (LineName | null)[],
  paper: Paper,
  x: Axis,
  y: Axis,
): Mark[] {
  const { right } = frameOf(paper);
  const size = 1.09 * paper.text;
  const taken: { left: number; right: number; y: number }[] = limits.filter((name) => name !== null);
  return [...curves]
    .sort((p, q) => (p.points[0]?.currentA ?? 0) - (q.points[0]?.currentA ?? 0))
    .flatMap(({ points, label, style, of }): Mark[] => {
      const inside = points.filter(
        ({ timeS, currentA }) =>
          timeS <= extents.times.to * 0.8 && timeS >= extents.times.from && currentA <= extents.currents.to,
      );
      if (inside.length === 0) return [];
      const width = widthOf(paper, label, size);
      const isFree = (p: CurvePoint) => {
        const left = x.at(p.currentA) + 8;
        const meets = (t: (typeof taken)[number]) =>
          Math.abs(t.y - y.at(p.timeS)) < 1.3 * size && left < t.right && left + width > t.left;
        return left + width < right && !taken.some(meets);
      };
      const at = inside.find(isFree) ?? inside[0];
      const left = x.at(at.currentA) + 8;
      // Along a level line the name stands above it.
      const beyond = inside.find((p) => x.at(p.currentA) > left + width / 2) ?? inside[inside.length - 1];
      const level = Math.abs(y.at(beyond.timeS) - y.at(at.timeS)) < 0.4 * size;
      const place = { left, right: left + width, y: y.at(at.timeS) - (level ? 0.75 * size : 0) };
      taken.push(place);
      const text: Mark = {
        kind: 'text',
        at: { x: place.left, y: place.y + 4 },
        text: label,
        size,
        ink: style,
        bold: true,
        names: of,
      };
      return [text];
    });
}

/** The time between two curves, at the current of each. */
function caliper(margin: PlottedMargin | null, paper: Paper, x: Axis, y: Axis): Mark[] {
  if (!margin) return [];
  const place = (timeS: number) => y.at(Math.min(Math.max(timeS, y.extent.from), y.extent.to));
  const [x1, x2] = [x.at(margin.downA), x.at(margin.upA)];
  const [y1, y2] = [place(margin.downstreamS), place(margin.upstreamS)];
  const ink = margin.holds ? 'pass' : 'fail';
  const size = 1.09 * paper.text;
  const text = `Δt ${(margin.upstreamS - margin.downstreamS).toFixed(3)} s`;
  const width = widthOf(paper, text, size) + size;
  const left =
    Math.min(x1, x2) - width - 10 > paper.margin.left ? Math.min(x1, x2) - width - 10 : Math.max(x1, x2) + 10;
  const middle = (y1 + y2) / 2;
  const line = (points: readonly Point[]): Mark => ({ kind: 'line', points, ink, width: 2 });
  return [
    line([
      { x: x1, y: y1 },
      { x: x1, y: y2 },
      { x: x2, y: y2 },
    ]),
    line([
      { x: x1 - 5, y: y1 },
      { x: x1 + 5, y: y1 },
    ]),
    line([
      { x: x1 - 5, y: y2 },
      { x: x1 + 5, y: y2 },
    ]),
    { kind: 'dot', at: { x: x1, y: y1 }, radius: 3, ink },
    { kind: 'dot', at: { x: x2, y: y2 }, radius: 3, ink },
    {
      kind: 'box',
      at: { x: left, y: middle - 0.92 * size },
      width,
      height: 1.75 * size,
      fill: margin.holds ? 'passSoft' : 'failSoft',
      line: ink,
      radius: 4,
    },
    { kind: 'text', at: { x: left + width / 2, y: middle + 0.33 * size }, text, size, ink, anchor: 'middle' },
  ];
}
