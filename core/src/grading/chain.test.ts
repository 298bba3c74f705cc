/** Who follows whom, on small networks where it can be seen; and all margins of a project. */
import { describe, expect, it } from 'vitest';
import { maximumSources, type Condition } from '../model/condition';
import { elementId, type ElementId } from '../model/fields';
import { ofKind, withElements } from '../model/network';
import { currentInput, tripCircuit } from '../model/protection';
import { familyNamed } from '../protection/registry';
import { Studies } from '../studies/studies';
import { demoNetwork } from '../test/demo';
import { Builder } from '../test/network';
import { pairsFrom, pathFrom, supplyPaths } from './chain';
import { marginWords, networkPairs } from './network';

const id = elementId;

class Protected extends Builder {
  /** CT and breaker in a row between two terminals, with a relay that looks towards the second one. */
  feeder(name: string, from: string, to: string): this {
    this.add('currentTransformer', `${name}-ct`, { primaryA: 100 });
    this.add('switch', `${name}-q`);
    this.join(from, `${name}-ct:0`, `${name}-ct:1`, `${name}-q:0`, `${name}-q:1`, to);
    this.add('relay', name, {
      inputs: [currentInput(id(`${name}-ct`))],
      circuits: [tripCircuit([id(`${name}-q`)])],
      functions: [familyNamed('overcurrent').fresh(id(`${name}-51`), '51', currentInput(null).id)],
    });
    return this;
  }
}
const bus = (b: Builder, ...names: string[]) => names.forEach((name) => b.add('bus', name, { nominalKv: 11 }));
const found = (b: Builder, conditions: readonly Condition[] = [maximumSources]) =>
  pairsFrom(new Studies(b.network()), conditions)
    .map(({ downstream, upstream }) => `${downstream}>${upstream}`)
    .sort();

describe('pairs found from the network', () => {
  it('in a radial feeder each is backed up by the next one towards the source, and no other', () => {
    const b = new Protected();
    bus(b, 'A', 'B', 'C');
    b.add('networkFeeder', 'N');
    b.add('line', 'L');
    b.add('line', 'M');
    b.join('N', 'S', 'L:1', 'B', 'M:1', 'C');
    bus(b, 'S');
    b.feeder('r0', 'S', 'A').feeder('r1', 'A', 'L:0').feeder('r2', 'B', 'M:0').feeder('other', 'A', 'D');
    bus(b, 'D');
    expect(found(b)).toEqual(['other>r0', 'r1>r0', 'r2>r1']);
    const pairs = pairsFrom(new Studies(b.network()), [maximumSources]);
    expect(pathFrom(pairs, id('r2'))).toEqual(['r2', 'r1', 'r0']);
    expect(supplyPaths(pairs).map(({ devices }) => devices)).toEqual([
      ['r2', 'r1', 'r0'],
      ['other', 'r0'],
    ]);
  });
  const parallel = (coupled: boolean) => {
    const b = new Protected();
    bus(b, 'H', 'A', 'B');
    b.add('networkFeeder', 'N');
    b.add('line', 'L');
    b.add('line', 'M');
    b.add('switch', 'coupler', { closed: coupled });
    b.join('N', 'H', 'coupler:0', 'A', 'coupler:1', 'B', 'L:1', 'A', 'M:1', 'B');
    b.feeder('l', 'H', 'L:0').feeder('m', 'H', 'M:0').feeder('load', 'A', 'E');
    bus(b, 'E');
    return b;
  };
  it('over parallel paths by all of them, as far as the coupler is closed', () => {
    expect(found(parallel(false))).toEqual(['load>l']);
    // What feeds a fault on one of them from its far end has to clear it as well: it is nobody's backup.
    expect(found(parallel(true))).toEqual(['load>l', 'load>m']);
  });
  it('each with the conditions in which it holds', () => {
    const network = parallel(false).network();
    const closed: Condition = { ...maximumSources, id: id('closed'), name: 'Closed', closed: [id('coupler')] };
    const withCondition = withElements(network, [closed]);
    const pairs = pairsFrom(new Studies(withCondition), [maximumSources, closed]);
    const of = (down: string, up: string) =>
      pairs.find(({ downstream, upstream }) => downstream === down && upstream === up)?.conditions;
    expect(of('load', 'l')).toEqual([maximumSources.id, 'closed']);
    expect(of('load', 'm')).toEqual(['closed']);
  });
  it('a device in front of nothing that feeds backs up nobody', () => {
    const b = new Protected();
    bus(b, 'A', 'X', 'Y');
    b.add('networkFeeder', 'N');
    b.join('N', 'A');
    // Looks back at the bus from a feeder without a source.
    b.feeder('load', 'A', 'X').feeder('back', 'Y', 'A');
    expect(found(b)).toEqual([]);
  });
});

describe('the margins of a project', () => {
  const studies = new Studies(demoNetwork());
  const all = (() => {
    const steps = networkPairs(studies, studies.conditions);
    const shares: number[] = [];
    for (;;) {
      const step = steps.next();
      if (step.done) return { pairs: step.value, shares };
      shares.push(step.value);
    }
  })();
  it('are those of its charts, and those that nobody drew', () => {
    const charts = ofKind(studies.network, 'gradingChart');
    for (const chart of charts)
      for (const pair of chart.pairs)
        expect(
          all.pairs.some(
            ({ downstream, upstream, mode, charts: on }) =>
              downstream.id === pair.downstream &&
              upstream.id === pair.upstream &&
              mode === chart.mode &&
              on.includes(chart.id),
          ),
        ).toBe(true);
    expect(all.pairs.some(({ charts: on }) => on.length === 0)).toBe(true);
    expect(all.shares).toEqual([...all.shares].sort((p, q) => p - q));
  });
  it('count a pair in the conditions in which it follows', () => {
    const part = all.pairs.find(
      ({ downstream, upstream, mode }) =>
        downstream.id === 'bra-q32-relay' && upstream.id === 'bra-q22-relay' && mode === 'phase',
    )!;
    expect(part.conditions.length).toBeLessThan(studies.conditions.length);
    expect(part.conditions).toContain(part.margin.decisive!.condition);
    expect(part.ruling).toBeNull();
  });
  it('are said in a few words', () => {
    const words = (down: string, up: string, mode = 'phase') => {
      const pair = all.pairs.find(
        (each) => each.downstream.id === down && each.upstream.id === up && each.mode === mode,
      )!;
      return marginWords(pair.margin);
    };
    expect(words('pen-f2', 'pen-r1')).toMatch(/^margin \d\.\d{3} s at \d+ A$/);
    expect(words('bra-q32-relay', 'bra-q21-relay')).toMatch(
      /^margin 0\.\d{3} s at \d+ A, 0\.\d{3} s below the required 0\.3 s$/,
    );
    const base = all.pairs[0].margin;
    const energy = { kind: '3ph' as const, condition: '' as ElementId, downstreamA: 1, throughA2s: 2, meltingA2s: 1 };
    expect(marginWords({ ...base, decisive: null, energy, verdict: 'holds' })).toBe('selective by energy');
    expect(
      marginWords({
        ...base,
        decisive: null,
        energy,
        verdict: 'short',
        reason: 'A melts with B',
        selectiveUpToA: 5544,
      }),
    ).toBe('A melts with B, selective up to 5.54 kA');
  });
});
