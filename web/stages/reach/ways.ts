/** The way that a line end looks along: its own line to the farthest end, and the longest that follows. */
import type { ElementId } from '@mesura/core/model/fields';
import type { ReachRow } from '@mesura/core/reach/plan';

export const keyOfRow = ({ end }: Pick<ReachRow, 'end'>): string => `${end.line}:${end.terminal}`;

export const ownLines = ({ figures }: ReachRow): readonly ElementId[] => figures.own.elements;

export function wayOf(row: ReachRow): readonly ElementId[] {
  const own = ownLines(row);
  return [...own, ...row.figures.longestNext.elements.filter((line) => !own.includes(line))];
}
