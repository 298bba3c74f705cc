/** Margins over curves that are made up, so that the valley is known; verdicts, proposals and figures at their edges. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { newElement } from '../model/defaults';
import { maximumSources, minimumSources, type Condition } from '../model/condition';
import { defaultSettings } from '../model/element';
import { elementId } from '../model/fields';
import { find, networkOf, ofKind, withElements, type Network } from '../model/network';
import type { GradingPair } from '../model/chart';
import { currentInput, type Relay } from '../model/protection';
import type { Curves } from '../protection/curve';
import { deviceFrom, deviceOf, withFunction, type Device } from '../protection/device';
import type { Band, Quantity, TimeCurrent } from '../protection/family';
import { genericRelays, newFunction } from '../protection/overcurrent/library';
import type { OvercurrentFunction } from '../protection/overcurrent/schema';
import { Studies } from '../studies/studies';
import { demoNetwork } from '../test/demo';
import { deviceFigures, kindsFor, nothingA, referenceFactor } from './figures';
import { decisiveIn, pairMargin, pairStates, upstreamFirstBelow, type PairState } from './margin';
import { proposeFor } from './proposal';
import { runs } from '../test/runs';

interface Made {
  readonly code?: string;
  readonly quantity?: Quantity;
  readonly input?: string;
  readonly pickupA?: number;
  readonly assuredA?: number;
  readonly cornersA?: readonly number[];
  at(currentA: number): number | Band;
}

/** A device of functions that are made up. */
const device = (...made: Made[]): Curves => ({
  device: { inputs: [{ id: 'ct' }] } as unknown as Device,
  functions: made.map(
    ({ code = '51', quantity = 'phase', input = 'ct', pickupA = 1, assuredA = pickupA, cornersA = [pickupA], at }) =>
      ({
        fn: {},
        code,
        quantity,
        input,
        pickupA,
        assuredA,
        cornersA,
        accuracy: { share: 0, fixedS: 0, overshootS: 0 },
        clears: false,
        at(currentA: number) {
          if (currentA < pickupA) return { earliestS: Infinity, latestS: Infinity };
          const time = at(currentA);
          return typeof time === 'number' ? { earliestS: time, latestS: time } : time;
        },
      }) as unknown as TimeCurrent,
  ),
});
const seen = (phaseA: number, residualA = 0, negativeA = 0) => ({ ct: { phaseA, residualA, negativeA } });
const state = (downA: number, upA = downA, more: Partial<PairState> = {}): PairState => ({
  kind: '3ph',
  condition: maximumSources.id,
  downstream: seen(downA),
  upstream: seen(upA),
  ...more,
});

