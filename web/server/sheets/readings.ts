/** What was read from relays, compared with the issued sheet, and who has accepted which deviation and why. Rows are added and never changed. */
import type { RowDataPacket } from 'mysql2';
import { z } from 'zod';
import { comparedWith, deviationsOf, type ComparedValue, type ReadValue } from '@mesura/core/sheets/readBack';
import { pool, transaction } from '../database';
import { notFound, ServiceError } from '../errors';
import { note } from '../people/audit';
import type { Person } from '../people/person';
import { newId, projectRow } from '../projects';
import { plainText } from '../texts';
import { issuedDetail, listSheets } from './register';
import type { ListedSheet } from './seal';

const most = 2000;

export const readingSchema = z.object({
  /** Where the values come from: a file, or a relay by its address. */
  source: plainText(200),
  /** The source has all that the relay holds: what is missing deviates too. */
  whole: z.boolean().default(false),
  values: z
    .array(
      z.object({
        key: plainText(140).nullable().default(null),
        code: plainText(60).default(''),
        setting: plainText(120).default(''),
        value: plainText(120),
      }),
    )
    .min(1)
    .max(most),
  as: plainText(80).optional(),
});

export interface Acceptance {
  readonly key: string;
  readonly name: string;
  readonly accountId: string | null;
  readonly reason: string;
  readonly at: string;
}

export interface ReadingCard {
  readonly id: string;
  /** Name under which the sheets of its subject are kept. */
  readonly subjectId: string;
  /** Revision that it was compared with. */
  readonly number: number;
  readonly source: string;
  /** The values had just been sent there. */
  readonly sent: boolean;
  readonly name: string;
  readonly at: string;
  readonly rows: readonly ComparedValue[];
  /** Keys of what deviates, accepted or not. */
  readonly deviations: readonly string[];
  readonly accepted: readonly Acceptance[];
}

/** The latest reading of each subject. */
export async function latestReadings(projectId: string): Promise<ReadingCard[]> {
  await projectRow(pool(), projectId);
  const [rows] = await pool().query<RowDataPacket[]>(
    `SELECT r.* FROM readings r JOIN
       (SELECT subject_id, MAX(CONCAT(at, id)) AS latest FROM readings WHERE project_id = ? GROUP BY subject_id) l
       ON l.subject_id = r.subject_id AND CONCAT(r.at, r.id) = l.latest
     WHERE r.project_id = ? ORDER BY r.at DESC`,
    [projectId, projectId],
  );
  return withAcceptances(projectId, rows);
}

async function withAcceptances(projectId: string, rows: readonly RowDataPacket[]): Promise<ReadingCard[]> {
  if (rows.length === 0) return [];
  const [accepted] = await pool().query<RowDataPacket[]>(
    'SELECT * FROM acceptances WHERE project_id = ? AND reading_id IN (?) ORDER BY at',
    [projectId, rows.map(({ id }) => id as string)],
  );
  return rows.map((row) => {
    const { rows: compared, whole } = JSON.parse(row.compared) as { rows: ComparedValue[]; whole: boolean };
    return {
      id: row.id,
      subjectId: row.subject_id,
      number: Number(row.number),
      source: row.source,
      sent: Boolean(row.sent),
      name: row.name,
      at: (row.at as Date).toISOString(),
      rows: compared,
      deviations: deviationsOf({ rows: compared }, whole).map(({ key }) => key),
      accepted: accepted
        .filter(({ reading_id: of }) => of === row.id)
        .map((each) => ({
          key: each.value_key,
          name: each.name,
          accountId: each.account_id,
          reason: each.reason,
          at: (each.at as Date).toISOString(),
        })),
    };
  });
}

async function readingCard(projectId: string, id: string): Promise<ReadingCard> {
  const [rows] = await pool().query<RowDataPacket[]>('SELECT * FROM readings WHERE project_id = ? AND id = ?', [
    projectId,
    id,
  ]);
  if (rows.length === 0) throw notFound('This reading');
  return (await withAcceptances(projectId, rows))[0];
}

