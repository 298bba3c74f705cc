/**
 * Where the texts of the drawing stand: beside their symbol, clear of symbols, connections and each other. What finds no room is left out,
 * the less important first; nearer, it comes back.
 */
import { boxOf, contains, isDrawn, type Box, type Drawn, type Placed } from '@mesura/core/drawing/shape/shapes';
import { terminalsOf } from '@mesura/core/drawing/shape/terminals';
import { titleSpan, titleStrip } from '@mesura/core/drawing/boards/board';
import type { ElementId } from '@mesura/core/model/fields';
import { BoxIndex } from '@mesura/core/drawing/shape/boxIndex';
import { kinds } from '@mesura/core/model/element';
import type { Overlay } from './overlay';
import { detailOf } from './labels';
import type { Wire } from './scene';

export type LayerId = 'names' | 'ratings' | 'results' | 'protection' | 'findings' | 'grid';
export type Layers = Readonly<Record<LayerId, boolean>>;
/** What is shown at first: everything but the grid. */
export const allLayers: Layers = {
  names: true,
  ratings: true,
  results: true,
  protection: true,
  findings: true,
  grid: false,
};

export interface Line {
  readonly text: string;
  /** A `level` is a strong name in the colour of its voltage. */
  readonly tone: 'name' | 'strong' | 'level' | 'detail' | 'figure';
}

export interface Label {
  readonly element: ElementId;
  readonly kind: 'name' | 'tag' | 'flow' | 'note';
  readonly box: Box;
  readonly lines: readonly Line[];
  readonly align: 'left' | 'right' | 'center';
  /** Of a current: whether it flows downward on the sheet. */
  readonly down?: boolean;
  readonly active?: boolean;
}

/** Width of a text in drawing units at a size. */
export type Measure = (text: string, size: number, tone: Line['tone']) => number;

interface Request {
  readonly element: Drawn;
  readonly kind: Label['kind'];
  /** Fewer lines when the whole does not fit. */
  readonly choices: readonly (readonly Line[])[];
  readonly places: readonly Place[];
  readonly rank: number;
  readonly must: boolean;
  readonly down?: boolean;
  readonly active?: boolean;
}

type Place =
  'right' | 'left' | 'above' | 'below' | 'startAbove' | 'endAbove' | 'startBelow' | 'endBelow' | 'beyond' | 'before';

const rankOf: Partial<Record<Drawn['kind'], number>> = {
  bus: 100,
  networkFeeder: 80,
  powerStationUnit: 80,
  transformer: 70,
  threeWindingTransformer: 70,
  synchronousMachine: 65,
  converterSource: 60,
  doublyFedMachine: 60,
  line: 55,
  asynchronousMotor: 50,
  staticDrive: 50,
  load: 45,
  shunt: 45,
  earthingTransformer: 45,
  seriesReactor: 55,
  switch: 30,
  earthingSwitch: 25,
  currentTransformer: 10,
  voltageTransformer: 12,
};
const strong = new Set<Drawn['kind']>(['transformer', 'threeWindingTransformer', 'powerStationUnit', 'networkFeeder']);
/** Symbols at the end of a run; a network feeder stands on top of its own. */
const hangs = ({ kind }: Drawn): boolean => kinds[kind].terminals === 1 && kind !== 'bus' && kind !== 'networkFeeder';

export interface Labelling {
  readonly placed: readonly Placed[];
  readonly wires: readonly Wire[];
  readonly overlay: Pick<Overlay, 'tags' | 'flows' | 'notes'>;
  readonly layers: Layers;
  readonly selected: ReadonlySet<string>;
  /** What can be seen: of a symbol inside it the texts rather stand inside too. */
  readonly view: Box;
  /** Size of the text in drawing units. */
  readonly size: number;
  readonly measure: Measure;
}

/** Texts larger than this, in drawing units, are those of a view from afar. */
const far = 30;
/** After so many in a row without room no more are tried there. */
const patience = 500;

