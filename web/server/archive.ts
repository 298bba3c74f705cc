/**
 * Projects with their whole history and their issued sheets, as lines of JSON: what a backup holds, and what a project is handed on as. The last line counts the others
 * and carries their digest. Read in one consistent view while people work; put back without touching anything that is there.
 */
import { createHash, type Hash } from 'node:crypto';
import mysql, { type Connection } from 'mysql2/promise';
import type { RowDataPacket } from 'mysql2';
import { newId } from './projects';

export const archiveFormat = 'mesura-archive';
/** With signatures, accounts and the audit log since 4: programs of before would leave them out, and refuse. */
const archiveVersion = 4;

type Row = Record<string, unknown>;

/** Tables of a project, the columns that are kept, and by what they are read in order. */
const tables = {
  element: { table: 'elements', order: 'seq', columns: ['id', 'kind', 'data', 'revision'] },
  removal: { table: 'removals', order: 'id', columns: ['id', 'revision'] },
  change: {
    table: 'changes',
    order: 'revision',
    columns: [
      'revision',
      'batch_id',
      'label',
      'origin',
      'author',
      'account_id',
      'client',
      'touched',
      'forward',
      'inverse',
      'made_at',
    ],
  },
  version: { table: 'versions', order: 'id', columns: ['revision', 'name', 'author', 'account_id', 'made_at'] },
  sheet: {
    table: 'sheets',
    order: 'id',
    columns: [
      'relay_id',
      'run_id',
      'number',
      'project_revision',
      'request_key',
      'content',
      'digest',
      'seal',
      'reason',
      'signatures',
      'issued_by',
      'issued_at',
      'pdf',
    ],
  },
  sheetRun: {
    table: 'sheet_runs',
    order: 'id',
    columns: [
      'id',
      'subject_kind',
      'subject_id',
      'name',
      'station',
      'project_revision',
      'content',
      'drawing',
      'since',
      'digest',
      'reason',
    ],
  },
  sheetEvent: {
    table: 'sheet_events',
    order: "CONCAT(run_id, LPAD(seq, 10, '0'))",
    columns: ['run_id', 'seq', 'step', 'account_id', 'name', 'signed_in', 'text', 'about', 'at', 'request_key', 'seal'],
  },
  reading: {
    table: 'readings',
    order: 'id',
    columns: ['id', 'subject_id', 'number', 'source', 'sent', 'account_id', 'name', 'at', 'compared'],
  },
  acceptance: {
    table: 'acceptances',
    order: "CONCAT(reading_id, ' ', value_key)",
    columns: ['reading_id', 'value_key', 'account_id', 'name', 'reason', 'at'],
  },
  /** Of an archive of everything only: accounts are none of a project's. */
  member: { table: 'members', order: 'account_id', columns: ['account_id', 'roles'] },
} as const;
type Kind = keyof typeof tables;
const kinds = Object.keys(tables) as Kind[];

/** What all projects share; in archives of everything only. */
const sharedTables = {
  sharedType: { table: 'shared_types', columns: ['id', 'kind', 'name', 'data', 'author', 'shared_at'] },
  sharedRulebook: { table: 'shared_rulebooks', columns: ['id', 'name', 'version', 'data', 'author', 'shared_at'] },
  account: {
    table: 'accounts',
    columns: [
      'id',
      'name',
      'full_name',
      'password_hash',
      'code_secret',
      'code_step',
      'administrator',
      'blocked_at',
      'created_at',
    ],
  },
  recoveryCode: { table: 'recovery_codes', columns: ['account_id', 'code_hash'] },
  audit: {
    table: 'audit_log',
    columns: ['id', 'at', 'account_id', 'name', 'action', 'project_id', 'target', 'detail', 'address'],
  },
} as const;
const sharedOf = (type: unknown) =>
  Object.hasOwn(sharedTables, String(type)) ? sharedTables[type as keyof typeof sharedTables] : null;
const projectColumns = ['id', 'name', 'notes', 'revision', 'created_at', 'updated_at', 'deleted_at'];
/** Rows read at a time; sheets carry their PDF. */
const chunk = (kind: Kind) => (kind === 'sheet' || kind === 'sheetRun' ? 5 : kind === 'change' ? 50 : 1000);