describe('the decisive point, where the valley is known', () => {
  // The margin is 0.4 + (ln(I/I0))²: least, 0.4 s, at I0, which is on no grid.
  const valley = (at: number) => ({
    below: device({ pickupA: 10, at: () => 0.1 }),
    above: device({ pickupA: 10, at: (currentA: number) => 0.5 + Math.log(currentA / at) ** 2 }),
  });

  it('is found to nine digits wherever it lies between two bends', () => {
    fc.assert(
      fc.property(fc.double({ min: 11, max: 950, noNaN: true }), (at) => {
        const { below, above } = valley(at);
        const found = decisiveIn(state(1000), below, above, 'phase')!;
        expect(found.marginS).toBeCloseTo(0.4, 9);
        expect((found.scale * 1000) / at).toBeCloseTo(1, 4);
        expect(found.downstreamA).toBe(1000 * found.scale);
        expect([found.downstreamS, found.upstreamS]).toEqual([0.1, expect.closeTo(0.5, 9)]);
      }),
      { seed: 21, numRuns: runs(100) },
    );
  });
  it('of two valleys the deeper one decides, and each bend begins a walk of its own', () => {
    const two = (currentA: number) =>
      currentA < 100 ? 0.5 + Math.log(currentA / 40) ** 2 : 0.45 + 5 * Math.log(currentA / 600) ** 2;
    const found = decisiveIn(
      state(1000),
      device({ pickupA: 10, at: () => 0.1 }),
      device({ pickupA: 10, cornersA: [10, 100], at: two }),
      'phase',
    )!;
    expect(found.marginS).toBeCloseTo(0.35, 9);
    expect(found.downstreamA).toBeCloseTo(600, 2);
  });
  it('a falling margin is least at the full current, a rising one where the later of them is sure to operate', () => {
    const falling = device({ pickupA: 10, at: (currentA) => 1000 / currentA });
    const full = decisiveIn(state(1000), device({ pickupA: 10, at: () => 0.1 }), falling, 'phase')!;
    expect([full.scale, full.marginS]).toEqual([1, expect.closeTo(0.9, 12)]);
    const rising = device({ pickupA: 20, assuredA: 26, cornersA: [20, 26], at: (currentA) => currentA / 1000 });
    const least = decisiveIn(state(1000), device({ pickupA: 10, at: () => 0.001 }), rising, 'phase')!;
    expect(least.upstreamA).toBeCloseTo(26, 6);
    expect(least.upstreamA).toBeGreaterThan(26);
  });
  it('just beyond a step the new time counts, just below it the old one', () => {
    const step = device({ pickupA: 10, cornersA: [10, 200], at: (currentA) => (currentA <= 200 ? 2 : 0.3) });
    const found = decisiveIn(state(1000), device({ pickupA: 10, at: (i) => 0.15 + 10 / i }), step, 'phase')!;
    expect(found.downstreamA).toBeGreaterThan(200);
    expect(found.downstreamA).toBeLessThan(200.001);
    expect(found.marginS).toBeCloseTo(0.1, 6);
    // A step that lies beyond the full current is never reached.
    expect(
      decisiveIn(state(150), device({ pickupA: 10, at: (i) => 0.15 + 10 / i }), step, 'phase')!.marginS,
    ).toBeCloseTo(0.85, 6);
  });
  it('takes the latest operation below and the earliest above, each of the quickest function', () => {
    const below = device(
      { code: '51', at: () => ({ earliestS: 0.1, latestS: 0.4 }) },
      { code: '50', at: () => ({ earliestS: 0.05, latestS: 0.5 }) },
    );
    const above = device(
      { code: '51', at: () => ({ earliestS: 0.9, latestS: 1.4 }) },
      { code: '50', at: () => ({ earliestS: 0.8, latestS: 2.4 }) },
      { code: '50N', quantity: 'residual', at: () => 0 },
    );
    const found = decisiveIn(state(100), below, above, 'phase')!;
    expect(found).toMatchObject({ downstreamBy: '51', upstreamBy: '50', downstreamS: 0.4, upstreamS: 0.8 });
    expect(found.marginS).toBeCloseTo(0.4, 12);
  });
  it('currents keep their proportion: each device stands at its own', () => {
    const found = decisiveIn(
      state(1000, 250),
      device({ pickupA: 10, at: () => 0.1 }),
      device({ pickupA: 10, at: (currentA) => 0.5 + Math.log(currentA / 100) ** 2 }),
      'phase',
    )!;
    expect(found.upstreamA).toBeCloseTo(100, 2);
    expect(found.downstreamA).toBeCloseTo(400, 1);
  });
  it('none where one never operates; of a device without inputs no current stands on the chart', () => {
    const quick = device({ at: () => 0.1 });
    expect(decisiveIn(state(100), quick, device({ pickupA: 200, at: () => 1 }), 'phase')).toBeNull();
    expect(decisiveIn(state(100), device({ pickupA: 200, at: () => 1 }), quick, 'phase')).toBeNull();
    const loose = { ...quick, device: { inputs: [] } as unknown as Device };
    expect(decisiveIn(state(100), loose, device({ at: (i) => 1 + 10 / i }), 'phase')).toMatchObject({
      downstreamA: 0,
      upstreamA: 100,
    });
  });
  it('of the residual current on an earth chart', () => {
    const earth = {
      kind: '1ph' as const,
      condition: maximumSources.id,
      downstream: seen(500, 400),
      upstream: seen(50, 40),
    };
    const found = decisiveIn(
      earth,
      device({ quantity: 'residual', at: () => 0.1 }),
      device({ quantity: 'residual', at: (i) => 0.5 + 1 / i }),
      'earth',
    )!;
    expect([found.downstreamA, found.upstreamA]).toEqual([400, 40]);
  });
});

