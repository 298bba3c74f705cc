/** A CIM model as a network: equipment, what the nodes join, couplings of lines, places from its diagram. */
import { isDrawn, snapToGrid, type Drawn } from '../../drawing/shape/shapes';
import type { Element } from '../../model/element';
import type { ElementId } from '../../model/fields';
import type { Bus, ConnectionEnd } from '../../model/switching';
import { Brought } from '../brought';
import { FileRefusal, type Source } from '../format';
import { equipment } from './equipment';
import { Making } from './making';
import { isCim, readGraph, type CimGraph, type CimObject } from './graph';
import { CimModel, type CimNode } from './model';

export const title = 'CIM (IEC 61970-552)';
/** Identifiers of CIM objects are unique wherever they come from. */
export const source = 'cim';

export function* readCim({ name, files }: Source): Generator<number, Brought> {
  const own = files.filter(({ text }) => isCim(text));
  const graph = yield* scaled(readGraph(own), 0, 0.6);
  if (graph.ofType('Terminal').length === 0 || graph.ofType('Terminal').every(({ links }) => links.size === 0))
    throw new FileRefusal('there is no equipment in it: the file with the equipment profile (EQ) is needed');
  const brought = new Brought(title, source, (graph.description || name).slice(0, 120));
  // Neutrals and tap changers have fields that no attribute tells.
  brought.isUnsaid = (path) => /eutral\.rated|^tap\.(holds|targetPercent)$/.test(path);
  for (const doubled of graph.doubled)
    brought.wrong.add('an identifier is defined twice; the second is left out', doubled);
  for (const { name: other } of files.filter((file) => !own.some((each) => each === file)))
    brought.left.add('files of the bundle that are no CIM RDF/XML', other);
  const model = new CimModel(graph, brought);
  const making = new Making(model, brought);
  yield* scaled(equipment(making), 0.6, 0.3);
  const buses = nodes(making);
  couplings(making);
  if (brought.elements.length === 0) throw new FileRefusal('nothing in it can be taken');
  missingProfiles(graph, brought);
  places(making, buses);
  return brought;
}

/** Progress of a part as progress of the whole. */
function* scaled<T>(steps: Generator<number, T>, from: number, share: number): Generator<number, T> {
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
    yield from + share * step.value;
  }
}

/** Busbars, and what each node joins. Gives the objects that busbars stand for. */
function nodes({ model, brought, ends, consumed }: Making): Map<Bus, CimObject> {
  const buses = new Map<Bus, CimObject>();
  for (const node of model.nodes.values()) {
    const joined = node.terminals.flatMap(({ object }): ConnectionEnd[] => {
      const end = ends.get(object);
      return end ? [end] : [];
    });
    const sections = node.terminals.filter(({ equipment: { type } }) => type === 'BusbarSection');
    const switched = node.terminals.some(
      ({ object, equipment: { type } }) =>
        ends.has(object) && /Breaker|Disconnector|Switch|Fuse|Recloser|Jumper|Cut/.test(type),
    );
    const gone = node.terminals.some((terminal) => consumed.has(terminal.equipment));
    if (sections.length === 0) {
      if (joined.length === 0 || (joined.length === 1 && (model.isNodeBreaker || gone))) continue;
      if (joined.length === 2 && switched && model.isNodeBreaker) {
        brought.join(joined[0], joined[1]);
        continue;
      }
    }
    const made = (sections.length > 0 ? sections.map(({ equipment: section }) => section) : [node.object]).flatMap(
      (object) => {
        const bus = busFrom(node, object, model, brought);
        if (bus) buses.set(bus, object);
        if (bus && sections.length === 0) brought.junctions.add(bus.id);
        return bus ?? [];
      },
    );
    if (made.length === 0) continue;
    for (const other of made.slice(1))
      brought.join({ element: other.id, terminal: 0 }, { element: made[0].id, terminal: 0 });
    for (const end of joined) brought.join(end, { element: made[0].id, terminal: 0 });
  }
  for (const section of model.graph.ofType('BusbarSection'))
    if (model.terminalsOf(section).every(({ node }) => !node))
      brought.left.add('busbar sections that are joined to nothing', model.labelOf(section));
  return buses;
}