/** A connection without limits of time: an archive may be large. */
export const archiveConnection = (uri: string): Promise<Connection> =>
  mysql.createConnection({ uri, timezone: 'Z', supportBigNumbers: true, jsonStrings: true, connectTimeout: 4000 });

export interface ArchiveCount {
  projects: number;
  elements: number;
  changes: number;
  sheets: number;
  digest: string;
}

const noCount = (): ArchiveCount => ({ projects: 0, elements: 0, changes: 0, sheets: 0, digest: '' });

/** Lines of an archive of all projects, or of some. `count` is filled as it goes. */
export async function* archiveLines(
  connection: Connection,
  only: readonly string[] | null = null,
  count: ArchiveCount = noCount(),
): AsyncGenerator<string> {
  const hash = createHash('sha256');
  let lines = 0;
  const line = (kind: string, row: Row): string => {
    const text = `${JSON.stringify({ type: kind, ...row })}\n`;
    hash.update(text);
    lines++;
    return text;
  };
  await connection.query('START TRANSACTION WITH CONSISTENT SNAPSHOT');
  try {
    yield line(archiveFormat, { version: archiveVersion, made: new Date().toISOString() });
    const [projects] = await connection.query<RowDataPacket[]>(
      `SELECT ${projectColumns.join(', ')} FROM projects ${only ? 'WHERE id IN (?)' : ''} ORDER BY created_at, id`,
      only ? [only] : [],
    );
    for (const [type, { table, columns }] of only ? [] : Object.entries(sharedTables)) {
      const [rows] = await connection.query<RowDataPacket[]>(`SELECT ${columns.join(', ')} FROM ${table} ORDER BY 1`);
      for (const row of rows) yield line(type, plain(row));
    }
    for (const project of projects) {
      yield line('project', plain(project));
      count.projects++;
      for (const kind of kinds) {
        if (only && kind === 'member') continue;
        for await (const row of rowsOf(connection, kind, String(project.id))) {
          if (kind === 'element') count.elements++;
          if (kind === 'change') count.changes++;
          if (kind === 'sheet') count.sheets++;
          yield line(kind, row);
        }
      }
    }
    count.digest = hash.digest('hex');
    yield `${JSON.stringify({ type: 'end', lines, digest: count.digest })}\n`;
  } finally {
    await connection.query('ROLLBACK').catch(() => undefined);
  }
}

async function* rowsOf(connection: Connection, kind: Kind, projectId: string): AsyncGenerator<Row> {
  const { table, order, columns } = tables[kind];
  let last: unknown = null;
  for (;;) {
    const [rows] = await connection.query<RowDataPacket[]>(
      `SELECT ${columns.join(', ')}, ${order} AS position FROM ${table} WHERE project_id = ? ${last === null ? '' : `AND ${order} > ?`} ORDER BY ${order} LIMIT ${chunk(kind)}`,
      last === null ? [projectId] : [projectId, last],
    );
    if (rows.length === 0) return;
    last = rows[rows.length - 1].position;
    for (const { position: _, ...row } of rows) yield plain(row);
  }
}

const plain = (row: Row): Row =>
  Object.fromEntries(
    Object.entries(row).map(([key, value]) => [
      key,
      value instanceof Date ? value.toISOString() : Buffer.isBuffer(value) ? value.toString('base64') : value,
    ]),
  );

/** Looks at every line without storing any: format, order, digest. Throws a plain sentence where something is wrong. */
export async function verifyArchive(lines: AsyncIterable<string>): Promise<ArchiveCount> {
  const count = noCount();
  const hash = createHash('sha256');
  let read = 0;
  let ended = false;
  for await (const text of lines) {
    const row = parsed(text, read + 1);
    if (ended) throw new Error('the archive goes on after its end');
    if (read === 0) {
      if (row.type !== archiveFormat) throw new Error('this is no archive of Mesura');
      if ((row.version as number) > archiveVersion)
        throw new Error(`the archive has version ${row.version}; this program reads up to ${archiveVersion}`);
    } else if (row.type === 'end') {
      if (row.lines !== read || row.digest !== hash.digest('hex'))
        throw new Error('the archive is damaged: its digest does not fit');
      count.digest = row.digest as string;
      ended = true;
      continue;
    } else if (!sharedOf(row.type) && !['project', ...kinds].includes(row.type as string))
      throw new Error(`line ${read + 1} is of an unknown kind`);
    if (row.type === 'project') count.projects++;
    if (row.type === 'element') count.elements++;
    if (row.type === 'change') count.changes++;
    if (row.type === 'sheet') count.sheets++;
    updateWithLine(hash, text);
    read++;
  }
  if (!ended) throw new Error('the archive is cut off');
  return count;
}

