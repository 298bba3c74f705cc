/**
 * Painting the drawing on a canvas. Runs and symbols are gathered by square of the sheet and by pen, once for a scene, so that a frame is a
 * handful of strokes; texts come last, on top.
 */
import { boxOf, isDrawn, noteSizes, type Box, type Drawn, type Placed } from '@mesura/core/drawing/shapes';
import { connectionsAt } from '@mesura/core/drawing/splice';
import { terminalsOf } from '@mesura/core/drawing/terminals';
import type { ElementId } from '@mesura/core/model/fields';
import { find } from '@mesura/core/model/network';
import type { Palette } from '../theme/tokens';
import type { Label, Layers, Line } from './labelling';
import { sizeOf } from './labelling';
import type { Overlay } from './overlay';
import { adjustedBy, nothingAdjusted, type Adjusted, type PageLink, type Scene, type Wire } from './scene';
import { keyOf, partsOf, type Part, type Standard } from './symbolParts';

export interface Pens {
  readonly palette: Palette;
  readonly standard: Standard;
  /** Colour of the voltage at a terminal. */
  readonly colorAt: (element: ElementId, terminal: number) => string;
}

export interface Marks {
  readonly selected: ReadonlySet<string>;
  readonly hovered: string | null;
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

interface Strokes {
  readonly color: string;
  readonly width: number;
  readonly fill?: Part['fill'];
  readonly dash?: string;
  readonly path: Path2D;
}

interface Tile {
  readonly box: Box;
  readonly wires: readonly Strokes[];
  readonly bars: readonly Strokes[];
  readonly symbols: readonly Strokes[];
  readonly texts: readonly { text: NonNullable<Part['text']>; x: number; y: number; color: string }[];
  readonly count: number;
}

const tileSize = 900;
/** Below this many pixels per unit only busbars and runs are drawn: symbols would be specks. */
const symbolsFrom = 0.16;
const paths = new Map<string, Path2D[]>();

/** Strokes of a scene by squares, made when first seen. `hidden` are drawn apart, because they move. */
export class Painting {
  private readonly tiles = new Map<string, Tile>();
  private readonly members = new Map<string, { placed: Placed[]; wires: Wire[] }>();

  constructor(
    readonly scene: Scene,
    readonly pens: Pens,
    readonly hidden: ReadonlySet<ElementId>,
    private readonly showRelays: boolean,
  ) {
    const at = (x: number, y: number) => {
      const key = `${Math.floor(x / tileSize)}:${Math.floor(y / tileSize)}`;
      let list = this.members.get(key);
      if (!list) this.members.set(key, (list = { placed: [], wires: [] }));
      return list;
    };
    for (const element of scene.placed) if (!hidden.has(element.id)) at(element.x, element.y).placed.push(element);
    for (const wire of scene.wires)
      if (!hidden.has(wire.connection.from.element) && !hidden.has(wire.connection.to.element))
        at(wire.points[0].x, wire.points[0].y).wires.push(wire);
  }

  tilesWithin(region: Box): Tile[] {
    const found: Tile[] = [];
    for (const [key, { placed, wires }] of this.members) {
      let tile = this.tiles.get(key);
      if (!tile) {
        // Long busbars and runs reach out of their square: the box of its contents counts.
        const own = boxAround(placed, wires);
        if (!touches(own, region)) continue;
        this.tiles.set(key, (tile = this.gather(own, placed, wires)));
      }
      if (touches(tile.box, region)) found.push(tile);
    }
    return found;
  }

