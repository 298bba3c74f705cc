/** What a differential function protects: everything between its current transformers, and the places just outside of them. */
import type { Place } from '../faults/solution/solve';
import { kinds } from '../model/element';
import type { ElementId } from '../model/fields';
import { ofKind, type Network } from '../model/network';
import { terminalKey, type TerminalKey } from '../model/topology';
import type { Device, DeviceInput } from '../protection/device';
import { splitKey } from '../studies/cut';
import type { DifferentialFunction } from '../protection/differential/schema';

/** Elements that currents pass through. */
const passed = new Set([
  'line',
  'transformer',
  'threeWindingTransformer',
  'seriesReactor',
  'switch',
  'currentTransformer',
]);

const wirings = new WeakMap<Network, ReadonlyMap<TerminalKey, readonly TerminalKey[]>>();

/** Terminals that a terminal is joined with, by connections and, of elements that currents pass through, by themselves. Switches count as closed. */
export function neighboursOf(network: Network): ReadonlyMap<TerminalKey, readonly TerminalKey[]> {
  let known = wirings.get(network);
  if (known) return known;
  const made = new Map<TerminalKey, TerminalKey[]>();
  const put = (a: TerminalKey, b: TerminalKey) => {
    for (const [from, to] of [
      [a, b],
      [b, a],
    ] as const) {
      const list = made.get(from);
      if (list) list.push(to);
      else made.set(from, [to]);
    }
  };
  for (const { from, to } of ofKind(network, 'connection'))
    put(terminalKey(from.element, from.terminal), terminalKey(to.element, to.terminal));
  for (const element of network.elements.values()) {
    if (!passed.has(element.kind)) continue;
    const { terminals } = kinds[element.kind];
    for (let k = 1; k < terminals; k++) put(terminalKey(element.id, 0), terminalKey(element.id, k));
  }
  wirings.set(network, (known = made));
  return known;
}

const elementOf = (key: TerminalKey): ElementId => splitKey(key)[0];

export interface Region {
  readonly elements: readonly ElementId[];
  /** Transformers inside whose far side is not measured, and what hangs on there. */
  readonly taps: readonly ElementId[];
  readonly inside: readonly Place[];
  /** Just beyond each current transformer. */
  readonly outside: readonly Place[];
  /** Behind transformers that are tapped off inside. */
  readonly tapped: readonly Place[];
  /** Inputs whose protected side is turned away from what the others look at. */
  readonly turned: readonly DeviceInput[];
  /** Not closed: more can be reached than a differential function protects. */
  readonly leaks: boolean;
}

/** Beyond so many terminals it is no longer one protected object. */
const mostTerminals = 400;

/** Inputs of a function, with what they measure; of a busbar function all of them. */
export const inputsOf = (device: Device, fn: DifferentialFunction): readonly DeviceInput[] => {
  const wanted = new Set(fn.sides.map(({ input }) => input as string));
  return device.inputs.filter(({ id }) => wanted.has(id));
};

export function regionOf(network: Network, device: Device, fn: DifferentialFunction): Region {
  const neighbours = neighboursOf(network);
  const inputs = inputsOf(device, fn);
  const drawn = inputs.filter(({ star }) => !star);
  const edge = new Map(drawn.map((input) => [input.through, input]));
  const passable = fn.code === '87T' ? null : new Set(['transformer', 'threeWindingTransformer']);
  const flood = (start: TerminalKey) => {
    const reached = new Set([start]);
    const taps = new Set<ElementId>();
    for (const key of reached) {
      if (reached.size > mostTerminals) break;
      for (const next of neighbours.get(key) ?? []) {
        const element = elementOf(next);
        // Through one of its own current transformers it goes outside.
        if (edge.has(element) && elementOf(key) === element) continue;
        if (element === elementOf(key) && passable?.has(network.elements.get(element)!.kind)) {
          taps.add(element);
          continue;
        }
        reached.add(next);
      }
    }
    return { reached, taps };
  };
  const own = drawn.map((input) => flood(terminalKey(input.through, input.towards)));
  // What most of them look at is what is protected; one that looks elsewhere is turned round.
  const votes = own.map(({ reached }) => own.filter((other) => other.reached.has([...reached][0])).length);
  const best = votes.indexOf(Math.max(...votes));
  const { reached, taps } = own[best] ?? { reached: new Set<TerminalKey>(), taps: new Set<ElementId>() };
  const turned = drawn.filter((input) => !reached.has(terminalKey(input.through, input.towards)));
  const elements = [...new Set([...reached].map(elementOf))].filter((id) => !edge.has(id));
  const outside = drawn.map((input): Place => {
    const inner = reached.has(terminalKey(input.through, input.towards)) ? input.towards : 1 - input.towards;
    return { at: 'terminal', element: input.through, terminal: 1 - inner };
  });
  return {
    elements,
    taps: [...taps],
    inside: insideOf(network, reached, drawn),
    outside,
    tapped: fn.code === '87L' || fn.code === '87B' ? tappedOf(network, [...taps], reached) : [],
    turned,
    leaks: reached.size > mostTerminals,
  };
}

