/** Drafts and issues of a project wait for each other, and for nobody else. */
import { ServiceError } from '../errors';

const queues = new Map<string, { last: Promise<unknown>; waiting: number }>();
const longestQueue = 20;

export async function inTurn<T>(projectId: string, work: () => Promise<T>): Promise<T> {
  const queue = queues.get(projectId) ?? { last: Promise.resolve(), waiting: 0 };
  queues.set(projectId, queue);
  if (queue.waiting >= longestQueue)
    throw new ServiceError(503, 'sheets.busy', 'Too many sheets of this project are waiting. Try again in a moment.');
  queue.waiting++;
  const mine = queue.last.then(work, work);
  queue.last = mine.catch(() => undefined);
  try {
    return await mine;
  } finally {
    if (--queue.waiting === 0) queues.delete(projectId);
  }
}
