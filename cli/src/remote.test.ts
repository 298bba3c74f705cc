/** Studies at a server that cannot just now, or will not. */
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterEach, describe, expect, it } from 'vitest';
import { perform } from './run';

let server: Server;
afterEach(() => new Promise((resolve) => server.close(resolve)));

/** Answers in turn; the last one stays. */
async function serving(...answers: { status: number; body: object; retry?: string }[]) {
  const asked: string[] = [];
  server = createServer((request, response) => {
    asked.push(request.url!);
    const { status, body, retry } = answers.length > 1 ? answers.shift()! : answers[0];
    response.writeHead(status, {
      'content-type': 'application/json',
      connection: 'close',
      ...(retry && { 'retry-after': retry }),
    });
    response.end(JSON.stringify(body));
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  const noFile = () => {
    throw new Error('no file is read');
  };
  const outcome = await perform(['faults', '--server', address, '--project', 'P'], noFile, noFile);
  return { asked, outcome };
}
const away = { status: 503, body: { detail: 'The database does not answer.' }, retry: '0' };

describe('a study at a server', () => {
  it('waits where it cannot just now, and goes on', async () => {
    const { asked, outcome } = await serving(away, { ...away, status: 429 }, { status: 200, body: { projects: [] } });
    expect(asked).toEqual(Array(3).fill('/api/v1/projects'));
    expect(outcome).toMatchObject({ code: 1, errors: expect.stringContaining('none: there is none') as unknown });
  });
  it('gives up in the end, with what the server said', async () => {
    const { asked, outcome } = await serving(away);
    expect(asked).toHaveLength(7);
    expect(outcome.errors).toContain('The database does not answer.');
  });
  it('asks once where the server refuses, or does not say that it is worth asking again', async () => {
    for (const answer of [
      { status: 403, body: { detail: 'This token is not made for that.' }, retry: '0' },
      { status: 503, body: { detail: 'Closed.' } },
    ]) {
      const { asked, outcome } = await serving(answer);
      expect([asked.length, outcome.code]).toEqual([1, 1]);
      await new Promise((resolve) => server.close(resolve));
    }
  });
});
