import type { ElementId } from '@mesura/core/model/fields';

/** An identifier that no other element has. */
export const newId = (): ElementId =>
  `e-${Date.now().toString(36)}${Math.random().toString(36).slice(2, 8)}` as ElementId;
