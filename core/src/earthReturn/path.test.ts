/** Paths of return laid out: lengths, footings, directions, cables and how their sheaths are bonded. */
import { describe, expect, it } from 'vitest';
import { add, magnitude, polar, scale, zero, type Complex } from '../linear/complex';
import type { Tower } from '../model/branches';
import {
  usualPath,
  usualSheath,
  usualStretch,
  type CableSheath,
  type ReturnPath,
  type ReturnStretch,
} from '../model/earthing';
import { elementId } from '../model/fields';
import { wire as wireOhm } from './grids';
import { laid, wiresOf, type LaidLine } from './path';
import { solveEarth, type EarthSystem } from './system';

const conductor = (circuit: number, phase: number, xM: number, heightM: number) => ({
  ...{ circuit, phase, xM, heightM, rOhmPerKm: 0.3, gmrMm: 7, radiusMm: 8, bundle: 1, bundleSpacingMm: 0 },
  ...{ sectionMm2: 80, metal: 'aluminium' as const },
});
const tower: Tower = {
  kind: 'tower',
  id: elementId('T'),
  name: 'T',
  earthResistivityOhmM: 250,
  conductors: [
    ...[1, 2, 3].map((phase) => conductor(1, phase, -3, 12 + 3 * phase)),
    ...[1, 2, 3].map((phase) => conductor(2, phase, 3, 12 + 3 * phase)),
    conductor(0, 0, -1, 25),
    conductor(0, 0, 1, 25),
  ],
};
const named = (id: string | null) => (id === 'T' ? tower : undefined);
const path = (stretches: Partial<ReturnStretch>[], over: Partial<ReturnPath> = {}): ReturnPath => ({
  ...usualPath,
  stretches: stretches.map((each) => ({ ...usualStretch, tower: tower.id, ...each })),
  ...over,
});
const cable = (sheath: Partial<CableSheath>, over: Partial<ReturnStretch> = {}): Partial<ReturnStretch> => ({
  kind: 'cable',
  tower: null,
  footingOhm: null,
  sheath: { ...usualSheath, ...sheath },
  ...over,
});

/** From station H to A over the line, a current in phase L1, or in all three. */
const systemOf = (
  found: LaidLine,
  over: { current?: Complex; phases?: Complex[]; hub?: number; far?: number } = {},
): EarthSystem => ({
  frequencyHz: 50,
  hub: { name: 'H', earthing: { re: over.hub ?? 0.5, im: 0 } },
  localCurrent: zero,
  stations: [{ name: 'A', earthing: { re: over.far ?? 0.8, im: 0 } }],
  lines: [
    {
      name: 'L',
      source: 'A',
      current: over.phases ? over.phases.reduce(add, zero) : (over.current ?? { re: 2000, im: -4000 }),
      ...(over.phases && { phases: over.phases }),
      stretches: found.stretches,
      openAtHub: found.openAtStart,
      openAtSource: found.openAtEnd,
    },
  ],
  fault: null,
});

