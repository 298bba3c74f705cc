/** What the Faults stage shows just now; not part of the project. */
import { create } from 'zustand';
import type { Method, PlaceQuery, StudyQuery } from '@mesura/core/studies/engine';
import type { PeakMethod } from '@mesura/core/faults/iec60909/peak';
import type { FaultKind, Phase } from '@mesura/core/faults/kinds';
import type { Charging } from '@mesura/core/assembly/assemble';
import type { ElementId } from '@mesura/core/model/fields';

/** How faults are looked at, in the condition of the whole desk. */
export interface FaultSetup {
  method: Method;
  kind: FaultKind;
  odd: Phase;
  phaseR: number;
  phaseX: number;
  earthR: number;
  earthX: number;
  outage: ElementId | null;
  peak: PeakMethod;
  charging: Charging;
  /** Breaking and thermal currents are shown as well. */
  durations: boolean;
  breakingS: number;
  durationS: number;
  prefaultPercent: number;
  current: NonNullable<StudyQuery['current']>;
  partingCycles: number;
  s: number;
}

export const plainSetup: FaultSetup = {
  method: 'iec60909',
  kind: '3ph',
  odd: 0,
  phaseR: 0,
  phaseX: 0,
  earthR: 0,
  earthX: 0,
  outage: null,
  peak: 'equivalentFrequency',
  charging: 'auto',
  durations: false,
  breakingS: 0.1,
  durationS: 1,
  prefaultPercent: 100,
  current: 'E/X',
  partingCycles: 3,
  s: 1.1,
};

/** What stands at buses on the drawing. */
export const tagFigures = ['ik', 'ip', 'ib', 'ith', 'xr'] as const;
export type TagFigure = (typeof tagFigures)[number];
export const tagTitles: Readonly<Record<TagFigure, string>> = { ik: 'Ik″', ip: 'ip', ib: 'Ib', ith: 'Ith', xr: 'X/R' };
/** Contributions on the drawing: amperes, or the share of the fault current. */
export type ArrowFigure = 'current' | 'share';

interface FaultsState {
  readonly setup: FaultSetup;
  readonly tag: TagFigure;
  readonly arrows: ArrowFigure;
  /** Place whose fault is looked into. */
  readonly place: PlaceQuery | null;
  /** A place along a line or at its open end, listed above the buses. */
  readonly linePlace: Exclude<PlaceQuery, { at: 'terminal' }> | null;
  /** What the condition of the desk is compared with; null: nothing. */
  readonly against: Against | null;
  /** Bus whose difference is looked into. */
  readonly comparedBus: ElementId | null;
}

/** Another condition, or the same one in an earlier version of the project. */
export type Against =
  | { readonly what: 'condition'; readonly condition: ElementId }
  | { readonly what: 'version'; readonly revision: number; readonly name: string };

const fresh: FaultsState = {
  setup: plainSetup,
  tag: 'ik',
  arrows: 'current',
  place: null,
  linePlace: null,
  against: null,
  comparedBus: null,
};

export const useFaultsState = create<FaultsState>()(() => fresh);
export const setFaults = (part: Partial<FaultsState>): void => useFaultsState.setState(part);
export const enterFaults = (): void => setFaults(fresh);

export const busPlace = (bus: ElementId): PlaceQuery => ({ at: 'terminal', element: bus, terminal: 0 });

export const samePlace = (p: PlaceQuery | null, q: PlaceQuery | null): boolean =>
  JSON.stringify(p) === JSON.stringify(q);
