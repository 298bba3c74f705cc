import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { solidFault } from '../faults/kinds';
import { maximumSources, minimumSources, type Condition } from '../model/condition';
import { elementId } from '../model/fields';
import { find, networkOf, ofKind, withElements } from '../model/network';
import { newElement } from '../model/defaults';
import { demoNetwork } from '../test/demo';
import { causesOf, conditionFactors, networkFactors, type Factor } from './causes';
import { compareFaults } from './compare';
import { FaultEngine } from './engine';
import { runs } from '../test/runs';

const id = elementId;
function drain<T>(steps: Generator<number, T>): T {
  let last = 0;
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
    expect(step.value).toBeGreaterThanOrEqual(last);
    expect(step.value).toBeLessThanOrEqual(1);
    last = step.value;
  }
}
const factors = (n: number): Factor[] =>
  Array.from({ length: n }, (_, k) => ({ key: `f${k}`, text: `change ${k}`, element: null }));
const sharesOf = (list: readonly { key: string; share: number }[]) =>
  Object.fromEntries(list.map(({ key, share }) => [key, share]));

describe('causes of a difference', () => {
  it('add up to it, whatever the changes do to each other, exact or sampled', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 11 }), fc.integer({ min: 1, max: 1e6 }), (n, seed) => {
        // A figure with any interplay: a number drawn for each set.
        const value = (made: ReadonlySet<number>) => {
          const bits = [...made].reduce((sum, k) => sum + 2 ** k, 1);
          return 1000 + ((bits * 7919 * seed) % 10007) / 10;
        };
        const found = drain(causesOf(factors(n), value))!;
        const sum = found.causes.reduce((total, { share }) => total + share, 0);
        expect(sum).toBeCloseTo(found.after - found.before, 6);
        expect(found.sampled).toBe(n > 8);
      }),
      { seed: 4, numRuns: runs(60) },
    );
  });
  it('that do not touch each other each have their own effect, and one that does nothing has none', () => {
    for (const n of [3, 10]) {
      const value = (made: ReadonlySet<number>) => [...made].reduce((sum, k) => sum + (k === 0 ? 0 : 10 * k), 500);
      const shares = sharesOf(drain(causesOf(factors(n), value))!.causes);
      for (let k = 0; k < n; k++) expect(shares[`f${k}`]).toBeCloseTo(10 * k, 9);
    }
  });
  it('share what they only do together in equal parts: the average over the two orders', () => {
    const value = (made: ReadonlySet<number>) => (made.size === 2 ? 100 : 0);
    expect(drain(causesOf(factors(2), value))!.causes.map(({ share }) => share)).toEqual([50, 50]);
  });
  it('do not exist where the figure does not', () => {
    expect(drain(causesOf(factors(2), (made) => (made.size === 2 ? null : 1)))).toBeNull();
    const gap = drain(causesOf(factors(2), (made) => (made.size === 1 ? null : 10)))!;
    expect(gap.causes.reduce((sum, { share }) => sum + share, 0)).toBeCloseTo(0, 12);
    expect(drain(causesOf([], () => 7))).toMatchObject({ before: 7, after: 7, causes: [] });
    expect(drain(causesOf(factors(2), (made) => (made.size === 0 ? null : 1)))).toBeNull();
  });
  it('ask for every set once, and come largest first, whichever way they pull', () => {
    const asked: string[] = [];
    const pull = [-30, 10, 20];
    const found = drain(
      causesOf(factors(3), (made) => {
        asked.push([...made].sort().join());
        return [...made].reduce((sum, k) => sum + pull[k], 100);
      }),
    )!;
    expect(asked).toHaveLength(8);
    expect(new Set(asked).size).toBe(8);
    expect(found.causes.map(({ key, share }) => [key, share])).toEqual([
      ['f0', expect.closeTo(-30, 9)],
      ['f2', expect.closeTo(20, 9)],
      ['f1', expect.closeTo(10, 9)],
    ]);
    expect(found).toMatchObject({ before: 100, after: 100, orders: 6, sampled: false });
    for (const { uncertainty } of found.causes) expect(uncertainty).toBe(0);
  });
  it('that are sampled say how sure they are: the standard error over orders drawn with their reverse', () => {
    // The first two only do something together: 100 in half of the orders for each, exactly, since every order is also gone backwards.
    const value = (made: ReadonlySet<number>) => (made.has(0) && made.has(1) ? 100 : 0) + (made.has(2) ? 7 : 0);
    const { causes, orders } = drain(causesOf(factors(10), value))!;
    expect(orders).toBe(120);
    const of = (key: string) => causes.find((cause) => cause.key === key)!;
    for (const key of ['f0', 'f1']) {
      expect(of(key).share).toBeCloseTo(50, 9);
      expect(of(key).uncertainty).toBeCloseTo(50 / Math.sqrt(119), 9);
    }
    expect(of('f2')).toMatchObject({ share: expect.closeTo(7, 9), uncertainty: expect.closeTo(0, 6) });
    expect(of('f3')).toMatchObject({ share: 0, uncertainty: 0 });
  });
  it('in drawn orders each comes first about as often as any other', () => {
    const n = 12;
    for (let k = 0; k < n; k++) {
      const alone = (made: ReadonlySet<number>) => (made.has(k) && made.size === 1 ? 100 : 0);
      const { share } = drain(causesOf(factors(n), alone, 3))!.causes.find(({ key }) => key === `f${k}`)!;
      // 60 draws, each end counts: 8.3 expected, 2.4 standard deviation.
      expect([k, share > 0, share < 19]).toEqual([k, true, true]);
    }
  });
});

