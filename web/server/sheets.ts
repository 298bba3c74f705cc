/** Setting sheets: drafts are computed when asked for; an issued one is frozen with its PDF and never changes (the database refuses it). */
import { createHash } from 'node:crypto';
import type { ResultSetHeader, RowDataPacket } from 'mysql2';
import type { Element } from '@mesura/core/model/element';
import { elementId } from '@mesura/core/model/fields';
import type { SheetContent } from '@mesura/core/sheets/sheet';
import { pool, transaction } from './database';
import { notFound, ServiceError } from './errors';
import { sheetPdf } from './pdf';
import { openProject, projectRow, readElements } from './projects';
import { inThread } from './workers';

export interface SheetHead {
  id: number;
  relayId: string;
  number: number;
  projectRevision: number;
  digest: string;
  reason: string;
  issuedBy: string;
  issuedAt: string;
}

/** SHA-256 over the content; two sheets with the same digest say the same. */
export const digestOf = (content: SheetContent): string =>
  createHash('sha256').update(JSON.stringify(content)).digest('hex');

const heads = 'id, relay_id, number, project_revision, digest, reason, issued_by, issued_at';
const toHead = (row: RowDataPacket): SheetHead => ({
  id: Number(row.id),
  relayId: row.relay_id,
  number: row.number,
  projectRevision: Number(row.project_revision),
  digest: row.digest,
  reason: row.reason,
  issuedBy: row.issued_by,
  issuedAt: (row.issued_at as Date).toISOString(),
});

/** All issued sheets of a project, newest first. */
export async function listSheets(projectId: string): Promise<SheetHead[]> {
  await projectRow(pool(), projectId);
  const [rows] = await pool().query<RowDataPacket[]>(
    `SELECT ${heads} FROM sheets WHERE project_id = ? ORDER BY issued_at DESC, id DESC`,
    [projectId],
  );
  return rows.map(toHead);
}

/** Issues the next revision of a relay's sheet from what is stored; `revision` must be the one the engineer looked at. */
export async function issueSheet(
  projectId: string,
  relay: string,
  revision: number,
  reason: string,
  issuedBy = 'engineer',
): Promise<SheetHead> {
  return transaction(async (connection) => {
    const project = await projectRow(connection, projectId, true);
    if (project.revision !== revision)
      throw new ServiceError(
        409,
        'sheet.moved',
        'The project has changed since this sheet was shown. Look at it again, then issue it.',
        { revision: project.revision },
      );
    const content = await contentOf(await readElements(connection, projectId), relay);
    const [rows] = await connection.query<RowDataPacket[]>(
      'SELECT COALESCE(MAX(number), 0) + 1 AS next FROM sheets WHERE project_id = ? AND relay_id = ?',
      [projectId, relay],
    );
    const head: SheetHead = {
      id: 0,
      relayId: relay,
      number: Number(rows[0].next),
      projectRevision: revision,
      digest: digestOf(content),
      reason: reason.trim().slice(0, 400),
      issuedBy,
      issuedAt: new Date().toISOString(),
    };
    const pdf = await sheetPdf(content, project.name, head);
    const [result] = await connection.query<ResultSetHeader>(
      'INSERT INTO sheets (project_id, relay_id, number, project_revision, content, digest, reason, issued_by, issued_at, pdf) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)',
      [
        projectId,
        relay,
        head.number,
        revision,
        JSON.stringify(content),
        head.digest,
        head.reason,
        issuedBy,
        new Date(head.issuedAt),
        pdf,
      ],
    );
    return { ...head, id: result.insertId };
  });
}

async function contentOf(elements: readonly Element[], relay: string, signal?: AbortSignal): Promise<SheetContent> {
  const content = await inThread({ task: 'sheet', elements, relay: elementId(relay) }, signal);
  if (!content) throw notFound('This relay');
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
  const project = await openProject(projectId);
  const content = await contentOf(project.elements, relay, signal);
  return { name: `${content.relay.name} draft.pdf`, pdf: await sheetPdf(content, project.name, null) };
}
