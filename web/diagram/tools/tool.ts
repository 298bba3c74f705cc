/**
 * What the hand can hold on the drawing: each tool a small state machine in a file of its own. It is told what happens and answers with what it
 * holds next; what is done to the project goes through the hand, so that a test can lend one.
 */
import type { Box } from '@mesura/core/drawing/shape/shapes';
import type { Point } from '@mesura/core/drawing/shape/terminals';
import type { Tool } from '@mesura/core/drawing/shape/tools';
import type { Fragment } from '@mesura/core/drawing/parts/fragment';
import type { Change } from '@mesura/core/model/changes';
import type { ElementId } from '@mesura/core/model/fields';
import type { Network } from '@mesura/core/model/network';

export type ToolEvent =
  | { readonly on: 'key'; readonly key: string; readonly shift: boolean }
  /** A click where no symbol stands ready. */
  | { readonly on: 'sheet'; readonly at: Point; readonly shift: boolean }
  | { readonly on: 'symbol'; readonly id: ElementId; readonly at: Point; readonly shift: boolean };

/** What a tool may see and do. */
export interface Hand {
  readonly network: Network;
  readonly selection: readonly ElementId[];
  /** Where something would be put down: under the pointer or moved there by keys, else the middle of the view. */
  readonly cursor: Point;
  place(tool: Tool | null, at: Point): void;
  stamp(fragment: Fragment, at: Point, label: string): void;
  /** False when the two do not go together; why has been said. */
  join(from: ElementId, to: ElementId): boolean;
  /** False when the changes were refused; why has been said. */
  draw(changes: readonly Change[], label: string, drawn: readonly ElementId[]): boolean;
}

/** What is held from now on (null: nothing), and where something would be put down. */
export interface Next<Held> {
  readonly held: Held | null;
  readonly cursor?: Point | null;
}

export interface Hint {
  /** In bold before the rest. */
  readonly lead?: string;
  readonly text: string;
  /** What is held cannot be drawn as it is. */
  readonly wrong?: boolean;
  /** Keys that the mouse can press as well. */
  readonly keys?: readonly { readonly press: string; readonly sign: string; readonly title: string }[];
}

export interface DrawingTool<Held> {
  /** Null: the event means nothing to it, and goes on to the others. */
  on(held: Held, event: ToolEvent, hand: Hand): Next<Held> | null;
  hint(held: Held, network: Network): Hint;
  /** A cursor goes with the pointer. */
  readonly aims?: boolean;
  /** The room that what is held would take at the cursor. */
  ghost?(held: Held, at: Point): Box | null;
  /** The model with what is being drawn. */
  draft?(held: Held, network: Network): Network;
  /** What the view follows. */
  follow?(held: Held, network: Network): Box | null;
}
