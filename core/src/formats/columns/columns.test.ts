import { describe, expect, it } from 'vitest';
import { csv } from '../tables/csv';
import { demoNetwork } from '../../test/demo';
import { applyChanges } from '../../model/changes';
import type { ElementId } from '../../model/fields';
import { ofKind, type Network } from '../../model/network';
import { opened } from '../open';
import { finished, reported } from '../registry';
import { remarkText } from '../remarks';
import type { Report } from '../format';
import { guessed, guessedKind, listKinds, listSheets, readColumns, targetsOf, type ColumnMap } from './columns';

const sourceOf = async (rows: readonly (readonly (string | number)[])[]) => {
  const file = await opened('list.csv', new TextEncoder().encode(csv(rows as never)));
  if (!file.ok) throw new Error(file.message);
  return file.source;
};
async function brought(
  rows: readonly (readonly (string | number)[])[],
  map: Partial<ColumnMap> & Pick<ColumnMap, 'kind'>,
  network: Network,
) {
  const source = await sourceOf(rows);
  const columns = map.columns ?? guessed(map.kind, listSheets(source)[0].heads);
  let made = 0;
  const into = { network, newId: () => `new-${++made}` as ElementId };
  return reported({ brought: finished(readColumns(source, { sheet: 0, kind: map.kind, columns }, network)) }, into);
}
const taken = (network: Network, { batch }: Report): Network => {
  const applied = applyChanges(network, batch);
  if (!applied.ok) throw new Error(applied.problems[0].message);
  return applied.network;
};

describe('a list of anybody’s making', () => {
  const lines = [
    ['Name', 'From', 'To', 'Length in km', 'R1 in Ω/km', 'remark of mine'],
    ['North 1', 'BRA 33', 'SKE 33', 4.2, 0.12, 'x'],
    ['North 2', 'BRA 33', 'New board', '5,5', 0.12, ''],
  ];
  it('makes elements at the busbars that it names, and new busbars where there are none', async () => {
    const network = demoNetwork();
    const report = await brought(lines, { kind: 'line' }, network);
    const after = taken(network, report);
    const [first, second] = ['North 1', 'North 2'].map((name) =>
      ofKind(after, 'line').find((line) => line.name === name)!,
    );
    expect(first.lengthKm).toBe(4.2);
    const joined = (id: string) =>
      ofKind(after, 'connection')
        .flatMap(({ from, to }) => (from.element === id ? [to.element] : to.element === id ? [from.element] : []))
        .map((other) => (after.elements.get(other) as { name: string }).name)
        .sort();
    expect(joined(first.id)).toEqual(['BRA 33', 'SKE 33']);
    expect(joined(second.id)).toEqual(['BRA 33', 'New board']);
    expect(report.assumed!.map(remarkText).join()).toMatch(
      /busbar that the list names and the project has not .*New board/,
    );
    // The busbars that were there are as they were.
    expect(ofKind(after, 'bus').length).toBe(ofKind(network, 'bus').length + 1);
  });

  it('changes what is here by name, and only what it states', async () => {
    const network = demoNetwork();
    const [line] = ofKind(network, 'line');
    const report = await brought(
      [
        ['name', 'lengthKm'],
        [line.name, 77],
      ],
      { kind: 'line' },
      network,
    );
    expect(report.entries!.map(({ what, name }) => [what, name])).toEqual([['changed', line.name]]);
    const after = taken(network, report);
    const changed = after.elements.get(line.id) as typeof line;
    expect({ ...changed, lengthKm: line.lengthKm, foreign: undefined, assumed: undefined }).toEqual({
      ...line,
      foreign: undefined,
      assumed: undefined,
    });
    expect(changed.lengthKm).toBe(77);
    // The same once more brings nothing.
    expect(
      (
        await brought(
          [
            ['name', 'lengthKm'],
            [line.name, 77],
          ],
          { kind: 'line' },
          after,
        )
      ).entries,
    ).toEqual([]);
  });

  it('leaves within a field what the list does not say', async () => {
    const network = demoNetwork();
    const transformer = ofKind(network, 'transformer').find(({ lvNeutral }) => lvNeutral.earthing === 'resistor')!;
    const { lvNeutral } = transformer;
    const list = [
      ['name', 'lvNeutral.rOhm'],
      [transformer.name, lvNeutral.rOhm * 2],
    ];
    const after = taken(network, await brought(list, { kind: 'transformer' }, network));
    expect((after.elements.get(transformer.id) as typeof transformer).lvNeutral).toEqual({
      ...lvNeutral,
      rOhm: lvNeutral.rOhm * 2,
    });
  });

  it('names the row and the column of what cannot be taken, and takes the rest', async () => {
    const network = demoNetwork();
    const report = await brought(
      [
        ['Name', 'Length in km', 'From'],
        ['A', 'long', 'BRA 33'],
        ['', 3, ''],
        ['B', '1e400', ''],
        ['A', 3, ''],
        ['', '', ''],
        ['D', 2, ''],
        ['C', -5, ''],
      ],
      { kind: 'line' },
      network,
    );
    const told = report.problems.map(({ message }) => message).join('\n');
    for (const why of [
      /row 2, Length in km: "long"/,
      /without a name .*row 3/,
      /row 4, Length in km/,
      /twice; .*row 5, A/,
      /row 8, Length in km/,
    ])
      expect(told).toMatch(why);
    const names = ofKind(taken(network, report), 'line').map(({ name }) => name);
    expect(names).toEqual(expect.arrayContaining(['A', 'B', 'C', 'D']));
  });

  it('refuses a map that fits nothing', async () => {
    const network = demoNetwork();
    const source = await sourceOf(lines);
    for (const [map, why] of [
      [{ sheet: 0, kind: 'line', columns: [null, 'end1'] }, /holds the name/],
      [{ sheet: 3, kind: 'line', columns: ['name'] }, /no such table/],
      [{ sheet: 0, kind: 'gradingChart', columns: ['name'] }, /rows make no/],
    ] as const)
      expect(() => finished(readColumns(source, map as never, network))).toThrow(why);
  });
});

describe('what columns hold', () => {
  it('is found by title, path and usual words, each once', () => {
    expect(guessed('line', ['Name', 'name', 'From bus', 'to', 'lengthKm', 'Length (km)', 'Whatever', ''])).toEqual([
      'name',
      null,
      'end1',
      'end2',
      'lengthKm',
      null,
      null,
      null,
    ]);
    for (const kind of listKinds) {
      const targets = targetsOf(kind);
      expect(new Set(targets.map(({ id }) => id)).size, kind).toBe(targets.length);
      // Called as the form calls them, every field is found.
      const heads = targets
        .filter(({ id }) => !id.startsWith('end'))
        .map(({ title, unit }) => (unit ? `${title} in ${unit}` : title));
      expect(guessed(kind, heads).filter((id) => id === null).length, kind).toBeLessThanOrEqual(
        heads.length - new Set(heads.map((head) => head.toLowerCase())).size + 4,
      );
    }
  });
  it('is what was said before', () => {
    expect(guessed('line', ['Bezeichnung', 'Name'], { bezeichnung: 'name', name: '' })).toEqual(['name', null]);
    expect(guessed('line', ['x'], { x: 'nonsense' })).toEqual([null]);
  });
  it('tells the kind', () => {
    expect(guessedKind(['Name', 'From', 'To', 'Length in km'])).toBe('line');
    expect(guessedKind(['anything'], 'Bus')).toBe('bus');
  });
});
