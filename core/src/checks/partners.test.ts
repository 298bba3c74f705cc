/** What a library lists for two types together: selectivity beyond the curves, and breaking beyond the lower one's capacity. */
import { describe, expect, it } from 'vitest';
import { pairMargin, pairStates } from '../grading/margin';
import { marginWords } from '../grading/network';
import type { ElementOf } from '../model/element';
import { elementId } from '../model/fields';
import type { LibraryEntryElement, Partner } from '../model/library';
import { find, withElements, type Network } from '../model/network';
import { partnerOf } from '../model/partners';
import { deviceFrom, deviceOf } from '../protection/device';
import type { ReleaseFunction } from '../protection/release/schema';
import { Studies } from '../studies/studies';
import { demoNetwork } from '../test/demo';
import { breakingRule } from './equipment/breaking';
import { Checker, workingOf } from './run';

type Switch = ElementOf<'switch'>;
const id = elementId;
const demo = demoNetwork();
const at = (network: Network, name: string) => find(network, 'switch', id(name))!;
const type = (name: string, partners?: Partner[]): LibraryEntryElement => {
  const entry = { kind: 'libraryEntry' as const, id: id(name), name, for: 'switch' as const, source: '', data: {} };
  return partners ? { ...entry, partners } : entry;
};
const typed = (changes: Record<string, Partial<Switch>>, types: LibraryEntryElement[]): Network =>
  withElements(demo, [...types, ...Object.entries(changes).map(([name, over]) => ({ ...at(demo, name), ...over }))]);

describe('breaking together', () => {
  const listing = (backupKa: number | null, above = 'bra-f41') =>
    typed({ 'bra-f51': { entry: 'feeder' }, [above]: { entry: 'main' } }, [
      type('feeder', [{ entry: 'main', selectiveKa: null, backupKa }]),
      type('main'),
    ]);
  const check = (network: Network, checker = new Checker([breakingRule]), studies = new Studies(network)) => {
    const steps = checker.run(studies);
    for (;;) {
      const step = steps.next();
      if (step.done) return step.value.checks.find(({ id: of }) => of === 'breaking bra-f51')!;
    }
  };
  const verdict = (...of: Parameters<typeof check>) => check(...of).verdict;
  it('lets a breaker stand below the current that it could not break alone', () => {
    expect(verdict(demo)).toBe('short');
    expect(verdict(listing(50))).toBe('holds');
  });
  it('holds up to what is listed, for the type above that is listed, where it carries what the lower one does', () => {
    expect(verdict(listing(26))).toBe('short');
    // A neighbour on the same busbar carries nothing of it.
    expect(verdict(listing(50, 'bra-f53'))).toBe('short');
    const other = withElements(listing(50), [{ ...at(demo, 'bra-f41'), entry: 'another' }]);
    expect(verdict(other)).toBe('short');
  });
  it('says the partner and the current in the working and in the sentence', () => {
    const network = listing(50);
    expect(check(network)).toMatchObject({
      value: 50,
      message: expect.stringMatching(/^BRA F51: breaking capacity together with BRA F41 50 kA covers Ik″ 3\d\.\d+ kA/),
      duty: { rating: 'Icu with BRA F41', assumed: 'listed for the two types' },
    });
    const studies = new Studies(network);
    const working = workingOf(studies, studies.conditions, { id: 'breaking bra-f51', rule: 'equipment.breaking' });
    expect(JSON.stringify(working)).toContain('IEC 60947-2, Annex A');
  });
  it('is looked at again when the list or the type above changes', () => {
    for (const changed of [listing(26), withElements(listing(50), [at(demo, 'bra-f41')])]) {
      const checker = new Checker([breakingRule]);
      const before = new Studies(listing(50));
      expect(verdict(before.network, checker, before)).toBe('holds');
      const now = new Studies(changed, { studies: before, changed: [id('feeder'), id('bra-f41')] });
      expect(verdict(changed, checker, now)).toBe('short');
    }
  });
});

describe('selective together', () => {
  const release = (ratedA: number, ii: number): ReleaseFunction => ({
    ...(at(demo, 'bra-f51').functions[0] as ReleaseFunction),
    id: id(`release-${ratedA}`),
    ratedA,
    ir: 1,
    ii,
  });
  const pair = { downstream: id('bra-f51'), upstream: id('bra-f41'), wantedMarginS: null };
  const judged = (selectiveKa: number | null, upper = release(1250, 8), lower = release(63, 10)) => {
    const network = typed(
      { 'bra-f51': { entry: 'feeder', functions: [lower] }, 'bra-f41': { entry: 'main', functions: [upper] } },
      [type('feeder', [{ entry: 'main', selectiveKa, backupKa: 50 }]), type('main')],
    );
    const studies = new Studies(network);
    const [below, above] = [deviceOf(network, pair.downstream)!, deviceOf(network, pair.upstream)!];
    const states = pairStates(studies, below, above, 'phase', studies.conditions);
    return { margin: pairMargin(network, states, pair, 'phase'), network, states };
  };
  it('stops by the curves where the upper one trips at once: at 8 × 1250 A less 20 %', () => {
    const { margin } = judged(null);
    expect(margin).toMatchObject({ verdict: 'short', listedUpToA: null });
    expect(margin.selectiveUpToA).toBeCloseTo(8000, 0);
  });
  it('goes on to what tests have shown, and holds where that covers all that flows', () => {
    const part = judged(15).margin;
    expect(part).toMatchObject({ verdict: 'short', listedUpToA: 15000, selectiveUpToA: 15000 });
    expect(marginWords(part)).toMatch(/selective up to 15 kA, as listed for the two types$/);
    const whole = judged(50).margin;
    expect(whole).toMatchObject({ verdict: 'holds', listedUpToA: 50000 });
    expect(marginWords(whole)).toBe('selective up to 50 kA, as listed for the two types');
    // What the curves reach by themselves is not less for a list that reaches less.
    expect(judged(5).margin.selectiveUpToA).toBeCloseTo(8000, 0);
  });
  it('says nothing of overloads that the curves do not tell apart', () => {
    const { margin } = judged(50, release(80, 40), release(63, 40));
    expect(margin).toMatchObject({ verdict: 'short', listedUpToA: null });
    expect(margin.selectiveUpToA).toBeLessThan(2000);
  });
  it('does not hold for another device on trial in the place of one', () => {
    const { network, states } = judged(50);
    const guest = deviceFrom(network, { ...at(network, 'bra-f51') })!;
    const tried = (trials: Parameters<typeof pairMargin>[4]) =>
      pairMargin(network, states, pair, 'phase', trials).verdict;
    expect(tried(new Map([[pair.downstream, at(network, 'bra-f51')]]))).toBe('holds');
    expect(tried(new Map([[pair.downstream, guest]]))).toBe('short');
    expect(partnerOf(network, pair.upstream, pair.downstream)).toBeNull();
  });
});
