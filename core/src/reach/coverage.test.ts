/** Coverage of a line by its relays, against single trials of the same faults and against the lengths that zones reach. */
import { describe, expect, it } from 'vitest';
import { solidFault } from '../faults/kinds';
import { faultAtPlace } from '../faults/iec60909/study';
import { magnitude, zero } from '../linear/complex';
import { maximumSources } from '../model/condition';
import { elementId as id } from '../model/fields';
import { zonesHit } from '../protection/distance';
import { measuredLoops } from '../protection/distance/measured';
import { Studies } from '../studies/studies';
import { demoNetwork } from '../test/demo';
import { circuitAt } from './circuits';
import { countsOf, coverageOf, usualCoverage, type Covered, type CoveringEnd } from './coverage';
import { placeOn } from './ends';
import { reachPlan } from './plan';
import { withArc } from './resistance';
import { seenAtEnds } from './seen';

const studies = new Studies(demoNetwork());
const finished = <T>(steps: Generator<number, T>): T => {
  for (let last = 0; ;) {
    const step = steps.next();
    if (step.done) return step.value;
    expect(step.value).toBeGreaterThanOrEqual(last);
    last = step.value;
  }
};
const plan = finished(reachPlan(studies, { merged: false, fromKv: 50 }));
const near = plan.find(({ end }) => end.line === id('fer-mar') && end.terminal === 0)!;
const far = plan.find(({ end }) => end.line === near.end.line && end.terminal !== near.end.terminal)!;
const circuit = circuitAt(studies.network, near.end);
const both: CoveringEnd[] = [near, far].map(({ end, relay }) => ({ end, device: relay!.device, fn: relay!.fn! }));
const covered = (relays: readonly CoveringEnd[], over: Partial<typeof usualCoverage> = {}): readonly Covered[] =>
  finished(coverageOf(studies, [maximumSources], circuit, relays, { ...usualCoverage, ...over }));

describe('coverage of a line with a relay at each end', () => {
  const list = covered(both);
  it('is complete without resistance: both at once in the middle, one after the other near the ends', () => {
    expect(list).toHaveLength(21 * 4);
    for (const { fraction, kind, coverage } of list.filter((each) => each.kind === '3ph'))
      expect([kind, fraction, coverage]).toEqual([
        kind,
        fraction,
        fraction > 0.15 && fraction < 0.85 ? 'both' : expect.stringMatching(/^(sequential|delayed)$/),
      ]);
    expect(countsOf(list).none + countsOf(list).partly).toBe(0);
    expect(Object.values(countsOf(list)).reduce((p, q) => p + q)).toBe(list.length);
  });
  it('is what single trials of the same faults give', () => {
    const study = studies.iec60909({ condition: maximumSources.id });
    for (const { fraction, kind, ends, coverage, line } of list) {
      if (coverage !== 'both' && coverage !== 'delayed') continue;
      const [seen] = seenAtEnds(
        study,
        placeOn(line, fraction),
        [{ kind, odd: 0, phaseOhm: zero, earthOhm: zero }],
        both.map(({ end }) => end),
      );
      if (!seen.ok) throw new Error('no fault');
      if (coverage === 'both')
        both.forEach(({ fn, device }, k) => {
          const vectors = { ...seen.ends[k]!, ratedV: 132_000, secondaryV: 110, leastVoltage: null };
          const [hit] = zonesHit(fn, measuredLoops(fn, device.inputs[0].rating, vectors));
          expect([hit.zone.name, hit.delayS + fn.operatingS]).toEqual([ends[k].zone, ends[k].timeS]);
        });
    }
  });
  it('is less with one relay, and with resistance, never more', () => {
    const alone = covered(both.slice(0, 1));
    expect(countsOf(alone).both + countsOf(alone).delayed).toBe(alone.length);
    expect(alone.every(({ ends }) => ends.every(({ end }) => end.terminal === near.end.terminal))).toBe(true);
    const rank = { both: 0, sequential: 1, delayed: 2, partly: 3, none: 4 } as const;
    const resistive = covered(both, { kinds: ['1ph'], resistances: [0, 200], places: 7 });
    const at = (ohm: number) => resistive.filter(({ resistance }) => resistance === ohm);
    at(0).forEach((solid, k) => expect(rank[at(200)[k].coverage]).toBeGreaterThanOrEqual(rank[solid.coverage]));
    expect(countsOf(at(200)).both).toBeLessThan(countsOf(at(0)).both);
  });
  it('counts outages as states of their own', () => {
    const withOutage = covered(both, { kinds: ['3ph'], places: 3, outages: [id('cau-fer-1'), circuit.lines[0]] });
    // An outage of the line itself leaves nothing to cover.
    expect(new Set(withOutage.map(({ outage }) => outage))).toEqual(new Set([null, 'cau-fer-1']));
  });
});

describe('faults that burn', () => {
  it('have the arc of their own current added, and are covered no better for it', () => {
    const study = studies.iec60909({ condition: maximumSources.id });
    const place = placeOn(id('fer-mar'), 0.4);
    const solid = faultAtPlace(study, place, solidFault('2ph'));
    if (!solid.ok) throw new Error('no fault');
    const ampere = magnitude(solid.fault.phases.l2);
    const burning = withArc(study, place, solidFault('2ph'));
    // 4 m between phases at 132 kV, half of the arc in each phase.
    expect(burning.phaseOhm.re).toBeCloseTo((28_710 * 4) / ampere ** 1.4 / 2, 9);
    const earth = withArc(study, place, { ...solidFault('1ph'), earthOhm: { re: 10, im: 0 } });
    expect(earth.earthOhm.re).toBeGreaterThan(10);
    const rank = { both: 0, sequential: 1, delayed: 2, partly: 3, none: 4 } as const;
    const [plain, arcs] = [false, true].map((arc) => covered(both, { arc, kinds: ['2ph', '3ph'], places: 7 }));
    plain.forEach((each, k) => expect(rank[arcs[k].coverage]).toBeGreaterThanOrEqual(rank[each.coverage]));
  });
});
