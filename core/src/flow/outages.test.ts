/** Load flow against a dense solver of its own kind, single outages against the network assembled without the element. */
import { describe, expect, it } from 'vitest';
import { add, divide, magnitude, multiply, scale, subtract, zero, type Complex } from '../linear/complex';
import { altered } from '../model/state';
import { elementId } from '../model/fields';
import { networkOf, ofKind, type Network } from '../model/network';
import { idle } from '../model/sources';
import { voltageFactor } from '../faults/iec60909/voltageFactor';
import { demoNetwork } from '../test/demo';
import { dispatched } from '../test/dispatched';
import { everyKind } from '../test/everyKind';
import { loadedMesh, mesh } from '../test/meshNetwork';
import { Builder } from '../test/network';
import { thinned } from '../test/runs';
import { flowFigures } from './figures';
import { loadFlow, type LoadFlow } from './loadFlow';
import { contingencies, flowWithout, outages, type Outage } from './outages';

const run = (network: Network, control = true) => loadFlow(network, { voltageFactor: voltageFactor(10), control });
const all = (flow: LoadFlow): Outage[] => {
  const steps = outages(flow);
  const shares: number[] = [];
  for (;;) {
    const step = steps.next();
    if (step.done) {
      expect(shares.at(-1)).toBe(1);
      return step.value;
    }
    shares.push(step.value);
  }
};

/** Gauss–Seidel on the bus admittance matrix in plain arrays: slow, and with nothing in common but the equations. */
function gaussSeidel(flow: LoadFlow): Complex[] {
  const { matrix, base, baseMva, demands, holders } = flow.system;
  const n = matrix.n;
  const y: Complex[][] = Array.from({ length: n }, () => Array.from({ length: n }, () => zero));
  for (let j = 0; j < n; j++)
    for (let k = matrix.columnStart[j]; k < matrix.columnStart[j + 1]; k++)
      y[matrix.row[k]][j] = { re: matrix.re[k], im: matrix.im[k] };
  const v: Complex[] = Array.from({ length: n }, () => ({ re: 1, im: 0 }));
  const slack = new Set(holders.filter(({ role }) => role === 'slack').map(({ node }) => node));
  for (const { node, kv } of holders) v[node] = { re: kv / base[node], im: 0 };
  for (let round = 0; round < 20000; round++) {
    let moved = 0;
    for (let i = 0; i < n; i++) {
      if (slack.has(i)) continue;
      const size = magnitude(v[i]);
      const s = demands
        .filter(({ node, behaves }) => node === i && behaves !== 'constantImpedance')
        .reduce<Complex>(
          (sum, { mva, behaves }) => add(sum, scale(mva, -(behaves === 'constantCurrent' ? size : 1) / baseMva)),
          zero,
        );
      let current = divide({ re: s.re, im: -s.im }, { re: v[i].re, im: -v[i].im });
      for (let j = 0; j < n; j++) if (j !== i) current = subtract(current, multiply(y[i][j], v[j]));
      const next = divide(current, y[i][i]);
      moved = Math.max(moved, magnitude(subtract(next, v[i])));
      v[i] = next;
    }
    if (moved < 1e-13) return v;
  }
  throw new Error('no end');
}

describe('against a solver of its own', () => {
  it.each(['constantPower', 'constantCurrent', 'constantImpedance'] as const)(
    'a small mesh with loads of %s',
    (behaves) => {
      const network = networkOf(
        loadedMesh(mesh(30)).map((element) => (element.kind === 'load' ? { ...element, behaves } : element)),
      );
      const flow = run(network);
      expect(flow.converged).toBe(true);
      const own = gaussSeidel(flow);
      const { v, theta } = flow.solved.state;
      own.forEach((value, k) => {
        expect(v[k] * Math.cos(theta[k]), `node ${k}`).toBeCloseTo(value.re, 9);
        expect(v[k] * Math.sin(theta[k]), `node ${k}`).toBeCloseTo(value.im, 9);
      });
      expect(Math.min(...v)).toBeLessThan(0.999);
    },
  );
});

