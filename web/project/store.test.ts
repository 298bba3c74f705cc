import { beforeEach, describe, expect, it, vi } from 'vitest';
import { blankElements, newElement } from '@mesura/core/model/defaults';
import { elementId } from '@mesura/core/model/fields';
import { createProjectStore, stacksOf } from './store';

type Answer = { status: number; body: unknown } | 'unreachable';
let answers: Answer[];
let sent: { path: string; body: { changes: unknown[]; baseRevision: number; origin: string } | null }[];

beforeEach(() => {
  answers = [];
  sent = [];
  const kept = new Map<string, string>();
  vi.stubGlobal('localStorage', {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, value: string) => void kept.set(key, value),
    removeItem: (key: string) => void kept.delete(key),
  });
  vi.stubGlobal('fetch', async (path: string, init?: RequestInit) => {
    sent.push({ path, body: init?.body ? JSON.parse(init.body as string) : null });
    const answer = answers.shift() ?? 'unreachable';
    if (answer === 'unreachable') throw new TypeError('network');
    return new Response(JSON.stringify(answer.body), { status: answer.status });
  });
});

const accepted = (revision: number): Answer => ({ status: 200, body: { revision, missed: [] } });
const open = () => createProjectStore({ id: 'p', name: 'P', revision: 1, elements: blankElements() }, []);
const bus = (name: string) => ({ op: 'add' as const, element: newElement('bus', elementId(name), name) });

