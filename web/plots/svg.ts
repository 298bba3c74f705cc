/** A scene as SVG text in the colours of print, for the PDF. */
import { deviceStyles, light } from '../theme/tokens';
import { frameOf, kept, type Ink, type Mark, type Point, type Scene } from './scene';

export const escaped = (text: string): string =>
  text.replace(/[<>&"]/g, (c) => ({ '<': '&lt;', '>': '&gt;', '&': '&amp;', '"': '&quot;' })[c]!);
/** Greek letters stand in a font of their own: the packaged ones come per alphabet. */
const lettered = (text: string) =>
  escaped(text).replace(/[\u0370-\u03ff]+/g, (greek) => `<tspan font-family="Greek, Sans">${greek}</tspan>`);
const colour = (ink: Ink): string =>
  typeof ink === 'number' ? deviceStyles[ink % deviceStyles.length].light : light[ink];
const figure = (value: number): string => String(Number(value.toFixed(2)));

const keptPath = kept<readonly Point[], string>();

/** Points of a path; a scene holds none that are not numbers. */
export const pathOf = (points: readonly Point[]): string =>
  keptPath(points, '', () => points.map(({ x, y }, k) => `${k === 0 ? 'M' : 'L'}${figure(x)} ${figure(y)}`).join(''));

function written(mark: Mark): string {
  switch (mark.kind) {
    case 'line': {
      const dash = mark.dash ? ` stroke-dasharray="${mark.dash}"` : '';
      const opacity = mark.opacity === undefined ? '' : ` stroke-opacity="${mark.opacity}"`;
      const clip = mark.clipped ? ' clip-path="url(#frame)"' : '';
      return `<path d="${pathOf(mark.points)}" fill="none" stroke="${colour(mark.ink)}" stroke-width="${mark.width}"${dash}${opacity}${clip}/>`;
    }
    case 'text':
      return `<text x="${figure(mark.at.x)}" y="${figure(mark.at.y)}" text-anchor="${mark.anchor ?? 'start'}" font-family="Sans" font-size="${mark.size}" font-weight="${mark.bold ? 600 : 400}" fill="${colour(mark.ink)}">${lettered(mark.text)}</text>`;
    case 'box': {
      const line = mark.line === undefined ? '' : ` stroke="${colour(mark.line)}" stroke-width="0.8"`;
      return `<rect x="${figure(mark.at.x)}" y="${figure(mark.at.y)}" width="${figure(mark.width)}" height="${figure(mark.height)}" rx="${mark.radius ?? 0}" fill="${mark.fill === null ? 'none' : colour(mark.fill)}"${line}/>`;
    }
    case 'area': {
      const clip = mark.clipped ? ' clip-path="url(#frame)"' : '';
      return `<path d="${pathOf(mark.points)}Z" fill="${colour(mark.ink)}" fill-opacity="${mark.opacity}"${clip}/>`;
    }
    case 'dot':
      return `<circle cx="${figure(mark.at.x)}" cy="${figure(mark.at.y)}" r="${mark.radius}" fill="${colour(mark.ink)}"/>`;
  }
}

export function svgOf({ paper, marks }: Scene): string {
  const { left, right, top, bottom } = frameOf(paper);
  const size = `width="${paper.width}" height="${paper.height}" viewBox="0 0 ${paper.width} ${paper.height}"`;
  const clip = `<clipPath id="frame"><rect x="${left}" y="${top}" width="${right - left}" height="${bottom - top}"/></clipPath>`;
  return `<svg xmlns="http://www.w3.org/2000/svg" ${size}><defs>${clip}</defs>${marks.map(written).join('')}</svg>`;
}
