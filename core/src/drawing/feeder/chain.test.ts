import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { applyChanges, type Change } from '../../model/changes';
import { newElement } from '../../model/defaults';
import { directPart } from '../../model/directPart';
import { elementId, type ElementId } from '../../model/fields';
import { networkOf, ofKind, validateNetwork, type Network } from '../../model/network';
import { breakersOf, firstCtOf, type Relay } from '../../model/protection';
import { kinds } from '../../model/element';
import { buildTopology } from '../../model/topology';
import { addPanel, makeBoard, panelsOf } from '../boards/board';
import { movePanels, snappedPanel } from '../boards/slide';
import { chainChanges, drawChain, feederOf, freeSlot, startAt } from './chain';
import { duplicateFeeder } from './duplicate';
import { FreeNames, putFragment, readFragment, takeFragment } from '../parts/fragment';
import { boxOf, endPoint, hull, isDrawn, isPlaced, overlaps, type Drawn } from '../shape/shapes';
import { plainRoute } from '../wires/route';
import { insertInto, removalHealed, runUnder } from '../wires/splice';
import { fragmentOf, templates } from '../parts/templates';
import { isDirectTool, made, tools as allTools } from '../shape/tools';
import { nominalFor } from '../shape/typical';

let count = 0;
const newId = (): ElementId => elementId(`n${++count}`);
/** Those of alternating current: the others stand in runs of their own. */
const tools = allTools.filter((each) => !isDirectTool(each));
const tool = (key: string) => allTools.find((each) => each.key === key)!;
const mainBus = newElement('bus', elementId('bus'), 'Main', { nominalKv: 11, length: 120 });
const withBus = networkOf([mainBus]);

const applied = (network: Network, changes: readonly Change[]): Network => {
  const result = applyChanges(network, changes);
  if (!result.ok) throw new Error(result.problems.map((problem) => problem.message).join('; '));
  return result.network;
};

const feeder = (network: Network, keys: string, from: ElementId = mainBus.id, at?: number) => {
  const ids: ElementId[] = [];
  return drawChain(network, startAt(network, from, at)!, [...keys].map(tool), (k) => (ids[k] ??= newId()));
};

const draw = (network: Network, keys: string, from?: ElementId, at?: number) =>
  applied(network, chainChanges(feeder(network, keys, from, at)));

