'use client';

import { createContext, useContext } from 'react';
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
  /** Colour of a device that stands on the chart. */
  marks: ReadonlyMap<ElementId, string>;
}

export const noOverlay: Overlay = { tags: new Map(), flows: new Map(), marks: new Map() };

export interface DiagramView {
  overlay: Overlay;
  colorAt(element: ElementId, terminal: number): string;
  /** Connections may be drawn and symbols placed. */
  editable: boolean;
}

export const DiagramContext = createContext<DiagramView>({
  overlay: noOverlay,
  colorAt: () => 'currentColor',
  editable: false,
});
export const useDiagramView = (): DiagramView => useContext(DiagramContext);
