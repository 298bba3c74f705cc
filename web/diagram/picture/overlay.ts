import type { ElementId } from '@mesura/core/model/fields';

export interface BusTag {
  lines: string[];
  /** Said by assistive technology, and on hover. */
  title: string;
  active: boolean;
}

export interface FlowMark {
  text: string;
  /** Terminal at which the current leaves. */
  leavesAt: number;
}

/** What a stage lays over the one-line diagram. */
export interface Overlay {
  tags: ReadonlyMap<ElementId, BusTag>;
  flows: ReadonlyMap<ElementId, FlowMark>;
  /** Colour of a device that stands on the chart; "fail" for the place of a fault. */
  marks: ReadonlyMap<ElementId, string>;
  /** A few words beside a symbol. */
  notes: ReadonlyMap<ElementId, string>;
}

export const noOverlay: Overlay = { tags: new Map(), flows: new Map(), marks: new Map(), notes: new Map() };
