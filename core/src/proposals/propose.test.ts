/** Proposals on the demo: what rules ask holds or is told as a conflict, whatever the order; accepted, they change nothing. */
import { describe, expect, it } from 'vitest';
import { Checker } from '../checks/run';
import { originRule } from '../checks/settings/origin';
import { pairMargin } from '../grading/margin';
import { askedPairs, networkPairs, statesAsked } from '../grading/network';
import { elementId, type ElementId } from '../model/fields';
import { find, networkOf, settingsOf, withElements, type Network } from '../model/network';
import type { Rulebook } from '../model/rulebook';
import { deviceFrom, devicesOf, timeCurrents, withFunction } from '../protection/device';
import { familyOf } from '../protection/registry';
import { isSettable } from '../protection/settings/range';
import type { OvercurrentFunction } from '../protection/overcurrent/schema';
import { plainPractice } from '../rules/plainPractice';
import { Studies } from '../studies/studies';
import { demoNetwork } from '../test/demo';
import { figuresFor } from './figures';
import { accepted, originOf, originState, overridden } from './origin';
import { propose } from './propose';
import { strategies, widerS, type Proposal, type ProposeOptions } from './proposal';
import { pathOf } from './scope';

const id = elementId;
const demo = demoNetwork();
/** The two deliberate faults of the demo put right: a turned CT is no matter of settings. */
const turned = find(demo, 'relay', id('bra-q02-relay'))!;
const network = withElements(demo, [
  { ...turned, inputs: turned.inputs.map((each) => ({ ...each, reversed: false })) },
]);
const usual: ProposeOptions = { devices: null, strategy: 'fastest', includeAssumed: false };
const proposed = (on: Network, over: Partial<ProposeOptions> = {}): Proposal => {
  const studies = new Studies(on);
  const steps = propose(studies, studies.conditions, { ...usual, ...over });
  let last = 0;
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
    expect(step.value).toBeGreaterThanOrEqual(last - 1e-9);
    expect(step.value).toBeLessThanOrEqual(1);
    last = step.value;
  }
};
const taken = (on: Network, { values, elements, book }: Proposal): Network =>
  withElements(
    on,
    elements.map((changed) =>
      accepted(
        devicesOf(on).find((device) => device.id === changed.id)!.element,
        values.filter(({ device }) => device === changed.id),
        book,
        '2026-11-30',
      ),
    ),
  );
const pairsOf = (on: Network) => {
  const studies = new Studies(on);
  const steps = networkPairs(studies, studies.conditions);
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
};
const changed = ({ values }: Proposal) => values.filter(({ from, to }) => from !== to);
const valueOf = ({ values }: Proposal, device: string, code: string, field: string) =>
  values.find((each) => each.device === device && each.code === code && each.field === field)!;

const whole = Object.fromEntries(strategies.map((strategy) => [strategy, proposed(network, { strategy })]));

