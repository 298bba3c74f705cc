/** What the hand is doing on the drawing, and how it is looked at. Not part of the project. */
import { create } from 'zustand';
import type { Box } from '@mesura/core/drawing/shape/shapes';
import type { PanelType } from '@mesura/core/model/sheet';
import type { ElementId } from '@mesura/core/model/fields';
import type { Held } from './tools';
import { allLayers, type LayerId, type Layers } from './picture/labelling';

/** How commands look at the drawing; the drawing itself provides it. */
export interface View {
  /** Shows the whole page. */
  fit(): void;
  /** Brings a place into view, in the middle when it was out of it. */
  show(at: { x: number; y: number }): void;
  /** Moves the view no further than until a box stands clear of its edges and of what floats over it. */
  reveal(box: Box): void;
  /** The middle of what is in view, in drawing units. */
  centre(): { x: number; y: number };
}

interface DrawingState {
  /** One thing at a time. */
  held: Held | null;
  /** Null until the drawing stands in the page. */
  view: View | null;
  /** Where something would be put down, in drawing units. */
  cursor: { x: number; y: number } | null;
  layers: Layers;
  map: boolean;
  /** The symbols of the feeder drawn last, from its busbar outward, for "the same again". */
  lastFeeder: readonly ElementId[];
  lastPanel: PanelType;
  set(part: Partial<DrawingState>): void;
  toggle(layer: LayerId): void;
}

const kept = 'mesura.layers';

export const useDrawing = create<DrawingState>()((set, get) => ({
  held: null,
  view: null,
  cursor: null,
  layers: allLayers,
  map: true,
  lastFeeder: [],
  lastPanel: 'outgoing',
  set: (part) => set(part),
  toggle: (layer) => {
    const layers = { ...get().layers, [layer]: !get().layers[layer] };
    set({ layers });
    try {
      localStorage.setItem(kept, JSON.stringify(layers));
    } catch {
      // Next time all layers are shown again.
    }
  },
}));

/** Layers as they were left in this browser. */
export function restoreLayers(): void {
  try {
    const read = JSON.parse(localStorage.getItem(kept) ?? 'null') as Partial<Layers> | null;
    if (read) useDrawing.setState({ layers: { ...allLayers, ...read } });
  } catch {
    // nothing kept
  }
}
