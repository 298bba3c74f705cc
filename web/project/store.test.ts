import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { blankElements, newElement } from '@mesura/core/model/defaults';
import { elementId } from '@mesura/core/model/fields';
import { mapStorage } from './test/mapStorage';
import { createProjectStore } from './store';
import { stacksOf } from './undo';
import { useHere, type Here } from './who';

type Answer = { status: number; body: unknown } | 'unreachable';
let answers: Answer[];
let sent: { path: string; body: { changes: unknown[]; baseRevision: number; origin: string } | null }[];

beforeEach(() => {
  answers = [];
  sent = [];
  vi.stubGlobal('localStorage', mapStorage(new Map()));
  vi.stubGlobal('fetch', async (path: string, init?: RequestInit) => {
    sent.push({ path, body: init?.body ? JSON.parse(init.body as string) : null });
    const answer = answers.shift() ?? 'unreachable';
    if (answer === 'unreachable') throw new TypeError('network');
    return new Response(JSON.stringify(answer.body), { status: answer.status });
  });
});

const accepted = (revision: number): Answer => ({ status: 200, body: { revision, missed: [] } });
const nothingNew: Answer = { status: 200, body: { batches: [] } };
const clash = (revision: number, message: string): Answer => ({
  status: 409,
  body: { error: { code: 'revision.clash', message, revision } },
});
const fresh = (revision: number, ...buses: string[]): Answer => ({
  status: 200,
  body: { id: 'p', name: 'P', revision, elements: [...blankElements(), ...buses.map((name) => bus(name).element)] },
});
const open = () => createProjectStore({ id: 'p', name: 'P', revision: 1, elements: blankElements() }, []);
const bus = (name: string) => ({ op: 'add' as const, element: newElement('bus', elementId(name), name) });

describe('with accounts', () => {
  const ownDesk = useHere.getState();
  const here = (over: Partial<Here>) =>
    useHere.setState({
      ownDesk: false,
      name: 'Astrid Vale',
      accountId: 'a',
      administrator: false,
      roles: ['engineer'],
      ...over,
    });
  afterEach(() => useHere.setState(ownDesk));

  it('whoever may only look changes nothing, and is told', () => {
    here({ roles: ['viewer', 'checker', 'approver'] });
    const store = open();
    expect(store.getState().commit([bus('A')], 'Place bus')).toMatchObject({ ok: false, problems: [{ code: 'role' }] });
    expect(store.getState().notice).toMatch(/not change it/);
    expect(store.getState().network.elements.has(elementId('A'))).toBe(false);
    expect(store.hasUnsaved()).toBe(false);
    expect(sent).toEqual([]);
  });
  it('waits where the session has ended, and sends what was typed once somebody has signed in again', async () => {
    here({});
    const store = open();
    answers = [{ status: 401, body: { error: { code: 'signIn', message: 'Nobody is signed in.' } } }, accepted(2)];
    store.getState().commit([bus('A')], 'Place bus');
    await vi.waitFor(() => expect(store.getState().saving).toMatchObject({ status: 'waiting' }));
    await vi.waitFor(() => expect(store.getState()).toMatchObject({ revision: 2, saving: { status: 'saved' } }), 5000);
  });
  it('what one person left unsent is never sent as somebody else’s', async () => {
    here({});
    const first = open();
    answers = ['unreachable'];
    first.getState().commit([bus('A')], 'Place bus');
    await vi.waitFor(() => expect(first.getState().saving.status).toBe('waiting'));
    first.stop();
    here({ accountId: 'b', name: 'Bo Harrow' });
    const second = open();
    answers = [nothingNew];
    second.getState().resume();
    await vi.waitFor(() => expect(sent.length).toBeGreaterThan(1));
    expect(second.getState().network.elements.has(elementId('A'))).toBe(false);
    second.stop();
    here({});
    const back = open();
    answers = [nothingNew, accepted(2)];
    back.getState().resume();
    await vi.waitFor(() => expect(back.getState().network.elements.has(elementId('A'))).toBe(true));
    back.stop();
  });
});

