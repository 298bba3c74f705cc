/** What is painted apart from strokes: frames, texts, marks, pennants. */
import { titleSpan, titleStrip } from '@mesura/core/drawing/boards/board';
import { familyOf } from '@mesura/core/protection/registry';
import { boxOf, noteSizes, type Box, type Placed } from '@mesura/core/drawing/shape/shapes';
import type { ElementId } from '@mesura/core/model/fields';
import type { Palette } from '../../theme/tokens';
import { sizeOf, type Label, type Layers, type Line } from './labelling';
import type { Overlay } from './overlay';
import { adjustedBy, type Adjusted, type PageLink, type Scene } from './scene';
import type { Pens } from './strokes';

export interface OtherMark {
  readonly id: ElementId;
  readonly color: string;
  /** Whose it is, in two letters. */
  readonly label: string;
}

export interface Marks {
  readonly selected: ReadonlySet<string>;
  readonly hovered: string | null;
  /** What other people have selected, each in a colour of theirs. */
  readonly others: readonly OtherMark[];
  readonly overlay: Overlay;
  /** Worst finding of an element. */
  readonly findings: ReadonlyMap<ElementId, 'error' | 'warning' | 'assumed'>;
  readonly layers: Layers;
}

/** Upper left corner in drawing units, pixels per unit, size in pixels. */
export interface Port {
  readonly x: number;
  readonly y: number;
  readonly zoom: number;
  readonly width: number;
  readonly height: number;
}

export const regionOf = ({ x, y, zoom, width, height }: Port, room = 0): Box => ({
  x: x - room,
  y: y - room,
  width: width / zoom + 2 * room,
  height: height / zoom + 2 * room,
});

/** Lines of the grid: at each step when near, wider apart when far. */
export function paintGrid(context: CanvasRenderingContext2D, port: Port, palette: Palette): void {
  const step = [10, 50, 100, 500, 1000].find((each) => each * port.zoom >= 9) ?? 5000;
  const { x, y, width, height } = regionOf(port);
  context.beginPath();
  for (let at = Math.floor(x / step) * step; at <= x + width; at += step) {
    context.moveTo(at, y);
    context.lineTo(at, y + height);
  }
  for (let at = Math.floor(y / step) * step; at <= y + height; at += step) {
    context.moveTo(x, at);
    context.lineTo(x + width, at);
  }
  context.strokeStyle = palette.grid;
  context.lineWidth = 1 / port.zoom;
  context.stroke();
}

export function paintMarks(
  context: CanvasRenderingContext2D,
  inView: readonly Placed[],
  marks: Marks,
  palette: Palette,
  adjusted: Adjusted,
): void {
  if (marks.overlay.marks.size === 0) return;
  for (const element of inView) {
    const mark = marks.overlay.marks.get(element.id);
    if (!mark) continue;
    const { x, y, width, height } = boxOf(adjustedBy(element, adjusted));
    const color = mark === 'fail' ? palette.fail : mark;
    context.beginPath();
    context.roundRect(x - 3, y - 3, width + 6, height + 6, element.kind === 'relay' ? 14 : 4);
    context.globalAlpha = 0.16;
    context.fillStyle = color;
    context.fill();
    context.globalAlpha = 1;
    context.strokeStyle = color;
    context.lineWidth = 1.4;
    context.stroke();
  }
}

export function paintPanel(
  context: CanvasRenderingContext2D,
  panel: Extract<Placed, { kind: 'panel' }>,
  palette: Palette,
  zoom: number,
): void {
  const { x, y, width, height } = boxOf(panel);
  context.fillStyle = palette.panel;
  context.globalAlpha = 0.55;
  context.fillRect(x, y, width, height);
  context.globalAlpha = 1;
  context.strokeStyle = palette.gridStrong;
  context.lineWidth = 1;
  context.strokeRect(x, y, width, height);
  const size = titleSize(zoom);
  if (size === null) return;
  context.font = `500 ${size}px "IBM Plex Sans", sans-serif`;
  context.fillStyle = palette.muted;
  context.textAlign = 'center';
  const { left, right } = titleSpan(panel);
  // Enlarged to be read from afar it stands whole or not at all.
  const text = fitted(context, panel.name, right - left);
  if (size > ownTitleSize && text !== panel.name) return;
  context.fillText(text, (left + right) / 2, y + height - 6);
}

const ownTitleSize = 10.5;

/** Size of a panel's title in drawing units: never smaller on the screen than can be read, nor larger than its strip; null when that cannot be. */
export function titleSize(zoom: number): number | null {
  const size = Math.max(ownTitleSize, 8 / zoom);
  return size <= 0.9 * titleStrip ? size : null;
}