describe('the store of a project', () => {
  it('applies at once, saves behind, and undoes', async () => {
    const store = open();
    answers = [accepted(2), accepted(3)];
    expect(store.getState().commit([bus('A')], 'Place bus')).toEqual({ ok: true });
    expect(store.getState().network.elements.has(elementId('A'))).toBe(true);
    await vi.waitFor(() => expect(store.getState()).toMatchObject({ revision: 2, saving: { status: 'saved' } }));
    store.getState().undoOne();
    expect(store.getState().network.elements.has(elementId('A'))).toBe(false);
    await vi.waitFor(() => expect(store.getState().revision).toBe(3));
    expect(sent.map((request) => [request.body!.origin, request.body!.baseRevision])).toEqual([
      ['edit', 1],
      ['undo', 2],
    ]);
    expect(store.hasUnsaved()).toBe(false);
  });

  it('keeps trying while the server is away, and keeps the change over a reload of the page', async () => {
    const store = open();
    answers = [
      'unreachable',
      { status: 503, body: { error: { code: 'database.unreachable', message: 'The database does not answer.' } } },
    ];
    store.getState().commit([bus('A')], 'Place bus');
    await vi.waitFor(
      () =>
        expect(store.getState().saving).toMatchObject({ status: 'waiting', message: 'The database does not answer.' }),
      3000,
    );
    store.stop();
    expect(store.hasUnsaved()).toBe(true);
    const reopened = open();
    answers = [accepted(2)];
    reopened.getState().resume();
    expect(reopened.getState().network.elements.has(elementId('A'))).toBe(true);
    await vi.waitFor(() => expect(reopened.hasUnsaved()).toBe(false), 3000);
  });

  it('loses nothing when its change is stored between the reading of the model and of the log', async () => {
    const store = open();
    store.getState().commit([bus('A')], 'Place bus');
    await vi.waitFor(() => expect(sent).toHaveLength(1));
    store.stop();
    const { batchId } = sent[0].body as unknown as { batchId: string };
    const late = { revision: 2, batchId, label: 'Place bus', origin: 'edit', author: '', madeAt: '' } as const;
    const log = [{ ...late, forward: [bus('A')], inverse: [{ op: 'remove' as const, id: elementId('A') }] }];
    // The model is still that of revision 1, the log knows of revision 2 already.
    const reopened = createProjectStore({ id: 'p', name: 'P', revision: 1, elements: blankElements() }, log);
    expect(reopened.getState().undo).toEqual([]);
    answers = [accepted(2)];
    reopened.getState().resume();
    expect(reopened.getState().network.elements.has(elementId('A'))).toBe(true);
    expect(reopened.getState().undo).toHaveLength(1);
    await vi.waitFor(() => expect(reopened.hasUnsaved()).toBe(false), 3000);
    expect(sent.at(-1)!.body).toMatchObject({ batchId, baseRevision: 1 });
  });

  it('takes what the page before stored while this one was being made', async () => {
    const store = open();
    const batch = { revision: 2, batchId: 'x', label: 'Place bus', origin: 'edit', forward: [bus('A')], inverse: [] };
    const fresh = { id: 'p', name: 'P', revision: 2, elements: [...blankElements(), bus('A').element] };
    answers = [
      { status: 200, body: { batches: [batch] } },
      { status: 200, body: fresh },
      { status: 200, body: { batches: [batch] } },
    ];
    store.getState().resume();
    await vi.waitFor(() => expect(store.getState().network.elements.has(elementId('A'))).toBe(true));
    expect(store.getState()).toMatchObject({ revision: 2, undo: [{ label: 'Place bus' }] });
    expect(sent.map(({ path }) => path)[0]).toContain('/projects/p/changes?since=1');
    const other = open();
    answers = [{ status: 200, body: { batches: [] } }];
    other.getState().resume();
    await vi.waitFor(() => expect(sent).toHaveLength(4));
    expect(other.getState()).toMatchObject({ revision: 1, version: 1 });
  });

  it('does not touch the model when a change does not fit, and tells a refusal of the server', async () => {
    const store = open();
    answers = [
      accepted(2),
      { status: 409, body: { error: { code: 'revision.clash', message: 'A has been changed meanwhile.' } } },
    ];
    store.getState().commit([bus('A')], 'Place bus');
    const refused = store
      .getState()
      .commit([{ ...bus('B'), element: newElement('bus', elementId('B'), 'a') }], 'Same name');
    expect(refused).toMatchObject({ ok: false, problems: [{ code: 'name.doubled' }] });
    store.getState().commit([bus('C')], 'Place bus');
    await vi.waitFor(() => expect(store.getState().saving).toMatchObject({ status: 'refused' }));
    expect(store.hasUnsaved()).toBe(true);
    answers = [
      { status: 200, body: { id: 'p', name: 'P', revision: 9, elements: [...blankElements(), bus('A').element] } },
      { status: 200, body: { batches: [] } },
      accepted(10),
    ];
    await store.getState().resolveRefusal('mine');
    await vi.waitFor(() => expect(store.getState()).toMatchObject({ revision: 10, saving: { status: 'saved' } }));
    expect(store.getState().network.elements.has(elementId('C'))).toBe(true);
  });

  it('refuses by itself what the server would refuse: nothing is taken up, nothing is sent', () => {
    const store = open();
    const far = { op: 'add' as const, element: newElement('bus', elementId('A'), 'A', { x: -1e6 }) };
    expect(store.getState().commit([far], 'Place bus')).toMatchObject({
      ok: false,
      problems: [{ code: 'data.invalid' }],
    });
    expect(store.getState().network.elements.has(elementId('A'))).toBe(false);
    expect(sent).toEqual([]);
  });

  it('selects only what is there', () => {
    const store = open();
    answers = [accepted(2)];
    store.getState().commit([bus('A')], 'Place bus');
    store.getState().select([elementId('A'), elementId('gone')]);
    expect(store.getState().selection).toEqual(['A']);
  });

  it('rebuilds undo and redo from the log', () => {
    const entry = (origin: 'edit' | 'undo' | 'redo', label: string) => ({ origin, label, forward: [], inverse: [] });
    const { undo, redo } = stacksOf([
      entry('edit', 'a'),
      entry('edit', 'b'),
      entry('edit', 'c'),
      entry('undo', 'Undo: c'),
      entry('undo', 'Undo: b'),
      entry('redo', 'Redo: b'),
    ]);
    expect(undo.map((step) => step.label)).toEqual(['a', 'b']);
    expect(redo.map((step) => step.label)).toEqual(['c']);
    expect(stacksOf([entry('edit', 'a'), entry('undo', 'Undo: a'), entry('edit', 'b')]).redo).toEqual([]);
  });
});
