/** The figures that rules about zones name, for one end of a line: what lies ahead, and which elements it is. */
import { add, divide, magnitude, zero, type Complex } from '../linear/complex';
import type { Assembly } from '../assembly/assemble';
import type { ElementId } from '../model/fields';
import { ofKind } from '../model/network';
import type { Studies } from '../studies/studies';
import { byOhm, circuitAt, circuitsAt, pathsFrom, type Circuit, type Path } from './circuits';
import type { LineEnd } from './seen';

/** A figure with the elements that it is of. */
export interface ReachFigure {
  readonly name: string;
  /** Ohms, or seconds as the real part; null: not known, or not there. */
  readonly value: Complex | null;
  readonly elements: readonly ElementId[];
}
export type ReachFigures = Readonly<Record<string, ReachFigure>>;

export interface ReachOptions {
  /** Lines between the same two busbars count as one. */
  readonly merged: boolean;
}

const linesOf = ({ legs }: Path): ElementId[] => legs.map(({ line }) => line);

/** What lies ahead of a line end, as drawn. Throws where there is no such line. */
export function aheadOf(studies: Studies, end: LineEnd, { merged }: ReachOptions): ReachFigures {
  const { assembly } = studies.max;
  const { network } = studies;
  const circuit = circuitAt(network, end);
  const paths = [...pathsFrom(assembly, circuit, end)].sort(byOhm);
  const [nearest, farthest] = [paths[0], paths[paths.length - 1]] as (Path | undefined)[];
  const nodeOf = ({ line, terminal }: LineEnd) => assembly.topology.nodeAt(line, terminal);
  const home = nodeOf(end);
  const remote = [...new Set(paths.map(({ to }) => nodeOf(to)))].filter((node) => node !== undefined);
  const next = nextFrom(assembly, circuit, home, remote, merged);
  const behind = home === undefined ? [] : nextFrom(assembly, circuit, undefined, [home], merged);
  const units = transformersAt(assembly, remote);
  const figure = (name: string, value: Complex | null, elements: readonly ElementId[]): ReachFigure => ({
    name,
    value,
    elements,
  });
  const ofPath = (name: string, path: Path | undefined) => figure(name, path?.ohm ?? null, path ? linesOf(path) : []);
  const ofNext = (name: string, one: Next | undefined) => figure(name, one?.ohm ?? null, one?.elements ?? []);
  const all = [
    ofPath('ownNearest', nearest),
    ofPath('own', farthest),
    ofNext('shortestNext', least(next.map(({ shortest }) => shortest))),
    ofNext('longestNext', most(next.map(({ longest }) => longest))),
    ofNext('behind', least(behind.map(({ shortest }) => shortest))),
    ofNext('transformer', least(units)),
  ];
  return Object.fromEntries(all.map((each) => [each.name, each]));
}

interface Next {
  readonly ohm: Complex;
  readonly elements: readonly ElementId[];
}

const least = (list: readonly Next[]): Next | undefined =>
  list.length === 0 ? undefined : list.reduce((p, q) => (magnitude(q.ohm) < magnitude(p.ohm) ? q : p));
const most = (list: readonly Next[]): Next | undefined =>
  list.length === 0 ? undefined : list.reduce((p, q) => (magnitude(q.ohm) > magnitude(p.ohm) ? q : p));

/** Circuits that begin at the far ends; ways that lead back to the busbar of the relay are none. */
function nextFrom(
  assembly: Assembly,
  own: Circuit,
  home: number | undefined,
  remote: readonly number[],
  merged: boolean,
): { readonly shortest: Next; readonly longest: Next }[] {
  const nodeOf = ({ line, terminal }: LineEnd) => assembly.topology.nodeAt(line, terminal);
  const found: { shortest: Next; longest: Next }[] = [];
  const parallel = new Map<string, Path[]>();
  for (const from of remote)
    for (const { circuit, end } of circuitsAt(assembly, from)) {
      if (circuit.id === own.id) continue;
      const ways = pathsFrom(assembly, circuit, end)
        .filter(({ to }) => home === undefined || nodeOf(to) !== home)
        .sort(byOhm);
      if (ways.length === 0) continue;
      if (merged && circuit.ends.length === 2) {
        const key = `${from} ${nodeOf(ways[0].to)}`;
        parallel.set(key, [...(parallel.get(key) ?? []), ways[0]]);
        continue;
      }
      const [shortest, longest] = [ways[0], ways[ways.length - 1]].map((path) => ({
        ohm: path.ohm,
        elements: linesOf(path),
      }));
      found.push({ shortest, longest });
    }
  for (const ways of parallel.values()) {
    const admittance = ways.reduce((sum, { ohm }) => add(sum, divide({ re: 1, im: 0 }, ohm)), zero);
    const one = { ohm: divide({ re: 1, im: 0 }, admittance), elements: ways.flatMap(linesOf) };
    found.push({ shortest: one, longest: one });
  }
  return found;
}

/** Two-winding and three-winding transformers at nodes, seen from there, without the correction of short-circuit calculation. */
function transformersAt({ network, topology }: Assembly, nodes: readonly number[]): Next[] {
  const own = (id: ElementId, kv: number, mva: number, ukPercent: number, uRPercent: number): Next => ({
    ohm: {
      re: ((uRPercent / 100) * kv ** 2) / mva,
      im: ((Math.sqrt(Math.max(ukPercent ** 2 - uRPercent ** 2, 0)) / 100) * kv ** 2) / mva,
    },
    elements: [id],
  });
  const at = (id: ElementId, terminal: number) => nodes.includes(topology.nodeAt(id, terminal) ?? -1);
  return [
    ...ofKind(network, 'transformer').flatMap(({ id, hvKv, lvKv, ratedMva, ukPercent, uRPercent }) =>
      [hvKv, lvKv].flatMap((kv, terminal) => (at(id, terminal) ? [own(id, kv, ratedMva, ukPercent, uRPercent)] : [])),
    ),
    ...ofKind(network, 'threeWindingTransformer').flatMap(({ id, hvKv, mvKv, lvKv, hvMv, hvLv, mvLv }) =>
      (
        [
          [hvKv, [hvMv, hvLv]],
          [mvKv, [hvMv, mvLv]],
          [lvKv, [hvLv, mvLv]],
        ] as const
      ).flatMap(([kv, pairs], terminal) =>
        at(id, terminal)
          ? pairs.map(({ ratedMva, ukPercent, uRPercent }) => own(id, kv, ratedMva, ukPercent, uRPercent))
          : [],
      ),
    ),
  ];
}
