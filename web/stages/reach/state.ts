/** What the Reach stage shows just now; not part of the project. */
import { create } from 'zustand';
import type { FaultKind } from '@mesura/core/faults/kinds';
import type { OhmUnit } from '@mesura/core/reach/units';
import type { ElementId } from '@mesura/core/model/fields';

export const reachViews = ['reaches', 'plane', 'route', 'coverage', 'package'] as const;
export type ReachView = (typeof reachViews)[number];

interface ReachState {
  readonly view: ReachView;
  readonly station: ElementId | null;
  readonly zone: number | null;
  /** Lines that are looked at, as they were selected; null: all. */
  readonly area: readonly ElementId[] | null;
  readonly unit: OhmUnit;
  /** Lines between the same two busbars count as one. */
  readonly merged: boolean;
  /** From this nominal voltage on, in kV. */
  readonly fromKv: number;
  /** End of a line that is looked at: "line:terminal". */
  readonly end: string | null;
  readonly kind: FaultKind;
  /** Resistance of the fault, in ohms. */
  readonly resistance: number;
  /** Coverage: of all lines, and with each neighbour out in turn. */
  readonly allLines: boolean;
  readonly neighbours: boolean;
  /** Faults burn: an arc is added to their resistance. */
  readonly arc: boolean;
  /** Where the fault is, in km along the way. */
  readonly km: number;
}

const fresh: ReachState = {
  view: 'reaches',
  station: null,
  zone: null,
  area: null,
  unit: 'primary',
  merged: false,
  fromKv: 50,
  end: null,
  kind: '3ph',
  resistance: 0,
  allLines: false,
  neighbours: false,
  arc: false,
  km: 0,
};

export const useReachState = create<ReachState>()(() => fresh);
export const setReach = (part: Partial<ReachState>): void => useReachState.setState(part);
export const enterReach = (): void => setReach(fresh);
