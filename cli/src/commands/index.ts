/** The commands of the terminal. A new one is a file and a line here, and its options in `options`. */
import type { Command } from '../command';
import { arcCommand } from './arc';
import { aroundCommand } from './around';
import { boardsCommand } from './boards';
import { casesCommand } from './cases';
import { circuitsCommand } from './circuits';
import { curveCommand } from './curve';
import { proposeCommand } from './propose';
import { reachCommand } from './reach';
import { completionFor } from './completion';
import { coverageCommand } from './coverage';
import { packageCommand } from './package';
import { earthCommand } from './earth';
import { directionsCommand } from './directions';
import { formulaCommand } from './formula';
import { exportCommand, importCommand } from './exchange';
import { faultsCommand } from './faults';
import { flowCommand } from './flow';
import { gradingCommand } from './grading';
import { matrixCommand } from './matrix';
import { outagesCommand } from './outages';
import { ratingsCommand } from './ratings';
import { directCommand } from './direct';
import { differentialCommand } from './differential';
import { searchCommand } from './search';
import { sheetCommand } from './sheet';
import { trialCommand } from './trial';
import { verifyCommand } from './verify';

export const commands: readonly Command[] = [
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
  casesCommand,
  formulaCommand,
  importCommand,
  exportCommand,
  completionFor(() => commands),
];
