/** The log of requests: a line each, a file that is kept once under another name when it has grown long. No addresses with ids, no data of projects. */
import { createWriteStream, renameSync, rmSync, statSync, type WriteStream } from 'node:fs';

export interface Entry {
  readonly id: string;
  readonly method: string;
  readonly url: string;
  readonly status: number;
  readonly milliseconds: number;
}

const longest = 10e6;
const kept = 3;

/** The address as its route: ids and queries are left out. */
export function routeOf(url: string): string {
  const path = url.split('?', 1)[0];
  if (path.startsWith('/_next/')) return '/_next/*';
  return path
    .split('/')
    .map((part, k) =>
      k > 0 && (/^[a-z2-9]{12}$/.test(part) || /\d/.test(part) || part.startsWith('draft-')) ? ':id' : part,
    )
    .join('/')
    .replace(/[^\x21-\x7e]/g, '?')
    .slice(0, 200);
}

export class RequestLog {
  private stream: WriteStream | null = null;
  private size = 0;

  /** `file` null: nothing is written. */
  constructor(private readonly file: string | null) {}

  write({ id, method, url, status, milliseconds }: Entry): void {
    if (this.file === null) return;
    const line = `${new Date().toISOString()} ${id} ${method} ${routeOf(url)} ${status} ${milliseconds.toFixed(1)} ms\n`;
    this.open(this.file).write(line);
    this.size += line.length;
    if (this.size > longest) this.rotate(this.file);
  }

  private open(file: string): WriteStream {
    if (this.stream) return this.stream;
    try {
      this.size = statSync(file).size;
    } catch {
      this.size = 0;
    }
    this.stream = createWriteStream(file, { flags: 'a', mode: 0o600 });
    // A full disk must not end the server.
    this.stream.on('error', () => (this.stream = null));
    return this.stream;
  }

  private rotate(file: string): void {
    this.stream?.end();
    this.stream = null;
    try {
      rmSync(`${file}.${kept}`, { force: true });
      for (let k = kept - 1; k >= 0; k--) {
        const from = k === 0 ? file : `${file}.${k}`;
        try {
          renameSync(from, `${file}.${k + 1}`);
        } catch {
          // not there yet
        }
      }
    } catch {
      // The log goes on in the same file.
    }
  }
}
