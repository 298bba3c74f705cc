/** Models kept between requests: a step of another process is followed from the log, not read anew. */
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { newElement } from '@mesura/core/model/defaults';
import { elementId } from '@mesura/core/model/fields';
import type { Change } from '@mesura/core/model/changes';
import { storeBatch } from './changes';
import { closePool, transaction } from './database';
import { migrate } from './migrate';
import { forgetModels, isAtHand, modelAt } from './models';
import { createProject, openProject } from './projects';
import { closeWorkers } from './workers';

beforeAll(async () => {
  await migrate(join(import.meta.dirname, 'migrations'), process.env.MESURA_DATABASE_URL!);
});
afterAll(closePool);
afterAll(closeWorkers);

let count = 0;
const store = (id: string, baseRevision: number, changes: Change[]) =>
  storeBatch(id, {
    batchId: `model-batch-${++count}`,
    baseRevision,
    label: 'test',
    origin: 'edit',
    author: 'engineer',
    changes,
  });
const fresh = async (name: string) => {
  const id = await createProject(name);
  return { id, revision: (await openProject(id)).revision };
};
const bus = (name: string, nominalKv = 11) => newElement('bus', elementId(name), name, { nominalKv });
const kept = () => (globalThis as { mesuraModels?: Map<string, unknown> }).mesuraModels!;

describe('a model of before', () => {
  it('follows the steps of another process, and is then what the rows say', async () => {
    const { id, revision } = await fresh('Followed');
    const { revision: first } = await store(id, revision, [{ op: 'add', element: bus('A') }]);
    const before = kept().get(id);
    const { revision: second } = await store(id, first, [
      { op: 'update', element: bus('A', 33) },
      { op: 'add', element: bus('B') },
    ]);
    const { revision: third } = await store(id, second, [{ op: 'remove', id: elementId('A') }]);
    await transaction(async (connection) => {
      // As in a process that has not seen the last two steps.
      kept().set(id, before);
      const query = vi.spyOn(connection, 'query');
      const followed = await modelAt(connection, id, third);
      const asked = query.mock.calls.map(([asking]) => (typeof asking === 'string' ? asking : asking.sql));
      expect(asked.some((sql) => sql.includes('FROM changes'))).toBe(true);
      expect(asked.some((sql) => sql.includes('FROM elements'))).toBe(false);
      query.mockRestore();
      forgetModels();
      expect(isAtHand(id)).toBe(false);
      const read = await modelAt(connection, id, third);
      expect([...followed.elements.values()]).toEqual([...read.elements.values()]);
      expect([...read.elements.keys()].filter((key) => key !== 'settings')).toEqual(['B']);
    });
  });
  it('is read anew where the log does not reach back, or stands at a later revision', async () => {
    const { id, revision } = await fresh('Read anew');
    const { revision: first } = await store(id, revision, [{ op: 'add', element: bus('A') }]);
    const late = kept().get(id) as { revision: number };
    kept().set(id, { ...late, revision: first + 5 });
    await transaction(async (connection) => {
      expect((await modelAt(connection, id, first)).elements.has(elementId('A'))).toBe(true);
      kept().set(id, { ...late, revision: first - 5000 });
      expect((await modelAt(connection, id, first)).elements.has(elementId('A'))).toBe(true);
    });
  });
});
