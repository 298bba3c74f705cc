/** What hangs on the busbars at the ends of lines: what may be out when their protection has to hold. */
import type { ElementKind } from '../model/element';
import type { ElementId } from '../model/fields';
import type { Studies } from '../studies/studies';
import { circuitAt, type Circuit } from './circuits';
import type { LineEnd } from './seen';

/** What may be out one at a time: it carries current to a busbar. That a network feeder is weak is what minimum sources are for; without it there is nothing left to protect. */
const outable: ReadonlySet<ElementKind> = new Set<ElementKind>([
  'line',
  'transformer',
  'threeWindingTransformer',
  'synchronousMachine',
  'powerStationUnit',
]);

/** What hangs on the busbar of an end, the line itself apart. */
export function neighboursAt({ network, max: { assembly } }: Studies, end: LineEnd): ElementId[] {
  const { topology } = assembly;
  const node = topology.nodeAt(end.line, end.terminal);
  const own = new Set(circuitAt(network, end).lines);
  if (node === undefined) return [];
  return [...network.elements.values()].flatMap(({ id, kind }) =>
    outable.has(kind) && !own.has(id) && [0, 1, 2].some((terminal) => topology.nodeAt(id, terminal) === node)
      ? [id]
      : [],
  );
}

/** What hangs on the busbars at all ends of a circuit. */
export const neighboursOf = (studies: Studies, { ends }: Circuit): ElementId[] => [
  ...new Set(ends.flatMap((end) => neighboursAt(studies, end))),
];
