/** What the stage of circuits shows just now; not part of the project. */
import { create } from 'zustand';
import { circuitsIn } from '@mesura/core/circuits/find';
import { keyOf } from '@mesura/core/lowVoltage/study';
import type { Element } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import type { Network } from '@mesura/core/model/network';

export const circuitFilters = ['all', 'short', 'doubtful', 'unknown'] as const;
export type CircuitFilter = (typeof circuitFilters)[number];

interface CircuitsState {
  readonly view: 'schedule' | 'proposals';
  /** Null: the first that has circuits. */
  readonly board: ElementId | null;
  /** Circuit that is looked into. */
  readonly chosen: ElementId | null;
  readonly filter: CircuitFilter;
  readonly free: { readonly section: boolean; readonly device: boolean };
  /** Circuits that proposals are asked for; null: none. */
  readonly asked: readonly ElementId[] | null;
}

const fresh: CircuitsState = {
  view: 'schedule',
  board: null,
  chosen: null,
  filter: 'all',
  free: { section: true, device: true },
  asked: null,
};

export const useCircuitsState = create<CircuitsState>()(() => fresh);
export const setCircuits = (part: Partial<CircuitsState>): void => useCircuitsState.setState(part);
export const enterCircuits = (): void => setCircuits(fresh);

/** A click on the drawing: a board, or whatever belongs to a circuit. */
export function pickElement(network: Network, { id, kind }: Element): void {
  const circuits = circuitsIn(network);
  if (kind === 'bus' && circuits.some(({ board }) => board === id)) return setCircuits({ board: id, chosen: null });
  const own = circuits.find(
    ({ switches, cables, ends }) => switches.includes(id) || cables.includes(id) || ends.includes(id),
  );
  if (own) setCircuits({ board: own.board, chosen: keyOf(own), view: 'schedule' });
}
