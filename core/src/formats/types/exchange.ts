/** Types of equipment as tables: those of the project out, and types of any spreadsheet in. */
import { ownEntry, type LibraryEntry } from '../../equipment/entry';
import type { Change } from '../../model/changes';
import { kinds } from '../../model/element';
import { libraryKinds, type LibraryKind } from '../../model/library';
import { ofKind } from '../../model/network';
import { remark, type Exporter, type Importer, type Sheet } from '../format';
import { countsOf } from '../project/exchange';
import { typeRows, typesFrom, titleHead } from './types';

const title = 'types of equipment';

/** A sheet for each kind that there are types of. */
export const typeSheets = (entries: readonly LibraryEntry[]): Sheet[] =>
  libraryKinds.flatMap((kind) => {
    const own = entries.filter((entry) => entry.for === kind);
    return own.length > 0 ? [{ name: kinds[kind].title, rows: typeRows(kind, own) }] : [];
  });

export const typesExporter: Exporter = {
  id: 'types',
  title: 'Types of the project',
  extension: 'xlsx',
  write: (network) => ({ content: typeSheets(ofKind(network, 'libraryEntry').map(ownEntry)) }),
};

const kindCalled = (name: string): LibraryKind | undefined =>
  libraryKinds.find((kind) => kinds[kind].title.toLowerCase() === name.trim().toLowerCase());

export const typesImporter: Importer = {
  id: 'types',
  title,
  sniff: ({ sheets }) => sheets.some(({ rows }) => rows[0]?.some((head) => head.trim() === titleHead)),
  report({ sheets }, { network, newId, kind }) {
    const taken = new Set(ofKind(network, 'libraryEntry').map(({ name }) => name));
    const batch: Change[] = [];
    const problems = [];
    for (const { name, rows } of sheets) {
      if (!rows[0]?.some((head) => head.trim() === titleHead)) continue;
      const read = typesFrom(rows, { kindCalled, kind: kindCalled(name) ?? kind, newId, taken });
      for (const element of read.entries) {
        batch.push({ op: 'add', element });
        taken.add(element.name);
      }
      problems.push(...read.problems.map((message) => remark(name ? `${name}: ${message}` : message)));
    }
    const found = countsOf(batch.flatMap((change) => (change.op === 'add' ? [change.element] : [])));
    return { format: title, found, problems, batch, label: `Import ${batch.length} types` };
  },
};
