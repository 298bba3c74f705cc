/** Proposals: minimal, lasting when taken, leaving what was chosen; lengths; residual-current devices. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { sections } from '../circuits/ampacity';
import { usualConsumer, usualInstallation, usualLaying, type Installation, type Laying } from '../model/circuit';
import { settingsId, type ElementOf } from '../model/element';
import { elementId as id } from '../model/fields';
import { find, withElements, type Network } from '../model/network';
import { familyNamed } from '../protection/registry';
import { Studies } from '../studies/studies';
import { Builder } from '../test/network';
import { circuitNetwork, circuitReferences } from '../test/circuit';
import { cableValues, withLength, withSectionOf } from './cable';
import { judged, withCable, type Criterion } from './judge';
import { mainOf } from './case';
import { longest, missed, proposedFor } from './propose';
import { caseOfKey } from './study';

interface Wanted {
  readonly kw?: number;
  readonly metres?: number;
  readonly section?: number;
  readonly device?: 'gG' | 'C';
  readonly ratedA?: number;
  readonly ikKa?: number;
  readonly installation?: Partial<Installation>;
  readonly laying?: Partial<Laying>;
  readonly sockets?: boolean;
  readonly motor?: boolean;
  readonly startS?: number;
}

/** A board of a given prospective current with one circuit. */
function board({
  kw = 5.5,
  metres = 60,
  section = 2.5,
  device = 'gG',
  ratedA = 25,
  ikKa = 9.2,
  installation = {},
  laying = {},
  sockets = false,
  motor = true,
  startS = 2,
}: Wanted = {}): Network {
  const b = new Builder();
  const level = (kA: number, rOverX: number) => ({
    ...{ given: 'current' as const, skMva: null, ikKa: kA, rOverX, x0OverX1: 1, r0OverX0: rOverX },
  });
  b.add('networkFeeder', 'N', { max: level(ikKa, 0.5), min: level(ikKa * 0.65, 0.6) });
  b.add('bus', 'B', { nominalKv: 0.4, installation: { ...usualInstallation, ...installation } });
  b.add('switch', 'Q', {
    type: device === 'gG' ? 'fuse' : 'breaker',
    ratedA,
    breakingKa: device === 'gG' ? 120 : ikKa > 6 ? 10 : 6,
    openingTimeS: null,
    functions: [
      device === 'gG'
        ? { ...familyNamed('fuse').fresh(id('f'), 'gG', null), linkA: ratedA }
        : { ...familyNamed('miniature').fresh(id('f'), 'C', null), ratedA },
    ],
  });
  b.add('line', 'W', {
    ...cableValues('Cu', 'PVC', section)!,
    lengthKm: metres / 1000,
    laying: { ...usualLaying, ...laying },
  });
  const circuit = { ...usualConsumer, startS, use: sockets ? ('sockets' as const) : ('fixed' as const) };
  if (motor)
    b.add('asynchronousMotor', 'M', {
      ...{ ratedMw: kw / 1000, ratedKv: 0.4, efficiencyPercent: 89.6, powerFactor: 0.83, startingRatio: 6.5, circuit },
    });
  else b.add('load', 'M', { ratedMva: kw / 1000, powerFactor: 1, circuit });
  b.join('N', 'B', 'B', 'Q:0', 'Q:1', 'W:0', 'W:1', 'M');
  return b.network();
}

const caseIn = (network: Network, key = 'Q') => {
  const studies = new Studies(network);
  return caseOfKey(studies, studies.conditions, id(key))!;
};
const all = { section: true, device: true };
const without = (list: readonly Criterion[], ...gone: Criterion[]) => list.filter((each) => !gone.includes(each));

