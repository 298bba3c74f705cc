/** What the Equipment stage shows just now; not part of the project. */
import { create } from 'zustand';
import type { LibraryKind } from '@mesura/core/model/library';

interface EquipmentState {
  /** Null: the kind of what is selected. */
  readonly kind: LibraryKind | null;
  /** Type that is looked at. */
  readonly entry: string | null;
  readonly filter: string;
  /** Only types that fit at the selected place. */
  readonly fitting: boolean;
}

export const useEquipmentState = create<EquipmentState>()(() => ({
  kind: null,
  entry: null,
  filter: '',
  fitting: false,
}));
export const setEquipment = (part: Partial<EquipmentState>): void => useEquipmentState.setState(part);
