/** Faults on a load flow against the phase-domain solver: the same voltages before, the same currents during the fault. */
import { describe, expect, it } from 'vitest';
import { magnitude, multiply, polar, scale, subtract, zero, type Complex } from '../../linear/complex';
import { elementId, type ElementId } from '../../model/fields';
import { terminalKey } from '../../model/topology';
import { toPhases, type SequenceValues } from '../../sequence/components';
import { dispatched } from '../../test/dispatched';
import { everyKind, randomFrom } from '../../test/everyKind';
import { Builder } from '../../test/network';
import { solvePhases } from '../../test/phaseDomain';
import { faultedPhases, faultKinds, needsZeroSequence, type Phase } from '../kinds';
import type { Disturbance } from '../solution/solve';
import { currentsDuring, superpositionFault, superpositionStudy, voltagesDuring } from './study';

describe('superposition', () => {
  let compared = 0;
  it.each(Array.from({ length: 30 }, (_, k) => k + 1))('agrees with the phase-domain solver, seed %i', (seed) => {
    const network = dispatched(everyKind(seed));
    const made = superpositionStudy(network);
    if (!made.ok) return expect(made.problems[0].code).toBe('flow.diverged');
    compared++;
    const { study } = made;
    const { assembly, flow, injected } = study;
    const nodeOf = (id: ElementId, terminal: number) => assembly.topology.nodeAt(id, terminal)!;
    const absolute = (value: Complex, node: number) => multiply(value, polar(1, -assembly.lag[node]));
    /** Voltage behind each impedance in the load flow; a converter's current before or during the fault. */
    const sources = (during: boolean) => (id: ElementId) => {
      const terminal = network.elements.get(id)!.kind === 'powerStationUnit' ? 1 : 0;
      const node = nodeOf(id, terminal);
      const key = terminalKey(id, terminal);
      const shunt = assembly.positive.shunts.find((each) => each.element === id && each.role === 'source');
      if (!shunt) {
        const before = scale(flow.currents.get(key) ?? zero, -1);
        const change = injected.find((each) => each.key === key)!.current;
        return absolute(during ? { re: before.re + change.re, im: before.im + change.im } : before, node);
      }
      const v = { re: flow.voltages.re[node], im: flow.voltages.im[node] };
      const drop = multiply({ re: shunt.rOhm, im: shunt.xOhm }, sourceCurrent(id, node));
      return absolute({ re: v.re + drop.re, im: v.im + drop.im }, node);
    };
    /** Out of the machine itself: for a unit what its block puts in at the generator. */
    const sourceCurrent = (id: ElementId, node: number): Complex => {
      const drawn = flow.demands.filter((demand) => demand.element === id).map((demand) => scale(demand.mva, -1));
      const held = flow.holders.filter((holder) => holder.element === id).map((holder) => holder.mva);
      const s = [...drawn, ...held].reduce((p, q) => ({ re: p.re + q.re, im: p.im + q.im }), zero);
      const v = { re: flow.voltages.re[node], im: flow.voltages.im[node] };
      const size = 3e-6 * (v.re ** 2 + v.im ** 2);
      return { re: (s.re * v.re + s.im * v.im) / size, im: (s.re * v.im - s.im * v.re) / size };
    };
    const loads = new Map(
      assembly.positive.shunts
        .filter((shunt) => network.elements.get(shunt.element)!.kind === 'load')
        .map((shunt) => [shunt.element, { re: shunt.rOhm, im: shunt.xOhm }] as const),
    );
    const random = randomFrom(seed + 5000);
    const kind = faultKinds[Math.floor(random() * 4)];
    const odd = Math.floor(random() * 3) as Phase;
    const place = {
      at: 'terminal',
      element: elementId(['H1', 'M1', 'L0', 'E1', 'X0'][Math.floor(random() * 5)]),
      terminal: 0,
    } as const;
    const fault: Disturbance = {
      type: 'shunt',
      place,
      kind,
      odd,
      phaseOhm: { re: 0.2, im: 0.1 },
      earthOhm: { re: 1, im: 0 },
    };
    const before = solvePhases(assembly.network, sources(false), loads, []);
    const after = solvePhases(assembly.network, sources(true), loads, [
      { ...fault, at: place, phases: faultedPhases(fault), earth: needsZeroSequence(kind) },
    ]);
    const solved = superpositionFault(study, [fault]);
    if (!solved.ok) throw new Error(solved.problems[0].message);
    const back = polar(1, -assembly.lag[nodeOf(place.element, 0)]);
    const phases = (values: SequenceValues) => {
      const { l1, l2, l3 } = toPhases(values);
      return [l1, l2, l3].map((value) => multiply(value, back));
    };
    const during = currentsDuring(solved.fault);
    for (const element of network.elements.values()) {
      if (element.kind === 'bus') {
        const node = nodeOf(element.id, 0);
        if (!assembly.supplied[node]) continue;
        const volts = (element.nominalKv * 1000) / Math.sqrt(3);
        const v = { re: flow.voltages.re[node], im: flow.voltages.im[node] };
        expect(magnitude(subtract(absolute(v, node), before.voltagesAt(element.id, 0)[0])) / volts).toBeLessThan(1e-6);
        phases(voltagesDuring(solved.fault, node)).forEach((value, k) =>
          expect(magnitude(subtract(value, after.voltagesAt(element.id, 0)[k])) / volts).toBeLessThan(1e-6),
        );
      }
      if (element.kind === 'line' || element.kind === 'transformer')
        for (const terminal of [0, 1]) {
          const got = during.get(terminalKey(element.id, terminal));
          if (!got) continue;
          const wanted = after.currentsInto(element.id, terminal);
          const size = 1e3 + Math.max(...wanted.map(magnitude));
          phases(got).forEach((value, k) =>
            expect(magnitude({ re: value.re + wanted[k].re, im: value.im + wanted[k].im }) / size).toBeLessThan(1e-6),
          );
        }
    }
  });

  it('most of these random networks can carry their load', () => {
    expect(compared).toBeGreaterThanOrEqual(25);
  });

  it('a load flow that does not converge is the answer', () => {
    const b = new Builder();
    b.add('bus', 'A', { nominalKv: 11 });
    b.add('bus', 'B', { nominalKv: 11 });
    b.add('networkFeeder', 'N');
    b.add('line', 'L', { lengthKm: 20 });
    b.add('load', 'O', { ratedMva: 500 });
    b.join('N', 'A', 'L:0', 'A', 'L:1', 'B', 'O', 'B');
    expect(superpositionStudy(b.network())).toMatchObject({ ok: false, problems: [{ code: 'flow.diverged' }] });
  });
});
