/** Ratings against hand-worked duties of each standard. */
import { describe, expect, it } from 'vitest';
import { elementId } from '../model/fields';
import type { Network } from '../model/network';
import { neutralOf } from '../model/fields';
import { Builder } from '../test/network';
import { expectFollowed } from '../test/followed';
import { demoNetwork } from '../test/demo';
import { Studies } from '../studies/studies';
import { ratingsReport } from '../reports/ratings';
import { reportSheets, workingLines, type Report } from '../reports/report';
import { faultReport } from '../reports/faults';
import { FaultEngine } from '../studies/engine';
import type { Check } from './check';
import { isRatingCheck, ratingRules, ratingsOf, unknownRatings, worstRatings } from './ratings';
import { Checker, workingOf } from './run';

const level = (ikKa: number, rOverX: number) => ({
  given: 'current' as const,
  ikKa,
  skMva: null,
  rOverX,
  x0OverX1: 3,
  r0OverX0: 0.1,
});

/** A bus fed by one source through a breaker, a line behind. */
function feeder(
  kv: number,
  ikKa: number,
  rOverX: number,
  breaker: object,
  over: { line?: object; settings?: object; ct?: object } = {},
) {
  const b = new Builder(over.settings);
  for (const bus of ['A', 'B']) b.add('bus', bus, { nominalKv: kv });
  b.add('networkFeeder', 'N', { max: level(ikKa, rOverX), min: level(ikKa, rOverX) });
  b.add('switch', 'Q', breaker);
  b.add('currentTransformer', 'CT', over.ct);
  b.add('line', 'L', { lengthKm: 1, r1OhmPerKm: 0.1, x1OhmPerKm: 0.1, ...over.line });
  b.join('N', 'A', 'A', 'Q:0', 'Q:1', 'CT:0', 'CT:1', 'L:0', 'L:1', 'B');
  return b.network();
}

function checksOf(network: Network): Check[] {
  const studies = new Studies(network);
  const steps = new Checker(ratingRules).run(studies);
  for (;;) {
    const step = steps.next();
    if (!step.done) continue;
    for (const check of step.value.checks) {
      const working = workingOf(studies, studies.conditions, check)!;
      expectFollowed(working.sections, check.id);
    }
    return [...step.value.checks];
  }
}
const by = (network: Network, id: string) => checksOf(network).find((check) => check.id === id)!;
const kappa = (rOverX: number) => 1.02 + 0.98 * Math.exp(-3 * rOverX);

describe('high-voltage breakers', () => {
  it('a long network time constant: the percentage is beyond the rated one, and at full current the breaker too', () => {
    // X/R 25: τ = 79.6 ms; contacts part after 45 ms: e^(−45/79.58) = 56.8 % against e^(−45/45) = 36.8 %.
    const dc = by(feeder(20, 24, 0.04, { breakingKa: 25, openingTimeS: 0.035 }), 'dc Q');
    expect(dc.duty!.dcPercent).toBeCloseTo(56.808, 2);
    expect(dc.bound).toBeCloseTo(24 * Math.sqrt(1 + 2 * 0.568084 ** 2), 3);
    expect(dc.value).toBeCloseTo(25 * Math.sqrt(1 + 2 * Math.exp(-2)), 9);
    expect(dc.verdict).toBe('short');
    // Half the current leaves room for its d.c. component.
    expect(by(feeder(20, 12, 0.04, { breakingKa: 25, openingTimeS: 0.035 }), 'dc Q').verdict).toBe('holds');
    // A breaker rated for 120 ms has more.
    expect(by(feeder(20, 24, 0.04, { breakingKa: 25, openingTimeS: 0.035, timeConstantMs: 120 }), 'dc Q').verdict).toBe(
      'holds',
    );
  });
  it('making: 2.5 times the breaking current where nothing is given, marked as taken from it; 2.7 for longer time constants', () => {
    const making = by(feeder(20, 22, 1 / 14, { breakingKa: 25 }), 'making Q');
    expect(making.value).toBe(62.5);
    expect(making.bound).toBeCloseTo(Math.SQRT2 * 22 * kappa(1 / 14), 6);
    expect(making.duty!.assumed).toBe('2.5 × Isc');
    expect(by(feeder(20, 22, 1 / 14, { breakingKa: 25, timeConstantMs: 75 }), 'making Q').value).toBeCloseTo(67.5, 9);
    expect(by(feeder(20, 22, 1 / 14, { breakingKa: 25, makingKa: 60 }), 'making Q')).toMatchObject({
      value: 60,
      duty: { assumed: null },
    });
  });
  it('short-time: not raised below its duration, lowered beyond it', () => {
    const settings = {
      ratingLimits: {
        duty: 'through' as const,
        clearing: 'chosen' as const,
        clearingS: 3,
        relayMs: 10,
        warnPercent: 90,
        failPercent: 100,
      },
    };
    const over3 = by(feeder(20, 10, 0.1, { shortTimeKa: 16, shortTimeS: 1 }, { settings }), 'shortTime Q');
    expect(over3.value).toBeCloseTo(16 / Math.sqrt(3), 9);
    const m = (Math.exp(4 * 50 * 3 * Math.log(kappa(0.1) - 1)) - 1) / (2 * 50 * 3 * Math.log(kappa(0.1) - 1));
    expect(over3.bound).toBeCloseTo(10 * Math.sqrt(m + 1), 6);
    expect(over3.verdict).toBe('short');
    const half = by(
      feeder(
        20,
        10,
        0.1,
        { shortTimeKa: 16, shortTimeS: 1 },
        { settings: { ratingLimits: { ...settings.ratingLimits, clearingS: 0.5 } } },
      ),
      'shortTime Q',
    );
    expect(half.value).toBe(16);
  });
});