function busFrom(node: CimNode, object: CimObject, model: CimModel, brought: Brought): Bus | null {
  const kv = model.kvAt(node);
  if (kv === undefined) {
    brought.wrong.add('a node tells no voltage: what hangs on it is not joined', model.labelOf(object));
    return null;
  }
  const peakA = model.number(object, 'BusbarSection.ipMax');
  return brought.add('bus', object.id, model.nameOf(object), {
    nominalKv: kv,
    ...(peakA !== undefined && peakA > 0 && { peakKa: peakA / 1000 }),
  });
}

function couplings({ model, brought, ends }: Making): void {
  const { graph } = model;
  const lengths = new Map(
    brought.elements.flatMap(({ element }) =>
      element.kind === 'line' ? [[element.id, element.lengthKm] as const] : [],
    ),
  );
  for (const object of graph.ofType('MutualCoupling')) {
    const of = (name: string) => model.number(object, `MutualCoupling.${name}`);
    const [p, q] = ['First_Terminal', 'Second_Terminal'].map((link) => {
      const terminal = graph.linked(object, `MutualCoupling.${link}`);
      return terminal && ends.get(terminal);
    });
    const label = model.labelOf(object);
    const [first, second] = [p && lengths.get(p.element), q && lengths.get(q.element)];
    if (!p || !q || first === undefined || second === undefined) {
      brought.wrong.add('a coupling leads to lines that are not there', label);
      continue;
    }
    const [a1 = 0, a2 = first, b1 = 0, b2 = second] = ['distance11', 'distance12', 'distance21', 'distance22'].map(of);
    // Distances count from the terminal named.
    const [firstFromKm, secondFromKm] = [
      p.terminal === 0 ? Math.min(a1, a2) : first - Math.max(a1, a2),
      q.terminal === 0 ? Math.min(b1, b2) : second - Math.max(b1, b2),
    ];
    const lengthKm = Math.min(Math.abs(a2 - a1), Math.abs(b2 - b1), first, second);
    if (lengthKm <= 0) {
      brought.wrong.add('a coupling of no length', label);
      continue;
    }
    brought.addCoupling({
      name: label,
      first: p.element,
      second: q.element,
      firstFromKm: Math.max(0, firstFromKm),
      secondFromKm: Math.max(0, secondFromKm),
      lengthKm,
      opposite: p.terminal !== q.terminal,
      r0mOhmPerKm: (of('r0') ?? 0) / lengthKm,
      x0mOhmPerKm: (of('x0') ?? 0) / lengthKm,
    });
  }
}

/** Profiles by what stands in the files, whatever their heads claim. */
function missingProfiles({ objects }: CimGraph, brought: Brought): void {
  const states = (property: RegExp) => {
    for (const { values } of objects.values()) for (const key of values.keys()) if (property.test(key)) return true;
    return false;
  };
  if (!states(/^(EnergyConsumer\.p|RotatingMachine\.p|Switch\.open|TapChanger\.step)$/))
    brought.assumed.add('operation as equipment tells it: no steady-state hypothesis (SSH) is among the files');
  if (!states(/\.(r0|x0|maxInitialSymShCCurrent|satDirectSubtransX)$/))
    brought.assumed.add('short-circuit data: none among the files (SC)');
}

interface DrawnPoint {
  readonly x: number;
  readonly y: number;
  readonly turn: number;
}

