/** What flows through devices, and for how long. */
import { describe, expect, it } from 'vitest';
import { exactPeak } from '../faults/c37/factors';
import { peakFactor } from '../faults/iec60909/peak';
import { terminalPlace } from '../faults/iec60909/study';
import { genericRelays, newFunction } from '../protection/overcurrent/library';
import { elementId } from '../model/fields';
import { ofKind } from '../model/network';
import { currentInput, tripCircuit } from '../model/protection';
import { demoNetwork } from '../test/demo';
import { everyKind } from '../test/everyKind';
import { Builder } from '../test/network';
import { thinned } from '../test/runs';
import { Studies } from '../studies/studies';
import { americanDuties } from './american';
import { clearingOf } from './clearing';
import { endFaults, largestOf } from './ends';
import { breakingDuties, dutyFaults, totalOf } from './through';

const level = (ikKa: number, rOverX = 0.1) => ({
  given: 'current' as const,
  ikKa,
  skMva: null,
  rOverX,
  x0OverX1: 1,
  r0OverX0: 0.1,
});

/** A source, a breaker, a bus with a second source of another R/X behind a breaker of its own. */
function twoSources(settings: object = {}) {
  const b = new Builder(settings);
  for (const bus of ['A', 'B', 'C']) b.add('bus', bus, { nominalKv: 11 });
  b.add('networkFeeder', 'N1', { max: level(12, 0.05), min: level(8, 0.05) });
  b.add('networkFeeder', 'N2', { max: level(4, 0.5), min: level(3, 0.5) });
  b.add('switch', 'Q1', { breakingKa: 16 });
  b.add('switch', 'Q2', { breakingKa: 16 });
  b.join('N1', 'A', 'A', 'Q1:0', 'Q1:1', 'B', 'B', 'Q2:0', 'Q2:1', 'C', 'N2', 'C');
  return b.network();
}

describe('duty through a device', () => {
  it('is never above that of the place, for every breaker of random networks and the demo', () => {
    let compared = 0;
    for (const network of [demoNetwork(), ...thinned([1, 2, 3, 4, 5, 6]).map((seed) => everyKind(seed).network)]) {
      const studies = new Studies(network);
      for (const { id } of thinned([...ofKind(network, 'switch'), ...ofKind(network, 'currentTransformer')])) {
        const through = dutyFaults(studies, studies.conditions, id, 'through');
        const total = dutyFaults(studies, studies.conditions, id, 'total');
        expect(through).toHaveLength(total.length);
        through.forEach((each, k) => {
          expect(each.ikA).toBeLessThanOrEqual(total[k].ikA * (1 + 1e-9));
          expect(each.ipA).toBeLessThanOrEqual(total[k].ipA * (1 + 1e-9));
          expect(total[k].whole).toBe(true);
          compared++;
        });
        const [p, q] = [breakingDuties(through, 0.07), breakingDuties(total, 0.07)];
        if (p && q) {
          expect(p.symmetrical.ibA).toBeLessThanOrEqual(q.symmetrical.ibA * (1 + 1e-9));
          expect(totalOf(p.total)).toBeGreaterThanOrEqual(totalOf(p.symmetrical) * (1 - 1e-9));
        }
      }
    }
    expect(compared).toBeGreaterThan(500);
  });

  it('with one source behind is the closed form, with its own R/X', () => {
    const studies = new Studies(twoSources());
    const faults = dutyFaults(studies, [studies.conditions[0]], elementId('Q1'), 'through');
    // A fault on the far side draws what the near source gives, by its own R/X.
    const fromFirst = faults.find(({ side, kind }) => side === 1 && kind === '3ph')!;
    expect(fromFirst.ikA).toBeCloseTo(12000, 3);
    expect(fromFirst.rOverX).toBeCloseTo(0.05, 9);
    expect(fromFirst.ipA).toBeCloseTo(peakFactor(0.05) * Math.SQRT2 * 12000, 2);
    const fromSecond = faults.find(({ side, kind }) => side === 0 && kind === '3ph')!;
    expect(fromSecond.ikA).toBeCloseTo(4000, 3);
    expect(fromSecond.rOverX).toBeCloseTo(0.5, 9);
    expect(fromSecond.totalA).toBeGreaterThan(15_000);
    const whole = dutyFaults(studies, [studies.conditions[0]], elementId('Q1'), 'total');
    expect(whole.every(({ whole: all, ikA, totalA }) => all && ikA === totalA)).toBe(true);
    // D.c. component of the share alone: √2·12·e^(−2π·50·0.05·t).
    const { total } = breakingDuties([fromFirst], 0.06)!;
    expect(total.idcA).toBeCloseTo(Math.SQRT2 * 12000 * Math.exp(-100 * Math.PI * 0.05 * 0.06), 2);
    expect(breakingDuties([], 0.06)).toBeUndefined();
  });

  it('in a ring of closed switches is that of the place', () => {
    const b = new Builder();
    for (const bus of ['A', 'B']) b.add('bus', bus, { nominalKv: 11 });
    b.add('networkFeeder', 'N', { max: level(10), min: level(10) });
    for (const q of ['Q1', 'Q2']) b.add('switch', q);
    b.join('N', 'A', 'A', 'Q1:0', 'Q1:1', 'B', 'A', 'Q2:0', 'Q2:1', 'B');
    const studies = new Studies(b.network());
    const faults = dutyFaults(studies, [studies.conditions[0]], elementId('Q1'), 'through');
    expect(faults.length).toBeGreaterThan(0);
    expect(faults.every(({ whole }) => whole)).toBe(true);
  });

  it('by C37 takes the share of the standard’s own currents, without voltage factor', () => {
    const studies = new Studies(twoSources());
    const faults = dutyFaults(studies, [studies.conditions[0]], elementId('Q1'), 'through');
    const duties = americanDuties(studies, elementId('Q1'), faults, { ratedCycles: 5, partingCycles: 3, s: 1.1 });
    const first = duties.find(({ from }) => from.side === 1 && from.kind === '3ph')!;
    expect(first.share).toBeCloseTo(12000 / first.from.totalA, 9);
    // Feeders were given with Ik″; C37.010 counts with nominal voltage, and their impedance without c.
    expect(first.symmetricalKa).toBeCloseTo(12 * (first.firstCycleKa / 12), 9);
    expect(first.peakKa / first.firstCycleKa).toBeCloseTo(exactPeak(first.xOverRFirst), 9);
    expect(duties.some(({ from }) => from.kind === '2phE')).toBe(false);
  });
});