describe('a feeder in one gesture', () => {
  it('joins symbol to symbol, takes the voltage along, marks what it assumes', () => {
    const network = draw(withBus, 'kcrltbm');
    const [transformer] = ofKind(network, 'transformer');
    expect(transformer).toMatchObject({ hvKv: 11, lvKv: 0.42, ukPercent: 5, name: 'T1' });
    expect(transformer.assumed).toContain('ukPercent');
    expect(ofKind(network, 'asynchronousMotor')[0]).toMatchObject({ ratedKv: 0.4 });
    const low = ofKind(network, 'bus')[1];
    expect(low.nominalKv).toBe(0.4);
    const topology = buildTopology(network);
    expect(topology.problems).toEqual([]);
    expect(topology.nodeAt(low.id, 0)).toBe(topology.nodeAt(ofKind(network, 'asynchronousMotor')[0].id, 0));
    const [relay] = ofKind(network, 'relay');
    expect(firstCtOf(relay)).toBe(ofKind(network, 'currentTransformer')[0].id);
    expect(breakersOf(relay)).toEqual([ofKind(network, 'switch')[0].id]);
  });

  it('whatever the voltage and the symbols, up or down, the model takes it', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(0.05, 0.11, 0.23, 0.4, 0.5, 0.69, 1, 3.3, 11, 20, 33, 66, 132, 200, 400, 765, 1000),
        fc.array(fc.constantFrom(...tools), { minLength: 1, maxLength: 6 }),
        fc.boolean(),
        (nominalKv, steps, up) => {
          const bus = { ...mainBus, nominalKv };
          const network = networkOf([bus]);
          const start = { ...startAt(network, bus.id)!, heading: up ? ('up' as const) : ('down' as const) };
          const ids: ElementId[] = [];
          const chain = drawChain(network, start, steps, (k) => (ids[k] ??= newId()));
          const drawn = applied(network, chainChanges(chain));
          expect(validateNetwork(drawn)).toEqual([]);
          for (const { hvKv, lvKv } of ofKind(drawn, 'transformer')) expect(hvKv).toBeGreaterThanOrEqual(lvKv);
          expect(buildTopology(drawn).problems.filter(({ severity }) => severity === 'error')).toEqual([]);
        },
      ),
      { numRuns: 400 },
    );
  });

  it('goes on in a straight line whatever the symbols: no two of a run overlap, all are joined', () => {
    const inRun = tools.filter(({ kind }) => kind !== 'relay').map(({ key }) => key);
    fc.assert(
      fc.property(fc.array(fc.constantFrom(...inRun), { maxLength: 7 }), fc.boolean(), (keys, up) => {
        const start = { ...startAt(withBus, mainBus.id)!, heading: up ? ('up' as const) : ('down' as const) };
        const ids: ElementId[] = [];
        const chain = drawChain(withBus, start, keys.map(tool), (k) => (ids[k] ??= newId()));
        const network = applied(withBus, chainChanges(chain));
        expect(validateNetwork(network)).toEqual([]);
        const symbols = chain.elements.filter(isDrawn);
        expect(symbols).toHaveLength(chain.drawn);
        expect(ofKind(network, 'connection')).toHaveLength(chain.drawn);
        for (const [k, p] of symbols.entries())
          for (const q of symbols.slice(k + 1)) expect(overlaps(boxOf(p), boxOf(q))).toBe(false);
        const ends = keys.findIndex((key) => kinds[tool(key).kind].terminals === 1 && key !== 'b');
        expect(chain.drawn).toBe(ends < 0 ? keys.length : Math.min(ends + 1, keys.length));
        expect(chain.reason === null).toBe(chain.drawn === keys.length);
      }),
    );
  });

  it('direct current begins behind a charger, and takes what belongs there alone', () => {
    const low = networkOf([{ ...mainBus, nominalKv: 11 }]);
    const direct: Readonly<Record<string, string>> = {
      D: 'shift+b',
      B: 'shift+a',
      U: 'shift+u',
      W: 'shift+l',
      O: 'shift+o',
    };
    const drawn = (keys: string) =>
      drawChain(
        low,
        startAt(low, mainBus.id)!,
        [...keys].map((key) => tool(direct[key] ?? key)),
        newId,
      );
    const all = drawn('kUfDfWO');
    expect(all.reason).toBeNull();
    const network = applied(low, chainChanges(all));
    expect(validateNetwork(network)).toEqual([]);
    const [board] = ofKind(network, 'bus').filter(({ system }) => system === 'dc');
    expect(board.nominalKv).toBe(0.11);
    expect(directPart(network)).toMatchObject({ crossing: [] });
    expect([...directPart(network).ids]).toContain(board.id);
    // A busbar of any tool is one of direct current there.
    expect(ofKind(applied(low, chainChanges(drawn('Ub'))), 'bus').at(-1)!.system).toBe('dc');
    for (const [keys, at] of [
      ['D', 0],
      ['kB', 1],
      ['UDt', 2],
      ['UDc', 2],
      ['UU', 1],
    ] as const)
      expect(drawn(keys), keys).toMatchObject({ drawn: at, reason: expect.stringMatching(/direct current/) });
  });

  it('upward from a low-voltage bus, a transformer steps up', () => {
    const low = networkOf([{ ...mainBus, nominalKv: 0.4 }]);
    const start = { ...startAt(low, mainBus.id)!, heading: 'up' as const };
    const { elements } = drawChain(low, start, [tool('t'), tool('b')], newId);
    expect(elements.find((element) => element.kind === 'transformer')).toMatchObject({ hvKv: 11, lvKv: 0.42 });
    expect(elements.find((element) => element.kind === 'bus')).toMatchObject({ nominalKv: 11 });
  });

  it('takes the nominal voltage behind a winding: 0.42 kV feeds 0.4, 10.5 feeds 10, 34.5 feeds 33, 13.8 stays', () => {
    expect([0.42, 0.4, 10.5, 11, 11.5, 34.5, 13.8, 6.3, 138].map(nominalFor)).toEqual([
      0.4, 0.4, 10, 11, 11, 33, 13.8, 6, 132,
    ]);
    const transformer = draw(withBus, 'kt');
    const network = draw(transformer, 'kb', ofKind(transformer, 'transformer')[0].id);
    expect(ofKind(network, 'bus')[1].nominalKv).toBe(0.4);
  });

  it('finds the next free place along a bus and lengthens it', () => {
    let network = withBus;
    const places: number[] = [];
    for (let k = 0; k < 4; k++) {
      const bus = network.elements.get(mainBus.id) as typeof mainBus;
      places.push(freeSlot(network, bus));
      network = draw(network, 'km');
    }
    expect(places).toEqual([20, 80, 140, 200]);
    expect((network.elements.get(mainBus.id) as typeof mainBus).length).toBeGreaterThanOrEqual(200);
  });

  it('begins at the free terminal of a symbol, and nowhere when none is free', () => {
    const network = draw(withBus, 'k');
    const [breaker] = ofKind(network, 'switch');
    expect(startAt(network, breaker.id)).toMatchObject({ element: breaker.id, terminal: 1, heading: 'down' });
    const further = draw(network, 'm', breaker.id);
    expect(startAt(further, breaker.id)).toBeNull();
    expect(startAt(further, ofKind(further, 'asynchronousMotor')[0].id)).toBeNull();
  });
});

