/**
 * Studies as jobs: kept in the database, computed in a thread of the server that took them. Any server tells how far a job is, hands its result out and may cancel
 * it; whoever computes looks once a second whether it still should.
 */
import { MessageChannel } from 'node:worker_threads';
import { gunzip, gzip } from 'node:zlib';
import { promisify } from 'node:util';
import type { RowDataPacket } from 'mysql2';
import type { AnswerForm } from '@mesura/cli/command';
import type { StudyName } from '@mesura/cli/words';
import { pool } from '../database';
import { notFound, ServiceError, toServiceError } from '../errors';
import { newId, openProject } from '../projects';
import { inThread } from '../workers';

export const jobStates = ['waiting', 'running', 'done', 'failed', 'cancelled'] as const;
export type JobState = (typeof jobStates)[number];

/** Of one person: jobs that wait or run, and jobs that are kept at all; a result is kept for so long. */
export const jobLimits = { open: 8, kept: 200, keptH: 48, answerBytes: 12e6 };
/** A server that computes tells it every second; after so long it is gone. */
const silentS = 30;
const lookEveryMs = 1000;

export interface JobCard {
  readonly id: string;
  readonly project: string;
  readonly study: string;
  readonly format: string;
  readonly state: JobState;
  /** From 0 to 1. */
  readonly share: number;
  /** Revision of the project that was computed. */
  readonly revision: number | null;
  /** As of the terminal: 0 done, 1 nothing computed, 2 wrong options, 3 something does not hold. */
  readonly code: number | null;
  readonly notes: string;
  readonly createdAt: string;
  readonly endedAt: string | null;
}

const packed = promisify(gzip);
const unpacked = promisify(gunzip);

/** Of whom jobs are; one's own desk is nobody's in particular. */
type Owner = string | null;

const cardColumns =
  'id, project_id, study, form, state, share, revision, code, notes, created_at, ended_at, seen_at < NOW(3) - INTERVAL ? SECOND AS silent';

function cardOf(row: RowDataPacket): JobCard {
  const isGone = Boolean(row.silent) && (row.state === 'waiting' || row.state === 'running');
  return {
    id: row.id,
    project: row.project_id,
    study: row.study,
    format: row.form,
    state: isGone ? 'failed' : row.state,
    share: Number(row.share),
    revision: row.revision === null ? null : Number(row.revision),
    code: row.code === null ? null : Number(row.code),
    notes: isGone ? 'The server that computed this has ended.' : row.notes,
    createdAt: (row.created_at as Date).toISOString(),
    endedAt: (row.ended_at as Date | null)?.toISOString() ?? null,
  };
}

export async function jobsOf(owner: Owner): Promise<JobCard[]> {
  const [rows] = await pool().query<RowDataPacket[]>(
    `SELECT ${cardColumns} FROM jobs WHERE account_id <=> ? ORDER BY created_at DESC, id LIMIT ${jobLimits.kept}`,
    [silentS, owner],
  );
  return rows.map(cardOf);
}

/** Error: `missing`, also of somebody else's job. */
export async function jobOf(owner: Owner, id: string): Promise<JobCard> {
  const [rows] = await pool().query<RowDataPacket[]>(
    `SELECT ${cardColumns} FROM jobs WHERE id = ? AND account_id <=> ?`,
    [silentS, id, owner],
  );
  if (rows.length === 0) throw notFound('This job');
  return cardOf(rows[0]);
}

export interface Asked {
  readonly project: string;
  readonly study: StudyName;
  readonly options: Readonly<Record<string, unknown>>;
  readonly form: AnswerForm;
}

// Next loads modules more than once; what runs must be known to all of them.
const shared = globalThis as typeof globalThis & {
  mesuraJobs?: Map<string, { stop: AbortController; ended: Promise<void> }>;
};
const running = () => (shared.mesuraJobs ??= new Map());

/** Takes a study on and answers at once. Error: `jobs.many`. */
export async function startJob(owner: Owner, asked: Asked): Promise<JobCard> {
  await tidy(owner);
  const open = (await jobsOf(owner)).filter(({ state }) => state === 'waiting' || state === 'running');
  if (open.length >= jobLimits.open)
    throw new ServiceError(
      429,
      'jobs.many',
      `Nobody has more than ${jobLimits.open} jobs under way: wait for one, or cancel one.`,
    );
  const id = newId();
  await pool().query('INSERT INTO jobs (id, project_id, account_id, study, form, options, notes) VALUES (?)', [
    [id, asked.project, owner, asked.study, asked.form, JSON.stringify(asked.options), ''],
  ]);
  const stop = new AbortController();
  running().set(id, { stop, ended: compute(id, asked, stop).finally(() => running().delete(id)) });
  return jobOf(owner, id);
}

