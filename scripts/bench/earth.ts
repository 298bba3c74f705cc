/** Currents through earth: lines of many towers, growing with their number, beside the general sparse solve of the same equations. */
import { readFileSync } from 'node:fs';
import { solveEarth, type EarthSystem } from '../../core/src/earthReturn/system';
import { earthStudy } from '../../core/src/earthReturn/study';
import { nodal } from '../../core/src/test/earthSystem';
import { readProject } from '../../core/src/formats/project/project';
import { networkOf } from '../../core/src/model/network';
import { Studies } from '../../core/src/studies/studies';
import { finished } from '../../core/src/working/steps';
import { say, time } from './measure';
import { sparseEarth } from './sparseEarth';

/** Lines from source stations to one, each with so many spans and wires. */
export function system(lines: number, spans: number, wires: number): EarthSystem {
  const wire = (k: number) => ({
    ...{ name: `w${k}`, role: 'return' as const, xM: 3 * k, hM: 25 + k, rOhmPerKm: 0.4, gmrM: 0.006 },
    ...{ share: 0, around: null, bonded: true },
  });
  const conductors = [
    { ...wire(0), name: 'L1', role: 'phase' as const, hM: 18, share: 1 },
    ...Array.from({ length: wires }, (_, k) => wire(k)),
  ];
  return {
    frequencyHz: 50,
    hub: { name: 'H', earthing: { re: 0.5, im: 0 } },
    localCurrent: { re: 0, im: 0 },
    stations: Array.from({ length: lines }, (_, k) => ({ name: `S${k}`, earthing: { re: 1, im: 0 } })),
    lines: Array.from({ length: lines }, (_, k) => ({
      name: `l${k}`,
      source: `S${k}`,
      current: { re: 1000, im: -3000 },
      stretches: [
        {
          spansM: Array.from({ length: spans }, (_each, n) => 250 + (n % 7) * 20),
          soilOhmM: 100,
          footings: Array.from({ length: spans }, (_each, n) => ({ re: 10 + (n % 5) * 4, im: 0 })),
          conductors,
        },
      ],
      openAtHub: [],
      openAtSource: [],
    })),
    fault: null,
  };
}

export function earth(): void {
  const group = 'currents through earth';
  const sizes = [
    [20, 250, 3, undefined],
    [20, 500, 3, undefined],
    [20, 1000, 3, 150],
    [3, 120, 2, 5],
  ] as const;
  for (const [lines, spans, wires, reach] of sizes) {
    const own = system(lines, spans, wires);
    const found = time(
      () => own,
      (asked) => solveEarth(asked, 'series'),
    );
    say({
      group,
      what: `${lines} lines of ${spans} spans, ${wires} wires`,
      unit: 'ms',
      ...found,
      ...(reach && { reach }),
    });
  }
  const large = system(20, 1000, 3);
  const sparse = time(
    () => large,
    (asked) => sparseEarth(asked, 'series'),
    { warmUp: 1, least: 3 },
  );
  // The same system, or the comparison says nothing.
  const [own, other] = [solveEarth(large, 'series').potentials.H, sparseEarth(large, 'series')];
  if (Math.hypot(own.re - other.re, own.im - other.im) > 1e-6 * Math.hypot(own.re, own.im))
    throw new Error('they differ');
  say({ group, what: 'the largest by the general sparse solve', unit: 'ms', ...sparse });
  const small = system(3, 120, 2);
  const dense = time(
    () => small,
    (asked) => nodal(asked, 'series'),
    { warmUp: 0, least: 1, forMs: 1 },
  );
  say({ group, what: '3 lines of 120 spans, 2 wires, as one dense matrix', unit: 'ms', ...dense });
  const read = readProject(readFileSync('demo/sorrel-island.json', 'utf8'));
  if (!read.ok) throw new Error('the demo cannot be read');
  const { elements } = read.project;
  const demo = time(
    () => new Studies(networkOf(elements)),
    (studies) => finished(earthStudy(studies, studies.conditions)),
    { warmUp: 1, least: 3 },
  );
  say({ group, what: 'all stations of the demo in four conditions, with the protection played', unit: 'ms', ...demo });
}
