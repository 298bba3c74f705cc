/** What the Trials stage shows just now; a trial that is not kept is no part of the project. */
import { create } from 'zustand';
import type { ElementId } from '@mesura/core/model/fields';
import { newTrial, newTrialFault, withFaults, type Trial, type TrialFault } from '@mesura/core/model/trial';
import type { DeviceElement } from '@mesura/core/protection/device';
import type { SearchSetup } from '@mesura/core/trials/search';

export const trialsViews = ['trial', 'kept', 'search'] as const;
export type TrialsView = (typeof trialsViews)[number];
export const trialPictures = ['events', 'timeline', 'curves', 'waves'] as const;
export type TrialPicture = (typeof trialPictures)[number];

export interface SearchAsked extends SearchSetup {
  /** Else in the one that is shown. */
  readonly allConditions: boolean;
}

interface TrialsState {
  readonly view: TrialsView;
  readonly picture: TrialPicture;
  /** What is played; null: no fault has been put yet. */
  readonly trial: Trial | null;
  /** The kept trial that it is, or was taken from. */
  readonly kept: ElementId | null;
  /** Looked at, in seconds from the beginning of the fault. */
  readonly atS: number;
  readonly playing: boolean;
  /** A device as it is being set by hand; stored when it is let go. */
  readonly tried: DeviceElement | null;
  readonly search: SearchAsked;
  /** The next click puts one more fault beside those that are there. */
  readonly adding: boolean;
  /** The search has been asked for. */
  readonly searching: boolean;
  /** Its group that is looked into. */
  readonly group: string | null;
}

const fresh: TrialsState = {
  view: 'trial',
  picture: 'events',
  trial: null,
  kept: null,
  atS: 0,
  playing: false,
  tried: null,
  search: {
    kinds: ['3ph', '2ph', '2phE', '1ph'],
    alongLines: 9,
    resistance: 0,
    failing: [],
    allConditions: false,
    lineOutages: false,
  },
  adding: false,
  searching: false,
  group: null,
};

/** What is played when nothing is kept. */
export const draftId = 'draft' as ElementId;

export const useTrialsState = create<TrialsState>()(() => fresh);
export const setTrials = (part: Partial<TrialsState>): void => useTrialsState.setState(part);
export const enterTrials = (): void => setTrials(fresh);

/** Looks at a trial from its beginning. */
export const openTrial = (trial: Trial, kept: ElementId | null = null): void =>
  setTrials({ view: 'trial', trial, kept, atS: 0, playing: false });

/** The same trial with something changed; one that is kept stays so until it is stored. */
export const changeTrial = (part: Partial<Trial>): void => {
  const { trial } = useTrialsState.getState();
  if (trial) setTrials({ trial: { ...trial, ...part }, atS: 0, playing: false });
};

/** Its faults changed; what they become goes along. */
export const changeFaults = (faults: readonly TrialFault[]): void => {
  const { trial } = useTrialsState.getState();
  if (trial) changeTrial(withFaults(trial, faults));
};

/** A fault put somewhere else, of the kind that it was. */
export function putFault(place: Pick<TrialFault, 'element'> & Partial<TrialFault>): void {
  const { trial, adding, kept } = useTrialsState.getState();
  if (adding && trial) {
    setTrials({ adding: false });
    return openTrial(withFaults(trial, [...trial.faults, newTrialFault({ kind: '1ph', ...place })]), kept);
  }
  const [before] = trial?.faults ?? [];
  const { kind = '3ph', odd = 0, phaseOhm = 0, earthOhm = 0, type = 'shunt' } = before ?? {};
  const fault = newTrialFault({ kind, odd, phaseOhm, earthOhm, type, ...place });
  const base = trial ?? newTrial(draftId, 'Trial', [fault]);
  openTrial({ ...withFaults(base, [fault]), id: draftId, name: 'Trial', opens: null, withinS: null }, null);
}
