/** What the Differential stage shows just now; not part of the project. */
import { create } from 'zustand';
import type { DeviceElement } from '@mesura/core/protection/device';

export const differentialViews = ['functions', 'plane', 'ends', 'transformers'] as const;
export type DifferentialView = (typeof differentialViews)[number];

interface DifferentialState {
  readonly view: DifferentialView;
  /** "device function". */
  readonly chosen: string | null;
  /** As it is being set by hand. */
  readonly tried: DeviceElement | null;
  /** Cores that saturate are drawn as a path. */
  readonly saturation: boolean;
}

const fresh: DifferentialState = { view: 'functions', chosen: null, tried: null, saturation: true };

export const useDifferentialState = create<DifferentialState>()(() => fresh);
export const setDifferential = (part: Partial<DifferentialState>): void => useDifferentialState.setState(part);
export const enterDifferential = (): void => setDifferential(fresh);
