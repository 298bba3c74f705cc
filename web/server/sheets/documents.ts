/** Sheets as files: drafts made as things stand, prepared ones from what was frozen, issued ones as they were stored. */
import type { RowDataPacket } from 'mysql2';
import { z } from 'zod';
import { networkOf, settingsOf } from '@mesura/core/model/network';
import type { IssuableContent, Subject } from '@mesura/core/sheets/content';
import { sheetDifferences } from '@mesura/core/sheets/difference';
import type { StoredContent } from '@mesura/core/sheets/digestible';
import { stateTitles } from '@mesura/core/sheets/life';
import { subjectKey } from '@mesura/core/sheets/subjects';
import type { WorkbookHead } from '@mesura/core/sheets/workbook';
import { pool } from '../database';
import { notFound, ServiceError } from '../errors';
import type { SheetIssue } from '../pdf/sheet';
import { openProject, projectRow } from '../projects';
import { inThread } from '../workers';
import { contentsOf, subjectSchema } from './life';
import { issuedDetail, lastIssued, listSheets, runDetail } from './register';
import { digestOf, type ListedSheet, type SheetHead } from './seal';
import { inTurn } from './turn';

export interface NamedFile {
  readonly name: string;
  readonly bytes: Uint8Array;
}

const nameOfContent = (content: StoredContent): string => ('relay' in content ? content.relay.name : content.name);

/** What an address names: a draft of a subject, a preparation, an issued sheet. */
export type Named =
  | { readonly type: 'draft'; readonly subject: Subject }
  | { readonly type: 'run'; readonly id: string }
  | { readonly type: 'issued'; readonly id: number };

/** "draft-ID", "draft-linePackage-ID", "run-ID", a number. Error: `missing`. */
export function named(text: string): Named {
  const draft = /^draft-(?:(linePackage|arcLabel)-)?(.+)$/.exec(text);
  if (draft) {
    const subject = subjectSchema.safeParse({ kind: draft[1] ?? 'device', id: draft[2].replace('--at--', ' ') });
    if (!subject.success) throw notFound('This device');
    return { type: 'draft', subject: subject.data };
  }
  const run = /^run-([a-z2-9]{12})$/.exec(text);
  if (run) return { type: 'run', id: run[1] };
  if (/^\d{1,12}$/.test(text)) return { type: 'issued', id: Number(text) };
  throw notFound('This sheet');
}

interface Held {
  readonly content: IssuableContent;
  readonly drawing: string | null;
  readonly issue: SheetIssue;
  readonly state: string;
}

const historyOf = (sheets: readonly ListedSheet[], subjectId: string): SheetHead[] =>
  sheets.filter(({ relayId }) => relayId === subjectId).sort((p, q) => p.number - q.number);

/** A draft, or a preparation that is not issued, with all that its document says. */
async function held(projectId: string, of: Exclude<Named, { type: 'issued' }>, signal?: AbortSignal): Promise<Held> {
  const sheets = await listSheets(projectId);
  if (of.type === 'run') {
    const run = await runDetail(projectId, of.id);
    const { name: project } = await projectRow(pool(), projectId);
    return {
      content: run.content as IssuableContent,
      drawing: run.drawing,
      issue: { project, head: null, history: historyOf(sheets, run.subjectId), since: run.since },
      state: stateTitles[run.state],
    };
  }
  const { name: project, elements } = await openProject(projectId);
  const [{ content, drawing }] = await contentsOf(elements, [of.subject], signal);
  const subjectId = subjectKey(of.subject);
  const before = await lastIssued(projectId, subjectId);
  return {
    content,
    drawing,
    issue: {
      project,
      head: null,
      history: historyOf(sheets, subjectId),
      since: before ? sheetDifferences(before, content) : [],
    },
    state: 'draft',
  };
}

const settingsFor = async (projectId: string) => settingsOf(networkOf((await openProject(projectId)).elements));

export async function pdfFile(projectId: string, text: string, signal?: AbortSignal): Promise<NamedFile> {
  const of = named(text);
  if (of.type === 'issued') return issuedPdf(projectId, of.id);
  return inTurn(projectId, async () => {
    const { content, drawing, issue, state } = await held(projectId, of, signal);
    const settings = await settingsFor(projectId);
    const bytes = await inThread({ task: 'sheetPdf', content, drawing, issue, settings }, signal);
    return { name: `${nameOfContent(content)} ${state}.pdf`, bytes };
  });
}