describe('low-voltage breakers', () => {
  it('IEC 60947-2: Icu, Ics as a warning, Icm = n·Icu', () => {
    const network = feeder(0.4, 33, 0.2, { breakingKa: 36, serviceBreakingKa: 25 });
    expect(by(network, 'breaking Q')).toMatchObject({
      verdict: 'doubtful',
      value: 36,
      duty: { standard: 'IEC 60947-2' },
    });
    const service = by(network, 'service Q');
    expect(service).toMatchObject({ verdict: 'doubtful', severity: 'warning', value: 25 });
    expect(service.proposal).toBeUndefined();
    const making = by(network, 'making Q');
    expect(making.value).toBeCloseTo(2.1 * 36, 9);
    expect(making.bound).toBeCloseTo(Math.SQRT2 * 33 * kappa(0.2), 5);
    const short = by(feeder(0.4, 40, 0.2, { breakingKa: 36 }), 'making Q');
    expect(short).toMatchObject({
      verdict: 'short',
      proposal: { takes: [{ path: 'makingKa' }, { path: 'breakingKa' }] },
    });
  });
  it('IEEE C37.13 and moulded case: a factor where X/R is above that of the test', () => {
    // E/X at nominal voltage: the feeder's 30 kA were given with c = 1.1.
    const unfused = by(feeder(0.4, 30, 1 / 11.7221, { ratedBy: 'c3713', breakingKa: 30 }), 'breaking Q');
    expect(unfused.duty!.factor).toBeCloseTo(1.08886, 4);
    expect(unfused.duty!.standard).toBe('IEEE C37.13');
    const fused = by(feeder(0.4, 30, 1 / 11.7221, { ratedBy: 'c3713Fused', breakingKa: 30 }), 'breaking Q');
    expect(fused.duty!.factor).toBeCloseTo(1.18148, 4);
    const moulded = by(feeder(0.4, 9, 1 / 3.1798, { ratedBy: 'mouldedCase', breakingKa: 10 }), 'breaking Q');
    expect(moulded.duty!.factor).toBeCloseTo(1.17995, 3);
  });
});

describe('IEEE C37.010', () => {
  it('interrupting duty with its factor, close and latch by the peak', () => {
    const network = feeder(13.8, 22, 1 / 60, { ratedBy: 'c37Symmetrical', breakingKa: 25, ratedCycles: 5 });
    const check = by(network, 'breaking Q');
    expect(check.duty!.xOverR).toBeCloseTo(60, 3);
    // √(1 + 2·e^(−4π·3/60))/1.1
    expect(check.duty!.factor).toBeCloseTo(1.30699839, 4);
    expect(check.bound! / check.duty!.factor!).toBeCloseTo(22, 1);
    expect(check.verdict).toBe('short');
    const latch = by(network, 'making Q');
    expect(latch.title).toBe('Close and latch');
    expect(latch.value).toBeCloseTo(2.6 * 25, 9);
    const total = by(feeder(13.8, 22, 1 / 60, { ratedBy: 'c37Total', breakingKa: 25 }), 'breaking Q');
    expect(total.duty!.factor).toBeCloseTo(1.1 * 1.30699839, 4);
  });
});