describe('the same again', () => {
  it('repeats a feeder with all its data at the next free place, as often as wanted', () => {
    let network = draw(withBus, 'kcrlm');
    const motor = ofKind(network, 'asynchronousMotor')[0];
    network = applied(network, [{ op: 'update', element: { ...motor, ratedMw: 0.75 } }]);
    for (let k = 0; k < 5; k++) network = applied(network, duplicateFeeder(network, motor.id, newId)!.changes);
    const motors = ofKind(network, 'asynchronousMotor');
    expect(motors.map(({ name }) => name)).toEqual(['M1', 'M2', 'M3', 'M4', 'M5', 'M6']);
    expect(new Set(motors.map(({ ratedMw }) => ratedMw))).toEqual(new Set([0.75]));
    expect(new Set(ofKind(network, 'relay').map(firstCtOf)).size).toBe(6);
    const topology = buildTopology(network);
    const supply = topology.nodeAt(mainBus.id, 0);
    for (const breaker of ofKind(network, 'switch')) expect(topology.nodeAt(breaker.id, 0)).toBe(supply);
    const symbols = [...network.elements.values()].filter(isDrawn).filter(({ kind }) => kind !== 'bus');
    for (const [k, p] of symbols.entries())
      for (const q of symbols.slice(k + 1)) expect(overlaps(boxOf(p), boxOf(q))).toBe(false);
  });
  it('takes a board at the end of the feeder along, and knows what hangs on it', () => {
    const network = draw(withBus, 'ktbko');
    const [breaker] = ofKind(network, 'switch');
    const { root, ids } = feederOf(network, breaker.id)!;
    expect(root.id).toBe(mainBus.id);
    expect(ids).toHaveLength(5);
    const twice = applied(network, duplicateFeeder(network, breaker.id, newId)!.changes);
    expect(ofKind(twice, 'load')).toHaveLength(2);
    expect(ofKind(twice, 'bus')).toHaveLength(3);
  });
});

describe('copy and paste', () => {
  it('brings all that belongs together under fresh ids and names, also into another project', () => {
    const network = draw(withBus, 'kcrltbm');
    const fragment = takeFragment(network, network.elements.keys())!;
    const read = readFragment(JSON.stringify(fragment));
    if (!read.ok) throw new Error();
    for (const target of [network, networkOf([])]) {
      const { changes, ids } = putFragment(read.fragment, { network: target, newId, at: { x: 500, y: 100 } });
      const after = applied(target, changes);
      expect(after.elements.size).toBe(target.elements.size + network.elements.size);
      const pasted = ids.map((id) => after.elements.get(id)!);
      expect(hull(pasted.filter(isPlaced).map(boxOf))).toMatchObject({ x: 500 });
      const relay = pasted.find((element) => element.kind === 'relay')!;
      expect(ids).toContain(firstCtOf(relay as Relay));
      // The two halves are like each other: the copy is joined inside as the original is.
      expect(buildTopology(after).nodes.length).toBe(
        buildTopology(target).nodes.length + buildTopology(network).nodes.length,
      );
    }
  });
  it('drops references to what is not taken along, and refuses what is no fragment', () => {
    const network = draw(withBus, 'kcr');
    const relay = ofKind(network, 'relay')[0];
    expect(takeFragment(network, [relay.id])!.elements).toMatchObject([
      { inputs: [{ element: null }], circuits: [{ breakers: [] }] },
    ]);
    expect(takeFragment(network, [])).toBeNull();
    for (const text of ['', '{}', '[1]', '"x"', '{"format":"mesura-fragment","version":1,"elements":[{"kind":"bus"}]}'])
      expect(readFragment(text).ok).toBe(false);
  });
  it('counts names on', () => {
    const names = new FreeNames([newElement('switch', elementId('a'), 'BRA Q09')]);
    expect([
      names.next('BRA Q09'),
      names.next('bra q10'),
      names.next('Pump'),
      names.next('Pump'),
      names.next('Pump'),
    ]).toEqual(['BRA Q10', 'bra q11', 'Pump', 'Pump 2', 'Pump 3']);
  });
});

