/** Work that a thread beside the server does: runs in a bundle of its own, see scripts/lib/build.mjs. Plain data in and out. */
import { readProject } from '@mesura/core/formats/project/project';
import type { Problem } from '@mesura/core/model/problem';
import { packedRows, type RowBlock } from '../rows';
import { readBatch, type ReadBatch } from '../batch';
import { exported, imported, type ExportAnswer, type ExportJob, type ImportAnswer, type ImportJob } from './exchange';
import { studied, type StudyAnswer, type StudyJob } from './study';
import { writtenReport, type ReportAnswer, type ReportJob } from './report';
import {
  preparedContents,
  sheetBook,
  writtenFolder,
  writtenSheet,
  type FolderJob,
  type PreparedContent,
  type SheetPdfJob,
  type SheetsJob,
  type SheetXlsxJob,
} from './sheets';

export type { ExportJob, ImportJob, ReportJob, StudyJob };

/** A large batch read and checked; null when it is no JSON. */
export interface BatchJob {
  readonly task: 'batch';
  readonly text: string;
}

/** A project file read and checked, its elements as the texts that are stored. */
export interface ProjectJob {
  readonly task: 'project';
  readonly text: string;
}

export type ReadFile =
  | {
      readonly ok: true;
      readonly name: string;
      readonly notes: string;
      readonly rows: readonly RowBlock[];
      readonly hasSettings: boolean;
    }
  | { readonly ok: false; readonly problems: readonly Problem[] };

export type Job =
  | SheetsJob
  | SheetPdfJob
  | SheetXlsxJob
  | FolderJob
  | BatchJob
  | ProjectJob
  | ReportJob
  | StudyJob
  | ImportJob
  | ExportJob;
export type Answer<J extends Job> = J extends SheetsJob
  ? (PreparedContent | null)[]
  : J extends SheetPdfJob | SheetXlsxJob | FolderJob
    ? Uint8Array
    : J extends BatchJob
      ? ReadBatch | null
      : J extends ReportJob
        ? ReportAnswer
        : J extends StudyJob
          ? StudyAnswer
          : J extends ImportJob
            ? ImportAnswer
            : J extends ExportJob
              ? ExportAnswer
              : ReadFile;

function readFile(text: string): ReadFile {
  const read = readProject(text);
  if (!read.ok) return { ok: false, problems: read.problems.slice(0, 20) };
  const { name, notes, elements } = read.project;
  const hasSettings = elements.some(({ kind }) => kind === 'projectSettings');
  return { ok: true, name, notes, rows: packedRows(elements), hasSettings };
}

export default function work(job: Job): Answer<Job> | Promise<Answer<Job>> {
  switch (job.task) {
    case 'sheets':
      return preparedContents(job);
    case 'sheetPdf':
      return writtenSheet(job);
    case 'sheetXlsx':
      return sheetBook(job);
    case 'folder':
      return writtenFolder(job);
    case 'project':
      return readFile(job.text);
    case 'report':
      return writtenReport(job);
    case 'study':
      return studied(job);
    case 'import':
      return imported(job);
    case 'export':
      return exported(job);
    case 'batch': {
      let body: unknown;
      try {
        body = JSON.parse(job.text);
      } catch {
        return null;
      }
      return readBatch(body);
    }
  }
}
