/** The part of the one-line around some devices, as SVG text in the colours of print: what a chart covers, beside it. */
import { touches } from '@mesura/core/drawing/shape/boxIndex';
import { boxOf, hull, isDrawn, isPlaced, type Box, type Placed } from '@mesura/core/drawing/shape/shapes';
import { nameOf } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import { settingsOf, type Network } from '@mesura/core/model/network';
import { breakersOf, firstCtOf } from '@mesura/core/model/protection';
import { escaped, pathOf } from '../../plots/svg';
import { light } from '../../theme/tokens';
import { Scene } from './scene';
import { partsOf } from './symbolParts';

/** Room around the devices, in drawing units. */
const around = 70;
const nameSize = 12;

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
  const here = meant.filter((element) => (element.page ?? null) === page);
  const inner = hull(here.map(boxOf))!;
  const box: Box = {
    x: inner.x - around,
    y: inner.y - around,
    width: inner.width + 2 * around,
    height: inner.height + 2 * around,
  };
  const scene = new Scene(network, page);
  const { symbols: standard } = settingsOf(network);
  const marks: string[] = [];
  for (const wire of scene.wires)
    if (touches(wire.box, box))
      marks.push(`<path d="${pathOf(wire.points)}" fill="none" stroke="${light.ink}" stroke-width="1.4"/>`);
  for (const element of scene.placed) {
    if (!isDrawn(element) || !touches(boxOf(element), box)) continue;
    const colour = colours.get(element.id) ?? light.ink;
    if (element.kind === 'bus') {
      marks.push(
        `<rect x="${figure(element.x)}" y="${figure(element.y - 2.5)}" width="${figure(element.length)}" height="5" fill="${light.ink}"/>`,
        named(nameOf(element), Math.max(element.x, box.x + 4), element.y - 6, light.ink),
      );
      continue;
    }
    marks.push(
      `<g transform="translate(${figure(element.x)} ${figure(element.y)}) rotate(${element.turn})">`,
      ...partsOf(element, standard).map(({ d, width, fill, dash, text }) =>
        text
          ? `<text x="${text.x}" y="${text.y}" font-family="Sans" font-size="${text.size}" text-anchor="middle" fill="${colour}">${escaped(text.value)}</text>`
          : `<path d="${d}" stroke="${colour}" stroke-width="${width}" fill="${fill === 'stroke' ? colour : fill ? light.panel : 'none'}"${dash ? ` stroke-dasharray="${dash}"` : ''}/>`,
      ),
      '</g>',
    );
    if (element.kind === 'relay')
      marks.push(
        `<rect x="${figure(element.x - 24)}" y="${figure(element.y - 8)}" width="48" height="16" rx="8" fill="none" stroke="${colour}" stroke-width="1.6"/>`,
      );
    if (element.kind !== 'currentTransformer' && element.kind !== 'voltageTransformer') {
      const own = boxOf(element);
      marks.push(named(nameOf(element).replace(/ relay$/i, ''), own.x + own.width + 3, element.y + 3, colour));
    }
  }
  const size = `width="${figure(box.width)}" height="${figure(box.height)}" viewBox="${[box.x, box.y, box.width, box.height].map(figure).join(' ')}"`;
  return {
    svg: `<svg xmlns="http://www.w3.org/2000/svg" ${size}>${marks.join('')}</svg>`,
    width: box.width,
    height: box.height,
  };
}

const named = (text: string, x: number, y: number, colour: string): string =>
  `<text x="${figure(x)}" y="${figure(y)}" font-family="Sans" font-size="${nameSize}" fill="${colour}">${escaped(text)}</text>`;