describe('between two conditions of the demo', () => {
  const network = demoNetwork();
  const night = find(network, 'condition', id('coupler-open'))!;
  const fault = solidFault('3ph');
  const place = { at: 'terminal', element: id('bra-11-a'), terminal: 0 } as const;
  const level = (condition: Condition) => {
    const own = networkOf([...network.elements.values(), { ...condition, id: id('tried'), name: 'Tried' }]);
    return new FaultEngine(own).row({ method: 'iec60909', condition: id('tried') }, fault, place).result?.ikA ?? null;
  };
  it('the sources, the coupler and the gas engine add up to what is lost', () => {
    const { factors: list, with: made } = conditionFactors(network, maximumSources, night);
    expect(list.map(({ text }) => text)).toEqual(['minimum sources', 'BRA Q30 open', 'BRA G1 not running']);
    expect(made(new Set([0, 1, 2]))).toMatchObject({ sources: 'minimum', open: night.open, stopped: night.stopped });
    expect(made(new Set())).toEqual(maximumSources);
    const found = drain(causesOf(list, (set) => level(made(set))))!;
    expect(found.before).toBeCloseTo(level(maximumSources)!, 9);
    expect(found.after).toBeCloseTo(level(night)!, 9);
    const shares = sharesOf(found.causes);
    expect(Object.values(shares).reduce((sum, share) => sum + share, 0)).toBeCloseTo(found.after - found.before, 6);
    for (const share of Object.values(shares)) expect(share).toBeLessThan(0);
    // The other way round what was lost comes back.
    const back = conditionFactors(network, night, maximumSources);
    expect(back.factors.map(({ text }) => text)).toContain('BRA Q30 no longer open');
    const again = drain(causesOf(back.factors, (set) => level(back.with(set))))!;
    expect(sharesOf(again.causes)['bra-q30']).toBeCloseTo(-shares['bra-q30'], 6);
  });
  it('are told field by field and element by element; making one leaves the others as they are', () => {
    const t1 = { element: id('bra-t1'), position: 1 };
    const [a, b, c] = ['fer-bra-1', 'fer-bra-2', 'bra-t2'].map(id);
    const p: Condition = { ...maximumSources, out: [a], taps: [t1, { element: c, position: 2 }] };
    const q: Condition = {
      ...maximumSources,
      out: [b, a],
      open: [id('bra-q30'), b],
      taps: [
        { ...t1, position: 3 },
        { element: c, position: 2 },
      ],
    };
    const { factors: list, with: made } = conditionFactors(network, p, q);
    expect(list.map(({ key, text }) => [key, text])).toEqual([
      ['bra-q30', 'BRA Q30 open'],
      ['fer-bra-2', 'FER-BRA 2 open, out of service'],
      ['bra-t1', 'BRA T1 tap moved'],
    ]);
    expect(made(new Set([0]))).toEqual({ ...p, open: [id('bra-q30')] });
    expect(made(new Set([1]))).toEqual({ ...p, open: [b], out: [a, b] });
    expect(made(new Set([2])).taps).toEqual([
      { element: c, position: 2 },
      { ...t1, position: 3 },
    ]);
    expect(made(new Set([0, 1, 2])).out).toEqual([a, b]);
    const back = conditionFactors(network, q, p);
    expect(back.factors.map(({ text }) => text)).toContain('FER-BRA 2 no longer open, out of service');
    expect(back.with(new Set([0, 1, 2]))).toMatchObject({ open: [], out: [a] });
    expect(conditionFactors(network, p, p).factors).toEqual([]);
    const odd = conditionFactors(network, p, { ...p, out: [a, id('nowhere')] });
    expect(odd.factors).toMatchObject([{ text: 'nowhere out of service' }]);
  });
  it('each bus has both figures and their difference, largest share first', () => {
    const engine = new FaultEngine(network);
    const side = (condition: string) => ({ engine, study: { method: 'iec60909' as const, condition: id(condition) } });
    const rows = drain(compareFaults(side('maximum'), side('coupler-open'), fault));
    expect(rows).toHaveLength(23);
    for (const [k, { beforeA, afterA, differenceA, percent }] of rows.entries()) {
      expect(differenceA).toBeCloseTo(afterA! - beforeA!, 9);
      expect(percent).toBeCloseTo((100 * differenceA!) / beforeA!, 9);
      if (k > 0) expect(Math.abs(rows[k - 1].percent!)).toBeGreaterThanOrEqual(Math.abs(percent!));
    }
    expect(rows.find(({ bus }) => bus === 'bra-11-a')!.beforeA).toBeCloseTo(level(maximumSources)!, 6);
    const same = drain(compareFaults(side('maximum'), side('maximum'), fault));
    expect(same.every(({ differenceA }) => differenceA === 0)).toBe(true);
  });
});

