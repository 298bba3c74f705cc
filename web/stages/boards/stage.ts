import dynamic from 'next/dynamic';
import type { Stage } from '../../desk/stage';
import { enterBoards, pickOnBoard } from './state';

/** Boards by their front: what stands in each panel, what fits there, what the busbars carry, how boards feed each other. */
export const boardsStage: Stage = {
  id: 'boards',
  title: 'Boards',
  group: 'Build',
  Bench: dynamic(() => import('./BoardsBench').then((module) => module.BoardsBench)),
  pick: (store, { id }) => {
    store.getState().select([id]);
    pickOnBoard(store.getState().network, id);
  },
  owns: ['boards.'],
  enter: enterBoards,
};
