import { describe, expect, it } from 'vitest';
import type { Network } from '../model/network';
import { nextBreakingKa, nextPeakKa, nextPreferred, nextPrimaryA, nextRatedCurrentA } from '../model/standardSizes';
import { Builder } from '../test/network';
import { Studies } from '../studies/studies';
import { currentInput, tripCircuit } from '../model/protection';
import { expectFollowed } from '../test/followed';
import { checked, findings, workingOf } from './run';

const of = (network: Network, code: string) =>
  findings(new Studies(network)).filter((problem) => problem.code === code);

/** 11 kV bus at 20 kA, a breaker, and a 1.6 MVA transformer to a low-voltage bus. */
const plant = (over: { board?: object; breaker?: object; ct?: object; transformer?: object; relay?: boolean } = {}) => {
  const builder = new Builder();
  builder.add('bus', 'B1', { nominalKv: 11, ...over.board });
  builder.add('bus', 'B2', { nominalKv: 0.4 });
  const level = { given: 'current' as const, ikKa: 20, skMva: null, rOverX: 0.1, x0OverX1: 1, r0OverX0: 0.1 };
  builder.add('networkFeeder', 'N', { max: level, min: level });
  const q = builder.add('switch', 'Q', over.breaker);
  const ct = builder.add('currentTransformer', 'CT', over.ct);
  builder.add('transformer', 'T', over.transformer);
  builder.join('N', 'B1', 'B1', 'Q:0', 'Q:1', 'CT:0', 'CT:1', 'T:0', 'T:1', 'B2');
  if (over.relay)
    builder.add('relay', 'R', {
      inputs: [currentInput(ct)],
      circuits: [tripCircuit([q])],
    });
  return builder.network();
};

