/** The tools as machines: what is held after each event, and what was done to the project, with a hand that only writes down. */
import { describe, expect, it } from 'vitest';
import { templates, fragmentOf } from '@mesura/core/drawing/parts/templates';
import { tools } from '@mesura/core/drawing/shape/tools';
import { elementId } from '@mesura/core/model/fields';
import { networkOf } from '@mesura/core/model/network';
import { newElement } from '@mesura/core/model/defaults';
import { aims, followed, ghostOf, hintOf, toldTool, withDraft, type Held } from '.';
import type { Hand, ToolEvent } from './tool';

const network = networkOf([newElement('bus', elementId('a'), 'a', { nominalKv: 11, x: 0, y: 100, length: 300 })]);
const a = elementId('a');
const toolOf = (key: string) => tools.find((tool) => tool.key === key)!;

function handWith(over: Partial<Hand> = {}): { hand: Hand; did: string[] } {
  const did: string[] = [];
  const hand: Hand = {
    network,
    selection: [],
    cursor: { x: 40, y: 40 },
    place: (tool, { x, y }) => void did.push(`place ${tool?.key ?? 'note'} at ${x} ${y}`),
    stamp: (_, { x, y }, label) => void did.push(`${label} at ${x} ${y}`),
    join: (from, to) => did.push(`join ${from} ${to}`) > 0,
    draw: (changes, label) => did.push(`${label}: ${changes.length}`) > 0,
    ...over,
  };
  return { hand, did };
}
const key = (name: string, shift = false): ToolEvent => ({ on: 'key', key: name, shift });
const sheet = (x: number, y: number, shift = false): ToolEvent => ({ on: 'sheet', at: { x, y }, shift });
const symbol = (id: string): ToolEvent => ({ on: 'symbol', id: elementId(id), at: { x: 7, y: 8 }, shift: false });

describe('nothing in hand', () => {
  it('leaves every event to the others', () => {
    const { hand } = handWith();
    expect(toldTool(null, key('Enter'), hand)).toBeNull();
    expect([aims(null), ghostOf(null, { x: 0, y: 0 }), followed(null, network)]).toEqual([false, null, null]);
    expect(withDraft(null, network)).toBe(network);
  });
});

describe('placing', () => {
  const held: Held = { kind: 'place', tool: toolOf('k') };

  it('puts the symbol down where the sheet is clicked, and lets go; Shift keeps it', () => {
    const { hand, did } = handWith();
    expect(toldTool(held, sheet(10, 20), hand)).toEqual({ held: null, cursor: null });
    expect(toldTool(held, sheet(30, 20, true), hand)).toEqual({ held });
    expect(did).toEqual(['place k at 10 20', 'place k at 30 20']);
  });

  it('is aimed by arrow keys, in wider steps with Shift, and put down by Enter', () => {
    const { hand, did } = handWith();
    expect(toldTool(held, key('ArrowRight'), hand)).toEqual({ held, cursor: { x: 50, y: 40 } });
    expect(toldTool(held, key('ArrowUp', true), hand)).toEqual({ held, cursor: { x: 40, y: -10 } });
    toldTool(held, key('Enter'), hand);
    expect(did).toEqual(['place k at 40 40']);
  });

  it('is put away by Escape; other keys go on', () => {
    const { hand, did } = handWith();
    expect(toldTool(held, key('Escape'), hand)).toEqual({ held: null, cursor: null });
    expect(toldTool(held, key('q'), hand)).toBeNull();
    expect(did).toEqual([]);
  });

  it('takes a click on a symbol for a place, a note does not', () => {
    const { hand, did } = handWith();
    expect(toldTool(held, symbol('a'), hand)).toEqual({ held: null, cursor: null });
    expect(toldTool({ kind: 'place', tool: null }, symbol('a'), hand)).toBeNull();
    expect(did).toEqual(['place k at 7 8']);
  });

  it('shows the room it would take', () => {
    const ghost = ghostOf({ kind: 'place', tool: toolOf('b') }, { x: 0, y: 0 })!;
    expect(ghost.width).toBeGreaterThan(4 * ghost.height);
    expect(ghostOf(held, null)).toBeNull();
    expect(hintOf(held, network).text).toContain(toolOf('k').title);
  });
});

