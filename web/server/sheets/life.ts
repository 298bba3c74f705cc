/**
 * Steps in the life of a sheet. What is prepared is computed from the state that the engineer looked at, and frozen; each signature is a row that is added and never changed;
 * approving makes the PDF and issues the next revision in the same transaction.
 */
import type { ResultSetHeader, RowDataPacket } from 'mysql2';
import type { PoolConnection } from 'mysql2/promise';
import { z } from 'zod';
import type { Element } from '@mesura/core/model/element';
import { settingsOf, networkOf } from '@mesura/core/model/network';
import { subjectKinds, type IssuableContent, type Subject } from '@mesura/core/sheets/content';
import { sheetDifferences } from '@mesura/core/sheets/difference';
import { notFinite } from '@mesura/core/sheets/finite';
import { signatureOf, stepRoles, whyNot, type LifeStep, type SheetEvent } from '@mesura/core/sheets/life';
import { subjectKey } from '@mesura/core/sheets/subjects';
import { pool, transaction } from '../database';
import { notFound, ServiceError } from '../errors';
import type { PreparedContent } from '../jobs/sheets';
import { note } from '../people/audit';
import { under, type Person } from '../people/person';
import { newId, openProject } from '../projects';
import { plainText } from '../texts';
import { inThread } from '../workers';
import { lastIssued, runDetail, type RunDetail } from './register';
import { digestOf, eventSeal, headColumns, sealOf, toHead, type SheetHead, type Signature } from './seal';
import { inTurn } from './turn';

const key = z
  .string()
  .regex(/^[A-Za-z0-9-]{8,60}$/)
  .optional();

export const subjectSchema = z.object({
  kind: z.enum(subjectKinds),
  id: z.string().regex(/^[A-Za-z0-9_-]{1,64}( [A-Za-z0-9_-]{1,64})?$/),
});

/** More are sent in parts: each part is computed at once. */
export const mostPrepared = 60;

export const stepSchema = z.discriminatedUnion('do', [
  z.object({
    do: z.literal('prepare'),
    subjects: z.array(subjectSchema).min(1).max(mostPrepared),
    /** The project's revision that the engineer looked at. */
    revision: z.int().min(0),
    reason: plainText(400).default(''),
    /** Made by the client: asked for twice, because the answer got lost, it is done once. */
    key,
    /** Where nobody signs in: under which name. */
    as: plainText(80).optional(),
  }),
  z.object({
    do: z.literal('step'),
    run: z.string().regex(/^[a-z2-9]{12}$/),
    step: z.enum(['checked', 'rejected', 'approved', 'withdrawn', 'comment', 'resolved']),
    /** How many events the person has seen: whoever was quicker is not run over. */
    seq: z.int().min(1),
    text: plainText(1000).default(''),
    about: plainText(140).default(''),
    key,
    as: plainText(80).optional(),
  }),
]);
export type StepRequest = z.infer<typeof stepSchema>;

/** Refuses who has none of the roles that a step asks for. */
function demandRole(step: LifeStep, person: Person): void {
  if (person.ownDesk || stepRoles[step].some((role) => person.roles.has(role))) return;
  throw new ServiceError(403, 'role', `This takes the role of ${stepRoles[step].join(' or ')} in this project.`);
}

export const takeStep = (projectId: string, request: StepRequest, person: Person): Promise<unknown> => {
  const signer = under(person, request.as);
  return request.do === 'prepare' ? prepareSheets(projectId, request, signer) : stepOf(projectId, request, signer);
};

type PrepareRequest = Omit<Extract<StepRequest, { do: 'prepare' }>, 'do' | 'as'>;

export interface Prepared {
  readonly subject: Subject;
  readonly run: string;
}

/** Freezes the sheets of some subjects as they stand, under the first signature: all of them or none. */
export const prepareSheets = (
  projectId: string,
  { subjects, revision, reason, key: asked }: PrepareRequest,
  signer: Person,
): Promise<{ prepared: Prepared[] }> =>
  inTurn(projectId, async () => {
    demandRole('prepared', signer);
    const earlier = asked === undefined ? null : await preparedUnder(projectId, asked);
    if (earlier) return { prepared: earlier };
    const { elements } = await atRevision(projectId, revision);
    const contents = await contentsOf(elements, subjects);
    const at = new Date();
    const runs = await Promise.all(
      contents.map(async ({ content, drawing }, k) => {
        const before = await lastIssued(projectId, subjectKey(subjects[k]));
        return {
          id: newId(),
          subject: subjects[k],
          content,
          drawing,
          since: before ? sheetDifferences(before, content) : [],
          digest: digestOf(content),
        };
      }),
    );
    await transaction(async (connection) => {
      for (const [k, { id, subject, content, drawing, since, digest }] of runs.entries()) {
        const { name, station } =
          content.subject === 'device' ? { name: content.relay.name, station: content.station } : content;
        await connection.query(
          'INSERT INTO sheet_runs (project_id, id, subject_kind, subject_id, name, station, project_revision, content, drawing, since, digest, reason) VALUES (?)',
          [
            [
              projectId,
              id,
              subject.kind,
              subjectKey(subject),
              name,
              station,
              revision,
              JSON.stringify(content),
              drawing,
              JSON.stringify(since),
              digest,
              reason.trim(),
            ],
          ],
        );
        const event = eventOf(0, { step: 'prepared', text: reason.trim(), about: '' }, signer, at);
        await insertEvent(
          connection,
          projectId,
          id,
          event,
          digest,
          asked && (k === 0 ? asked : `${asked.slice(0, 54)}-${k}`),
        );
        await note(signer, { action: 'sheetStep', projectId, target: name, detail: 'prepared' }, connection);
      }
    });
    return { prepared: runs.map(({ id, subject }) => ({ subject, run: id })) };
  });