export async function issuedPdf(projectId: string, sheetId: number): Promise<NamedFile> {
  const [rows] = await pool().query<RowDataPacket[]>(
    'SELECT content, number, pdf FROM sheets WHERE project_id = ? AND id = ?',
    [projectId, sheetId],
  );
  if (rows.length === 0) throw notFound('This sheet');
  const content = JSON.parse(rows[0].content) as StoredContent;
  return { name: `${nameOfContent(content)} rev ${rows[0].number}.pdf`, bytes: new Uint8Array(rows[0].pdf as Buffer) };
}

/** The same content as a workbook that goes on calculating. Error: sheets of former programs have none. */
export async function xlsxFile(projectId: string, text: string, signal?: AbortSignal): Promise<NamedFile> {
  const of = named(text);
  const { name: project } = await projectRow(pool(), projectId);
  if (of.type === 'issued') {
    const sheet = await issuedDetail(projectId, of.id);
    if (sheet.content.form !== 3)
      throw new ServiceError(
        409,
        'sheet.form',
        'This sheet was issued by a former version of Mesura, which made no workbooks. Its PDF stands.',
      );
    const head: WorkbookHead = {
      project,
      revision: `Revision ${sheet.number}, issued ${sheet.issuedAt.slice(0, 10)}`,
      reason: sheet.reason,
      digest: sheet.digest,
      signatures: (sheet.signatures ?? []).map(({ step, name, at, signedIn }) => [
        step,
        `${name}, ${at.slice(0, 16).replace('T', ' ')}${signedIn ? '' : ' (not signed in)'}`,
      ]),
    };
    const bytes = await inThread({ task: 'sheetXlsx', content: sheet.content, head }, signal);
    return { name: `${nameOfContent(sheet.content)} rev ${sheet.number}.xlsx`, bytes };
  }
  return inTurn(projectId, async () => {
    const { content, state } = await held(projectId, of, signal);
    const head = { project, revision: state, reason: '', digest: digestOf(content), signatures: [] };
    const bytes = await inThread({ task: 'sheetXlsx', content, head }, signal);
    return { name: `${nameOfContent(content)} ${state}.xlsx`, bytes };
  });
}

/** A sheet as data, with who signed it. */
export async function sheetJson(projectId: string, text: string, signal?: AbortSignal): Promise<unknown> {
  const of = named(text);
  if (of.type === 'issued') return issuedDetail(projectId, of.id);
  if (of.type === 'run') return runDetail(projectId, of.id);
  const { content, issue } = await inTurn(projectId, () => held(projectId, of, signal));
  return { content, digest: digestOf(content), since: issue.since };
}

export const folderSchema = z.object({
  title: z.string().trim().min(1).max(120),
  /** Issued sheets, in their order. */
  sheets: z.array(z.int().min(1)).min(1).max(500),
});

/** Issued sheets in one file, with contents and page numbers. */
export async function folderFile(
  projectId: string,
  { title, sheets }: z.infer<typeof folderSchema>,
  signal?: AbortSignal,
): Promise<NamedFile> {
  const { name: project, elements } = await openProject(projectId);
  const listed = new Map((await listSheets(projectId)).map((sheet) => [sheet.id, sheet]));
  const parts = [];
  for (const id of sheets) {
    const sheet = listed.get(id);
    if (!sheet) throw notFound('One of the sheets');
    const { name, bytes } = await issuedPdf(projectId, id);
    parts.push({
      title: name.replace(/ rev \d+\.pdf$/, ''),
      note: `revision ${sheet.number}, issued ${sheet.issuedAt.slice(0, 10)}`,
      pdf: bytes,
    });
  }
  const { owner } = settingsOf(networkOf(elements));
  const date = new Date().toISOString().slice(0, 10);
  const bytes = await inThread({ task: 'folder', title, subtitle: project, date, owner, parts }, signal);
  return { name: `${title}.pdf`, bytes };
}
