/** Whether the application can work: the database answers, its disk has room, the server keeps up. */
import { statfs } from 'node:fs/promises';
import { monitorEventLoopDelay, type IntervalHistogram } from 'node:perf_hooks';
import { pool } from './database';
import { ServiceError } from './errors';

// Next loads modules more than once; one measurement is enough.
const shared = globalThis as typeof globalThis & { mesuraDelay?: IntervalHistogram };

function delay(): IntervalHistogram {
  if (!shared.mesuraDelay) {
    shared.mesuraDelay = monitorEventLoopDelay({ resolution: 10 });
    shared.mesuraDelay.enable();
  }
  return shared.mesuraDelay;
}

/** Below this much room the database can no longer be relied on. */
const leastFreeMb = 50;

export async function health() {
  const folder = process.env.MESURA_DATA_DIR_OF_SERVER;
  const disk = folder ? await statfs(folder) : null;
  const freeMb = disk && Math.floor((disk.bavail * disk.bsize) / 1e6);
  if (freeMb !== null && freeMb < leastFreeMb)
    throw new ServiceError(
      507,
      'disk.full',
      `The disk of the database is nearly full: ${freeMb} MB are left. Make room.`,
    );
  await pool().query('SELECT 1');
  const measured = delay();
  const longestPauseMs = Math.round(measured.max / 1e6);
  measured.reset();
  return { ok: true, freeMb, longestPauseMs };
}