  private gather(box: Box, placed: readonly Placed[], wires: readonly Wire[]): Tile {
    const { scene, pens, showRelays } = this;
    const [runs, bars, symbols] = [new Pen(), new Pen(), new Pen()];
    const texts: Tile['texts'][number][] = [];
    for (const wire of wires)
      runs.line(wire.points, pens.colorAt(wire.connection.from.element, wire.connection.from.terminal));
    for (const element of placed)
      if (isDrawn(element)) {
        if (element.kind === 'bus') bars.bar(element, pens.colorAt(element.id, 0));
        else drawSymbol(element, pens, symbols, texts);
        if (showRelays && element.kind === 'relay') tie(scene, element, pens, runs);
      }
    return {
      box,
      wires: runs.strokes(),
      bars: bars.strokes(),
      symbols: symbols.strokes(),
      texts,
      count: placed.length + wires.length,
    };
  }
}

function tie(
  scene: Scene,
  relay: Extract<Placed, { kind: 'relay' }>,
  { palette }: Pens,
  pen: Pen,
  adjusted: Adjusted = nothingAdjusted,
): void {
  const stored = find(scene.network, 'currentTransformer', relay.ct);
  if (!stored || (stored.page ?? null) !== scene.page) return;
  const ct = adjustedBy(stored, adjusted);
  const side = relay.x >= ct.x ? 1 : -1;
  pen.line(
    [
      { x: ct.x + side * 6, y: ct.y },
      { x: relay.x - side * 26, y: relay.y },
    ],
    palette.muted,
    1,
    '2 3',
  );
}

/** Strokes gathered by pen. */
class Pen {
  private readonly pens = new Map<string, Strokes>();

  line(points: readonly { x: number; y: number }[], color: string, width = 1.6, dash?: string): void {
    const { path } = this.pen(color, width, undefined, dash);
    path.moveTo(points[0].x, points[0].y);
    for (let k = 1; k < points.length; k++) path.lineTo(points[k].x, points[k].y);
  }

  bar({ x, y, length }: Extract<Drawn, { kind: 'bus' }>, color: string): void {
    this.pen(color, 0, 'stroke').path.rect(x, y - 2.5, length, 5);
  }

  add(path: Path2D, matrix: DOMMatrix2DInit, color: string, width: number, fill?: Part['fill'], dash?: string): void {
    this.pen(color, width, fill, dash).path.addPath(path, matrix);
  }

  strokes(): Strokes[] {
    // What is filled with the paper covers what lies below it, so it comes first.
    return [...this.pens.values()].sort((p, q) => Number(isCover(q)) - Number(isCover(p)));
  }

  private pen(color: string, width: number, fill?: Part['fill'], dash?: string): Strokes {
    const key = `${color}|${width}|${fill}|${dash}`;
    let strokes = this.pens.get(key);
    if (!strokes) this.pens.set(key, (strokes = { color, width, fill, dash, path: new Path2D() }));
    return strokes;
  }
}

const isCover = ({ fill }: Strokes): boolean => fill === 'panel' || fill === 'paper';

function drawSymbol(element: Drawn, { standard, colorAt }: Pens, pen: Pen, texts: Tile['texts'][number][]): void {
  const parts = partsOf(element, standard);
  const key = keyOf(element, standard);
  let known = paths.get(key);
  if (!known) paths.set(key, (known = parts.map(({ d }) => new Path2D(d))));
  const radians = (element.turn * Math.PI) / 180;
  const [c, s] = [Math.round(Math.cos(radians)), Math.round(Math.sin(radians))];
  const matrix = { a: c, b: s, c: -s, d: c, e: element.x, f: element.y };
  const terminals = terminalsOf(element).length;
  for (const [k, part] of parts.entries()) {
    const color = colorAt(element.id, Math.min(part.of, Math.max(terminals - 1, 0)));
    if (part.text)
      texts.push({
        text: part.text,
        // Letters stay upright when their symbol is turned.
        x: element.x + part.text.x * c - (part.text.y - part.text.size * 0.35) * s,
        y: element.y + part.text.x * s + (part.text.y - part.text.size * 0.35) * c + part.text.size * 0.35,
        color,
      });
    else pen.add(known[k], matrix, color, part.width, part.fill, part.dash);
  }
}

const touches = (p: Box, q: Box): boolean =>
  p.x <= q.x + q.width && q.x <= p.x + p.width && p.y <= q.y + q.height && q.y <= p.y + p.height;

function boxAround(placed: readonly Placed[], wires: readonly Wire[]): Box {
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const { x, y, width, height } of [...placed.map(boxOf), ...wires.map(({ box }) => box)]) {
    left = Math.min(left, x);
    top = Math.min(top, y);
    right = Math.max(right, x + width);
    bottom = Math.max(bottom, y + height);
  }
  return { x: left, y: top, width: right - left, height: bottom - top };
}

