/** Digests and seals: what a sheet says, and the chain that each revision and each signature hangs on. */
import { createHash } from 'node:crypto';
import type { RowDataPacket } from 'mysql2';
import { digestible, type StoredContent } from '@mesura/core/sheets/digestible';
import type { SheetEvent } from '@mesura/core/sheets/life';
import { pool } from '../database';

export interface Signature {
  readonly step: 'prepared' | 'checked' | 'approved';
  readonly name: string;
  readonly accountId: string | null;
  /** False on one's own desk. */
  readonly signedIn: boolean;
  readonly at: string;
}

export interface SheetHead {
  id: number;
  /** Name under which the sheets of its subject are kept. */
  relayId: string;
  /** The preparation that it came of; null for sheets of before. */
  runId: string | null;
  number: number;
  projectRevision: number;
  /** Of the content alone: whether a draft says the same. */
  digest: string;
  /** Of everything that the sheet says, and of the one before. */
  seal: string;
  reason: string;
  issuedBy: string;
  issuedAt: string;
  /** Null for sheets that were issued in one step. */
  signatures: readonly Signature[] | null;
}

const sha256 = (value: unknown): string => createHash('sha256').update(JSON.stringify(value)).digest('hex');

/** SHA-256 over the data of the content; two sheets with the same digest say the same, in the words of their day. */
export const digestOf = (content: StoredContent): string => sha256(digestible(content));

/**
 * SHA-256 over the seal of the sheet before, and over everything that this one says: what, why, by whom and when, and who had prepared and checked it. One sheet
 * changed or left out breaks every seal after it.
 */
export const sealOf = (
  before: string,
  {
    relayId,
    number,
    projectRevision,
    digest,
    reason,
    issuedBy,
    issuedAt,
    signatures,
  }: Omit<SheetHead, 'id' | 'seal' | 'runId'>,
): string =>
  sha256([
    before,
    relayId,
    number,
    projectRevision,
    digest,
    reason,
    issuedBy,
    issuedAt,
    // Sheets of before signatures were sealed without.
    ...(signatures
      ? [signatures.map(({ step, name, accountId, signedIn, at }) => [step, name, accountId, signedIn, at])]
      : []),
  ]);

/** Of an event in the life of a sheet: hangs on the one before, the first on the digest of what was prepared. */
export const eventSeal = (before: string, runId: string, event: SheetEvent): string => {
  const { seq, step, accountId, name, signedIn, text, about, at } = event;
  return sha256([before, runId, seq, step, accountId, name, signedIn, text, about, at]);
};

export const headColumns =
  'id, relay_id, run_id, number, project_revision, digest, seal, reason, issued_by, issued_at, signatures';
export const toHead = (row: RowDataPacket): SheetHead => ({
  id: Number(row.id),
  relayId: row.relay_id,
  runId: row.run_id,
  number: row.number,
  projectRevision: Number(row.project_revision),
  digest: row.digest,
  seal: row.seal,
  reason: row.reason,
  issuedBy: row.issued_by,
  issuedAt: (row.issued_at as Date).toISOString(),
  signatures: row.signatures === null ? null : (JSON.parse(row.signatures) as Signature[]),
});

export interface ListedSheet extends SheetHead {
  /** Whether its seal fits what it says and the sheet before it. */
  readonly sound: boolean;
}

/** Follows the chain of each subject. Sheets from before seals were introduced have none; after a sealed one there is none without. */
export function sealed(inOrder: readonly SheetHead[]): ListedSheet[] {
  const before = new Map<string, string>();
  return inOrder.map((head) => {
    const last = before.get(head.relayId) ?? '';
    before.set(head.relayId, head.seal);
    return { ...head, sound: head.seal === '' ? last === '' : head.seal === sealOf(last, head) };
  });
}

/** Sheets whose digest or seal is not what it must be. */
export async function brokenSeals(projectId: string): Promise<SheetHead[]> {
  const [rows] = await pool().query<RowDataPacket[]>(
    `SELECT ${headColumns}, content FROM sheets WHERE project_id = ? ORDER BY relay_id, number`,
    [projectId],
  );
  return sealed(rows.map(toHead)).filter(
    ({ sound, digest }, k) => !sound || digestOf(JSON.parse(rows[k].content) as StoredContent) !== digest,
  );
}

/** Preparations whose content or signatures are not what they were. */
export async function brokenRuns(projectId: string): Promise<string[]> {
  const [runs] = await pool().query<RowDataPacket[]>(
    'SELECT id, digest, content FROM sheet_runs WHERE project_id = ?',
    [projectId],
  );
  const [events] = await pool().query<RowDataPacket[]>(
    'SELECT * FROM sheet_events WHERE project_id = ? ORDER BY run_id, seq',
    [projectId],
  );
  return runs
    .filter(({ id, digest, content }) => {
      if (digestOf(JSON.parse(content) as StoredContent) !== digest) return true;
      let before = digest as string;
      return events
        .filter(({ run_id }) => run_id === id)
        .some((row, k) => {
          const fits = row.seq === k && eventSeal(before, id, toEvent(row)) === row.seal;
          before = row.seal;
          return !fits;
        });
    })
    .map(({ id }) => id as string);
}

export const toEvent = (row: RowDataPacket): SheetEvent => ({
  seq: Number(row.seq),
  step: row.step,
  accountId: row.account_id,
  name: row.name,
  signedIn: Boolean(row.signed_in),
  text: row.text,
  about: row.about,
  at: (row.at as Date).toISOString(),
});
