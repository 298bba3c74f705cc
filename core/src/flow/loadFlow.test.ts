import { describe, expect, it } from 'vitest';
import { add, magnitude, multiply, scale, zero, type Complex } from '../linear/complex';
import { elementId, type ElementId } from '../model/fields';
import { idle } from '../model/sources';
import { terminalKey } from '../model/topology';
import type { Network } from '../model/network';
import { voltageFactor } from '../faults/iec60909/voltageFactor';
import { everyKind } from '../test/everyKind';
import { dispatched } from '../test/dispatched';
import { Builder } from '../test/network';
import { nodeVoltage } from './figures';
import { loadFlow, type LoadFlow } from './loadFlow';

const run = (network: Network) => loadFlow(network, { voltageFactor: voltageFactor(10) });
const level = { given: 'current' as const, ikKa: 20, skMva: null, rOverX: 0.1, x0OverX1: 1, r0OverX0: 0.1 };
const kvAt = (flow: LoadFlow, bus: string) => nodeVoltage(flow, flow.assembly.topology.nodeAt(elementId(bus), 0)!).kv;

function twoBuses(over: object = {}) {
  const b = new Builder();
  b.add('bus', 'A', { nominalKv: 20 });
  b.add('bus', 'B', { nominalKv: 20 });
  b.add('networkFeeder', 'N', { max: level, min: level });
  b.add('line', 'L', { lengthKm: 10, r1OhmPerKm: 0.2, x1OhmPerKm: 0.35, ...over });
  b.join('N', 'A', 'L:0', 'A', 'L:1', 'B');
  return b;
}

