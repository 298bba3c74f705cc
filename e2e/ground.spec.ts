/** What stands on every answer, and who is let in: over all routes that the application has, found in its folders. */
import { createHash } from 'node:crypto';
import { readdirSync } from 'node:fs';
import http from 'node:http';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';
import { expect, test } from '@playwright/test';
import { importProject } from './desk';

interface Asked {
  method?: string;
  path: string;
  headers?: Record<string, string>;
  body?: string;
}

/** One request as it is written, past what a browser or a client library would put right. */
const ask = ({ method = 'GET', path, headers = {}, body }: Asked) =>
  new Promise<{ status: number; headers: http.IncomingHttpHeaders; text: string }>((resolve, reject) => {
    const { hostname, port } = new URL(process.env.MESURA_URL!);
    const request = http.request({ hostname, port, method, path, headers, agent: false }, (response) => {
      const parts: Buffer[] = [];
      response.on('data', (part: Buffer) => parts.push(part));
      response.on('end', () =>
        resolve({
          status: response.statusCode!,
          headers: response.headers,
          text: Buffer.concat(parts).toString('latin1'),
        }),
      );
    });
    request.on('error', reject);
    request.end(body);
  });

/** Addresses of all pages and route handlers, with the parameters filled in. */
function routes(id: string): string[] {
  const app = join(import.meta.dirname, '../web/app');
  return readdirSync(app, { recursive: true, encoding: 'utf8' })
    .filter((file) => /(^|\/)(page|route)\.tsx?$/.test(file))
    .map((file) =>
      `/${file.replace(/(^|\/)(page|route)\.tsx?$/, '')}`
        .replace('[id]', id)
        .replace('[revision]', '1')
        .replace('[sheet]', '1'),
    );
}

