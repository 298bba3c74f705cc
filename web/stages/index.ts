/** The stages in the order of the work. A new one is a folder with its descriptor and a line here. */
import { registerStages, type Stage } from '../desk/stage';
import { arcStage } from './arc/stage';
import { batchStage } from './batch/stage';
import { circuitsStage } from './circuits/stage';
import { boardsStage } from './boards/stage';
import { conditionsStage } from './conditions/stage';
import { directStage } from './direct/stage';
import { differentialStage } from './differential/stage';
import { earthReturnStage } from './earthReturn/stage';
import { equipmentStage } from './equipment/stage';
import { faultsStage } from './faults/stage';
import { findingsStage } from './findings/stage';
import { gradingStage } from './grading/stage';
import { loadStage } from './load/stage';
import { networkStage } from './network/stage';
import { ratingsStage } from './ratings/stage';
import { reachStage } from './reach/stage';
import { settingsStage } from './settings/stage';
import { sheetsStage } from './sheets/stage';
import { tablesStage } from './tables/stage';
import { trialsStage } from './trials/stage';

export const stages: readonly Stage[] = [
  networkStage,
  tablesStage,
  equipmentStage,
  conditionsStage,
  loadStage,
  faultsStage,
  ratingsStage,
  arcStage,
  directStage,
  earthReturnStage,
  circuitsStage,
  // Of the group before; at this place, so that the keys of the stages stay what they are.
  boardsStage,
  settingsStage,
  gradingStage,
  reachStage,
  differentialStage,
  trialsStage,
  findingsStage,
  sheetsStage,
  batchStage,
];

registerStages(stages);
