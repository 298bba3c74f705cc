import { describe, expect, it } from 'vitest';
import { newElement, type PlaceableKind } from '../model/defaults';
import { elementSchema, type Element } from '../model/element';
import { elementId } from '../model/fields';
import { libraryKinds } from '../model/library';
import { find, networkOf, validateNetwork } from '../model/network';
import { Studies } from '../studies/studies';
import { demoNetwork } from '../test/demo';
import type { DistanceFunction } from '../protection/distance/schema';
import { findings } from '../checks/run';
import type { LibraryEntry } from './entry';
import { demandsAt, fitsOf } from './fit';
import { shippedLibrary } from './shipped';
import { relayMisfits, relayTypeData, relayTypeFrom, relayTypeOf, storedRanges } from './relayType';
import { entriesFor, entryFrom, entryNamed, overridesOf, secondaryIn, withEntry } from './use';

const network = demoNetwork();
const studies = new Studies(network);
const id = elementId;

describe('the library that ships', () => {
  it('has several hundred types of every kind, each with an identifier, a title and a source of its own', () => {
    expect(shippedLibrary.length).toBeGreaterThan(300);
    expect(new Set(shippedLibrary.map((entry) => entry.id)).size).toBe(shippedLibrary.length);
    expect(new Set(shippedLibrary.map((entry) => entry.title)).size).toBe(shippedLibrary.length);
    expect(new Set(shippedLibrary.map((entry) => entry.for))).toEqual(new Set(libraryKinds));
    for (const { source, title } of shippedLibrary) expect([title, source.length > 5]).toEqual([title, true]);
  });
  it('gives elements that their schemas take, without anything assumed of what the type says', () => {
    for (const entry of shippedLibrary) {
      const element = newElement(entry.for as PlaceableKind, id('x'), 'X', {
        assumed: Object.keys(entry.data),
      } as never);
      const made = withEntry(element as Element, entry);
      expect([entry.id, made === null]).toEqual([entry.id, false]);
      expect(elementSchema.parse(made)).toEqual(made);
      expect(made).toMatchObject({ name: 'X', entry: entry.id });
      expect('assumed' in made!).toBe(false);
      expect(overridesOf(made!, entry)).toEqual([]);
    }
  });
  it('resistance falls and capacity rises with the section; uk and losses go with the rating', () => {
    const byTitle = (pattern: RegExp) =>
      shippedLibrary.filter(({ title }) => pattern.test(title)).map(({ data }) => data);
    const cables = byTitle(/^XLPE cable 11 kV.*Al$/);
    for (let k = 1; k < cables.length; k++) {
      expect(cables[k].r1OhmPerKm as number).toBeLessThan(cables[k - 1].r1OhmPerKm as number);
      expect(cables[k].x1OhmPerKm as number).toBeLessThanOrEqual(cables[k - 1].x1OhmPerKm as number);
      expect(cables[k].ratedA as number).toBeGreaterThan(cables[k - 1].ratedA as number);
    }
    const overhead = byTitle(/^Overhead line to 33 kV/);
    expect(overhead.length).toBe(8);
    for (let k = 1; k < overhead.length; k++)
      expect(overhead[k].x1OhmPerKm as number).toBeLessThan(overhead[k - 1].x1OhmPerKm as number);
    // 95 mm², 13.6 mm thick, phases 1.5 m apart: 0.0628·ln(1.5/0.00551) and 17.48/ln(1.5/0.0068).
    expect(byTitle(/33 kV, Al.St 95/)[0]).toMatchObject({ x1OhmPerKm: 0.352, b1UsPerKm: 3.24, r0OhmPerKm: 0.454 });
    expect(byTitle(/^1.6 MVA, 11/)[0]).toMatchObject({ ukPercent: 6, vectorGroup: 'Dyn11' });
    for (const { ukPercent, uRPercent } of byTitle(/MVA|kVA/).filter((data) => 'uRPercent' in data))
      expect(uRPercent as number).toBeLessThan(ukPercent as number);
  });
});