test('every page and every answer carries the security headers, whatever its status', async ({ request }) => {
  const all = routes(await importProject(request));
  expect(all.length).toBeGreaterThan(14);
  for (const path of [...all, '/nowhere', '/api/nowhere', '/_next/static/nothing.js', '/p/none', '/icon.svg'])
    for (const method of ['GET', 'POST', 'PUT', 'TRACE']) {
      const { status, headers } = await ask({ method, path, body: method === 'POST' ? '{' : undefined });
      const about = `${method} ${path}: ${status}`;
      expect(status, about).not.toBe(500);
      const policy = headers['content-security-policy'] ?? '';
      expect(policy, about).toContain("default-src 'self'");
      expect(policy, about).toContain("frame-ancestors 'none'");
      expect(policy, about).toMatch(/script-src 'self' 'nonce-[A-Za-z0-9+/=]{20,}' 'wasm-unsafe-eval'(;|$)/);
      expect(policy, about).not.toMatch(/script-src[^;]*'unsafe/);
      expect(headers['x-content-type-options'], about).toBe('nosniff');
      expect(headers['referrer-policy'], about).toBe('no-referrer');
      expect(headers['x-frame-options'], about).toBe('DENY');
      expect(headers['x-request-id'], about).toMatch(/^[0-9a-f-]{36}$/);
      if (method === 'PUT' || method === 'TRACE') expect(status, about).toBe(405);
    }
});

test('no route is served under another name, or to a page of another site', async ({ request }) => {
  const id = await importProject(request);
  const { host } = new URL(process.env.MESURA_URL!);
  for (const path of routes(id)) {
    // A name that somebody else's name server points to this machine.
    expect((await ask({ path, headers: { host: 'rebound.example' } })).status, path).toBe(421);
    expect((await ask({ path, headers: { host: host.replace(/\d+$/, '1') } })).status, path).toBe(421);
    for (const origin of ['http://elsewhere.example', 'null', 'file://', 'not an origin', `http://${host}.example`])
      for (const method of ['GET', 'POST', 'PATCH', 'DELETE'])
        expect((await ask({ method, path, headers: { origin } })).status, `${method} ${path} from ${origin}`).toBe(403);
    const fetched = { 'sec-fetch-site': 'cross-site', 'sec-fetch-mode': 'no-cors' };
    expect((await ask({ path, headers: fetched })).status, path).toBe(403);
  }
  expect((await ask({ path: '/api/projects', headers: { origin: `http://${host}` } })).status).toBe(200);
  const followed = { 'sec-fetch-site': 'cross-site', 'sec-fetch-mode': 'navigate' };
  expect((await ask({ path: '/', headers: followed })).status).toBe(200);
});

test('addresses that stand for nothing are answered with 400, bodies beyond the limit with 413 while they are read', async ({
  request,
}) => {
  const id = await importProject(request);
  for (const path of [
    '/%',
    '/%zz',
    '/api/projects/%E0%A4%A',
    `/api/projects/${id}/file?x=%`,
    '/a%00b',
    '/a%5Cb',
    '/%2e%2e/x',
  ])
    expect((await ask({ path })).status, path).toBe(400);
  expect((await ask({ path: `/${'a'.repeat(5000)}` })).status).toBe(414);
  for (const path of [`/api/projects/${id}/changes?since=x`, `/api/projects/${id}/history?before=1e99`])
    expect((await ask({ path })).status, path).toBe(422);
  for (const path of [`/api/projects/${id}/changes?since=99999999999999999999`, `/api/projects/${id}/compare?from=1`])
    expect((await ask({ path })).status, path).toBe(422);

  // Sent in pieces without a length: the server hangs up long before the end.
  const { hostname, port } = new URL(process.env.MESURA_URL!);
  const sent = await new Promise<{ status: number; bytes: number }>((resolve) => {
    let bytes = 0;
    let status = 0;
    const piece = Buffer.alloc(256 * 1024, 0x20);
    const outgoing = http.request(
      {
        hostname,
        port,
        method: 'POST',
        path: '/api/projects',
        headers: { 'content-type': 'application/json' },
        agent: false,
      },
      (response) => {
        status = response.statusCode!;
        response.resume();
      },
    );
    outgoing.on('error', () => resolve({ status, bytes }));
    outgoing.on('close', () => resolve({ status, bytes }));
    const more = () => {
      if (outgoing.destroyed || status !== 0 || bytes > 400e6) return outgoing.destroy();
      bytes += piece.length;
      if (outgoing.write(piece)) setImmediate(more);
      else outgoing.once('drain', more);
    };
    more();
  });
  expect(sent.status === 413 || sent.status === 0).toBe(true);
  expect(sent.bytes).toBeLessThan(60e6);
});

test('a project is handed on with its history and sheets as one file with a digest', async ({ request }) => {
  const answer = await request.get(`/api/projects/${await importProject(request)}/archive`);
  expect(answer.headers()['content-disposition']).toContain('.mesura-archive.gz');
  const lines = gunzipSync(await answer.body())
    .toString('utf8')
    .trimEnd()
    .split('\n');
  expect(JSON.parse(lines[0])).toMatchObject({ type: 'mesura-archive', version: 4 });
  const end = JSON.parse(lines.at(-1)!) as { type: string; lines: number; digest: string };
  expect(end).toMatchObject({ type: 'end', lines: lines.length - 1 });
  expect(
    createHash('sha256')
      .update(`${lines.slice(0, -1).join('\n')}\n`)
      .digest('hex'),
  ).toBe(end.digest);
  expect((await request.get('/api/projects/nosuchthing1/archive')).status()).toBe(404);
});

test('the page runs under its policy: no violation is told, and a script put in from outside does not run', async ({
  page,
  request,
}) => {
  const violations: string[] = [];
  page.on('console', (message) => {
    if (/content security policy/i.test(message.text())) violations.push(message.text());
  });
  await page.goto(`/p/${await importProject(request)}`);
  await expect(page.getByRole('status', { name: 'Calculation state' })).toHaveText(/^current/, { timeout: 60_000 });
  expect(violations).toEqual([]);
  await page.evaluate(() => {
    const script = document.createElement('script');
    script.textContent = 'window.broken = true';
    document.body.append(script);
  });
  expect(await page.evaluate(() => 'broken' in window)).toBe(false);
});
