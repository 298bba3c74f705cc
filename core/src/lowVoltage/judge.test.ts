/** What a circuit is held against, by hand: demand and coincidence, drops over feeders, laying in the enclosure, machines, devices that count and that do not. */
import { describe, expect, it } from 'vitest';
import {
  usualConsumer,
  usualInstallation,
  usualLaying,
  type Consumer,
  type Installation,
  type Laying,
} from '../model/circuit';
import { elementId as id } from '../model/fields';
import type { Network } from '../model/network';
import { currentInput, tripCircuit } from '../model/protection';
import { genericRelays, newFunction } from '../protection/overcurrent/library';
import { familyNamed } from '../protection/registry';
import type { DeviceFunction } from '../protection/schemas';
import { Studies } from '../studies/studies';
import { Builder } from '../test/network';
import { finished } from '../working/steps';
import { cableValues } from './cable';
import { judged, type Criterion, type Judgement } from './judge';
import { caseOfKey, circuitTable } from './study';

interface Made {
  readonly installation?: Partial<Installation>;
  readonly consumer?: Partial<Consumer>;
  readonly laying?: Partial<Laying>;
  readonly functions?: readonly DeviceFunction[];
  readonly section?: number;
  readonly metres?: number;
  readonly kva?: number;
  /** A relay with a second current input at the feeder of the load. */
  readonly relayInputs?: 1 | 2;
}

const mcb = (type: 'B' | 'C', ratedA: number, limitA2s: number | null = 40_000): DeviceFunction => ({
  ...familyNamed('miniature').fresh(id('m'), type, null),
  ratedA,
  limitA2s,
});
const gG = (linkA: number): DeviceFunction => ({ ...familyNamed('fuse').fresh(id('g'), 'gG', null), linkA });

/** Main board M, a feeder of 70 mm² and 80 m to S, on S a circuit Q–W–L and another load of 20 kVA. */
function network({
  installation = {},
  consumer = {},
  laying = {},
  functions = [mcb('C', 16)],
  section = 2.5,
  metres = 30,
  kva = 6,
  relayInputs,
}: Made = {}): Network {
  const b = new Builder();
  const level = (ikKa: number) => ({
    ...{ given: 'current' as const, skMva: null, ikKa, rOverX: 0.4, x0OverX1: 1, r0OverX0: 0.4 },
  });
  b.add('networkFeeder', 'N', { max: level(12), min: level(8) });
  const all = { ...usualInstallation, ...installation };
  b.add('bus', 'M', { nominalKv: 0.4, installation: all });
  b.add('switch', 'F', { type: 'fuse', ratedA: 160, breakingKa: 120, openingTimeS: null, functions: [gG(160)] });
  b.add('line', 'T', { ...cableValues('Cu', 'XLPE', 70)!, lengthKm: 0.08, laying: { ...usualLaying, method: 'E' } });
  b.add('bus', 'S', { nominalKv: 0.4, installation: all });
  const isFuse = functions[0]?.family === 'fuse';
  b.add('switch', 'Q', {
    type: isFuse ? 'fuse' : 'breaker',
    ratedA: 16,
    breakingKa: 10,
    openingTimeS: isFuse ? null : 0.01,
    functions: [...functions],
  });
  b.add('line', 'W', {
    ...cableValues('Cu', 'PVC', section)!,
    lengthKm: metres / 1000,
    laying: { ...usualLaying, ...laying },
  });
  const circuit = { ...usualConsumer, ...consumer };
  b.add('load', 'L', { ratedMva: kva / 1000, powerFactor: 0.8, circuit });
  b.add('switch', 'P', { ratedA: 40, breakingKa: 10, functions: [mcb('C', 40)] });
  b.add('load', 'O', { ratedMva: 0.02, powerFactor: 0.8 });
  b.join('N', 'M', 'M', 'F:0', 'F:1', 'T:0', 'T:1', 'S', 'S', 'Q:0');
  if (relayInputs) {
    b.add('currentTransformer', 'CT', { primaryA: 16, secondaryA: 1 });
    b.add('currentTransformer', 'CT2', { primaryA: 16, secondaryA: 1 });
    b.join('Q:1', 'CT:0', 'CT:1', 'W:0');
    const [first, second] = [currentInput(id('CT')), { ...currentInput(id('CT2')), id: id('second') }];
    const at50 = { ...newFunction(id('r50'), '50', genericRelays[0].ranges), pickup: 2, delayS: 0, input: first.id };
    b.add('relay', 'R', {
      inputs: relayInputs === 1 ? [first] : [first, second],
      circuits: [tripCircuit([id('Q')])],
      functions: [at50],
    });
  } else b.join('Q:1', 'W:0');
  b.join('W:1', 'L', 'S', 'P:0', 'P:1', 'O');
  return b.network();
}

const found = (made: Made = {}, key = 'Q'): Judgement => {
  const studies = new Studies(network(made));
  return judged(caseOfKey(studies, studies.conditions, id(key))!);
};
const check = (of: Judgement, criterion: Criterion) => of.checks.find((each) => each.criterion === criterion);

