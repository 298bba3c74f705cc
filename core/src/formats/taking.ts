/** What the terminal and the server do alike with a file: identifiers for what is new, and the batch of what is taken. */
import type { Change } from '../model/changes';
import type { ElementId } from '../model/fields';
import type { Network } from '../model/network';
import type { EntryGroup, Report } from './format';

/** Identifiers that nothing in the network has. */
export function freeIds({ elements }: Network, prefix: string): () => ElementId {
  let made = 0;
  return () => {
    let id: ElementId;
    do id = `${prefix}-${++made}` as ElementId;
    while (elements.has(id));
    return id;
  };
}

/** The changes of some groups of entries; as the report has it where none are named, or where it is all or nothing. */
export function batchOf({ batch, entries, taking }: Report, groups: readonly EntryGroup[] | null): readonly Change[] {
  if (groups === null || !entries || !taking) return batch;
  return taking(new Set(entries.filter(({ what }) => groups.includes(what)).map(({ key }) => key)));
}
