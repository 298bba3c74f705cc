/** Threads for the core beside the server, so that a large study holds up nobody's request. */
import { availableParallelism } from 'node:os';
import { Piscina } from 'piscina';
import { ServiceError } from './errors';
import type { Answer, Job } from './jobs/job';

// Next loads modules more than once (routes, hot reload); the pool must be one.
const shared = globalThis as typeof globalThis & { mesuraWorkers?: Piscina };

/** Longer than any study should take; a thread that hangs is ended. */
const longestMs = 120_000;
const longestQueue = 64;

function workers(): Piscina {
  if (shared.mesuraWorkers) return shared.mesuraWorkers;
  const filename = process.env.MESURA_JOBS;
  if (!filename)
    throw new ServiceError(503, 'workers.none', 'No worker is configured: start the application with "npm start".');
  shared.mesuraWorkers = new Piscina({
    filename,
    minThreads: 0,
    // One processor stays with the server itself.
    maxThreads: Math.max(1, availableParallelism() - 1),
    maxQueue: longestQueue,
    idleTimeout: 60_000,
  });
  return shared.mesuraWorkers;
}

/** Does a job in a thread. Errors: `workers.busy` when too many wait, `workers.stopped` when it was left off or took too long. */
export async function inThread<J extends Job>(job: J, signal?: AbortSignal): Promise<Answer<J>> {
  const limit = AbortSignal.timeout(longestMs);
  try {
    return (await workers().run(job, {
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
  await shared.mesuraWorkers?.destroy();
  delete shared.mesuraWorkers;
}
