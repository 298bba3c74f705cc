/** Logs that do not grow for ever. */
import { renameSync, statSync } from 'node:fs';

const longestLog = 2e6;

/** A log that has grown long is kept once under another name. */
export function rotate(file) {
  try {
    if (statSync(file).size > longestLog) renameSync(file, `${file}.1`);
  } catch {
    // none yet
  }
}
