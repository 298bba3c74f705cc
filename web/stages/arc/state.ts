/** What the Arc stage shows just now; not part of the project. */
import { create } from 'zustand';

export const arcFilters = ['all', 'over', 'limited', 'outside', 'lineSide', 'dc', 'changed'] as const;
export type ArcFilter = (typeof arcFilters)[number];

interface ArcStateOfDesk {
  readonly filter: ArcFilter;
  readonly text: string;
  /** The other edition beside. */
  readonly compare: boolean;
  /** With the maintenance settings on. */
  readonly maintenance: boolean;
  /** Revision of the version that energies are compared with. */
  readonly version: number | null;
  /** Key of the place that is looked into. */
  readonly chosen: string | null;
}

const fresh: ArcStateOfDesk = {
  filter: 'all',
  text: '',
  compare: false,
  maintenance: false,
  version: null,
  chosen: null,
};

export const useArcState = create<ArcStateOfDesk>()(() => fresh);
export const setArc = (part: Partial<ArcStateOfDesk>): void => useArcState.setState(part);
export const enterArc = (): void => setArc(fresh);
