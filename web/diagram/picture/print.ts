/** The one-line as plain marks in the colours of print: a page of it, or the part around some devices, which a chart covers. Written as SVG here, as DXF beside (`dxf`). */
import { touches } from '@mesura/core/drawing/shape/boxIndex';
import { boxOf, hull, isDrawn, isPlaced, type Box, type Drawn, type Placed } from '@mesura/core/drawing/shape/shapes';
import { nameOf } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import { settingsOf, type Network } from '@mesura/core/model/network';
import { breakersOf, firstCtOf } from '@mesura/core/model/protection';
import { escaped, pathOf } from '../../plots/svg';
import { light } from '../../theme/tokens';
import { Scene } from './scene';
import { partsOf, type Standard } from './symbolParts';

/** Room around the devices, in drawing units. */
const around = 70;
const nameSize = 12;

/** A path or a word, at a place and turned there. */
export type PrintMark =
  | {
      readonly kind: 'path';
      readonly d: string;
      readonly at: { readonly x: number; readonly y: number; readonly turn: number };
      readonly stroke: string;
      readonly width: number;
      readonly fill: string | null;
      readonly dash?: string;
      /** What it is part of. */
      readonly layer: 'connections' | 'busbars' | 'symbols' | 'frames';
    }
  | {
      readonly kind: 'text';
      readonly text: string;
      readonly x: number;
      readonly y: number;
      readonly turn: number;
      readonly size: number;
      readonly anchor: 'start' | 'middle';
      readonly colour: string;
    };

export interface PrintedPart {
  readonly svg: string;
  /** In drawing units. */
  readonly width: number;
  readonly height: number;
}

const figure = (value: number): string => String(Number(value.toFixed(1)));

/** Devices with what they measure at and open; `colours` by device. Null where none of them stands on the drawing. */
export function partOfDrawing(network: Network, colours: ReadonlyMap<ElementId, string>): PrintedPart | null {
  const meant = [...colours].flatMap(([id]): Placed[] => {
    const element = network.elements.get(id);
    const others = element?.kind === 'relay' ? [firstCtOf(element), ...breakersOf(element)] : [];
    return [element, ...others.map((other) => (other ? network.elements.get(other) : undefined))].filter(
      (each): each is Placed => each !== undefined && isPlaced(each),
    );
  });
  if (meant.length === 0) return null;
  const page = meant[0].page ?? null;
  const box = roomAround(hull(meant.filter((element) => (element.page ?? null) === page).map(boxOf))!, around);
  return printed(marksIn(network, page, box, colours), box);
}

/** Room for names at the edges of a page. */
const aroundPage = 120;

/** A whole page, null for the first; null where nothing stands on it. */
export function pageOfDrawing(
  network: Network,
  page: ElementId | null,
): { readonly marks: readonly PrintMark[]; readonly box: Box } | null {
  const here = [...network.elements.values()].filter(
    (element): element is Placed => isPlaced(element) && (element.page ?? null) === page,
  );
  const inner = hull(here.map(boxOf));
  if (!inner) return null;
  const box = roomAround(inner, aroundPage);
  return { marks: marksIn(network, page, box, new Map()), box };
}

const roomAround = (inner: Box, room: number): Box => ({
  x: inner.x - room,
  y: inner.y - room,
  width: inner.width + 2 * room,
  height: inner.height + 2 * room,
});

const nowhere = { x: 0, y: 0, turn: 0 };

function marksIn(
  network: Network,
  page: ElementId | null,
  box: Box,
  colours: ReadonlyMap<ElementId, string>,
): PrintMark[] {
  const scene = new Scene(network, page);
  const { symbols: standard } = settingsOf(network);
  const marks: PrintMark[] = [];
  const word = (text: string, x: number, y: number, colour: string): PrintMark => ({
    kind: 'text',
    text,
    x,
    y,
    turn: 0,
    size: nameSize,
    anchor: 'start',
    colour,
  });
  for (const wire of scene.wires)
    if (touches(wire.box, box))
      marks.push({
        kind: 'path',
        d: pathOf(wire.points),
        at: nowhere,
        stroke: light.ink,
        width: 1.4,
        fill: null,
        layer: 'connections',
      });
  for (const element of scene.placed) {
    if (element.kind === 'panel' && touches(boxOf(element), box)) {
      const { x, y, width, height } = boxOf(element);
      const d = `M${figure(x)} ${figure(y)}h${figure(width)}v${figure(height)}h${figure(-width)}Z`;
      marks.push({ kind: 'path', d, at: nowhere, stroke: light.muted, width: 0.6, fill: null, layer: 'frames' });
    }
    if (element.kind === 'textNote' && touches(boxOf(element), box))
      element.text
        .split('\n')
        .forEach((line, k) => marks.push(word(line, element.x + 4, element.y + 14 + 16 * k, light.ink)));
    if (!isDrawn(element) || !touches(boxOf(element), box)) continue;
    marks.push(...symbolMarks(element, standard, colours.get(element.id) ?? light.ink, box, word));
  }
  return marks;
}

