/** What the D.c. stage shows just now; not part of the project. */
import { create } from 'zustand';
import type { ElementId } from '@mesura/core/model/fields';

interface DirectState {
  readonly view: 'places' | 'flow';
  readonly chosen: ElementId | null;
  /** Condition that is looked into; null: the one that decides. */
  readonly condition: ElementId | null;
}

const fresh: DirectState = { view: 'places', chosen: null, condition: null };

export const useDirectState = create<DirectState>()(() => fresh);
export const setDirect = (part: Partial<DirectState>): void => useDirectState.setState(part);
export const enterDirect = (): void => setDirect(fresh);
