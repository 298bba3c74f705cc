/** What the load flow lays over the drawing: a feeder of 11 kV with a load at its end, and a bus that nothing feeds. */
import { describe, expect, it } from 'vitest';
import { voltageFactor } from '@mesura/core/faults/iec60909/voltageFactor';
import { flowFigures } from '@mesura/core/flow/figures';
import { loadFlow } from '@mesura/core/flow/loadFlow';
import { defaultSettings } from '@mesura/core/model/element';
import { elementId } from '@mesura/core/model/fields';
import { settingsOf } from '@mesura/core/model/network';
import { Builder } from '@mesura/core/test/network';
import { loadingNearness, overlayOf, voltageNearness } from './overlay';

const colours = { warn: 'amber', fail: 'red' };

/** The end of the line that the load hangs at is its terminal 0 where it is laid backwards. */
function feeder(backwards: boolean, ratedA: number) {
  const b = new Builder({ loadLimits: { ...defaultSettings.loadLimits, emergencyLoadingPercent: 120 } });
  b.add('bus', 'A', { nominalKv: 11 });
  b.add('bus', 'B', { nominalKv: 11 });
  b.add('bus', 'Dead', { nominalKv: 11 });
  b.add('networkFeeder', 'Q');
  b.add('line', 'L', { lengthKm: 1, r1OhmPerKm: 0.2, x1OhmPerKm: 0.3, ratedA });
  b.add('load', 'D', { ratedMva: 4, powerFactor: 1 });
  b.join('Q', 'A', backwards ? 'L:1' : 'L:0', 'A', backwards ? 'L:0' : 'L:1', 'B', 'D', 'B');
  const network = b.network();
  return {
    figures: flowFigures(loadFlow(network, { voltageFactor: voltageFactor(10) })),
    limits: settingsOf(network).loadLimits,
  };
}
const laid = (backwards: boolean, ratedA: number, emergency = false) => {
  const { figures, limits } = feeder(backwards, ratedA);
  return overlayOf(figures, limits, emergency, { branchFigure: 'loading', busFigure: 'percent' }, colours, true);
};
const at = <T>(map: ReadonlyMap<unknown, T>, name: string) => map.get(elementId(name));

describe('the load flow on the drawing', () => {
  it('points the way the active power goes, however the line was drawn', () => {
    expect(at(laid(false, 400).flows, 'L')?.leavesAt).toBe(1);
    expect(at(laid(true, 400).flows, 'L')?.leavesAt).toBe(0);
    expect(at(laid(false, 400).flows, 'D')?.leavesAt).toBe(-1);
  });
  it('marks what is near its rating, and beyond; in an emergency more is allowed', () => {
    // About 210 A: 4 MW at a little under 11 kV.
    const { figures, limits } = feeder(false, 400);
    const ampere = figures.branches[0].ends[0].ampere;
    expect(ampere).toBeCloseTo(4000 / (Math.sqrt(3) * figures.buses.find(({ name }) => name === 'B')!.kv), 6);
    const rated = (percent: number) => (100 * ampere) / percent;
    expect(at(laid(false, rated(0.5 * limits.loadingPercent)).marks, 'L')).toBeUndefined();
    expect(at(laid(false, rated(0.95 * limits.loadingPercent)).marks, 'L')).toBe('amber');
    const beyond = rated(1.02 * limits.loadingPercent);
    expect(at(laid(false, beyond).marks, 'L')).toBe('red');
    expect(at(laid(false, beyond, true).marks, 'L')).not.toBe('red');
  });
  it('says of a bus without supply that it is dead, and finds no fault with its voltage', () => {
    const { tags, marks } = laid(false, 400);
    expect(at(tags, 'Dead')).toMatchObject({ lines: ['dead'], title: 'Dead: without supply', active: false });
    expect(at(marks, 'Dead')).toBeUndefined();
  });
});

describe('nearness', () => {
  it('counts from 90 % of what is allowed; what has no rating is far', () => {
    expect([90, 90.1, 100, 100.1].map((percent) => loadingNearness(percent, 100))).toEqual([
      'far',
      'near',
      'near',
      'beyond',
    ]);
    expect([108, 109, 121].map((percent) => loadingNearness(percent, 120))).toEqual(['far', 'near', 'beyond']);
    expect(loadingNearness(null, 100)).toBe('far');
  });
  it('of a voltage is its band, wider in an emergency', () => {
    const { limits } = feeder(false, 400);
    expect(voltageNearness(89, limits, false)).toBe('beyond');
    expect(voltageNearness(100, limits, false)).toBe('far');
    const between = [...Array(40).keys()].map((k) => 80 + k);
    const outside = (emergency: boolean) => between.filter((u) => voltageNearness(u, limits, emergency) === 'beyond');
    expect(outside(true).length).toBeLessThan(outside(false).length);
  });
});