describe('towers', () => {
  it('spans of one length make up what the stretches leave; individual ones stand as typed', () => {
    const found = laid(
      path([{ spanM: 290 }, { lengthKm: 2, spanM: 400 }, { spansM: [310, 280, 295] }]),
      12,
      [1],
      named,
    );
    expect(found.stretches.map(({ spansM }) => spansM.length)).toEqual([Math.round(9115 / 290), 5, 3]);
    expect(found.distancesM.at(-1)).toBeCloseTo(12_000, 6);
    expect(found.remarks).toEqual([]);
    expect(laid(path([{ lengthKm: 5 }]), 12, [1], named).remarks[0]).toContain('5 km together, the line 12 km');
    expect(laid(path([{ lengthKm: 15 }, {}]), 12, [1], named).remarks[0]).toContain('longer than the line');
  });
  it('footings one by one, the others as given, or scattered about their median and the same every time', () => {
    const ohms = (stretch: Partial<ReturnStretch>) =>
      laid(path([stretch]), 60, [1], named).stretches[0].footings.map((each) => each?.re);
    expect(ohms({ footingsOhm: [3, 4], footingOhm: 20 }).slice(0, 3)).toEqual([3, 4, 20]);
    const scattered = ohms({ footingOhm: 20, spread: 1.6 });
    expect(scattered).toEqual(ohms({ footingOhm: 20, spread: 1.6 }));
    expect(scattered).not.toEqual(ohms({ footingOhm: 20, spread: 1.6, seed: 2 }));
    // One that is typed moves no other.
    expect(ohms({ footingOhm: 20, spread: 1.6, footingsOhm: [7] }).slice(1)).toEqual(scattered.slice(1));
    const logs = scattered.map((ohm) => Math.log(ohm! / 20));
    const mean = logs.reduce((sum, each) => sum + each, 0) / logs.length;
    const deviation = Math.sqrt(logs.reduce((sum, each) => sum + (each - mean) ** 2, 0) / logs.length);
    expect(Math.abs(mean)).toBeLessThan(0.1);
    expect(Math.exp(deviation)).toBeGreaterThan(1.45);
    expect(Math.exp(deviation)).toBeLessThan(1.75);
  });
  it('the circuits asked for, the first phase of the first one faulted, and all shield wires', () => {
    const [{ conductors, soilOhmM }] = laid(path([{}]), 3, [2, 1], named).stretches;
    expect(conductors.map(({ name }) => name)).toEqual([
      'L1',
      'L2',
      'L3',
      '1L1',
      '1L2',
      '1L3',
      'shield wire 1',
      'shield wire 2',
    ]);
    expect(conductors.filter(({ share }) => share > 0).map(({ name, xM }) => [name, xM])).toEqual([['L1', 3]]);
    expect(soilOhmM).toBe(250);
    expect(laid(path([{ soilOhmM: 40 }]), 3, [1], named).stretches[0].soilOhmM).toBe(40);
  });
  it('the same line from its other end', () => {
    const own = path(
      [
        { lengthKm: 1.5, footingsOhm: [3, 9, 27, 5, 6], spansM: null },
        { soilOhmM: 900, footingOhm: 44, spread: 1.5, insulated: true },
        cable({ bonding: 'from' }, { lengthKm: 0.8 }),
      ],
      { insulatedAt: [2, 3], openFrom: ['shield wire 1'] },
    );
    const [there, back] = [false, true].map((reversed) => laid(own, 6, [1], named, reversed));
    expect(back.distancesM).toHaveLength(there.distancesM.length);
    const one = solveEarth(systemOf(there), 'series');
    // The current comes from A to H either way: from the other end H is the source.
    const system = systemOf(back);
    const other = solveEarth(
      {
        ...system,
        hub: { name: 'A', earthing: system.stations[0].earthing },
        stations: [{ name: 'H', earthing: system.hub.earthing }],
        lines: [{ ...system.lines[0], source: 'H', current: scale(system.lines[0].current, -1) }],
      },
      'series',
    );
    const towers = one.lines[0].towers.map(({ potential }) => potential);
    const mirrored = [...other.lines[0].towers].reverse().map(({ potential }) => potential);
    towers.forEach((each, k) => {
      expect(each.re).toBeCloseTo(mirrored[k].re, 6);
      expect(each.im).toBeCloseTo(mirrored[k].im, 6);
    });
  });
  it('insulated at single towers, or between stations altogether', () => {
    const currents = (over: Partial<ReturnPath>, stretch: Partial<ReturnStretch> = {}) =>
      solveEarth(systemOf(laid(path([stretch], over), 3, [1], named)), 'series').lines[0];
    const plain = currents({});
    const apart = currents({ insulatedAt: [4] });
    // The wire passes the tower by: what comes goes on.
    expect(magnitude(apart.towers[3].current)).toBeLessThan(1e-9);
    expect(magnitude(plain.towers[3].current)).toBeGreaterThan(1);
    for (const wire of ['shield wire 1', 'shield wire 2'])
      expect(magnitude(apart.spans[3][wire]) / magnitude(apart.spans[4][wire])).toBeCloseTo(1, 9);
    const { spans } = currents({}, { insulated: true });
    for (const span of spans)
      expect(magnitude(span['shield wire 1'])).toBeCloseTo(magnitude(spans[0]['shield wire 1']), 6);
  });
  it('a counterpoise takes from the footing of every tower what its length leaks', () => {
    const bare = {
      name: 'counterpoise',
      lies: 'bare',
      xM: 0,
      heightM: -0.7,
      rOhmPerKm: 0.39,
      gmrMm: 4,
      sectionMm2: 50,
      metal: 'copper',
    } as const;
    const [{ footings, spansM, soilOhmM }] = laid(path([{ wires: [bare] }]), 3, [1], named).stretches;
    const span = wireOhm(soilOhmM, spansM[0] / 2, 0.004, 0.7);
    expect(footings[3]!.re).toBeCloseTo(1 / (1 / 15 + 1 / span), 9);
    const { heated } = laid(path([{ wires: [bare] }]), 3, [1], named);
    expect([...heated.keys()]).toEqual(['shield wire 1', 'shield wire 2', 'counterpoise']);
  });
});