/** A request that was answered already, and whose answer got lost. */
async function preparedUnder(projectId: string, asked: string): Promise<Prepared[] | null> {
  const [rows] = await pool().query<RowDataPacket[]>(
    `SELECT r.id, r.subject_kind, r.subject_id FROM sheet_events e JOIN sheet_runs r ON r.project_id = e.project_id AND r.id = e.run_id
     WHERE e.project_id = ? AND (e.request_key = ? OR e.request_key LIKE CONCAT(?, '-%'))`,
    [projectId, asked, asked.slice(0, 54)],
  );
  if (rows.length === 0) return null;
  return rows.map((row) => ({
    subject: { kind: row.subject_kind, id: String(row.subject_id).replace(/^arc:/, '') },
    run: row.id,
  }));
}

const eventOf = (
  seq: number,
  { step, text, about }: { step: LifeStep; text: string; about: string },
  { accountId, name, signedIn }: Person,
  at: Date,
): SheetEvent => ({ seq, step, accountId, name, signedIn, text, about, at: at.toISOString() });

async function insertEvent(
  connection: Pick<PoolConnection, 'query'>,
  projectId: string,
  runId: string,
  event: SheetEvent,
  before: string,
  asked: string | undefined,
): Promise<void> {
  const { seq, step, accountId, name, signedIn, text, about, at } = event;
  await connection.query(
    'INSERT INTO sheet_events (project_id, run_id, seq, step, account_id, name, signed_in, text, about, at, request_key, seal) VALUES (?)',
    [
      [
        projectId,
        runId,
        seq,
        step,
        accountId,
        name,
        signedIn,
        text,
        about,
        new Date(at),
        asked ?? null,
        eventSeal(before, runId, event),
      ],
    ],
  );
}

const quicker = () =>
  new ServiceError(409, 'sheet.step', 'Somebody else has just signed or commented on this sheet. Look at it again.');

type StepOf = Omit<Extract<StepRequest, { do: 'step' }>, 'do' | 'as'>;

/** One step of one sheet. Errors: `role`, `sheet.refused` (own work, open comments, a state that it does not lead from), `sheet.step` where somebody was quicker. */
export const stepOf = (
  projectId: string,
  { run: runId, step, seq, text, about, key: asked }: StepOf,
  signer: Person,
): Promise<{ run: RunDetail; sheet: SheetHead | null }> =>
  inTurn(projectId, async () => {
    demandRole(step, signer);
    if (asked !== undefined && (await wasAsked(projectId, asked)))
      return { run: await runDetail(projectId, runId), sheet: await sheetOfRun(projectId, runId) };
    const run = await runDetail(projectId, runId);
    if (run.events.length !== seq) throw quicker();
    const refusal = whyNot(run.events, { step, text, about }, signer);
    if (refusal) throw new ServiceError(409, 'sheet.refused', refusal);
    const event = eventOf(seq, { step, text: text.trim(), about }, signer, new Date());
    const before = await lastEventSeal(projectId, runId);
    const store = async (connection: Pick<PoolConnection, 'query'>) => {
      await insertEvent(connection, projectId, runId, event, before, asked);
      const detail = [step, text.trim()].filter(Boolean).join(': ');
      await note(signer, { action: 'sheetStep', projectId, target: run.name, detail }, connection);
    };
    try {
      const sheet = step === 'approved' ? await issue(projectId, run, event, store) : null;
      if (step !== 'approved') await transaction(store);
      return { run: await runDetail(projectId, runId), sheet };
    } catch (error) {
      if ((error as { code?: string }).code === 'ER_DUP_ENTRY') throw quicker();
      throw error;
    }
  });

async function wasAsked(projectId: string, asked: string): Promise<boolean> {
  const [rows] = await pool().query<RowDataPacket[]>(
    'SELECT 1 FROM sheet_events WHERE project_id = ? AND request_key = ?',
    [projectId, asked],
  );
  return rows.length > 0;
}

