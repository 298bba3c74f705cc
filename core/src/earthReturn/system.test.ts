/** Currents that return through earth: Kirchhoff's laws of random systems, chain matrices and closed forms of ladders as second methods, electrodes by numerical integrals. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { add, divide, magnitude, multiply, polar, scale, subtract, zero, type Complex } from '../linear/complex';
import { entry } from '../linear/dense';
import * as grids from './grids';
import { carsonSeries, returnImpedances, type ReturnConductor } from './impedance';
import { EarthProblem, solveEarth, splitFactors, type EarthLine, type EarthSystem } from './system';

const phase = (name: string, xM: number, hM: number, share: number): ReturnConductor => ({
  name,
  role: 'phase',
  xM,
  hM,
  rOhmPerKm: 0.1,
  gmrM: 0.012,
  share,
  around: null,
  bonded: true,
});
const wire = (name: string, xM: number, hM: number, rOhmPerKm = 0.36, bonded = true): ReturnConductor => ({
  name,
  role: 'return',
  xM,
  hM,
  rOhmPerKm,
  gmrM: 0.007,
  share: 0,
  around: null,
  bonded,
});
const real = (ohm: number): Complex => ({ re: ohm, im: 0 });

const phases = [phase('a', -4, 14, 1), phase('b', 4, 14, 0), phase('c', 3, 18, 0)];

function line(
  name: string,
  source: string,
  current: Complex,
  over: Partial<EarthLine> & { spans?: number; footing?: number; wires?: ReturnConductor[]; spanM?: number } = {},
): EarthLine {
  const { spans = 12, footing = 15, wires = [wire('w1', 0, 22)], spanM = 300, ...rest } = over;
  return {
    name,
    source,
    current,
    stretches: [
      {
        spansM: Array.from({ length: spans }, () => spanM),
        soilOhmM: 100,
        footings: Array.from({ length: spans }, () => real(footing)),
        conductors: [...phases, ...wires],
      },
    ],
    openAtHub: [],
    openAtSource: [],
    ...rest,
  };
}

const system = (over: Partial<EarthSystem> = {}): EarthSystem => ({
  frequencyHz: 50,
  hub: { name: 'H', earthing: real(0.5) },
  localCurrent: zero,
  stations: [{ name: 'A', earthing: real(0.8) }],
  lines: [line('L', 'A', polar(5000, -1.4))],
  fault: null,
  ...over,
});

const close = (p: Complex, q: Complex, size: number) => expect(magnitude(subtract(p, q))).toBeLessThan(1e-8 * size);

describe('systems of stations and lines', () => {
  const ohms = fc.double({ min: 0.1, max: 40, noNaN: true });
  const lines = fc.array(
    fc.record({
      station: fc.constantFrom('A', 'B', 'D'),
      ampere: fc.double({ min: 10, max: 9000, noNaN: true }),
      angle: fc.double({ min: -3, max: 3, noNaN: true }),
      spans: fc.integer({ min: 1, max: 14 }),
      footing: ohms,
      two: fc.boolean(),
      insulated: fc.boolean(),
      openAtHub: fc.boolean(),
      openAtSource: fc.boolean(),
    }),
    { minLength: 1, maxLength: 4 },
  );
  it('what each source delivers comes back to it; what enters the fault leaves by earthings and towers', () => {
    fc.assert(
      fc.property(lines, ohms, fc.nat(12), (given, hub, faultAt) => {
        const made = given.map((each, k) =>
          line(`L${k}`, each.station, polar(each.ampere, each.angle), {
            spans: each.spans,
            footing: each.footing,
            wires: [wire('w1', -3, 22), ...(each.two ? [wire('w2', 3, 22, 0.5, !each.insulated)] : [])],
            openAtHub: each.openAtHub ? ['w1'] : [],
            openAtSource: each.openAtSource ? ['w1'] : [],
          }),
        );
        const spans = given[0].spans;
        const tower = spans > 1 && faultAt > 0 ? 1 + (faultAt % (spans - 1)) : null;
        const asked = system({
          hub: { name: 'H', earthing: real(hub) },
          stations: ['A', 'B', 'D'].map((name) => ({ name, earthing: real(hub / 2) })),
          lines: made,
          fault: tower === null ? null : { line: 'L0', tower },
          localCurrent: tower === null ? zero : polar(700, -1),
        });
        for (const method of ['series', 'twoTerm', 'complexDepth'] as const) {
          const answer = solveEarth(asked, method);
          const size = magnitude(answer.total) + given.reduce((sum, { ampere }) => sum + ampere, 0);
          for (const { name } of asked.stations) {
            const delivered = made.reduce(
              (sum, { source, current }) => (source === name ? add(sum, current) : sum),
              zero,
            );
            const { fromEarth, byWires } = answer.returned[name];
            close(add(fromEarth, byWires), delivered, size);
          }
          const towers = answer.lines.flatMap((each) => each.towers.map(({ current }) => current)).reduce(add, zero);
          const stations = Object.values(answer.returned)
            .map(({ fromEarth }) => fromEarth)
            .reduce(add, zero);
          // All that goes down into earth comes up again.
          close(add(answer.gridCurrent, towers), stations, size);
        }
      }),
      { numRuns: 60, seed: 18 },
    );
  });
  it('one line is what its chain of spans and towers gives', () => {
    fc.assert(
      fc.property(fc.integer({ min: 2, max: 60 }), ohms, ohms, (spans, footing, grid) => {
        const current = polar(4000, -1.3);
        const asked = system({
          hub: { name: 'H', earthing: real(grid) },
          lines: [line('L', 'A', current, { spans, footing })],
        });
        const z = returnImpedances(asked.lines[0].stretches[0].conductors, 50, 100, 'series');
        const zs = scale(entry(z, 3, 3), 0.3);
        const e = multiply(scale(entry(z, 3, 0), 0.3), scale(current, -1));
        // Potential and wire current from the hub on: V′ = V − zs·I − e, I′ = I − V′/R. Straight in the potential of the hub.
        const march = (hub: Complex, drive: boolean): Complex => {
          let v = hub;
          let i = drive ? subtract(current, divide(hub, real(grid))) : scale(divide(hub, real(grid)), -1);
          for (let k = 0; k < spans; k++) {
            v = subtract(subtract(v, multiply(zs, i)), drive ? e : zero);
            if (k < spans - 1) i = subtract(i, divide(v, real(footing)));
          }
          // At the source: what its earthing and the wire bring is what it delivers.
          return subtract(subtract(i, divide(v, real(0.8))), drive ? current : zero);
        };
        const hub = scale(divide(march(zero, true), march(real(1), false)), -1);
        const { potentials } = solveEarth(asked, 'series');
        // A chain grows by itself: over many spans it loses digits.
        expect(magnitude(subtract(potentials.H, hub)) / magnitude(hub)).toBeLessThan(1e-5);
      }),
      { numRuns: 40, seed: 18 },
    );
  });
  it('a long line is the endless ladder, with the current that is not induced', () => {
    const answer = solveEarth(system({ lines: [line('L', 'A', real(5000), { spans: 400 })] }), 'twoTerm');
    const z = returnImpedances([...phases, wire('w1', 0, 22)], 50, 100, 'twoTerm');
    const [own, mutual] = [scale(entry(z, 3, 3), 0.3), scale(entry(z, 3, 0), 0.3)];
    const endless = grids.endlessLadder(own, 15);
    const driven = scale(subtract(real(1), divide(mutual, own)), 5000);
    const grid = multiply(driven, divide(endless, add(endless, real(0.5))));
    expect(magnitude(subtract(answer.gridCurrent, grid)) / magnitude(grid)).toBeLessThan(1e-6);
    expect(splitFactors(answer).remote).toBeCloseTo(magnitude(grid) / 5000, 6);
    // In the middle nothing goes into earth any more, and the wire carries what is induced.
    const { towers, spans } = answer.lines[0];
    expect(magnitude(towers[199].current)).toBeLessThan(1e-3);
    const r = grids.reductionFactor(returnImpedances([phases[0], wire('w1', 0, 22)], 50, 100, 'twoTerm'));
    expect(magnitude(spans[200].w1) / 5000).toBeCloseTo(magnitude(subtract(real(1), r)), 6);
  });
  it('a wire that is open at the hub brings nothing there; a lower footing takes from the grid', () => {
    const open = solveEarth(system({ lines: [line('L', 'A', real(5000), { openAtHub: ['w1'] })] }), 'series');
    close(open.gridCurrent, real(5000), 5000);
    const share = (footing: number) =>
      splitFactors(solveEarth(system({ lines: [line('L', 'A', real(5000), { footing })] }), 'series')).remote;
    [50, 20, 10, 5].map(share).reduce((p, q) => (expect(q).toBeLessThan(p), q));
  });
  it('phase currents by themselves are what their shares give, and count where they cancel', () => {
    const current = polar(4000, -1.2);
    const bySum = solveEarth(system({ lines: [line('L', 'A', current)] }), 'series');
    const byPhase = solveEarth(
      system({ lines: [line('L', 'A', current, { phases: [current, zero, zero] })] }),
      'series',
    );
    close(byPhase.gridCurrent, bySum.gridCurrent, 4000);
    // Currents that add up to nought still induce in a wire that is not in their middle.
    const balanced = [0, 1, 2].map((k) => polar(4000, (-2 * Math.PI * k) / 3));
    const answer = solveEarth(system({ lines: [line('L', 'A', zero, { phases: balanced })] }), 'series');
    expect(magnitude(answer.lines[0].spans[5].w1)).toBeGreaterThan(50);
  });
  it('refuses a line to nowhere', () => {
    expect(() => solveEarth(system({ lines: [line('L', 'X', real(1))] }), 'series')).toThrow(EarthProblem);
  });
});

describe('impedances with earth as the return', () => {
  it('the series goes over into its limit for low heights, and the complex depth lies close by', () => {
    const of = (method: 'series' | 'twoTerm' | 'complexDepth', h: number) =>
      returnImpedances([phase('a', 0, h, 1), wire('w', 3, h)], 50, 100, method);
    for (const [i, j] of [
      [0, 0],
      [0, 1],
    ] as const) {
      expect(magnitude(subtract(entry(of('series', 0.01), i, j), entry(of('twoTerm', 0.01), i, j)))).toBeLessThan(1e-4);
      const exact = entry(of('series', 20), i, j);
      expect(magnitude(subtract(entry(of('complexDepth', 20), i, j), exact)) / magnitude(exact)).toBeLessThan(0.02);
    }
  });
  it('more terms change nothing that counts up to k = 1.5', () => {
    for (const k of [0.05, 0.5, 1, 1.5])
      for (const theta of [0, 0.4, 1.2]) {
        const [p, q] = [carsonSeries(k, theta), carsonSeries(k, theta, 40)];
        expect(p.p).toBeCloseTo(q.p, 10);
        expect(p.q).toBeCloseTo(q.q, 10);
      }
  });
});

describe('electrodes', () => {
  it('a rod, a wire and a ring are what even leakage gives, within a thousandth', () => {
    expect(grids.rod(200, 6, 0.008) / grids.rodByPotential(200, 6, 0.008)).toBeCloseTo(1, 3);
    expect(grids.wire(200, 20, 0.005, 0.7) / grids.wireByPotential(200, 20, 0.005, 0.7)).toBeCloseTo(1, 3);
    expect(grids.ring(200, 20, 0.01, 0.6) / grids.ringByPotential(200, 20, 0.01, 0.6)).toBeCloseTo(1, 3);
  });
  it('two layers of one soil are one soil; a better lower layer helps', () => {
    const same = { upperOhmM: 150, lowerOhmM: 150, thicknessM: 5 };
    expect(grids.rodInTwoLayers(same, 3, 0.01)).toBeCloseTo(grids.rod(150, 3, 0.01), 9);
    expect(grids.wennerOhmM(same, 4)).toBeCloseTo(150, 9);
    expect(grids.rodInTwoLayers({ ...same, lowerOhmM: 10 }, 3, 0.01)).toBeLessThan(grids.rod(150, 3, 0.01));
    const soil = { upperOhmM: 400, lowerOhmM: 50, thicknessM: 4 };
    expect(grids.wennerOhmM(soil, 0.1)).toBeCloseTo(400, 0);
    expect(grids.wennerOhmM(soil, 500)).toBeCloseTo(50, 0);
  });
  it('a finite ladder goes over into the endless one', () => {
    const span = { re: 0.2, im: 0.4 };
    const far = grids.ladder(span, 10, 300, null);
    close(far, grids.endlessLadder(span, 10), 10);
  });
  it('permissible voltages fall with time, exactly through the table', () => {
    expect([0.01, 0.05, 0.2, 1, 5, 60].map(grids.permissibleTouchV)).toEqual([716, 716, 537, 117, 86, 85]);
    let before = Infinity;
    for (let t = 0.05; t < 12; t *= 1.1) {
      expect(grids.permissibleTouchV(t)).toBeLessThanOrEqual(before);
      before = grids.permissibleTouchV(t);
    }
  });
});
