/** Currents through earth against a second solver, laws that any network of impedances obeys, and closed forms of ladders. */
import { describe, expect, it } from 'vitest';
import { add, magnitude, multiply, scale, subtract, zero, type Complex } from '../linear/complex';
import { entry } from '../linear/dense';
import { nodal, phases, randomSystem, real, wire } from '../test/earthSystem';
import { endlessLadder, ladder, sheathReduction } from './grids';
import { returnImpedances, type ReturnConductor } from './impedance';
import { solveEarth, type EarthLine, type EarthSystem } from './system';

const seeds = Array.from({ length: 60 }, (_, k) => 1800 + k);
const off = (p: Complex, q: Complex): number => magnitude(subtract(p, q));

describe('random systems', () => {
  it('are solved as one dense matrix with every wire current as an unknown solves them', () => {
    for (const seed of seeds) {
      const system = randomSystem(seed);
      for (const method of ['series', 'twoTerm'] as const) {
        const answer = solveEarth(system, method);
        const { volts, ampere } = nodal(system, method);
        const size = Math.max(...[...volts.values()].map(magnitude), 1);
        for (const name in answer.potentials)
          expect(off(answer.potentials[name], volts.get(name)!), `${seed} ${name}`).toBeLessThan(1e-7 * size);
        const most = Math.max(...[...ampere.values()].map(magnitude), 1);
        for (const { name, towers, spans, loose } of answer.lines) {
          for (const { tower, potential } of towers) {
            const own = volts.get(`${name} ${tower}`);
            if (own) expect(off(potential, own), `${seed} ${name} ${tower}`).toBeLessThan(1e-7 * size);
          }
          spans.forEach((span, k) => {
            for (const each in span)
              expect(off(span[each], ampere.get(`${name} ${k} ${each}`)!), `${seed} ${name} ${k}`).toBeLessThan(
                1e-7 * most,
              );
          });
          for (const { position, wire: each, potential, floats } of loose) {
            const own = volts.get(`${name} ${position} ${each}`);
            if (own && !floats) expect(off(potential, own)).toBeLessThan(1e-7 * size);
          }
        }
      }
    }
  });
  it('obey Kirchhoff’s law at every tower', () => {
    for (const seed of seeds) {
      const system = randomSystem(seed);
      const answer = solveEarth(system, 'series');
      system.lines.forEach((line, n) => {
        const { towers, spans } = answer.lines[n];
        const insulated = line.stretches.flatMap((stretch) =>
          stretch.spansM.map((_, k) => stretch.insulated?.[k] ?? []),
        );
        const conductors = line.stretches.flatMap((stretch) => stretch.spansM.map(() => stretch.conductors));
        for (const { tower, current } of towers) {
          const joined = (name: string, span: number) =>
            !insulated[tower - 1].includes(name) &&
            conductors[span].find((each) => each.name === name)?.bonded !== false;
          const sum = (span: number) =>
            Object.entries(spans[span]).reduce(
              (total, [name, each]) => (joined(name, span) ? add(total, each) : total),
              zero,
            );
          const put = system.fault?.line === line.name && system.fault.tower === tower ? answer.total : zero;
          const left = subtract(add(sum(tower - 1), put), add(sum(tower), current));
          expect(magnitude(left), `${seed} ${line.name} ${tower}`).toBeLessThan(1e-6 * (1 + magnitude(answer.total)));
        }
      });
    }
  });
  it('do not depend on the order of stations, lines and wires', () => {
    for (const seed of seeds) {
      const system = randomSystem(seed);
      const turned: EarthSystem = {
        ...system,
        stations: [...system.stations].reverse(),
        lines: [...system.lines].reverse().map((line) => ({
          ...line,
          stretches: line.stretches.map((stretch) => ({
            ...stretch,
            conductors: [
              ...stretch.conductors.filter(({ role }) => role === 'phase'),
              ...stretch.conductors.filter(({ role }) => role === 'return').reverse(),
            ],
          })),
        })),
      };
      const [p, q] = [solveEarth(system, 'series'), solveEarth(turned, 'series')];
      const size = Math.max(...Object.values(p.potentials).map(magnitude), 1);
      for (const name in p.potentials) expect(off(p.potentials[name], q.potentials[name])).toBeLessThan(1e-7 * size);
    }
  });
  it('are reciprocal: a current put in at one tower raises another as one there raises the first', () => {
    let compared = 0;
    for (const seed of seeds) {
      const made = randomSystem(seed);
      const towers = made.lines[0].stretches.reduce((sum, { spansM }) => sum + spansM.length, 0) - 1;
      if (towers < 2) continue;
      // No current in any phase: what is put in comes out of the earthing of the hub station.
      const silent = (line: EarthLine): EarthLine => ({
        ...line,
        current: zero,
        phases: [zero, zero, zero],
        stretches: line.stretches.map((each) => ({
          ...each,
          conductors: each.conductors.map((own): ReturnConductor => ({ ...own, share: 0 })),
        })),
      });
      const rises = (at: number, seen: number): Complex => {
        const answer = solveEarth(
          { ...made, localCurrent: real(1000), lines: made.lines.map(silent), fault: { line: 'L0', tower: at } },
          'series',
        );
        return subtract(answer.lines[0].towers[seen - 1].potential, answer.potentials.H);
      };
      const [there, back] = [rises(1, towers), rises(towers, 1)];
      expect(off(there, back)).toBeLessThan(1e-7 * Math.max(1, magnitude(there)));
      compared++;
    }
    expect(compared).toBeGreaterThan(20);
  });
});