describe('stamping', () => {
  it('puts a template down with its name, and shows its size', () => {
    const { hand, did } = handWith();
    const held: Held = { kind: 'stamp', fragment: fragmentOf(templates[0]), title: 'bay' };
    expect(ghostOf(held, { x: 5, y: 6 })).toMatchObject({ x: 5, y: 6 });
    expect(toldTool(held, symbol('a'), hand)).toBeNull();
    expect(toldTool(held, sheet(1, 2), hand)).toEqual({ held: null, cursor: null });
    expect(did).toEqual(['Place bay at 1 2']);
    expect(aims(held)).toBe(true);
  });
});

describe('joining', () => {
  const held: Held = { kind: 'join', from: a };

  it('ends with the symbol that is clicked, whether the two go together or not', () => {
    const { hand, did } = handWith({ join: () => false });
    expect(toldTool(held, symbol('b'), hand)).toEqual({ held: null });
    expect(toldTool(held, symbol('a'), hand)).toBeNull();
    expect(did).toEqual([]);
  });

  it('by keys stays in hand until two are found that go together', () => {
    const b = elementId('b');
    const refused = handWith({ selection: [b], join: () => false });
    expect(toldTool(held, key('Enter'), refused.hand)).toEqual({ held });
    const { hand, did } = handWith({ selection: [b] });
    expect(toldTool(held, key('Enter'), hand)).toEqual({ held: null });
    expect(did).toEqual(['join a b']);
    expect(toldTool(held, key('Enter'), handWith({ selection: [a] }).hand)).toEqual({ held });
    expect(hintOf(held, network).text).toMatch(/^Connect a to/);
  });
});

describe('a feeder', () => {
  const begun: Held = {
    kind: 'feeder',
    start: { element: a, at: 60, heading: 'down', terminal: 0 },
    steps: [],
    ids: [],
  };
  const after = (keys: readonly string[], hand: Hand): Held | null =>
    keys.reduce<Held | null>((held, each) => {
      const next = toldTool(held, key(each), hand);
      return next ? next.held : held;
    }, begun);

  it('grows by keys, is taken back, and stored as one change', () => {
    const { hand, did } = handWith();
    const grown = after(['k', 'c', 'Backspace', 'l'], hand)!;
    expect(grown).toMatchObject({ steps: [{ key: 'k' }, { key: 'l' }] });
    const drawn = withDraft(grown, network);
    expect([...drawn.elements.values()].map(({ kind }) => kind)).toEqual(expect.arrayContaining(['switch', 'line']));
    expect(drawn.elements.size).toBe(network.elements.size + 4);
    expect(did).toEqual([]);
    expect(after(['k', 'l', 'Enter'], hand)).toBeNull();
    expect(did).toEqual(['Draw feeder: 4']);
  });

  it('stays in hand when it is refused; ends with nothing drawn without a change', () => {
    const refused = handWith({ draw: () => false });
    expect(after(['k', 'Enter'], refused.hand)).toMatchObject({ kind: 'feeder' });
    const { hand, did } = handWith();
    expect(after(['Enter'], hand)).toBeNull();
    expect(after(['k', 'Escape'], hand)).toBeNull();
    expect(did).toEqual([]);
  });

  it('turns upward and moves along its busbar; the view follows its end', () => {
    const { hand } = handWith();
    const down = after(['k'], hand)!;
    const up = after(['k', 'ArrowUp'], hand)!;
    expect(followed(up, network)!.y).toBeLessThan(100);
    expect(followed(down, network)!.y + followed(down, network)!.height).toBeGreaterThan(100);
    const moved = after(['k', 'ArrowRight'], hand)!;
    expect(followed(moved, network)!.x - followed(down, network)!.x).toBe(10);
  });

  it('lets clicks and keys without a meaning go on', () => {
    const { hand } = handWith();
    expect(toldTool(begun, sheet(0, 0), hand)).toBeNull();
    expect(toldTool(begun, key('?'), hand)).toBeNull();
    expect(hintOf(begun, network)).toMatchObject({ lead: 'Feeder from a' });
  });
});
