import { describe, expect, it } from 'vitest';
import type { SheetEvent } from '@mesura/core/sheets/life';
import type { RunHead } from '../../server/sheets/register';
import type { ListedSheet } from '../../server/sheets/seal';
import { fitsFilter, registerRows, rowState } from './rows';

const subject = { kind: 'device' as const, id: 'q32', name: 'BRA Q32 relay', type: 'Relay', station: 'BRA' };
const run = (id: string, state: RunHead['state']): RunHead => ({
  id,
  kind: 'device',
  subjectId: 'q32',
  name: 'BRA Q32 relay',
  station: 'BRA',
  projectRevision: 1,
  digest: '',
  reason: '',
  state,
  events: [] as SheetEvent[],
});
const sheet = (number: number, runId: string | null = null): ListedSheet => ({
  id: number,
  relayId: 'q32',
  runId,
  number,
  projectRevision: 1,
  digest: '',
  seal: '',
  reason: '',
  issuedBy: '',
  issuedAt: '2026-11-28T10:00:00.000Z',
  signatures: null,
  sound: true,
});
const state = (runs: RunHead[], sheets: ListedSheet[], moved: Parameters<typeof registerRows>[2] = new Map()) => {
  const [row] = registerRows([subject], { runs, sheets }, moved);
  return rowState(row)?.text ?? null;
};

describe('the register', () => {
  it('shows first what waits for a signature, then what is in force', () => {
    expect(state([], [])).toBe('draft');
    expect(state([run('a', 'prepared')], [])).toBe('prepared');
    expect(state([run('b', 'checked'), run('a', 'rejected')], [sheet(1)])).toBe('checked');
    expect(state([run('a', 'rejected')], [sheet(1)])).toBe('rejected');
    expect(state([run('a', 'issued')], [sheet(2, 'a'), sheet(1)])).toBe('issued, up to date');
    expect(state([run('a', 'withdrawn')], [sheet(1, 'a')])).toBe('withdrawn');
  });
  it('has the latest revision in force, in whichever order they come', () => {
    for (const sheets of [
      [sheet(1), sheet(3), sheet(2)],
      [sheet(3), sheet(2), sheet(1)],
    ]) {
      const [row] = registerRows([subject], { runs: [], sheets }, new Map());
      expect(row.sheet?.number).toBe(3);
    }
  });
  it('says how far the network has moved on', () => {
    const figure = { part: 'figure' as const, what: 'x', before: '1', after: '2' };
    const value = { ...figure, part: 'value' as const };
    const worse = { ...figure, part: 'statement' as const, worse: true as const };
    const of = (...list: (typeof figure | typeof value | typeof worse)[]) =>
      state([], [sheet(1)], new Map([[1, list]]));
    expect(of(figure)).toBe('issued, figures moved');
    expect(of(figure, value)).toBe('changed since issue');
    expect(of(figure, value, worse)).toBe('1 no longer holds');
    // Not known yet.
    expect(state([], [sheet(1)], null)).toBeNull();
  });
  it('is filtered by station, state and name', () => {
    const [row] = registerRows([subject], { runs: [run('a', 'prepared')], sheets: [] }, new Map());
    const all = { station: null, state: 'all' as const, text: '' };
    expect(fitsFilter(row, all)).toBe(true);
    expect(fitsFilter(row, { ...all, station: 'FER' })).toBe(false);
    expect(fitsFilter(row, { ...all, state: 'prepared' })).toBe(true);
    expect(fitsFilter(row, { ...all, state: 'issued' })).toBe(false);
    expect(fitsFilter(row, { ...all, text: ' q32 ' })).toBe(true);
    expect(fitsFilter(row, { ...all, text: 'q33' })).toBe(false);
  });
});
