/**
 * What goes into a project and out of it. A file is opened (`open`), whoever knows it reports what it would bring (`registry`), and only what a person
 * has seen and wanted becomes a batch of changes. One folder a format, with a line in the registry.
 */
import type { Change } from '../model/changes';
import type { ElementId } from '../model/fields';
import type { LibraryKind } from '../model/library';
import type { Network } from '../model/network';
import type { Problem } from '../model/problem';
import type { Brought } from './brought';
import type { Remark } from './remarks';

export type Cell = string | number | null;

/** Where a figure comes from: typed by a person, found by a simulation, calculated from others. */
export const figureOrigins = ['input', 'simulated', 'calculated'] as const;
export type FigureOrigin = (typeof figureOrigins)[number];

/** A figure that tells where it comes from; in a workbook it may go on calculating. */
export interface LiveCell {
  readonly value: number | null;
  readonly origin: FigureOrigin;
  /** By which formulas of other cells name it. */
  readonly key?: string;
  /** As spreadsheets take it, other cells as "{key}". */
  readonly formula?: string;
}

/** What a cell shows. */
export const plainCell = (cell: Cell | LiveCell): Cell =>
  typeof cell === 'object' && cell !== null ? cell.value : cell;

export interface Sheet {
  readonly name: string;
  readonly rows: readonly (readonly (Cell | LiveCell)[])[];
}

/** A file as it was opened. Cells of a workbook are texts, whatever they were. */
export interface Source {
  readonly name: string;
  /** Empty for a workbook and for a bundle. */
  readonly text: string;
  readonly sheets: readonly { readonly name: string; readonly rows: readonly (readonly string[])[] }[];
  /** What a bundle holds; of a single text that text alone. */
  readonly files: readonly TextFile[];
}

export interface TextFile {
  readonly name: string;
  readonly text: string;
}

/** Where it is to go. */
export interface Into {
  readonly network: Network;
  newId(): ElementId;
  /** Where what is new comes to stand; below what is there when nothing is said. */
  readonly at?: { readonly x: number; readonly y: number };
  readonly page?: ElementId;
  /** What types are of, where the file does not say. */
  readonly kind?: LibraryKind;
  /** `beside`: as new, whatever is there already. Default: what is there is found by name and foreign identifier. */
  readonly mode?: 'merge' | 'beside';
}

/** Groups of what a file would do to a project. */
export const entryGroups = ['new', 'changed', 'rewired', 'gone'] as const;
export type EntryGroup = (typeof entryGroups)[number];

/** What one element would become, where a file meets a project that exists: to be chosen by itself. */
export interface Entry {
  readonly key: string;
  readonly kind: string;
  readonly name: string;
  /** `rewired`: joined elsewhere than here; `gone`: came from this source before and is not in it any more. */
  readonly what: EntryGroup;
  /** Fields by their titles. */
  readonly differences: readonly { readonly field: string; readonly before: string; readonly after: string }[];
  /** Whether it is taken unless somebody decides otherwise. */
  readonly usual: boolean;
}

/** What a file would bring, before it is taken over. */
export interface Report {
  /** Title of its format. */
  readonly format: string;
  /** What would be new, changed or gone, by kind. */
  readonly found: readonly { readonly what: string; readonly count: number }[];
  /** What was not understood or does not fit, each with its place in the file. */
  readonly problems: readonly Problem[];
  /** What the file does not say and the program took instead. */
  readonly assumed?: readonly Remark[];
  /** What the file says and the program has no use for, and why. */
  readonly left?: readonly Remark[];
  /** Element by element; missing where it is all or nothing. */
  readonly entries?: readonly Entry[];
  /** The batch that takes these entries over and nothing else. */
  readonly taking?: (keys: ReadonlySet<string>) => readonly Change[];
  /** Nothing when nothing of it can be used. Of entries those that are usual. */
  readonly batch: readonly Change[];
  /** Name of the step in the history. */
  readonly label: string;
}

interface Known {
  readonly id: string;
  readonly title: string;
  /** Whether the file is one of these, by what stands in it and not by its name. */
  sniff(source: Source): boolean;
}

/** Of files that say themselves what becomes of a project. */
export interface ReportingImporter extends Known {
  report(source: Source, into: Into): Report;
}

/** Of networks from elsewhere, step by step with the share that is done: they are merged with what is there. Throws a `FileRefusal` where nothing of it can be used. */
export interface ReadingImporter extends Known {
  read(source: Source): Generator<number, Brought>;
}

export type Importer = ReportingImporter | ReadingImporter;

/** Why a file cannot be used, in words, with the place. */
export class FileRefusal extends Error {}

export interface Exporter {
  readonly id: string;
  readonly title: string;
  readonly extension: string;
  /** Throws a `FileRefusal` where nothing can be written. */
  write(network: Network, name: string, notes: string): Written;
}

/** A workbook is given as sheets, a bundle as its files, anything else as text. */
export type Content = string | readonly Sheet[] | { readonly files: readonly TextFile[] };

export interface Written {
  readonly content: Content;
  /** What the format has no room for, and so does not come back. */
  readonly left?: readonly Remark[];
}

/** A refusal or a remark about a place in a file. */
export const remark = (message: string, severity: Problem['severity'] = 'warning'): Problem => ({
  severity,
  code: 'file.content',
  message,
});
