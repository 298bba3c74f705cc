import dynamic from 'next/dynamic';
import type { Stage } from '../../desk/stage';
import { enterFindings } from './state';

/** All checks over all conditions: what holds, what does not, and what got worse. */
export const findingsStage: Stage = {
  id: 'findings',
  title: 'Findings',
  group: 'Deliver',
  Bench: dynamic(() => import('./FindingsBench').then((module) => module.FindingsBench)),
  owns: [],
  enter: enterFindings,
};
