/** What the Grading stage shows just now: chart and pair chosen, curves that are edited but not stored. Not part of the project. */
import { create } from 'zustand';
import type { ElementId } from '@mesura/core/model/fields';
import type { DeviceElement } from '@mesura/core/protection/device';

/** Level of a chart where nothing says another one. */
export const usualKv = 11;

export const gradingViews = ['chart', 'gallery', 'pairs', 'directions', 'protects'] as const;
export type GradingView = (typeof gradingViews)[number];

interface GradingState {
  readonly projectId: string;
  readonly chartId: ElementId | null;
  /** Key of the pair looked at; null: the worst. */
  readonly pair: string | null;
  /** Chart, charts side by side, all pairs, or directions. */
  readonly view: GradingView;
  /** Current on the chart that is asked about. */
  readonly asked: number | null;
  /** The two curves that are measured between, by their keys; null: the pair looked at. */
  readonly caliper: readonly [string, string] | null;
  /** State of the chart that curves are compared with. */
  readonly compared: ElementId | null;
  /** Guest whose settings are shown; null: the device that is selected. */
  readonly guest: ElementId | null;
  /** The chart takes all the height that it can have. */
  readonly tall: boolean;
  /** Devices with settings under trial, by id; the project holds the stored ones. */
  readonly edited: ReadonlyMap<ElementId, DeviceElement>;
}

/** What belongs to the chart that is looked at. */
const nothingLooked = { pair: null, asked: null, caliper: null, compared: null, guest: null };

export const useGradingState = create<GradingState>()(() => ({
  projectId: '',
  chartId: null,
  view: 'chart',
  ...nothingLooked,
  tall: false,
  edited: new Map(),
}));

export const setGrading = (part: Partial<Omit<GradingState, 'projectId' | 'edited'>>): void =>
  useGradingState.setState(part);

/** Another chart is looked at. */
export const openChart = (chartId: ElementId): void => setGrading({ ...nothingLooked, chartId, view: 'chart' });

/** Of this form of devices: trials that an earlier program kept are left. */
const editsKey = (projectId: string) => `mesura.edited.2.${projectId}`;

function keep(edited: ReadonlyMap<ElementId, DeviceElement>): void {
  useGradingState.setState({ edited });
  try {
    sessionStorage.setItem(editsKey(useGradingState.getState().projectId), JSON.stringify([...edited]));
  } catch {
    // A curve under trial survives a reload where storage allows it.
  }
}

/** Puts a device on trial; what equals the stored one is none. */
export function edit(element: DeviceElement, stored: DeviceElement): void {
  const edited = new Map(useGradingState.getState().edited);
  if (JSON.stringify(element) === JSON.stringify(stored)) edited.delete(element.id);
  else edited.set(element.id, element);
  keep(edited);
}

/** Drops the trial of one device, or of all. */
export function discard(id?: ElementId): void {
  const edited = new Map(useGradingState.getState().edited);
  if (id === undefined) edited.clear();
  else edited.delete(id);
  keep(edited);
}

export function enterGrading(projectId: string): void {
  let edited: ReadonlyMap<ElementId, DeviceElement> = new Map();
  try {
    edited = new Map(JSON.parse(sessionStorage.getItem(editsKey(projectId)) ?? '[]') as [ElementId, DeviceElement][]);
  } catch {
    // nothing kept
  }
  useGradingState.setState({ ...nothingLooked, projectId, chartId: null, view: 'chart', edited });
}
