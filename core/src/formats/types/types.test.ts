import { describe, expect, it } from 'vitest';
import { ownEntry } from '../../equipment/entry';
import { shippedLibrary } from '../../equipment/shipped';
import { elementSchema, kinds } from '../../model/element';
import { elementId } from '../../model/fields';
import { libraryKinds, type LibraryKind } from '../../model/library';
import { delimited } from '../../fields/delimited';
import { csv } from '../tables/csv';
import { chiefColumns, foundEntries, sampleOf, typeRows, typesFrom } from './types';

let ids = 0;
const newId = () => elementId(`own-${++ids}`);
const fromCsv = (kind: LibraryKind | undefined, text: string, taken: ReadonlySet<string> = new Set()) =>
  typesFrom(delimited(text), {
    kindCalled: (name) => libraryKinds.find((each) => kinds[each].title === name),
    kind,
    newId,
    taken,
  });

describe('the library as a list', () => {
  it('every kind has its chief columns, every type a value in each of them', () => {
    for (const kind of libraryKinds) {
      expect(chiefColumns(kind).length).toBeGreaterThan(2);
      for (const entry of shippedLibrary.filter((each) => each.for === kind)) expect(sampleOf(entry)).not.toBeNull();
    }
  });
  it('is found by words and figures', () => {
    const found = foundEntries(shippedLibrary, 'breaker 12 1250 25');
    expect(found.map(({ title }) => title)).toContain('Breaker 12 kV, 1250 A, 25 kA');
    const boards = foundEntries(shippedLibrary, 'board 12 kV 1250 A').map(({ title }) => title);
    expect(boards.length).toBeGreaterThan(3);
    for (const title of boards) expect(title).toMatch(/^Board 12 kV, 1250 A/);
    expect(foundEntries(shippedLibrary, 'board 12').length).toBeGreaterThan(boards.length);
    expect(foundEntries(shippedLibrary, 'pvc 95 mm2 cu')).toHaveLength(1);
    expect(foundEntries(shippedLibrary, 'XLPE 240 Al 33').map(({ title }) => title)).toEqual([
      'XLPE cable 33 kV, 3 × 1 × 240 mm² Al',
    ]);
  });
  it.each(libraryKinds)('%s goes out as CSV and comes back the same', (kind) => {
    const entries = shippedLibrary.filter((entry) => entry.for === kind).slice(0, 12);
    const read = fromCsv(undefined, csv(typeRows(kind, entries)));
    expect(read.problems).toEqual([]);
    expect(read.entries.map(({ name }) => name)).toEqual(entries.map(({ title }) => title));
    read.entries.forEach((entry, k) => {
      expect(elementSchema.safeParse(entry).success).toBe(true);
      const { id: _, name: __, entry: ___, ...again } = sampleOf(ownEntry(entry)) as never as Record<string, unknown>;
      const {
        id: ____,
        name: _____,
        entry: ______,
        ...before
      } = sampleOf(entries[k]) as never as Record<string, unknown>;
      expect(again).toMatchObject(Object.fromEntries(Object.entries(before).filter(([key]) => key in entry.data)));
    });
  });
  it('what does not fit is left out, with its line', () => {
    const text =
      'Type;Source;ratedKv;ratedA;breakingKa;colour\nOurs;us;12;630;25;red\n;;;;;\nWrong;;12;many;25;\nOurs;;12;630;16;\n;;12;1;1;';
    const { entries, problems } = fromCsv('switch', text, new Set(['Theirs']));
    expect(entries).toMatchObject([
      { name: 'Ours', source: 'us', for: 'switch', data: { ratedA: 630, breakingKa: 25 } },
    ]);
    expect(problems).toEqual([
      'The column "colour" is not known and was left out.',
      'Line 4 (Wrong): rated current: This is not a number.',
      'Line 5 (Ours): a type of this name is in the project already',
      'Line 6: the type has no name',
    ]);
    expect(fromCsv('switch', 'a,b\n1,2').problems).toEqual(['There is no column "Type" in the first line.']);
    expect(fromCsv('switch', '').entries).toEqual([]);
  });
});
