/** What the Sheets stage shows just now; not part of the project. */
import { create } from 'zustand';
import type { ElementId } from '@mesura/core/model/fields';

export const useSheetsState = create<{ readonly relay: ElementId | null }>()(() => ({ relay: null }));
export const showSheet = (relay: ElementId | null): void => useSheetsState.setState({ relay });