describe('elements of a type', () => {
  const entry = entryNamed(network, 'lib-cb-12-1250-25')!;
  const breaker = find(network, 'switch', id('bra-q21'))!;
  it('take its values and keep their own place, name and position', () => {
    const made = withEntry(breaker, entry)!;
    expect(made).toMatchObject({ id: breaker.id, closed: breaker.closed, x: breaker.x, ratedA: 1250, breakingKa: 25 });
    expect(overridesOf({ ...made, breakingKa: 31.5 }, entry)).toEqual([{ path: 'breakingKa', ofType: 25, here: 31.5 }]);
    expect(withEntry(find(network, 'line', id('fer-pen'))!, entry)).toBeNull();
  });
  it('can be made from an element, stored in the project, and found before those that ship', () => {
    const line = find(network, 'line', id('fer-pen'))!;
    const own = entryFrom(line, id('own-1'), 'Our 33 kV line');
    const stored = networkOf([...network.elements.values(), elementSchema.parse(own)]);
    expect(validateNetwork(stored)).toEqual([]);
    const [first] = entriesFor(stored, 'line');
    expect(first).toMatchObject({ id: 'own-1', own: true, title: 'Our 33 kV line' });
    expect(first.data).not.toHaveProperty('lengthKm');
    const other = find(network, 'line', id('pen-ske'))!;
    expect(withEntry(other, first)).toMatchObject({
      r1OhmPerKm: line.r1OhmPerKm,
      lengthKm: other.lengthKm,
      name: other.name,
    });
    expect(entryNamed(stored, 'nowhere')).toBeUndefined();
  });
});

describe('what fits at a place', () => {
  const place = demandsAt(studies, studies.conditions, id('bra-q21'))!;
  const verdict = (entry: LibraryEntry) => fitsOf(entry, place).map(({ what, fits }) => [what, fits]);
  const named = (key: string) => entryNamed(network, `lib-${key}`)!;
  it('the level, the current of what hangs on the run, and the largest fault over all conditions', () => {
    expect(place.nominalKv[0]).toBe(11);
    expect(place.service).toMatchObject({ of: 'BRA T1', ampere: expect.closeTo(12500 / Math.sqrt(3) / 11.5, 6) });
    expect(place.fault!.condition).toBe('maximum');
    // Through the breaker: what the rest of the board feeds into its transformer, not the 15 kA of the board.
    expect(place.fault!.kA).toBeGreaterThan(9);
    expect(place.fault!.kA).toBeLessThan(11);
  });
  it('voltage, service current and fault current, each with the next size that would do', () => {
    expect(verdict(named('cb-12-1250-25'))).toEqual([
      ['voltage', true],
      ['service current', true],
      ['fault current', true],
      ['peak current', true],
      ['short-time current', true],
    ]);
    // What flows through three times as much: the making current and the heat over 3 s, too.
    const { faults, frequencyHz } = place.withstands!;
    const thrice = faults.map((each) => ({ ...each, ikA: 3 * each.ikA, ipA: 3 * each.ipA }));
    const strong = fitsOf(named('cb-12-1250-25'), { ...place, withstands: { faults: thrice, frequencyHz } });
    expect(strong.slice(3).map(({ fits, next }) => [fits, next])).toEqual([
      [false, '78.75 kA'],
      [false, '31.5 kA'],
    ]);
    const small = fitsOf(named('cb-7.2-630-16'), { ...place, fault: { kA: 17, condition: id('maximum') } });
    expect(small.slice(0, 3).map(({ what, fits, next }) => [what, fits, next])).toEqual([
      ['voltage', false, '12 kV'],
      ['service current', true, null],
      ['fault current', false, '20 kA'],
    ]);
    expect(fitsOf(named('lv-630-70'), place)[1]).toMatchObject({ what: 'service current', fits: true });
    expect(fitsOf(named('lv-400-50'), place)[1]).toMatchObject({ fits: false, next: '630 A' });
    expect(verdict(named('cb-145-1250-25'))).toContainEqual(['voltage', false]);
  });
  it('of transformers at both ends, of instrument transformers on the run', () => {
    const t1 = demandsAt(studies, studies.conditions, id('bra-t1'))!;
    expect(fitsOf(named('tr-12500-33-11.5'), t1).map(({ fits }) => fits)).toEqual([true, true]);
    expect(fitsOf(named('tr-25000-132-34.5'), t1).map(({ fits }) => fits)).toEqual([false, false]);
    const ct = demandsAt(studies, studies.conditions, id('bra-ct21'))!;
    expect(fitsOf(named('ct-500-1-5p20'), ct)).toMatchObject([{ fits: false, next: '750 A' }]);
    expect(fitsOf(named('ct-800-1-5p20'), ct)).toMatchObject([{ fits: true, next: null }]);
    expect(demandsAt(studies, studies.conditions, id('nowhere'))).toBeNull();
  });
  it('asks of a switch of a low-voltage circuit what the circuit draws', () => {
    const network = demoNetwork();
    const studies = new Studies(network);
    // 9 kW at 0.92 and 400 V.
    const { service } = demandsAt(studies, studies.conditions, elementId('bra-f86'))!;
    expect(service!.of).toBe('Air handling');
    expect(service!.ampere).toBeCloseTo(9000 / (Math.sqrt(3) * 400 * 0.92), 6);
  });
  it('of boards: peak and short-time current for the duration of the type, as a hand reckons them', () => {
    const bra = demandsAt(studies, studies.conditions, id('bra-11-a'))!;
    const { faults, frequencyHz } = bra.withstands!;
    // Each condition with a three-phase and a single-phase fault, all of which have a result there.
    expect(faults.length).toBe(2 * studies.conditions.length);
    const ip = Math.max(...faults.map(({ ipA }) => ipA)) / 1000;
    const heat = ({ ikA, kappa }: { ikA: number; kappa: number }, tk: number) => {
      const rate = 2 * frequencyHz * tk * Math.log(kappa - 1);
      return (ikA * Math.sqrt((Math.exp(2 * rate) - 1) / rate + 1)) / 1000;
    };
    const ith = Math.max(...faults.map((fault) => heat(fault, 3)));
    const round = (value: number) => String(Number(value.toPrecision(4)));
    const [voltage, peak, thermal] = fitsOf(named('board-12-1250-25'), bra);
    expect(voltage).toMatchObject({ what: 'voltage', fits: true });
    expect(peak).toMatchObject({ what: 'peak current', fits: 62.5 >= ip });
    expect(peak.message).toBe(`peak withstand 62.5 kA, ip ${round(ip)} kA`);
    expect(thermal.message).toBe(`short-time withstand 25 kA for 3 s, Ith ${round(ith)} kA`);
    const strong = {
      ...bra,
      withstands: { frequencyHz, faults: faults.map((f) => ({ ...f, ikA: 3 * f.ikA, ipA: 3 * f.ipA })) },
    };
    expect(fitsOf(named('board-12-1250-16'), strong).map(({ what, fits }) => [what, fits])).toEqual([
      ['voltage', true],
      ['peak current', false],
      ['short-time current', false],
    ]);
    expect(fitsOf(named('board-7.2-1250-16'), bra)[0]).toMatchObject({ fits: false, next: '12 kV' });
    const made = withEntry(find(network, 'bus', id('bra-11-a'))!, named('board-12-1250-25'))!;
    expect(made).toMatchObject({
      nominalKv: 11,
      ratedKv: 12,
      ratedA: 1250,
      shortTimeKa: 25,
      shortTimeS: 3,
      peakKa: 62.5,
    });
  });
  it('a breaker below the voltage of its network is a finding', () => {
    const low = withEntry(find(network, 'switch', id('bra-q21'))!, named('cb-7.2-1250-25'))!;
    const wrong = networkOf([...network.elements.values()].map((element) => (element.id === low.id ? low : element)));
    expect(findings(new Studies(wrong)).find(({ code }) => code === 'voltage.rated')).toMatchObject({
      severity: 'error',
      message: "BRA Q21: rated voltage 7.2 kV is below the network's 11 kV",
    });
  });
});

