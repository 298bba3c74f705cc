/** Setting sheets: drafts are computed when asked for; an issued one is frozen with its PDF and never changes (the database refuses it). */
import { createHash } from 'node:crypto';
import type { ResultSetHeader, RowDataPacket } from 'mysql2';
import type { Element } from '@mesura/core/model/element';
import { elementIdSchema } from '@mesura/core/model/fields';
import { storableText } from '@mesura/core/model/text';
import { digestible, type StoredContent } from '@mesura/core/sheets/digestible';
import { notFinite } from '@mesura/core/sheets/finite';
import type { SheetContent } from '@mesura/core/sheets/sheet';
import { pool } from './database';
import { notFound, ServiceError } from './errors';
import { sheetPdf } from './pdf/sheet';
import { openProject, projectRow } from './projects';
import { inThread } from './workers';

export interface SheetHead {
  id: number;
  relayId: string;
  number: number;
  projectRevision: number;
  /** Of the content alone: whether a draft says the same. */
  digest: string;
  /** Of everything that the sheet says, and of the one before. */
  seal: string;
  reason: string;
  issuedBy: string;
  issuedAt: string;
}

/** SHA-256 over the data of the content; two sheets with the same digest say the same, in the words of their day. */
export const digestOf = (content: StoredContent): string =>
  createHash('sha256')
    .update(JSON.stringify(digestible(content)))
    .digest('hex');

const heads = 'id, relay_id, number, project_revision, digest, seal, reason, issued_by, issued_at';
const toHead = (row: RowDataPacket): SheetHead => ({
  id: Number(row.id),
  relayId: row.relay_id,
  number: row.number,
  projectRevision: Number(row.project_revision),
  digest: row.digest,
  seal: row.seal,
  reason: row.reason,
  issuedBy: row.issued_by,
  issuedAt: (row.issued_at as Date).toISOString(),
});

export interface ListedSheet extends SheetHead {
  /** Whether its seal fits what it says and the relay's sheet before it. */
  readonly sound: boolean;
}

/** All issued sheets of a project, newest first. */
export async function listSheets(projectId: string): Promise<ListedSheet[]> {
  await projectRow(pool(), projectId);
  const [rows] = await pool().query<RowDataPacket[]>(
    `SELECT ${heads} FROM sheets WHERE project_id = ? ORDER BY relay_id, number`,
    [projectId],
  );
  const listed = sealed(rows.map(toHead));
  return listed.sort((p, q) => (p.issuedAt < q.issuedAt ? 1 : p.issuedAt > q.issuedAt ? -1 : q.id - p.id));
}

/** Follows the chain of each relay. Sheets from before seals were introduced have none; after a sealed one there is none without. */
function sealed(inOrder: readonly SheetHead[]): ListedSheet[] {
  const before = new Map<string, string>();
  return inOrder.map((head) => {
    const last = before.get(head.relayId) ?? '';
    before.set(head.relayId, head.seal);
    return { ...head, sound: head.seal === '' ? last === '' : head.seal === sealOf(last, head) };
  });
}

/** Drafts and issues of a project wait for each other here, and for nobody else. */
const queues = new Map<string, { last: Promise<unknown>; waiting: number }>();
const longestQueue = 20;