describe('findings about equipment', () => {
  it('a breaker that breaks too little is told, with the next standard size above what is calculated', () => {
    expect(of(plant(), 'rating.breaking')).toEqual([]);
    expect(of(plant({ breaker: { breakingKa: 25 } }), 'rating.breaking')).toEqual([]);
    const [problem] = of(plant({ breaker: { breakingKa: 16 } }), 'rating.breaking');
    expect(problem).toMatchObject({
      severity: 'error',
      element: 'Q',
      field: 'breakingKa',
      proposal: {
        text: '20 kA (with it: making 50 kA, short-time 20 kA)',
        takes: [
          { path: 'breakingKa', value: 20 },
          { path: 'makingKa', value: 50 },
          { path: 'shortTimeKa', value: 20 },
        ],
      },
      todo: expect.any(String),
    });
    expect(problem.message).toBe('Q: breaking capacity 16 kA is below Ib 20 kA');
    // The size that just holds is told as marginal, from 90 % on.
    const [marginal] = of(plant({ breaker: { breakingKa: problem.proposal!.takes[0].value } }), 'rating.breaking');
    expect(marginal).toMatchObject({ severity: 'warning', message: expect.stringContaining('100 % used') });
    expect(marginal.proposal).toBeUndefined();
  });
  it('a board is held against the largest ip and Ith: κ = 1.746 at R/X = 0.1, m = 0.0114 over 3 s, by hand', () => {
    const told = (board: object) =>
      findings(new Studies(plant({ board }))).filter(
        ({ code, severity }) => /^rating/.test(code) && severity === 'error',
      );
    expect(told({ peakKa: 50, shortTimeKa: 25, shortTimeS: 3 })).toEqual([]);
    expect(told({ peakKa: 49.4 })).toEqual([]);
    const [peak, thermal] = told({ peakKa: 40, shortTimeKa: 20.11, shortTimeS: 3 });
    expect(peak).toMatchObject({
      severity: 'error',
      element: 'B1',
      field: 'peakKa',
      message: 'B1: rated peak withstand current 40 kA is below ip 49.38 kA',
      proposal: { takes: [{ path: 'peakKa', value: 50 }] },
      todo: expect.stringContaining('board'),
    });
    expect(thermal).toMatchObject({
      field: 'shortTimeKa',
      message: 'B1: rated short-time withstand current 20.11 kA is below Ith 20.11 kA over 3 s',
      proposal: { takes: [{ path: 'shortTimeKa', value: 25 }] },
    });
    // Twice the d.c. part in a third of the time: m = 0.0341.
    expect(told({ shortTimeKa: 20.33, shortTimeS: 1 })[0].message).toContain('Ith 20.34 kA over 1 s');
    expect(told({ shortTimeKa: 20.34, shortTimeS: 1 })).toEqual([]);
  });
  it('a board that holds says by how much, in which condition, and its working follows', () => {
    const studies = new Studies(plant({ board: { peakKa: 63, shortTimeKa: 25 } }));
    const { checks } = checked(studies);
    const own = checks.filter(({ rule }) => rule === 'equipment.withstand');
    expect(own.map(({ title, value, verdict }) => [title, value, verdict])).toEqual([
      ['Peak withstand current', 63, 'holds'],
      ['Short-time withstand current', 25, 'holds'],
    ]);
    expect(own[0].bound).toBeCloseTo(Math.SQRT2 * 20 * (1.02 + 0.98 * Math.exp(-0.3)), 6);
    expect(own[0].deciding).toEqual({ condition: 'maximum', kind: '3ph' });
    const { sections } = workingOf(studies, studies.conditions, own[0])!;
    expect(sections[0].steps.length).toBe(2);
    expectFollowed(sections, 'B1');
  });
  it('a board may stand in any network up to its rated voltage', () => {
    expect(of(plant({ board: { ratedKv: 12 } }), 'voltage.rated')).toEqual([]);
    const [told] = of(plant({ board: { ratedKv: 7.2 } }), 'voltage.rated');
    expect(told).toMatchObject({ severity: 'error', element: 'B1', field: 'ratedKv' });
  });
  it('a rated current below that of the transformer on the run proposes the next size; 84 A on 63 A gives 100 A', () => {
    const [problem] = of(plant({ breaker: { ratedA: 63 } }), 'rating.current');
    expect(problem.message).toBe('Q: rated current 63 A is below the rated current of T, 83.98 A');
    expect(problem.proposal).toMatchObject({ takes: [{ path: 'ratedA', value: 100 }] });
    expect(of(plant({ breaker: { ratedA: 100 } }), 'rating.current')).toEqual([]);
  });
  it('a current transformer whose primary lies below the rated current of the run proposes the next ratio', () => {
    expect(of(plant({ ct: { primaryA: 100 } }), 'rating.current')).toEqual([]);
    const [problem] = of(plant({ ct: { primaryA: 75 } }), 'rating.current');
    expect(problem.message).toBe('CT: rated primary current 75 A is below the rated current of T, 83.98 A');
    expect(problem.proposal).toMatchObject({ takes: [{ path: 'primaryA', value: 100 }], text: '100 A' });
  });
  it('a feeder that nothing trips, in one finding; a fuse will do', () => {
    expect(of(plant(), 'protection.none')).toMatchObject([{ message: 'no relay trips Q', elements: ['Q'] }]);
    expect(of(plant({ breaker: { type: 'fuse' } }), 'protection.none')).toEqual([]);
    expect(of(plant({ relay: true }), 'protection.none')).toHaveLength(1);
  });
  it('a free end, a voltage that does not match, values nobody confirmed', () => {
    const builder = new Builder();
    builder.add('bus', 'B1', { nominalKv: 11 });
    builder.add('networkFeeder', 'N');
    builder.add('line', 'L', { assumed: ['lengthKm'] });
    builder.add('line', 'M', { assumed: ['lengthKm', 'x1OhmPerKm'] });
    builder.add('asynchronousMotor', 'P', { ratedKv: 6.6 });
    builder.add('voltageTransformer', 'V', { primaryKv: 33 });
    builder.add('voltageTransformer', 'V11', { primaryKv: 11 });
    builder.join('N', 'B1', 'B1', 'L:0', 'B1', 'P', 'B1', 'V', 'B1', 'V11');
    const network = builder.network();
    expect(of(network, 'terminal.open').map(({ message }) => message)).toEqual([
      'L is connected at one end only (terminal 2 is free)',
      'M is connected to nothing',
    ]);
    expect(of(network, 'voltage.rated')).toMatchObject([
      { element: 'P', field: 'ratedKv' },
      { element: 'V', field: 'primaryKv' },
    ]);
    expect(of(network, 'data.assumed')).toMatchObject([{ severity: 'assumed', elements: ['L', 'M'] }]);
    const severities = findings(new Studies(network)).map(({ severity }) => severity);
    expect(
      [...severities].sort(
        (p, q) => ['error', 'warning', 'assumed'].indexOf(p) - ['error', 'warning', 'assumed'].indexOf(q),
      ),
    ).toEqual(severities);
    for (const problem of findings(new Studies(network))) expect([problem.code, problem.todo]).not.toContain(undefined);
  });
});

describe('preferred values', () => {
  it('are those of the series, never below what is asked', () => {
    for (let value = 0.7; value < 90000; value *= 1.07) {
      const size = nextPreferred(value);
      expect(size).toBeGreaterThanOrEqual(value * (1 - 1e-9));
      expect(size / value).toBeLessThan(1.3);
      expect(nextPreferred(size)).toBe(size);
    }
    expect([84, 100, 101, 130, 525, 7600].map(nextPrimaryA)).toEqual([100, 100, 125, 150, 600, 10000]);
    expect([12.6, 20, 20.01, 3].map(nextBreakingKa)).toEqual([16, 20, 25, 6.3]);
    expect([49.4, 50, 50.1, 3].map(nextPeakKa)).toEqual([50, 50, 62.5, 15.75]);
    expect([
      nextRatedCurrentA(84, 'other'),
      nextRatedCurrentA(390, 'fuse'),
      nextRatedCurrentA(401, 'other'),
      nextRatedCurrentA(17, 'fuse'),
    ]).toEqual([100, 400, 500, 20]);
  });
});
