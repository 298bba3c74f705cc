import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { changesBetween } from '@mesura/core/model/difference';
import { newElement } from '@mesura/core/model/defaults';
import type { Change } from '@mesura/core/model/changes';
import { elementId } from '@mesura/core/model/fields';
import { networkOf } from '@mesura/core/model/network';
import { stepAt, storeBatch, type BatchInput } from './changes';
import { closePool, pool } from './database';
import { toServiceError } from './errors';
import { migrate } from './migrate';
import { createProject, importProject, openProject } from './projects';
import { closeWorkers } from './workers';
import { compareRevisions, historyOf, nameVersion, stateAt, versionsOf } from './versions';

beforeAll(async () => {
  await migrate(join(import.meta.dirname, 'migrations'), process.env.MESURA_DATABASE_URL!);
});
afterAll(async () => {
  await closeWorkers();
  await closePool();
});

let count = 0;
const store = (id: string, baseRevision: number, changes: Change[], over: Partial<BatchInput> = {}) =>
  storeBatch(id, {
    batchId: `version-batch-${++count}`,
    baseRevision,
    label: `step ${count}`,
    origin: 'edit',
    author: 'Ada',
    changes,
    ...over,
  });
const bus = (name: string, x = 0) => newElement('bus', elementId(name), name, { x });
const refused = (work: Promise<unknown>) => work.then(() => Promise.reject(new Error('accepted')), toServiceError);

describe('history', () => {
  it('gives every state of before again: each revision is what it was when it was made', async () => {
    const id = await createProject('History');
    const states = [[], (await openProject(id)).elements];
    const steps: Change[][] = [
      [{ op: 'add', element: bus('A') }],
      [
        { op: 'add', element: bus('B') },
        { op: 'update', element: bus('A', 50) },
      ],
      [{ op: 'remove', id: elementId('A') }],
      [
        { op: 'update', element: bus('B', 80) },
        { op: 'add', element: bus('A', 10) },
      ],
      [
        { op: 'remove', id: elementId('B') },
        { op: 'remove', id: elementId('A') },
      ],
    ];
    for (const [k, changes] of steps.entries()) {
      await store(id, k + 1, changes);
      states.push((await openProject(id)).elements);
    }
    const sorted = (elements: readonly { id: string }[]) => [...elements].sort((p, q) => (p.id < q.id ? -1 : 1));
    for (let revision = 1; revision <= 6; revision++)
      expect(sorted(await stateAt(id, revision))).toEqual(sorted(states[revision]));
    for (const revision of [0, 7, -1, 1.5, NaN]) expect((await refused(stateAt(id, revision))).status).toBe(404);

    // Going back is a change like any other.
    const now = networkOf((await openProject(id)).elements);
    await store(id, 6, changesBetween(now, networkOf(await stateAt(id, 3))));
    expect(sorted((await openProject(id)).elements)).toEqual(sorted(states[3]));
    expect((await historyOf(id)).map(({ revision, author, touched }) => [revision, author, touched])).toEqual([
      [7, 'Ada', 2],
      [6, 'Ada', 2],
      [5, 'Ada', 2],
      [4, 'Ada', 1],
      [3, 'Ada', 2],
      [2, 'Ada', 1],
    ]);
    expect((await historyOf(id, 4)).map(({ revision }) => revision)).toEqual([3, 2]);
  });

  it('fills in what a log of an older program does not know, so that undo and states of before fit the model of today', async () => {
    const id = await createProject('Old log');
    const breaker = newElement('switch', elementId('Q'), 'Q');
    await store(id, 1, [{ op: 'add', element: breaker }]);
    await store(id, 2, [{ op: 'update', element: { ...breaker, ratedA: 630 } }]);
    const { breakingKa: _, ...old } = breaker;
    const asOnceStored = JSON.stringify([{ op: 'update', element: old }]);
    await pool().query('UPDATE changes SET inverse = ? WHERE project_id = ? AND revision = 3', [asOnceStored, id]);
    expect(await stateAt(id, 2)).toContainEqual(breaker);
    expect((await stepAt(id, 3)).inverse).toEqual([{ op: 'update', element: breaker }]);
  });

  it('names versions, each name once, and says what differs with its values', async () => {
    const demo = readFileSync(join(import.meta.dirname, '../../demo/sorrel-island.json'), 'utf8');
    const id = await importProject(demo);
    await nameVersion(id, { revision: 1, name: '  as imported ', author: 'Ada' });
    const transformer = (await openProject(id)).elements.find((element) => element.kind === 'transformer')!;
    await store(id, 1, [{ op: 'update', element: { ...transformer, ukPercent: 9.5, x: transformer.x + 10 } }]);
    await nameVersion(id, { revision: 2, name: 'new uk', author: 'Ben' });
    expect((await versionsOf(id)).map(({ name, revision, author }) => [name, revision, author])).toEqual([
      ['new uk', 2, 'Ben'],
      ['as imported', 1, 'Ada'],
    ]);
    expect(await compareRevisions(id, 1, 2)).toMatchObject([
      {
        id: transformer.id,
        what: 'changed',
        moved: false,
        fields: expect.arrayContaining([{ path: 'ukPercent', before: transformer.ukPercent, after: 9.5 }]),
      },
    ]);
    expect(await compareRevisions(id, 2, 2)).toEqual([]);
    expect((await refused(nameVersion(id, { revision: 2, name: 'new uk' }))).code).toBe('version.name');
    expect((await refused(nameVersion(id, { revision: 9, name: 'later' }))).code).toBe('revision.unknown');
    for (const body of [
      null,
      'x',
      {},
      { revision: 1, name: ' ' },
      { revision: 'a', name: 'n' },
      { revision: 1, name: 'n'.repeat(121) },
    ])
      expect((await refused(nameVersion(id, body))).status).toBe(422);
    expect((await refused(historyOf('aaaaaaaaaaaa'))).status).toBe(404);
  });
});