describe('a proposal for the whole network', () => {
  it.each(strategies)('%s: once taken, every pair holds or is told as a conflict', (strategy) => {
    const proposal = whole[strategy];
    const short = pairsOf(taken(network, proposal)).filter(
      ({ margin, ruling }) => margin.verdict === 'short' && ruling?.graded !== false,
    );
    const told = new Set(
      proposal.conflicts.flatMap(({ given }) =>
        given.pair ? [`${given.pair.downstream} ${given.pair.upstream}`] : [],
      ),
    );
    for (const { downstream, upstream } of short) expect(told).toContain(`${downstream.id} ${upstream.id}`);
    if (strategy !== 'widest') expect(proposal.measures.pairsShort).toBe(short.length);
  });
  it.each(strategies)('%s: taken and asked for again, it changes nothing', (strategy) => {
    const again = proposed(taken(network, whole[strategy]), { strategy });
    expect(changed(again)).toEqual([]);
    expect(again.elements).toEqual([]);
    expect(again.conflicts.map(({ message }) => message)).toEqual(
      whole[strategy].conflicts.map(({ message }) => message),
    );
  });
  it('is the same whatever the order of the elements', () => {
    const turnedRound = networkOf([...network.elements.values()].reverse());
    const plain = ({ values, conflicts, measures }: Proposal) => ({
      values: values.map(({ device, functionId, field, to }) => `${device} ${functionId} ${field} ${String(to)}`),
      conflicts: conflicts.map(({ message }) => message),
      // Sums in another order round otherwise.
      measures: {
        ...measures,
        worstMarginS: measures.worstMarginS!.toFixed(9),
        slowestS: measures.slowestS!.toFixed(9),
      },
    });
    expect(plain(proposed(turnedRound))).toEqual(plain(whole.fastest));
  });
  it('lies on steps within the range of the device, and pickups between what rules ask', () => {
    for (const { device, functionId, field, to, by, primaryA } of whole.fastest.values) {
      if (typeof to === 'boolean') continue;
      const element =
        whole.fastest.elements.find((each) => each.id === device) ??
        devicesOf(network).find((each) => each.id === device)!.element;
      const fn = element.functions.find((each) => each.id === functionId)!;
      const setting = familyOf(fn)
        .settings(fn)
        .find((each) => each.field === field)!;
      if (setting.range) expect(isSettable(setting.range, to)).toBe(true);
      if (setting.sizes) expect(setting.sizes).toContain(to);
      if (primaryA === null || by.length !== 1 || by[0].rule?.subject === 'link') continue;
      if (by[0].sense === 'atLeast') expect(primaryA).toBeGreaterThanOrEqual(by[0].value * (1 - 1e-9));
      // No step below would do.
      if (by[0].sense === 'atLeast' && setting.range)
        expect(primaryA * (1 - setting.range.step / to)).toBeLessThan(by[0].value);
    }
  });
  it('says for every value which rule asked for it, of which figures, in which condition', () => {
    const pickup = valueOf(whole.fastest, 'fer-q33-relay', '51', 'pickup');
    expect(pickup.by[0]).toMatchObject({ title: 'Carries the load', sense: 'atLeast', unit: 'A' });
    const [load] = pickup.by[0].figures;
    expect(load.name).toBe('load');
    expect(pickup.by[0].value).toBeCloseTo(1.2 * load.value!, 6);
    expect(network.elements.has(load.condition!) || ['maximum', 'minimum'].includes(load.condition!)).toBe(true);
    const time = valueOf(whole.fastest, 'bra-q11-relay', '51', 'timeMultiplier');
    expect(time.by[0]).toMatchObject({ rule: { id: 'margin' }, pair: { upstream: 'bra-q11-relay' }, value: 0.3 });
  });
  it('touches least where it is asked to, and widens where it is asked to', () => {
    expect(changed(whole.least).length).toBeLessThan(changed(whole.fastest).length / 2);
    const widened = pairsOf(taken(network, whole.widest)).filter(
      ({ margin }) => margin.verdict === 'holds' && margin.decisive,
    );
    const wide = widened.filter(({ margin }) => margin.decisive!.marginS >= margin.wantedS + widerS - 1e-6);
    expect(wide.length).toBeGreaterThan(widened.length * 0.8);
  });
  it('puts a function without delay out of use where it would reach too far or never operate', () => {
    const bus = networkOf(network.elements.values());
    const relay = find(bus, 'relay', id('bra-q21-relay'))!;
    const [first] = relay.functions as OvercurrentFunction[];
    const quick: OvercurrentFunction = {
      ...first,
      id: id('q21-50'),
      code: '50',
      characteristic: 'definite',
      pickup: 10,
      delayS: 0.03,
    };
    const proposal = proposed(withElements(bus, [{ ...relay, functions: [...relay.functions, quick] }]), {
      devices: new Set([relay.id]),
    });
    const off = proposal.values.find(({ functionId }) => functionId === 'q21-50')!;
    expect(off).toMatchObject({ field: 'enabled', from: true, to: false });
    expect(off.by.map(({ rule }) => rule!.id)).toEqual(['instant-beyond', 'instant-reaches']);
  });
});

describe('a part of the network', () => {
  it('leaves everything else as it is, and what is locked or opens nothing', () => {
    const path = pathOf(new Studies(network), new Studies(network).conditions, id('bra-f41-relay'));
    expect([...path]).toEqual(
      expect.arrayContaining(['bra-f41-relay', 'bra-q32-relay', 'bra-q21-relay', 'bra-q11-relay']),
    );
    expect(path.has(id('pen-r1'))).toBe(false);
    const locked = withElements(network, [{ ...settingsOf(network), lockedDevices: [id('bra-q21-relay')] }]);
    const proposal = proposed(locked, { devices: path });
    const touched = new Set(proposal.values.map(({ device }) => device));
    for (const device of touched) expect(path.has(device)).toBe(true);
    expect(touched.has(id('bra-q21-relay'))).toBe(false);
    expect(proposal.leftOut).toContainEqual({ device: 'bra-q21-relay', deviceName: 'BRA Q21 relay', reason: 'locked' });
    // It is in the way of those below it, which is told.
    const inTheWay = proposal.conflicts.filter(({ given }) => given.pair?.upstream === 'bra-q21-relay');
    expect(inTheWay.length).toBeGreaterThan(0);
    for (const { kept, ways } of inTheWay)
      expect([kept.title, ways]).toEqual(['The upper device is left as it is', []]);
  });
  it('leaves out what leans on assumed data, unless it is asked for', () => {
    const line = find(network, 'transformer', id('bra-t1'))!;
    const guessed = withElements(network, [{ ...line, assumed: ['ukPercent'] }]);
    const without = proposed(guessed, { devices: new Set([id('bra-q11-relay')]) });
    expect(without.leftOut.map(({ reason }) => reason)).toEqual(['assumed data of BRA T1']);
    expect(without.values).toEqual([]);
    expect(proposed(guessed, { devices: new Set([id('bra-q11-relay')]), includeAssumed: true }).leftOut).toEqual([]);
  });
});

