/** A load list from a spreadsheet: columns matched by the user, each row a circuit that is drawn on its board. */
import { usualConsumer, usualLaying } from '../model/circuit';
import type { Change } from '../model/changes';
import type { Element, ElementOf } from '../model/element';
import type { ElementId } from '../model/fields';
import { find, withElements, type Network } from '../model/network';
import { delimited } from '../fields/delimited';
import { parseQuantity } from '../fields/quantity';
import { FreeNames } from '../drawing/parts/fragment';
import { chainChanges, drawChain, startAt } from '../drawing/feeder/chain';
import { tools, type Tool } from '../drawing/shape/tools';
import { cableValues } from './cable';
import { typedCell, type ScheduleCell, type ScheduleParts } from './cells';

/** What a column of a list may hold. */
export const listColumns = [
  'name',
  'motorKw',
  'kw',
  'kva',
  'ampere',
  'powerFactor',
  'efficiency',
  'starting',
  'phases',
  'use',
  'demand',
  'length',
  'section',
  'method',
  'ambient',
  'together',
  'device',
] as const;
export type ListColumn = (typeof listColumns)[number];

export const listColumnTitles: Readonly<Record<ListColumn, string>> = {
  name: 'Name of the circuit',
  motorKw: 'Motor, shaft power in kW',
  kw: 'Load in kW',
  kva: 'Load in kVA',
  ampere: 'Load in A',
  powerFactor: 'Power factor',
  efficiency: 'Efficiency in %',
  starting: 'Starting current over rated',
  phases: 'Phases (3, L1, L2, L3)',
  use: 'Use (fixed, sockets)',
  demand: 'Demand in %',
  length: 'Length in m',
  section: 'Section in mm²',
  method: 'Laid by method',
  ambient: 'Surroundings in °C',
  together: 'Circuits side by side',
  device: 'Device (C16, gG 25)',
};

/** Words by which heads of columns are recognised. */
const words: Readonly<Record<ListColumn, RegExp>> = {
  motorKw: /motor|shaft|mechanical/i,
  name: /^(name|circuit|load|consumer|description|tag|designation)\b/i,
  kw: /\bkw\b|active/i,
  kva: /\bkva\b|apparent/i,
  ampere: /^(a|i|ib|amps?|ampere|current)\b|\[a\]|\(a\)/i,
  powerFactor: /cos|power factor|\bpf\b/i,
  efficiency: /effic|η|\beta\b/i,
  starting: /start|locked|ilr/i,
  phases: /phase|^ph\b/i,
  use: /\buse\b|socket|kind/i,
  demand: /demand|diversity|simultan/i,
  length: /length|^l\b|distance|\bm\b|metres?/i,
  section: /section|mm²|mm2|area/i,
  method: /method|laid|laying/i,
  ambient: /ambient|temp|°c/i,
  together: /group|beside|together/i,
  device: /device|breaker|fuse|protection/i,
};

export interface LoadList {
  readonly heads: readonly string[];
  readonly rows: readonly (readonly string[])[];
}

/** The first row is a head where no cell of it is a number. */
export function readList(text: string): LoadList {
  const all = delimited(text).filter((row) => row.some((cell) => cell.trim() !== ''));
  const width = Math.max(0, ...all.map((row) => row.length));
  const even = all.map((row) => Array.from({ length: width }, (_, k) => (row[k] ?? '').trim()));
  const [first] = even;
  const isHead = first?.some((cell) => cell !== '') && !first.some((cell) => parseQuantity(cell, '').ok);
  return isHead
    ? { heads: first, rows: even.slice(1) }
    : { heads: Array.from({ length: width }, (_, k) => `Column ${k + 1}`), rows: even };
}

