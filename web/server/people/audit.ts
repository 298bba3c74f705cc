/** The audit log: who did what, to what, when and from where. Rows are added and never changed (the database refuses it); without contents of projects, without secrets. */
import type { RowDataPacket } from 'mysql2';
import type { PoolConnection } from 'mysql2/promise';
import { csv } from '@mesura/core/formats/tables/csv';
import { pool } from '../database';

export const actions = [
  'signedIn',
  'signInRefused',
  'signInLocked',
  'signedOut',
  'sessionEnded',
  'tokenMade',
  'tokenEnded',
  'passwordSet',
  'codesOn',
  'codesOff',
  'accountAdded',
  'accountChanged',
  'accountInvited',
  'membersChanged',
  'projectAdded',
  'projectRenamed',
  'projectDeleted',
  'projectRestored',
  'projectArchived',
  'typeShared',
  'typeUnshared',
  'rulebookShared',
  'rulebookUnshared',
  'sheetStep',
  'valuesSent',
  'valuesRead',
  'deviationAccepted',
  'refused',
] as const;
export type AuditAction = (typeof actions)[number];

export interface AuditEntry {
  readonly action: AuditAction;
  readonly projectId?: string | null;
  /** What it was done to, as people call it. */
  readonly target?: string;
  readonly detail?: string;
}

/** Who does something, and from where. */
export interface Doer {
  readonly accountId: string | null;
  readonly name: string;
  readonly address: string;
}

/** On the connection of a transaction it is stored with what it tells of, or not at all. */
export async function note(
  { accountId, name, address }: Doer,
  { action, projectId = null, target = '', detail = '' }: AuditEntry,
  connection: Pick<PoolConnection, 'query'> = pool(),
): Promise<void> {
  await connection.query(
    'INSERT INTO audit_log (account_id, name, action, project_id, target, detail, address) VALUES (?)',
    [
      [
        accountId,
        name.slice(0, 80),
        action,
        projectId,
        target.slice(0, 160),
        detail.slice(0, 400),
        address.slice(0, 60),
      ],
    ],
  );
}

export interface AuditRow {
  readonly id: number;
  readonly at: string;
  readonly account: string | null;
  readonly name: string;
  readonly action: AuditAction;
  readonly project: string | null;
  readonly target: string;
  readonly detail: string;
  readonly address: string;
}

const page = 200;

/** The latest first; those before an entry where one is given. `projectId` null: of everything. */
export async function auditRows(projectId: string | null, before: number | null, limit = page): Promise<AuditRow[]> {
  const [rows] = await pool().query<RowDataPacket[]>(
    `SELECT a.id, a.at, a.account_id, a.name, a.action, a.target, a.detail, a.address, p.name AS project
     FROM audit_log a LEFT JOIN projects p ON p.id = a.project_id
     WHERE a.id < ? ${projectId === null ? '' : 'AND a.project_id = ?'} ORDER BY a.id DESC LIMIT ?`,
    [before ?? Number.MAX_SAFE_INTEGER, ...(projectId === null ? [] : [projectId]), limit],
  );
  return rows.map((row) => ({
    id: Number(row.id),
    at: (row.at as Date).toISOString(),
    account: row.account_id,
    name: row.name,
    action: row.action,
    project: row.project,
    target: row.target,
    detail: row.detail,
    address: row.address,
  }));
}

/** All of it as a table for spreadsheets, the latest first. */
export async function auditCsv(projectId: string | null): Promise<string> {
  const head = ['id', 'at', 'account', 'name', 'action', 'project', 'target', 'detail', 'address'] as const;
  const parts = [csv([[...head]])];
  for (let before: number | null = null; ;) {
    const rows = await auditRows(projectId, before, 5000);
    if (rows.length === 0) return parts.join('');
    parts.push(csv(rows.map((row) => head.map((column) => row[column] as string | number | null))));
    before = rows[rows.length - 1].id;
  }
}
