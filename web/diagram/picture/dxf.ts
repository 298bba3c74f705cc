/** A page of the one-line as DXF, for drawing programs: lines and words on layers of their own, a millimetre for a unit of the drawing, heights counted upward. */
import { DxfWriter, LWPolylineFlags, point2d, point3d, TextHorizontalAlignment } from '@tarikjabiri/dxf';
import svgpath from 'svgpath';
import { plainDxfText } from '../../theme/dxfText';
import type { PrintMark } from './print';

interface Point {
  readonly x: number;
  readonly y: number;
}

/** Pieces that a curve is drawn with. */
const pieces = 12;

/** A path as straight lines, each with whether it is closed. */
export function flattened(
  d: string,
  { x, y, turn }: { x: number; y: number; turn: number },
): { points: Point[]; closed: boolean }[] {
  const lines: { points: Point[]; closed: boolean }[] = [];
  const last = () => lines[lines.length - 1];
  const to = (px: number, py: number) => last().points.push({ x: px, y: py });
  svgpath(d)
    .rotate(turn)
    .translate(x, y)
    .abs()
    .unarc()
    .unshort()
    .iterate((segment, _, fromX, fromY) => {
      switch (segment[0]) {
        case 'M':
          lines.push({ points: [{ x: segment[1], y: segment[2] }], closed: false });
          break;
        case 'L':
          to(segment[1], segment[2]);
          break;
        case 'H':
          to(segment[1], fromY);
          break;
        case 'V':
          to(fromX, segment[1]);
          break;
        case 'C':
          for (let k = 1; k <= pieces; k++) {
            const t = k / pieces;
            const at = (p0: number, p1: number, p2: number, p3: number) =>
              (1 - t) ** 3 * p0 + 3 * (1 - t) ** 2 * t * p1 + 3 * (1 - t) * t ** 2 * p2 + t ** 3 * p3;
            to(at(fromX, segment[1], segment[3], segment[5]), at(fromY, segment[2], segment[4], segment[6]));
          }
          break;
        case 'Q':
          for (let k = 1; k <= pieces; k++) {
            const t = k / pieces;
            const at = (p0: number, p1: number, p2: number) => (1 - t) ** 2 * p0 + 2 * (1 - t) * t * p1 + t ** 2 * p2;
            to(at(fromX, segment[1], segment[3]), at(fromY, segment[2], segment[4]));
          }
          break;
        case 'Z':
          last().closed = true;
          break;
      }
    });
  return lines.filter(({ points }) => points.length > 1);
}

export function dxfOf(marks: readonly PrintMark[]): string {
  const writer = new DxfWriter();
  for (const layer of ['connections', 'busbars', 'symbols', 'frames', 'names']) writer.addLayer(layer, 7, 'CONTINUOUS');
  for (const mark of marks) {
    if (mark.kind === 'text') {
      const at = point3d(mark.x, -mark.y);
      writer.addText(at, mark.size * 0.72, plainDxfText(mark.text), {
        layerName: 'names',
        rotation: -mark.turn,
        ...(mark.anchor === 'middle' && {
          horizontalAlignment: TextHorizontalAlignment.Center,
          secondAlignmentPoint: at,
        }),
      });
      continue;
    }
    for (const { points, closed } of flattened(mark.d, mark.at))
      writer.addLWPolyline(
        points.map(({ x, y }) => ({ point: point2d(x, -y) })),
        { layerName: mark.layer, ...(closed && { flags: LWPolylineFlags.Closed }) },
      );
  }
  return writer.stringify();
}