/** The issued sheet of a device that is in force. Errors: it is not issued, is withdrawn, or a later one is in force; it is of no device; it is of a former program. */
export async function sheetInForce(projectId: string, sheetId: number) {
  const sheet = await issuedDetail(projectId, sheetId);
  const latest = (await listSheets(projectId))
    .filter(({ relayId }) => relayId === sheet.relayId)
    .reduce<ListedSheet>((p, q) => (q.number > p.number ? q : p), sheet);
  const [withdrawn] = await pool().query<RowDataPacket[]>(
    "SELECT 1 FROM sheet_events WHERE project_id = ? AND run_id = ? AND step = 'withdrawn'",
    [projectId, sheet.runId ?? ''],
  );
  if (latest.id !== sheet.id || withdrawn.length > 0)
    throw new ServiceError(
      409,
      'sheet.notInForce',
      withdrawn.length > 0
        ? 'This sheet is withdrawn: nothing is set or compared by it.'
        : `Revision ${latest.number} is in force, not revision ${sheet.number}.`,
    );
  const { content } = sheet;
  if (content.form !== 3 || content.subject !== 'device')
    throw new ServiceError(
      409,
      'sheet.form',
      'This sheet has no values one by one: prepare and issue the next revision first.',
    );
  return { ...sheet, content };
}

export async function storeReading(
  projectId: string,
  sheetId: number,
  {
    source,
    whole,
    values,
    sent = false,
  }: { source: string; whole: boolean; values: readonly ReadValue[]; sent?: boolean },
  person: Person,
): Promise<ReadingCard> {
  const sheet = await sheetInForce(projectId, sheetId);
  const { rows, found } = comparedWith(sheet.content, values);
  if (found === 0)
    throw new ServiceError(
      422,
      'reading.nothing',
      'None of these values belongs to this sheet. Are the columns the right ones, and is it the right relay?',
    );
  const id = newId();
  const deviating = deviationsOf({ rows }, whole).length;
  await transaction(async (connection) => {
    await connection.query(
      'INSERT INTO readings (project_id, id, subject_id, number, source, sent, account_id, name, at, compared) VALUES (?)',
      [
        [
          projectId,
          id,
          sheet.relayId,
          sheet.number,
          source,
          sent,
          person.accountId,
          person.name,
          new Date(),
          JSON.stringify({ rows, whole }),
        ],
      ],
    );
    await note(
      person,
      {
        action: sent ? 'valuesSent' : 'valuesRead',
        projectId,
        target: sheet.content.relay.name,
        detail: `revision ${sheet.number}, ${source}: ${found} values, ${deviating} deviate`,
      },
      connection,
    );
  });
  return readingCard(projectId, id);
}

export const acceptanceSchema = z.object({
  keys: z.array(plainText(140)).min(1).max(most),
  reason: plainText(400)
    .transform((text) => text.trim())
    .refine((text) => text.length > 0),
  as: plainText(80).optional(),
});

/** Somebody answers for a deviation. Errors: it is none; it is accepted already. */
export async function acceptDeviations(
  projectId: string,
  readingId: string,
  { keys, reason }: { keys: readonly string[]; reason: string },
  person: Person,
): Promise<ReadingCard> {
  const reading = await readingCard(projectId, readingId);
  for (const key of keys)
    if (!reading.deviations.includes(key))
      throw new ServiceError(422, 'reading.deviation', `"${key}" does not deviate in this reading.`);
  try {
    await transaction(async (connection) => {
      for (const key of keys)
        await connection.query(
          'INSERT INTO acceptances (project_id, reading_id, value_key, account_id, name, reason, at) VALUES (?)',
          [[projectId, readingId, key, person.accountId, person.name, reason, new Date()]],
        );
      await note(
        person,
        { action: 'deviationAccepted', projectId, target: keys.join(', ').slice(0, 160), detail: reason },
        connection,
      );
    });
  } catch (error) {
    if ((error as { code?: string }).code === 'ER_DUP_ENTRY')
      throw new ServiceError(409, 'reading.accepted', 'Somebody has accepted this deviation already.');
    throw error;
  }
  return readingCard(projectId, readingId);
}
