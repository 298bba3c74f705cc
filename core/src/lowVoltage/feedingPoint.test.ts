/** A board from what is given at its main switch: its currents are those that were given. */
import { describe, expect, it } from 'vitest';
import { faultAt } from '../faults/iec60909/study';
import { applyChanges } from '../model/changes';
import { elementId as id } from '../model/fields';
import { find } from '../model/network';
import { Studies } from '../studies/studies';
import { demoNetwork } from '../test/demo';
import { feedingPoint, freshFeeding } from './feedingPoint';

describe('a board from a given current', () => {
  it('has the largest and the smallest current that were given, to earth as well, at the given X/R', () => {
    let count = 0;
    const demo = demoNetwork();
    const given = { ...freshFeeding, maxKa: 8, minKa: 5, xOverR: 2.5, system: 'TN-C-S' as const };
    const { changes, board } = feedingPoint(demo, given, null, () => id(`fed-${++count}`));
    const done = applyChanges(demo, changes);
    if (!done.ok) throw new Error(done.problems[0].message);
    const studies = new Studies(done.network);
    for (const [study, kA] of [
      [studies.max, 8],
      [studies.min, 5],
    ] as const)
      for (const kind of ['3ph', '1ph'] as const) {
        const found = faultAt(study, board, 0, kind);
        expect(found.ok && found.fault.ikA / 1000).toBeCloseTo(kA, 9);
        expect(found.ok && found.fault.z1.im / found.fault.z1.re).toBeCloseTo(2.5, 9);
      }
    expect(find(done.network, 'bus', board)).toMatchObject({
      nominalKv: 0.4,
      installation: { system: 'TN-C-S', rules: 'machine' },
    });
    // Right of everything that stands on the page.
    const others = [...demo.elements.values()].filter((each) => 'x' in each && !each.page && each.kind === 'bus');
    const edge = Math.max(...others.map((each) => (each.kind === 'bus' ? each.x + each.length : 0)));
    expect(find(done.network, 'bus', board)!.x).toBeGreaterThan(edge);
  });
});
