import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { newElement } from '@mesura/core/model/defaults';
import { elementId } from '@mesura/core/model/fields';
import type { Change } from '@mesura/core/model/changes';
import type { Bus } from '@mesura/core/model/switching';
import { parseBatch, stepAt, stepsSince, storeBatch, type BatchInput } from './changes';
import { closePool, pool } from './database';
import { loadDemoOnce } from './demo';
import { expanded } from '@mesura/core/model/storedChanges';
import { toServiceError, type ServiceError } from './errors';
import { migrate } from './migrate';
import {
  createProject,
  deleteProject,
  duplicateProject,
  exportProject,
  importProject,
  listProjects,
  openProject,
  renameProject,
  restoreProject,
} from './projects';
import { closeWorkers } from './workers';

const migrations = join(import.meta.dirname, 'migrations');
const owner = process.env.MESURA_DATABASE_URL!;
const demoText = readFileSync(join(import.meta.dirname, '../../demo/sorrel-island.json'), 'utf8');

beforeAll(async () => {
  await migrate(migrations, owner);
});
afterAll(closePool);

afterAll(closeWorkers);

let count = 0;
const batch = (baseRevision: number, changes: Change[], over: Partial<BatchInput> = {}): BatchInput => ({
  batchId: `test-batch-${++count}`,
  baseRevision,
  label: 'test',
  origin: 'edit',
  author: 'engineer',
  changes,
  ...over,
});
const bus = (name: string, over: Partial<Bus> = {}) => newElement('bus', elementId(name), name, over);
const failure = async (work: Promise<unknown>): Promise<ServiceError> =>
  work.then(() => Promise.reject(new Error('it was accepted')), toServiceError);

describe('projects', () => {
  it('migrations run once, also when started twice', async () => {
    expect(await Promise.all([migrate(migrations, owner), migrate(migrations, owner)])).toEqual([[], []]);
  });

  it('loads the demo once and not again, even after it was deleted', async () => {
    await loadDemoOnce(demoText);
    const demo = (await listProjects()).find((project) => project.name === 'Sorrel Island')!;
    expect(demo.elements).toBeGreaterThan(70);
    await deleteProject(demo.id);
    expect(await loadDemoOnce(demoText)).toBe(false);
    expect((await listProjects()).some((project) => project.id === demo.id)).toBe(false);
    await restoreProject(demo.id);
    expect((await listProjects()).some((project) => project.id === demo.id)).toBe(true);
  });

  it('create, rename, duplicate, export, import: the elements stay the same', async () => {
    const id = await importProject(demoText);
    await renameProject(id, '  Island  ');
    const copy = await duplicateProject(id);
    const [original, duplicate] = [await openProject(id), await openProject(copy)];
    expect(original.name).toBe('Island');
    expect(duplicate.name).toBe('Island (copy)');
    expect(duplicate.elements).toEqual(original.elements);
    const { text } = await exportProject(copy);
    expect((await openProject(await importProject(text))).elements).toEqual(original.elements);
  });

  it('refuses names and files that are none', async () => {
    for (const name of ['', '   ', 'x'.repeat(121)])
      expect(await failure(createProject(name))).toMatchObject({ status: 422, code: 'project.name' });
    expect(await failure(importProject('{"format":"mesura-project"}'))).toMatchObject({
      status: 422,
      code: 'project.file',
    });
    expect(await failure(openProject("' OR 1=1 --"))).toMatchObject({ status: 404 });
  });
});