/** Labels for what stands in view. */
export function labelsFor({ placed, wires, overlay, layers, selected, view, size, measure }: Labelling): Label[] {
  const requests = placed.flatMap((element) =>
    isDrawn(element) ? requestsOf(element, overlay, layers, selected) : [],
  );
  requests.sort((p, q) => q.rank - p.rank);
  const symbols = new BoxIndex(placed.filter((element) => element.kind !== 'panel').map(solid), (box) => box);
  const runs = new BoxIndex(wires.flatMap(stretches), (box) => box);
  const taken = new BoxIndex<Box>();
  for (const panel of placed) {
    if (panel.kind !== 'panel') continue;
    const { left, right } = titleSpan(panel);
    const strip = { x: left, y: panel.y + panel.height - titleStrip, width: right - left, height: titleStrip };
    taken.add(strip, strip);
  }
  const labels: Label[] = [];
  let misses = 0;
  for (const request of requests) {
    const label = put(request, size, measure, view, symbols, runs, taken);
    if (!label) {
      // From afar the sheet is soon full.
      if (++misses > patience && size > far) break;
      continue;
    }
    misses = 0;
    taken.add(label.box, label.box);
    labels.push(label);
  }
  return labels;
}

function requestsOf(
  element: Drawn,
  overlay: Labelling['overlay'],
  layers: Layers,
  selected: ReadonlySet<string>,
): Request[] {
  const must = selected.has(element.id);
  const rank = (rankOf[element.kind] ?? 20) + (must ? 1000 : 0);
  const requests: Request[] = [];
  const tag = layers.results ? overlay.tags.get(element.id) : undefined;
  if (tag)
    requests.push({
      element,
      kind: 'tag',
      choices: [tag.lines.map((text) => ({ text, tone: 'figure' }))],
      places: ['endAbove', 'beyond', 'endBelow', 'startBelow', 'before', 'startAbove'],
      rank: rank - 4 + (tag.active ? 500 : 0),
      must: tag.active,
      active: tag.active,
    });
  const flow = layers.results ? overlay.flows.get(element.id) : undefined;
  if (flow)
    requests.push({
      element,
      kind: 'flow',
      choices: [[{ text: flow.text, tone: 'figure' }]],
      places: ['left', 'right', 'above', 'below'],
      // After the names and levels of busbars, before everything else.
      rank: 88 + rank / 100,
      must: false,
      down: (terminalsOf(element)[flow.leavesAt]?.y ?? 0) >= 0,
    });
  const note = overlay.notes.get(element.id);
  if (note)
    requests.push({
      element,
      kind: 'note',
      choices: [[{ text: note, tone: 'detail' }]],
      places: ['right', 'left', 'below', 'above'],
      rank: rank + 400,
      must: false,
    });
  if (element.kind === 'relay') return requests;
  const name: Line | null =
    layers.names && element.kind !== 'currentTransformer'
      ? { text: element.name, tone: element.kind === 'bus' ? 'level' : strong.has(element.kind) ? 'strong' : 'name' }
      : null;
  const text = layers.ratings ? detailOf(element) : '';
  const detail: Line | null = text ? { text, tone: 'detail' } : null;
  const whole = [name, detail].filter((line): line is Line => line !== null);
  if (whole.length > 0)
    requests.push({
      element,
      kind: 'name',
      choices: whole.length > 1 ? [whole, whole.slice(0, 1)] : [whole],
      places: placesFor(element),
      rank,
      must,
    });
  return requests;
}

function placesFor(element: Drawn): readonly Place[] {
  if (element.kind === 'bus') return ['startAbove', 'startBelow', 'before', 'endAbove'];
  const lies = element.turn === 90 || element.turn === 270;
  if (hangs(element)) return element.turn === 180 ? ['above', 'right', 'left'] : ['below', 'right', 'left'];
  if (lies) return ['below', 'above', 'right'];
  return element.kind === 'switch' || element.kind === 'currentTransformer' ? ['left', 'right'] : ['right', 'left'];
}

const solid = (element: Placed): Box => {
  const box = boxOf(element);
  if (element.kind === 'bus') return { x: box.x, y: element.y - 3, width: box.width, height: 6 };
  return { x: box.x + 2, y: box.y + 2, width: box.width - 4, height: box.height - 4 };
};

