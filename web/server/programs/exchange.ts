/** Files in and out for programs: read and written in a thread, stored as a project or as one step of it. */
import type { z } from 'zod';
import type { EntryGroup } from '@mesura/core/formats/format';
import { storeBatch } from '../changes';
import { ServiceError } from '../errors';
import { importProject, newId, openProject, storeRows } from '../projects';
import { inThread } from '../workers';
import type { ImportAnswer } from '../jobs/exchange';
import type { queries } from './operations';

const usable = (answer: ImportAnswer): Extract<ImportAnswer, { ok: true }> => {
  if (answer.ok) return answer;
  throw new ServiceError(422, 'file.refused', answer.message);
};

/** A project of its own from any file that can be read. Errors: `file.refused`, `project.file`. */
export async function projectFromFile(file: string, bytes: Uint8Array, accountId: string | null, signal?: AbortSignal) {
  // A project file keeps its name and notes.
  if (/^\s*\{/.test(Buffer.from(bytes.subarray(0, 20)).toString('utf8')))
    return { id: await importProject(Buffer.from(bytes).toString('utf8'), signal, accountId), report: null };
  const job = { task: 'import', file, bytes, elements: null, mode: 'merge', take: null } as const;
  const { rows, label, report } = usable(await inThread(job, signal, { lane: 'programs' }));
  const name = label.replace(/^Import /, '').slice(0, 120) || 'Imported';
  // It is laid into a blank project, which has its settings.
  return { id: await storeRows(name, '', rows, true, accountId), report };
}

/** What a file would bring into a project; stored where asked, as one step. Errors: `file.refused`, and those of changes. */
export async function importInto(
  id: string,
  bytes: Uint8Array,
  { name: file, mode, take, store }: z.output<(typeof queries)['imports']>,
  { author, accountId }: { author: string; accountId: string | null },
  signal?: AbortSignal,
) {
  const { elements, revision } = await openProject(id);
  const groups = take === undefined ? null : (take.split(',') as EntryGroup[]);
  const job = { task: 'import', file, bytes, elements, mode, take: groups } as const;
  const { batch, label, report } = usable(await inThread(job, signal, { lane: 'programs' }));
  if (!store || batch.length === 0) return { report, stored: false, revision };
  const step = {
    batchId: `file-${newId()}`,
    baseRevision: revision,
    label,
    origin: 'edit' as const,
    author,
    changes: [...batch],
  };
  const { revision: after } = await storeBatch(id, step, accountId);
  return { report, stored: true, revision: after };
}

export async function exportOf(id: string, as: string, signal?: AbortSignal) {
  const { name, notes, elements } = await openProject(id);
  const job = { task: 'export', as, name, notes, elements } as const;
  const answer = await inThread(job, signal, { lane: 'programs' });
  if (!answer.ok) throw new ServiceError(422, 'file.refused', answer.message);
  return { name: `${name}.${answer.extension}`, content: answer.content, left: answer.left };
}
