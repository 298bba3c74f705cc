import { describe, expect, it } from 'vitest';
import { altered } from '../../model/state';
import type { ElementId } from '../../model/fields';
import { ofKind, type Network } from '../../model/network';
import { terminalKey } from '../../model/topology';
import { demoNetwork } from '../../test/demo';
import { everyKind } from '../../test/everyKind';
import { networkOf } from '../../model/network';
import { mesh, meshElements } from '../../test/meshNetwork';
import { faultAtPlace, faultFlows, iec60909Study, outageStudy, terminalPlace } from '../iec60909/study';
import { faultKinds, solidFault } from '../kinds';
import { sequences, type Place } from '../solution/solve';
import { sweep, type SweepSolution } from './sweep';

const placesOf = (network: Network, some: number): Place[] => [
  ...ofKind(network, 'bus').map((bus) => terminalPlace(bus.id)),
  ...ofKind(network, 'line')
    .slice(0, some)
    .map((line, k): Place => ({ at: 'line', element: line.id, fraction: 0.1 + 0.08 * (k % 10) })),
];

/** Every fault of a sweep against the engine on the network without the element, from nothing. */
function compare(network: Network, some: number, branches = 6) {
  const study = iec60909Study(network, 'max');
  const anew = new Map<ElementId | null, ReturnType<typeof iec60909Study>>();
  const studyWithout = (outage: ElementId | null) => {
    let made = anew.get(outage);
    if (!made) {
      const left = outage === null ? network : altered(network, { out: [outage] });
      anew.set(outage, (made = iec60909Study(left, 'max')));
    }
    return made;
  };
  const updates = new Map<ElementId, typeof study>();
  const updatedStudy = (outage: ElementId | null) => {
    if (outage === null) return study;
    let made = updates.get(outage);
    if (!made) updates.set(outage, (made = outageStudy(study, outage)));
    return made;
  };
  const tally = { solved: 0, refused: 0, outages: 0, carrying: 0 };
  sweep(study, { places: placesOf(network, some), kinds: faultKinds, branches }, (solution: SweepSolution) => {
    const { place, kind, outage, ok, fault, currents } = solution;
    const about = `${kind} at ${JSON.stringify(place)} without ${outage}`;
    if (outage !== null && place.element === outage) return expect(ok, about).toBe(false);
    const result = faultAtPlace(studyWithout(outage), place, solidFault(kind));
    expect(ok, about).toBe(result.ok);
    if (!result.ok) return void tally.refused++;
    tally.solved++;
    if (outage !== null) tally.outages++;
    const flows = faultFlows(result.fault);
    const second = faultAtPlace(updatedStudy(outage), place, solidFault(kind));
    if (!second.ok) throw new Error(about);
    const updated = faultFlows(second.fault);
    const { components, ikA } = result.fault;
    // An isolated network has no fault current to measure by; what rounding leaves of one is none.
    const scale = Math.max(ikA, 1);
    sequences.forEach((sequence, s) => {
      const { re, im } = components[sequence];
      expect(Math.hypot(fault[2 * s] - re, fault[2 * s + 1] - im) / scale, `${about}, ${sequence}`).toBeLessThan(1e-6);
      solution.branches.forEach(({ element, terminal }, k) => {
        const key = terminalKey(element, terminal);
        const [out, same] = [flows, updated].map((each) => each.get(key)?.[sequence] ?? { re: 0, im: 0 });
        const [x, y] = [currents[6 * k + 2 * s], currents[6 * k + 2 * s + 1]];
        if (Math.hypot(x, y) > 0.01 * scale) tally.carrying++;
        const where = `${about}, ${sequence} in ${element}`;
        expect(Math.hypot(x + same.re, y + same.im) / scale, where).toBeLessThan(1e-6);
        // A part that the outage cuts off keeps its phase position here, and takes one of its own there.
        expect(Math.abs(Math.hypot(x, y) - Math.hypot(out.re, out.im)) / scale, where).toBeLessThan(1e-6);
      });
    });
  });
  return tally;
}

describe('sweeps over places, kinds and outages', () => {
  it('agree with the engine, refactored for every outage: networks of every kind of element', () => {
    const sum = { solved: 0, refused: 0, outages: 0, carrying: 0 };
    for (let seed = 1; seed <= 8; seed++) {
      const tally = compare(everyKind(seed).network, 4);
      for (const key of Object.keys(sum) as (keyof typeof sum)[]) sum[key] += tally[key];
    }
    expect(sum.outages).toBeGreaterThan(1000);
    expect(sum.carrying).toBeGreaterThan(5000);
  });

  it('agree on a mesh full of branches that alone tie a part to the rest, and on the demo', () => {
    const { outages, refused } = compare(networkOf(meshElements(mesh(40))), 20, 10);
    expect(outages).toBeGreaterThan(1000);
    expect(refused).toBeGreaterThan(50);
    expect(compare(demoNetwork(), 10).outages).toBeGreaterThan(300);
  });
});
