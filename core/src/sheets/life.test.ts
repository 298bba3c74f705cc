/** Steps in the life of a sheet, and who may not take them. */
import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import {
  isSamePerson,
  lifeSteps,
  openComments,
  signatureOf,
  stateOf,
  whyNot,
  type LifeStep,
  type SheetEvent,
} from './life';

const event = (seq: number, step: LifeStep, name: string, over: Partial<SheetEvent> = {}): SheetEvent => ({
  seq,
  step,
  accountId: null,
  name,
  signedIn: false,
  text: '',
  about: '',
  at: '2026-11-28T10:00:00.000Z',
  ...over,
});
const written = (name: string) => ({ accountId: null, name });
const by = (accountId: string, name = accountId) => ({ accountId, name });

const prepared = [event(0, 'prepared', 'Astrid Vale')];
const checked = [...prepared, event(1, 'checked', 'Bo Harrow')];

describe('the life of a sheet', () => {
  it('goes from prepared over checked to issued', () => {
    expect(stateOf(prepared)).toBe('prepared');
    expect(whyNot(prepared, { step: 'checked' }, written('Bo Harrow'))).toBeNull();
    expect(stateOf(checked)).toBe('checked');
    expect(whyNot(checked, { step: 'approved' }, written('Cleo Marsh'))).toBeNull();
    const issued = [...checked, event(2, 'approved', 'Cleo Marsh')];
    expect(stateOf(issued)).toBe('issued');
    for (const step of ['checked', 'approved', 'rejected', 'comment', 'resolved'] as const)
      expect(whyNot(issued, { step, text: 'x' }, written('Dorn Vetch')), step).toMatch(/is issued/);
    expect(whyNot(issued, { step: 'withdrawn', text: 'not built' }, written('Cleo Marsh'))).toBeNull();
    expect(stateOf([...issued, event(3, 'withdrawn', 'Cleo Marsh')])).toBe('withdrawn');
  });
  it('does not skip the check', () => {
    expect(whyNot(prepared, { step: 'approved' }, written('Cleo Marsh'))).toMatch(/is prepared: it cannot be approved/);
    expect(whyNot(checked, { step: 'checked' }, written('Cleo Marsh'))).toMatch(/is checked/);
  });
  it('lets nobody check or approve their own work', () => {
    expect(whyNot(prepared, { step: 'checked' }, written('astrid   vale '))).toMatch(/nobody checks their own work/);
    expect(whyNot(checked, { step: 'approved' }, written('Astrid Vale'))).toMatch(/nobody approves their own work/);
    expect(whyNot(checked, { step: 'approved' }, written('Bo Harrow'))).toMatch(/somebody else has to approve/);
    const ofAccount = [event(0, 'prepared', 'Astrid Vale', { accountId: 'a', signedIn: true })];
    expect(whyNot(ofAccount, { step: 'checked' }, by('a', 'Another Name'))).toMatch(/own work/);
    expect(whyNot(ofAccount, { step: 'checked' }, by('b', 'Astrid Vale'))).toBeNull();
    // Prepared before people signed in: known by the name.
    expect(whyNot(prepared, { step: 'checked' }, by('b', 'Astrid Vale'))).toMatch(/own work/);
  });
  it('is rejected with a reason, from either state, and by whom one likes', () => {
    expect(whyNot(prepared, { step: 'rejected', text: ' ' }, written('Bo'))).toMatch(/Say why/);
    for (const events of [prepared, checked])
      expect(whyNot(events, { step: 'rejected', text: 'too slow' }, written('Astrid Vale'))).toBeNull();
    const rejected = [...checked, event(2, 'rejected', 'Cleo Marsh')];
    expect(stateOf(rejected)).toBe('rejected');
    expect(whyNot(rejected, { step: 'checked' }, written('Bo'))).toMatch(/is rejected/);
  });
  it('waits while comments are open', () => {
    const asked = [...prepared, event(1, 'comment', 'Bo', { text: 'Why?', about: 'f.pickup' })];
    expect(openComments(asked)).toHaveLength(1);
    expect(whyNot(asked, { step: 'checked' }, written('Bo'))).toMatch(/One comment is still open: resolve it/);
    expect(whyNot(asked, { step: 'resolved', about: '0' }, written('Bo'))).toMatch(/no such open comment/);
    expect(whyNot(asked, { step: 'resolved', about: '1' }, written('Bo'))).toBeNull();
    const answered = [...asked, event(2, 'resolved', 'Astrid Vale', { about: '1' })];
    expect(openComments(answered)).toEqual([]);
    expect(whyNot(answered, { step: 'checked' }, written('Bo'))).toBeNull();
    expect(whyNot(answered, { step: 'resolved', about: '1' }, written('Bo'))).toMatch(/no such/);
    expect(whyNot(prepared, { step: 'comment', text: '' }, written('Bo'))).toMatch(/needs words/);
  });
  it('tells the last signature of a step', () => {
    expect(signatureOf(checked, 'checked')?.name).toBe('Bo Harrow');
    expect(signatureOf(checked, 'approved')).toBeNull();
  });
  it('however it is driven: never issued without three different people', () => {
    const people = ['Ann', 'Bea', 'Col', 'ann '];
    fc.assert(
      fc.property(
        fc.array(fc.record({ step: fc.constantFrom(...lifeSteps), who: fc.constantFrom(...people) }), {
          maxLength: 25,
        }),
        (moves) => {
          const events = [event(0, 'prepared', 'Ann')];
          for (const { step, who } of moves) {
            const open = openComments(events).at(0);
            const about = open ? String(open.seq) : '';
            if (whyNot(events, { step, text: 'x', about }, written(who)) !== null) continue;
            expect(step).not.toBe('prepared');
            events.push(event(events.length, step, who, { text: 'x', about: step === 'resolved' ? about : '' }));
          }
          const approved = events.findIndex(({ step }) => step === 'approved');
          if (approved < 0) return;
          const before = events.slice(0, approved);
          expect(openComments(before)).toEqual([]);
          const signers = [signatureOf(before, 'prepared')!, signatureOf(before, 'checked')!, events[approved]];
          signers.forEach((p, k) =>
            signers.slice(k + 1).forEach((q) => expect(isSamePerson(p, q), `${p.name} ${q.name}`).toBe(false)),
          );
        },
      ),
      { seed: 20, numRuns: 300 },
    );
  });
});
