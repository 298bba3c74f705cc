/** Entry of the terminal program: reads arguments and files, writes results; everything else is in `run`. */
import { readFileSync, writeFileSync, writeSync } from 'node:fs';
import { perform } from './run';

const place = (path: string) => (path === '-' ? 0 : path);
const outcome = await perform(
  process.argv.slice(2),
  (path) => readFileSync(place(path), 'utf8'),
  (path) => readFileSync(place(path)),
);
for (const { path, text } of outcome.files ?? []) writeFileSync(path, text);
if (outcome.bytes) writeAll(1, outcome.bytes);
if (outcome.output) writeAll(1, outcome.output);
if (outcome.errors) writeAll(2, outcome.errors);
process.exitCode = outcome.code;

/** A pipe may take less than all at once. */
function writeAll(fd: number, content: string | Uint8Array): void {
  let rest = Buffer.from(content);
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
