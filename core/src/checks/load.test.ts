/** Load flow as checks over conditions: voltages, loadings, convergence; the ranges that are kept. */
import { describe, expect, it } from 'vitest';
import { elementId } from '../model/fields';
import { maximumSources, minimumSources } from '../model/condition';
import { networkOf, type Network } from '../model/network';
import { Builder } from '../test/network';
import { demoNetwork } from '../test/demo';
import { expectFollowed } from '../test/followed';
import { flowFigures } from '../flow/figures';
import { loadRanges, type LoadPlace } from '../studies/loads';
import { Studies } from '../studies/studies';
import { checked, findings, workingOf } from './run';

function feeder(
  loadMva: number,
  over: { limits?: object; line?: object; conditions?: object[]; volts?: number } = {},
): Network {
  const b = new Builder(over.limits ? { loadLimits: over.limits as never } : {});
  for (const bus of ['A', 'B']) b.add('bus', bus, { nominalKv: 20 });
  b.add('networkFeeder', 'N', { voltagePercent: over.volts ?? 100 });
  b.add('line', 'L', { lengthKm: 8, r1OhmPerKm: 0.2, x1OhmPerKm: 0.35, ratedA: 200, ...over.line });
  b.add('switch', 'Q', { ratedA: 400 });
  b.add('load', 'D', { ratedMva: loadMva, powerFactor: 0.9 });
  b.join('N', 'A', 'A', 'Q:0', 'Q:1', 'L:0', 'L:1', 'B', 'D', 'B');
  const network = b.network();
  return networkOf([...network.elements.values(), ...((over.conditions ?? []) as never[])]);
}
const limits = {
  lowPercent: 95,
  highPercent: 105,
  emergencyLowPercent: 90,
  emergencyHighPercent: 110,
  loadingPercent: 100,
  emergencyLoadingPercent: 120,
};
const heavy = { ...maximumSources, id: elementId('heavy'), name: 'Heavy', limits: 'emergency' as const };
const checksOf = (network: Network, rule: string) => checked(new Studies(network), undefined, [rule]).checks;

describe('voltages', () => {
  it('the bus nearest to its limit decides, by the band of its condition', () => {
    const [a, b] = checksOf(feeder(5), 'load.voltage');
    expect(a).toMatchObject({ subject: 'A', value: 100, verdict: 'holds' });
    const figures = flowFigures(new Studies(feeder(5)).flow({ condition: maximumSources.id }));
    expect(b).toMatchObject({
      subject: 'B',
      bound: 95,
      sense: 'atLeast',
      value: figures.buses.find(({ bus }) => bus === 'B')!.percent,
    });
    const [, low] = checksOf(feeder(9), 'load.voltage');
    expect(low).toMatchObject({ verdict: 'short', severity: 'warning' });
    expect(low.message).toMatch(/^B: 9\d\.\d+ % of Un is below the limit of 95 % \(Maximum sources\)$/);
    const [high] = checksOf(feeder(1, { volts: 107 }), 'load.voltage');
    expect(high).toMatchObject({ verdict: 'short', sense: 'atMost', bound: 105, value: expect.closeTo(107, 9) });
    // In an emergency less is asked: the normal condition still decides.
    const both = checksOf(feeder(9, { conditions: [heavy] }), 'load.voltage');
    expect(both[1].deciding!.condition).toBe(maximumSources.id);
  });
  it('a bus without supply has none', () => {
    const network = feeder(5, { conditions: [{ ...heavy, open: [elementId('Q')] }] });
    expect(checksOf(network, 'load.voltage').find(({ subject }) => subject === 'B')!.deciding!.condition).toBe(
      maximumSources.id,
    );
  });
});

describe('loadings', () => {
  it('of what carries current, in the condition with the most; motors are told theirs', () => {
    const network = feeder(8);
    const found = checksOf(network, 'load.loading');
    expect(found.map(({ subject }) => subject).sort()).toEqual(['L', 'Q']);
    const line = found.find(({ subject }) => subject === 'L')!;
    expect(line).toMatchObject({ verdict: 'short', bound: 200, unit: 'A', sense: 'atMost' });
    // 8 MVA at 20 kV are 231 A, at the lower voltage of the far end more.
    expect(line.value!).toBeGreaterThan(231);
    expect(line.message).toMatch(/^L: load current 24\d(\.\d+)? A is above 200 A \(Maximum sources\)$/);
    const studies = new Studies(network);
    expectFollowed(workingOf(studies, studies.conditions, line)!.sections, 'loading');
    expect(findings(studies).some(({ code, element }) => code === 'load.loading' && element === 'L')).toBe(true);
  });
  it('an emergency rating, or the share of the project, holds in emergency conditions only', () => {
    const emergency = { ...heavy, id: elementId('e') };
    const of = (line: object) =>
      checksOf(feeder(8, { limits, line, conditions: [emergency] }), 'load.loading').find(
        ({ subject }) => subject === 'L',
      )!;
    expect(of({ emergencyA: 260 })).toMatchObject({ bound: 200, deciding: { condition: maximumSources.id } });
    // With the normal rating high enough the emergency share decides.
    const shared = of({ ratedA: 400, emergencyA: 250 });
    expect(shared).toMatchObject({ bound: 250, title: 'Load current, emergency', deciding: { condition: 'e' } });
    const byProject = of({ ratedA: 200 });
    expect(byProject.bound).toBe(200);
  });
});

describe('a load flow without a solution', () => {
  it('is an error with its place and what to do; voltages and loadings say nothing then', () => {
    const network = feeder(120);
    const [first] = checksOf(network, 'load.convergence');
    expect(first).toMatchObject({ verdict: 'short', severity: 'error', subject: 'B' });
    expect(first.message).toContain('does not converge');
    expect(checksOf(network, 'load.voltage')).toEqual([]);
    expect(checksOf(network, 'load.loading')).toEqual([]);
    expect(findings(new Studies(network)).find(({ code }) => code === 'load.convergence')!.todo).toContain(
      'wrong unit',
    );
    expect(checksOf(feeder(5), 'load.convergence').every(({ verdict }) => verdict === 'holds')).toBe(true);
  });
});

const place = (text: string) => text as LoadPlace;

describe('ranges of load current', () => {
  it('the largest and the smallest of every place, with their conditions', () => {
    const studies = new Studies(demoNetwork());
    const ranges = loadRanges(studies, studies.conditions);
    const ct = ranges.get(place('bra-ct31:through'))!;
    expect(ct.largest.ampere).toBeGreaterThanOrEqual(ct.smallest.ampere);
    const cable = ranges.get(place('fer-bra-2:0'))!;
    // With the other cable out this one carries both.
    expect(cable.largest.condition).toBe('cable-out');
    const [max, out] = [maximumSources.id, elementId('cable-out')].map(
      (condition) =>
        flowFigures(studies.flow({ condition })).branches.find(({ element }) => element === 'fer-bra-2')!.ends[0]
          .ampere,
    );
    expect(cable.largest.ampere).toBeCloseTo(out, 9);
    expect(out / max).toBeGreaterThan(1.5);
    // A source by its power and voltage.
    expect(ranges.get(place('gal-wind:0'))!.largest.ampere).toBeGreaterThan(200);
    // A cable that is out has no range in that condition.
    expect(ranges.get(place('fer-bra-1:0'))!.largest.condition).not.toBe('cable-out');
    const only = loadRanges(studies, [minimumSources]);
    expect(only.get(place('bra-ct31:through'))!.largest).toEqual(only.get(place('bra-ct31:through'))!.smallest);
    expect(loadRanges(studies, studies.conditions)).toBe(ranges);
  });
});