function symbolMarks(
  element: Drawn,
  standard: Standard,
  colour: string,
  box: Box,
  word: (text: string, x: number, y: number, colour: string) => PrintMark,
): PrintMark[] {
  if (element.kind === 'bus') {
    const d = `M${figure(element.x)} ${figure(element.y - 2.5)}h${figure(element.length)}v5h${figure(-element.length)}Z`;
    return [
      { kind: 'path', d, at: nowhere, stroke: light.ink, width: 0, fill: light.ink, layer: 'busbars' },
      word(nameOf(element), Math.max(element.x, box.x + 4), element.y - 6, light.ink),
    ];
  }
  const { x, y, turn } = element;
  const marks = partsOf(element, standard).map(({ d, width, fill, dash, text }): PrintMark =>
    text
      ? { kind: 'text', text: text.value, ...turned(text, element), turn, size: text.size, anchor: 'middle', colour }
      : {
          kind: 'path',
          d,
          at: { x, y, turn },
          stroke: colour,
          width,
          fill: fill === 'stroke' ? colour : fill ? light.panel : null,
          ...(dash && { dash }),
          layer: 'symbols',
        },
  );
  if (element.kind === 'relay')
    marks.push({
      kind: 'path',
      d: 'M-16 -8h32a8 8 0 0 1 0 16h-32a8 8 0 0 1 0 -16Z',
      at: { x, y, turn: 0 },
      stroke: colour,
      width: 1.6,
      fill: null,
      layer: 'symbols',
    });
  if (element.kind !== 'currentTransformer' && element.kind !== 'voltageTransformer') {
    const own = boxOf(element);
    marks.push(word(nameOf(element).replace(/ relay$/i, ''), own.x + own.width + 3, element.y + 3, colour));
  }
  return marks;
}

/** A place within a symbol as it stands on the page. */
function turned(at: { x: number; y: number }, { x, y, turn }: Drawn): { x: number; y: number } {
  const rad = (turn * Math.PI) / 180;
  return {
    x: x + at.x * Math.cos(rad) - at.y * Math.sin(rad),
    y: y + at.x * Math.sin(rad) + at.y * Math.cos(rad),
  };
}

/** Marks as SVG. */
export function printed(marks: readonly PrintMark[], box: Box): PrintedPart {
  const size = `width="${figure(box.width)}" height="${figure(box.height)}" viewBox="${[box.x, box.y, box.width, box.height].map(figure).join(' ')}"`;
  return {
    svg: `<svg xmlns="http://www.w3.org/2000/svg" ${size}>${marks.map(written).join('')}</svg>`,
    width: box.width,
    height: box.height,
  };
}

function written(mark: PrintMark): string {
  if (mark.kind === 'text') {
    const turn = mark.turn === 0 ? '' : ` transform="rotate(${mark.turn} ${figure(mark.x)} ${figure(mark.y)})"`;
    const anchor = mark.anchor === 'start' ? '' : ' text-anchor="middle"';
    return `<text x="${figure(mark.x)}" y="${figure(mark.y)}" font-family="Sans" font-size="${mark.size}"${anchor}${turn} fill="${mark.colour}">${escaped(mark.text)}</text>`;
  }
  const { d, at, stroke, width, fill, dash } = mark;
  const place = at === nowhere ? '' : ` transform="translate(${figure(at.x)} ${figure(at.y)}) rotate(${at.turn})"`;
  const line = width > 0 ? ` stroke="${stroke}" stroke-width="${width}"` : '';
  return `<path d="${d}"${place}${line} fill="${fill ?? 'none'}"${dash ? ` stroke-dasharray="${dash}"` : ''}/>`;
}