describe('into a run and out of it', () => {
  it('a symbol dropped on a connection is put into it, and deleting it heals the run', () => {
    const network = draw(withBus, 'km');
    const motor = ofKind(network, 'asynchronousMotor')[0];
    const ct = made(tool('c'), newId(), new FreeNames(network.elements.values()), null, {
      x: motor.x + 3,
      y: motor.y - 25,
    });
    const runs = ofKind(network, 'connection').map((connection) => {
      const [a, b] = [connection.from, connection.to].map((end) =>
        endPoint(network.elements.get(end.element) as Drawn, end),
      );
      return { connection, points: plainRoute(a, b) };
    });
    const hit = runUnder(runs, ct, 8)!;
    const result = insertInto(network, ct, hit, newId);
    if (!result.ok) throw new Error(result.reason);
    const longer = applied(network, result.changes);
    const topology = buildTopology(longer);
    expect(topology.nodeAt(motor.id, 0)).toBe(topology.nodeAt(mainBus.id, 0));
    const healed = applied(longer, removalHealed(longer, [ct.id], newId));
    expect(buildTopology(healed).nodeAt(motor.id, 0)).toBe(buildTopology(healed).nodeAt(mainBus.id, 0));
    expect(ofKind(healed, 'connection')).toHaveLength(ofKind(network, 'connection').length);
    // Breaker and current transformer at once: one connection closes the run.
    const both = applied(longer, removalHealed(longer, [ct.id, ofKind(longer, 'switch')[0].id], newId));
    expect(ofKind(both, 'connection')).toHaveLength(1);
  });
  it('an impedance, an open switch or a coupler leaves a gap; what has one terminal does not go in', () => {
    const network = draw(withBus, 'klm');
    const [line] = ofKind(network, 'line');
    expect(removalHealed(network, [line.id], newId).some(({ op }) => op === 'add')).toBe(false);
    const breaker = ofKind(network, 'switch')[0];
    const open = applied(network, [{ op: 'update', element: { ...breaker, closed: false } }]);
    expect(removalHealed(open, [breaker.id], newId).some(({ op }) => op === 'add')).toBe(false);
    const tied = draw(withBus, 'kb');
    expect(removalHealed(tied, [ofKind(tied, 'switch')[0].id], newId).some(({ op }) => op === 'add')).toBe(false);
    const load = made(tool('o'), newId(), new FreeNames([]), null, {});
    const hit = { run: { connection: ofKind(network, 'connection')[0] }, upright: true, on: { x: 0, y: 0 } };
    expect(insertInto(network, load, hit, newId)).toMatchObject({
      ok: false,
      reason: expect.stringContaining('does not go'),
    });
  });
});

