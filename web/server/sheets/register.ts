/** The register: all preparations and issued sheets of a project, with who signed what. */
import type { RowDataPacket } from 'mysql2';
import type { SubjectKind } from '@mesura/core/sheets/content';
import type { StoredContent } from '@mesura/core/sheets/digestible';
import type { SheetDifference } from '@mesura/core/sheets/difference';
import { stateOf, type SheetEvent, type SheetState } from '@mesura/core/sheets/life';
import { pool } from '../database';
import { notFound } from '../errors';
import { projectRow } from '../projects';
import { headColumns, sealed, toEvent, toHead, type ListedSheet } from './seal';

/** A preparation: what was frozen when somebody signed it first, and what has become of it. */
export interface RunHead {
  readonly id: string;
  readonly kind: SubjectKind;
  /** Name under which sheets of its subject are kept. */
  readonly subjectId: string;
  readonly name: string;
  readonly station: string;
  readonly projectRevision: number;
  readonly digest: string;
  readonly reason: string;
  readonly state: SheetState;
  readonly events: readonly SheetEvent[];
}

export interface Register {
  /** The latest preparation of each subject, and those before that are not issued. */
  readonly runs: readonly RunHead[];
  /** Newest first. */
  readonly sheets: readonly ListedSheet[];
}

const runColumns = 'id, subject_kind, subject_id, name, station, project_revision, digest, reason';
const toRun = (row: RowDataPacket, events: readonly SheetEvent[]): RunHead => ({
  id: row.id,
  kind: row.subject_kind,
  subjectId: row.subject_id,
  name: row.name,
  station: row.station,
  projectRevision: Number(row.project_revision),
  digest: row.digest,
  reason: row.reason,
  state: stateOf(events),
  events,
});

export async function register(projectId: string): Promise<Register> {
  await projectRow(pool(), projectId);
  const [runs] = await pool().query<RowDataPacket[]>(`SELECT ${runColumns} FROM sheet_runs WHERE project_id = ?`, [
    projectId,
  ]);
  const [events] = await pool().query<RowDataPacket[]>(
    'SELECT run_id, seq, step, account_id, name, signed_in, text, about, at FROM sheet_events WHERE project_id = ? ORDER BY run_id, seq',
    [projectId],
  );
  const byRun = new Map<string, SheetEvent[]>();
  for (const row of events) byRun.set(row.run_id, [...(byRun.get(row.run_id) ?? []), toEvent(row)]);
  const listed = runs
    .map((row) => toRun(row, byRun.get(row.id) ?? []))
    .sort((p, q) => ((p.events[0]?.at ?? '') < (q.events[0]?.at ?? '') ? 1 : -1));
  return { runs: listed, sheets: await listSheets(projectId) };
}

/** All issued sheets of a project, newest first. */
export async function listSheets(projectId: string): Promise<ListedSheet[]> {
  await projectRow(pool(), projectId);
  const [rows] = await pool().query<RowDataPacket[]>(
    `SELECT ${headColumns} FROM sheets WHERE project_id = ? ORDER BY relay_id, number`,
    [projectId],
  );
  const listed = sealed(rows.map(toHead));
  return listed.sort((p, q) => (p.issuedAt < q.issuedAt ? 1 : p.issuedAt > q.issuedAt ? -1 : q.id - p.id));
}

export interface RunDetail extends RunHead {
  readonly content: StoredContent;
  /** What has changed since the revision issued before. */
  readonly since: readonly SheetDifference[];
  readonly drawing: string | null;
}

export async function runDetail(projectId: string, runId: string): Promise<RunDetail> {
  const [rows] = await pool().query<RowDataPacket[]>(
    `SELECT ${runColumns}, content, since, drawing FROM sheet_runs WHERE project_id = ? AND id = ?`,
    [projectId, runId],
  );
  if (rows.length === 0) throw notFound('This sheet');
  const [events] = await pool().query<RowDataPacket[]>(
    'SELECT * FROM sheet_events WHERE project_id = ? AND run_id = ? ORDER BY seq',
    [projectId, runId],
  );
  const [row] = rows;
  return {
    ...toRun(row, events.map(toEvent)),
    content: JSON.parse(row.content) as StoredContent,
    since: JSON.parse(row.since) as SheetDifference[],
    drawing: row.drawing,
  };
}

/** An issued sheet with its content. */
export async function issuedDetail(
  projectId: string,
  sheetId: number,
): Promise<ListedSheet & { readonly content: StoredContent }> {
  const head = (await listSheets(projectId)).find(({ id }) => id === sheetId);
  if (!head) throw notFound('This sheet');
  const [rows] = await pool().query<RowDataPacket[]>('SELECT content FROM sheets WHERE project_id = ? AND id = ?', [
    projectId,
    sheetId,
  ]);
  return { ...head, content: JSON.parse(rows[0].content) as StoredContent };
}

/** The last issued sheet of a subject with its content; null where there is none. */
export async function lastIssued(projectId: string, subjectId: string): Promise<StoredContent | null> {
  const [rows] = await pool().query<RowDataPacket[]>(
    'SELECT content FROM sheets WHERE project_id = ? AND relay_id = ? ORDER BY number DESC LIMIT 1',
    [projectId, subjectId],
  );
  return rows.length > 0 ? (JSON.parse(rows[0].content) as StoredContent) : null;
}
