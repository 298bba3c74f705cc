/** A scene as DXF: rules, curves, words on layers of their own; a unit of the paper for a unit of the drawing, heights counted upward. Lines are cut at the frame. */
import { DxfWriter, LWPolylineFlags, point2d, point3d, TextHorizontalAlignment } from '@tarikjabiri/dxf';
import { plainDxfText } from '../theme/dxfText';
import { frameOf, type Frame, type Mark, type Point, type Scene } from './scene';

const layers = ['rules', 'curves', 'areas', 'words'] as const;
type Layer = (typeof layers)[number];
const alignments = {
  start: TextHorizontalAlignment.Left,
  middle: TextHorizontalAlignment.Center,
  end: TextHorizontalAlignment.Right,
};

export function sceneDxf({ paper, marks }: Scene): string {
  const writer = new DxfWriter();
  for (const layer of layers) writer.addLayer(layer, 7, 'CONTINUOUS');
  const frame = frameOf(paper);
  const line = (points: readonly Point[], layerName: Layer, closed = false) => {
    if (points.length > 1)
      writer.addLWPolyline(
        points.map(({ x, y }) => ({ point: point2d(x, -y) })),
        { layerName, ...(closed && { flags: LWPolylineFlags.Closed }) },
      );
  };
  for (const mark of marks)
    drawn(mark, frame, line, (at, text, size, anchor) => {
      const place = point3d(at.x, -at.y);
      writer.addText(place, size * 0.72, plainDxfText(text), {
        layerName: 'words',
        ...(anchor !== 'start' && { horizontalAlignment: alignments[anchor], secondAlignmentPoint: place }),
      });
    });
  return writer.stringify();
}

type Line = (points: readonly Point[], layer: Layer, closed?: boolean) => void;
type Words = (at: Point, text: string, size: number, anchor: keyof typeof alignments) => void;

function drawn(mark: Mark, frame: Frame, line: Line, words: Words): void {
  switch (mark.kind) {
    case 'line': {
      const layer = mark.ink === 'grid' || mark.ink === 'gridStrong' ? 'rules' : 'curves';
      for (const part of mark.clipped ? inside(mark.points, frame) : [mark.points]) line(part, layer);
      return;
    }
    case 'area':
      return line(mark.clipped ? mark.points.map((point) => held(point, frame)) : mark.points, 'areas', true);
    case 'box': {
      const { at, width, height } = mark;
      const corners = [
        at,
        { x: at.x + width, y: at.y },
        { x: at.x + width, y: at.y + height },
        { x: at.x, y: at.y + height },
      ];
      return line(corners, 'rules', true);
    }
    case 'dot': {
      const around = Array.from({ length: 12 }, (_, k) => (k * Math.PI) / 6);
      return line(
        around.map((turn) => ({
          x: mark.at.x + mark.radius * Math.cos(turn),
          y: mark.at.y + mark.radius * Math.sin(turn),
        })),
        'curves',
        true,
      );
    }
    case 'text':
      return words(mark.at, mark.text, mark.size, mark.anchor ?? 'start');
  }
}

const held = ({ x, y }: Point, { left, right, top, bottom }: Frame): Point => ({
  x: Math.min(Math.max(x, left), right),
  y: Math.min(Math.max(y, top), bottom),
});

/** Parts of a line within the frame (Liang and Barsky, piece by piece). */
export function inside(points: readonly Point[], frame: Frame): Point[][] {
  const parts: Point[][] = [];
  for (let k = 1; k < points.length; k++) {
    const piece = cut(points[k - 1], points[k], frame);
    if (!piece) continue;
    const last = parts.at(-1)?.at(-1);
    if (last && last.x === piece[0].x && last.y === piece[0].y) parts.at(-1)!.push(piece[1]);
    else parts.push([...piece]);
  }
  return parts;
}

function cut(p: Point, q: Point, { left, right, top, bottom }: Frame): [Point, Point] | null {
  let from = 0;
  let to = 1;
  const dx = q.x - p.x;
  const dy = q.y - p.y;
  for (const [d, room] of [
    [-dx, p.x - left],
    [dx, right - p.x],
    [-dy, p.y - top],
    [dy, bottom - p.y],
  ]) {
    if (d === 0 && room < 0) return null;
    if (d < 0) from = Math.max(from, room / d);
    if (d > 0) to = Math.min(to, room / d);
  }
  if (from > to) return null;
  const at = (share: number): Point =>
    share === 0 ? p : share === 1 ? q : { x: p.x + share * dx, y: p.y + share * dy };
  return [at(from), at(to)];
}
