import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { solidFault } from '../faults/kinds';
import { maximumSources, minimumSources, type Condition } from '../model/condition';
import { elementId } from '../model/fields';
import { find, networkOf, withElements } from '../model/network';
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
  it('each bus has both figures and their difference, largest share first', () => {
    const engine = new FaultEngine(network);
    const side = (condition: string) => ({ engine, study: { method: 'iec60909' as const, condition: id(condition) } });
    const rows = drain(compareFaults(side('maximum'), side('coupler-open'), fault));
    expect(rows).toHaveLength(22);
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
});
