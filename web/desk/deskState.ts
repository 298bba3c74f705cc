/** What the desk shows just now: stage, fault chosen, chart chosen, curves that are edited but not stored. Not part of the project. */
import { create } from 'zustand';
import type { Method, PlaceQuery, StudyQuery } from '@mesura/core/faults/engine';
import type { PeakMethod } from '@mesura/core/faults/iec60909/peak';
import type { FaultKind, Phase } from '@mesura/core/faults/kinds';
import type { Charging } from '@mesura/core/assembly/assemble';
import type { ElementId } from '@mesura/core/model/fields';
import type { Relay } from '@mesura/core/model/protection';
import type { FaultCase } from '@mesura/core/sequence/stamp';

export const stages = [
  { group: 'Build', id: 'network', title: 'Network' },
  { group: 'Study', id: 'faults', title: 'Faults' },
  { group: 'Protect', id: 'grading', title: 'Grading' },
  { group: 'Deliver', id: 'sheets', title: 'Sheets' },
] as const;
export type StageId = (typeof stages)[number]['id'];

/** How faults are looked at; the sources' state is the condition of the whole desk. */
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

interface DeskState {
  projectId: string;
  stage: StageId;
  faultCase: FaultCase;
  faultSetup: FaultSetup;
  /** Page of the drawing; null: the first. */
  page: ElementId | null;
  /** Place whose fault is looked into. */
  faultPlace: PlaceQuery | null;
  /** A place along a line or at its open end, listed above the buses. */
  linePlace: Exclude<PlaceQuery, { at: 'terminal' }> | null;
  chartId: ElementId | null;
  /** Index of the pair looked at. */
  pair: number | null;
  sheetRelay: ElementId | null;
  /** Relays with settings under trial, by id; the project holds the stored ones. */
  edited: ReadonlyMap<ElementId, Relay>;
  /** Field of the selected element that the data form is to put the cursor into. */
  focusField: string | null;
  findingsOpen: boolean;
  /** Whether the list of changes stands over the bench. */
  historyOpen: boolean;
  keysOpen: boolean;
  /** Pointer on a chart or the drawing, as text for the bottom line. */
  readout: string;
  set(part: Partial<DeskState>): void;
  edit(relay: Relay, stored: Relay): void;
  discard(id?: ElementId): void;
  enter(projectId: string): void;
}

const editsKey = (projectId: string) => `mesura.edited.${projectId}`;

function keepEdits(projectId: string, edited: ReadonlyMap<ElementId, Relay>): void {
  try {
    sessionStorage.setItem(editsKey(projectId), JSON.stringify([...edited]));
  } catch {
    // A curve under trial survives a reload where storage allows it.
  }
}

export const useDesk = create<DeskState>()((set, get) => ({
  projectId: '',
  stage: 'network',
  faultCase: 'max',
  faultSetup: plainSetup,
  page: null,
  faultPlace: null,
  linePlace: null,
  chartId: null,
  pair: null,
  sheetRelay: null,
  edited: new Map(),
  focusField: null,
  findingsOpen: false,
  historyOpen: false,
  keysOpen: false,
  readout: '',
  set: (part) => set(part),
  edit: (relay, stored) => {
    const edited = new Map(get().edited);
    if (JSON.stringify(relay) === JSON.stringify(stored)) edited.delete(relay.id);
    else edited.set(relay.id, relay);
    keepEdits(get().projectId, edited);
    set({ edited });
  },
  discard: (id) => {
    const edited = new Map(get().edited);
    if (id === undefined) edited.clear();
    else edited.delete(id);
    keepEdits(get().projectId, edited);
    set({ edited });
  },
  enter: (projectId) => {
    if (get().projectId === projectId) return;
    let edited: ReadonlyMap<ElementId, Relay> = new Map();
    try {
      edited = new Map(JSON.parse(sessionStorage.getItem(editsKey(projectId)) ?? '[]') as [ElementId, Relay][]);
    } catch {
      // nothing kept
    }
    const asked = new URLSearchParams(window.location.search).get('stage');
    const stage = stages.find(({ id }) => id === asked)?.id ?? 'network';
    set({
      projectId,
      edited,
      stage,
      faultSetup: plainSetup,
      page: null,
      faultPlace: null,
      linePlace: null,
      chartId: null,
      pair: null,
      sheetRelay: null,
      findingsOpen: false,
      historyOpen: false,
      keysOpen: false,
    });
  },
}));

export const busPlace = (bus: ElementId): PlaceQuery => ({ at: 'terminal', element: bus, terminal: 0 });

export const samePlace = (p: PlaceQuery | null, q: PlaceQuery | null): boolean =>
  JSON.stringify(p) === JSON.stringify(q);

/** Changes the stage and puts it into the address, so that a reload stays there. */
export function goTo(stage: StageId): void {
  useDesk.getState().set({ stage, readout: '' });
  const url = new URL(window.location.href);
  url.searchParams.set('stage', stage);
  window.history.replaceState(window.history.state, '', url);
}