function fitted(context: CanvasRenderingContext2D, text: string, width: number): string {
  if (context.measureText(text).width <= width) return text;
  let end = text.length;
  while (end > 1 && context.measureText(`${text.slice(0, end)}…`).width > width) end--;
  return `${text.slice(0, end)}…`;
}

export function paintRelay(
  context: CanvasRenderingContext2D,
  relay: Extract<Placed, { kind: 'relay' }>,
  palette: Palette,
  zoom: number,
): void {
  const codes = [...new Set(relay.functions.filter((fn) => fn.enabled).map((fn) => familyOf(fn).code(fn)))];
  const text = codes.length === 0 ? '–' : codes.length > 2 ? `${codes.slice(0, 2).join('/')}…` : codes.join('/');
  context.beginPath();
  context.roundRect(relay.x - 26, relay.y - 10, 52, 20, 10);
  context.fillStyle = palette.panel;
  context.fill();
  context.strokeStyle = palette.ink;
  context.lineWidth = 1.2;
  context.stroke();
  if (zoom < 0.3) return;
  context.font = `10.5px "IBM Plex Sans", sans-serif`;
  context.textAlign = 'center';
  context.fillStyle = palette.ink;
  context.fillText(text, relay.x, relay.y + 3.8);
}

export function paintNote(
  context: CanvasRenderingContext2D,
  note: Extract<Placed, { kind: 'textNote' }>,
  palette: Palette,
): void {
  const size = noteSizes[note.size];
  context.font = `${note.size === 'large' ? 600 : 400} ${size}px "IBM Plex Sans", sans-serif`;
  context.textAlign = 'left';
  context.fillStyle = palette.muted;
  note.text.split('\n').forEach((line, k) => context.fillText(line, note.x + 4, note.y + 2 + size * (1 + k * 1.3)));
}

/** A pennant at the end of a run that goes on on another page. */
export function paintLink(context: CanvasRenderingContext2D, link: PageLink, palette: Palette, zoom: number): void {
  const { x, y, width, height } = linkBox(link);
  context.beginPath();
  context.moveTo(link.at.x, link.at.y);
  context.lineTo(link.at.x + link.out.x * 16, link.at.y + link.out.y * 16);
  context.strokeStyle = palette.ink;
  context.lineWidth = 1.6;
  context.stroke();
  context.beginPath();
  context.moveTo(x, y);
  context.lineTo(x + width - 7, y);
  context.lineTo(x + width, y + height / 2);
  context.lineTo(x + width - 7, y + height);
  context.lineTo(x, y + height);
  context.closePath();
  context.fillStyle = palette.accentSoft;
  context.fill();
  context.strokeStyle = palette.accent;
  context.lineWidth = 1.2;
  context.stroke();
  if (zoom < 0.3) return;
  context.font = `10.5px "IBM Plex Sans", sans-serif`;
  context.textAlign = 'left';
  context.fillStyle = palette.ink;
  context.fillText(fitted(context, link.text, width - 14), x + 5, y + 12);
}

/** Where the pennant of a link stands; a click on it goes to the other page. */
export const linkBox = ({ at, out, text }: PageLink): Box => {
  const width = Math.min(170, 18 + text.length * 5.6);
  const tip = { x: at.x + out.x * 16, y: at.y + out.y * 16 };
  return {
    x: out.x < 0 ? tip.x - width : out.x > 0 ? tip.x : tip.x - 8,
    y: out.y < 0 ? tip.y - 17 : out.y > 0 ? tip.y : tip.y - 8.5,
    width,
    height: 17,
  };
};

export const fontOf = (line: Line, size: number): string =>
  line.tone === 'figure'
    ? `${sizeOf(line, size)}px "IBM Plex Mono", monospace`
    : `${line.tone === 'strong' || line.tone === 'level' ? 600 : 400} ${sizeOf(line, size)}px "IBM Plex Sans", sans-serif`;

export function paintLabel(
  context: CanvasRenderingContext2D,
  label: Label,
  size: number,
  { palette, colorAt }: Pens,
): void {
  const { x, y, width, height } = label.box;
  if (label.kind === 'tag') {
    context.beginPath();
    context.roundRect(x, y, width, height, 4);
    context.fillStyle = label.active ? palette.accentSoft : palette.panel;
    context.fill();
    context.strokeStyle = label.active ? palette.accent : palette.rule;
    context.lineWidth = Math.min(1, size / 12);
    context.stroke();
  }
  let left = x;
  if (label.kind === 'flow') {
    arrow(context, x + size * 0.45, y + height / 2, size, label.down === true, palette.accent);
    left += size * 0.9;
  }
  context.textAlign = label.kind === 'tag' ? 'center' : label.align;
  // Beside its arrow, not across it.
  const at = context.textAlign === 'center' ? (left + x + width) / 2 : context.textAlign === 'right' ? x + width : left;
  label.lines.forEach((line, k) => {
    context.font = fontOf(line, size);
    context.fillStyle =
      line.tone === 'detail'
        ? palette.muted
        : label.kind === 'flow'
          ? palette.accent
          : line.tone === 'level'
            ? colorAt(label.element, 0)
            : palette.ink;
    context.fillText(line.text, at, y + size * (0.98 + k * 1.2) + (label.kind === 'tag' ? size * 0.16 : 0));
  });
}