describe('conductors and the rest', () => {
  const settings = {
    ratingLimits: {
      duty: 'through' as const,
      clearing: 'chosen' as const,
      clearingS: 1,
      relayMs: 10,
      warnPercent: 90,
      failPercent: 100,
    },
  };
  it('a cable by IEC 60949, with the heat that leaves it; the next section where it is not enough', () => {
    const line = { sectionMm2: 120, metal: 'copper' as const, insulation: 'xlpe' as const };
    const check = by(feeder(11, 15, 0.1, {}, { line, settings }), 'shortTime L');
    expect(check.value).toBeCloseTo(17.4712, 3);
    expect(check.bound).toBeGreaterThan(15);
    const thin = by(feeder(11, 15, 0.1, {}, { line: { ...line, sectionMm2: 70 }, settings }), 'shortTime L');
    expect(thin).toMatchObject({
      verdict: 'short',
      proposal: { text: expect.stringMatching(/^120 mm² \(select its type/), takes: [] },
    });
    // Above 300 mm² PVC ends at 140 °C; at 11 kV it takes less heat: 225.7·√ln(374.5/304.5) · √(1 + 0.27/20 + 0.05/400) · 400.
    const large = { sectionMm2: 400, metal: 'copper' as const, insulation: 'pvc' as const };
    expect(by(feeder(11, 15, 0.1, {}, { line: large, settings }), 'shortTime L').value).toBeCloseTo(41.34, 1);
    const bare = by(
      feeder(11, 15, 0.1, {}, { line: { sectionMm2: 150, metal: 'aluminium', insulation: 'none' }, settings }),
      'shortTime L',
    );
    expect(bare.duty!.standard).toBe('IEC 60865-1');
  });
  it('where no clearing time is known, heating is a warning at most', () => {
    const line = { sectionMm2: 10, metal: 'copper' as const, insulation: 'pvc' as const };
    const check = by(feeder(11, 15, 0.1, {}, { line }), 'shortTime L');
    expect(check).toMatchObject({ verdict: 'doubtful', severity: 'warning', duty: { clearedBy: null } });
    expect(check.message).toContain('no clearing time is known');
  });
  it('a current transformer: Ith for its second, Idyn as 2.5 times where it is not given', () => {
    const network = feeder(11, 12, 0.1, {}, { ct: { primaryA: 100, shortTimeKa: 10 }, settings });
    expect(by(network, 'shortTime CT')).toMatchObject({
      verdict: 'short',
      value: 10,
      proposal: { takes: [{ value: 12.5 }] },
    });
    expect(by(network, 'peak CT')).toMatchObject({ value: 25, duty: { assumed: '2.5 × Ith' } });
    expect(
      by(feeder(11, 12, 0.1, {}, { ct: { primaryA: 100, shortTimeKa: 10, dynamicKa: 40 } }), 'peak CT').value,
    ).toBe(40);
  });
  it('a transformer withstands a fault behind it as long as its heat allows', () => {
    const b = new Builder(settings);
    for (const [bus, kv] of [
      ['A', 20],
      ['B', 0.4],
    ] as const)
      b.add('bus', bus, { nominalKv: kv });
    b.add('networkFeeder', 'N', { max: level(1000, 0.1), min: level(1000, 0.1) });
    b.add('transformer', 'T', { ratedMva: 1, hvKv: 20, lvKv: 0.4, ukPercent: 6, uRPercent: 1, vectorGroup: 'Dyn5' });
    b.join('N', 'A', 'T:0', 'A', 'T:1', 'B');
    const check = by(b.network(), 'shortTime T');
    expect(check.unit).toBe('s');
    // Nearly 1/uk times the rated current, raised by c: a little less than 2 s.
    expect(check.value).toBeGreaterThan(1.6);
    expect(check.value).toBeLessThan(2.1);
    expect(check.bound).toBe(1);
    expect(check.verdict).toBe('holds');
  });
  it('a neutral resistor carries its earth-fault current as long as its rating allows', () => {
    const b = new Builder(settings);
    b.add('bus', 'B', { nominalKv: 11 });
    b.add('networkFeeder', 'N', { earthed: false });
    b.add('earthingTransformer', 'E', {
      ratedKv: 11,
      r0Ohm: 0,
      x0Ohm: 0.001,
      shortTimeA: 300,
      neutral: { ...neutralOf('resistor', 21.17), ratedA: 300, ratedS: 10 },
    });
    b.join('N', 'B', 'E', 'B');
    const checks = checksOf(b.network()).filter(({ code }) => code === 'rating.neutral');
    expect(checks.map(({ field }) => field)).toEqual(['shortTimeA', 'neutral.ratedA']);
    // c·U/√3/R: 330 A of 300 A for 10·(300/330)² = 8.3 s.
    expect(checks[1].value).toBeCloseTo(10 * (300 / 330) ** 2, 0);
    expect(checks[1].verdict).toBe('holds');
  });
  it('an earthing switch closes onto the whole current of its place', () => {
    const b = new Builder();
    b.add('bus', 'B', { nominalKv: 11 });
    b.add('networkFeeder', 'N', { max: level(20, 0.1), min: level(20, 0.1) });
    b.add('earthingSwitch', 'E', { makingKa: 40, shortTimeKa: 16 });
    b.join('N', 'B', 'E', 'B');
    const making = by(b.network(), 'peak E');
    expect(making).toMatchObject({ code: 'rating.making', verdict: 'short', duty: { whole: true } });
    expect(making.bound).toBeCloseTo(Math.SQRT2 * 20 * kappa(0.1), 4);
  });
});

describe('the study', () => {
  const network = demoNetwork();
  const studies = new Studies(network);
  const finished = <T>(steps: Generator<number, T>): T => {
    for (;;) {
      const step = steps.next();
      if (step.done) return step.value;
      expect(step.value).toBeGreaterThanOrEqual(0);
    }
  };
  it('sorts by use, names the worst of each element, lists what is not known', () => {
    const { checks } = finished(new Checker(ratingRules).run(studies));
    expect(checks.every(isRatingCheck)).toBe(true);
    for (const table of ['making', 'breaking', 'thermal'] as const) {
      const used = ratingsOf(checks, table).map(({ duty }) => duty.utilisationPercent);
      expect(used).toEqual([...used].sort((p, q) => q - p));
      expect(used.length).toBeGreaterThan(80);
    }
    expect(worstRatings(checks).get(elementId('bra-f51'))!.verdict).toBe('short');
    expect(unknownRatings(network).map(({ name }) => name)).toContain('QUE 11');
  });
  it('as a report holds basis, summaries, what is not known, and the working of the worst', () => {
    const report: Report = finished(ratingsReport(studies));
    expect(report.sections.map(({ title }) => title)).toEqual([
      'Basis',
      'Making, close and latch, peak withstand',
      'Breaking, interrupting',
      'Short-time withstand, heating',
      'Ratings that are not known',
      'Ratings taken from others',
    ]);
    const breaking = report.sections[2];
    expect(breaking.table!.rows[0]).toMatchObject({ tone: 'fail' });
    expect(breaking.table!.rows[0].cells).toContain('BRA F51');
    expect(breaking.workings!.length).toBe(5);
    expect(workingLines(breaking.workings![0]).join('\n')).toContain('Icu');
    const sheets = reportSheets(report);
    expect(sheets.map(({ name }) => name)).toEqual([
      'Study',
      ...report.sections.slice(1).map(({ title }) => title),
      'Working',
    ]);
    for (const { table } of report.sections)
      for (const { cells } of table?.rows ?? []) expect(cells).toHaveLength(table!.columns.length);
  });
  it('of faults holds results with percent impedances, and contributions', () => {
    const engine = new FaultEngine(network);
    const [maximum] = studies.conditions;
    const report = finished(
      faultReport(engine, {
        conditions: [maximum],
        kinds: ['3ph', '1ph'],
        buses: [elementId('bra-11-a')],
        breakingS: 0.1,
        durationS: 1,
        workings: true,
      }),
    );
    const [, results, shares] = report.sections;
    expect(results.table!.rows).toHaveLength(2);
    const cells = results.table!.rows[0].cells;
    const heads = results.table!.columns.map(({ head }) => head);
    const cell = (head: string) => cells[heads.indexOf(head)] as number;
    expect(cell('X1 %')).toBeCloseTo((cell('X1 Ω') * 100 * 100) / 121, 6);
    expect(cell('Ik″ kA')).toBeCloseTo(14.99, 1);
    expect(shares.table!.rows.length).toBeGreaterThan(8);
    expect(shares.workings).toHaveLength(2);
  });
});