describe('a motor of 5.5 kW over 60 m', () => {
  it('is cut off too late by 25 A with 2.5 mm², by hand 148 A where 192 A are needed', () => {
    const found = judged(caseIn(board()));
    // R of both conductors hot: 2·7.41·0.06·1.56 = 1.387 Ω; 0.9·400/√3/1.41 Ω = 148 A.
    expect(found.endEarth!.ampere).toBeGreaterThan(145);
    expect(found.endEarth!.ampere).toBeLessThan(150);
    expect(found.operatingA).toBeCloseTo(191.7, 0);
    expect(found.requiredS).toBe(0.4);
    expect(missed(found)).toEqual(['overload', 'disconnection']);
    expect(found.binding).toBe('disconnection');
  });
  it('is proposed a section and a device that meet 0.4 s, and the reasons', () => {
    const network = board();
    const { options, longestM } = proposedFor(network, caseIn(network), all);
    const [best] = options;
    // A link of 16 A would cut off in time with 2.5 mm², but may melt while the motor starts.
    expect(best).toMatchObject({ sectionMm2: 4, device: 'gG 25 A', left: [] });
    expect(best.smallerMisses).toEqual({ sectionMm2: 2.5, criteria: ['overload', 'disconnection'] });
    expect(best.deviceMisses).toEqual({ device: 'gG 20 A', criteria: ['start'] });
    expect(best.judgement.timeS!).toBeLessThanOrEqual(0.4);
    // With 25 A no more than 46 m.
    expect(longestM).toBeGreaterThan(45.5);
    expect(longestM).toBeLessThan(46.8);
    const taken = judged(caseIn(withElements(network, best.elements)));
    expect(taken.verdict).toBe('holds');
    expect(taken.cleared!.timeS).toBeCloseTo(best.judgement.timeS!, 9);
  });
  it('with the device as it is gets more copper, with the cable as it is another device', () => {
    const network = board({ startS: 0.2 });
    const copper = proposedFor(network, caseIn(network), { section: true, device: false }).options;
    expect(copper).toHaveLength(1);
    expect(copper[0]).toMatchObject({ sectionMm2: 4, device: null });
    expect(copper[0].elements.map(({ id: each }) => each)).toEqual(['W']);
    const device = proposedFor(network, caseIn(network), { section: false, device: true }).options;
    expect(device[0]).toMatchObject({ sectionMm2: null, device: 'gG 16 A' });
    expect(device[0].elements.map(({ id: each }) => each)).toEqual(['Q']);
  });
  it('chooses what a breaker breaks where nobody has said it, and leaves it where somebody has', () => {
    const network = board({ device: 'C', ratedA: 32, motor: false, kw: 5, metres: 20 });
    const q = find(network, 'switch', id('Q'))!;
    const open = withElements(network, [{ ...q, breakingKa: null, functions: [] }]);
    const [best] = proposedFor(open, caseIn(open), all).options;
    // 9.2 kA at the board.
    expect(best.device).toMatch(/^[BC]\d+, 10 kA$/);
    expect(best.elements.find((each) => each.id === 'Q')).toMatchObject({ breakingKa: 10, ratedA: 8 });
    expect(judged(caseIn(withElements(open, best.elements))).verdict).toBe('holds');
    expect(proposedFor(network, caseIn(network), all).options[0].device).toMatch(/^[BC]\d+$/);
  });
  it('may trip while the motor starts where its band begins before and ends after the start; surely, where it ends before', () => {
    const start = (startS: number) =>
      judged(caseIn(board({ ratedA: 16, startS }))).checks.find(({ criterion }) => criterion === 'start');
    expect(start(0.1)).toMatchObject({ verdict: 'holds' });
    expect(start(2)).toMatchObject({ verdict: 'doubtful', why: 'mayTrip' });
    expect(start(30)).toMatchObject({ verdict: 'short' });
  });
  it('keeps a device that the project has locked', () => {
    const network = board();
    const settings = network.elements.get(settingsId) as ElementOf<'projectSettings'>;
    const locked = withElements(network, [{ ...settings, lockedDevices: [id('Q')] }]);
    expect(proposedFor(locked, caseIn(locked), all).options[0]).toMatchObject({ sectionMm2: 4, device: null });
  });
  it('miniature breakers: the type that lets it start; the limit of the class goes with it', () => {
    const network = board({ device: 'C', ratedA: 20 });
    const [best] = proposedFor(network, caseIn(network), all).options;
    // 69 A at start are 2.2 times 32 A: no earlier than after 2 s (IEC 60898-1, table 7).
    expect(best.device).toMatch(/^[BCD]32$/);
    const q = best.elements.find(({ id: each }) => each === 'Q') as ElementOf<'switch'> | undefined;
    const fn = (q ?? find(network, 'switch', id('Q'))!).functions[0];
    expect(fn).toMatchObject({ family: 'miniature' });
    expect(best.left).toEqual([]);
  });
});

