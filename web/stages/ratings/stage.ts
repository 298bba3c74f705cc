import dynamic from 'next/dynamic';
import type { Stage } from '../../desk/stage';
import { enterRatings } from './state';
import { useRatingsOverlay } from './overlay';

/** Duties against ratings over all conditions. */
export const ratingsStage: Stage = {
  id: 'ratings',
  title: 'Ratings',
  group: 'Study',
  Bench: dynamic(() => import('./RatingsBench').then((module) => module.RatingsBench)),
  useOverlay: useRatingsOverlay,
  owns: ['rating.'],
  enter: enterRatings,
};