describe('between two states of the project', () => {
  const before = demoNetwork();
  const t1 = find(before, 'transformer', id('bra-t1'))!;
  const line = find(before, 'line', id('fer-pen'))!;
  const relay = find(before, 'relay', id('bra-q21-relay'))!;
  const after = withElements(before, [
    { ...t1, ukPercent: 12 },
    { ...line, lengthKm: 20, x: line.x + 50 },
    { ...relay, note: 'seen' },
  ]);
  it('are the elements that matter to currents, each made or not', () => {
    const { factors: list, with: made } = networkFactors(before, after);
    expect(list.map(({ element }) => element).sort()).toEqual(['bra-t1', 'fer-pen']);
    const k = list.findIndex(({ element }) => element === 'bra-t1');
    const one = made(new Set([k]))!;
    expect(find(one, 'transformer', t1.id)!.ukPercent).toBe(12);
    expect(find(one, 'line', line.id)!.lengthKm).toBe(line.lengthKm);
    expect(minimumSources.name).toBe('Minimum sources');
  });
  it('what is removed goes with its connections', () => {
    const gone = [...before.elements.values()].filter(
      (element) =>
        element.id !== 'gal-wind' &&
        !(element.kind === 'connection' && [element.from.element, element.to.element].includes(id('gal-wind'))),
    );
    const { factors: list, with: made } = networkFactors(before, networkOf(gone));
    expect(list).toHaveLength(1);
    expect(made(new Set([0]))!.elements.size).toBe(gone.length);
  });
  it('a name may pass from what is removed to what is added; connections that are nobody else’s go together', () => {
    const wind = id('gal-wind');
    const wire = ofKind(before, 'connection').find(({ to }) => to.element === 'bra-11-a')!;
    const left = [...before.elements.values()].filter(
      (each) =>
        each.id !== wind &&
        each.id !== wire.id &&
        !(each.kind === 'connection' && [each.from.element, each.to.element].includes(wind)),
    );
    const load = newElement('load', id('new-load'), 'GAL wind');
    const next = networkOf([...left, load]);
    const { factors: list, with: made } = networkFactors(before, next);
    expect(list.map(({ text, element }) => [text, element]).sort()).toEqual([
      ['GAL wind added', 'new-load'],
      ['GAL wind removed', 'gal-wind'],
      ['connections changed', null],
    ]);
    const all = made(new Set(list.keys()))!;
    expect([...all.elements.keys()].sort()).toEqual([...next.elements.keys()].sort());
    // Added beside what still has the name it does not go.
    const added = list.findIndex(({ element }) => element === 'new-load');
    expect(made(new Set([added]))).toBeNull();
    const cut = list.findIndex(({ element }) => element === null);
    expect(made(new Set([cut]))!.elements.has(wire.id)).toBe(false);
  });
});
