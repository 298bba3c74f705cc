/** What the stage of boards shows just now; not part of the project. */
import { create } from 'zustand';
import { boardsIn } from '@mesura/core/switchboards/board';
import type { ElementId } from '@mesura/core/model/fields';
import type { Network } from '@mesura/core/model/network';

interface BoardsState {
  /** Null: the list of all. */
  readonly board: ElementId | null;
  /** Component, or section of busbar, whose types are shown. */
  readonly component: ElementId | null;
}

const fresh: BoardsState = { board: null, component: null };

export const useBoardsState = create<BoardsState>()(() => fresh);
export const setBoards = (part: Partial<BoardsState>): void => useBoardsState.setState(part);
export const enterBoards = (): void => setBoards(fresh);

/** A click on the drawing: the board that it stands in, and the component itself. */
export function pickOnBoard(network: Network, id: ElementId): void {
  const board = boardsIn(network).find(
    ({ sections, outlets }) => sections.includes(id) || outlets.some(({ components }) => components.includes(id)),
  );
  if (board) setBoards({ board: board.id, component: id });
}
