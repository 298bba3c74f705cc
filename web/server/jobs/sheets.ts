/** Sheets computed and written: in a thread. */
import type { Element, ProjectSettings } from '@mesura/core/model/element';
import { elementIdSchema } from '@mesura/core/model/fields';
import { networkOf } from '@mesura/core/model/network';
import { alternating } from '@mesura/core/model/directPart';
import { deviceOf, type Device } from '@mesura/core/protection/device';
import type { IssuableContent, Subject } from '@mesura/core/sheets/content';
import { arcContent, packageContent } from '@mesura/core/sheets/documents';
import { sheetContent } from '@mesura/core/sheets/sheet';
import { sheetChecks } from '@mesura/core/sheets/statements';
import { sheetWorkbook, type WorkbookHead } from '@mesura/core/sheets/workbook';
import { Studies } from '@mesura/core/studies/studies';
import { finished } from '@mesura/core/working/steps';
import { writeXlsx } from '@mesura/core/formats/tables/xlsx';
import type { SheetIssue } from '../pdf/sheet';
import { partOfDrawing } from '../../diagram/picture/print';
import { deviceStyles } from '../../theme/tokens';

/** Contents of sheets, each with the part of the one-line around its device; null for what does not exist. */
export interface SheetsJob {
  readonly task: 'sheets';
  readonly elements: readonly Element[];
  readonly subjects: readonly Subject[];
}

export interface PreparedContent {
  readonly content: IssuableContent;
  /** As SVG text; null where it does not stand on the drawing. */
  readonly drawing: string | null;
}

export interface SheetPdfJob {
  readonly task: 'sheetPdf';
  readonly content: IssuableContent;
  readonly drawing: string | null;
  readonly issue: SheetIssue;
  readonly settings: ProjectSettings;
}

export interface SheetXlsxJob {
  readonly task: 'sheetXlsx';
  readonly content: IssuableContent;
  readonly head: WorkbookHead;
}

/** Several sheets in one file, with contents and page numbers. */
export interface FolderJob {
  readonly task: 'folder';
  readonly title: string;
  readonly subtitle: string;
  readonly date: string;
  readonly owner: string;
  readonly parts: readonly { readonly title: string; readonly note: string; readonly pdf: Uint8Array }[];
}

export function preparedContents({ elements, subjects }: SheetsJob): (PreparedContent | null)[] {
  const studies = new Studies(networkOf(elements));
  const { network } = studies;
  const device = ({ kind, id }: Subject): Device | undefined => {
    const known = elementIdSchema.safeParse(id);
    return kind === 'device' && known.success ? deviceOf(network, known.data) : undefined;
  };
  const devices = subjects.flatMap((subject) => device(subject) ?? []);
  const run = devices.length > 0 ? finished(sheetChecks(studies, devices)) : undefined;
  return subjects.map((subject): PreparedContent | null => {
    if (subject.kind !== 'device') {
      const steps =
        subject.kind === 'linePackage' ? packageContent(studies, subject.id) : arcContent(studies, subject.id);
      const content = finished(steps);
      return content && { content, drawing: null };
    }
    const found = device(subject);
    const content = found ? sheetContent(studies, found.id, run) : null;
    if (!content) return null;
    const part = partOfDrawing(alternating(network), new Map([[found!.id, deviceStyles[0].light]]));
    return { content, drawing: part?.svg ?? null };
  });
}

export async function writtenSheet({ content, drawing, issue, settings }: SheetPdfJob): Promise<Uint8Array> {
  const { sheetPdf } = await import('../pdf/sheet');
  return new Uint8Array(await sheetPdf(content, drawing, issue, settings));
}

export const sheetBook = ({ content, head }: SheetXlsxJob): Promise<Uint8Array> =>
  writeXlsx(sheetWorkbook(content, head));

export async function writtenFolder(job: FolderJob): Promise<Uint8Array> {
  const { folderPdf } = await import('../pdf/folder');
  return folderPdf(job);
}