/** One line to a source station. */
const one = (line: Partial<EarthLine>, over: { hub?: number; source?: number } = {}): EarthSystem => ({
  frequencyHz: 50,
  hub: { name: 'H', earthing: real(over.hub ?? 0.5) },
  localCurrent: zero,
  stations: [{ name: 'A', earthing: real(over.source ?? 0.8) }],
  lines: [{ name: 'L', source: 'A', current: real(5000), stretches: [], openAtHub: [], openAtSource: [], ...line }],
  fault: null,
});
const chain = (spans: number, footing: number, wires: readonly ReturnConductor[]) => [
  {
    spansM: Array.from({ length: spans }, () => 250),
    soilOhmM: 150,
    footings: Array.from({ length: spans }, () => real(footing)),
    conductors: [phases[0], ...wires],
  },
];
const parallel = (p: Complex, q: Complex): Complex => {
  const sum = add(p, q);
  const size = sum.re ** 2 + sum.im ** 2;
  return scale(multiply(multiply(p, q), { re: sum.re, im: -sum.im }), 1 / size);
};

describe('ladders', () => {
  const own = [phases[0], wire('w1', 0, 22)];
  const z = returnImpedances(own, 50, 150, 'series');
  const [zs, zm] = [scale(entry(z, 1, 1), 0.25), scale(entry(z, 1, 0), 0.25)];
  /** What is not induced of the current. */
  const notInduced = (current: Complex): Complex => {
    const size = zs.re ** 2 + zs.im ** 2;
    return subtract(current, multiply(current, scale(multiply(zm, { re: zs.re, im: -zs.im }), 1 / size)));
  };
  it.each([2, 3, 10, 40])('of %i spans to a station that does not rise: the finite ladder, with coupling', (spans) => {
    const answer = solveEarth(one({ stretches: chain(spans, 12, [own[1]]) }, { source: 1e-12 }), 'series');
    const seen = parallel(real(0.5), ladder(zs, 12, spans, 1e-12));
    const expected = multiply(notInduced(real(5000)), seen);
    expect(off(answer.potentials.H, expected) / magnitude(expected)).toBeLessThan(1e-9);
  });
  it('without end: the endless ladder, with coupling', () => {
    const answer = solveEarth(one({ stretches: chain(600, 3, [own[1]]) }), 'series');
    const expected = multiply(notInduced(real(5000)), parallel(real(0.5), endlessLadder(zs, 3)));
    expect(off(answer.potentials.H, expected) / magnitude(expected)).toBeLessThan(1e-9);
  });
  it('a sheath between stations that do not rise carries all but its reduction factor', () => {
    const core: ReturnConductor = { ...phases[0], hM: -1 };
    const sheath: ReturnConductor = { ...wire('sheath', 0, -1, 0.25), gmrM: 0.03, around: 'a' };
    const stretches = [{ spansM: [3000], soilOhmM: 100, footings: [null], conductors: [core, sheath] }];
    const answer = solveEarth(one({ stretches }, { hub: 1e-9, source: 1e-9 }), 'twoTerm');
    const impedance = entry(returnImpedances([sheath], 50, 100, 'twoTerm'), 0, 0);
    const r = sheathReduction(0.25, impedance);
    expect(off(scale(answer.lines[0].spans[0].sheath, 1 / 5000), subtract(real(1), r))).toBeLessThan(1e-7);
  });
});