/** Waits for a job of this server, no longer than so; a job of another one is looked at once. */
export async function awaited(owner: Owner, id: string, seconds: number): Promise<JobCard> {
  const here = running().get(id);
  if (here && seconds > 0) {
    let timer: NodeJS.Timeout | undefined;
    await Promise.race([here.ended, new Promise((resolve) => (timer = setTimeout(resolve, seconds * 1000)))]);
    clearTimeout(timer);
  }
  return jobOf(owner, id);
}

/** What has ended stays as it is. */
export async function cancelJob(owner: Owner, id: string): Promise<JobCard> {
  await jobOf(owner, id);
  await pool().query(
    "UPDATE jobs SET state = 'cancelled', ended_at = NOW(3) WHERE id = ? AND state IN ('waiting', 'running')",
    [id],
  );
  running().get(id)?.stop.abort();
  return jobOf(owner, id);
}

export interface JobResult {
  readonly job: JobCard;
  readonly bytes: Uint8Array;
}

/** Errors: `job.open`, `job.cancelled`, `job.failed`. */
export async function resultOf(owner: Owner, id: string): Promise<JobResult> {
  const job = await jobOf(owner, id);
  if (job.state === 'waiting' || job.state === 'running')
    throw new ServiceError(409, 'job.open', 'This job has not ended yet.', { share: job.share });
  if (job.state === 'cancelled') throw new ServiceError(410, 'job.cancelled', 'This job was cancelled.');
  const [rows] = await pool().query<RowDataPacket[]>('SELECT answer FROM jobs WHERE id = ?', [id]);
  if (job.state === 'failed' || !rows[0]?.answer)
    throw new ServiceError(
      422,
      job.code === 2 ? 'study.options' : 'job.failed',
      job.notes.trim() || 'Nothing was computed.',
      { code: job.code },
    );
  return { job, bytes: await unpacked(rows[0].answer as Buffer) };
}

async function compute(id: string, { project, study, options, form }: Asked, stop: AbortController): Promise<void> {
  const { port1, port2 } = new MessageChannel();
  let share = 0;
  port1.on('message', (value: number) => (share = value));
  // A row that is no longer to be computed is left as it is: cancelled here or by another server.
  const look = setInterval(() => {
    void pool()
      .query("UPDATE jobs SET share = ?, seen_at = NOW(3) WHERE id = ? AND state IN ('waiting', 'running')", [
        share,
        id,
      ])
      .then(([result]) => {
        if ((result as { affectedRows: number }).affectedRows === 0) stop.abort();
      })
      // The database is away for a moment; what is computed goes on.
      .catch(() => undefined);
  }, lookEveryMs);
  try {
    const { name, elements, revision } = await openProject(project);
    await pool().query(
      "UPDATE jobs SET state = 'running', begun_at = NOW(3), revision = ? WHERE id = ? AND state = 'waiting'",
      [revision, id],
    );
    const job = { task: 'study', study, options, form, name, elements, port: port2 } as const;
    const { code, output, notes } = await inThread(job, stop.signal, { lane: 'programs', transfer: [port2] });
    // A script may well say nothing.
    const isDone = output.length > 0 || code === 0 || code === 3;
    const answer = isDone ? await packed(output) : null;
    if (answer && answer.length > jobLimits.answerBytes)
      throw new ServiceError(
        413,
        'answer.large',
        'The answer is too large to be kept: ask for fewer places, or columns.',
      );
    await ended(id, isDone ? 'done' : 'failed', code, notes, answer);
  } catch (error) {
    if (!stop.signal.aborted)
      await ended(id, 'failed', null, toServiceError(error).message, null).catch(() => undefined);
  } finally {
    clearInterval(look);
    port1.close();
  }
}

const longestNotes = 100_000;

async function ended(
  id: string,
  state: JobState,
  code: number | null,
  notes: string,
  answer: Buffer | null,
): Promise<void> {
  await pool().query(
    "UPDATE jobs SET state = ?, code = ?, notes = ?, answer = ?, share = 1, ended_at = NOW(3) WHERE id = ? AND state IN ('waiting', 'running')",
    [state, code, notes.slice(0, longestNotes), answer, id],
  );
}

/** Old ones, and the oldest of too many. */
async function tidy(owner: Owner): Promise<void> {
  await pool().query(
    "DELETE FROM jobs WHERE created_at < NOW(3) - INTERVAL ? HOUR AND state NOT IN ('waiting', 'running')",
    [jobLimits.keptH],
  );
  const [rows] = await pool().query<RowDataPacket[]>(
    "SELECT id FROM jobs WHERE account_id <=> ? AND state NOT IN ('waiting', 'running') ORDER BY created_at DESC, id LIMIT 1000 OFFSET ?",
    [owner, jobLimits.kept - 1],
  );
  if (rows.length > 0) await pool().query('DELETE FROM jobs WHERE id IN (?)', [rows.map(({ id }) => id as string)]);
}

/** All that this server computes, when it ends or a test does. */
export async function stopJobs(): Promise<void> {
  const all = [...running().values()];
  for (const { stop } of all) stop.abort();
  await Promise.all(all.map((each) => each.ended));
}
