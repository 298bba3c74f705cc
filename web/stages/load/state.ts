/** What the Load stage shows just now; not part of the project. */
import { create } from 'zustand';
import type { ElementId } from '@mesura/core/model/fields';

export const loadViews = ['buses', 'branches', 'sources', 'outages', 'start'] as const;
export type LoadView = (typeof loadViews)[number];

/** What stands at branches on the drawing. */
export const branchFigures = ['loading', 'current', 'power'] as const;
export type BranchFigure = (typeof branchFigures)[number];
/** What stands at buses. */
export const busFigures = ['percent', 'kv'] as const;
export type BusFigure = (typeof busFigures)[number];

interface LoadState {
  readonly view: LoadView;
  readonly branchFigure: BranchFigure;
  readonly busFigure: BusFigure;
  /** Factors of loads, for a what-if; empty: as in the project. */
  readonly scaled: readonly (readonly [element: ElementId, factor: number])[];
  readonly motor: ElementId | null;
  /** Line current over that of direct starting. */
  readonly reduction: number;
  /** Outage that is looked into. */
  readonly outage: ElementId | null;
}

const fresh: LoadState = {
  view: 'branches',
  branchFigure: 'loading',
  busFigure: 'percent',
  scaled: [],
  motor: null,
  reduction: 1,
  outage: null,
};

export const useLoadState = create<LoadState>()(() => fresh);
export const setLoad = (part: Partial<LoadState>): void => useLoadState.setState(part);
export const enterLoad = (): void => setLoad(fresh);

/** These loads at a factor; at 1 they are as in the project. */
export function scaleLoads(ids: readonly ElementId[], factor: number): void {
  const { scaled } = useLoadState.getState();
  const rest = scaled.filter(([id]) => !ids.includes(id));
  setLoad({ scaled: factor === 1 ? rest : [...rest, ...ids.map((id) => [id, factor] as const)] });
}
