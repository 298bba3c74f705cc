/** What is added to a section of busbar never lies on its neighbours, and changes nothing of what was connected. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { applyChanges, type Change } from '../../model/changes';
import { newElement } from '../../model/defaults';
import { elementId, type ElementId } from '../../model/fields';
import { networkOf, ofKind, validateNetwork, type Network } from '../../model/network';
import { panelTypes } from '../../model/sheet';
import { buildTopology } from '../../model/topology';
import { mirror } from '../order/arrange';
import { addPanel, makeBoard, panelsOf, sectionsOf } from './board';
import { movePanels, pastNeighbour, slid } from './slide';
import { chainChanges, drawChain, startAt } from '../feeder/chain';
import { duplicateFeeder } from '../feeder/duplicate';
import { roomBeyond, sectionEnd } from './room';
import { boxOf, endPoint, isDrawn, isPlaced, overlaps, type Drawn } from '../shape/shapes';
import { movedWith } from './together';
import { tools } from '../shape/tools';

let count = 0;
const newId = (): ElementId => elementId(`n${++count}`);
const applied = (network: Network, changes: readonly Change[]): Network => {
  const result = applyChanges(network, changes);
  if (!result.ok) throw new Error(result.problems.map((problem) => problem.message).join('; '));
  return result.network;
};
const feeder = (network: Network, from: ElementId, keys: string): Network => {
  const ids: ElementId[] = [];
  const steps = [...keys].map((key) => tools.find((tool) => tool.key === key)!);
  return applied(
    network,
    chainChanges(drawChain(network, startAt(network, from)!, steps, (k) => (ids[k] ??= newId()))),
  );
};
const board = (panels: Parameters<typeof makeBoard>[1]['panels']) =>
  applied(networkOf([]), makeBoard(networkOf([]), { kv: 11, panels, x: 100, y: 50 }, newId).changes);

/** Which of the elements of before are joined directly: by their terminals, whatever the numbers of the nodes. */
const joints = (network: Network, among: Network): string[] => {
  const topology = buildTopology(network);
  const byNode = new Map<number, string[]>();
  for (const element of among.elements.values())
    if (isDrawn(element))
      for (let terminal = 0; terminal < 3; terminal++) {
        const node = topology.nodeAt(element.id, terminal);
        if (node !== undefined) byNode.set(node, [...(byNode.get(node) ?? []), `${element.id}:${terminal}`]);
      }
  return [...byNode.values()].map((list) => list.sort().join(' ')).sort();
};

/** Bars in one line do not lie on each other, nor symbols on symbols, nor panels on panels. */
function expectClear(network: Network): void {
  const symbols = [...network.elements.values()].filter(isDrawn);
  const solid = symbols.map((element) =>
    element.kind === 'bus'
      ? { element, box: { x: element.x, y: element.y - 2, width: element.length, height: 4 } }
      : { element, box: boxOf(element) },
  );
  for (const [k, p] of solid.entries())
    for (const q of solid.slice(k + 1))
      if (p.element.kind === q.element.kind || (p.element.kind !== 'bus' && q.element.kind !== 'bus'))
        expect([p.element.name, q.element.name, overlaps(p.box, q.box)]).toEqual([
          p.element.name,
          q.element.name,
          false,
        ]);
  const panels = ofKind(network, 'panel').map((panel) => ({ ...boxOf(panel), width: panel.width - 1 }));
  for (const [k, p] of panels.entries()) for (const q of panels.slice(k + 1)) expect(overlaps(p, q)).toBe(false);
}