describe('change batches', () => {
  let id: string;
  beforeEach(async () => {
    id = await createProject('Batches');
  });

  it('store, update and remove, each with its inverse in the log', async () => {
    await storeBatch(id, batch(1, [{ op: 'add', element: bus('A') }]));
    await storeBatch(id, batch(2, [{ op: 'update', element: bus('A', { nominalKv: 33 }) }]));
    expect((await openProject(id)).elements.find((element) => element.id === 'A')).toMatchObject({ nominalKv: 33 });
    const { log, elements } = await openProject(id);
    expect(log.map((each) => each.revision)).toEqual([2, 3]);
    // Of what was changed the log keeps only what differs.
    const { forward, inverse } = await stepAt(id, 3);
    expect(forward).toEqual([{ op: 'set', id: 'A', set: { nominalKv: 33 } }]);
    expect(inverse).toEqual([{ op: 'set', id: 'A', set: { nominalKv: 11 } }]);
    const back = expanded(new Map(elements.map((element) => [element.id, element])), inverse);
    await storeBatch(id, batch(3, back, { origin: 'undo' }));
    expect((await openProject(id)).elements.find((element) => element.id === 'A')).toMatchObject({ nominalKv: 11 });
  });

  it('are applied as a whole or not at all', async () => {
    const before = await openProject(id);
    const error = await failure(
      storeBatch(
        id,
        batch(1, [
          { op: 'add', element: bus('A') },
          { op: 'add', element: bus('B', { name: 'a' }) },
        ]),
      ),
    );
    expect(error).toMatchObject({ status: 422, details: { problems: [{ code: 'name.doubled' }] } });
    expect(await openProject(id)).toEqual(before);
  });

  it('count once when sent twice', async () => {
    const once = batch(1, [{ op: 'add', element: bus('A') }]);
    expect((await storeBatch(id, once)).revision).toBe(2);
    expect((await storeBatch(id, once)).revision).toBe(2);
    expect((await openProject(id)).log).toHaveLength(1);
    // However new the base that it is sent with again.
    expect((await storeBatch(id, { ...once, baseRevision: 2 })).revision).toBe(2);
    expect((await openProject(id)).log).toHaveLength(1);
  });

  it('of two people pass when they touch different things, and the second hears of the first', async () => {
    await storeBatch(id, batch(1, [{ op: 'add', element: bus('A') }]));
    const second = await storeBatch(id, batch(1, [{ op: 'add', element: bus('B') }]));
    expect(second).toMatchObject({ revision: 3, missed: [{ revision: 2 }] });
  });

  it('clash when they touch the same thing: nothing is stored, and it says what and who', async () => {
    await storeBatch(id, batch(1, [{ op: 'add', element: bus('A') }]));
    await storeBatch(
      id,
      batch(2, [{ op: 'update', element: bus('A', { nominalKv: 20 }) }], { author: 'checker', label: 'Level' }),
    );
    const error = await failure(storeBatch(id, batch(2, [{ op: 'update', element: bus('A', { nominalKv: 33 }) }])));
    expect(error).toMatchObject({
      status: 409,
      code: 'revision.clash',
      message: 'A has been changed meanwhile by checker ("Level").',
    });
    expect((await openProject(id)).elements.find((element) => element.id === 'A')).toMatchObject({ nominalKv: 20 });
  });

  it('clash however old the base is, also over what was removed, but not with the sender’s own', async () => {
    const mine = { clients: ['me-1'] };
    await storeBatch(id, batch(1, [{ op: 'add', element: bus('A') }], mine));
    // The author goes on without having heard of the first answer.
    await storeBatch(id, batch(1, [{ op: 'update', element: bus('A', { nominalKv: 20 }) }], mine));
    await storeBatch(id, batch(3, [{ op: 'add', element: bus('B') }]));
    for (let k = 0; k < 30; k++)
      await storeBatch(id, batch(4 + k, [{ op: 'update', element: bus('B', { x: 10 * k }) }]));
    const old = batch(1, [{ op: 'update', element: bus('A', { nominalKv: 33 }) }], { clients: ['other'] });
    expect(await failure(storeBatch(id, old))).toMatchObject({ code: 'revision.clash' });
    await storeBatch(id, batch(34, [{ op: 'remove', id: elementId('A') }], mine));
    expect(await failure(storeBatch(id, { ...old, baseRevision: 34 }))).toMatchObject({ code: 'revision.clash' });
  });

  it('say what was missed, or that it is too much to send', async () => {
    for (let k = 0; k < 205; k++)
      await storeBatch(
        id,
        batch(1 + k, [k === 0 ? { op: 'add', element: bus('A') } : { op: 'update', element: bus('A', { x: 10 * k }) }]),
      );
    expect(await stepsSince(id, 200)).toHaveLength(6);
    expect(await stepsSince(id, 1)).toBeNull();
    expect((await storeBatch(id, batch(200, [{ op: 'add', element: bus('B') }]))).missed).toHaveLength(6);
    expect((await storeBatch(id, batch(1, [{ op: 'add', element: bus('C') }]))).missed).toBeNull();
    expect((await openProject(id)).log).toHaveLength(200);
  });

  it('made at the same moment are put in a row', async () => {
    const names = Array.from({ length: 12 }, (_, k) => `P${k}`);
    const results = await Promise.all(
      names.map((name) => storeBatch(id, batch(1, [{ op: 'add', element: bus(name) }]))),
    );
    expect(new Set(results.map((result) => result.revision)).size).toBe(names.length);
    expect((await openProject(id)).elements.filter((element) => element.kind === 'bus')).toHaveLength(names.length);
  });

  it('from the future, of unknown shape, or hostile are refused', async () => {
    expect(await failure(storeBatch(id, batch(99, [{ op: 'add', element: bus('A') }])))).toMatchObject({
      status: 409,
      code: 'revision.unknown',
    });
    for (const body of [
      null,
      [],
      {},
      { ...batch(1, []), changes: [] },
      { ...batch(1, []), changes: [{ op: 'drop table' }] },
      { ...batch(1, [{ op: 'add', element: bus('A') }]), batchId: "'; DROP" },
      batch(1, [{ op: 'add', element: bus('A', { note: 'half \ud83d' }) }]),
      batch(1, [{ op: 'add', element: bus('A', { note: 'nul \0' }) }]),
      batch(1, [{ op: 'add', element: bus('A', { nominalKv: 1e308 }) }]),
      batch(1, [{ op: 'add', element: bus('A') }], { label: 'half \udc00' }),
    ])
      expect(() => parseBatch(body)).toThrow();
    const nasty = bus('N', { name: `Robert'); DROP TABLE projects;-- <b>"\\`, note: '\u{1F4A5} ″Ω' });
    await storeBatch(id, batch(1, [{ op: 'add', element: nasty }]));
    expect((await openProject(id)).elements.find((element) => element.id === 'N')).toEqual(nasty);
  });

  it('with thousands of elements go through in one', async () => {
    const changes = Array.from({ length: 2500 }, (_, k): Change => ({ op: 'add', element: bus(`B${k}`) }));
    await storeBatch(id, batch(1, changes));
    expect((await openProject(id)).elements.length).toBe(2501);
  });

  it('a stored element that is not valid is not handed out silently', async () => {
    await pool().query(
      "INSERT INTO elements (project_id, id, kind, data, revision) VALUES (?, 'bad', 'bus', '{\"kind\":\"bus\"}', 1)",
      [id],
    );
    await expect(openProject(id)).rejects.toThrow();
  });
});
