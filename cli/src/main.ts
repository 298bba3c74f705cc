/** Entry of the terminal program: reads arguments and files, writes results; everything else is in `run`. */
import { readFileSync, writeFileSync, writeSync } from 'node:fs';
import type { Documents } from './command';
import { perform } from './run';

/** How far it is, where somebody looks on and it takes more than a moment. */
const since = performance.now();
let last = since;
let isTold = false;
function tell(share: number): void {
  const now = performance.now();
  if (now - since < 500 || now - last < 200) return;
  last = now;
  isTold = true;
  writeAll(2, `\r\x1b[K${Math.round(100 * share)} %`);
}

const place = (path: string) => (path === '-' ? 0 : path);
const outcome = await perform(
  process.argv.slice(2),
  (path) => readFileSync(place(path), 'utf8'),
  (path) => readFileSync(place(path)),
  {
    // The writer of documents is the server's own, and loaded only here.
    async sheetPdf(project, subject) {
      const { documents } = (await import('../../web/server/jobs/documents' as string)) as { documents: Documents };
      return documents.sheetPdf(project, subject);
    },
  },
  process.stderr.isTTY ? tell : undefined,
);
if (isTold) writeAll(2, '\r\x1b[K');
for (const { path, content } of outcome.files ?? []) writeFileSync(path, content);
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
