/** What the Findings stage shows just now; not part of the project. */
import { create } from 'zustand';
import type { Check } from '@mesura/core/checks/check';

export type Shown = 'failed' | 'all' | 'changed';

interface FindingsState {
  readonly shown: Shown;
  readonly filter: string;
  /** Check that is looked into, by its identifier. */
  readonly check: string | null;
  /** An earlier run to compare with: the first one of this visit until another is kept. */
  readonly kept: readonly Check[] | null;
  /** Revision of a named version to compare with in its place. */
  readonly version: number | null;
}

const fresh: FindingsState = { shown: 'failed', filter: '', check: null, kept: null, version: null };

export const useFindingsState = create<FindingsState>()(() => fresh);
export const setFindings = (part: Partial<FindingsState>): void => useFindingsState.setState(part);
export const enterFindings = (): void => setFindings(fresh);