describe('room on a busbar', () => {
  it('a panel added to a section before its coupler moves the coupler and all beyond it on', () => {
    const before = board(['incoming', 'coupler', 'outgoing']);
    const [first, second] = ofKind(before, 'bus');
    const added = addPanel(before, first.id, 'motor', newId)!;
    const after = applied(before, added.changes);
    expect(after.elements).toEqual(added.network.elements);
    expectClear(after);
    expect(joints(after, before)).toEqual(joints(before, before));
    const panel = after.elements.get(added.panel)!;
    const coupler = ofKind(after, 'panel').find(({ type }) => type === 'coupler')!;
    expect(panel).toMatchObject({ bus: first.id, x: coupler.x - coupler.width / 2 - 70 });
    const moved = ofKind(after, 'bus').find(({ id }) => id === second.id)!;
    expect(moved.x - second.x).toBe(140);
    expect(moved.length).toBe(second.length);
    const motor = ofKind(after, 'asynchronousMotor')[0];
    expect(buildTopology(after).nodeAt(motor.id, 0)).toBe(buildTopology(after).nodeAt(first.id, 0));
    // A section has one coupler at its end.
    expect(addPanel(after, first.id, 'coupler', newId)).toBeNull();
  });

  it('whatever is added to whichever section, and drawn again: nothing lies on anything, what was joined stays so', () => {
    const step = fc.record({
      section: fc.nat(),
      what: fc.constantFrom(...panelTypes, 'again', 'again', 'feeder'),
    });
    fc.assert(
      fc.property(fc.array(step, { minLength: 1, maxLength: 9 }), (steps) => {
        let network = board(['outgoing']);
        for (const { section, what } of steps) {
          const buses = ofKind(network, 'bus').filter(({ nominalKv }) => nominalKv === 11);
          const bus = buses[section % buses.length];
          const before = network;
          if (what === 'feeder') network = feeder(network, bus.id, 'kltb');
          else if (what === 'again') {
            const breakers = ofKind(network, 'switch').filter(({ turn }) => turn === 0);
            const made = duplicateFeeder(network, breakers[section % breakers.length].id, newId);
            if (made) network = applied(network, made.changes);
          } else {
            const added = addPanel(network, bus.id, what, newId);
            if (added) network = applied(network, added.changes);
          }
          expect(validateNetwork(network)).toEqual([]);
          expect(joints(network, before)).toEqual(joints(before, before));
          for (const connection of ofKind(network, 'connection')) {
            // Runs hang straight from their bar: what moves takes its place on the bar along.
            const [a, b] = [connection.from, connection.to].map(
              (end) => endPoint(network.elements.get(end.element) as Drawn, end).at,
            );
            const old = before.elements.get(connection.id);
            if (old?.kind !== 'connection') continue;
            const [p, q] = [old.from, old.to].map((end) => endPoint(before.elements.get(end.element) as Drawn, end).at);
            expect(a.x - b.x).toBeCloseTo(p.x - q.x);
          }
        }
        expectClear(network);
      }),
      { numRuns: 150 },
    );
  });

  it('a feeder once more in a panel stands in a panel of its own, flush with the last', () => {
    const before = board(['incoming', 'motor', 'coupler', 'outgoing']);
    const [motor] = ofKind(before, 'asynchronousMotor');
    const made = duplicateFeeder(before, motor.id, newId)!;
    const after = applied(before, made.changes);
    expectClear(after);
    const motors = ofKind(after, 'panel').filter(({ type }) => type === 'motor');
    expect(motors.map(({ name }) => name)).toEqual(['Motor 1', 'Motor 2']);
    expect(motors[1].x - motors[0].x).toBe(motors[0].width);
    expect(motors[1].members).toHaveLength(motors[0].members.length);
    for (const member of motors[1].members) expect(made.ids).toContain(member);
    const [first] = ofKind(after, 'bus');
    expect(motors[1].x + motors[1].width / 2).toBeLessThanOrEqual(sectionEnd(after, first));
  });

  it('a board is moved as one, whichever of its sections is taken; a panel alone slides', () => {
    const network = board(['incoming', 'coupler', 'outgoing', 'coupler', 'outgoing']);
    const buses = ofKind(network, 'bus').map(({ id }) => id);
    const placed = [...network.elements.values()].filter(isPlaced).map(({ id }) => id);
    for (const bus of buses) {
      expect(sectionsOf(network, bus)).toEqual(new Set(buses));
      expect(movedWith(network, [bus])).toEqual(new Set(placed));
    }
    const [panel] = ofKind(network, 'panel');
    expect(movedWith(network, [panel.id])).toEqual(new Set([panel.id, ...panel.members]));
  });

  it('a panel that is slid takes its place among the others of its section, none on another, the coupler where it is', () => {
    const network = board(['incoming', 'measuring', 'motor', 'outgoing', 'coupler', 'outgoing']);
    const panels = ofKind(network, 'panel');
    const coupler = panels.find(({ type }) => type === 'coupler')!;
    const first = ofKind(network, 'bus')[0];
    expect(slid(network, [coupler.id], 100).size).toBe(0);
    fc.assert(
      fc.property(
        fc.nat({ max: 3 }),
        fc.subarray([...panels]),
        fc.integer({ min: -90, max: 90 }),
        (which, more, steps) => {
          const taken = [panels[which], ...more].map(({ id }) => id);
          const after = applied(
            network,
            movePanels(network, slid(network, taken, 10 * steps)).map((element) => ({ op: 'update', element })),
          );
          expectClear(after);
          expect(joints(after, network)).toEqual(joints(network, network));
          expect(after.elements.get(coupler.id)).toEqual(coupler);
          for (const { x, width } of panelsOf(after, first.id).filter(({ type }) => type !== 'coupler'))
            expect(x + width / 2).toBeLessThanOrEqual(sectionEnd(after, first));
          const breaker = (net: Network) => net.elements.get(panels[which].members[0]) as Drawn;
          const panel = after.elements.get(panels[which].id) as (typeof panels)[number];
          expect(breaker(after).x - breaker(network).x).toBeCloseTo(panel.x - panels[which].x);
        },
      ),
    );
    // By keyboard: past the neighbour, and back.
    const by = pastNeighbour(network, panels[1], 1)!;
    const swapped = slid(network, [panels[1].id], by);
    expect([swapped.get(panels[1].id), swapped.get(panels[2].id)]).toEqual([panels[2].width, -panels[1].width]);
    expect(pastNeighbour(network, panels[0], -1)).toBeNull();
  });

  it('a board that was mirrored grows on its right sides all the same', () => {
    const straight = board(['incoming', 'coupler', 'outgoing', 'motor']);
    const ids = [...straight.elements.values()].filter(isPlaced).map(({ id }) => id);
    const network = applied(straight, mirror(straight, ids, 'across'));
    for (const bus of ofKind(network, 'bus'))
      for (const type of ['outgoing', 'motor'] as const) {
        const after = applied(network, addPanel(network, bus.id, type, newId)!.changes);
        expectClear(after);
        expect(joints(after, network)).toEqual(joints(network, network));
      }
  });

  it('what stands left of the line stays; busbars across it grow, and runs keep their place on them', () => {
    const bus = newElement('bus', elementId('b'), 'B', { x: 0, y: 0, length: 300 });
    const [left, right] = [40, 240].map((x, k) => newElement('load', elementId(`o${k}`), `O${k}`, { x, y: 60 }));
    const note = { kind: 'textNote' as const, id: elementId('t'), x: 400, y: 0, text: 'far', size: 'normal' as const };
    const other = newElement('load', elementId('p'), 'P', { x: 900, y: 0, page: elementId('two') });
    const network = networkOf([
      bus,
      left,
      right,
      note,
      other,
      { kind: 'page', id: elementId('two'), name: 'Two' },
      ...[left, right].map((load) => ({
        kind: 'connection' as const,
        id: elementId(`w${load.id}`),
        from: { element: bus.id, terminal: 0, at: load.x },
        to: { element: load.id, terminal: 0 },
      })),
    ]);
    const after = applied(
      network,
      roomBeyond(network, bus, 150, 60).map((element): Change => ({ op: 'update', element })),
    );
    const x = (id: string) => {
      const element = after.elements.get(elementId(id))!;
      return isPlaced(element) ? element.x : NaN;
    };
    expect([x('b'), x('o0'), x('o1'), x('t'), x('p')]).toEqual([0, 40, 300, 460, 900]);
    expect(ofKind(after, 'bus')[0].length).toBe(360);
    expect(ofKind(after, 'connection').map(({ from }) => from.at)).toEqual([40, 300]);
  });
});