/** The whole picture. `moving` stands at adjusted places; `scale` is the pixels of the device to one of the page. */
export function paint(
  context: CanvasRenderingContext2D,
  port: Port,
  painting: Painting,
  labels: readonly Label[],
  labelSize: number,
  marks: Marks,
  adjusted: Adjusted,
  scale: number,
): void {
  const { scene, pens } = painting;
  const { palette } = pens;
  const region = regionOf(port, 40);
  context.setTransform(1, 0, 0, 1, 0, 0);
  context.fillStyle = palette.paper;
  context.fillRect(0, 0, port.width * scale, port.height * scale);
  const factor = port.zoom * scale;
  context.setTransform(factor, 0, 0, factor, -port.x * factor, -port.y * factor);
  if (marks.layers.grid) paintGrid(context, port, palette);
  context.lineCap = 'round';
  context.lineJoin = 'round';
  const inView = scene.within(region);
  for (const element of inView)
    if (element.kind === 'panel')
      paintPanel(context, adjustedBy(element, adjusted) as typeof element, palette, port.zoom);
  if (port.zoom >= symbolsFrom) paintMarks(context, inView, marks, palette, adjusted);
  const moving = movingTile(painting, adjusted);
  const tiles = [...painting.tilesWithin(region), ...(moving ? [moving] : [])];
  const thin = Math.max(1, 1.05 / port.zoom / 1.6);
  // Square corners and ends are enough for runs, and quicker.
  context.lineCap = 'butt';
  context.lineJoin = 'miter';
  for (const tile of tiles) stroke(context, tile.wires, palette, thin);
  context.lineCap = 'round';
  context.lineJoin = 'round';
  if (port.zoom >= symbolsFrom) for (const tile of tiles) stroke(context, tile.symbols, palette, Math.min(thin, 2));
  for (const tile of tiles) stroke(context, tile.bars, palette, 1);
  if (port.zoom >= 0.3) {
    context.textAlign = 'center';
    for (const tile of tiles)
      for (const { text, x, y, color } of tile.texts) {
        context.font = `600 ${text.size}px "IBM Plex Sans", sans-serif`;
        context.fillStyle = color;
        context.fillText(text.value, x, y);
      }
  }
  for (const element of inView)
    if (element.kind === 'relay' && marks.layers.protection && port.zoom >= symbolsFrom)
      paintRelay(context, adjustedBy(element, adjusted) as typeof element, palette, port.zoom);
    else if (element.kind === 'textNote') paintNote(context, adjustedBy(element, adjusted) as typeof element, palette);
  for (const link of scene.links) paintLink(context, link, palette, port.zoom);
  paintChosen(context, scene, marks, palette, adjusted, port.zoom);
  for (const label of labels) paintLabel(context, label, labelSize, pens);
  if (marks.layers.findings && port.zoom >= symbolsFrom)
    for (const element of inView) paintFinding(context, element, marks, palette, port.zoom, adjusted);
}

