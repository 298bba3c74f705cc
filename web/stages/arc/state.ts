/** What the Arc stage shows just now; not part of the project. */
import { create } from 'zustand';

export const arcFilters = ['all', 'over', 'limited', 'outside', 'lineSide'] as const;
export type ArcFilter = (typeof arcFilters)[number];

interface ArcStateOfDesk {
  readonly filter: ArcFilter;
  readonly text: string;
  /** The other edition beside. */
  readonly compare: boolean;
  /** Key of the place that is looked into. */
  readonly chosen: string | null;
}

const fresh: ArcStateOfDesk = { filter: 'all', text: '', compare: false, chosen: null };

export const useArcState = create<ArcStateOfDesk>()(() => fresh);
export const setArc = (part: Partial<ArcStateOfDesk>): void => useArcState.setState(part);
export const enterArc = (): void => setArc(fresh);
