/** What every kind of element must bring: defaults that its schema takes, a place on the drawing, terminals that can be joined. */
import { describe, expect, it } from 'vitest';
import { applyChanges, removalOf } from './changes';
import { newElement, type PlaceableKind } from './defaults';
import { terminalsOf } from '../drawing/shape/terminals';
import { elementSchema, kinds, type ElementKind } from './element';
import { elementId } from './fields';
import { validateNetwork } from './network';
import { buildTopology } from './topology';
import { parseVectorGroup, parseVectorGroup3 } from './vectorgroup';
import { Builder } from '../test/network';

const undrawn: readonly ElementKind[] = [
  'connection',
  'projectSettings',
  'gradingChart',
  'linePackage',
  'condition',
  'libraryEntry',
  'tower',
  'lineCoupling',
  'textNote',
  'panel',
  'chartPicture',
  'rulebook',
  'page',
  'trial',
  'batch',
  'script',
  'earthStudy',
];
const drawn = (Object.keys(kinds) as ElementKind[]).filter((kind) => !undrawn.includes(kind)) as PlaceableKind[];

describe('kinds of element', () => {
  it.each(drawn)('%s: fresh ones fit their schema, stand with all terminals, turn with them', (kind) => {
    const element = newElement(kind, elementId('x'), 'X');
    expect(elementSchema.safeParse(element).error?.issues ?? []).toEqual([]);
    expect(terminalsOf(element)).toHaveLength(kinds[kind].terminals);
    const sum = (turn: 0 | 90) =>
      terminalsOf({ ...element, turn }).reduce((total, { x, y }) => total + x * x + y * y, 0);
    expect(sum(90)).toBe(sum(0));
  });
  it.each(drawn.filter((kind) => kinds[kind].terminals > 0 && kind !== 'bus'))(
    '%s: joins buses at every terminal',
    (kind) => {
      const b = new Builder();
      b.add(kind, 'E');
      for (let k = 0; k < kinds[kind].terminals; k++) {
        b.add('bus', `B${k}`, { nominalKv: 11 });
        b.join(`E:${k}`, `B${k}`);
      }
      expect(validateNetwork(b.network())).toEqual([]);
      const { nodeOf } = buildTopology(b.network());
      for (let k = 0; k < kinds[kind].terminals; k++) expect(nodeOf.get(`E:${k}`)).toBe(nodeOf.get(`B${k}:0`));
    },
  );
  it('older elements get what they lack', () => {
    const { operation, xd1Percent, xdPercent, rotor, excitation, ...old } = newElement(
      'synchronousMachine',
      elementId('x'),
      'X',
    );
    const parsed = elementSchema.parse(old);
    expect(parsed).toMatchObject({ operation, xd1Percent, xdPercent, rotor, excitation });
  });
});

describe('towers and couplings', () => {
  const pair = () => {
    const b = new Builder();
    b.elements.push({ kind: 'tower', id: elementId('t'), name: 'T', earthResistivityOhmM: 100, conductors: [] });
    b.add('line', 'L1', { data: 'tower', tower: elementId('t') });
    b.add('line', 'L2');
    b.elements.push({
      kind: 'lineCoupling',
      id: elementId('k'),
      name: 'K',
      first: elementId('L1'),
      second: elementId('L2'),
      firstFromKm: 0,
      secondFromKm: 0,
      lengthKm: 1,
      opposite: false,
      r0mOhmPerKm: 0.1,
      x0mOhmPerKm: 0.5,
    });
    return b;
  };
  it('go with what they hang on', () => {
    const network = pair().network();
    const without = applyChanges(network, removalOf(network, [elementId('L2')]));
    if (!without.ok) throw new Error(without.problems[0].message);
    expect(without.network.elements.has(elementId('k'))).toBe(false);
    const bare = applyChanges(network, removalOf(network, [elementId('t')]));
    expect(bare.ok && bare.network.elements.get(elementId('L1'))).toMatchObject({ tower: null });
  });
  it('references that lead nowhere are refused', () => {
    const network = pair().network();
    const refused = applyChanges(network, [{ op: 'remove', id: elementId('L2') }]);
    expect(refused).toMatchObject({ ok: false, problems: [{ code: 'reference.dangling', element: 'k' }] });
    expect(applyChanges(network, [{ op: 'remove', id: elementId('t') }])).toMatchObject({ ok: false });
  });
});

describe('vector groups', () => {
  it.each(['Dyn11', 'YNd1', 'YNyn0', 'YNa0', 'Dzn0', 'Yzn11'])('%s is one', (text) =>
    expect(parseVectorGroup(text)).not.toBeNull(),
  );
  it.each(['Dyn0', 'YNd2', 'YNa6', 'Dyn12', 'dyn11', 'Da0', '', 'Dyn'])('"%s" is none', (text) =>
    expect(parseVectorGroup(text)).toBeNull(),
  );
  it('of three windings', () => {
    expect(parseVectorGroup3('YNa0d11')).toEqual({ windings: ['YN', 'A', 'D'], clocks: [0, 0, 11] });
    expect(parseVectorGroup3('YNyn6d5')?.clocks).toEqual([0, 6, 5]);
    for (const text of ['YNyn1d5', 'YNd1d2', 'YNyn0', 'Zyn0d1']) expect(parseVectorGroup3(text)).toBeNull();
  });
});
