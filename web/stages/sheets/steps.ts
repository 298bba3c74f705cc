/** Steps in the life of sheets, asked of the server. */
import { notifications } from '@mantine/notifications';
import type { LifeStep } from '@mesura/core/sheets/life';
import type { Subject } from '@mesura/core/sheets/content';
import { api } from '../../project/api';
import { readRegister } from '../../desk/register';
import type { RunHead } from '../../server/sheets/register';

/** So many are prepared in one request; more go in parts. */
const inOne = 20;

export interface Progress {
  readonly done: number;
  readonly of: number;
}

const refuse = (title: string, error: unknown) =>
  notifications.show({ color: 'red', title, message: (error as Error).message, autoClose: 12_000 });

/** Prepares sheets of some subjects on the revision that is looked at. How many were prepared. */
export async function prepare(
  projectId: string,
  { subjects, revision, reason, as }: { subjects: readonly Subject[]; revision: number; reason: string; as?: string },
  onProgress: (progress: Progress) => void,
  isWanted: () => boolean,
): Promise<number> {
  let done = 0;
  try {
    for (let k = 0; k < subjects.length && isWanted(); k += inOne) {
      onProgress({ done, of: subjects.length });
      const part = subjects.slice(k, k + inOne).map(({ kind, id }) => ({ kind, id }));
      await api(`/projects/${projectId}/sheets`, {
        method: 'POST',
        json: { do: 'prepare', subjects: part, revision, reason, as, key: crypto.randomUUID() },
      });
      done += part.length;
    }
  } catch (error) {
    refuse(done === 0 ? 'Not prepared' : `${done} prepared, then no more`, error);
  }
  await readRegister(projectId);
  return done;
}

/** The same step for some sheets, one after the other; those that cannot take it are told together. How many took it. */
export async function step(
  projectId: string,
  runs: readonly Pick<RunHead, 'id' | 'name' | 'events'>[],
  { step: what, text = '', about = '', as }: { step: LifeStep; text?: string; about?: string; as?: string },
  onProgress: (progress: Progress) => void = () => {},
  isWanted: () => boolean = () => true,
): Promise<number> {
  const failures: string[] = [];
  let done = 0;
  for (const [k, { id, name, events }] of runs.entries()) {
    if (!isWanted()) break;
    onProgress({ done: k, of: runs.length });
    try {
      await api(`/projects/${projectId}/sheets`, {
        method: 'POST',
        json: { do: 'step', run: id, step: what, seq: events.length, text, about, as, key: crypto.randomUUID() },
      });
      done++;
    } catch (error) {
      failures.push(runs.length === 1 ? (error as Error).message : `${name}: ${(error as Error).message}`);
    }
  }
  if (failures.length > 0)
    notifications.show({
      color: 'red',
      title: done === 0 ? 'Not done' : `${done} done, ${failures.length} not`,
      message: failures.slice(0, 5).join('\n'),
      styles: { description: { whiteSpace: 'pre-line' } },
      autoClose: 15_000,
    });
  await readRegister(projectId);
  return done;
}