describe('demand', () => {
  it('of a consumer is its share, of a feeder the sum by its board’s coincidence', () => {
    const ampere = (kva: number) => (1000 * kva) / (Math.sqrt(3) * 400);
    expect(found().designA).toBeCloseTo(ampere(6), 9);
    expect(found({ consumer: { demandPercent: 50 } }).designA).toBeCloseTo(ampere(3), 9);
    expect(found({}, 'F').designA).toBeCloseTo(ampere(26), 9);
    expect(found({ installation: { coincidencePercent: 60 } }, 'F').designA).toBeCloseTo(0.6 * ampere(26), 9);
  });
  it('of one phase stands in that phase alone, and the board tells how far they are apart', () => {
    const made = { consumer: { phases: 'L2' as const }, kva: 2 };
    const one = found(made);
    expect(one.phasesA[0]).toBe(0);
    expect(one.phasesA[1]).toBeCloseTo(2000 / (400 / Math.sqrt(3)), 9);
    const studies = new Studies(network(made));
    const { boards } = finished(circuitTable(studies, studies.conditions));
    const figures = boards.find(({ board }) => board === 'S')!;
    const own = 2000 / (400 / Math.sqrt(3));
    const other = 20_000 / (Math.sqrt(3) * 400);
    // 28.9 A in L1 and L3; both loads have the same power factor.
    expect(figures.phasesA[1]).toBeCloseTo(other + own, 9);
    expect(figures.unbalance).toBeCloseTo((own * (2 / 3)) / (other + own / 3), 9);
  });
});

describe('voltage drop', () => {
  it('counts from the first board: the feeder by what its board draws', () => {
    const of = found();
    // 70 mm² copper at 90 °C: 0.268·(1 + 0.00393·70)·0.08 = 0.02734 Ω; X 0.083·0.08 = 0.00664 Ω.
    const ib = 26_000 / (Math.sqrt(3) * 400);
    const feeder = (100 * ib * (0.268 * (1 + 0.00393 * 70) * 0.08 * 0.8 + 0.083 * 0.08 * 0.6)) / (400 / Math.sqrt(3));
    expect(of.upstreamPercent).toBeCloseTo(feeder, 1);
    expect(of.upstreamPercent).toBeGreaterThan(0.3);
    expect(check(of, 'drop')!.value).toBeCloseTo(of.upstreamPercent + of.ownPercent, 12);
    expect(found({ metres: 300 }).checks.find(({ criterion }) => criterion === 'drop')!.verdict).toBe('short');
  });
});

describe('what a cable carries', () => {
  it('is the less of both where it begins in an enclosure', () => {
    const outside = found().capacities[0];
    expect(outside).toMatchObject({ ampere: 24, isInside: false, method: 'C' });
    const inside = { insideMethod: 'B2' as const, insideC: 40, insideTogether: 6 };
    // Method B2 20 A, 40 °C 0.87, six bunched 0.57.
    expect(found({ laying: inside }).capacities[0]).toMatchObject({ method: 'B2', isInside: true });
    expect(found({ laying: inside }).capacities[0].ampere).toBeCloseTo(20 * 0.87 * 0.57, 9);
    const cool = { ...inside, insideC: 20, insideTogether: 1, together: 8 };
    expect(found({ laying: cool }).capacities[0].isInside).toBe(false);
  });
});

describe('disconnection', () => {
  it('may take 5 s at a machine where nothing is plugged in, and 0.4 s where something is', () => {
    expect(found().requiredS).toBe(0.4);
    expect(found({ installation: { rules: 'machine' } }).requiredS).toBe(5);
    expect(found({ installation: { rules: 'machine' }, consumer: { use: 'sockets' } }).requiredS).toBe(0.4);
    expect(found({}, 'F').requiredS).toBe(5);
    expect(found({ installation: { system: 'TT' } }, 'F').requiredS).toBe(1);
  });
  it('is by a relay that looks through the circuit’s own transformer, not by one that compares two', () => {
    const plain = { functions: [], metres: 200 };
    expect(found(plain).cleared!.timeS).toBe(Infinity);
    const own = found({ ...plain, relayInputs: 1 });
    expect(own.cleared!.by!.device).toBe('R');
    expect(own.cleared!.timeS).toBeLessThan(0.4);
    expect(found({ ...plain, relayInputs: 2 }).cleared!.timeS).toBe(Infinity);
  });
  it('is short without any device, and says so', () => {
    const bare = found({ functions: [] });
    expect(check(bare, 'disconnection')).toMatchObject({ verdict: 'short', why: 'noDevice' });
    expect(check(bare, 'overload')).toMatchObject({ verdict: 'short', why: 'noOverload' });
    expect(check(bare, 'heat')).toMatchObject({ why: 'noDevice' });
  });
});

describe('heat', () => {
  it('of currents that end only after 5 s is left to overload protection', () => {
    // A link of 63 A at the end of 250 m: the smallest current is ended after more than 5 s, the largest at once.
    const far = found({ functions: [gG(63)], section: 16, metres: 250, kva: 20 });
    const smallest = far.endEarth!.ampere;
    const borne = (115 * 16) ** 2;
    expect(far.cleared!.timeS).toBeGreaterThan(5);
    expect(smallest ** 2 * far.cleared!.timeS).toBeGreaterThan(check(far, 'heat')!.value!);
    expect(check(far, 'heat')).toMatchObject({ verdict: 'holds', limit: borne });
  });
  it('is by the data sheet where there is one, doubtful by the bound of the standard where that is too much', () => {
    const known = check(found({ functions: [mcb('C', 16, 40_000)] }), 'heat')!;
    expect(known).toMatchObject({ verdict: 'holds', value: 40_000, limit: (115 * 2.5) ** 2 });
    expect(check(found({ functions: [mcb('C', 16, 100_000)] }), 'heat')).toMatchObject({ verdict: 'short' });
    const unknown = check(found({ functions: [mcb('C', 16, null)] }), 'heat')!;
    expect(unknown).toMatchObject({ verdict: 'doubtful', why: 'boundOfStandard' });
    expect(unknown.value).toBeGreaterThan(1e5);
    // What is not known does not count as nearest to its limit before what is known.
    expect(found({ functions: [mcb('C', 16, null)] }).verdict).toBe('doubtful');
  });
});