describe('residual-current devices', () => {
  it('are offered where the loop alone asks for more copper', () => {
    const installation = { dropPercent: 20 };
    const network = board({ device: 'C', ratedA: 16, metres: 300, kw: 8, motor: false, ikKa: 5, installation });
    const [copper, guarded] = proposedFor(network, caseIn(network), all).options;
    expect(copper.smallerMisses!.criteria).toEqual(['disconnection']);
    expect(guarded.residualA).toBe(0.3);
    expect(guarded.sectionMm2!).toBeLessThan(copper.sectionMm2!);
    const taken = judged(caseIn(withElements(network, guarded.elements)));
    expect(taken.verdict).toBe('holds');
    expect(taken.cleared!.timeS).toBe(0.04);
  });
  it('TT: nothing else cuts off; the largest that the electrode allows, sockets 30 mA', () => {
    const installation = { system: 'TT' as const, raOhm: 200, rbOhm: 5 };
    const network = board({ device: 'C', ratedA: 16, kw: 2, motor: false, metres: 20, installation });
    expect(missed(judged(caseIn(network)))).toContain('disconnection');
    const { options } = proposedFor(network, caseIn(network), all);
    expect(options).toHaveLength(1);
    // 200 Ω · 0.3 A would be 60 V.
    expect(options[0].residualA).toBe(0.1);
    const sockets = board({ device: 'C', ratedA: 16, kw: 2, motor: false, metres: 20, installation, sockets: true });
    expect(proposedFor(sockets, caseIn(sockets), all).options[0].residualA).toBe(0.03);
    const far = judged(caseIn(withElements(sockets, proposedFor(sockets, caseIn(sockets), all).options[0].elements)));
    expect(far.requiredS).toBe(0.2);
    expect(far.checks.find(({ criterion }) => criterion === 'touch')).toMatchObject({ verdict: 'holds', value: 6 });
  });
});

const wanted = fc.record({
  kw: fc.double({ min: 0.5, max: 12, noNaN: true }),
  metres: fc.double({ min: 5, max: 250, noNaN: true }),
  device: fc.constantFrom('gG' as const, 'C' as const),
  ratedA: fc.constantFrom(16, 20, 25, 32),
  ikKa: fc.double({ min: 1, max: 9.5, noNaN: true }),
  motor: fc.boolean(),
  sockets: fc.boolean(),
  laying: fc.record({
    method: fc.constantFrom('A2', 'B2', 'C', 'D1', 'E'),
    ambientC: fc.integer({ min: 10, max: 50 }),
    together: fc.integer({ min: 1, max: 6 }),
    bunching: fc.constant('bunched' as const),
  }),
});

