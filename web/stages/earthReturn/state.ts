/** What the stage of currents through earth shows just now; not part of the project. */
import { create } from 'zustand';
import type { EarthFaultKind, EarthPlace } from '@mesura/core/earthReturn/fromNetwork';
import { noTrial, type EarthProfile, type EarthTrial } from '@mesura/core/earthReturn/study';
import type { ElementId } from '@mesura/core/model/fields';

export const earthViews = ['stations', 'along', 'lines', 'studies'] as const;
export type EarthView = (typeof earthViews)[number];

/** What is drawn along lines. */
export const plotted = ['volts', 'towerA', 'wireA'] as const;
export type Plotted = (typeof plotted)[number];

/** Profiles that stay on the plots while others are looked at. */
export interface Held {
  readonly label: string;
  readonly profiles: readonly EarthProfile[];
}

interface EarthState {
  readonly view: EarthView;
  readonly kind: EarthFaultKind;
  /** Fault that is looked into; null: none. */
  readonly place: EarthPlace | null;
  /** Null: the one in which the rise is worst. */
  readonly condition: ElementId | null;
  readonly trial: EarthTrial;
  readonly shown: Plotted;
  readonly over: 'km' | 'tower';
  /** Lines of the profile: to the right, and to the left through the station; null: the first one, none. */
  readonly right: string | null;
  readonly left: string | null;
  readonly held: readonly Held[];
  /** Line whose path is edited. */
  readonly line: ElementId | null;
  /** Line along which the fault is moved, and the station that is looked at. */
  readonly along: { readonly line: ElementId; readonly hubTerminal: 0 | 1 } | null;
  readonly study: ElementId | null;
  /** Tower at which the fault of the study is. */
  readonly studyFault: { readonly line: string; readonly tower: number } | null;
}

const fresh: EarthState = {
  view: 'stations',
  kind: '1ph',
  place: null,
  condition: null,
  trial: noTrial,
  shown: 'volts',
  over: 'km',
  right: null,
  left: null,
  held: [],
  line: null,
  along: null,
  study: null,
  studyFault: null,
};

export const useEarthState = create<EarthState>()(() => fresh);
export const setEarth = (part: Partial<EarthState>): void => useEarthState.setState(part);
export const enterEarth = (): void => setEarth(fresh);

/** Another fault: what was tried belongs to the one before. */
export const lookInto = (place: EarthPlace, condition: ElementId | null = null): void =>
  setEarth({ view: 'stations', place, condition, trial: noTrial, right: null, left: null });
