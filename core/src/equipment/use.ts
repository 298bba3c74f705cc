/** Elements of a type: taking its values, and where an element differs from its type. */
import { elementSchemas, type Element, type ElementKind } from '../model/element';
import type { ElementId } from '../model/fields';
import type { LibraryEntryElement, LibraryKind } from '../model/library';
import { FreeNames } from '../drawing/parts/fragment';
import { find, ofKind, type Network } from '../model/network';
import type { Relay } from '../model/protection';
import { ownEntry, type LibraryEntry } from './entry';
import { relayOverrides, relayTypeData, relayTypeFrom, withRelayType, type SecondaryOf } from './relayType';
import { shippedLibrary } from './shipped';

/** Secondary rated current of the CT where a function of a relay measures. */
export const secondaryIn =
  (network: Network, relay: Relay): SecondaryOf =>
  ({ input }) => {
    const through = relay.inputs.find(
      ({ id, type }) => type === 'current' && (input === null || id === input),
    )?.element;
    return (through && find(network, 'currentTransformer', through)?.secondaryA) || 1;
  };

/** All types of a kind: those of the project first. */
export const entriesFor = (network: Network, kind: ElementKind, shared: readonly LibraryEntry[] = []): LibraryEntry[] =>
  [...ofKind(network, 'libraryEntry').map(ownEntry), ...shared, ...shippedLibrary].filter(
    (entry) => entry.for === kind,
  );

/** A shared type as one of the project's own: the one that is there already when it says the same, else a copy to be added. */
export function adopted(
  network: Network,
  entry: LibraryEntry,
  newId: () => ElementId,
): { entry: LibraryEntry; added: LibraryEntryElement | null } {
  const own = ofKind(network, 'libraryEntry');
  const same = own.find(
    ({ for: kind, data }) => kind === entry.for && JSON.stringify(data) === JSON.stringify(entry.data),
  );
  if (same) return { entry: ownEntry(same), added: null };
  const added: LibraryEntryElement = {
    kind: 'libraryEntry',
    id: newId(),
    name: new FreeNames(own).next(entry.title),
    for: entry.for as LibraryKind,
    source: entry.source,
    data: entry.data as LibraryEntryElement['data'],
  };
  return { entry: ownEntry(added), added };
}

export function entryNamed(network: Network, id: string): LibraryEntry | undefined {
  const own = find(network, 'libraryEntry', id as ElementId);
  return own ? ownEntry(own) : shippedLibrary.find((entry) => entry.id === id);
}

/** The element with a type's values; confirmed, as far as the type has them. Null when the type is one of another kind or does not fit the schema. */
export function withEntry<E extends Element>(
  element: E,
  entry: LibraryEntry,
  secondaryOf: SecondaryOf = () => 1,
): E | null {
  if (entry.for !== element.kind) return null;
  const paths = Object.keys(entry.data);
  const assumed =
    'assumed' in element
      ? element.assumed?.filter((path) => !paths.some((each) => path === each || path.startsWith(`${each}.`)))
      : undefined;
  const left = { ...element, assumed: assumed?.length ? assumed : undefined };
  const changed =
    left.kind === 'relay' ? withRelayType(left, entry, secondaryOf) : { ...left, ...entry.data, entry: entry.id };
  if (!changed) return null;
  const parsed = elementSchemas[element.kind].safeParse(JSON.parse(JSON.stringify(changed)));
  return parsed.success ? (parsed.data as E) : null;
}

export interface Override {
  readonly path: string;
  readonly ofType: unknown;
  readonly here: unknown;
}

/** Values that an element has of its own, though its type says otherwise. */
export function overridesOf(element: Element, entry: LibraryEntry, secondaryOf: SecondaryOf = () => 1): Override[] {
  if (element.kind === 'relay') return relayOverrides(element, entry, secondaryOf);
  const found: Override[] = [];
  const compare = (path: string, ofType: unknown, here: unknown) => {
    if (typeof ofType === 'object' && ofType !== null)
      for (const [key, value] of Object.entries(ofType))
        compare(`${path}.${key}`, value, (here as Record<string, unknown> | null | undefined)?.[key]);
    else if (ofType !== here) found.push({ path, ofType, here });
  };
  for (const [path, value] of Object.entries(entry.data))
    compare(path, value, (element as unknown as Record<string, unknown>)[path]);
  return found;
}

/** Fields of a kind that belong to a place, not to a type. */
const ofPlace = new Set([
  ...[
    'kind',
    'id',
    'name',
    'note',
    'x',
    'y',
    'turn',
    'mirrored',
    'page',
    'pinned',
    'assumed',
    'foreign',
    'entry',
    'closed',
  ],
  ...['lengthKm', 'circuits', 'tower', 'towerCircuit', 'functions', 'neutral', 'hvNeutral', 'lvNeutral', 'operation'],
  ...['runsAtMinimum', 'count', 'loadingPercent', 'nominalKv', 'length'],
]);

/** A type of the project's own made of an element. */
export const entryFrom = (element: Element, id: ElementId, name: string): LibraryEntryElement => ({
  kind: 'libraryEntry',
  id,
  name,
  for: element.kind as LibraryKind,
  source: '',
  data: (element.kind === 'relay'
    ? relayTypeData(relayTypeFrom(element))
    : Object.fromEntries(
        Object.entries(element).filter(([key, value]) => !ofPlace.has(key) && value !== undefined),
      )) as LibraryEntryElement['data'],
});
