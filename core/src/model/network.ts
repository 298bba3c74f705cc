/** The network as the rest of the core reads it: elements by id and by kind, checked against each other. */
import { builtInConditions } from './condition';
import type { Element, ElementKind, ElementOf, ProjectSettings } from './element';
import { defaultSettings, kinds, nameOf, settingsId } from './element';
import type { ElementId } from './fields';
import type { Problem } from './problem';
import { referencesOf } from './references';
import type { ConnectionEnd } from './switching';

export interface Network {
  readonly elements: ReadonlyMap<ElementId, Element>;
}

/** The network with these elements added, or in the place of those of the same id. */
export function withElements(network: Network, added: Iterable<Element>): Network {
  const elements = new Map(network.elements);
  for (const element of added) elements.set(element.id, element);
  return { elements };
}

export function networkOf(elements: Iterable<Element>): Network {
  const byId = new Map<ElementId, Element>();
  for (const element of elements) byId.set(element.id, element);
  return { elements: byId };
}

/** All elements of a kind, in the order they were added; looked up once for a network. */
export const ofKind = <K extends ElementKind>(network: Network, kind: K): readonly ElementOf<K>[] =>
  (elementsByKind(network).get(kind) ?? []) as ElementOf<K>[];

/** All elements, kind after kind: long loops run several times faster over elements of one shape. */
export function elementsByKind(network: Network): ReadonlyMap<ElementKind, readonly Element[]> {
  let lists = byKind.get(network);
  if (!lists) {
    byKind.set(network, (lists = new Map()));
    for (const element of network.elements.values()) {
      const list = lists.get(element.kind);
      if (list) list.push(element);
      else lists.set(element.kind, [element]);
    }
  }
  return lists;
}

const byKind = new WeakMap<Network, Map<ElementKind, Element[]>>();

/** The element under this id when it is of this kind. */
export function find<K extends ElementKind>(network: Network, kind: K, id: ElementId | null): ElementOf<K> | undefined {
  const element = id === null ? undefined : network.elements.get(id);
  return element?.kind === kind ? (element as ElementOf<K>) : undefined;
}

/** What an element is called; the identifier of one that is gone. */
export function nameIn(network: Network, id: ElementId): string {
  const element = network.elements.get(id);
  return element ? nameOf(element) : id;
}

export function settingsOf(network: Network): ProjectSettings {
  return find(network, 'projectSettings', settingsId) ?? defaultSettings;
}

/** Faults that make a model unusable as it stands: dangling references, doubled names, impossible connections. */
export function validateNetwork(network: Network): Problem[] {
  return [
    ...oneOfSettings(network),
    ...reservedConditions(network),
    ...doubledNames(network),
    ...badConnections(network),
    ...danglingReferences(network),
  ];
}

/** Settings are found under one id: others would be read by nobody. */
const oneOfSettings = (network: Network): Problem[] =>
  ofKind(network, 'projectSettings')
    .filter(({ id }) => id !== settingsId)
    .map(({ id }) => ({
      severity: 'error',
      code: 'settings.doubled',
      message: `a project has one set of settings, "${settingsId}"; "${id}" is a second one`,
      element: id,
    }));

/** The two conditions that always exist are found under their own identifiers and names. */
const reservedConditions = (network: Network): Problem[] =>
  ofKind(network, 'condition').flatMap(({ id, name }) => {
    const taken = builtInConditions.find(
      (condition) => condition.id === id || condition.name.toLowerCase() === name.toLowerCase(),
    );
    if (!taken) return [];
    const [code, field] = taken.id === id ? ['condition.reserved', 'id'] : ['name.doubled', 'name'];
    return [
      {
        severity: 'error' as const,
        code,
        message: `"${taken.name}" is a condition that every project has: choose another ${field === 'id' ? 'identifier' : 'name'}`,
        element: id,
        field,
      },
    ];
  });

function doubledNames(network: Network): Problem[] {
  const seen = new Map<string, Element>();
  const problems: Problem[] = [];
  for (const element of network.elements.values()) {
    if (!('name' in element)) continue;
    // A chart may be called like the bus it is about; the names on the drawing must be unique.
    const space = 'x' in element && element.kind !== 'panel' ? 'drawing' : element.kind;
    const key = `${space}:${element.name.toLowerCase()}`;
    const first = seen.get(key);
    if (!first) seen.set(key, element);
    else
      problems.push({
        severity: 'error',
        code: 'name.doubled',
        message: `the name "${element.name}" is already taken by a ${kinds[first.kind].title.toLowerCase()}`,
        element: element.id,
        field: 'name',
      });
  }
  return problems;
}

function badConnections(network: Network): Problem[] {
  const problems: Problem[] = [];
  const taken = new Set<string>();
  for (const connection of ofKind(network, 'connection')) {
    const ends = [connection.from, connection.to];
    for (const end of ends) {
      const problem = badEnd(network, end, taken);
      if (problem) problems.push({ severity: 'error', element: connection.id, ...problem });
    }
    if (connection.from.element === connection.to.element)
      problems.push({
        severity: 'error',
        code: 'connection.loop',
        message: 'a connection must join two different elements',
        element: connection.id,
      });
  }
  return problems;
}

function badEnd(network: Network, end: ConnectionEnd, taken: Set<string>): Pick<Problem, 'code' | 'message'> | null {
  const target = network.elements.get(end.element);
  if (!target)
    return { code: 'connection.dangling', message: `a connection ends at "${end.element}", which does not exist` };
  if (end.terminal >= kinds[target.kind].terminals)
    return { code: 'connection.terminal', message: `${nameOf(target)} has no terminal ${end.terminal}` };
  if (target.kind === 'bus') return null;
  const key = `${end.element}:${end.terminal}`;
  if (taken.has(key))
    return {
      code: 'connection.taken',
      message: `a terminal of ${nameOf(target)} takes one connection; branch off at a bus`,
    };
  taken.add(key);
  return null;
}

function danglingReferences(network: Network): Problem[] {
  const problems: Problem[] = [];
  for (const [kind, elements] of elementsByKind(network)) {
    // Where connections end is looked at terminal by terminal.
    if (kind === 'connection') continue;
    for (const element of elements)
      for (const { id, to, field } of referencesOf(element)) {
        const target = network.elements.get(id);
        if (target && (to.length === 0 || to.includes(target.kind))) continue;
        const what = to.length === 1 ? `a ${kinds[to[0] as ElementKind].title.toLowerCase()} "${id}"` : `"${id}"`;
        problems.push({
          severity: 'error',
          code: 'reference.dangling',
          message: `${nameOf(element)} refers to ${what}, which does not exist`,
          element: element.id,
          field,
        });
      }
  }
  return problems;
}