describe('single outages', () => {
  it('are the network assembled without the element, taps as they stood', () => {
    const networks = [demoNetwork(), ...thinned([1, 2, 3, 4, 5, 6, 7, 8]).map((seed) => dispatched(everyKind(seed)))];
    let compared = 0;
    for (const network of networks) {
      const flow = run(network, false);
      if (!flow.converged) continue;
      for (const id of thinned(contingencies(flow))) {
        const without = flowWithout(flow, id, false);
        const anew = run(altered(network, { out: [id] }), false);
        if (!without.converged || !anew.converged) continue;
        const [p, q] = [flowFigures(without), flowFigures(anew)];
        for (const bus of p.buses) {
          const other = q.buses.find((each) => each.bus === bus.bus)!;
          // Which machine takes the balance in an island may differ; voltages of what hangs on a feeder may not.
          if (other.kv === 0 || bus.kv === 0) continue;
          expect(bus.kv, `${bus.name} without ${id}`).toBeCloseTo(other.kv, 6);
          compared++;
        }
        expect(p.branches.some(({ element }) => element === id)).toBe(false);
        expect(p.balance.sourceMw - p.balance.loadMw - p.balance.lossMw).toBeCloseTo(0, 4);
      }
    }
    expect(compared).toBeGreaterThan(200);
  });

  it('tell of what they overload, of voltages and of what they leave without supply', () => {
    // Two lines side by side feed B; a third goes on to C.
    const b = new Builder();
    for (const bus of ['A', 'B', 'C']) b.add('bus', bus, { nominalKv: 20 });
    b.add('networkFeeder', 'N');
    b.join('N', 'A');
    const line = { lengthKm: 5, r1OhmPerKm: 0.1, x1OhmPerKm: 0.3, ratedA: 150 };
    b.add('line', 'L1', line);
    b.add('line', 'L2', { ...line, emergencyA: 240 });
    b.add('line', 'L3', line);
    b.join('L1:0', 'A', 'L1:1', 'B', 'L2:0', 'A', 'L2:1', 'B', 'L3:0', 'B', 'L3:1', 'C');
    b.add('load', 'D', { ratedMva: 6, powerFactor: 0.9 });
    b.add('load', 'E', { ratedMva: 1.5, powerFactor: 0.9 });
    b.join('D', 'B', 'E', 'C');
    const flow = run(b.network());
    const by = Object.fromEntries(all(flow).map((each) => [each.element, each]));
    expect(Object.keys(by)).toEqual(['N', 'L1', 'L2', 'L3']);
    // 7.5 MVA over one line are 217 A at 20 kV, a little more at the voltage that is left: beyond the 150 A of L1, within the 240 A of L2.
    expect(by.L2.overloads).toMatchObject([{ element: 'L1', ampere: expect.closeTo(224, -1) }]);
    expect(by.L2.overloads[0].percent).toBeCloseTo((100 * by.L2.overloads[0].ampere) / 150, 9);
    expect(by.L1.overloads).toEqual([]);
    expect(by.L1.heaviest).toMatchObject({ element: 'L2' });
    expect(by.L1.secure).toBe(true);
    expect(by.L3).toMatchObject({ unsupplied: ['C'], secure: false });
    expect(by.L3.lostMw).toBeCloseTo(1.35, 9);
    expect(by.N).toMatchObject({ unsupplied: ['A', 'B', 'C'], converged: true, secure: false });
    expect(by.L1.lowest!.percent).toBeLessThan(flowFigures(flow).buses.find(({ bus }) => bus === 'C')!.percent);
  });

  it('heed reactive limits, and say which machine stands at its limit', () => {
    const b = new Builder();
    for (const bus of ['A', 'B']) b.add('bus', bus, { nominalKv: 20 });
    b.add('networkFeeder', 'N');
    const line = { lengthKm: 10, r1OhmPerKm: 0.2, x1OhmPerKm: 0.35 };
    b.add('line', 'L1', line);
    b.add('line', 'L2', line);
    b.add('load', 'D', { ratedMva: 8, powerFactor: 0.85 });
    const operation = { ...idle, holds: 'voltage' as const, activeMw: 3, minMvar: -2, maxMvar: 6.47 };
    b.add('synchronousMachine', 'G', { ratedKv: 20, operation });
    b.join('N', 'A', 'L1:0', 'A', 'L1:1', 'B', 'L2:0', 'A', 'L2:1', 'B', 'D', 'B', 'G', 'B');
    const flow = run(b.network());
    expect(flow.holders.find(({ element }) => element === 'G')!.atLimit).toBeNull();
    const out = all(flow).find(({ element }) => element === 'L1')!;
    expect(out.limited).toEqual(['G']);
    const figures = flowFigures(flowWithout(flow, elementId('L1')));
    expect(figures.sources.find(({ element }) => element === 'G')).toMatchObject({
      atLimit: 'max',
      mvar: expect.closeTo(6.47, 9),
    });
  });

  it('that have no solution say so', () => {
    const b = new Builder();
    for (const bus of ['A', 'B']) b.add('bus', bus, { nominalKv: 20 });
    b.add('networkFeeder', 'N');
    const line = { lengthKm: 20, r1OhmPerKm: 0.2, x1OhmPerKm: 0.35 };
    b.add('line', 'L1', line);
    b.add('line', 'L2', line);
    b.add('load', 'D', { ratedMva: 25, powerFactor: 0.95 });
    b.join('N', 'A', 'L1:0', 'A', 'L1:1', 'B', 'L2:0', 'A', 'L2:1', 'B', 'D', 'B');
    const flow = run(b.network());
    expect(flow.converged).toBe(true);
    const out = all(flow).find(({ element }) => element === 'L1')!;
    expect(out).toMatchObject({ converged: false, secure: false, heaviest: null, lowest: null });
    expect(out.problems[0]).toMatchObject({ code: 'flow.diverged', element: 'B' });
  });
});

describe('figures of a load flow', () => {
  it('currents through switches are those of what hangs behind them', () => {
    const flow = run(demoNetwork());
    const { through, branches, loads } = flowFigures(flow);
    const ct = through.find(({ element }) => element === 'bra-ct32')!;
    const tl1 = branches.find(({ element }) => element === 'bra-tl1')!;
    expect(ct.ampere).toBeCloseTo(tl1.ends[0].ampere, 6);
    expect(Math.abs(ct.mw)).toBeCloseTo(Math.abs(tl1.ends[0].mw), 6);
    expect(ct.loadingPercent).toBeCloseTo((100 * ct.ampere) / 150, 6);
    expect(loads.every(({ kind }) => kind !== 'line')).toBe(true);
    for (const bus of ofKind(flow.assembly.network, 'bus')) expect(bus.nominalKv).toBeGreaterThan(0);
  });
});
