/** Rows of the register: each subject with its latest preparation, its sheet in force, and what has moved since. */
import type { SheetDifference } from '@mesura/core/sheets/difference';
import { subjectKey, type SubjectCard } from '@mesura/core/sheets/subjects';
import type { Register, RunHead } from '../../server/sheets/register';
import type { ListedSheet } from '../../server/sheets/seal';
import type { StateFilter } from './state';

export interface RegisterRow extends SubjectCard {
  readonly key: string;
  /** The latest preparation; null where there is none, or it has been issued. */
  readonly open: RunHead | null;
  /** The latest issued sheet. */
  readonly sheet: ListedSheet | null;
  readonly isWithdrawn: boolean;
  /** Against the sheet in force; null until it is known. */
  readonly differences: readonly SheetDifference[] | null;
}

export function registerRows(
  subjects: readonly SubjectCard[],
  { runs, sheets }: Register,
  moved: ReadonlyMap<number, readonly SheetDifference[]> | null,
): RegisterRow[] {
  const latestRun = new Map<string, RunHead>();
  // They come with the latest first.
  for (const run of runs) if (!latestRun.has(run.subjectId)) latestRun.set(run.subjectId, run);
  const latestSheet = new Map<string, ListedSheet>();
  for (const sheet of sheets) {
    const known = latestSheet.get(sheet.relayId);
    if (!known || known.number < sheet.number) latestSheet.set(sheet.relayId, sheet);
  }
  return subjects.map((subject): RegisterRow => {
    const key = subjectKey(subject);
    const run = latestRun.get(key) ?? null;
    const sheet = latestSheet.get(key) ?? null;
    const isWithdrawn = sheet !== null && runs.some(({ id, state }) => id === sheet.runId && state === 'withdrawn');
    return {
      ...subject,
      key,
      open: run && run.state !== 'issued' && run.state !== 'withdrawn' ? run : null,
      sheet,
      isWithdrawn,
      differences: sheet && !isWithdrawn && moved ? (moved.get(sheet.id) ?? []) : null,
    };
  });
}

export interface RowState {
  readonly filter: Exclude<StateFilter, 'all'>;
  readonly text: string;
  readonly tone: 'pass' | 'warn' | 'fail';
}

/** What somebody should see of a row at a glance; what waits for a signature comes first. */
export function rowState({ open, sheet, isWithdrawn, differences }: RegisterRow): RowState | null {
  if (open?.state === 'rejected') return { filter: 'rejected', text: 'rejected', tone: 'fail' };
  if (open?.state === 'prepared') return { filter: 'prepared', text: 'prepared', tone: 'warn' };
  if (open?.state === 'checked') return { filter: 'checked', text: 'checked', tone: 'warn' };
  if (!sheet) return { filter: 'draft', text: 'draft', tone: 'warn' };
  if (isWithdrawn) return { filter: 'withdrawn', text: 'withdrawn', tone: 'fail' };
  if (!differences) return null;
  const worse = differences.filter((each) => each.worse).length;
  const values = differences.filter(({ part }) => part === 'value' || part === 'function' || part === 'device').length;
  if (worse > 0) return { filter: 'moved', text: `${worse} no longer ${worse === 1 ? 'holds' : 'hold'}`, tone: 'fail' };
  if (values > 0) return { filter: 'moved', text: 'changed since issue', tone: 'fail' };
  if (differences.length > 0) return { filter: 'moved', text: 'issued, figures moved', tone: 'warn' };
  return { filter: 'issued', text: 'issued, up to date', tone: 'pass' };
}

export const fitsFilter = (
  row: RegisterRow,
  { station, state, text }: { readonly station: string | null; readonly state: StateFilter; readonly text: string },
): boolean =>
  (station === null || row.station === station) &&
  (state === 'all' || rowState(row)?.filter === state) &&
  (text.trim() === '' || `${row.name} ${row.type}`.toLowerCase().includes(text.trim().toLowerCase()));
