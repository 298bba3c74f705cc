/** A board whose supply is not drawn: given are the largest and the smallest prospective current at its main switch. */
import { usualInstallation, type EarthingSystem } from '../model/circuit';
import type { Change } from '../model/changes';
import { newElement } from '../model/defaults';
import type { Element } from '../model/element';
import type { ElementId } from '../model/fields';
import type { Network } from '../model/network';
import { FreeNames } from '../drawing/parts/fragment';
import { boxOf, isPlaced } from '../drawing/shape/shapes';

export interface FeedingGiven {
  readonly unV: number;
  /** Three-phase, with c in them. */
  readonly maxKa: number;
  readonly minKa: number;
  readonly xOverR: number;
  readonly system: EarthingSystem;
  readonly rules: 'building' | 'machine';
}

export const freshFeeding: FeedingGiven = {
  unV: 400,
  maxKa: 10,
  minKa: 6,
  xOverR: 2,
  system: 'TN-S',
  rules: 'machine',
};

/** Network feeder, main switch and board, right of what stands on the page. */
export function feedingPoint(
  network: Network,
  { unV, maxKa, minKa, xOverR, system, rules }: FeedingGiven,
  page: ElementId | null,
  newId: () => ElementId,
): { readonly changes: Change[]; readonly board: ElementId } {
  const names = new FreeNames(network.elements.values());
  const there = [...network.elements.values()].filter(isPlaced).filter((each) => (each.page ?? null) === page);
  const x = there.reduce((most, each) => Math.max(most, boxOf(each).x + boxOf(each).width), -80) + 80;
  const y = there.reduce((least, each) => Math.min(least, boxOf(each).y), Infinity);
  const top = Number.isFinite(y) ? Math.round(y / 10) * 10 : 0;
  const on = page ? { page } : {};
  const rOverX = 1 / xOverR;
  // The same in the zero sequence: what a board is given by is a loop as long as the phases'.
  const level = (ikKa: number) => ({
    ...{ given: 'current' as const, ikKa, skMva: null, rOverX, x0OverX1: 1, r0OverX0: rOverX },
  });
  const at = Math.round(x / 10) * 10;
  const supply = newElement('networkFeeder', newId(), names.next('Supply'), {
    ...on,
    x: at + 60,
    y: top,
    max: level(maxKa),
    min: level(minKa),
  });
  const main = newElement('switch', newId(), names.next('Main switch'), { ...on, x: at + 60, y: top + 60 });
  const board = newElement('bus', newId(), names.next(rules === 'machine' ? 'Machine' : 'Board'), {
    ...on,
    x: at,
    y: top + 110,
    nominalKv: unV / 1000,
    length: 300,
    installation: { ...usualInstallation, system, rules },
  });
  const joined = (from: Element, fromTerminal: number, to: Element, toTerminal: number, along?: number): Element => ({
    kind: 'connection',
    id: newId(),
    from: { element: from.id, terminal: fromTerminal },
    to: { element: to.id, terminal: toTerminal, ...(along !== undefined && { at: along }) },
  });
  const elements = [supply, main, board, joined(supply, 0, main, 0), joined(main, 1, board, 0, 60)];
  return { changes: elements.map((element) => ({ op: 'add', element })), board: board.id };
}
