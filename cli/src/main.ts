/** Entry of the terminal program: reads arguments and files, writes results; everything else is in `run`. */
import { readFileSync, writeSync } from 'node:fs';
import { run } from './run';

const outcome = run(process.argv.slice(2), (path) => readFileSync(path === '-' ? 0 : path, 'utf8'));
if (outcome.output) writeAll(1, outcome.output);
if (outcome.errors) writeAll(2, outcome.errors);
process.exitCode = outcome.code;

/** A pipe may take less than all at once. */
function writeAll(fd: number, text: string): void {
  let rest = Buffer.from(text);
  while (rest.length > 0) {
    try {
      rest = rest.subarray(writeSync(fd, rest));
    } catch (error) {
      const code = (error as NodeJS.ErrnoException).code;
      if (code === 'EPIPE') return;
      if (code !== 'EAGAIN') throw error;
    }
  }
}
