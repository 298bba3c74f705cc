/** Threads for the core beside the server, so that a large study holds up nobody's request. */
import { availableParallelism } from 'node:os';
import type { MessagePort } from 'node:worker_threads';
import { Piscina } from 'piscina';
import { ServiceError } from './errors';
import type { Answer, Job } from './jobs/job';

// Next loads modules more than once (routes, hot reload); the pool must be one.
const shared = globalThis as typeof globalThis & { mesuraWorkers?: Partial<Record<Lane, Piscina>> };

/** What a person waits for goes past what a program has asked for. */
type Lane = 'people' | 'programs';

/** Longer than any study should take; a thread that hangs is ended. */
const longestMs = { people: 120_000, programs: 900_000 };
const longestQueue = 64;

function workers(lane: Lane): Piscina {
  const all = (shared.mesuraWorkers ??= {});
  const known = all[lane];
  if (known) return known;
  const filename = process.env.MESURA_JOBS;
  if (!filename)
    throw new ServiceError(503, 'workers.none', 'No worker is configured: start the application with "npm start".');
  return (all[lane] = new Piscina({
    filename,
    // Not nought: when the only thread is ended with its job, those that wait would get none.
    minThreads: 1,
    // One processor stays with the server itself.
    maxThreads: Math.max(1, availableParallelism() - 1),
    maxQueue: longestQueue,
    idleTimeout: 60_000,
  }));
}

/** Does a job in a thread. Errors: `workers.busy` when too many wait, `workers.stopped` when it was left off or took too long. */
export async function inThread<J extends Job>(
  job: J,
  signal?: AbortSignal,
  { lane = 'people', transfer = [] }: { lane?: Lane; transfer?: readonly MessagePort[] } = {},
): Promise<Answer<J>> {
  const limit = AbortSignal.timeout(longestMs[lane]);
  try {
    return (await workers(lane).run(job, {
      transferList: [...transfer],
      signal: signal ? AbortSignal.any([signal, limit]) : limit,
    })) as Answer<J>;
  } catch (error) {
    const { name, message } = error as Error;
    if (name === 'AbortError') throw new ServiceError(503, 'workers.stopped', 'Calculation cancelled.');
    if (message.includes('queue is at limit'))
      throw new ServiceError(503, 'workers.busy', 'Too many calculations are waiting. Try again in a moment.');
    throw error;
  }
}

export async function closeWorkers(): Promise<void> {
  await Promise.all(Object.values(shared.mesuraWorkers ?? {}).map((each) => each.destroy()));
  delete shared.mesuraWorkers;
}
