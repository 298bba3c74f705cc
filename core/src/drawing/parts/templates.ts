/** Ready-made bays and small networks, drawn with the same tools an engineer would use; every value in them is assumed until confirmed. */
import { newElement } from '../../model/defaults';
import { applyChanges, type Change } from '../../model/changes';
import type { Element } from '../../model/element';
import type { ElementId } from '../../model/fields';
import { networkOf, ofKind, type Network } from '../../model/network';
import type { PanelType } from '../../model/sheet';
import { makeBoard } from '../boards/board';
import { chainChanges, drawChain, startAt, type Heading } from '../feeder/chain';
import type { Fragment } from './fragment';
import { tools } from '../shape/tools';

export interface Template {
  readonly id: string;
  readonly title: string;
  readonly about: string;
  readonly build: (draft: Draft) => void;
}

/** Draws on an empty sheet, as an engineer would: boards, and feeders by the keys of the tools. */
export class Draft {
  network: Network = networkOf([]);
  private count = 0;
  private readonly newId = (): ElementId => `part-${++this.count}` as ElementId;

  bus(kv: number, x: number, y: number, length: number): ElementId {
    const id = this.newId();
    const [element] = [busAt(id, `${label(kv)} ${ofKind(this.network, 'bus').length + 1}`, kv, x, y, length)];
    this.apply([{ op: 'add', element }]);
    return id;
  }

  board(kv: number, x: number, y: number, panels: readonly PanelType[]): ElementId[] {
    const { changes } = makeBoard(this.network, { kv, panels, x, y }, this.newId);
    this.apply(changes);
    return changes.flatMap((change) =>
      change.op === 'add' && change.element.kind === 'bus' ? [change.element.id] : [],
    );
  }

  /** A feeder by the keys of its symbols; returns what was drawn. */
  feeder(from: ElementId, keys: string, at?: number, heading?: Heading): Element[] {
    const start = startAt(this.network, from, at)!;
    const steps = [...keys].map((key) => tools.find((tool) => tool.key === key)!);
    const ids: ElementId[] = [];
    const chain = drawChain(
      this.network,
      { ...start, heading: heading ?? start.heading },
      steps,
      (k) => (ids[k] ??= this.newId()),
    );
    if (chain.reason) throw new Error(`template: ${chain.reason}`);
    this.apply(chainChanges(chain));
    return [...chain.elements];
  }

  private apply(changes: Change[]): void {
    const applied = applyChanges(this.network, changes);
    if (!applied.ok) throw new Error(`template: ${applied.problems[0].message}`);
    this.network = applied.network;
  }
}

const label = (kv: number): string => (kv < 1 ? `${kv * 1000} V` : `${kv} kV`);
const busAt = (id: ElementId, name: string, nominalKv: number, x: number, y: number, length: number): Element =>
  newElement('bus', id, name, { x, y, nominalKv, length });

export const templates: readonly Template[] = [
  {
    id: 'board',
    title: 'Medium-voltage board',
    about: '11 kV: incoming, measuring, two outgoing, one transformer panel',
    build: (draft) => void draft.board(11, 0, 0, ['incoming', 'measuring', 'outgoing', 'outgoing', 'transformer']),
  },
  {
    id: 'doubleBoard',
    title: 'Board of two sections',
    about: '11 kV: incoming and outgoing panels on both sides of a coupler',
    build: (draft) =>
      void draft.board(11, 0, 0, ['incoming', 'outgoing', 'outgoing', 'coupler', 'outgoing', 'outgoing', 'incoming']),
  },
  {
    id: 'unitSubstation',
    title: 'Unit substation',
    about: '11/0.4 kV transformer with its breaker, and a low-voltage board',
    build: (draft) => {
      const mv = draft.bus(11, 0, 0, 120);
      draft.feeder(mv, 'kcrtkb', 60);
    },
  },
  {
    id: 'ringUnit',
    title: 'Ring main unit',
    about: '11 kV: two ring switches and a fused transformer',
    build: (draft) => {
      const ring = draft.bus(11, 0, 0, 200);
      draft.feeder(ring, 'dl', 30);
      draft.feeder(ring, 'dl', 170);
      draft.feeder(ring, 'ftb', 100);
    },
  },
  {
    id: 'motorBoard',
    title: 'Motor board',
    about: '0.4 kV: an incoming breaker and four motors on cables',
    build: (draft) => {
      const low = draft.bus(0.4, 0, 0, 340);
      draft.feeder(low, 'k', 40, 'up');
      for (const at of [40, 110, 180, 250]) draft.feeder(low, 'klm', at + 20);
    },
  },
  {
    id: 'intake',
    title: 'Intake substation',
    about: '33/11 kV: network feeder, breaker, transformer, breaker, bus with two outgoing runs',
    build: (draft) => {
      const high = draft.bus(33, 40, 0, 200);
      draft.feeder(high, 'n', 100, 'up');
      const down = draft.feeder(high, 'kctckb', 100);
      const low = down.find((element) => element.kind === 'bus')!;
      for (const at of [10, 150]) draft.feeder(low.id, 'kcl', at);
    },
  },
  {
    id: 'generatorBay',
    title: 'Generator bay',
    about: 'A synchronous machine with breaker and current transformer on an 11 kV bus',
    build: (draft) => {
      const mv = draft.bus(11, 0, 0, 120);
      draft.feeder(mv, 'kcrg', 60);
    },
  },
];

/** A template as a fragment to be pasted. */
export function fragmentOf(template: Template): Fragment {
  const draft = new Draft();
  template.build(draft);
  return { format: 'mesura-fragment', version: 1, elements: [...draft.network.elements.values()] };
}