describe('the upstream device alone', () => {
  const picks = (...pickupsA: number[]) => device(...pickupsA.map((pickupA) => ({ pickupA, at: () => 1 })));

  it('picks up first below the current at which the lower one begins', () => {
    expect(upstreamFirstBelow([state(1000)], picks(200), picks(100), 'phase')).toBeCloseTo(200, 9);
    expect(upstreamFirstBelow([state(1000)], picks(100), picks(100), 'phase')).toBeNull();
    expect(upstreamFirstBelow([state(1000)], picks(100), picks(200), 'phase')).toBeNull();
    // The most sensitive function of each begins.
    expect(upstreamFirstBelow([state(1000)], picks(900, 50), picks(60, 40), 'phase')).toBeCloseTo(50, 9);
    // A third of the current flows through the upper one.
    expect(upstreamFirstBelow([state(900, 300)], picks(200), picks(100), 'phase')).toBeNull();
    expect(upstreamFirstBelow([state(900, 300)], picks(400), picks(100), 'phase')).toBeCloseTo(400, 9);
  });
  it('over several states the largest such current; a lower one that never begins says nothing here', () => {
    const states = [state(1000), state(1000, 4000), state(500, 3000)];
    expect(upstreamFirstBelow(states, picks(200), picks(300), 'phase')).toBeCloseTo(200, 9);
    expect(upstreamFirstBelow([state(150, 1000)], picks(200), picks(100), 'phase')).toBeNull();
    expect(upstreamFirstBelow([state(200, 1000)], picks(200), picks(100), 'phase')).toBe(200);
    expect(upstreamFirstBelow([], picks(200), picks(100), 'phase')).toBeNull();
  });
});

const ctAt = (id: string, primaryA = 100) => newElement('currentTransformer', elementId(id), id, { primaryA });
const relayAt = (id: string, ct: string | null, list: readonly Partial<OvercurrentFunction>[]): Relay =>
  newElement('relay', elementId(id), id, {
    inputs: [currentInput(ct === null ? null : elementId(ct))],
    functions: list.map((over, k) => ({
      ...newFunction(elementId(`${id}-${k}`), over.code ?? '51', genericRelays[0].ranges, elementId('ct')),
      ...over,
    })),
  });
const definite = (pickup: number, delayS: number): Partial<OvercurrentFunction> => ({
  characteristic: 'definite',
  pickup,
  delayS,
});
const two = (down: readonly Partial<OvercurrentFunction>[], up: readonly Partial<OvercurrentFunction>[]): Network =>
  networkOf([
    { ...defaultSettings, wantedMarginS: 0.3, marginCounts: 'curves' },
    ctAt('a'),
    ctAt('b'),
    relayAt('down', 'a', down),
    relayAt('up', 'b', up),
  ]);
const pair: GradingPair = { downstream: elementId('down'), upstream: elementId('up'), wantedMarginS: 0.3 };

