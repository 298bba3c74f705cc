/** What the Ratings stage shows just now; not part of the project. */
import { create } from 'zustand';
import type { RatingTable } from '@mesura/core/checks/ratings';

export type RatingsView = RatingTable | 'unknown';

interface RatingsState {
  readonly view: RatingsView;
  readonly filter: string;
  /** Only what is marginal or not met. */
  readonly onlyDoubtful: boolean;
  /** Check that is looked into. */
  readonly check: string | null;
}

const fresh: RatingsState = { view: 'making', filter: '', onlyDoubtful: false, check: null };

export const useRatingsState = create<RatingsState>()(() => fresh);
export const setRatings = (part: Partial<RatingsState>): void => useRatingsState.setState(part);
export const enterRatings = (): void => setRatings(fresh);
