/** Proposals on the demo: what rules ask holds or is told as a conflict, whatever the order; accepted, they change nothing. */
import { describe, expect, it } from 'vitest';
import { rules as checkRules } from '../checks/rules';
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
import { rulesFor } from '../rules/book';
import { plainPractice } from '../rules/plainPractice';
import { Studies } from '../studies/studies';
import { demoNetwork } from '../test/demo';
import { figuresFor, kindsBehind, plantBehind } from './figures';
import { accepted, originOf, originState, overridden } from './origin';
import { propose } from './propose';
import { strategies, widerS, type Proposal, type ProposeOptions } from './proposal';
import { pathOf } from './scope';
import { subjectOf } from './slots';

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
      if (typeof to !== 'number') continue;
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
    const offered = proposal.conflicts.filter(({ ways }) => ways.some(({ kind }) => kind === 'characteristic'));
    expect(offered.length).toBeGreaterThan(0);
    for (const { given, ways } of offered)
      for (const way of ways) {
        if (way.kind !== 'characteristic') throw new Error(`${way.kind} between two devices`);
        const { functionId, characteristic, field, value } = way;
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
  it('is told where no size of a link lasts as long as is asked', () => {
    const link = { devices: new Set<ElementId>([id('pen-f1')]) };
    const asks = (at: string) =>
      proposed(
        book(({ id: rule }) => (rule === 'link-inrush' ? { at } : {})),
        link,
      );
    expect(asks('inrush').conflicts).toEqual([]);
    const conflict = asks('200 * inrush').conflicts.find(({ given }) => given.rule?.id === 'link-inrush')!;
    expect(conflict).toMatchObject({
      kept: { rule: null, title: 'Largest that the device can be set to' },
      given: { value: 0.1 },
    });
    const { to } = asks('200 * inrush').values.find(({ field }) => field === 'linkA')!;
    expect(conflict.short).toBeGreaterThan(0);
    expect(conflict.short).toBeLessThan(0.1);
    expect(to).toBeGreaterThan(100);
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

describe('functions that a device lacks', () => {
  const q11 = id('pen-q11-relay');
  const only = { devices: new Set<ElementId>([q11]) };
  it('are added where a rule asks for them, with their settings and the reasons', () => {
    const proposal = proposed(network, only);
    const added = proposal.values.find(({ field }) => field === 'function')!;
    expect(added).toMatchObject({ device: q11, code: '50', from: 'none', title: 'Function added' });
    expect(added.by.map(({ rule }) => rule!.id)).toEqual(['transformer-instant', 'instant-beyond']);
    const after = taken(network, proposal);
    const relay = find(after, 'relay', q11)!;
    const fn = relay.functions.find((each) => each.id === added.functionId) as OvercurrentFunction;
    const figures = figuresFor(
      new Studies(after),
      new Studies(after).conditions,
      deviceFrom(after, relay)!,
      'phase',
      true,
    );
    const [primary] = timeCurrents(deviceFrom(after, relay)!).filter(({ code }) => code === '50');
    expect(primary.pickupA).toBeGreaterThanOrEqual(1.3 * figures.throughFault.value!);
    expect(primary.pickupA).toBeLessThanOrEqual(figures.largestFault.value! / 1.2);
    expect(originOf(fn, 'pickup')).toMatchObject({ book: 'Plain practice', rules: [{ id: 'instant-beyond' }] });
    expect(changed(proposed(after, only))).toEqual([]);
    // One value alone takes nothing else along.
    const relayNow = find(network, 'relay', q11)!;
    const alone = accepted(relayNow, [added], 'Plain practice', '2026-11-30');
    expect(alone.functions.slice(0, -1)).toEqual(relayNow.functions);
    expect(alone.functions.at(-1)).toEqual(fn);
  });
  it('are not added where they would have no room, nor where somebody has put one out of use', () => {
    const relay = find(network, 'relay', q11)!;
    const own: Rulebook = {
      ...plainPractice,
      id: id('own-rules'),
      rules: plainPractice.rules.map((rule) =>
        rule.id === 'instant-beyond' ? { ...rule, formula: '9 * throughFault' } : rule,
      ),
    };
    const beyond = withElements(network, [own, { ...settingsOf(network), rulebook: own.id }]);
    const none = proposed(beyond, only);
    expect(none.values.filter(({ field }) => field === 'function')).toEqual([]);
    expect(
      none.elements
        .flatMap(({ functions }) => functions)
        .map(({ id: fn }) => fn)
        .sort(),
    ).toEqual(relay.functions.map(({ id: fn }) => fn).sort());
    const off = {
      ...(relay.functions[0] as OvercurrentFunction),
      id: id('q11-50'),
      code: '50' as const,
      delayS: 0,
      enabled: false,
    };
    const decided = withElements(network, [{ ...relay, functions: [...relay.functions, off] }]);
    expect(proposed(decided, only).values.filter(({ field }) => field === 'function')).toEqual([]);
  });
});

describe('directions', () => {
  const q21 = find(network, 'relay', id('bra-q21-relay'))!;
  const only = { devices: new Set<ElementId>([q21.id]) };
  /** The incomer of a board that another transformer feeds, too: with a voltage transformer on the board. */
  const vt = {
    ...find(network, 'voltageTransformer', id('bra-vt33'))!,
    id: id('bra-vt11'),
    name: 'BRA VT11',
    primaryKv: 11,
  };
  const wire = {
    ...find(network, 'connection', id('wire-38'))!,
    id: id('wire-vt11'),
    from: { element: id('bra-11-a'), terminal: 0, at: 40 },
    to: { element: vt.id, terminal: 0 },
  };
  const measured = {
    ...q21,
    inputs: [
      ...q21.inputs,
      { id: id('vt'), type: 'voltage' as const, element: vt.id, towards: 1 as const, reversed: false, star: null },
    ],
  };
  const withVt = withElements(network, [vt, wire, measured]);
  const seenBehind = (on: Network) => {
    const studies = new Studies(on);
    const device = deviceFrom(on, find(on, 'relay', q21.id)!)!;
    return figuresFor(studies, studies.conditions, device, 'phase', true);
  };
  it('are given where no pickup tells ahead from behind and a voltage is measured', () => {
    const proposal = proposed(withVt, only);
    const given = proposal.values.filter(({ field }) => field === 'direction');
    expect(given.map(({ code, title }) => [code, title])).toEqual([
      ['67', 'Direction'],
      ['67N', 'Direction'],
    ]);
    expect(proposal.conflicts.filter(({ message }) => message.includes('ahead from'))).toEqual([]);
    const after = taken(withVt, proposal);
    expect(changed(proposed(after, only))).toEqual([]);
    const { leastLead, mostLead, smallestFault } = seenBehind(after);
    const device = deviceFrom(after, find(after, 'relay', q21.id)!)!;
    const [fn] = device.functions as OvercurrentFunction[];
    expect(fn.direction!.characteristicAngleDeg).toBeGreaterThanOrEqual(mostLead.value! - 40);
    expect(fn.direction!.characteristicAngleDeg).toBeLessThanOrEqual(leastLead.value! + 40);
    expect(smallestFault.value!).toBeGreaterThan(timeCurrents(device)[0].pickupA);
    // What it was given it for: the check that the rule names has nothing to say any more.
    const verdicts = (on: Network) =>
      checksOf(on)
        .filter(({ subject, rule }) => subject === q21.id && rule === 'settings.direction')
        .map(({ verdict }) => verdict);
    expect(verdicts(withVt)).toContain('doubtful');
    expect(new Set(verdicts(after))).toEqual(new Set(['holds']));
  });
  it('are named as a conflict without a voltage transformer, and offered with one', () => {
    const proposal = proposed(network, only);
    expect(proposal.values.filter(({ field }) => field === 'direction')).toEqual([]);
    const told = proposal.conflicts.filter(({ given }) => given.rule?.bound === 'directed');
    expect(told.map(({ code }) => code)).toEqual(['51', '51N']);
    for (const { ways } of told) expect(ways.map(({ kind }) => kind)).toEqual(['direction']);
    const { backwardFault } = seenBehind(network);
    expect(told[0].given.value).toBeCloseTo(1.2 * backwardFault.value!, 6);
  });
  it('keep an angle that suits, and move one that does not to the nearest round one that does', () => {
    const q01 = find(network, 'relay', id('bra-q01-relay'))!;
    const at = (deg: number) =>
      withElements(network, [
        {
          ...q01,
          functions: q01.functions.map((fn) =>
            fn.family === 'overcurrent' && fn.code === '67'
              ? { ...fn, direction: { ...fn.direction!, characteristicAngleDeg: deg } }
              : fn,
          ),
        },
      ]);
    const angle = (deg: number) => {
      const { values } = proposed(at(deg), { devices: new Set([q01.id]) });
      const one = values.find(({ field }) => field === 'direction.characteristicAngleDeg');
      return one ? one.to : deg;
    };
    expect([angle(45), angle(-60), angle(90)]).toEqual([45, 5, 45]);
    // A polarity turned round is none that an angle makes up for.
    expect(proposed(demo, { devices: new Set([id('bra-q02-relay')]) }).values.map(({ field }) => field)).not.toContain(
      'direction.characteristicAngleDeg',
    );
  });
});

describe('ways out of a conflict of pickups', () => {
  const q33 = id('fer-q33-relay');
  const book = (
    over: (rule: Rulebook['rules'][number]) => Partial<Rulebook['rules'][number]>,
    on = network,
  ): Network => {
    const own: Rulebook = {
      ...plainPractice,
      id: id('own-rules'),
      rules: plainPractice.rules.map((rule) => ({ ...rule, ...over(rule) })),
    };
    return withElements(on, [own, { ...settingsOf(on), rulebook: own.id }]);
  };
  it('another current transformer, with which there is a pickup for both demands', () => {
    const ct = find(network, 'currentTransformer', id('fer-ct33'))!;
    const asks = (primaryA: number) =>
      proposed(
        book(
          ({ id: rule }) => (rule === 'carries-load' ? { formula: '4 * load' } : {}),
          withElements(network, [{ ...ct, primaryA }]),
        ),
        { devices: new Set([q33]) },
      );
    // 40 times 15 A is the largest pickup; half of 20 kA is more than the smallest fault.
    for (const [built, kept] of [
      [15, 'Largest that the device can be set to'],
      [20_000, 'Sees the smallest fault'],
    ] as const) {
      const [conflict] = asks(built).conflicts.filter(({ code }) => code === '51');
      expect(conflict.kept.title).toBe(kept);
      const [way] = conflict.ways;
      expect(way.kind).toBe('ratio');
      const { primaryA } = way as Extract<typeof way, { kind: 'ratio' }>;
      const better = asks(primaryA);
      expect(better.conflicts.filter(({ code }) => code === '51')).toEqual([]);
      expect(better.ratios).toEqual([]);
    }
  });
  it('restraint by voltage, where the voltage is low enough for the smallest fault', () => {
    const proposal = proposed(
      book(({ id: rule }) => (rule === 'carries-load' ? { formula: '8 * load' } : {})),
      { devices: new Set([q33]) },
    );
    const [conflict] = proposal.conflicts.filter(({ code }) => code === '51');
    const way = conflict.ways.find(({ kind }) => kind === 'voltage') as { value: number; words: string };
    expect(way.words).toMatch(
      /^51V of FER Q33 relay, restrained by voltage, pickup [\d.]+ × In, with a voltage transformer$/,
    );
    const load = figuresFor(
      new Studies(network),
      new Studies(network).conditions,
      deviceFrom(network, find(network, 'relay', q33)!)!,
      'phase',
      true,
    ).load.value!;
    expect(way.value * 400).toBeGreaterThanOrEqual(8 * load);
    // Too much of it is beyond what the voltage makes up for.
    const more = proposed(
      book(({ id: rule }) => (rule === 'carries-load' ? { formula: '60 * load' } : {})),
      { devices: new Set([q33]) },
    );
    expect(more.conflicts.filter(({ code }) => code === '51')[0].ways.map(({ kind }) => kind)).not.toContain('voltage');
  });
});

describe('what rules are watched by', () => {
  it.each(strategies)(
    '%s: once taken, the checks that the rules name hold, or it is told as a conflict',
    (strategy) => {
      const proposal = whole[strategy];
      const after = taken(network, proposal);
      const checks = checksOf(after);
      const told = new Set(
        proposal.conflicts.flatMap(({ device, given }) => [`${device} ${given.rule?.watchedBy ?? ''}`]),
      );
      const studies = new Studies(after);
      let looked = 0;
      for (const device of devicesOf(after).filter((each) =>
        proposal.values.some((value) => value.device === each.id),
      )) {
        const kinds = kindsBehind(plantBehind(studies, device));
        const rules = new Set(
          timeCurrents(device).flatMap((curve) => {
            const subject = subjectOf(curve);
            return subject ? rulesFor(plainPractice, subject, kinds).map(({ rule }) => rule.watchedBy) : [];
          }),
        );
        for (const { rule, verdict, message, subject } of checks) {
          if (subject !== device.id || !rules.has(rule) || told.has(`${device.id} ${rule}`)) continue;
          looked++;
          expect(verdict, message).toBe('holds');
        }
      }
      expect(looked).toBeGreaterThan(40);
    },
  );
  it('exist', () => {
    const known = new Set(checkRules.map(({ id: rule }) => rule));
    for (const { watchedBy } of plainPractice.rules) if (watchedBy !== '') expect(known).toContain(watchedBy);
  });
});

function checksOf(on: Network) {
  const steps = new Checker().run(new Studies(on));
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value.checks;
  }
}
