/** What the store leans on outside of the page: the server, the browser's storage and its locks. */
import type { StoredChange } from '@mesura/core/model/storedChanges';
import { api } from './api';
import type { Storage } from './outbox';
import type { Accepted, LoadedProject, StoredBatch } from './protocol';
import type { Transport } from './sync';

/** Tests put in their own. */
export interface Surroundings {
  readonly transport: Transport & {
    step(revision: number): Promise<{ forward: StoredChange[]; inverse: StoredChange[] }>;
  };
  readonly storage: Storage | null;
  readonly locks: LockManager | undefined;
  pause(ms: number): Promise<void>;
  newId(): string;
}

const randomId = () => `${Date.now().toString(36)}-${Math.random().toString(36).slice(2, 12).padEnd(10, '0')}`;

function storageOf(): Storage | null {
  try {
    return globalThis.localStorage ?? null;
  } catch {
    return null;
  }
}

export const browser = (id: string): Surroundings => ({
  transport: {
    send: (json) => api<Accepted>(`/projects/${id}/changes`, { method: 'POST', json }),
    read: () => api<LoadedProject>(`/projects/${id}`),
    since: async (revision) =>
      (await api<{ batches: StoredBatch[] | null }>(`/projects/${id}/changes?since=${revision}`)).batches,
    step: (revision) => api(`/projects/${id}/changes/${revision}`),
  },
  storage: storageOf(),
  locks: typeof navigator === 'undefined' ? undefined : navigator.locks,
  pause: (ms) => new Promise((resolve) => setTimeout(resolve, ms)),
  newId: randomId,
});
