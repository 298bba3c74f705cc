/** Switches in another position by moving branches in the factored networks, against the network assembled with them so. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { faultKinds } from '../faults/kinds';
import {
  faultAt,
  faultFlows,
  iec60909Study,
  outageStudy,
  rewiredStudy,
  stateOf,
  type Iec60909Study,
} from '../faults/iec60909/study';
import { contributionsOf } from '../faults/solution/contributions';
import { magnitude, zero } from '../linear/complex';
import { kinds } from '../model/element';
import { elementId, type ElementId } from '../model/fields';
import { find, ofKind, type Network } from '../model/network';
import { altered } from '../model/state';
import type { Switch } from '../model/switching';
import { connectivity } from './connectivity';
import { look } from '../studies/seen';
import { demoNetwork } from '../test/demo';
import { Builder } from '../test/network';

const turned = (network: Network, switches: readonly Switch[]) =>
  altered(network, {
    open: switches.filter(({ closed }) => closed).map(({ id }) => id),
    closed: switches.filter(({ closed }) => !closed).map(({ id }) => id),
  });

const near = (value: number, wanted: number, where: string) =>
  expect(Math.abs(value - wanted), where).toBeLessThan(1e-7 * (1 + Math.abs(wanted)));

/** Every kind of fault at every terminal there is: the figures, what flows where, and who contributes. */
function expectSame(moved: Iec60909Study, anew: Iec60909Study, network: Network, deep: boolean, where: string): void {
  for (const { id, kind } of network.elements.values())
    for (let terminal = 0; terminal < kinds[kind].terminals; terminal++)
      for (const fault of faultKinds) {
        const about = `${where}: ${fault} at ${id}:${terminal}`;
        const [p, q] = [moved, anew].map((study) => faultAt(study, id, terminal, fault));
        expect(p.ok, about).toBe(q.ok);
        if (!p.ok || !q.ok) {
          expect(p.ok || q.ok || p.problems.map(({ code }) => code), about).toEqual(
            q.ok || q.problems.map(({ code }) => code),
          );
          continue;
        }
        near(p.fault.ikA, q.fault.ikA, about);
        near(p.fault.earthA, q.fault.earthA, about);
        near(p.fault.ipA, q.fault.ipA, about);
        expect(p.fault.nominalKv, about).toBe(q.fault.nominalKv);
        if (!deep || kind !== 'bus') continue;
        const [flows, wanted] = [faultFlows(p.fault), faultFlows(q.fault)];
        for (const key of new Set([...flows.keys(), ...wanted.keys()]))
          for (const sequence of ['positive', 'negative', 'zero'] as const) {
            // Parts that come apart take phase positions of their own: what compares are sizes.
            const [size, other] = [flows, wanted].map((each) => magnitude(each.get(key)?.[sequence] ?? zero));
            near(size, other, `${about}, ${sequence} in ${key}`);
          }
        const [given, expected] = [p.fault, q.fault].map((each) =>
          contributionsOf(stateOf(each), faultFlows(each))
            .map(({ element, currentA }) => [element, Number(currentA.toFixed(3))] as const)
            .sort(([a], [b]) => (a < b ? -1 : 1)),
        );
        expect(given, about).toEqual(expected);
      }
}