describe('what the figures lack', () => {
  it('is told: a load flow without a solution counts no load', () => {
    expect(whole.fastest.remarks).toEqual([]);
    const load = find(network, 'load', id('filter-hall'))!;
    const heavy = withElements(network, [{ ...load, ratedMva: 900 }]);
    const { remarks } = proposed(heavy, { devices: new Set([id('pen-q11-relay')]) });
    expect(remarks.length).toBeGreaterThan(0);
    expect(remarks[0]).toMatch(/: the load flow has no solution, no load of this condition is counted$/);
  });
});

describe('current transformers', () => {
  it('that do not carry the load are told with the next standard size', () => {
    expect(whole.fastest.ratios).toEqual([]);
    const ct = find(network, 'currentTransformer', id('fer-ct33'))!;
    const small = proposed(withElements(network, [{ ...ct, primaryA: 150 }]), {
      devices: new Set([id('fer-q33-relay')]),
    });
    const [ratio] = small.ratios;
    expect(ratio).toMatchObject({ ct: 'fer-ct33', from: 150, by: { rule: { id: 'ct-carries' } } });
    expect(ratio.to).toBeGreaterThanOrEqual(ratio.by.value);
    expect([250, 300]).toContain(ratio.to);
  });
});

describe('what cannot be met', () => {
  const book = (over: (rule: Rulebook['rules'][number]) => Partial<Rulebook['rules'][number]>): Network => {
    const own: Rulebook = {
      ...plainPractice,
      id: id('own-rules'),
      name: 'Own rules',
      rules: plainPractice.rules.map((rule) => ({ ...rule, ...over(rule) })),
    };
    return withElements(network, [own, { ...settingsOf(network), rulebook: own.id }]);
  };
  const one = { devices: new Set<ElementId>([id('fer-q33-relay')]) };
  it('is a conflict of two demands, and the more important one is kept', () => {
    // A load that no pickup below the smallest fault could carry.
    const asks = (sees: number) =>
      proposed(
        book(({ id: rule }) =>
          rule === 'carries-load' ? { formula: '40 * load' } : rule === 'sees-smallest' ? { importance: sees } : {},
        ),
        one,
      );
    const [seen] = asks(1).conflicts.filter(({ code }) => code === '51');
    expect(seen).toMatchObject({ kept: { rule: { id: 'sees-smallest' } }, given: { rule: { id: 'carries-load' } } });
    expect(seen.short).toBeGreaterThan(0);
    expect(seen.message).toContain('cannot be met together with');
    const pickup = valueOf(asks(1), 'fer-q33-relay', '51', 'pickup');
    expect(pickup.primaryA!).toBeLessThanOrEqual(seen.kept.value * (1 + 1e-9));
    const [carried] = asks(9).conflicts.filter(({ code }) => code === '51');
    expect(carried).toMatchObject({ kept: { rule: { id: 'carries-load' } }, given: { rule: { id: 'sees-smallest' } } });
    expect(valueOf(asks(9), 'fer-q33-relay', '51', 'pickup').primaryA!).toBeGreaterThanOrEqual(
      carried.kept.value * (1 - 1e-9),
    );
  });
  it('between two devices, offers other characteristics with which the pair would hold', () => {
    // Turned round, the relay is in the way of the other end.
    const proposal = proposed(demo);
    const after = taken(demo, proposal);
    const studies = new Studies(after);
    const offered = proposal.conflicts.filter(({ ways }) => ways.length > 0);
    expect(offered.length).toBeGreaterThan(0);
    for (const { given, ways } of offered)
      for (const { functionId, characteristic, field, value } of ways) {
        const upper = devicesOf(after).find(({ id: of }) => of === given.pair!.upstream)!;
        const fn = upper.functions.find((each) => each.id === functionId)!;
        const family = familyOf(fn);
        const tried = family.withSetting(family.withChoice!(fn, 'characteristic', characteristic), field, value);
        const asked = askedPairs(studies, studies.conditions).find(
          ({ pair, mode }) =>
            mode === 'phase' && pair.downstream === given.pair!.downstream && pair.upstream === upper.id,
        )!;
        const { states } = statesAsked(studies, studies.conditions, asked)!;
        const trials = new Map([[upper.id, withFunction(upper.element, tried)]]);
        expect(pairMargin(after, states, asked.pair, 'phase').verdict).toBe('short');
        expect(pairMargin(after, states, asked.pair, 'phase', trials).verdict).toBe('holds');
      }
  });
  it('beyond the range of the device, the range is kept', () => {
    const proposal = proposed(
      book(({ id: rule }) =>
        rule === 'carries-load'
          ? { formula: '1000 * load', importance: 1 }
          : rule === 'sees-smallest'
            ? { enabled: false }
            : {},
      ),
      one,
    );
    expect(proposal.conflicts[0]).toMatchObject({
      kept: { rule: null, title: 'Largest that the device can be set to' },
    });
    expect(valueOf(proposal, 'fer-q33-relay', '51', 'pickup').to).toBe(40);
  });
  it('margins of the rulebook count, also for checks', () => {
    const wide = book(({ id: rule }) => (rule === 'margin' ? { formula: 'max(projectMargin, 0.6 s)' } : {}));
    const own = pairsOf(wide).filter(
      ({ margin, charts }) => charts.length === 0 && margin.decisive && margin.wantedS > 0,
    );
    expect(own.length).toBeGreaterThan(5);
    for (const { margin } of own) expect(margin.wantedS).toBe(0.6);
    const broken = book(({ id: rule }) => (rule === 'margin' ? { formula: 'max(projectMargin, 0.6' } : {}));
    for (const { margin, charts } of pairsOf(broken).filter((each) => each.charts.length === 0))
      expect([charts.length, margin.wantedS]).toEqual([
        0,
        margin.decisive && margin.wantedS === 0 ? 0 : settingsOf(network).wantedMarginS,
      ]);
  });
});

