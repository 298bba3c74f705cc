/** The tools by what they hold. A new one is a file and a line here. */
import type { Box } from '@mesura/core/drawing/shape/shapes';
import type { Point } from '@mesura/core/drawing/shape/terminals';
import type { Network } from '@mesura/core/model/network';
import { feederTool, type DrawingFeeder } from './feeder';
import { joinTool, type Joining } from './join';
import { placeTool, type Placing } from './place';
import { stampTool, type Stamping } from './stamp';
import type { DrawingTool, Hand, Hint, Next, ToolEvent } from './tool';

export type Held = Placing | Stamping | DrawingFeeder | Joining;

const tools: { readonly [K in Held['kind']]: DrawingTool<Extract<Held, { kind: K }>> } = {
  place: placeTool,
  stamp: stampTool,
  feeder: feederTool,
  join: joinTool,
};

// Each tool only ever sees what it holds itself.
const toolOf = (held: Held) => tools[held.kind] as DrawingTool<Held>;

/** What comes of an event; null when nothing is held, or it means nothing to what is. */
export const toldTool = (held: Held | null, event: ToolEvent, hand: Hand): Next<Held> | null =>
  held && toolOf(held).on(held, event, hand);

export const hintOf = (held: Held, network: Network): Hint => toolOf(held).hint(held, network);
export const aims = (held: Held | null): boolean => held !== null && toolOf(held).aims === true;
export const ghostOf = (held: Held | null, at: Point | null): Box | null =>
  held && at && (toolOf(held).ghost?.(held, at) ?? null);
export const withDraft = (held: Held | null, network: Network): Network =>
  held ? (toolOf(held).draft?.(held, network) ?? network) : network;
export const followed = (held: Held | null, network: Network): Box | null =>
  held && (toolOf(held).follow?.(held, network) ?? null);