describe('switches by moving branches', () => {
  const network = demoNetwork();
  const drawn = iec60909Study(network, 'max');
  const switches = ofKind(network, 'switch');

  it('each one of the demo turned gives the network assembled so, mostly without assembling', () => {
    let taken = 0;
    for (const one of switches) {
      const moved = rewiredStudy(drawn, () => turned(network, [one]), [one]);
      if (!moved) continue;
      taken++;
      expectSame(moved, iec60909Study(turned(network, [one]), 'max'), network, false, one.name);
    }
    expect(taken).toBeGreaterThan(0.6 * switches.length);
  });

  it('several at once, some closing and some opening, down to every branch and contribution', () => {
    let taken = 0;
    const some = (most: number) => fc.uniqueArray(fc.constantFrom(...switches), { minLength: 1, maxLength: most });
    fc.assert(
      fc.property(some(5), some(4), (before, toggled) => {
        const start = turned(network, before);
        const now = toggled.map(({ id }) => find(start, 'switch', id)!);
        const moved = rewiredStudy(iec60909Study(start, 'max'), () => turned(start, now), now);
        if (!moved) return;
        taken++;
        const where = `${before.map(({ id }) => id).join()} / ${now.map(({ id }) => id).join()}`;
        expectSame(moved, iec60909Study(turned(start, now), 'max'), network, true, where);
      }),
      { seed: 29, numRuns: 12 },
    );
    expect(taken).toBeGreaterThan(3);
  });

  it('and elements out on top', () => {
    const coupler = find(network, 'switch', elementId('bra-q30'))!;
    const out = [elementId('fer-bra-1'), elementId('bra-t2')];
    const start = turned(network, [coupler]);
    const moved = rewiredStudy(drawn, () => start, [coupler])!;
    expect(moved).not.toBeNull();
    const whole = altered(start, { out });
    const left = out.reduce(outageStudy, moved);
    const anew = iec60909Study(whole, 'max');
    for (const { id } of ofKind(network, 'bus'))
      for (const kind of faultKinds) {
        const [p, q] = [left, anew].map((study) => faultAt(study, id, 0, kind));
        expect(p.ok).toBe(q.ok);
        if (p.ok && q.ok) near(p.fault.ikA, q.fault.ikA, `${kind} at ${id}`);
      }
  });

  it('devices see in it what they see in the network assembled so', () => {
    const through = [...ofKind(network, 'currentTransformer'), ...switches].map(({ id }) => id);
    const buses = ofKind(network, 'bus').map(({ id }) => ({ element: id, terminal: 0 }));
    let compared = 0;
    for (const name of ['bra-q30', 'bra-q32', 'fer-q03']) {
      const one = find(network, 'switch', elementId(name))!;
      const moved = rewiredStudy(drawn, () => turned(network, [one]), [one])!;
      expect([name, moved === null]).toEqual([name, false]);
      const anew = iec60909Study(turned(network, [one]), 'max');
      for (const { element } of buses) {
        const place = { at: 'terminal' as const, element, terminal: 0 };
        const [p, q] = [moved, anew].map((study) => look(study, place, faultKinds, { through, voltagesAt: buses }));
        p.forEach((looked, k) => {
          const other = q[k];
          const where = `${faultKinds[k]} at ${element} with ${name} turned`;
          expect(looked.ok, where).toBe(other.ok);
          if (!looked.ok || !other.ok) return;
          for (const what of ['through', 'voltages'] as const)
            looked.seen[what].forEach((seen, j) => {
              const wanted = other.seen[what][j];
              expect(seen === null, where).toBe(wanted === null);
              if (!seen || !wanted) return;
              compared++;
              for (const sequence of ['positive', 'negative', 'zero'] as const)
                near(magnitude(seen[sequence]), magnitude(wanted[sequence]), `${where}, ${what} ${j} ${sequence}`);
            });
        });
      }
    }
    expect(compared).toBeGreaterThan(10_000);
  });

  it('with a star point behind the nodes, zero-sequence data that are missing, coupled lines that move or stay', () => {
    const builder = new Builder();
    for (const [name, nominalKv] of Object.entries({ A1: 132, A2: 132, C: 132, M: 33, L: 11 }))
      builder.add('bus', name, { nominalKv });
    builder.add('networkFeeder', 'N');
    for (const name of ['K', 'QX']) builder.add('switch', name);
    for (const name of ['X', 'Y', 'Z']) builder.add('line', name, { lengthKm: 20, x0OhmPerKm: 1.2, r0OhmPerKm: 0.4 });
    builder.add('threeWindingTransformer', 'T', { hvKv: 132, mvKv: 33, lvKv: 11 });
    builder.elements.push({
      kind: 'lineCoupling',
      id: elementId('XY'),
      first: elementId('X'),
      second: elementId('Y'),
      name: 'X and Y',
      lengthKm: 15,
      firstFromKm: 0,
      secondFromKm: 0,
      opposite: false,
      r0mOhmPerKm: 0.15,
      x0mOhmPerKm: 0.6,
    });
    builder.join('N', 'A1', 'K:0', 'A1', 'K:1', 'A2', 'A1', 'QX:0', 'QX:1', 'X:0', 'X:1', 'C', 'A1', 'Y:0', 'Y:1', 'C');
    builder.join('C', 'Z:0', 'Z:1', 'A2', 'T:0', 'A2', 'T:1', 'M', 'T:2', 'L');
    const ring = builder.network();
    const study = iec60909Study(ring, 'max');
    expect(study.assembly.innerNodes.length).toBe(1);
    expect(study.assembly.zero.groups.length).toBe(1);
    expect(study.assembly.lists.zero.gaps.length).toBe(1);
    for (const names of [['K'], ['QX'], ['K', 'QX']]) {
      const now = names.map((name) => find(ring, 'switch', elementId(name))!);
      const moved = rewiredStudy(study, () => turned(ring, now), now)!;
      expect([names, moved === null]).toEqual([names, false]);
      expect(moved.assembly.nodeCount).toBe(study.assembly.nodeCount + names.length);
      expectSame(moved, iec60909Study(turned(ring, now), 'max'), ring, true, names.join());
    }
  });

  it('numbers nodes of the topology first, inner nodes after them, with the floating parts of the network assembled', () => {
    const coupler = find(network, 'switch', elementId('bra-q30'))!;
    const { assembly } = rewiredStudy(drawn, () => turned(network, [coupler]), [coupler])!;
    const added = assembly.nodeCount - drawn.assembly.nodeCount;
    expect(Math.abs(added)).toBeLessThanOrEqual(1);
    expect(assembly.nodeCount).toBe(assembly.topology.nodes.length + assembly.innerNodes.length);
    assembly.topology.nodes.forEach((node, k) => expect(node.index).toBe(k));
    for (const { terminals, index } of assembly.topology.nodes)
      for (const key of terminals) expect(assembly.topology.nodeOf.get(key)).toBe(index);
    const { floating } = connectivity(assembly.lists.positive);
    expect([...assembly.positive.floating]).toEqual([...floating]);
  });

  it('is left to assembling anew where a level is no longer told', () => {
    const builder = new Builder();
    builder.add('bus', 'A', { nominalKv: 11 });
    builder.add('bus', 'B', { nominalKv: 0.4 });
    builder.add('networkFeeder', 'N');
    const q = builder.add('switch', 'Q');
    builder.add('transformer', 'T', { hvKv: 10.5, lvKv: 0.42 });
    builder.join('N', 'A', 'A', 'Q:0', 'Q:1', 'T:0', 'T:1', 'B');
    const small = builder.network();
    // Behind the open switch only the transformer tells the level: 10.5 kV, not 11.
    const one = find(small, 'switch', q as ElementId)!;
    expect(rewiredStudy(iec60909Study(small, 'max'), () => turned(small, [one]), [one])).toBeNull();
  });
});
