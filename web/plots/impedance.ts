/** The plane of impedance: zones, ways along lines, points; one ohm is as long across as up. */
import {
  acrossOf,
  border,
  caption,
  frameOf,
  gridOf,
  linearAxis,
  upOf,
  type Axis,
  type Ink,
  type Mark,
  type Paper,
  type Point,
  type Scene,
} from './scene';

export interface PlottedRegion {
  readonly label: string;
  readonly outline: readonly Point[];
  readonly style: number;
  readonly dash?: string;
  /** The axes do not heed it. */
  readonly isAside?: boolean;
}

export interface ImpedancePlot {
  readonly regions: readonly PlottedRegion[];
  readonly ways: readonly {
    readonly label: string;
    readonly points: readonly Point[];
    readonly ink: Ink;
    readonly dash?: string;
    /** Leaves the picture where it is longer: the axes do not heed it. */
    readonly isAside?: boolean;
  }[];
  readonly dots: readonly { readonly at: Point; readonly label?: string; readonly ink: Ink }[];
  readonly caption: string;
}

export function impedanceScene(
  plot: ImpedancePlot,
  paper: Paper,
): { readonly x: Axis; readonly y: Axis; readonly scene: Scene } {
  const all = [
    ...plot.regions.filter(({ isAside }) => !isAside).flatMap(({ outline }) => outline),
    ...plot.ways.filter(({ isAside }) => !isAside).flatMap(({ points }) => points),
  ];
  const [x, y] = axesOf(all, paper);
  const place = ({ x: r, y: i }: Point): Point => ({ x: x.at(r), y: y.at(i) });
  const { top, bottom, left, right } = frameOf(paper);
  const size = paper.text;
  const axes: Mark[] = [
    {
      kind: 'line',
      points: [
        { x: x.at(0), y: top },
        { x: x.at(0), y: bottom },
      ],
      ink: 'ink',
      width: 0.9,
      clipped: true,
    },
    {
      kind: 'line',
      points: [
        { x: left, y: y.at(0) },
        { x: right, y: y.at(0) },
      ],
      ink: 'ink',
      width: 0.9,
      clipped: true,
    },
  ];
  const regions = plot.regions.flatMap(({ label, outline, style, dash }): Mark[] => {
    const points = outline.map(place);
    if (points.length < 3) return [];
    const upper = points.reduce((p, q) => (q.y < p.y ? q : p));
    return [
      { kind: 'area', points, ink: style, opacity: dash ? 0.03 : 0.08, clipped: true },
      { kind: 'line', points: [...points, points[0]], ink: style, width: 0.13 * size, dash, clipped: true, of: label },
      ...(dash
        ? []
        : [
            {
              kind: 'text' as const,
              at: { x: upper.x + 4, y: upper.y - 4 },
              text: label,
              size,
              ink: style,
              bold: true,
            },
          ]),
    ];
  });
  const ways = plot.ways.map(({ label, points, ink, dash }): Mark => ({
    kind: 'line',
    points: points.map(place),
    ink,
    width: 0.15 * size,
    dash,
    clipped: true,
    of: label,
  }));
  const dots = plot.dots.flatMap(({ at, label, ink }): Mark[] => [
    { kind: 'dot', at: place(at), radius: 0.3 * size, ink },
    ...(label
      ? [{ kind: 'text' as const, at: { x: place(at).x + 6, y: place(at).y + 4 }, text: label, size, ink }]
      : []),
  ]);
  const marks = [
    ...gridOf(paper, x, y),
    border(paper),
    caption(paper, plot.caption),
    ...axes,
    ...regions,
    ...ways,
    ...dots,
  ];
  return { x, y, scene: { paper, marks } };
}

/** Both axes by the same scale, with the origin in view and a little air. */
function axesOf(points: readonly Point[], paper: Paper) {
  const span = (values: readonly number[]) => [Math.min(0, ...values), Math.max(0, ...values, 1)] as const;
  const [fromX, toX] = span(points.map(({ x }) => x));
  const [fromY, toY] = span(points.map(({ y }) => y));
  const [across, up] = [acrossOf(paper), upOf(paper)];
  const [width, height] = [Math.abs(across[1] - across[0]), Math.abs(up[0] - up[1])];
  const perPixel = 1.1 * Math.max((toX - fromX) / width, (toY - fromY) / height);
  const around = (from: number, to: number, pixels: number) => {
    const [middle, half] = [(from + to) / 2, (perPixel * pixels) / 2];
    return { from: middle - half, to: middle + half };
  };
  const label = (value: number) => String(Number(value.toPrecision(6)));
  return [
    linearAxis({ extent: around(fromX, toX, width), label }, across),
    linearAxis({ extent: around(fromY, toY, height), label }, up),
  ] as const;
}
