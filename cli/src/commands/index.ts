/** The commands of the terminal. A new one is a file and a line here, and its options in `options` and `words`; one that computes from a project belongs to `studies`. */
import type { Command } from '../command';
import { casesCommand } from './cases';
import { completionFor } from './completion';
import { exportCommand, importCommand } from './exchange';
import { formulaCommand } from './formula';
import { studyCommands } from './studies';

export const commands: readonly Command[] = [
  ...studyCommands,
  casesCommand,
  formulaCommand,
  importCommand,
  exportCommand,
  completionFor(() => commands),
];