const stretches = ({ points }: Wire): Box[] =>
  points.slice(1).map((q, k) => {
    const p = points[k];
    return {
      x: Math.min(p.x, q.x) - 1,
      y: Math.min(p.y, q.y) - 1,
      width: Math.abs(p.x - q.x) + 2,
      height: Math.abs(p.y - q.y) + 2,
    };
  });

function put(
  request: Request,
  size: number,
  measure: Measure,
  view: Box,
  symbols: BoxIndex<Box>,
  runs: BoxIndex<Box>,
  taken: BoxIndex<Box>,
): Label | null {
  let fallback: Label | null = null;
  let cut: Label | null = null;
  const seen = contains(view, boxOf(request.element));
  for (const lines of request.choices) {
    const padding = request.kind === 'tag' ? size * 0.35 : size * 0.1;
    const arrow = request.kind === 'flow' ? size * 0.9 : 0;
    const width =
      Math.max(...lines.map((line) => measure(line.text, sizeOf(line, size), line.tone))) + 2 * padding + arrow;
    const height = lines.length * size * 1.2 + padding;
    for (const place of request.places) {
      const box = boxAt(request.element, place, width, height, size);
      const label: Label = {
        element: request.element.id,
        kind: request.kind,
        box,
        lines,
        align: place === 'left' || place === 'before' ? 'right' : isCentred(place) ? 'center' : 'left',
        down: request.down,
        active: request.active,
      };
      if (taken.overlapsAny(box) || symbols.overlapsAny(box)) continue;
      if (runs.overlapsAny(box)) {
        fallback ??= label;
        continue;
      }
      if (seen && !contains(view, box)) {
        cut ??= label;
        continue;
      }
      return label;
    }
    // Half out of view it still stands better than with fewer lines.
    if (cut) return cut;
  }
  // A text across a connection is still better than none for what was chosen.
  return request.must
    ? (fallback ?? forced(request, size, measure))
    : request.rank >= 45 && size <= 14
      ? fallback
      : null;
}

function forced(request: Request, size: number, measure: Measure): Label {
  const lines = request.choices[0];
  const width = Math.max(...lines.map((line) => measure(line.text, sizeOf(line, size), line.tone))) + size;
  const place = request.places[0];
  return {
    element: request.element.id,
    kind: request.kind,
    box: boxAt(request.element, place, width, lines.length * size * 1.2, size),
    lines,
    align: place === 'left' ? 'right' : isCentred(place) ? 'center' : 'left',
    down: request.down,
    active: request.active,
  };
}

const isCentred = (place: Place): boolean => place === 'above' || place === 'below';
export const sizeOf = (line: Line, size: number): number =>
  line.tone === 'detail' ? size * 0.92 : line.tone === 'strong' || line.tone === 'level' ? size * 1.05 : size;

function boxAt(element: Drawn, place: Place, width: number, height: number, size: number): Box {
  const box = boxOf(element);
  const gap = Math.min(4, size * 0.25);
  const middle = { x: box.x + box.width / 2 - width / 2, y: box.y + box.height / 2 - height / 2 };
  const bar = element.y;
  switch (place) {
    case 'right':
      return { x: box.x + box.width + gap, y: middle.y, width, height };
    case 'left':
      return { x: box.x - gap - width, y: middle.y, width, height };
    case 'above':
      return { x: middle.x, y: box.y - gap - height, width, height };
    case 'below':
      return { x: middle.x, y: box.y + box.height + gap / 2, width, height };
    case 'startAbove':
      return { x: box.x, y: bar - 4 - height, width, height };
    case 'endAbove':
      return { x: box.x + box.width - width + 6, y: bar - 4 - height, width, height };
    case 'startBelow':
      return { x: box.x, y: bar + 5, width, height };
    case 'endBelow':
      return { x: box.x + box.width - width + 6, y: bar + 5, width, height };
    case 'beyond':
      return { x: box.x + box.width + 5, y: bar - height / 2, width, height };
    case 'before':
      return { x: box.x - 5 - width, y: bar - height / 2, width, height };
  }
}