describe('properties', () => {
  it('a proposal meets everything when taken, and one section less does not', () => {
    fc.assert(
      fc.property(wanted as fc.Arbitrary<Wanted>, (given) => {
        const network = board(given);
        const stored = caseIn(network);
        const { options } = proposedFor(network, stored, all);
        for (const option of options) {
          const taken = caseIn(withElements(network, option.elements));
          const found = judged(taken);
          expect(without(missed(found), 'breaking')).toEqual(without(option.left, 'breaking'));
          expect(found.checks.filter(({ verdict }) => verdict === 'short').map(({ criterion }) => criterion)).toEqual(
            [],
          );
          const k = sections.indexOf(option.sectionMm2!);
          if (k > 0) {
            const less = withSectionOf(taken.cables[0].cable, sections[k - 1])!;
            const worse = judged(withCable(taken, 0, less)).checks.filter(
              ({ criterion, verdict }) => verdict === 'short' && criterion !== 'breaking',
            );
            expect(worse.map(({ criterion }) => criterion)).toEqual(option.smallerMisses!.criteria);
            expect(worse.length).toBeGreaterThan(0);
          }
        }
      }),
      { numRuns: 60 },
    );
  });
  it('what a case tries with other values is what the engine then finds', () => {
    fc.assert(
      fc.property(wanted as fc.Arbitrary<Wanted>, fc.constantFrom(...sections.slice(0, 12)), (given, section) => {
        const stored = caseIn(board(given));
        const tried = judged(withCable(stored, 0, withSectionOf(stored.cables[0].cable, section)!));
        const real = judged(caseIn(board({ ...given, section })));
        expect(tried.endEarth!.ampere / real.endEarth!.ampere).toBeCloseTo(1, 5);
        expect(tried.endShort!.ampere / real.endShort!.ampere).toBeCloseTo(1, 6);
        expect(tried.endMax!.ampere / real.endMax!.ampere).toBeCloseTo(1, 6);
        expect(tried.ownPercent / real.ownPercent).toBeCloseTo(1, 6);
        expect(tried.capacities[0].ampere).toBe(real.capacities[0].ampere);
      }),
      { numRuns: 60 },
    );
  });
  it('a longer cable never raises the smallest current, nor lowers the drop', () => {
    fc.assert(
      fc.property(wanted as fc.Arbitrary<Wanted>, fc.double({ min: 1.01, max: 5, noNaN: true }), (given, times) => {
        const stored = caseIn(board(given));
        const { cable } = stored.cables[0];
        const [near, far] = [stored, withCable(stored, 0, withLength(cable, times * cable.lengthM))].map(judged);
        expect(far.endEarth!.ampere).toBeLessThan(near.endEarth!.ampere);
        expect(far.endShort!.ampere).toBeLessThan(near.endShort!.ampere);
        expect(far.ownPercent).toBeGreaterThan(near.ownPercent);
      }),
      { numRuns: 60 },
    );
  });
  it('the longest cable holds by what depends on its length, a tenth of a metre more does not', () => {
    fc.assert(
      fc.property(wanted as fc.Arbitrary<Wanted>, (given) => {
        const stored = caseIn(board({ ...given, section: 6 }));
        const metres = longest(stored);
        if (!metres || metres > 19_000) return;
        const byLength = new Set<Criterion>(['drop', 'startDrop', 'disconnection', 'heat', 'heatPe']);
        const shortAt = (length: number) =>
          judged(withCable(stored, 0, withLength(stored.cables[0].cable, length))).checks.filter(
            ({ criterion, verdict }) => byLength.has(criterion) && verdict === 'short',
          ).length;
        expect(shortAt(metres)).toBe(0);
        expect(shortAt(metres + 0.11)).toBeGreaterThan(0);
      }),
      { numRuns: 60 },
    );
  });
});

describe('worked circuits', () => {
  it.each(
    circuitReferences
      .filter(({ inputs, expected }) => inputs.upstream.length === 0 && typeof expected.smallestSectionMm2 === 'number')
      // Parallel cables are judged as one section there; 70 °C is no end of a fault of the tables.
      .filter(({ inputs }) => inputs.cable.parallel === 1 && inputs.cable.minPhaseC >= 160)
      // Without data of what the breaker lets through, heat is doubtful here and not met there.
      .filter(({ id: each }) => each !== 'circ-42')
      .map((each) => [each.id, each] as const),
  )('%s: the smallest section with its device', (_, reference) => {
    const network = circuitNetwork(reference);
    const { options } = proposedFor(network, caseIn(network), { section: true, device: false });
    expect(options[0].sectionMm2).toBe(reference.expected.smallestSectionMm2);
    expect(mainOf(caseIn(network))).toBe(0);
  });
});
