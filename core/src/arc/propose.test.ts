/** Settings for an energy: the largest that keeps it, against trying every one of them; or the reason why there is none. */
import { beforeAll, describe, expect, it } from 'vitest';
import { arcLimits, isArcLine } from '../limits/arc';
import { chartBasis } from '../grading/chart/basis';
import { arcFlags, limitsOnChart } from '../grading/chart/curves';
import { newChart } from '../model/chart';
import { elementId } from '../model/fields';
import { find, settingsOf, withElements, type Network } from '../model/network';
import type { OvercurrentFunction } from '../protection/overcurrent/schema';
import { Studies } from '../studies/studies';
import { demoNetwork } from '../test/demo';
import { finished } from '../working/steps';
import { caloriesOf } from './clothing';
import { arcPlace } from './equipment';
import { arcingCurrents, enclosureCorrection, exposure } from './ieee2018';
import { proposeArc } from './propose';
import { arcStudy, decidingCase, type ArcRow } from './study';

const id = elementId;
let demo: Network;
let studies: Studies;
const rowsOf = (network: Network, bus: string): ArcRow[] => {
  const own = new Studies(network);
  return finished(arcStudy(own, own.conditions, { compare: false, only: [id(bus)] }));
};
const lineSide = (network: Network) => rowsOf(network, 'bra-0-4').find(({ spot }) => spot.lineSideOf === 'bra-f41')!;
const calOf = (row: ArcRow) => caloriesOf(decidingCase(row.worst!).energy);
const withMultiplier = (timeMultiplier: number): Network => {
  const relay = find(demo, 'relay', id('bra-q32-relay'))!;
  const [first, ...rest] = relay.functions as OvercurrentFunction[];
  return withElements(demo, [{ ...relay, functions: [{ ...first, timeMultiplier }, ...rest] }]);
};
beforeAll(() => {
  demo = demoNetwork();
  studies = new Studies(demo);
});

describe('a setting for an energy', () => {
  it('is the largest that keeps it: one step more is above', () => {
    const row = lineSide(demo);
    const found = finished(proposeArc(studies, studies.conditions, row, 40));
    if (!found.ok) throw new Error(found.why);
    const { device, to, beforeCal, afterCal } = found.proposal;
    expect(device).toBe('bra-q32-relay');
    expect(to).toBe(0.24);
    expect(beforeCal).toBeCloseTo(calOf(row), 9);
    expect(to).toBeLessThan(found.proposal.from);
    expect(calOf(lineSide(withMultiplier(to)))).toBeCloseTo(afterCal, 9);
    expect(afterCal).toBeLessThanOrEqual(40);
    expect(calOf(lineSide(withMultiplier(Number((to + 0.01).toFixed(2)))))).toBeGreaterThan(40);
  });
  it('says why there is none: it is below already, the fastest is too slow, nothing clears, it would not wait any more', () => {
    const why = (row: ArcRow, cal: number) => {
      const found = finished(proposeArc(studies, studies.conditions, row, cal));
      return found.ok ? 'found' : found.why;
    };
    const row = lineSide(demo);
    expect(why(row, 60)).toMatch(/^It is 42\.5 cal\/cm² already/);
    expect(why(row, 1)).toMatch(/^BRA Q32 relay, 51: even at 0\.05 it is \d+(\.\d+)? cal\/cm²/);
    const [uncleared] = rowsOf(demo, 'que-11');
    expect(why(uncleared, 8)).toMatch(/^Nothing clears it within the longest time/);
    expect(why({ ...row, worst: null }, 8)).toBe('Nothing feeds an arc here.');
    // Just above what its fastest gives, it no longer waits for the board.
    const fastest = calOf(lineSide(withMultiplier(0.05)));
    expect(why(row, fastest * 1.02)).toMatch(/would no longer wait for BRA F41 relay/);
  });
});

describe('energies on a chart', () => {
  it('a line passes through the time at which the formulas give its energy', () => {
    const bus = find(demo, 'bus', id('bra-0-4'))!;
    const at = arcPlace(bus.arc, bus.nominalKv);
    const lines = arcLimits(bus, settingsOf(demo).arc);
    expect(lines.map(({ line }) => line)).toEqual(['arc1.2', 'arc12', 'arc40']);
    for (const { points, title } of lines) {
      const cal = Number(/([\d.]+) cal/.exec(title)![1]);
      expect(points.length).toBeGreaterThan(10);
      for (const [currentA, timeS] of points.slice(0, 12)) {
        // The bolted current of this arcing current, by halving.
        let [low, high] = [0.5, 106];
        for (let k = 0; k < 80; k++) {
          const middle = (low + high) / 2;
          if (arcingCurrents(at, middle).currentKa * 1000 < currentA) low = middle;
          else high = middle;
        }
        const arcing = arcingCurrents(at, low);
        const { energy } = exposure(
          at,
          { boltedKa: low, arcing, reduced: false },
          1000 * timeS,
          enclosureCorrection(at),
        );
        expect(caloriesOf(energy) / cal).toBeCloseTo(1, 5);
      }
    }
    expect(isArcLine('arc1.2')).toBe(true);
    expect(isArcLine('withstand')).toBe(false);
  });
  it('stand at the level of the chart, with flags at both arcing currents', () => {
    const chart = newChart(id('c'), 'c', {
      referenceKv: 11,
      limits: [{ element: id('bra-0-4'), line: 'arc40' }],
    });
    const basis = chartBasis(studies, chart);
    const [line] = limitsOnChart(chart, basis);
    const own = arcLimits(find(demo, 'bus', id('bra-0-4'))!, settingsOf(demo).arc)[2];
    const factor = line.points[0].currentA / own.points[0][0];
    expect(factor).toBeGreaterThan(0.4 / 12);
    expect(factor).toBeLessThan(0.42 / 10);
    const [full, reduced] = arcFlags(basis);
    const most = rowsOf(demo, 'bra-0-4')[0].results.find(({ condition }) => condition === 'maximum')!;
    expect(full.currentA / (1000 * most.full.arcingKa * factor)).toBeCloseTo(1, 6);
    expect(reduced.currentA / (1000 * most.reduced!.arcingKa * factor)).toBeCloseTo(1, 6);
  });
});
