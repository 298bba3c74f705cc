/** Commands that compute from one project and need nothing else: for the terminal, the server and scripts alike. A new one is a file, a line here, and its options in `words`. */
import type { Command } from '../command';
import { faultsCommand } from './faults';
import { aroundCommand } from './around';
import { flowCommand } from './flow';
import { outagesCommand } from './outages';
import { ratingsCommand } from './ratings';
import { directCommand } from './direct';
import { arcCommand } from './arc';
import { batchCommand } from './batch';
import { earthCommand } from './earth';
import { circuitsCommand } from './circuits';
import { boardsCommand } from './boards';
import { matrixCommand } from './matrix';
import { gradingCommand } from './grading';
import { directionsCommand } from './directions';
import { proposeCommand } from './propose';
import { reachCommand } from './reach';
import { coverageCommand } from './coverage';
import { packageCommand } from './package';
import { differentialCommand } from './differential';
import { trialCommand } from './trial';
import { scriptCommand } from './script';
import { searchCommand } from './search';
import { curveCommand } from './curve';
import { verifyCommand } from './verify';
import { sheetCommand } from './sheet';

export const studyCommands: readonly Command[] = [
  faultsCommand,
  aroundCommand,
  flowCommand,
  outagesCommand,
  ratingsCommand,
  directCommand,
  arcCommand,
  earthCommand,
  circuitsCommand,
  boardsCommand,
  matrixCommand,
  gradingCommand,
  directionsCommand,
  proposeCommand,
  reachCommand,
  coverageCommand,
  packageCommand,
  differentialCommand,
  trialCommand,
  searchCommand,
  curveCommand,
  verifyCommand,
  sheetCommand,
  batchCommand,
  scriptCommand,
];