describe('faults at the ends of an element', () => {
  it('what flows in at one end comes out at the other, turned by the transformer', () => {
    const network = demoNetwork();
    const studies = new Studies(network);
    for (const { kind, into, at } of endFaults(studies, [studies.conditions[0]], elementId('fer-t1'), [0, 1])) {
      if (kind !== '3ph') continue;
      const [hv, lv] = into.map((current) => largestOf(current!));
      expect(hv / lv, `fault at ${at}`).toBeCloseTo(33 / 132, 1);
    }
  });
});

describe('until a fault is cleared', () => {
  const protectedFeeder = (delayS: number, over: object = {}, settings: object = {}) => {
    const b = new Builder(settings);
    for (const bus of ['A', 'B']) b.add('bus', bus, { nominalKv: 11 });
    b.add('networkFeeder', 'N', { max: level(10), min: level(10) });
    const q = b.add('switch', 'Q', { openingTimeS: 0.05, ...over });
    const ct = b.add('currentTransformer', 'CT', { primaryA: 200 });
    b.add('line', 'L', { lengthKm: 1, r1OhmPerKm: 0.1, x1OhmPerKm: 0.1 });
    b.add('relay', 'R', {
      inputs: [currentInput(ct)],
      circuits: [tripCircuit([q])],
      functions: [{ ...newFunction(elementId('f'), '50', genericRelays[0].ranges), pickup: 2, delayS }],
    } as never);
    b.join('N', 'A', 'A', 'Q:0', 'Q:1', 'CT:0', 'CT:1', 'L:0', 'L:1', 'B');
    return b.network();
  };
  const clearing = (network: ReturnType<typeof protectedFeeder>, element = 'L') =>
    clearingOf(
      network,
      new Studies(network).max,
      { element: elementId(element), terminal: 0 },
      terminalPlace(elementId('L'), 1),
      '3ph',
    );
  it('by the latest time of the relay on the run, and the opening time of its breaker', () => {
    const { timeS, device, known } = clearing(protectedFeeder(0.2));
    expect(device).toBe('R');
    expect(known).toBe(true);
    expect(timeS).toBeGreaterThanOrEqual(0.25);
    expect(timeS).toBeLessThan(0.3);
    expect(clearing(protectedFeeder(0.2), 'Q').timeS).toBeCloseTo(timeS, 12);
    // The relay may be five per cent late.
    expect(clearing(protectedFeeder(0.4)).timeS - timeS).toBeCloseTo(0.21, 9);
  });
  it('as the project says where it wants one time for all, where nothing trips, and where a fuse with no known curve stands', () => {
    const ratingLimits = {
      duty: 'through' as const,
      clearing: 'chosen' as const,
      clearingS: 3,
      relayMs: 10,
      warnPercent: 90,
      failPercent: 100,
    };
    expect(clearing(protectedFeeder(0.2, {}, { ratingLimits }))).toEqual({ timeS: 3, device: null, known: true });
    expect(clearing(protectedFeeder(9))).toEqual({ timeS: 1, device: null, known: false });
    const fused = new Builder();
    for (const bus of ['A', 'B']) fused.add('bus', bus, { nominalKv: 11 });
    fused.add('networkFeeder', 'N', { max: level(10), min: level(10) });
    fused.add('switch', 'F', { type: 'fuse', ratedA: 63 });
    fused.add('line', 'L', { lengthKm: 1 });
    fused.join('N', 'A', 'A', 'F:0', 'F:1', 'L:0', 'L:1', 'B');
    expect(clearing(fused.network())).toEqual({ timeS: 1, device: null, known: false });
  });
});
