/** Work of the core that a thread beside the server does: runs in a bundle of its own, see scripts/lib/build.mjs. Plain data in and out. */
import { studyPair } from '@mesura/core/grading/seen';
import type { Element } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import { networkOf } from '@mesura/core/model/network';
import { sheetContent, type SheetContent } from '@mesura/core/sheets/sheet';

/** A setting sheet's content; null when there is no such relay. */
export interface SheetJob {
  readonly task: 'sheet';
  readonly elements: readonly Element[];
  readonly relay: ElementId;
}

export type Job = SheetJob;

export default function work({ elements, relay }: Job): SheetContent | null {
  return sheetContent(studyPair(networkOf(elements)), relay);
}