describe('boards', () => {
  const panels = ['incoming', 'outgoing', 'measuring', 'coupler', 'motor', 'transformer', 'incoming'] as const;
  it('stand side by side without gaps, each with what its type needs, on the right section', () => {
    const { changes } = makeBoard(networkOf([]), { kv: 11, panels, x: 100, y: 50 }, newId);
    const network = applied(networkOf([]), changes);
    const stood = ofKind(network, 'panel');
    expect(stood.map(({ type }) => type)).toEqual(panels);
    for (let k = 1; k < stood.length; k++)
      expect(stood[k].x - stood[k].width / 2).toBeCloseTo(stood[k - 1].x + stood[k - 1].width / 2);
    const [first, second] = ofKind(network, 'bus');
    expect(panelsOf(network, first.id)).toHaveLength(4);
    expect(panelsOf(network, second.id)).toHaveLength(3);
    const [vt] = ofKind(network, 'voltageTransformer');
    expect(vt).toMatchObject({ primaryKv: 11, assumed: ['primaryKv', 'secondaryV'] });
    const topology = buildTopology(network);
    expect(topology.nodeAt(vt.id, 0)).toBe(topology.nodeAt(first.id, 0));
    expect(topology.nodeAt(first.id, 0)).toBe(topology.nodeAt(second.id, 0));
    // One front, of the height that the motor needs.
    expect(new Set(stood.map(({ height }) => height)).size).toBe(1);
    for (const panel of stood)
      for (const member of panel.members) {
        const element = network.elements.get(member)!;
        if (!isPlaced(element)) throw new Error();
        const box = boxOf(element);
        expect(overlaps(box, boxOf(panel))).toBe(true);
        expect(box.x).toBeGreaterThanOrEqual(panel.x - panel.width / 2);
        expect(box.x + box.width).toBeLessThanOrEqual(panel.x + panel.width / 2);
      }
  });
  it('move as one: what stands in a panel, where it meets the busbar, and the busbar reaches along', () => {
    const { changes } = makeBoard(networkOf([]), { kv: 11, panels: ['incoming', 'outgoing'], x: 0, y: 0 }, newId);
    const network = applied(networkOf([]), changes);
    const [, last] = ofKind(network, 'panel');
    const to = snappedPanel(network, last, last.x + 200);
    const after = applied(
      network,
      movePanels(network, new Map([[last.id, to - last.x]])).map((element) => ({ op: 'update', element })),
    );
    const breaker = (net: Network) => net.elements.get(last.members[0]) as ReturnType<typeof made>;
    expect(breaker(after).x - breaker(network).x).toBe(200);
    const [bus] = ofKind(after, 'bus');
    expect(bus.length).toBeGreaterThanOrEqual(last.x + 200 + last.width / 2 - bus.x);
    const joint = ofKind(after, 'connection').find(({ to: end }) => end.element === last.members[0])!;
    expect(bus.x + joint.from.at!).toBe(breaker(after).x);
    expect(snappedPanel(after, { ...last, x: to }, last.x + 13)).toBe(last.x);
    // A feeder drawn from the board keeps clear of its panels.
    const at = freeSlot(after, bus);
    for (const panel of ofKind(after, 'panel'))
      expect(Math.abs(bus.x + at - panel.x)).toBeGreaterThanOrEqual(panel.width / 2);
    const more = addPanel(after, bus.id, 'motor', newId)!;
    expect(validateNetwork(more.network)).toEqual([]);
    // Flush with each other, all take the height of the highest; the one that was moved away keeps its own.
    const heights = ({ elements }: Network) => ofKind({ elements }, 'panel').map(({ height }) => height);
    expect(new Set(heights(addPanel(network, bus.id, 'motor', newId)!.network)).size).toBe(1);
    const [before] = heights(network);
    expect(heights(more.network)).toEqual([before, expect.any(Number), expect.any(Number)]);
    expect(heights(more.network)[1]).toBeGreaterThan(before);
  });
  it('a run drawn out of a panel goes on below it, and the panel does not grow over it', () => {
    const { changes } = makeBoard(networkOf([]), { kv: 11, panels: ['outgoing'], x: 0, y: 0 }, newId);
    const network = applied(networkOf([]), changes);
    const [panel] = ofKind(network, 'panel');
    const [ct] = ofKind(network, 'currentTransformer');
    const drawn = draw(network, 'l', ct.id);
    const [line] = ofKind(drawn, 'line');
    expect(line.x).toBe(ct.x);
    expect(overlaps(boxOf(line), boxOf(panel))).toBe(false);
    expect(buildTopology(drawn).nodeAt(line.id, 0)).toBe(buildTopology(drawn).nodeAt(ct.id, 1));
    const { network: more } = addPanel(drawn, panel.bus, 'motor', newId)!;
    const [first, motor] = ofKind(more, 'panel');
    expect(first.height).toBe(panel.height);
    expect(motor.height).toBeGreaterThan(panel.height);
  });
});

describe('templates', () => {
  it.each(templates.map((template) => [template.title, template] as const))('%s is sound', (_, template) => {
    const fragment = fragmentOf(template);
    const network = networkOf(fragment.elements);
    expect(validateNetwork(network)).toEqual([]);
    expect(buildTopology(network).problems).toEqual([]);
    const symbols = fragment.elements.filter(isDrawn);
    for (const [k, p] of symbols.entries())
      for (const q of symbols.slice(k + 1))
        expect([p.name, q.name, overlaps(boxOf(p), boxOf(q))]).toEqual([p.name, q.name, false]);
    expect(readFragment(JSON.stringify(fragment)).ok).toBe(true);
  });
});