const updateWithLine = (hash: Hash, text: string) => hash.update(text.endsWith('\n') ? text : `${text}\n`);

function parsed(text: string, line: number): Row {
  try {
    return JSON.parse(text) as Row;
  } catch {
    throw new Error(`line ${line} of the archive cannot be read`);
  }
}

export interface Restored {
  readonly name: string;
  /** Null where the project is there already, at the same revision. */
  readonly id: string | null;
}

/** Puts projects back, each in one transaction. One that is there already is left alone; one that is there in another state is put beside it. */
export async function restoreArchive(connection: Connection, lines: AsyncIterable<string>): Promise<Restored[]> {
  const restored: Restored[] = [];
  const at: { project: Restored | null; kind: Kind | null; rows: Row[] } = { project: null, kind: null, rows: [] };
  const flush = async () => {
    if (at.kind === null || !at.project?.id || at.rows.length === 0) return;
    const { table, columns } = tables[at.kind];
    const { id } = at.project;
    await connection.query(`INSERT INTO ${table} (project_id, ${columns.join(', ')}) VALUES ?`, [
      at.rows.map((row) => [id, ...columns.map((column) => valueOf(column, row[column]))]),
    ]);
    at.rows = [];
  };
  const close = async () => {
    if (!at.project) return;
    await flush();
    if (at.project.id) await connection.query('COMMIT');
    restored.push(at.project);
    at.project = null;
  };
  try {
    let number = 0;
    for await (const text of lines) {
      const row = parsed(text, ++number);
      if (row.type === 'project') {
        await close();
        at.project = await beginProject(connection, row);
      } else if (row.type === 'end') await close();
      else if (sharedOf(row.type)) {
        const { table, columns } = sharedOf(row.type)!;
        await connection.query(`INSERT IGNORE INTO ${table} (${columns.join(', ')}) VALUES (?)`, [
          columns.map((column) => valueOf(column, row[column])),
        ]);
      } else if (at.project?.id && (kinds as unknown[]).includes(row.type)) {
        const kind = row.type as Kind;
        if (at.kind !== kind) await flush();
        at.kind = kind;
        at.rows.push(row);
        if (at.rows.length >= chunk(kind)) await flush();
      }
    }
  } catch (error) {
    await connection.query('ROLLBACK').catch(() => undefined);
    throw error;
  }
  return restored;
}

async function beginProject(connection: Connection, row: Row): Promise<{ id: string | null; name: string }> {
  const name = String(row.name);
  const [there] = await connection.query<RowDataPacket[]>('SELECT revision, deleted_at FROM projects WHERE id = ?', [
    row.id,
  ]);
  if (there.length > 0 && Number(there[0].revision) === Number(row.revision) && there[0].deleted_at === null)
    return { id: null, name };
  const beside = there.length > 0;
  const id = beside ? newId() : String(row.id);
  const called = beside ? `${name.slice(0, 96)} (restored ${new Date().toISOString().slice(0, 10)})` : name;
  await connection.query('START TRANSACTION');
  await connection.query(`INSERT INTO projects (${projectColumns.join(', ')}) VALUES (?)`, [
    projectColumns.map((column) =>
      column === 'id'
        ? id
        : column === 'name'
          ? called
          : beside && column === 'deleted_at'
            ? null
            : valueOf(column, row[column]),
    ),
  ]);
  return { id, name: called };
}

function valueOf(column: string, value: unknown): unknown {
  if (value === null || value === undefined) return null;
  if (column === 'at' || column.endsWith('_at')) return new Date(value as string);
  return column === 'pdf' ? Buffer.from(value as string, 'base64') : value;
}