describe('beside others', () => {
  const others = {
    batchId: 'theirs',
    label: 'Move',
    origin: 'edit',
    author: 'Bo Harrow',
    by: null,
    madeAt: '',
  } as const;
  const note = (text: string) => ({ op: 'set' as const, id: elementId('A'), set: { note: text } });

  it('undoes its own steps, never those of others', async () => {
    const store = open();
    answers = [
      accepted(2),
      { status: 200, body: { batches: [{ ...others, revision: 3, forward: [note('theirs')] }] } },
    ];
    store.getState().commit([bus('A')], 'Place bus');
    await vi.waitFor(() => expect(store.getState().revision).toBe(2));
    store.getState().heard(3);
    await vi.waitFor(() =>
      expect(store.getState().network.elements.get(elementId('A'))).toMatchObject({ note: 'theirs' }),
    );
    expect(store.getState().undo.map(({ label }) => label)).toEqual(['Place bus']);
    // The bus is theirs, too, by now: it stays, it is said why, and the step is out of the way.
    store.getState().undoOne();
    expect(store.getState().network.elements.get(elementId('A'))).toMatchObject({ note: 'theirs' });
    expect(store.getState().notice).toMatch(/Others have gone on with A/);
    expect(store.getState().undo).toEqual([]);
    expect(sent.at(-1)!.path).toMatch(/since=2/);
  });
  it('reads what it hears of, once, and not what it knows', async () => {
    const store = open();
    answers = [{ status: 200, body: { batches: [{ ...others, revision: 2, forward: [bus('B')] }] } }];
    store.getState().heard(1);
    expect(sent).toEqual([]);
    store.getState().heard(2);
    await vi.waitFor(() => expect(store.getState().network.elements.has(elementId('B'))).toBe(true));
    store.getState().heard(2);
    expect(sent).toHaveLength(1);
  });
  it('takes back of a step what is still its own', async () => {
    const store = open();
    answers = [accepted(2), accepted(3), accepted(5)];
    store.getState().commit([bus('A')], 'Place bus');
    const moved = { ...bus('A').element, x: 40, note: 'mine' };
    store.getState().commit([{ op: 'update', element: moved }], 'Move');
    await vi.waitFor(() => expect(store.getState().revision).toBe(3));
    answers.unshift({ status: 200, body: { batches: [{ ...others, revision: 4, forward: [note('theirs')] }] } });
    store.getState().heard(4);
    await vi.waitFor(() => expect(store.getState().revision).toBe(4));
    store.getState().undoOne();
    expect(store.getState().network.elements.get(elementId('A'))).toMatchObject({ x: 0, note: 'theirs' });
    expect(store.getState().notice).toMatch(/"Move" was undone in part/);
  });
});

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
    answers = [nothingNew, accepted(2)];
    reopened.getState().resume();
    await vi.waitFor(() => expect(reopened.getState().network.elements.has(elementId('A'))).toBe(true));
    await vi.waitFor(() => expect(reopened.hasUnsaved()).toBe(false), 3000);
  });

  it('loses nothing when its change is stored between the reading of the model and of the log', async () => {
    const store = open();
    store.getState().commit([bus('A')], 'Place bus');
    await vi.waitFor(() => expect(sent).toHaveLength(1));
    store.stop();
    const { batchId } = sent[0].body as unknown as { batchId: string };
    const late = {
      revision: 2,
      batchId,
      label: 'Place bus',
      origin: 'edit',
      author: 'engineer',
      by: null,
      madeAt: '',
    } as const;
    // The model is still that of revision 1, the log knows of revision 2 already.
    const reopened = createProjectStore({ id: 'p', name: 'P', revision: 1, elements: blankElements() }, [late]);
    expect(reopened.getState().undo).toEqual([]);
    answers = [{ status: 200, body: { batches: [{ ...late, forward: [bus('A')] }] } }];
    reopened.getState().resume();
    await vi.waitFor(() => expect(reopened.getState().revision).toBe(2), 3000);
    expect(reopened.hasUnsaved()).toBe(false);
    expect(reopened.getState().network.elements.has(elementId('A'))).toBe(true);
    expect(reopened.getState().undo).toHaveLength(1);
  });

  it('takes what the page before stored while this one was being made', async () => {
    const store = open();
    const own = { author: 'engineer', by: null };
    const batch = { ...own, revision: 2, batchId: 'x', label: 'Place bus', origin: 'edit', forward: [bus('A')] };
    answers = [{ status: 200, body: { batches: [batch] } }];
    store.getState().resume();
    await vi.waitFor(() => expect(store.getState().network.elements.has(elementId('A'))).toBe(true));
    expect(store.getState()).toMatchObject({ revision: 2, undo: [{ label: 'Place bus' }] });
    expect(sent.map(({ path }) => path)[0]).toContain('/projects/p/changes?since=1');
    const other = open();
    answers = [nothingNew];
    other.getState().resume();
    await vi.waitFor(() => expect(sent).toHaveLength(2));
    expect(other.getState()).toMatchObject({ revision: 1, version: 1 });
  });

  it('sends each change on the revision that its author saw, also after a missed batch', async () => {
    const store = open();
    const missed = [{ revision: 2, batchId: 'b', label: 'by B', origin: 'edit', forward: [bus('B')] }];
    answers = [
      { status: 200, body: { revision: 3, missed } },
      clash(4, 'B has been changed meanwhile.'),
      fresh(4, 'A', 'B'),
    ];
    store.getState().commit([bus('A')], 'first');
    store.getState().commit([bus('C')], 'second');
    await vi.waitFor(() => expect(store.getState().saving.status).toBe('refused'));
    expect(sent.slice(0, 2).map(({ body }) => body!.baseRevision)).toEqual([1, 1]);
    expect(store.getState().network.elements.has(elementId('B'))).toBe(true);
    await vi.waitFor(() => expect(store.getState().revision).toBe(4));
  });

  it('does not believe in a revision whose steps it has not read', async () => {
    const store = open();
    answers = [{ status: 200, body: { revision: 9, missed: null } }, 'unreachable', fresh(9, 'B')];
    store.getState().commit([bus('A')], 'first');
    await vi.waitFor(() => expect(sent).toHaveLength(2));
    expect(store.getState()).toMatchObject({ revision: 1, saving: { status: 'saved' } });
    expect(store.getState().network.elements.has(elementId('A'))).toBe(true);
    await vi.waitFor(() => expect(store.getState().revision).toBe(9), 3000);
    expect(store.getState().network.elements.has(elementId('B'))).toBe(true);
  });

  it('"keep mine" while the server is away keeps the change and sends it', async () => {
    const store = open();
    answers = [clash(4, 'A has been changed meanwhile.'), fresh(4)];
    store.getState().commit([bus('C')], 'mine');
    await vi.waitFor(() => expect(store.getState().saving).toMatchObject({ status: 'refused', labels: ['mine'] }));
    expect(store.hasUnsaved()).toBe(true);
    await vi.waitFor(() => expect(store.getState().revision).toBe(4));
    expect(store.getState().network.elements.has(elementId('C'))).toBe(false);
    answers = ['unreachable', fresh(4), accepted(5)];
    await store.getState().resolveRefusal('mine');
    expect(store.getState()).toMatchObject({ saving: { status: 'waiting' } });
    expect(store.getState().network.elements.has(elementId('C'))).toBe(true);
    await vi.waitFor(() => expect(store.getState()).toMatchObject({ revision: 5, saving: { status: 'saved' } }), 3000);
    expect(sent.at(-1)!.body).toMatchObject({ baseRevision: 4 });
  });

  it('sets aside what the server fails on, tells why, keeps it, and goes on with the next', async () => {
    const failed: Answer = { status: 500, body: { error: { code: 'internal', message: 'Something went wrong.' } } };
    const store = open();
    answers = [failed, failed, failed, accepted(2)];
    store.getState().commit([bus('A')], 'poison');
    store.getState().commit([bus('B')], 'good');
    await vi.waitFor(() => expect(store.getState().revision).toBe(2), 4000);
    expect(store.getState().saving).toMatchObject({
      status: 'refused',
      message: 'Something went wrong.',
      labels: ['poison'],
    });
    expect(store.getState().network.elements.has(elementId('B'))).toBe(true);
    store.stop();
    const reopened = open();
    answers = [nothingNew];
    reopened.getState().resume();
    await vi.waitFor(() => expect(reopened.getState().saving).toMatchObject({ status: 'refused', labels: ['poison'] }));
  });

  it('refuses a text that cannot be stored', () => {
    const store = open();
    for (const note of ['half an emoji \ud83d', 'nul \0'])
      expect(
        store.getState().commit([{ op: 'add', element: newElement('bus', elementId('A'), 'A', { note }) }], 'note'),
      ).toMatchObject({ ok: false });
    expect(sent).toEqual([]);
  });

  it('fetches what a step of before did when it is to be undone', async () => {
    const entry = {
      revision: 1,
      batchId: 'x',
      label: 'Move',
      origin: 'edit',
      author: 'engineer',
      by: null,
      madeAt: '',
    } as const;
    const elements = [...blankElements(), newElement('bus', elementId('A'), 'A', { x: 500, note: 'by B' })];
    const store = createProjectStore({ id: 'p', name: 'P', revision: 1, elements }, [entry]);
    const step = { forward: [], inverse: [{ op: 'set', id: 'A', set: { x: 10 } }] };
    answers = [{ status: 200, body: step }, accepted(2)];
    store.getState().undoOne();
    await vi.waitFor(() =>
      expect(store.getState().network.elements.get(elementId('A'))).toMatchObject({ x: 10, note: 'by B' }),
    );
    expect(sent[0].path).toBe('/api/projects/p/changes/1');
    await vi.waitFor(() => expect(store.getState().revision).toBe(2));
    expect(store.getState().redo).toMatchObject([{ label: 'Move' }]);
  });

  it('does not touch the model when a change does not fit', async () => {
    const store = open();
    answers = [accepted(2)];
    store.getState().commit([bus('A')], 'Place bus');
    const refused = store
      .getState()
      .commit([{ ...bus('B'), element: newElement('bus', elementId('B'), 'a') }], 'Same name');
    expect(refused).toMatchObject({ ok: false, problems: [{ code: 'name.doubled' }] });
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
    const entry = (origin: 'edit' | 'undo' | 'redo', label: string) => ({
      revision: 1,
      batchId: label,
      origin,
      label,
    });
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
