/** Bill of material of boards: components alike counted together. */
import { deviceText } from '../lowVoltage/cells';
import { kinds, nameOf, type Element } from '../model/element';
import type { ElementId } from '../model/fields';
import type { Network } from '../model/network';
import { entryNamed } from '../equipment/use';
import { boardsIn, type Board } from './board';

export interface BillLine {
  readonly board: string;
  readonly kind: string;
  /** Type of the library, else what it is rated for. */
  readonly type: string;
  readonly count: number;
  readonly names: readonly string[];
}

const number = (value: number | null, unit: string): string[] => (value === null ? [] : [`${value} ${unit}`]);

/** "breaker 0.69 kV, 250 A, 50 kA": what an element is by its ratings. */
export function ratingText(element: Element): string {
  switch (element.kind) {
    case 'switch': {
      const device = deviceText(element);
      return [
        element.type,
        ...number(element.ratedKv, 'kV'),
        ...number(element.ratedA, 'A'),
        ...number(element.breakingKa, 'kA'),
        ...(device ? [device] : []),
      ].join(', ');
    }
    case 'bus':
      return [
        ...number(element.ratedKv, 'kV'),
        ...number(element.ratedA, 'A'),
        ...number(element.shortTimeKa, `kA for ${element.shortTimeS} s`),
        ...number(element.peakKa, 'kA peak'),
      ].join(', ');
    case 'currentTransformer':
      return `${element.primaryA}/${element.secondaryA} A, ${element.accuracy}`;
    case 'voltageTransformer':
      return `${element.primaryKv} kV / ${element.secondaryV} V, ${element.accuracy}`;
    case 'earthingSwitch':
      return number(element.makingKa, 'kA making').join('');
    case 'relay':
      return [...new Set(element.functions.map((fn) => ('code' in fn ? fn.code : fn.family)))].join(', ');
    default:
      return '';
  }
}

const typeText = (network: Network, element: Element): string => {
  const entry = 'entry' in element && element.entry ? entryNamed(network, element.entry) : undefined;
  const device = element.kind === 'switch' ? deviceText(element) : '';
  return entry ? [entry.title, device].filter(Boolean).join(', ') : ratingText(element);
};

/** `board`: null for all. A relay that serves two boards counts at the first. */
export function billOf(network: Network, board: ElementId | null = null): BillLine[] {
  const counted = new Set<ElementId>();
  return boardsIn(network).flatMap((each) => {
    const lines = linesOf(network, each, counted);
    return board === null || each.id === board ? lines : [];
  });
}

function linesOf(network: Network, { name, sections, outlets }: Board, counted: Set<ElementId>): BillLine[] {
  const groups = new Map<string, { kind: string; type: string; names: string[] }>();
  for (const id of [...sections, ...outlets.flatMap(({ components }) => components)]) {
    const element = network.elements.get(id);
    if (!element || counted.has(id)) continue;
    counted.add(id);
    const kind = element.kind === 'bus' ? 'Busbar' : kinds[element.kind].title;
    const type = typeText(network, element);
    const key = `${kind} ${type}`;
    const group = groups.get(key);
    if (group) group.names.push(nameOf(element));
    else groups.set(key, { kind, type, names: [nameOf(element)] });
  }
  return [...groups.values()]
    .map(({ kind, type, names }) => ({ board: name, kind, type, count: names.length, names }))
    .sort((p, q) => p.kind.localeCompare(q.kind) || p.type.localeCompare(q.type, 'en', { numeric: true }));
}

export const billRows = (lines: readonly BillLine[]): (string | number)[][] => [
  ['Board', 'Kind', 'Type', 'Number', 'Names'],
  ...lines.map(({ board, kind, type, count, names }) => [board, kind, type, count, names.join(', ')]),
];
