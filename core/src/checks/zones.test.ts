/** Zones of a distance relay against the far end of its line, over all conditions. */
import { describe, expect, it } from 'vitest';
import { elementId } from '../model/fields';
import { find, withElements, type Network } from '../model/network';
import { withFunction } from '../protection/device';
import type { DistanceFunction } from '../protection/distance/schema';
import { reachPlan, withReaches } from '../reach/plan';
import { Studies } from '../studies/studies';
import { demoNetwork } from '../test/demo';
import { distanceNetwork, distanceRelay } from '../test/distance';
import { checked, Checker, findingsOf, workingOf } from './run';
import { zonesRule } from './settings/zones';

const demo = demoNetwork();
const start = distanceNetwork(demo);
const relayOf = (network: Network) => find(network, 'relay', distanceRelay)!;
const fnOf = (network: Network) => relayOf(network).functions[0] as DistanceFunction;
const put = (fn: DistanceFunction) => withElements(start, [withFunction(relayOf(start), fn)]);
const plan = (() => {
  const steps = reachPlan(new Studies(start), { merged: false, fromKv: 50 });
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
})();
const row = plan.find(({ relay }) => relay?.fn)!;
const asProposed = withReaches(row.relay!, row)!;
const checksOf = (network: Network) => {
  const steps = new Checker([zonesRule]).run(new Studies(network));
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value.checks;
  }
};
const stretched = (name: string, factor: number): DistanceFunction => ({
  ...asProposed,
  zones: asProposed.zones.map((zone) =>
    zone.name === name
      ? { ...zone, reachOhm: zone.reachOhm * factor, reachEarthOhm: zone.reachEarthOhm * factor }
      : zone,
  ),
});

describe('zones against the far end', () => {
  it('hold as the rulebook proposes them', () => {
    const found = checksOf(put(asProposed));
    expect(found.map(({ code, verdict }) => [code, verdict])).toEqual([
      ['setting.zone1', 'holds'],
      ['setting.zone2', 'holds'],
    ]);
    const [first, second] = found;
    // 0.85 of the line ahead, at the least; zone 2 well beyond the line.
    expect(first.value!).toBeGreaterThan(1.05);
    expect(first.value!).toBeLessThan(1.3);
    expect(second.value!).toBeLessThan(0.95);
  });
  it('are told: a first zone that reaches the far busbar, a second that does not', () => {
    const long = checksOf(put(stretched('1', 1.25)));
    expect(long[0]).toMatchObject({ code: 'setting.zone1', verdict: 'short' });
    expect(long[0].message).toMatch(
      /^FER Q03 relay: an? .* fault at the far busbar comes to 0\.\d+ of the reach of zone 1, which with 5 % of error sees it$/,
    );
    const short = checksOf(put(stretched('2', 0.8)));
    expect(short[1]).toMatchObject({ code: 'setting.zone2', verdict: 'short' });
    // Just inside of the error it is not yet told.
    expect(checksOf(put(stretched('2', 0.89)))[1].verdict).toBe('holds');
  });
  it('are the same circle or quadrilateral', () => {
    for (const characteristic of ['mho', 'quadrilateral'] as const)
      expect(checksOf(put({ ...asProposed, characteristic })).map(({ verdict }) => verdict)).toEqual([
        'holds',
        'holds',
      ]);
  });
  it('have a working that can be followed, and leave a finding', () => {
    const studies = new Studies(put(stretched('1', 1.25)));
    const run = checked(studies);
    const own = run.checks.find(({ code }) => code === 'setting.zone1')!;
    expect(workingOf(studies, studies.conditions, own)!.sections.length).toBeGreaterThan(0);
    expect(
      findingsOf(run, studies.network).some(
        ({ code, element }) => code === 'setting.zone1' && element === distanceRelay,
      ),
    ).toBe(true);
  });
  it('say nothing of relays without a distance function, or without voltage', () => {
    expect(checksOf(withElements(start, [{ ...relayOf(start), functions: [] }]))).toEqual([]);
    const relay = relayOf(start);
    const blind = withElements(start, [{ ...relay, inputs: relay.inputs.filter(({ type }) => type === 'current') }]);
    expect(checksOf(blind)).toEqual([]);
    expect(fnOf(blind).enabled).toBe(true);
  });
  it('with a coupled line: earthed it lengthens zone 1, in service it shortens zone 2, unless its current is measured', () => {
    const relay = find(demo, 'relay', elementId('fer-q01-relay'))!;
    const told = (network: Network) =>
      checksOf(network)
        .filter(({ subject }) => subject === relay.id)
        .map(({ verdict, message }) => `${verdict}: ${message}`);
    const [first, second] = told(demo);
    expect(first).toMatch(
      /^short: FER Q01 relay: a .* fault.* at the far busbar, CAU-FER 2 out and earthed, comes to 0\.8/,
    );
    expect(second).toMatch(/^short: .* comes to 1\.0\d+ of the reach of zone 2/);
    const beside = {
      id: elementId('beside'),
      type: 'current' as const,
      element: elementId('fer-ct02'),
      towards: 0 as const,
      reversed: false,
      star: null,
    };
    const fn = { ...(relay.functions[0] as DistanceFunction), parallelInput: beside.id, k0m: 0.584, k0mAngleDeg: 1 };
    const measured = told(withElements(demo, [{ ...relay, inputs: [...relay.inputs, beside], functions: [fn] }]));
    // An earthed line is measured by nobody.
    expect(measured[0]).toBe(first);
    expect(measured[1]).toMatch(/^holds: .* comes to 0\.6/);
  });
});
