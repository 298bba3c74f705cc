/** What the Batch stage shows just now, and the last answer of each batch: kept in the browser, to be compared with the next. */
import { create } from 'zustand';
import type { BatchAnswer } from '@mesura/cli/commands/batch';
import type { ElementId } from '@mesura/core/model/fields';
import { cancelAll } from './running';
import type { ScriptAnswer } from '../../workers/programs.worker';

export const batchViews = ['batches', 'scripts'] as const;
export type BatchView = (typeof batchViews)[number];

export interface KeptRun {
  readonly answer: BatchAnswer;
  /** As {@link Date.now}. */
  readonly at: number;
}

interface BatchState {
  readonly view: BatchView;
  readonly batch: ElementId | null;
  readonly script: ElementId | null;
  readonly shown: 'rows' | 'changes';
  /** The run before and the last one, by batch. */
  readonly runs: Readonly<Record<string, { readonly last: KeptRun; readonly before: KeptRun | null }>>;
  readonly scriptAnswer: { readonly script: ElementId; readonly answer: ScriptAnswer } | null;
}

const fresh: BatchState = { view: 'batches', batch: null, script: null, shown: 'rows', runs: {}, scriptAnswer: null };

export const useBatchState = create<BatchState>()(() => fresh);
export const setBatch = (part: Partial<BatchState>): void => useBatchState.setState(part);

let project = '';
const key = (batch: string): string => `mesura.batch.${project}.${batch}`;
/** Larger answers are compared within one visit only. */
const longestKept = 1_000_000;

export function enterBatch(projectId: string): void {
  project = projectId;
  cancelAll();
  setBatch(fresh);
}

/** A new answer: the one before is what it is compared with, also of an earlier visit. */
export function keepRun(batch: ElementId, answer: BatchAnswer): void {
  const last = { answer, at: Date.now() };
  const { runs } = useBatchState.getState();
  const before = runs[batch]?.last ?? storedRun(batch);
  setBatch({ runs: { ...runs, [batch]: { last, before } } });
  try {
    const text = JSON.stringify(last);
    if (text.length <= longestKept) localStorage.setItem(key(batch), text);
    else localStorage.removeItem(key(batch));
  } catch {
    // Storage is full or forbidden: compared within this visit only.
  }
}

function storedRun(batch: ElementId): KeptRun | null {
  try {
    const read = JSON.parse(localStorage.getItem(key(batch)) ?? 'null') as KeptRun | null;
    return read && Array.isArray(read.answer?.table?.rows) && Array.isArray(read.answer.table.columns) ? read : null;
  } catch {
    return null;
  }
}
