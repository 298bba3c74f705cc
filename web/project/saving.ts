/** What the desk says about what is stored and what is not. */
import type { Problem } from '@mesura/core/model/problem';
import type { Outbox } from './outbox';
import type { SyncState } from './sync';

export type Saving =
  | { status: 'saved'; at: number | null }
  | { status: 'saving' }
  | { status: 'waiting'; message: string }
  /** Some batches were refused and set aside; what is made after them goes on being saved. */
  | { status: 'refused'; message: string; problems: readonly Problem[]; labels: readonly string[] };

export function savingOf({ aside, pending }: Pick<Outbox, 'aside' | 'pending'>, syncing: SyncState): Saving {
  if (aside.length > 0) {
    const [{ message, problems }] = aside;
    return { status: 'refused', message, problems, labels: aside.map(({ batch }) => batch.label) };
  }
  if (pending.length === 0) return { status: 'saved', at: syncing.savedAt };
  return syncing.waiting === null ? { status: 'saving' } : { status: 'waiting', message: syncing.waiting };
}