describe('types of relay', () => {
  const relay = find(network, 'relay', id('bra-q21-relay'))!;
  const numerical = entryNamed(network, 'lib-relay-numerical')!;
  const inSecondary = entryNamed(network, 'lib-relay-numerical-secondary')!;
  const secondaryOf = secondaryIn(network, relay);

  it('bring functions with ranges, and come back the same from a relay of theirs', () => {
    for (const entry of entriesFor(network, 'relay')) {
      const type = relayTypeOf(entry)!;
      expect([entry.id, type.functions.size > 0 || type.distance !== null]).toEqual([entry.id, true]);
      expect(relayTypeData(type)).toEqual(entry.data);
    }
    const made = withEntry(relay, numerical)!;
    const own = relayTypeFrom(made);
    for (const [code, ranges] of own.functions) expect(ranges).toEqual(relayTypeOf(numerical)!.functions.get(code));
    expect(entryFrom(made, id('own'), 'Ours').data).toEqual(relayTypeData(own));
  });
  it('leave every setting as it is, whatever the type takes', () => {
    for (const entry of entriesFor(network, 'relay')) {
      const made = withEntry(relay, entry, secondaryOf)!;
      const set = (functions: typeof made.functions) => functions.map((fn) => ({ ...fn, ranges: null }));
      expect(set(made.functions)).toEqual(set(relay.functions));
      expect(made).toMatchObject({ device: entry.title, entry: entry.id, inputs: relay.inputs });
      expect(overridesOf(made, entry, secondaryOf)).toEqual([]);
    }
  });
  it('that state secondary amperes are stored in multiples of the rated current', () => {
    const panel = relayTypeOf(inSecondary)!.functions.get('51')!;
    const [one, five] = [storedRanges('secondary', panel, 1), storedRanges('secondary', panel, 5)];
    expect(one.pickup).toEqual(panel.pickup);
    expect(five.pickup).toEqual({ min: 0.02, max: 3.2, step: 0.002 });
    expect(five.delayS).toEqual(panel.delayS);
    const made = withEntry(relay, inSecondary, () => 5)!;
    const first = made.functions[0] as { ranges: { pickup: { max: number } } };
    expect(first.ranges.pickup.max).toBe(3.2);
    // The same ranges are no longer those of the type behind a CT of 1 A.
    expect(overridesOf(made, inSecondary, () => 1).map(({ path }) => path)).toContain('51 pickup max');
  });
  it('say which parts of distance protection they have', () => {
    const [full, circles] = ['lib-relay-distance-numerical', 'lib-relay-distance-static'].map((name) =>
      entryNamed(network, name)!,
    );
    const far = find(network, 'relay', id('fer-q03-relay'))!;
    expect(relayMisfits(far, full, () => 1)).toEqual([]);
    expect(relayMisfits(far, numerical, () => 1)).toEqual(['has no function 21']);
    const told = relayMisfits(far, circles, () => 1);
    expect(told).toContain('21 has no quadrilateral');
    expect(told).toContain('21 zone 1 reach, earth 7.06 Ω: takes 0.2 to 60 in steps of 0.1');
    const fn = far.functions[0] as DistanceFunction;
    const more: DistanceFunction = {
      ...fn,
      characteristic: 'mho',
      compensation: 'apart',
      starting: { by: 'underimpedance', pickup: 1, reachOhm: 20, endForwardS: null, endS: null },
      voltageFailure: { pickup: 1, delayS: 1 },
      zones: [...fn.zones, { ...fn.zones[0], name: '4' }, { ...fn.zones[0], name: 'overreach' }],
    };
    expect(relayMisfits({ ...far, functions: [more] }, circles, () => 1)).toEqual(
      expect.arrayContaining([
        '21 has no RE/RL and XE/XL',
        '21 has no zone 4',
        '21 has no overreaching zone',
        '21 has no starting by underimpedance',
        '21 has no overcurrent without voltage',
      ]),
    );
    // A type brings its steps, and a relay as it stands can become a type.
    const stepped = withEntry(far, circles, () => 1)!;
    expect((stepped.functions[0] as DistanceFunction).ranges.ohm.step).toBe(0.1);
    expect(relayTypeOf({ ...full, data: relayTypeData(relayTypeFrom(far)) })!.distance).toMatchObject({
      characteristics: ['quadrilateral'],
      zones: 3,
      overreach: false,
    });
    expect(relayTypeOf({ ...full, data: { ...full.data, '21': { zones: 0 } } })).toBeNull();
  });
  it('say what they lack and what they do not take', () => {
    const disc = entryNamed(network, 'lib-relay-disc')!;
    expect(relayMisfits(relay, numerical, secondaryOf)).toEqual([]);
    const [first, ...rest] = relay.functions;
    const odd = { ...relay, functions: [{ ...first, enabled: true, pickup: 1.13 } as typeof first, ...rest] };
    const told = relayMisfits(odd, disc, secondaryOf);
    expect(told).toContain('51 pickup 1.13 × In: takes 0.5 to 2 in steps of 0.25');
    const fifty = { ...first, id: id('f50'), code: '50', enabled: true } as never;
    expect(relayMisfits({ ...relay, functions: [fifty] }, disc, secondaryOf)).toEqual(['has no function 50']);
    expect(
      relayMisfits({ ...relay, functions: [{ ...(fifty as object), enabled: false } as never] }, disc, secondaryOf),
    ).toEqual([]);
    const demands = demandsAt(studies, studies.conditions, relay.id)!;
    expect(fitsOf(numerical, demands)).toMatchObject([{ what: 'functions', fits: true }]);
    expect(fitsOf(disc, { ...demands, relay: { ...demands.relay!, element: odd } }).some(({ fits }) => !fits)).toBe(
      true,
    );
  });
  it('are none without a panel, a function or a whole range', () => {
    const broken: readonly LibraryEntry['data'][] = [
      {},
      { panel: 'rated' },
      { panel: 'dial', '51': numerical.data['51'] },
      { panel: 'rated', '51': { 'pickup min': 1 } },
    ];
    for (const data of broken) {
      expect(relayTypeOf({ ...numerical, data })).toBeNull();
      expect(withEntry(relay, { ...numerical, data })).toBeNull();
    }
  });
});