describe('where a value came from', () => {
  const after = taken(network, whole.fastest);
  const relay = find(after, 'relay', id('fer-q33-relay'))!;
  const [fn] = relay.functions;
  it('stays with it: rule, figures, day; a value typed since is typed', () => {
    expect(originState(relay, fn, 'pickup')).toBe('proposed');
    const origin = originOf(fn, 'pickup')!;
    expect(origin).toMatchObject({
      book: 'Plain practice',
      on: '2026-11-30',
      rules: [{ id: 'carries-load' }],
      proposed: null,
    });
    const studies = new Studies(network);
    const figures = figuresFor(studies, studies.conditions, deviceFrom(network, relay)!, 'phase', true);
    expect(origin.figures).toMatchObject([{ name: 'load', value: figures.load.value }]);
    const typed = familyOf(fn).withSetting(fn, 'pickup', 0.9);
    expect(originOf(typed, 'pickup')).toBeNull();
    expect(originState(relay, typed, 'pickup')).toBe('typed');
    expect(originState({ ...relay, assumed: ['functions'] }, typed, 'pickup')).toBe('assumed');
  });
  it('is set against with a reason', () => {
    const own = overridden(relay, fn.id, 'pickup', 0.8, 'agreed with the network owner', '2026-12-01');
    const now = own.functions.find((each) => each.id === fn.id)!;
    expect(originState(own, now, 'pickup')).toBe('overridden');
    expect(originOf(now, 'pickup')).toMatchObject({
      value: 0.8,
      proposed: 0.61,
      reason: 'agreed with the network owner',
      rules: [{ id: 'carries-load' }],
    });
    expect(timeCurrents(deviceFrom(after, own)!)[0].pickupA).toBeCloseTo(0.8 * 400, 9);
  });
  it('is told when its figures have moved, and by how much', () => {
    const origin = originOf(fn, 'pickup')!;
    const before = { ...origin, figures: origin.figures.map((figure) => ({ ...figure, value: figure.value / 1.2 })) };
    const moved = withElements(after, [
      { ...relay, functions: [{ ...fn, origins: [before] }, ...relay.functions.slice(1)] },
    ]);
    const told = (on: Network) => movedOf(on).filter(({ subject }) => subject === relay.id);
    expect(told(after).every(({ verdict }) => verdict === 'holds')).toBe(true);
    const [one] = told(moved).filter(({ verdict }) => verdict === 'doubtful');
    expect(one.message).toMatch(
      /^FER Q33 relay, 51: proposed on 2026-11-30 from load 167\.\d A, now 200\.\d A \(\+20 %\)$/,
    );
  });
});

function movedOf(on: Network) {
  const studies = new Studies(on);
  const steps = new Checker([originRule]).run(studies);
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value.checks;
  }
}