describe('the verdict', () => {
  const verdictOf = (network: Network, states: readonly PairState[], over: Partial<GradingPair> = {}) =>
    pairMargin(network, states, { ...pair, ...over }, 'phase');

  it('holds from the required margin on, to the last digit, and is short below', () => {
    const at = (delayS: number) => verdictOf(two([definite(1, 0.1)], [definite(1, delayS)]), [state(1000)]);
    expect(at(0.4)).toMatchObject({ verdict: 'holds', wantedS: 0.3, reason: '' });
    expect(at(0.39)).toMatchObject({ verdict: 'short', decisive: { marginS: expect.closeTo(0.29, 12) } });
    expect(at(0.4).upstreamFirstBelowA).toBeNull();
    expect(verdictOf(two([definite(2, 0.1)], [definite(1, 0.4)]), [state(1000)]).upstreamFirstBelowA).toBeCloseTo(
      200,
      9,
    );
  });
  it('of several states the one with the least margin decides', () => {
    const network = two([definite(1, 0.1)], [{ characteristic: 'iecA', pickup: 1, timeMultiplier: 0.3 }]);
    // The less of the current flows through the upper one, the slower it is.
    const [full, part] = [state(1000, 1000, { kind: '2ph' }), state(1000, 400)];
    const alone = verdictOf(network, [full]).decisive!.marginS;
    expect(verdictOf(network, [part]).decisive!.marginS).toBeGreaterThan(alone);
    for (const states of [
      [full, part],
      [part, full],
    ])
      expect(verdictOf(network, states).decisive).toMatchObject({ kind: '2ph', marginS: alone });
  });
  it('takes the margin of the project where the pair has none of its own', () => {
    const network = two([definite(1, 0.1)], [definite(1, 0.4)]);
    expect(verdictOf(network, [state(1000)], { wantedMarginS: null }).wantedS).toBe(0.3);
    expect(verdictOf(network, [state(1000)], { wantedMarginS: 0.31 }).verdict).toBe('short');
  });
  it('without a decisive point says in words why', () => {
    const network = two([definite(1, 0.1)], [definite(5, 0.4)]);
    const gone = verdictOf(network, [state(1000)], { upstream: elementId('nobody') });
    expect(gone).toMatchObject({ verdict: 'unknown', decisive: null, reason: expect.stringContaining('not exist') });
    expect(verdictOf(network, [state(1000)], { downstream: elementId('nobody') }).verdict).toBe('unknown');
    expect(verdictOf(network, [])).toMatchObject({
      verdict: 'unknown',
      reason: expect.stringContaining('no fault current'),
    });
    const loose = withElements(network, [relayAt('up', null, [definite(5, 0.4)])]);
    expect(verdictOf(loose, [state(1000)]).reason).toBe('up measures at no current transformer');
    expect(verdictOf(withElements(network, [relayAt('down', null, [definite(1, 0.1)])]), []).reason).toBe(
      'down measures at no current transformer',
    );
    expect(verdictOf(network, [state(90, 1000)])).toMatchObject({
      verdict: 'blind',
      reason: 'down: no pickup for close-in faults',
    });
    expect(verdictOf(network, [state(1000, 400)])).toMatchObject({
      verdict: 'noBackup',
      reason: 'up: no pickup for faults beyond down',
    });
    // Each operates in one of the states, both in none.
    expect(verdictOf(network, [state(1000, 100), state(50, 1000)])).toMatchObject({
      verdict: 'noBackup',
      reason: 'no common pickup range',
    });
  });
});

