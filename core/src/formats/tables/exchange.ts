/**
 * All elements as tables, a sheet for each kind: for reading, and for changing many values in a spreadsheet and taking them back. Elements are
 * known by their identifier; new ones are drawn, not typed.
 */
import { columnsOf, headOf, textOf, typed, unlisted, type GridColumn } from '../../fields/cells';
import { applyChanges, type Change } from '../../model/changes';
import { kinds, nameOf, type Element, type ElementKind } from '../../model/element';
import type { ElementId } from '../../model/fields';
import { elementsByKind, type Network } from '../../model/network';
import { remark, type Cell, type Exporter, type Importer, type Sheet } from '../format';
import { countsOf } from '../project/exchange';

const title = 'tables of elements';
const idHead = 'Identifier';

/** A number as a number, so that the spreadsheet calculates with it. */
const cellOf = (element: Element, column: GridColumn): Cell => {
  const text = textOf(element, column);
  const isNumber = column.field.type === 'quantity' || column.field.type === 'optionalQuantity';
  return text === '' ? null : isNumber ? Number(text) : text;
};

export const tablesExporter: Exporter = {
  id: 'tables',
  title: 'Tables of all elements',
  extension: 'xlsx',
  write: (network: Network) => ({ content: sheetsOf(network) }),
};

const sheetsOf = (network: Network): Sheet[] =>
  [...elementsByKind(network)]
    .filter(([kind]) => !unlisted.includes(kind))
    .map(([kind, elements]) => {
      const columns = columnsOf(kind);
      return {
        name: kinds[kind].title,
        rows: [
          [idHead, ...columns.map(headOf)],
          ...elements.map((element) => [element.id, ...columns.map((column) => cellOf(element, column))]),
        ],
      };
    });

export const tablesImporter: Importer = {
  id: 'tables',
  title,
  sniff: ({ sheets }) => sheets.some(({ rows }) => rows[0]?.[0]?.trim() === idHead),
  report({ sheets }, { network }) {
    const problems = [];
    const changed = new Map<ElementId, Element>();
    const seen = new Set<string>();
    for (const { name, rows } of sheets) {
      const [heads = [], ...lines] = rows;
      if (heads[0]?.trim() !== idHead) continue;
      const at = (line: number) => `${name ? `${name}, line` : 'Line'} ${line}`;
      const told = new Set<string>();
      lines.forEach((line, k) => {
        const id = (line[0] ?? '').trim();
        if (line.every((cell) => cell.trim() === '')) return;
        const element = network.elements.get(id as ElementId);
        if (!element) return void problems.push(remark(`${at(k + 2)}: there is no element "${id}" in this project`));
        if (seen.has(id)) return void problems.push(remark(`${at(k + 2)}: ${nameOf(element)} stands there twice`));
        seen.add(id);
        const { element: now, problems: wrong } = taken(element, heads, line, told);
        problems.push(...wrong.map((message) => remark(`${at(k + 2)} (${nameOf(element)}): ${message}`)));
        if (now !== element) changed.set(element.id, now);
      });
    }
    const { batch, refused } = applicable(network, changed);
    problems.push(...refused.map((message) => remark(message)));
    const elements = batch.flatMap((change) => (change.op === 'update' ? [change.element] : []));
    return { format: title, found: countsOf(elements, ' changed'), problems, batch, label: 'Import tables' };
  },
};

/** An element with what a line says of it. A cell that is refused leaves its value; a column that nobody knows is told once. */
function taken(element: Element, heads: readonly string[], line: readonly string[], told: Set<string>) {
  const columns = byHead(element.kind);
  const problems: string[] = [];
  let now = element;
  heads.slice(1).forEach((head, j) => {
    const cell = (line[j + 1] ?? '').trim();
    const column = columns.get(head.trim());
    if (!column) {
      if (head.trim() !== '' && !told.has(head)) problems.push(`the column "${head}" is not known and was left out`);
      told.add(head);
      return;
    }
    if (cell === textOf(now, column)) return;
    const read = typed(now, column, cell);
    if (read.ok) now = read.element;
    else problems.push(`${column.title.toLowerCase()}: ${read.message}`);
  });
  return { element: now, problems };
}

const heads = new Map<ElementKind, ReadonlyMap<string, GridColumn>>();
function byHead(kind: ElementKind): ReadonlyMap<string, GridColumn> {
  let known = heads.get(kind);
  if (!known) heads.set(kind, (known = new Map(columnsOf(kind).map((column) => [headOf(column), column]))));
  return known;
}

/** All changes when the network takes them together; else those that it takes one after the other. */
function applicable(network: Network, changed: ReadonlyMap<ElementId, Element>) {
  const all = [...changed.values()].map((element): Change => ({ op: 'update', element }));
  if (applyChanges(network, all).ok) return { batch: all, refused: [] };
  const batch: Change[] = [];
  const refused: string[] = [];
  let now = network;
  for (const change of all) {
    const applied = applyChanges(now, [change]);
    if (applied.ok) {
      now = applied.network;
      batch.push(change);
    } else if (change.op === 'update') refused.push(`${nameOf(change.element)}: ${applied.problems[0].message}`);
  }
  return { batch, refused };
}
