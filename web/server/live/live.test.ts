/** Streams over a real database: what one process stores, another tells; who is there, and who is not any more. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { newElement } from '@mesura/core/model/defaults';
import { elementId } from '@mesura/core/model/fields';
import { storeBatch } from '../changes';
import { closePool, pool } from '../database';
import { migrate } from '../migrate';
import { createProject, deleteProject } from '../projects';
import { streams } from './hub';
import { keepPlaces, placeSchema, putPlace, standingOf } from './presence';
import { liveStream } from './stream';

beforeAll(() => migrate(`${import.meta.dirname}/../migrations`, process.env.MESURA_DATABASE_URL!));
afterAll(closePool);

const me = { accountId: null, name: 'Astrid Vale' };
const place = (client: string, over: object = {}) =>
  placeSchema.parse({ client, stage: 'grading', page: null, selection: [], ...over });

interface Heard {
  readonly type: string;
  readonly data: unknown;
}

/** A page that hears; `until` waits for what fits. */
function page(projectId: string, client: string, allowed: () => Promise<boolean> = () => Promise.resolve(true)) {
  const gone = new AbortController();
  const heard: Heard[] = [];
  const waiting: (() => void)[] = [];
  let ended = false;
  const { body } = liveStream(projectId, client, allowed, gone.signal);
  const read = async () => {
    let text = '';
    const decoder = new TextDecoder();
    for await (const part of body as unknown as AsyncIterable<Uint8Array>) {
      text += decoder.decode(part, { stream: true });
      const blocks = text.split('\n\n');
      text = blocks.pop()!;
      for (const block of blocks) {
        const type = /^event: (.*)$/m.exec(block)?.[1];
        if (type) heard.push({ type, data: JSON.parse(/^data: (.*)$/m.exec(block)![1]) });
      }
      for (const tell of waiting.splice(0)) tell();
    }
    ended = true;
    for (const tell of waiting.splice(0)) tell();
  };
  void read().catch(() => (ended = true));
  const until = async (fits: (heard: readonly Heard[]) => boolean) => {
    while (!fits(heard) && !ended) await new Promise<void>((resolve) => waiting.push(resolve));
    expect(fits(heard), JSON.stringify(heard)).toBe(true);
  };
  return { heard, until, leave: () => gone.abort(), end: () => ended };
}
const revision = (number: number) => (heard: readonly Heard[]) =>
  heard.some(({ type, data }) => type === 'revision' && data === number);
const people =
  (...names: string[]) =>
  (heard: readonly Heard[]) => {
    const last = heard.filter(({ type }) => type === 'people').at(-1);
    return (
      JSON.stringify((last?.data as { name: string }[] | undefined)?.map(({ name }) => name)) === JSON.stringify(names)
    );
  };
const step = (batchId: string, name: string) => ({
  batchId,
  baseRevision: 1,
  label: 'Place bus',
  origin: 'edit' as const,
  author: 'Bo',
  changes: [{ op: 'add' as const, element: newElement('bus', elementId(name), name) }],
});

describe('a stream', () => {
  it('tells where the project stands, and each step of any process', async () => {
    const id = await createProject('Live');
    const one = page(id, 'one');
    await one.until(revision(1));
    await storeBatch(id, step('a', 'A'));
    await one.until(revision(2));
    // Another process of the application stores on the same database: here, its statement.
    await pool().query('UPDATE projects SET revision = 7 WHERE id = ?', [id]);
    await one.until(revision(7));
    // Who comes late hears where it stands, not what was.
    const late = page(id, 'late');
    await late.until(revision(7));
    expect(late.heard.filter(({ type }) => type === 'revision')).toHaveLength(1);
    one.leave();
    late.leave();
    await expect.poll(streams).toBe(0);
  });
  it('tells who else is there, where, and when they have left', async () => {
    const id = await createProject('People');
    const [one, two] = [page(id, 'one'), page(id, 'two')];
    await putPlace(id, place('one'), me);
    await putPlace(id, place('two', { stage: 'reach', selection: ['x'] }), { ...me, name: 'Bo Harrow' });
    await one.until(people('Bo Harrow'));
    await two.until(people('Astrid Vale'));
    expect(one.heard.at(-1)!.data).toMatchObject([{ client: 'two', stage: 'reach', selection: ['x'] }]);
    await putPlace(id, place('two', { stage: 'sheets' }), { ...me, name: 'Bo Harrow' });
    await one.until((heard) => JSON.stringify(heard.at(-1)!.data).includes('sheets'));
    two.leave();
    await one.until(people());
    one.leave();
  });
  it('ends for whoever may not hear any more, and with the project', async () => {
    const id = await createProject('Ends');
    let allowed = true;
    const out = page(id, 'out', () => Promise.resolve(allowed));
    await out.until(revision(1));
    allowed = false;
    await out.until((heard) => heard.some(({ type }) => type === 'refused'));
    await expect.poll(out.end).toBe(true);
    const one = page(id, 'one');
    await one.until(revision(1));
    await deleteProject(id);
    await one.until((heard) => heard.some(({ type }) => type === 'gone'));
    await expect.poll(one.end).toBe(true);
    await expect.poll(streams).toBe(0);
    // Who comes while it is known to be gone is told at once, and watches nothing.
    const first = page(id, 'first');
    const second = page(id, 'second');
    await second.until((heard) => heard.some(({ type }) => type === 'gone'));
    await expect.poll(first.end).toBe(true);
    await expect.poll(streams).toBe(0);
  }, 30_000);
});

describe('places', () => {
  it('age: of a process that was killed nobody is left standing', async () => {
    const id = await createProject('Age');
    await putPlace(id, place('one'), me);
    await pool().query('UPDATE presence SET seen_at = NOW(3) - INTERVAL 20 SECOND WHERE project_id = ?', [id]);
    expect((await standingOf([id])).get(id)).toEqual({ revision: 1, people: [] });
    await keepPlaces([[id, 'one']]);
    expect((await standingOf([id])).get(id)!.people).toHaveLength(1);
    await pool().query('UPDATE presence SET seen_at = NOW(3) - INTERVAL 2 MINUTE WHERE project_id = ?', [id]);
    await keepPlaces([]);
    const [rows] = await pool().query('SELECT * FROM presence WHERE project_id = ?', [id]);
    expect(rows).toEqual([]);
  });
  it('of one account are not written over by another', async () => {
    const id = await createProject('Own');
    await putPlace(id, place('one'), { accountId: 'aaaaaaaaaaaa', name: 'Astrid Vale' });
    await putPlace(id, place('one', { stage: 'reach' }), { accountId: 'bbbbbbbbbbbb', name: 'Somebody' });
    expect((await standingOf([id])).get(id)!.people).toMatchObject([{ name: 'Astrid Vale', stage: 'grading' }]);
  });
  it('are refused where they are none, and what is stored badly is left out', async () => {
    for (const wrong of [{ client: 'a b' }, { client: '' }, { stage: '<b>' }, { selection: Array(51).fill('x') }])
      expect(placeSchema.safeParse({ ...place('one'), ...wrong }).success).toBe(false);
    const id = await createProject('Bad');
    await putPlace(id, place('one'), me);
    await pool().query("UPDATE presence SET place = '{' WHERE project_id = ?", [id]);
    expect((await standingOf([id, 'nowhere'])).get(id)!.people).toEqual([]);
    expect((await standingOf([id, 'nowhere'])).get('nowhere')).toEqual({ revision: null, people: [] });
  });
});