const tappedOf = (network: Network, taps: readonly ElementId[], reached: ReadonlySet<TerminalKey>): Place[] =>
  taps.flatMap((id) =>
    Array.from({ length: kinds[network.elements.get(id)!.kind].terminals }, (_, terminal) => terminal)
      .filter((terminal) => !reached.has(terminalKey(id, terminal)))
      .map((terminal): Place => ({ at: 'terminal', element: id, terminal })),
  );

function insideOf(network: Network, reached: ReadonlySet<TerminalKey>, drawn: readonly DeviceInput[]): Place[] {
  const places: Place[] = [];
  for (const key of reached) {
    const [id, terminal] = splitKey(key);
    const element = network.elements.get(id);
    if (element?.kind === 'line' && terminal === 0)
      for (const fraction of [0.05, 0.5, 0.95]) places.push({ at: 'line', element: id, fraction });
    if (element?.kind === 'bus') places.push({ at: 'terminal', element: id, terminal: 0 });
    if (element?.kind === 'transformer' || element?.kind === 'threeWindingTransformer')
      places.push({ at: 'terminal', element: id, terminal });
    if (element?.kind === 'synchronousMachine' || element?.kind === 'asynchronousMotor')
      places.push({ at: 'terminal', element: id, terminal: 0 });
  }
  if (places.length > 0) return places;
  return drawn.map(({ through, towards }): Place => ({ at: 'terminal', element: through, terminal: towards }));
}

/** A relay that could be the other end of a line. */
export interface EndCandidate {
  readonly relay: ElementId;
  readonly through: ElementId;
  /** Elements in between, and the lines among them in km. */
  readonly steps: number;
  readonly km: number;
  /** Its protected side faces this one; else its polarity is turned round. */
  readonly facing: boolean;
}

/** Relays that are met first on the protected side of an input, the nearest first. */
export function endCandidates(network: Network, device: Device, input: DeviceInput): EndCandidate[] {
  const neighbours = neighboursOf(network);
  const measuring = new Map<ElementId, { relay: ElementId; towards: number }[]>();
  for (const relay of ofKind(network, 'relay')) {
    if (relay.id === device.id) continue;
    for (const { type, element, towards } of relay.inputs)
      if (type === 'current' && element)
        measuring.set(element, [...(measuring.get(element) ?? []), { relay: relay.id, towards }]);
  }
  const found: EndCandidate[] = [];
  const start = terminalKey(input.through, input.towards);
  const reached = new Map<TerminalKey, { steps: number; km: number }>([[start, { steps: 0, km: 0 }]]);
  for (const [key, { steps, km }] of reached) {
    if (reached.size > mostTerminals) break;
    for (const next of neighbours.get(key) ?? []) {
      const [element, terminal] = splitKey(next);
      if (reached.has(next) || element === input.through) continue;
      const kind = network.elements.get(element)!;
      // A busbar with switches of its own ends a line; transformers do too.
      if (kind.kind === 'transformer' || kind.kind === 'threeWindingTransformer') continue;
      const there = measuring.get(element);
      if (there && elementOf(key) !== element) {
        for (const { relay, towards } of there)
          found.push({ relay, through: element, steps: steps + 1, km, facing: terminal === towards });
        continue;
      }
      const isThrough = elementOf(key) === element;
      const more = isThrough && kind.kind === 'line' ? kind.lengthKm : 0;
      reached.set(next, { steps: steps + (isThrough ? 1 : 0), km: km + more });
    }
  }
  return found.sort((p, q) => p.steps - q.steps || p.km - q.km);
}