async function lastEventSeal(projectId: string, runId: string): Promise<string> {
  const [rows] = await pool().query<RowDataPacket[]>(
    'SELECT seal FROM sheet_events WHERE project_id = ? AND run_id = ? ORDER BY seq DESC LIMIT 1',
    [projectId, runId],
  );
  return rows[0].seal;
}

async function sheetOfRun(projectId: string, runId: string): Promise<SheetHead | null> {
  const [rows] = await pool().query<RowDataPacket[]>(
    `SELECT ${headColumns} FROM sheets WHERE project_id = ? AND run_id = ?`,
    [projectId, runId],
  );
  return rows.length > 0 ? toHead(rows[0]) : null;
}

/** The next revision of a subject: its PDF is made first, then it is stored together with the signature. */
async function issue(
  projectId: string,
  run: RunDetail,
  approved: SheetEvent,
  store: (connection: Pick<PoolConnection, 'query'>) => Promise<void>,
): Promise<SheetHead> {
  const { name: project, elements } = await openProject(projectId);
  const content = run.content as IssuableContent;
  const signatures = (['prepared', 'checked'] as const)
    .map((step) => signatureOf(run.events, step)!)
    .concat(approved)
    .map(({ step, name, accountId, signedIn, at }) => ({ step, name, accountId, signedIn, at }) as Signature);
  for (let attempt = 1; ; attempt++) {
    const earlier = await issuedBefore(projectId, run.subjectId);
    const last = earlier.at(-1);
    const unsealed = {
      relayId: run.subjectId,
      number: (last?.number ?? 0) + 1,
      projectRevision: run.projectRevision,
      digest: run.digest,
      reason: run.reason,
      issuedBy: approved.name,
      issuedAt: approved.at,
      signatures,
    };
    const head: SheetHead = { id: 0, runId: run.id, ...unsealed, seal: sealOf(last?.seal ?? '', unsealed) };
    const pdf = await inThread({
      task: 'sheetPdf',
      content,
      drawing: run.drawing,
      issue: { project, head, history: earlier, since: run.since },
      settings: settingsOf(networkOf(elements)),
    });
    try {
      return await transaction(async (connection) => {
        await store(connection);
        return insertSheet(connection, projectId, head, content, Buffer.from(pdf));
      });
    } catch (error) {
      const { code, sqlMessage = '' } = error as { code?: string; sqlMessage?: string };
      // Another process has issued a sheet of the same subject meanwhile: the next number.
      if (code !== 'ER_DUP_ENTRY' || !sqlMessage.includes('numbered') || attempt >= 3) throw error;
    }
  }
}

async function issuedBefore(projectId: string, subjectId: string): Promise<SheetHead[]> {
  const [rows] = await pool().query<RowDataPacket[]>(
    `SELECT ${headColumns} FROM sheets WHERE project_id = ? AND relay_id = ? ORDER BY number`,
    [projectId, subjectId],
  );
  return rows.map(toHead);
}

async function insertSheet(
  connection: Pick<PoolConnection, 'query'>,
  projectId: string,
  head: SheetHead,
  content: IssuableContent,
  pdf: Buffer,
): Promise<SheetHead> {
  const [result] = await connection.query<ResultSetHeader>(
    'INSERT INTO sheets (project_id, relay_id, run_id, number, project_revision, content, digest, seal, reason, signatures, issued_by, issued_at, pdf) VALUES (?)',
    [
      [
        projectId,
        head.relayId,
        head.runId,
        head.number,
        head.projectRevision,
        JSON.stringify(content),
        head.digest,
        head.seal,
        head.reason,
        JSON.stringify(head.signatures),
        head.issuedBy,
        new Date(head.issuedAt),
        pdf,
      ],
    ],
  );
  return { ...head, id: result.insertId };
}

/** The project as the engineer saw it; refused when it has changed since. */
async function atRevision(projectId: string, revision: number) {
  const project = await openProject(projectId);
  if (project.revision !== revision)
    throw new ServiceError(
      409,
      'sheet.moved',
      'The project has changed since these sheets were shown. Look at them again, then prepare them.',
      { revision: project.revision },
    );
  return project;
}

/** Contents of some subjects as things stand. Errors: one does not exist; a figure that is no number. */
export async function contentsOf(
  elements: readonly Element[],
  subjects: readonly Subject[],
  signal?: AbortSignal,
): Promise<PreparedContent[]> {
  const contents = await inThread({ task: 'sheets', elements, subjects }, signal);
  return contents.map((each) => {
    if (!each) throw notFound('This device');
    const wrong = notFinite(each.content);
    if (wrong)
      throw new ServiceError(
        422,
        'sheet.notFinite',
        `There is no such sheet: ${wrong.join(' → ')} is not a number. Check the data that it comes from.`,
      );
    return each;
  });
}