describe('cables', () => {
  const sheathA = (sheath: Partial<CableSheath>, phases?: Complex[]) => {
    const found = laid(path([cable(sheath)]), 3, [1], named);
    const answer = solveEarth(systemOf(found, phases ? { phases } : {}), 'series');
    return { found, answer, spans: answer.lines[0].spans };
  };
  const balanced = [0, 1, 2].map((k) => polar(600, (-2 * Math.PI * k) / 3));
  it('sheaths bonded at both ends bring back most of the current; at one end nothing', () => {
    const { spans, answer } = sheathA({ bonding: 'both' });
    expect(spans).toHaveLength(1);
    expect(magnitude(answer.gridCurrent) / magnitude(answer.remote)).toBeLessThan(0.2);
    for (const bonding of ['from', 'to'] as const) {
      const open = sheathA({ bonding });
      for (const name in open.spans[0]) expect(magnitude(open.spans[0][name])).toBeLessThan(1e-6);
      expect(magnitude(open.answer.gridCurrent) / magnitude(open.answer.remote)).toBeCloseTo(1, 9);
      expect(open.answer.lines[0].loose.map(({ position }) => position)).toEqual(
        Array(3).fill(bonding === 'from' ? 1 : 0),
      );
    }
  });
  // Flat, the outer cores are not in the middle of the sheaths: something little remains that earth returns.
  it('cross-bonded sheaths carry next to nothing of balanced currents, bonded ones do', () => {
    const circulating = (bonding: CableSheath['bonding'], formation: CableSheath['formation']) => {
      const { spans } = sheathA({ bonding, formation, spacingM: 0.2 }, balanced);
      return Math.max(...spans.flatMap((span) => Object.values(span).map(magnitude)));
    };
    expect(circulating('both', 'flat')).toBeGreaterThan(50);
    expect(circulating('cross', 'flat')).toBeLessThan(0.05 * circulating('both', 'flat'));
    expect(circulating('cross', 'trefoil')).toBeLessThan(0.01);
  });
  it('cross-bonded sheaths return an earth fault current; joints of major sections are earthed', () => {
    const found = laid(path([cable({ bonding: 'cross', majorM: 1000 }, { footingOhm: 8 })]), 3, [1], named);
    expect(found.stretches).toHaveLength(9);
    expect(found.stretches.map(({ footings }) => footings[0]?.re ?? null)).toEqual([
      null,
      null,
      8,
      null,
      null,
      8,
      null,
      null,
      8,
    ]);
    const answer = solveEarth(systemOf(found), 'series');
    expect(magnitude(answer.gridCurrent) / magnitude(answer.remote)).toBeLessThan(0.35);
  });
  it('one sheath around three cores takes what all three induce', () => {
    const { spans } = sheathA({ formation: 'threeCore' });
    const same = sheathA({ formation: 'threeCore' }, [zero, { re: 2000, im: -4000 }, zero]);
    expect(spans[0].sheath.re / same.spans[0].sheath.re).toBeCloseTo(1, 7);
    const nothing = sheathA({ formation: 'threeCore' }, balanced);
    expect(magnitude(nothing.spans[0].sheath)).toBeLessThan(1e-4);
  });
  it('two cables on a line have sheaths of their own', () => {
    const own = path([cable({}, { lengthKm: 0.5 }), {}, cable({ bonding: 'to' }, { lengthKm: 0.7 })]);
    expect(wiresOf(own, named)).toEqual([
      'sheath 1 1',
      'sheath 2 1',
      'sheath 3 1',
      'shield wire 1',
      'shield wire 2',
      'sheath 1 3',
      'sheath 2 3',
      'sheath 3 3',
    ]);
    const { spans } = solveEarth(systemOf(laid(own, 4, [1], named)), 'series').lines[0];
    // Open where the second cable begins: nothing in it.
    expect(magnitude(spans.at(-1)!['sheath 1 3'])).toBeLessThan(1e-6);
    expect(magnitude(spans[0]['sheath 1 1'])).toBeGreaterThan(100);
  });
});
