/** `mesura sheet`: drafts from a file in every form; what is issued, from a server. */
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { demoText } from '@mesura/core/test/demo';
import { readXlsx } from '@mesura/core/formats/tables/xlsx';
import type { Documents } from './command';
import { perform } from './run';

// As the terminal has it.
const { documents } = (await import('../../web/server/jobs/documents' as string)) as { documents: Documents };

const sheet = (...args: string[]) =>
  perform(
    ['sheet', ...args],
    (path) => {
      if (path !== 'demo.json') throw new Error('no such file');
      return demoText();
    },
    () => new Uint8Array(),
    documents,
  );

describe('mesura sheet', () => {
  it('lists all devices with how many of their statements do not hold', async () => {
    const { code, output } = await sheet('demo.json');
    expect(code).toBe(3);
    expect(output).toMatch(/^sheet of +type +station +functions +statements +not met/);
    expect(output).toMatch(/^BRA Q32 relay +Numerical feeder relay +BRA +51 50 51N +\d+ +2$/m);
    const { sheets } = JSON.parse((await sheet('demo.json', '--format', 'json')).output) as {
      sheets: { kind: string }[];
    };
    expect(sheets).toHaveLength(51);
  });
  it('gives one as table, CSV, data, workbook and PDF', async () => {
    const of = (format: string, ...more: string[]) =>
      sheet('demo.json', '--device', 'BRA Q32 relay', '--format', format, ...more);
    expect((await of('table')).output).toMatch(/^50 +Pickup +14 +× In +2100 +A +14 +A +typed$/m);
    expect((await of('csv')).output).toContain('50,Pickup,14,× In,2100,A,14,A,typed');
    const content = JSON.parse((await of('json')).output) as { form: number; relay: { name: string } };
    expect(content).toMatchObject({ form: 3, relay: { name: 'BRA Q32 relay' } });
    const book = await readXlsx((await of('xlsx')).bytes!);
    expect(book.map(({ name }) => name)).toEqual(['Sheet', 'Transformers', 'Settings', 'Figures', 'Checks', 'Grading']);
    const pdf = (await of('pdf')).bytes!;
    expect(Buffer.from(pdf.slice(0, 5)).toString()).toBe('%PDF-');
    const label = await sheet('demo.json', '--at', 'BRA 11 A', '--format', 'json');
    expect(JSON.parse(label.output)).toMatchObject({ subject: 'arcLabel', name: 'BRA 11 A' });
  });
  it('refuses in words', async () => {
    for (const [args, code, why] of [
      [['demo.json', '--format', 'pdf'], 2, /add --device/],
      [['demo.json', '--device', 'nobody'], 1, /no device is called/],
      [['demo.json', '--device', 'BRA Q32 relay', '--at', 'BRA 11 A'], 2, /one of --device/],
      [['demo.json', '--at', 'BRA 11 A'], 2, /json, pdf or xlsx/],
      [['demo.json', '--format', 'html'], 2, /--format must be one of/],
      [['--server', 'nonsense'], 2, /must be an address/],
      [['--server', 'ftp://x'], 2, /http or https/],
      [['--server', 'http://127.0.0.1:1'], 1, /no server answers/],
    ] as const) {
      const outcome = await sheet(...args);
      expect([outcome.code, outcome.errors], args.join(' ')).toEqual([code, expect.stringMatching(why)]);
    }
  });
});

describe('mesura sheet --server', () => {
  let server: Server;
  let address: string;
  const asked: string[] = [];
  const element = { kind: 'relay', id: 'q32', name: 'BRA Q32 relay' };
  const issued = (number: number, sound = true) => ({
    id: 10 + number,
    relayId: 'q32',
    number,
    issuedAt: '2026-11-28T10:00:00.000Z',
    issuedBy: 'Cleo Marsh',
    digest: 'abcdef0123456789',
    sound,
  });
  const answers: Record<string, unknown> = {
    '/api/v1/projects': { projects: [{ id: 'p', name: 'Sorrel Island' }] },
    '/api/v1/projects/p/elements?kind=relay&after=': { elements: [], next: 'a' },
    '/api/v1/projects/p/elements?kind=relay&after=a': { elements: [element], next: null },
    '/api/v1/projects/p/elements?kind=switch&after=': { elements: [], next: null },
    '/api/v1/projects/p/elements?kind=linePackage&after=': { elements: [], next: null },
    '/api/v1/projects/p/sheets': { sheets: [issued(2), issued(1)] },
    '/api/v1/projects/p/sheets/12': { id: 12, number: 2, content: {} },
    '/api/v1/projects/p/sheets/11': { id: 11, number: 1, content: {} },
  };
  beforeAll(async () => {
    server = createServer((request, response) => {
      const { url = '', method, headers } = request;
      asked.push(`${method} ${url} ${headers.cookie ?? ''}`.trim());
      if (url === '/api/session') return response.setHeader('set-cookie', 'mesura=token; Path=/').end('{}');
      if (url.endsWith('?as=pdf')) return response.end('%PDF-issued');
      if (!(url in answers)) return response.writeHead(404).end('{"detail":"It is not there."}');
      response.setHeader('content-type', 'application/json').end(JSON.stringify(answers[url]));
    });
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  });
  afterAll(() => server.close());

  it('lists what is issued, and hands it over as it was issued', async () => {
    const { code, output } = await sheet('--server', address);
    expect(code).toBe(0);
    expect(output).toMatch(/^q32 +2 +2026-11-28 +Cleo Marsh +abcdef012345 +fits$/m);
    const latest = JSON.parse(
      (await sheet('--server', address, '--device', 'BRA Q32 relay', '--format', 'json')).output,
    ) as { id: number };
    expect(latest.id).toBe(12);
    const first = await sheet('--server', address, '--device', 'q32', '--revision', '1', '--format', 'json');
    expect(JSON.parse(first.output)).toMatchObject({ id: 11 });
    const pdf = await sheet('--server', address, '--device', 'q32', '--format', 'pdf');
    expect(Buffer.from(pdf.bytes!).toString()).toBe('%PDF-issued');
  });
  it('signs in where it is told as whom, and says what the server says', async () => {
    process.env.MESURA_USER = 'astrid';
    process.env.MESURA_PASSWORD = 'x';
    try {
      await sheet('--server', address);
      expect(asked).toContain('GET /api/v1/projects mesura=token');
    } finally {
      delete process.env.MESURA_USER;
      delete process.env.MESURA_PASSWORD;
    }
    expect((await sheet('--server', address, '--device', 'nobody', '--format', 'json')).errors).toMatch(/is issued/);
    expect((await sheet('--server', address, '--project', 'x')).errors).toMatch(
      /--project must be one of Sorrel Island/,
    );
    answers['/api/v1/projects/p/sheets'] = { sheets: [issued(1, false)] };
    expect((await sheet('--server', address)).code).toBe(3);
    delete answers['/api/v1/projects'];
    expect((await sheet('--server', address)).errors).toMatch(/answers: It is not there/);
  });
});
