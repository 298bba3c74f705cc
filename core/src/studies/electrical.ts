/** Which changes of an element matter to the currents. */
import type { Element, ElementKind } from '../model/element';

/** Kinds that no current depends on: protection, charts, conditions (which are part of a state's own key), what stands on the drawing only. */
const silent: ReadonlySet<ElementKind> = new Set<ElementKind>([
  'relay',
  'gradingChart',
  'linePackage',
  'trial',
  'batch',
  'script',
  'earthStudy',
  'condition',
  'libraryEntry',
  'textNote',
  'panel',
  'chartPicture',
  'rulebook',
  'page',
]);

/** Fields that say where something stands and what was noted about it. */
const silentFields: ReadonlySet<string> = new Set([
  'x',
  'y',
  'turn',
  'mirrored',
  'page',
  'pinned',
  'note',
  'assumed',
  'foreign',
  'entry',
  'length',
  'at',
  // Of the project's settings: what is asked of margins, not of currents.
  'rulebook',
  'lockedDevices',
  'pairRulings',
  'wantedMarginS',
  'marginCounts',
  'arc',
  'mark',
  // What a current to earth meets, not what drives it.
  'stationEarthing',
  'returnPath',
  'earthReturn',
  // What is asked of a circuit, and how a cable lies.
  'installation',
  'laying',
  'circuit',
]);

/** False only where a study of the one is, to the last digit, a study of the other. Names count: they stand in what a study says. */
export function differsElectrically(before: Element | undefined, after: Element | undefined): boolean {
  if (before === after) return false;
  const kind = (after ?? before)!.kind;
  if (silent.has(kind) && (before === undefined || after === undefined || before.kind === after.kind)) return false;
  if (before === undefined || after === undefined) return true;
  return electricalText(before) !== electricalText(after);
}

const electricalText = (element: Element): string =>
  JSON.stringify(element, (field, value: unknown) => (silentFields.has(field) ? undefined : value));
