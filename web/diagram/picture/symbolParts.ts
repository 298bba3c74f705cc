/**
 * Symbols of the one-line diagram as data, each around its own centre, upright: after IEC 60617, or IEEE 315 where a project asks for it.
 * The canvas, the palette and whatever prints a drawing take them from here.
 */
import type { Drawn } from '@mesura/core/drawing/shape/shapes';

export type Standard = 'iec' | 'ieee';

export interface Part {
  /** SVG path; empty for a text. */
  readonly d: string;
  /** The terminal whose voltage level gives the colour. */
  readonly of: 0 | 1 | 2;
  readonly width: number;
  readonly fill?: 'stroke' | 'paper' | 'panel';
  readonly dash?: string;
  readonly text?: { readonly value: string; readonly x: number; readonly y: number; readonly size: number };
}

const usual = 1.6;
const path = (d: string, of: Part['of'] = 0, width = usual): Part => ({ d, of, width });
const filled = (d: string, fill: NonNullable<Part['fill']>, of: Part['of'] = 0, width = usual): Part => ({
  d,
  of,
  width,
  fill,
});
const letter = (value: string, y: number, size: number, of: Part['of'] = 0, x = 0): Part => ({
  d: '',
  of,
  width: 0,
  text: { value, x, y, size },
});

const circle = (x: number, y: number, r: number): string =>
  `M${x - r} ${y}a${r} ${r} 0 1 0 ${2 * r} 0a${r} ${r} 0 1 0 ${-2 * r} 0Z`;
const box = (x: number, y: number, width: number, height: number): string => `M${x} ${y}h${width}v${height}h${-width}Z`;
/** Half loops of a winding from left to right, open upward (sweep 0) or downward. */
const loops = (x: number, y: number, r: number, count: number, sweep: 0 | 1): string =>
  `M${x} ${y}${`a${r} ${r} 0 0 ${sweep} ${2 * r} 0`.repeat(count)}`;
const earth = (y: number): Part => path(`M-8 ${y}H8M-5 ${y + 3.5}H5M-2 ${y + 7}H2`, 0, 1.3);

const cache = new Map<string, readonly Part[]>();

/** What the symbol of an element consists of; a busbar has none. */
export function partsOf(element: Drawn, standard: Standard): readonly Part[] {
  const key = keyOf(element, standard);
  let parts = cache.get(key);
  if (!parts) cache.set(key, (parts = draw(element, standard)));
  return parts;
}

/** Elements with the same key look the same. */
export function keyOf(element: Drawn, standard: Standard): string {
  switch (element.kind) {
    case 'switch':
      return `${standard}|switch|${element.type}|${element.closed}|${hasRelease(element)}`;
    case 'line':
    case 'shunt':
      return `${standard}|${element.kind}|${element.type}`;
    case 'earthingSwitch':
      return `${standard}|${element.kind}|${element.closed}`;
    case 'threeWindingTransformer':
      return `${standard}|${element.kind}|${element.mirrored === true}`;
    default:
      return `${standard}|${element.kind}`;
  }
}

