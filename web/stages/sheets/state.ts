/** What the Sheets stage shows just now; not part of the project. */
import { create } from 'zustand';
import type { Subject, SubjectKind } from '@mesura/core/sheets/content';

export const stateFilters = [
  'all',
  'draft',
  'prepared',
  'checked',
  'rejected',
  'issued',
  'moved',
  'withdrawn',
] as const;
export type StateFilter = (typeof stateFilters)[number];

export interface SheetsState {
  readonly subject: Subject | null;
  readonly kind: SubjectKind;
  readonly station: string | null;
  readonly state: StateFilter;
  readonly text: string;
  /** Ticked, by the names under which their sheets are kept. */
  readonly ticked: ReadonlySet<string>;
}

const fresh: SheetsState = { subject: null, kind: 'device', station: null, state: 'all', text: '', ticked: new Set() };

export const useSheetsState = create<SheetsState>()(() => fresh);
export const setSheets = (to: Partial<SheetsState>): void => useSheetsState.setState(to);
export const showSheet = (subject: Subject | null): void =>
  useSheetsState.setState(subject ? { subject, kind: subject.kind } : fresh);
