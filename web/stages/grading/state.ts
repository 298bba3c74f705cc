/** What the Grading stage shows just now: chart and pair chosen, curves that are edited but not stored. Not part of the project. */
import { create } from 'zustand';
import type { ElementId } from '@mesura/core/model/fields';
import type { Relay } from '@mesura/core/model/protection';

interface GradingState {
  readonly projectId: string;
  readonly chartId: ElementId | null;
  /** Index of the pair looked at. */
  readonly pair: number | null;
  /** Relays with settings under trial, by id; the project holds the stored ones. */
  readonly edited: ReadonlyMap<ElementId, Relay>;
}

export const useGradingState = create<GradingState>()(() => ({
  projectId: '',
  chartId: null,
  pair: null,
  edited: new Map(),
}));

export const setGrading = (part: Partial<Pick<GradingState, 'chartId' | 'pair'>>): void =>
  useGradingState.setState(part);

const editsKey = (projectId: string) => `mesura.edited.${projectId}`;

function keep(edited: ReadonlyMap<ElementId, Relay>): void {
  useGradingState.setState({ edited });
  try {
    sessionStorage.setItem(editsKey(useGradingState.getState().projectId), JSON.stringify([...edited]));
  } catch {
    // A curve under trial survives a reload where storage allows it.
  }
}

/** Puts a relay on trial; what equals the stored one is none. */
export function edit(relay: Relay, stored: Relay): void {
  const edited = new Map(useGradingState.getState().edited);
  if (JSON.stringify(relay) === JSON.stringify(stored)) edited.delete(relay.id);
  else edited.set(relay.id, relay);
  keep(edited);
}

/** Drops the trial of one relay, or of all. */
export function discard(id?: ElementId): void {
  const edited = new Map(useGradingState.getState().edited);
  if (id === undefined) edited.clear();
  else edited.delete(id);
  keep(edited);
}

export function enterGrading(projectId: string): void {
  let edited: ReadonlyMap<ElementId, Relay> = new Map();
  try {
    edited = new Map(JSON.parse(sessionStorage.getItem(editsKey(projectId)) ?? '[]') as [ElementId, Relay][]);
  } catch {
    // nothing kept
  }
  useGradingState.setState({ projectId, chartId: null, pair: null, edited });
}