function draw(element: Drawn, standard: Standard): readonly Part[] {
  const ieee = standard === 'ieee';
  switch (element.kind) {
    case 'bus':
    case 'relay':
      return [];
    case 'switch':
      return [
        ...switchParts(element.type, element.closed, ieee),
        ...(hasRelease(element) ? [path(box(5.5, -2.5, 5, 5), 0, 1.1)] : []),
      ];
    case 'currentTransformer':
      return ieee
        ? [path('M0 -10V10'), path('M3 -6a3 3 0 0 1 0 6a3 3 0 0 1 0 6')]
        : [path('M0 -10V10'), path(circle(0, 0, 5.5))];
    case 'voltageTransformer':
      return ieee
        ? [path('M0 -20V-5'), path(loops(-9, -5, 3, 3, 1)), path(loops(-9, 4, 3, 3, 0))]
        : [path('M0 -20V-11'), path(circle(0, -4, 7)), path(circle(0, 5, 7))];
    case 'transformer':
      return ieee
        ? [path('M0 -30V-6'), path(loops(-15, -6, 5, 3, 1)), path('M0 30V6', 1), path(loops(-15, 6, 5, 3, 0), 1)]
        : [path('M0 -30V-22'), path('M0 22V30', 1), path(circle(0, -9, 13)), path(circle(0, 9, 13), 1)];
    case 'threeWindingTransformer': {
      const side = element.mirrored ? -1 : 1;
      return ieee
        ? [
            path('M0 -30V-8'),
            path(loops(-18, -8, 6, 3, 1)),
            path(`M${-20 * side} 30V8`, 1),
            path(loops(side > 0 ? -26 : 2, 8, 4, 3, 0), 1),
            path(`M${20 * side} 30V8`, 2),
            path(loops(side > 0 ? 2 : -26, 8, 4, 3, 0), 2),
          ]
        : [
            path('M0 -30V-22'),
            path(`M${-20 * side} 30V20L${-17 * side} 17`, 1),
            path(`M${20 * side} 30V20L${17 * side} 17`, 2),
            path(circle(0, -10, 12)),
            path(circle(-8.5 * side, 7, 12), 1),
            path(circle(8.5 * side, 7, 12), 2),
          ];
    }
    case 'seriesReactor':
      return [path('M0 -30V-18a4.5 4.5 0 0 1 0 9a4.5 4.5 0 0 1 0 9a4.5 4.5 0 0 1 0 9a4.5 4.5 0 0 1 0 9V30')];
    case 'powerStationUnit':
      return [
        path('M0 -40V-34'),
        path(circle(0, -24, 10)),
        path(circle(0, -11, 10), 1),
        path('M0 -1V6M0 30V40', 1),
        filled(circle(0, 18, 12), 'panel', 1),
        letter('G', 22.5, 12, 1),
      ];
    case 'converterSource':
      return [...converter, path('M3 6h7M3 9h7', 0, 1.2)];
    case 'staticDrive':
      return [...converter, letter('M', 10.5, 9.5, 0, 6.5)];
    case 'doublyFedMachine':
      return [path('M0 -20V-16'), filled(circle(0, 0, 16), 'panel'), path(circle(0, 0, 11)), letter('G', 4, 11)];
    case 'earthingSwitch':
      return [path(element.closed ? 'M0 -20V8M-5 -9H5' : 'M0 -20V-9M0 8V4L-8 -8'), earth(8)];
    case 'line':
      if (element.type === 'cable') return [path('M0 -30V30'), filled('M-4 -22H4L0 -15ZM-4 22H4L0 15Z', 'stroke')];
      return ieee ? [path('M0 -30V30')] : [path('M0 -30V30'), path('M-5 3L5 -3M-5 8L5 2', 0, 1.2)];
    case 'networkFeeder':
      return ieee
        ? [path('M0 14V20'), filled(circle(0, 0, 14), 'panel'), letter('U', 4.5, 13)]
        : [
            path('M0 12V20'),
            filled(box(-14, -14, 28, 26), 'panel'),
            path('M-14 -5L-5 -14M-14 4L4 -14M-14 12L12 -14M-5 12L14 -7M4 12L14 2', 0, 0.9),
          ];
    case 'synchronousMachine':
      return machine('G', !ieee);
    case 'asynchronousMotor':
      return machine('M', false);
    case 'load':
      return [path('M0 -20V8'), filled('M-6 6H6L0 17Z', 'stroke')];
    case 'shunt':
      if (element.type !== 'capacitor') return [path('M0 -20V-12M0 -12a8 8 0 1 1 -8 8H0V12'), earth(12)];
      return [
        path(ieee ? 'M0 -20V-4M-9 -4H9M-9 5a12 9 0 0 1 18 0M0 .5V12' : 'M0 -20V-4M-9 -4H9M-9 2H9M0 2V12'),
        earth(12),
      ];
    // Two cells, the long stroke the positive plate.
    case 'battery':
      return [path('M0 -20V-8M-11 -8H11M-5 -3H5M-11 5H11M-5 10H5'), path('M0 -3V5', 0, 1)];
    case 'rectifier':
      return [
        path('M0 -30V-14'),
        path('M0 14V30', 1),
        filled(box(-14, -14, 28, 28), 'panel'),
        path('M-14 14L14 -14', 0, 1.2),
        path('M-10 -7c1.5 -2.5 2.5 -2.5 4 0s2.5 2.5 4 0', 0, 1.2),
        path('M2 6h8M2 9.5h8', 1, 1.2),
      ];
    case 'directMotor':
      return [...machine('M', false), path('M-5 8.5H5', 0, 1.2)];
    case 'directCapacitor':
      return [path('M0 -20V-4M-9 -4H9M-9 2H9M0 2V13M-6 13H6')];
    case 'directLoad':
      return [path('M0 -20V6'), filled('M-6 4H6L0 15Z', 'paper'), path('M-5 18H5', 0, 1.2)];
    case 'directCable':
      return [path('M0 -30V30'), filled('M-4 -22H4L0 -15ZM-4 22H4L0 15Z', 'paper'), path('M-6 -2H6M-6 2H6', 0, 1.2)];
    case 'earthingTransformer':
      return [path('M0 -20V-15M0 5V12'), path(circle(0, -5, 10)), path('M-4 -9H4L-4 -1H4', 0, 1.2), earth(12)];
  }
}