async function inTurn<T>(projectId: string, work: () => Promise<T>): Promise<T> {
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

interface Issue {
  readonly relay: string;
  /** The project's revision that the engineer looked at. */
  readonly revision: number;
  readonly reason: string;
  readonly issuedBy?: string;
  /** Made by the client: an issue asked for twice, because the answer got lost, is made once. */
  readonly key?: string;
}

/**
 * Issues the next revision of a relay's sheet from the state that the engineer looked at. Content and PDF are made without holding up anybody; only the
 * numbering is done under the project's lock.
 */
export const issueSheet = (projectId: string, issue: Issue): Promise<SheetHead> =>
  inTurn(projectId, async () => {
    const { relay, revision, reason, key = null } = issue;
    const issuedBy =
      storableText(issue.issuedBy ?? '')
        .trim()
        .slice(0, 80) || 'engineer';
    const earlier = key === null ? null : await issuedUnder(projectId, key);
    if (earlier) return earlier;
    const { name, elements } = await atRevision(projectId, revision);
    const content = await contentOf(elements, relay);
    const issuedAt = new Date().toISOString();
    const digest = digestOf(content);
    const cleanReason = storableText(reason).trim().slice(0, 400);
    for (let attempt = 1; ; attempt++) {
      const before = await lastSeal(projectId, relay);
      const unsealed = {
        id: 0,
        relayId: relay,
        number: before.number + 1,
        projectRevision: revision,
        digest,
        reason: cleanReason,
        issuedBy,
        issuedAt,
      };
      const head: SheetHead = { ...unsealed, seal: sealOf(before.seal, unsealed) };
      const pdf = await sheetPdf(content, name, head);
      try {
        return await insertSheet(projectId, head, { content, pdf, key });
      } catch (error) {
        // Another process was quicker: the next number, or its answer.
        if ((error as { code?: string }).code !== 'ER_DUP_ENTRY' || attempt >= 3) throw error;
        const twice = key === null ? null : await issuedUnder(projectId, key);
        if (twice) return twice;
      }
    }
  });

async function insertSheet(
  projectId: string,
  head: SheetHead,
  { content, pdf, key }: { content: SheetContent; pdf: Buffer; key: string | null },
): Promise<SheetHead> {
  const [result] = await pool().query<ResultSetHeader>(
    'INSERT INTO sheets (project_id, relay_id, number, project_revision, request_key, content, digest, seal, reason, issued_by, issued_at, pdf) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)',
    [
      projectId,
      head.relayId,
      head.number,
      head.projectRevision,
      key,
      JSON.stringify(content),
      head.digest,
      head.seal,
      head.reason,
      head.issuedBy,
      new Date(head.issuedAt),
      pdf,
    ],
  );
  return { ...head, id: result.insertId };
}

async function issuedUnder(projectId: string, key: string): Promise<SheetHead | null> {
  const [rows] = await pool().query<RowDataPacket[]>(
    `SELECT ${heads} FROM sheets WHERE project_id = ? AND request_key = ?`,
    [projectId, key],
  );
  return rows.length > 0 ? toHead(rows[0]) : null;
}

/** The project as the engineer saw it; refused when it has changed since. */
async function atRevision(projectId: string, revision: number) {
  const project = await openProject(projectId);
  if (project.revision !== revision)
    throw new ServiceError(
      409,
      'sheet.moved',
      'The project has changed since this sheet was shown. Look at it again, then issue it.',
      { revision: project.revision },
    );
  return project;
}

/** The last sheet of a relay: its number, and the seal that the next one is chained to. */
async function lastSeal(projectId: string, relay: string): Promise<{ number: number; seal: string }> {
  const [rows] = await pool().query<RowDataPacket[]>(
    'SELECT number, seal FROM sheets WHERE project_id = ? AND relay_id = ? ORDER BY number DESC LIMIT 1',
    [projectId, relay],
  );
  return rows.length > 0 ? { number: Number(rows[0].number), seal: rows[0].seal } : { number: 0, seal: '' };
}

/**
 * SHA-256 over the seal of the relay's sheet before, and over everything that this one says: what, why, by whom and when. One sheet changed or left out
 * breaks every seal after it.
 */
export const sealOf = (
  before: string,
  { relayId, number, projectRevision, digest, reason, issuedBy, issuedAt }: Omit<SheetHead, 'id' | 'seal'>,
): string =>
  createHash('sha256')
    .update(JSON.stringify([before, relayId, number, projectRevision, digest, reason, issuedBy, issuedAt]))
    .digest('hex');

/** Sheets whose digest or seal is not what it must be. */
export async function brokenSeals(projectId: string): Promise<SheetHead[]> {
  const [rows] = await pool().query<RowDataPacket[]>(
    `SELECT ${heads}, content FROM sheets WHERE project_id = ? ORDER BY relay_id, number`,
    [projectId],
  );
  return sealed(rows.map(toHead)).filter(
    ({ sound, digest }, k) => !sound || digestOf(JSON.parse(rows[k].content) as StoredContent) !== digest,
  );
}

async function contentOf(elements: readonly Element[], relay: string, signal?: AbortSignal): Promise<SheetContent> {
  const known = elementIdSchema.safeParse(relay);
  if (!known.success) throw notFound('This relay');
  const content = await inThread({ task: 'sheet', elements, relay: known.data }, signal);
  if (!content) throw notFound('This relay');
  const wrong = notFinite(content);
  if (wrong)
    throw new ServiceError(
      422,
      'sheet.notFinite',
      `There is no such sheet: ${wrong.join(' → ')} is not a number. Check the data that it comes from.`,
    );
  return content;
}

export async function issuedPdf(projectId: string, sheetId: number): Promise<{ name: string; pdf: Buffer }> {
  const [rows] = await pool().query<RowDataPacket[]>(
    'SELECT content, number, pdf FROM sheets WHERE project_id = ? AND id = ?',
    [projectId, sheetId],
  );
  if (rows.length === 0) throw notFound('This sheet');
  const content = JSON.parse(rows[0].content) as SheetContent;
  return { name: `${content.relay.name} rev ${rows[0].number}.pdf`, pdf: rows[0].pdf };
}

export async function draftPdf(
  projectId: string,
  relay: string,
  signal?: AbortSignal,
): Promise<{ name: string; pdf: Buffer }> {
  return inTurn(projectId, async () => {
    const project = await openProject(projectId);
    const content = await contentOf(project.elements, relay, signal);
    return { name: `${content.relay.name} draft.pdf`, pdf: await sheetPdf(content, project.name, null) };
  });
}
