/** Strokes of the drawing, gathered by square of the sheet and by pen, once for a scene: a frame is then a handful of strokes. */
import { touches } from '@mesura/core/drawing/shape/boxIndex';
import { boxOf, hull, isDrawn, type Box, type Drawn, type Placed } from '@mesura/core/drawing/shape/shapes';
import { connectionsAt } from '@mesura/core/drawing/wires/splice';
import { terminalsOf } from '@mesura/core/drawing/shape/terminals';
import type { ElementId } from '@mesura/core/model/fields';
import { find } from '@mesura/core/model/network';
import { firstCtOf } from '@mesura/core/model/protection';
import type { Palette } from '../../theme/tokens';
import { adjustedBy, nothingAdjusted, type Adjusted, type Scene, type Wire } from './scene';
import { keyOf, partsOf, type Part, type Standard } from './symbolParts';

export interface Pens {
  readonly palette: Palette;
  readonly standard: Standard;
  /** Colour of the voltage at a terminal. */
  readonly colorAt: (element: ElementId, terminal: number) => string;
}

export interface Strokes {
  readonly color: string;
  readonly width: number;
  readonly fill?: Part['fill'];
  readonly dash?: string;
  readonly path: Path2D;
}

export interface Tile {
  readonly box: Box;
  readonly wires: readonly Strokes[];
  readonly bars: readonly Strokes[];
  readonly symbols: readonly Strokes[];
  readonly texts: readonly { text: NonNullable<Part['text']>; x: number; y: number; color: string }[];
  readonly count: number;
}

const tileSize = 900;
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
        const own = hull([...placed.map(boxOf), ...wires.map((wire) => wire.box)])!;
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
  const stored = find(scene.network, 'currentTransformer', firstCtOf(relay));
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

/** What is being dragged, at the place where it is held. */
export function movingTile({ scene, pens }: Painting, adjusted: Adjusted): Tile | null {
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