/** Column of each kind by the words of its head; `remembered`: what the user matched before, by head. */
export function matched(
  heads: readonly string[],
  remembered: Readonly<Record<string, ListColumn | ''>> = {},
): (ListColumn | null)[] {
  const taken = new Set<ListColumn>();
  const take = (column: ListColumn | null) => {
    if (!column || taken.has(column)) return null;
    taken.add(column);
    return column;
  };
  const first = heads.map((head) => {
    const before = remembered[head.toLowerCase()];
    return before === undefined ? undefined : before === '' ? null : take(before);
  });
  return heads.map((head, k) =>
    first[k] !== undefined
      ? first[k]
      : take(listColumns.find((column) => !taken.has(column) && words[column].test(head)) ?? null),
  );
}

export interface ListProblem {
  /** From 1, as the list counts its rows below the head. */
  readonly row: number;
  readonly column: string;
  readonly message: string;
}

export interface ListPlan {
  readonly changes: readonly Change[];
  /** First switch of each new circuit, by row; null where the row is left. */
  readonly keys: readonly (ElementId | null)[];
  readonly problems: readonly ListProblem[];
}

const toolOf = (kind: Tool['kind'], over: Record<string, unknown>, prefix?: string): Tool => {
  const found = tools.find((each) => each.kind === kind && (kind !== 'switch' || each.over?.type === 'breaker'))!;
  return { ...found, prefix: prefix ?? found.prefix, over: { ...found.over, ...over } as Tool['over'] };
};

/** Fields whose values nobody has given; the schedule shows them as assumed. */
const assumedCable = ['sectionMm2', 'r1OhmPerKm', 'x1OhmPerKm', 'r0OhmPerKm', 'x0OhmPerKm'];
/** Section until one is chosen, mm². */
const firstSection = 2.5;

/** Circuits of a list on a board, as one batch. Rows with something unreadable are left out and named. */
export function listPlan(
  network: Network,
  board: ElementId,
  list: LoadList,
  columns: readonly (ListColumn | null)[],
  newId: () => ElementId,
): ListPlan {
  const bus = find(network, 'bus', board);
  const problems: ListProblem[] = [];
  const touched = new Set<ElementId>();
  const keys: (ElementId | null)[] = [];
  if (!bus)
    return { changes: [], keys, problems: [{ row: 0, column: '', message: 'The board is not there any more.' }] };
  let now = network;
  list.rows.forEach((cells, index) => {
    const row = index + 1;
    const given = new Map<ListColumn, string>();
    columns.forEach((column, k) => {
      if (column && cells[k]) given.set(column, cells[k]);
    });
    const before = problems.length;
    const wrong = (column: ListColumn, message: string) =>
      problems.push({ row, column: list.heads[columns.indexOf(column)] ?? listColumnTitles[column], message });
    const number = (column: ListColumn, unit: string): number | null => {
      const text = given.get(column);
      if (text === undefined) return null;
      const read = parseQuantity(text, unit);
      if (read.ok) return read.value;
      wrong(column, read.message);
      return null;
    };
    const motorKw = number('motorKw', 'kW');
    const sizes = (['kw', 'kva', 'ampere'] as const).flatMap((column) => {
      const value = number(column, column === 'kw' ? 'kW' : column === 'kva' ? 'kVA' : 'A');
      return value === null || value === 0 ? [] : [{ column, value }];
    });
    if (motorKw === null && sizes.length === 0 && problems.length === before) {
      problems.push({ row, column: '', message: 'No size: a load in kW, kVA or A, or a motor in kW.' });
    }
    if (problems.length > before) return void keys.push(null);

    const drawn = circuitDrawn(now, bus.id, motorKw !== null && motorKw > 0, newId);
    if (!drawn) {
      problems.push({ row, column: '', message: 'The board has no room for another circuit.' });
      return void keys.push(null);
    }
    let tried = withElements(now, drawn.elements);
    const { parts } = drawn;
    const change = (element: Element) => (tried = withElements(tried, [element]));
    const type = (cell: ScheduleCell, column: ListColumn, text: string) => {
      const read = typedCell(tried, parts, cell, text);
      if (read.ok) change(read.element);
      else wrong(column, read.message);
    };
    // In this order: what the size is in depends on phases and power factor.
    const direct: readonly (readonly [ListColumn, ScheduleCell])[] = [
      ['name', 'name'],
      ['powerFactor', 'powerFactor'],
      ['phases', 'phases'],
      ['use', 'use'],
      ['demand', 'demand'],
      ['length', 'length'],
      ['section', 'section'],
      ['method', 'method'],
      ['ambient', 'ambient'],
      ['together', 'together'],
      ['device', 'device'],
    ];
    for (const [column, cell] of direct) {
      const text = given.get(column);
      if (text === undefined) continue;
      const names = new FreeNames(tried.elements.values());
      type(
        cell,
        column,
        cell === 'name' ? names.next(text.slice(0, 80)) : column === 'phases' && text === '1' ? 'L1' : text,
      );
    }
    if (motorKw !== null) type('size', 'motorKw', `${motorKw} kW`);
    for (const { column, value } of sizes.slice(0, motorKw === null ? 1 : 0))
      type('size', column, `${value} ${column === 'kw' ? 'kW' : column === 'kva' ? 'kVA' : 'A'}`);
    const motor = find(tried, 'asynchronousMotor', parts.end);
    if (motor) {
      const efficiency = number('efficiency', '%');
      const starting = number('starting', '');
      change({
        ...motor,
        ...(efficiency !== null && { efficiencyPercent: efficiency <= 1 ? 100 * efficiency : efficiency }),
        ...(starting !== null && { startingRatio: starting }),
      });
    }
    if (problems.length > before) return void keys.push(null);
    now = tried;
    keys.push(parts.device);
    for (const { id } of drawn.elements) touched.add(id);
  });
  // A busbar that grew with every row is changed once.
  const changes = [...touched].map((id): Change => {
    const element = now.elements.get(id)!;
    return { op: network.elements.has(id) ? 'update' : 'add', element };
  });
  return { changes, keys, problems };
}