const converter: readonly Part[] = [
  path('M0 -20V-13'),
  filled(box(-13, -13, 26, 26), 'panel'),
  path('M-13 13L13 -13', 0, 1.2),
  path('M-10 -7c1.5 -2.5 2.5 -2.5 4 0s2.5 2.5 4 0', 0, 1.2),
];

const machine = (name: string, wave: boolean): Part[] => [
  path('M0 -20V-16'),
  filled(circle(0, 0, 16), 'panel'),
  letter(name, wave ? 1.5 : 5, 13),
  ...(wave ? [path('M-6 8c2.5 -4 4 -4 6 0s3.5 4 6 0', 0, 1.2)] : []),
];

/** A breaker, or a contactor, that a release of its own opens. */
const hasRelease = ({ type, functions }: Extract<Drawn, { kind: 'switch' }>): boolean =>
  functions.length > 0 && (type === 'breaker' || type === 'contactor');

/** A contact: closed it runs through, open its blade stands off. IEC marks its function at the fixed contact. */
function switchParts(type: Extract<Drawn, { kind: 'switch' }>['type'], closed: boolean, ieee: boolean): Part[] {
  const blade = path(closed ? 'M0 -10V10' : 'M0 -10V-6M0 10V6L-7 -6');
  switch (type) {
    case 'breaker':
      if (ieee)
        return [
          path('M0 -10V-6.5M0 6.5V10'),
          closed ? filled(box(-6.5, -6.5, 13, 13), 'stroke') : filled(box(-6.5, -6.5, 13, 13), 'paper'),
        ];
      return [blade, path('M-3.6 -9.6L3.6 -2.4M3.6 -9.6L-3.6 -2.4')];
    case 'recloser':
      // A breaker that closes again by itself.
      return [
        ...switchParts('breaker', closed, ieee),
        path('M10 -6a4.5 4.5 0 1 0 3 7.5M13.4 -2.4L13 1.6L9.4 .4', 0, 1.1),
      ];
    case 'contactor':
      return [blade, path('M-3 -9a3 3 0 0 0 0 6', 0, 1.3)];
    case 'disconnector':
      return ieee
        ? [
            path(closed ? 'M0 -10V-6M0 6V10M0 6V-6' : 'M0 -10V-6M0 6V10M0 6L-9 -4'),
            filled(circle(0, -6, 1.6), 'stroke'),
            filled(circle(0, 6, 1.6), 'stroke'),
          ]
        : [blade, path('M-4.5 -6H4.5')];
    case 'fuse':
      if (ieee)
        return [
          path(closed ? 'M0 -10V-7a3.5 3.5 0 0 1 0 7a3.5 3.5 0 0 0 0 7V10' : 'M0 -10V-7a3.5 3.5 0 0 1 0 7M0 7V10'),
        ];
      return [
        path(closed ? 'M0 -10V10' : 'M0 -10V-8M0 8V10'),
        closed ? path(box(-4, -8, 8, 16)) : { ...filled(box(-4, -8, 8, 16), 'paper'), dash: '2 2' },
      ];
    case 'link':
      return [
        path(closed ? 'M0 -10V10' : 'M0 -10V-6M0 10V6'),
        filled(circle(0, -6, 2.2), 'stroke'),
        filled(circle(0, 6, 2.2), closed ? 'stroke' : 'paper'),
      ];
  }
}