/** Lines of the grid: at each step when near, wider apart when far. */
function paintGrid(context: CanvasRenderingContext2D, port: Port, palette: Palette): void {
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

/** What is being dragged, at the place where it is held. */
function movingTile({ scene, pens }: Painting, adjusted: Adjusted): Tile | null {
  if (adjusted.size === 0) return null;
  const [wires, bars, symbols] = [new Pen(), new Pen(), new Pen()];
  const texts: Tile['texts'][number][] = [];
  for (const id of adjusted.keys()) {
    const stored = scene.network.elements.get(id);
    if (!stored || !isDrawn(stored)) continue;
    const element = adjustedBy(stored, adjusted) as Drawn;
    if (element.kind === 'bus') bars.bar(element, pens.colorAt(id, 0));
    else drawSymbol(element, pens, symbols, texts);
    if (element.kind === 'relay') tie(scene, element, pens, wires, adjusted);
  }
  const lists = connectionsAt(scene.network);
  for (const connection of new Set([...adjusted.keys()].flatMap((id) => lists.get(id) ?? []))) {
    const wire = scene.movedWire(connection, adjusted);
    if (wire) wires.line(wire.points, pens.colorAt(connection.from.element, connection.from.terminal));
  }
  return {
    box: { x: 0, y: 0, width: 0, height: 0 },
    wires: wires.strokes(),
    bars: bars.strokes(),
    symbols: symbols.strokes(),
    texts,
    count: 0,
  };
}

function stroke(context: CanvasRenderingContext2D, list: readonly Strokes[], palette: Palette, thin: number): void {
  for (const { color, width, fill, dash, path } of list) {
    if (fill) {
      context.fillStyle = fill === 'stroke' ? color : palette[fill];
      context.fill(path);
    }
    if (width === 0) continue;
    context.strokeStyle = color;
    context.lineWidth = width * thin;
    context.setLineDash(dash ? dash.split(' ').map(Number) : []);
    context.stroke(path);
  }
  context.setLineDash([]);
}

function paintMarks(
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

function paintPanel(
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
  if (zoom < 0.25) return;
  context.font = `500 10.5px "IBM Plex Sans", sans-serif`;
  context.fillStyle = palette.muted;
  context.textAlign = 'center';
  context.fillText(fitted(context, panel.name, width - 6), x + width / 2, y + height - 6);
}

function fitted(context: CanvasRenderingContext2D, text: string, width: number): string {
  if (context.measureText(text).width <= width) return text;
  let end = text.length;
  while (end > 1 && context.measureText(`${text.slice(0, end)}…`).width > width) end--;
  return `${text.slice(0, end)}…`;
}

function paintRelay(
  context: CanvasRenderingContext2D,
  relay: Extract<Placed, { kind: 'relay' }>,
  palette: Palette,
  zoom: number,
): void {
  const codes = [...new Set(relay.functions.filter((fn) => fn.enabled).map((fn) => fn.code))];
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

function paintNote(
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
function paintLink(context: CanvasRenderingContext2D, link: PageLink, palette: Palette, zoom: number): void {
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

function paintLabel(context: CanvasRenderingContext2D, label: Label, size: number, { palette, colorAt }: Pens): void {
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
  const at = context.textAlign === 'center' ? x + width / 2 : context.textAlign === 'right' ? x + width : left;
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
function paintFinding(
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

function paintChosen(
  context: CanvasRenderingContext2D,
  scene: Scene,
  { selected, hovered }: Marks,
  palette: Palette,
  adjusted: Adjusted,
  zoom: number,
): void {
  const frame = Math.max(1.4, 1.2 / zoom);
  const ring = (id: string, soft: boolean) => {
    const element = scene.network.elements.get(id as ElementId);
    if (!element) return;
    if (element.kind === 'connection') return;
    if (!('x' in element) || (element.page ?? null) !== scene.page) return;
    const { x, y, width, height } = boxOf(adjustedBy(element, adjusted));
    const room = element.kind === 'bus' ? 2 : 4;
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

/** The whole drawing in a small rectangle: busbars, runs and where symbols stand. */
export function paintMap(
  context: CanvasRenderingContext2D,
  painting: Painting,
  bounds: Box,
  width: number,
  height: number,
  view: Box,
  scale: number,
): { zoom: number; x: number; y: number } {
  const { palette } = painting.pens;
  const zoom = Math.min(width / bounds.width, height / bounds.height);
  const [x, y] = [bounds.x - (width / zoom - bounds.width) / 2, bounds.y - (height / zoom - bounds.height) / 2];
  context.setTransform(1, 0, 0, 1, 0, 0);
  context.fillStyle = palette.panel;
  context.fillRect(0, 0, width * scale, height * scale);
  const factor = zoom * scale;
  context.setTransform(factor, 0, 0, factor, -x * factor, -y * factor);
  for (const tile of painting.tilesWithin(bounds)) {
    for (const { color, path, dash } of tile.wires) {
      if (dash) continue;
      context.strokeStyle = color;
      context.globalAlpha = 0.5;
      context.lineWidth = 0.7 / zoom;
      context.stroke(path);
    }
    context.globalAlpha = 1;
    for (const { color, path } of tile.bars) {
      context.strokeStyle = color;
      context.lineWidth = 1 / zoom;
      context.stroke(path);
    }
  }
  context.strokeStyle = palette.accent;
  context.lineWidth = 1.5 / zoom;
  context.strokeRect(view.x, view.y, view.width, view.height);
  context.fillStyle = palette.accent;
  context.globalAlpha = 0.08;
  context.fillRect(view.x, view.y, view.width, view.height);
  context.globalAlpha = 1;
  return { zoom, x, y };
}
