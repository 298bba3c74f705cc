/** A type in the library: generic, with typical values and where they come from. No maker, no model. */
import type { ElementKind } from '../model/element';
import type { LibraryEntryElement } from '../model/library';

export interface LibraryEntry {
  readonly id: string;
  readonly title: string;
  /** Kind of element that it is a type of. */
  readonly for: ElementKind;
  /** Values that an element of this type gets. */
  readonly data: Readonly<Record<string, unknown>>;
  /** Standard and clause, or that it is practice. */
  readonly source: string;
  /** Remembered of the standard; nobody here could look it up. */
  readonly recalled: boolean;
  /** Of the project itself. */
  readonly own: boolean;
  /** Of all projects of the installation: a project that uses it takes a copy. */
  readonly shared?: boolean;
}

/** An entry that ships with the program. */
export const shipped = (
  id: string,
  kind: ElementKind,
  title: string,
  data: LibraryEntry['data'],
  source: string,
  recalled = true,
): LibraryEntry => ({ id: `lib-${id}`, title, for: kind, data, source, recalled, own: false });

export const ownEntry = ({ id, name, for: kind, data, source }: LibraryEntryElement): LibraryEntry => ({
  id,
  title: name,
  for: kind as ElementKind,
  data,
  source,
  recalled: false,
  own: true,
});