/** Points of the objects of each diagram, by what they show. */
function diagramsOf({ graph, number, choice }: CimModel): Map<string, DrawnPoint[]>[] {
  const diagrams = new Map<string, Map<string, DrawnPoint[]>>();
  for (const object of graph.ofType('DiagramObject')) {
    const of = object.links.get('DiagramObject.IdentifiedObject');
    const key = object.links.get('DiagramObject.Diagram') ?? '';
    if (of === undefined) continue;
    const diagram = graph.objects.get(key);
    // "positive": heights count upward, against the way a page is read.
    const up = diagram && choice(diagram, 'Diagram.orientation') === 'positive' ? -1 : 1;
    const turn = number(object, 'DiagramObject.rotation') ?? 0;
    const points = graph
      .linking('DiagramObjectPoint.DiagramObject', object)
      .map((point) => ({
        x: number(point, 'DiagramObjectPoint.xPosition') ?? 0,
        y: up * (number(point, 'DiagramObjectPoint.yPosition') ?? 0),
        order: number(point, 'DiagramObjectPoint.sequenceNumber') ?? 0,
        turn,
      }))
      .sort((p, q) => p.order - q.order);
    const shown = diagrams.get(key) ?? new Map<string, DrawnPoint[]>();
    diagrams.set(key, shown);
    if (points.length > 0) shown.set(of, points);
  }
  return [...diagrams.values()];
}

/** Less than this share of the network drawn is no drawing of it. */
const leastDrawn = 0.5;
const gapBetweenDiagrams = 200;

/** Of busbars the first and last point of their line, of everything else the middle of its points; one diagram below the other. */
function places({ model, brought }: Making, buses: ReadonlyMap<Bus, CimObject>): void {
  const diagrams = diagramsOf(model);
  if (diagrams.length === 0) return;
  const objectOf = new Map<ElementId, string>();
  for (const { element } of brought.elements)
    if ('foreign' in element && element.foreign) objectOf.set(element.id, element.foreign[0].id);
  for (const [bus, object] of buses) objectOf.set(bus.id, object.id);
  const left = new Map(
    brought.elements.flatMap(({ element }) => (isDrawn(element) ? [[element.id, element] as const] : [])),
  );
  const all = left.size;
  const placed: Element[] = [];
  let below = 0;
  for (const pointsOf of diagrams) {
    const shown = [...left.values()].filter(({ id }) => pointsOf.has(objectOf.get(id) ?? ''));
    if (shown.length === 0) continue;
    const of = ({ id }: Element) => pointsOf.get(objectOf.get(id)!)!;
    const scale = scaleOf(shown.map((element) => of(element)[0]));
    const tops = shown.map((element) => of(element)[0].y * scale);
    const shift = placed.length === 0 ? 0 : below - tops.reduce((least, y) => Math.min(least, y), Infinity);
    for (const element of shown) {
      placed.push(standing(element, of(element), scale, shift));
      left.delete(element.id);
    }
    below = shift + tops.reduce((most, y) => Math.max(most, y), -Infinity) + gapBetweenDiagrams;
  }
  if (placed.length < leastDrawn * all)
    return void brought.left.add('a diagram that shows less than half of the network');
  for (const element of placed) brought.replace(element);
  brought.isPlaced = true;
  brought.unplaced = [...left.keys()];
}

function standing(element: Drawn, points: readonly DrawnPoint[], scale: number, shift: number): Element {
  const at = (value: number) => Math.max(-9e4, Math.min(9e4, snapToGrid(value)));
  const [first, last] = [points[0], points[points.length - 1]];
  if (element.kind === 'bus') {
    const length = Math.min(10000, Math.max(60, snapToGrid(Math.abs(last.x - first.x) * scale)));
    return { ...element, x: at(Math.min(first.x, last.x) * scale), y: at(first.y * scale + shift), length };
  }
  const middle = (of: 'x' | 'y') => points.reduce((sum, point) => sum + point[of], 0) / points.length;
  const turn = (((Math.round(first.turn / 90) * 90) % 360) + 360) % 360;
  return { ...element, x: at(middle('x') * scale), y: at(middle('y') * scale + shift), turn } as Element;
}

const usualDistance = 80;

/** Diagrams have whatever unit they like: neighbours are to stand as far apart as symbols here. */
function scaleOf(points: readonly { x: number; y: number }[]): number {
  const some = points.slice(0, 400);
  const distances = some
    .map((p, k) => Math.min(...some.map((q, j) => (j === k ? Infinity : Math.hypot(p.x - q.x, p.y - q.y) || Infinity))))
    .filter(Number.isFinite)
    .sort((p, q) => p - q);
  const middle = distances[distances.length >> 1] ?? usualDistance;
  return middle >= 10 && middle <= 500 ? 1 : usualDistance / middle;
}