function arrow(
  context: CanvasRenderingContext2D,
  x: number,
  y: number,
  size: number,
  down: boolean,
  color: string,
): void {
  const way = (down ? 1 : -1) * size * 0.5;
  context.beginPath();
  context.moveTo(x, y - way);
  context.lineTo(x, y + way);
  context.moveTo(x - size * 0.28, y + way * 0.35);
  context.lineTo(x, y + way);
  context.lineTo(x + size * 0.28, y + way * 0.35);
  context.strokeStyle = color;
  context.lineWidth = size * 0.13;
  context.stroke();
}

/** A small triangle at what a finding is about; its colour and filling tell how grave. */
export function paintFinding(
  context: CanvasRenderingContext2D,
  element: Placed,
  marks: Marks,
  palette: Palette,
  zoom: number,
  adjusted: Adjusted,
): void {
  const severity = marks.findings.get(element.id);
  if (!severity || severity === 'assumed') return;
  const { x, y, width } = boxOf(adjustedBy(element, adjusted));
  const size = Math.min(9 / zoom, 12);
  const [cx, cy] = element.kind === 'bus' ? [x - size * 0.9, y + 7] : [x + width + 1, y - 1];
  context.beginPath();
  context.moveTo(cx, cy - size * 0.55);
  context.lineTo(cx + size * 0.55, cy + size * 0.4);
  context.lineTo(cx - size * 0.55, cy + size * 0.4);
  context.closePath();
  const color = severity === 'error' ? palette.fail : palette.warn;
  context.fillStyle = severity === 'error' ? color : palette.paper;
  context.fill();
  context.strokeStyle = color;
  context.lineWidth = size * 0.14;
  context.stroke();
}

export function paintChosen(
  context: CanvasRenderingContext2D,
  scene: Scene,
  { selected, hovered, others }: Marks,
  palette: Palette,
  adjusted: Adjusted,
  zoom: number,
): void {
  const frame = Math.max(1.4, 1.2 / zoom);
  const placed = (id: string) => {
    const element = scene.network.elements.get(id as ElementId);
    if (!element || element.kind === 'connection' || !('x' in element) || (element.page ?? null) !== scene.page)
      return null;
    return { ...boxOf(adjustedBy(element, adjusted)), room: element.kind === 'bus' ? 2 : 4 };
  };
  for (const { id, color, label } of others) {
    const box = placed(id);
    if (!box) continue;
    // Outside of the ring of one's own.
    const room = box.room + 3;
    context.strokeStyle = color;
    context.lineWidth = frame;
    context.setLineDash([5, 3]);
    context.beginPath();
    context.roundRect(box.x - room, box.y - room, box.width + 2 * room, box.height + 2 * room, 6);
    context.stroke();
    context.setLineDash([]);
    const size = Math.max(7, 9 / zoom);
    context.font = `600 ${size}px "IBM Plex Sans", sans-serif`;
    context.textAlign = 'left';
    context.textBaseline = 'bottom';
    context.fillStyle = color;
    context.fillText(label, box.x + box.width + room - size, box.y - room);
  }
  const ring = (id: string, soft: boolean) => {
    const box = placed(id);
    if (!box) return;
    const { x, y, width, height, room } = box;
    context.beginPath();
    context.roundRect(x - room, y - room, width + 2 * room, height + 2 * room, 5);
    context.globalAlpha = soft ? 0.35 : 0.12;
    if (!soft) {
      context.fillStyle = palette.accent;
      context.fill();
    }
    context.globalAlpha = soft ? 0.5 : 1;
    context.strokeStyle = palette.accent;
    context.lineWidth = soft ? frame * 0.7 : frame;
    context.stroke();
    context.globalAlpha = 1;
  };
  if (hovered && !selected.has(hovered)) ring(hovered, true);
  for (const id of selected) ring(id, false);
  context.strokeStyle = palette.accent;
  context.lineWidth = Math.max(2.6, 2 / zoom);
  for (const id of selected) {
    const wire = scene.wire(id);
    if (!wire) continue;
    context.beginPath();
    wire.points.forEach(({ x, y }, k) => (k === 0 ? context.moveTo(x, y) : context.lineTo(x, y)));
    context.stroke();
  }
}
