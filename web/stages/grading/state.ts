/** What the Grading stage shows just now: chart and pair chosen, curves that are edited but not stored. Not part of the project. */
import { create } from 'zustand';
import type { ElementId } from '@mesura/core/model/fields';
import type { DeviceElement } from '@mesura/core/protection/device';

/** Level of a chart where nothing says another one. */
export const usualKv = 11;

interface GradingState {
  readonly projectId: string;
  readonly chartId: ElementId | null;
  /** Index of the pair looked at. */
  readonly pair: number | null;
  /** Current on the chart that is asked about. */
  readonly asked: number | null;
  /** The chart takes all the height that it can have. */
  readonly tall: boolean;
  /** Devices with settings under trial, by id; the project holds the stored ones. */
  readonly edited: ReadonlyMap<ElementId, DeviceElement>;
}

export const useGradingState = create<GradingState>()(() => ({
  projectId: '',
  chartId: null,
  pair: null,
  asked: null,
  tall: false,
  edited: new Map(),
}));

export const setGrading = (part: Partial<Pick<GradingState, 'chartId' | 'pair' | 'asked' | 'tall'>>): void =>
  useGradingState.setState(part);

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
  useGradingState.setState({ projectId, chartId: null, pair: null, asked: null, edited });
}
