import { afterAll, describe, expect, it } from 'vitest';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Studies } from '@mesura/core/studies/studies';
import { readProject } from '@mesura/core/formats/project/project';
import { elementId } from '@mesura/core/model/fields';
import { networkOf } from '@mesura/core/model/network';
import { readXlsx } from '@mesura/core/formats/tables/xlsx';
import { sheetContent } from '@mesura/core/sheets/sheet';
import { bigNetwork } from '../../scripts/bigNetwork';
import { closeWorkers, inThread } from './workers';

afterAll(closeWorkers);
const read = readProject(readFileSync(join(import.meta.dirname, '../../demo/sorrel-island.json'), 'utf8'));
if (!read.ok) throw new Error(read.problems[0].message);
const { elements } = read.project;
const relay = elementId('bra-q32-relay');

describe('threads beside the server', () => {
  it('write reports: a PDF with its pages, a workbook that opens again', async () => {
    const job = { task: 'report' as const, elements, project: 'P', revision: 7, date: '2026-01-31' };
    const pdf = await inThread({
      ...job,
      request: { study: 'ratings' as const, format: 'pdf' as const, conditions: [] },
    });
    if (!pdf.ok) throw new Error(pdf.message);
    expect(Buffer.from(pdf.bytes.slice(0, 5)).toString()).toBe('%PDF-');
    const book = await inThread({
      ...job,
      request: {
        study: 'faults' as const,
        format: 'xlsx' as const,
        conditions: [elementId('maximum')],
        buses: [elementId('bra-11-a')],
        kinds: ['3ph' as const],
        breakingS: 0.1,
        durationS: 1,
        workings: false,
      },
    });
    if (!book.ok) throw new Error(book.message);
    const sheets = await readXlsx(new Uint8Array(book.bytes));
    expect(sheets.map(({ name }) => name)).toEqual(['Study', 'Results', 'Contributions']);
    expect(sheets[1].rows[1][0]).toBe('BRA 11 A');
    const gone = {
      ...job,
      request: { study: 'ratings' as const, format: 'pdf' as const, conditions: [elementId('gone')] },
    };
    expect(await inThread(gone)).toMatchObject({ ok: false });
  });

  it('come to what the core comes to here', async () => {
    const here = sheetContent(new Studies(networkOf(elements)), relay)!;
    const subjects = [
      { kind: 'device' as const, id: relay as string },
      { kind: 'device' as const, id: 'nobody' },
    ];
    const [there, none] = await inThread({ task: 'sheets', elements, subjects });
    expect(there!.content).toEqual(structuredClone(here));
    expect(there!.drawing).toMatch(/^<svg.*BRA Q32/s);
    expect(none).toBeNull();
  });

  it('leave the server free meanwhile, and do several jobs', async () => {
    const job = {
      task: 'sheets' as const,
      elements: [...elements, ...bigNetwork(800)],
      subjects: [{ kind: 'device' as const, id: relay }],
    };
    let beats = 0;
    const timer = setInterval(() => beats++, 1);
    const both = await Promise.all([inThread(job), inThread(job)]);
    clearInterval(timer);
    expect(both[0]).toEqual(both[1]);
    expect(both[0][0]).not.toBeNull();
    expect(beats).toBeGreaterThan(5);
  });

  it('stop when nobody wants the answer any more, and work on afterwards', async () => {
    const gone = new AbortController();
    const job = inThread(
      { task: 'sheets', elements: [...elements, ...bigNetwork(2000)], subjects: [{ kind: 'device', id: relay }] },
      gone.signal,
    );
    gone.abort();
    await expect(job).rejects.toMatchObject({ status: 503, code: 'workers.stopped' });
    expect((await inThread({ task: 'sheets', elements, subjects: [{ kind: 'device', id: relay }] }))[0]).not.toBeNull();
  });

  it('say when none is set up', async () => {
    await closeWorkers();
    const before = process.env.MESURA_JOBS;
    delete process.env.MESURA_JOBS;
    try {
      await expect(
        inThread({ task: 'sheets', elements, subjects: [{ kind: 'device', id: relay }] }),
      ).rejects.toMatchObject({ code: 'workers.none' });
    } finally {
      process.env.MESURA_JOBS = before;
    }
  });
});