export interface DrawnCircuit {
  /** New elements, and such of the drawing that had to change. */
  readonly elements: readonly Element[];
  readonly parts: ScheduleParts;
}

/** A circuit as one is drawn by hand: breaker, cable, consumer; null where there is no room. */
export function circuitDrawn(
  network: Network,
  board: ElementId,
  isMotor: boolean,
  newId: () => ElementId,
): DrawnCircuit | null {
  const start = startAt(network, board);
  if (!start) return null;
  const ids: ElementId[] = [];
  const idOf = (k: number) => (ids[k] ??= newId());
  const cable = {
    ...cableValues('Cu', 'PVC', firstSection)!,
    lengthKm: 0.02,
    laying: usualLaying,
  };
  const chain = drawChain(
    network,
    start,
    [
      toolOf('switch', { openingTimeS: 0.01, functions: [] }, 'F'),
      toolOf('line', cable, 'W'),
      isMotor
        ? toolOf('asynchronousMotor', {
            ratedMw: 0.0055,
            efficiencyPercent: 88,
            powerFactor: 0.84,
            startingRatio: 6.5,
            circuit: usualConsumer,
          })
        : toolOf('load', { ratedMva: 0.001, powerFactor: 0.95, circuit: { ...usualConsumer, given: 'kW' } }),
    ],
    idOf,
  );
  if (chain.reason !== null) return null;
  const of = <K extends Element['kind']>(kind: K) =>
    chain.elements.find((each): each is ElementOf<K> => each.kind === kind)!;
  const line = { ...of('line'), assumed: [...assumedCable, 'lengthKm'] };
  const elements = chainChanges(chain).flatMap((change) => (change.op === 'remove' ? [] : [change.element]));
  const end = isMotor ? of('asynchronousMotor').id : of('load').id;
  return {
    elements: elements.map((each) => (each.id === line.id ? line : each)),
    parts: { board, end, cable: line.id, device: of('switch').id },
  };
}