describe('the proposal', () => {
  it('is the least settable time with which the pair holds', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.05, max: 0.4, noNaN: true }),
        fc.double({ min: 200, max: 4000, noNaN: true }),
        fc.constantFrom('iecA', 'iecB', 'iecC', 'definite' as const),
        (timeMultiplier, currentA, characteristic) => {
          const network = two(
            [{ characteristic: 'iecA', pickup: 1, timeMultiplier }],
            [
              {
                characteristic: characteristic as OvercurrentFunction['characteristic'],
                pickup: 1.5,
                timeMultiplier: 0.05,
                delayS: 0,
              },
            ],
          );
          const states = [state(currentA)];
          const proposal = proposeFor(network, states, pair, 'phase');
          const before = pairMargin(network, states, pair, 'phase');
          if (before.verdict !== 'short') expect(proposal).toBeNull();
          if (!proposal) return;
          const up = find(network, 'relay', elementId('up'))!;
          const [fn] = up.functions as OvercurrentFunction[];
          const judged = (value: number) => {
            const changed = withFunction(up, { ...fn, [proposal.field]: value } as OvercurrentFunction);
            return pairMargin(network, states, pair, 'phase', new Map([[changed.id, changed]])).verdict;
          };
          expect(judged(proposal.to)).toBe('holds');
          expect(judged(proposal.to - 0.01 - 1e-9)).toBe('short');
          expect(proposal).toMatchObject({ device: 'up', functionId: 'up-0', from: fn[proposal.field as 'delayS'] });
        },
      ),
      { seed: 5, numRuns: runs(60) },
    );
  });
  it('sets the function that decides, of two with one number the quicker', () => {
    const up = [definite(1, 0.5), definite(1, 0.2), { ...definite(1, 0.3), code: '50' as const }];
    const network = two([definite(1, 0.1)], up);
    expect(proposeFor(network, [state(1000)], { ...pair, wantedMarginS: 0.15 }, 'phase')).toMatchObject({
      functionId: 'up-1',
      to: 0.25,
      title: 'Delay',
      unit: 's',
    });
    // The high-set one decides then, and alone cannot mend what the other leaves short.
    const high = two([definite(1, 0.1)], [definite(1, 0.9), { ...definite(1, 0.2), code: '50' as const }]);
    expect(proposeFor(high, [state(1000)], pair, 'phase')).toMatchObject({ functionId: 'up-1', to: 0.4 });
    expect(proposeFor(network, [state(1000)], pair, 'phase')).toBeNull();
  });
  it('works on settings that are not stored yet', () => {
    const network = two([definite(1, 0.1)], [definite(1, 0.9)]);
    const edited = relayAt('up', 'b', [definite(1, 0.2)]);
    expect(proposeFor(network, [state(1000)], pair, 'phase')).toBeNull();
    expect(proposeFor(network, [state(1000)], pair, 'phase', new Map([[edited.id, edited]]))).toMatchObject({
      from: 0.2,
      to: 0.4,
    });
  });
  it('none where nothing is short, a device is gone, or the range ends before', () => {
    const short = two([definite(1, 0.1)], [definite(1, 0.2)]);
    expect(proposeFor(short, [state(1000)], { ...pair, upstream: elementId('nobody') }, 'phase')).toBeNull();
    expect(proposeFor(short, [state(1000, 50)], pair, 'phase')).toBeNull();
    expect(proposeFor(short, [], pair, 'phase')).toBeNull();
    const ranges = { ...genericRelays[0].ranges, delayS: { min: 0, max: 0.35, step: 0.05 } };
    expect(
      proposeFor(two([definite(1, 0.1)], [{ ...definite(1, 0.2), ranges }]), [state(1000)], pair, 'phase'),
    ).toBeNull();
    const wide = { ...ranges, delayS: { min: 0, max: 0.4, step: 0.05 } };
    expect(
      proposeFor(two([definite(1, 0.1)], [{ ...definite(1, 0.2), ranges: wide }]), [state(1000)], pair, 'phase'),
    ).toMatchObject({
      to: 0.4,
    });
    // Steps of 0.15 s from 0: 0.3 is too little, 0.45 the next.
    const coarse = { ...ranges, delayS: { min: 0, max: 3, step: 0.15 } };
    expect(
      proposeFor(two([definite(1, 0.1)], [{ ...definite(1, 0.15), ranges: coarse }]), [state(1000)], pair, 'phase'),
    ).toMatchObject({
      to: 0.45,
    });
  });
  it('finds the state that decided by its kind and condition', () => {
    const network = two(
      [{ characteristic: 'iecA', pickup: 1, timeMultiplier: 0.1 }],
      [definite(1, 0.2), definite(3, 0.1)],
    );
    const states = [
      state(4000, 250, { condition: minimumSources.id }),
      state(4000, 4000, { kind: '2ph' }),
      state(4000, 250),
    ];
    const proposal = proposeFor(network, states, { ...pair, wantedMarginS: 0.05 }, 'phase');
    const { decisive } = pairMargin(network, states, { ...pair, wantedMarginS: 0.05 }, 'phase');
    expect(decisive!.kind).toBe('2ph');
    // Both functions are a 51; at the current of the state that decides the one with 0.1 s is quicker.
    expect(proposal === null || proposal.functionId === 'up-1').toBe(true);
  });
});