describe('load flow', () => {
  it.each([
    ['lagging', 1],
    ['leading', -1],
  ] as const)('two buses, a %s load, closed form: U2² from the quadratic equation of the feeder', (reactive, sign) => {
    const b = twoBuses();
    b.add('load', 'O', { ratedMva: 5, powerFactor: 0.9, reactive });
    b.join('O', 'B');
    const flow = run(b.network());
    expect(flow.converged).toBe(true);
    const [r, x, p, q] = [2, 3.5, 4.5, sign * 5 * Math.sqrt(1 - 0.81)];
    // (U²)² + U²·(2(RP + XQ) − U1²) + (R² + X²)(P² + Q²) = 0
    const half = (400 - 2 * (r * p + x * q)) / 2;
    const u2 = Math.sqrt(half + Math.sqrt(half ** 2 - (r * r + x * x) * 25));
    expect(kvAt(flow, 'B')).toBeCloseTo(u2, 8);
  });

  it('a constant-impedance load divides the voltage', () => {
    const b = twoBuses();
    b.add('load', 'O', { ratedMva: 5, powerFactor: 1, behaves: 'constantImpedance' });
    b.join('O', 'B');
    // Z = 400/5 = 80 Ω
    expect(kvAt(run(b.network()), 'B')).toBeCloseTo((20 * 80) / Math.hypot(82, 3.5), 8);
  });

  it('powers balance at every node of random networks of every kind', () => {
    let tried = 0;
    for (let seed = 1; seed <= 40; seed++) {
      const every = everyKind(seed);
      const flow = run(dispatched(every));
      if (!flow.converged) continue;
      tried++;
      const { topology, supplied } = flow.assembly;
      for (const node of topology.nodes) {
        if (!supplied[node.index]) continue;
        const sum = node.terminals.reduce<Complex>((total, key) => add(total, flow.currents.get(key) ?? zero), zero);
        const largest = Math.max(1, ...node.terminals.map((key) => magnitude(flow.currents.get(key) ?? zero)));
        expect(magnitude(sum) / largest, `seed ${seed}, node of ${node.terminals[0]}`).toBeLessThan(1e-5);
      }
      // What the loads were told to draw is what they draw: S = 3·V·I*.
      for (const demand of flow.demands) {
        if (demand.behaves !== 'constantPower') continue;
        const v = { re: flow.voltages.re[demand.node], im: flow.voltages.im[demand.node] };
        if (magnitude(v) === 0) continue;
        const i = flow.currents.get(terminalKey(demand.element, demand.terminal))!;
        const s = scale(multiply(v, { re: i.re, im: -i.im }), 3e-6);
        if (flow.demands.filter((other) => other.element === demand.element).length === 1) {
          expect(s.re).toBeCloseTo(demand.mva.re, 6);
          expect(s.im).toBeCloseTo(demand.mva.im, 6);
        }
      }
    }
    expect(tried).toBeGreaterThan(30);
  });

  const withMachine = (operation: object) => {
    const b = twoBuses();
    b.add('load', 'O', { ratedMva: 8, powerFactor: 0.85 });
    b.add('synchronousMachine', 'G', { ratedKv: 20, operation: { ...idle, ...operation } });
    b.join('O', 'B', 'G', 'B');
    return run(b.network());
  };

  it('a machine holds its voltage while its reactive power lasts, and says when it does not', () => {
    const free = withMachine({ holds: 'voltage', activeMw: 3, voltagePercent: 100 });
    expect(kvAt(free, 'B')).toBeCloseTo(20, 8);
    const given = free.holders.find((holder) => holder.element === 'G')!;
    expect(given.mva.re).toBe(3);
    expect(given.mva.im).toBeGreaterThan(2);
    const bound = withMachine({ holds: 'voltage', activeMw: 3, voltagePercent: 100, minMvar: -1, maxMvar: 1.5 });
    expect(kvAt(bound, 'B')).toBeLessThan(20);
    expect(bound.holders.find((holder) => holder.element === 'G')).toMatchObject({ atLimit: 'max', mva: { im: 1.5 } });
    expect(bound.problems).toMatchObject([{ code: 'flow.limit', element: 'G' }]);
  });

  it('a tap changer brings the voltage to within a step, and says when it stands at its end', () => {
    const make = (steps: number) => {
      const b = twoBuses();
      b.add('bus', 'C', { nominalKv: 0.4 });
      b.add('transformer', 'T', {
        hvKv: 20,
        lvKv: 0.4,
        ratedMva: 2,
        tap: { side: 'hv', position: 0, steps, stepPercent: 1.25, holds: 'lv', targetPercent: 102 },
      });
      b.add('load', 'O', { ratedMva: 1.6, powerFactor: 0.9 });
      b.join('T:0', 'B', 'T:1', 'C', 'O', 'C');
      return run(b.network());
    };
    const flow = make(12);
    expect(Math.abs(kvAt(flow, 'C') / 0.4 / 1.02 - 1)).toBeLessThan(0.0125);
    expect(flow.taps.get(elementId('T'))).toBeLessThan(0);
    expect(flow.problems).toEqual([]);
    expect(make(2).problems).toMatchObject([{ code: 'flow.tap', element: 'T' }]);
  });

  it('a phase-shifting transformer drives power round a loop', () => {
    const make = (shiftDegrees: number) => {
      const b = twoBuses();
      b.add('transformer', 'T', {
        hvKv: 20,
        lvKv: 20,
        ratedMva: 20,
        ukPercent: 8,
        uRPercent: 0,
        vectorGroup: 'YNyn0',
        shiftDegrees,
      });
      b.join('T:0', 'A', 'T:1', 'B');
      const flow = run(b.network());
      const v = { re: flow.voltages.re[0], im: flow.voltages.im[0] };
      const i = flow.currents.get(terminalKey('T' as ElementId, 0))!;
      return { flow, mw: scale(multiply(v, { re: i.re, im: -i.im }), 3e-6).re };
    };
    expect(make(0).mw).toBeCloseTo(0, 9);
    // Loop impedance Z = 2 + j3.5 + j1.6; drop U·(1 − e^(−jδ)) drives the current; B lags through the unit, so power comes back through it.
    const { mw, flow } = make(10);
    expect(flow.converged).toBe(true);
    expect(mw).toBeLessThan(-5);
    const delta = (10 * Math.PI) / 180;
    const e = { re: Math.cos(delta) - 1, im: -Math.sin(delta) };
    const current = (20000 / Math.sqrt(3) / Math.hypot(2, 5.1)) * magnitude(e);
    expect(magnitude(flow.currents.get(terminalKey('L' as ElementId, 1))!)).toBeCloseTo(current, 4);
  });

  it('too much load: no convergence, and the place', () => {
    const b = twoBuses();
    b.add('load', 'O', { ratedMva: 200, powerFactor: 0.9 });
    b.join('O', 'B');
    const flow = run(b.network());
    expect(flow.converged).toBe(false);
    expect(flow.problems).toMatchObject([{ code: 'flow.diverged', element: 'B' }]);
  });

  it('a part without feeder or holding machine is named', () => {
    const b = twoBuses();
    b.add('bus', 'Lonely', { nominalKv: 20 });
    const flow = run(b.network());
    expect(flow.converged).toBe(true);
    expect(flow.problems).toMatchObject([{ code: 'flow.noSlack', element: 'Lonely' }]);
    expect(kvAt(flow, 'Lonely')).toBe(0);
  });
});
