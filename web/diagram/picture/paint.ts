/** Painting the drawing on a canvas, and the whole of it in small. */
import { type Box } from '@mesura/core/drawing/shape/shapes';
import type { Palette } from '../../theme/tokens';
import {
  paintChosen,
  paintFinding,
  paintGrid,
  paintLabel,
  paintLink,
  paintMarks,
  paintNote,
  paintPanel,
  paintRelay,
  regionOf,
  type Marks,
  type Port,
} from './figures';
import type { Label } from './labelling';
import { adjustedBy, type Adjusted } from './scene';
import { movingTile, type Painting, type Strokes } from './strokes';

/** Below this many pixels per unit only busbars and runs are drawn: symbols would be specks. */
const symbolsFrom = 0.16;

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