describe('figures', () => {
  const island = demoNetwork();
  const studies = new Studies(island);
  const { conditions } = studies;
  const at = (id: string) => deviceOf(island, elementId(id))!;

  it('of each chart the kinds of fault in which its quantity flows', () => {
    expect(kindsFor('phase')).toEqual(['3ph', '2ph']);
    expect(kindsFor('earth')).toEqual(['1ph', '2phE']);
    expect(kindsFor('negative')).toEqual(['2ph', '2phE', '1ph']);
  });
  it('are the largest close in and the smallest at the far end of all that each condition gives alone', () => {
    for (const id of ['bra-q32-relay', 'bra-q21-relay', 'fer-q31-relay']) {
      const all = deviceFigures(studies, at(id), conditions);
      const alone = conditions.map((condition) => deviceFigures(new Studies(island), at(id), [condition]));
      const size = ({ kind, seen: { phaseA, residualA } }: (typeof all.closeIn)[number]) =>
        (kind === '1ph' || kind === '2phE') && residualA > nothingA ? residualA : phaseA;
      const same = (p: (typeof all.closeIn)[number], q: (typeof all.closeIn)[number]) =>
        p.kind === q.kind && p.place === q.place;
      for (const figure of all.closeIn) {
        const sizes = alone.flatMap(({ closeIn }) => closeIn.filter((each) => same(each, figure)).map(size));
        expect(size(figure)).toBeCloseTo(Math.max(...sizes), 6);
      }
      for (const figure of all.farEnd) {
        const flowing = alone
          .flatMap(({ farEnd }) => farEnd.filter((each) => same(each, figure)).map(size))
          .filter((each) => each > nothingA);
        if (flowing.length > 0) expect(size(figure)).toBeCloseTo(Math.min(...flowing), 6);
      }
      // In the order of the kinds, three-phase first.
      const order = ['3ph', '2ph', '2phE', '1ph'];
      const places = all.closeIn.map(({ kind }) => order.indexOf(kind));
      expect(places).toEqual([...places].sort((p, q) => p - q));
      expect(places.length).toBeGreaterThan(2);
    }
  });
  it('a condition in which nothing flows decides nothing', () => {
    const dead: Condition = {
      ...maximumSources,
      id: elementId('dead'),
      name: 'Dead',
      out: ofKind(island, 'networkFeeder')
        .map(({ id }) => id)
        .concat(ofKind(island, 'asynchronousMotor').map(({ id }) => id)),
    };
    for (const order of [
      [dead, maximumSources],
      [maximumSources, dead],
    ]) {
      const withDead = deviceFigures(new Studies(withElements(island, [dead])), at('bra-q32-relay'), order);
      for (const {
        seen: { phaseA },
        condition,
      } of withDead.farEnd)
        if (phaseA > 1) expect(condition).toBe(maximumSources.id);
    }
  });
  it('none of a device without an input; none beyond a device that stands nowhere', () => {
    const loose = deviceFrom(island, relayAt('x', null, []))!;
    expect(deviceFigures(studies, loose, conditions)).toEqual({ closeIn: [], behind: [], farEnd: [], through: [] });
    const aside = withElements(island, [ctAt('far'), relayAt('x', 'far', [definite(1, 0.1)])]);
    expect(deviceFigures(new Studies(aside), deviceOf(aside, elementId('x'))!, conditions)).toEqual({
      closeIn: [],
      behind: [],
      farEnd: [],
      through: [],
    });
    expect(
      pairStates(new Studies(aside), deviceOf(aside, elementId('x'))!, at('bra-q32-relay'), 'phase', conditions),
    ).toEqual([]);
  });
  it('refer to a level by the ratios on the way, else by nominal voltages, else not at all', () => {
    const loose = deviceFrom(island, relayAt('x', null, []))!;
    expect(referenceFactor(studies, loose, 11)).toBeNull();
    // No bus of 400 kV stands anywhere.
    expect(referenceFactor(studies, at('bra-q32-relay'), 400)).toBeCloseTo(11 / 400, 12);
    const aside = withElements(island, [ctAt('far'), relayAt('x', 'far', [])]);
    expect(referenceFactor(new Studies(aside), deviceOf(aside, elementId('x'))!, 11)).toBeNull();
    // A bus of the level in another part tells nothing of the ratio.
    const bus = newElement('bus', elementId('lone'), 'Lone', { nominalKv: 66 });
    const alone = withElements(island, [bus]);
    expect(referenceFactor(new Studies(alone), deviceOf(alone, elementId('bra-q32-relay'))!, 66)).toBeCloseTo(
      11 / 66,
      12,
    );
  });
});
