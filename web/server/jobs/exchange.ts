/** Files of other formats in and out: in the thread. */
import { FileRefusal, type EntryGroup, type Into, type Report } from '@mesura/core/formats/format';
import { bytesOf, opened } from '@mesura/core/formats/open';
import { remarkText } from '@mesura/core/formats/remarks';
import { exporters, knownFormats, readingSteps, reported, type Reading } from '@mesura/core/formats/registry';
import { batchOf, freeIds } from '@mesura/core/formats/taking';
import { applyChanges, type Change } from '@mesura/core/model/changes';
import { blankElements } from '@mesura/core/model/defaults';
import type { Element } from '@mesura/core/model/element';
import { networkOf } from '@mesura/core/model/network';
import { packedRows, type RowBlock } from '../rows';
import { collectGarbage, frugally } from './garbage';

export interface ImportJob {
  readonly task: 'import';
  readonly file: string;
  readonly bytes: Uint8Array;
  /** Of the project that it is to go into; null for a new one. */
  readonly elements: readonly Element[] | null;
  readonly mode: 'merge' | 'beside';
  /** Groups of entries that are taken; null: those that are usual. */
  readonly take: readonly EntryGroup[] | null;
}

/** What a file would bring, in plain words and figures. */
export interface ImportReport {
  readonly format: string;
  readonly found: Report['found'];
  readonly entries: NonNullable<Report['entries']>;
  readonly notes: readonly string[];
  readonly assumed: readonly string[];
  readonly left: readonly string[];
  readonly changes: number;
}

export type ImportAnswer =
  | { readonly ok: false; readonly message: string }
  | {
      readonly ok: true;
      readonly report: ImportReport;
      readonly label: string;
      readonly batch: readonly Change[];
      /** Rows of the project as a new one, where it is one. */
      readonly rows: readonly RowBlock[];
    };

/** Packed or not, a file of more bytes becomes hundreds of megabytes on the way. */
const largeFile = 2 << 20;

/** In a function of its own, so that the text is gone when the network is there. */
async function readingOf(
  file: string,
  bytes: Uint8Array,
  into: Into,
): Promise<{ readonly reading: Reading } | { readonly message: string }> {
  const source = await opened(file, bytes);
  if (!source.ok) return { message: source.message };
  if (bytes.length > largeFile) collectGarbage();
  const reading = frugally(readingSteps(source.source, into));
  return reading ? { reading } : { message: `This is none of the formats known: ${knownFormats()}.` };
}

export async function imported({ file, bytes, elements, mode, take }: ImportJob): Promise<ImportAnswer> {
  const network = networkOf(elements ?? blankElements());
  const into = { network, newId: freeIds(network, `in-${Date.now().toString(36)}`), mode };
  const read = await readingOf(file, bytes, into);
  if ('message' in read) return { ok: false, message: read.message };
  if (bytes.length > largeFile) collectGarbage();
  const report = await reported(read.reading, into);
  const batch = batchOf(report, take);
  // A file that brings nothing new to a project is none the worse for it.
  if (batch.length === 0 && (elements === null || report.entries === undefined))
    return { ok: false, message: report.problems[0]?.message ?? 'Nothing of this file can be used.' };
  const applied = applyChanges(network, batch);
  if (!applied.ok) return { ok: false, message: applied.problems[0].message };
  const rows = elements ? [] : packedRows(applied.network.elements.values());
  return {
    ok: true,
    label: report.label,
    batch: elements ? batch : [],
    rows,
    report: {
      format: report.format,
      found: report.found,
      // Of a project of its own everything is new: tens of thousands of entries would say no more than the counts.
      entries: elements ? (report.entries ?? []) : [],
      notes: report.problems.map(({ message }) => message),
      assumed: (report.assumed ?? []).map(remarkText),
      left: (report.left ?? []).map(remarkText),
      changes: batch.length,
    },
  };
}

export interface ExportJob {
  readonly task: 'export';
  readonly as: string;
  readonly name: string;
  readonly notes: string;
  readonly elements: readonly Element[];
}

export type ExportAnswer =
  | { readonly ok: false; readonly message: string }
  | { readonly ok: true; readonly content: Uint8Array; readonly extension: string; readonly left: readonly string[] };

export async function exported({ as, name, notes, elements }: ExportJob): Promise<ExportAnswer> {
  const exporter = exporters.find(({ id }) => id === as)!;
  try {
    const { content, left = [] } = exporter.write(networkOf(elements), name, notes);
    const { extension } = exporter;
    return { ok: true, content: await bytesOf(content, extension), extension, left: left.map(remarkText) };
  } catch (error) {
    if (error instanceof FileRefusal) return { ok: false, message: error.message };
    throw error;
  }
}
