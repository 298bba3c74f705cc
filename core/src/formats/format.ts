/**
 * What goes into a project and out of it. A file is opened (`open`), whoever knows it reports what it would bring (`registry`), and only what a person
 * has seen and wanted becomes a batch of changes. One folder a format, with a line in the registry.
 */
import type { Change } from '../model/changes';
import type { ElementId } from '../model/fields';
import type { LibraryKind } from '../model/library';
import type { Network } from '../model/network';
import type { Problem } from '../model/problem';

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
  /** Empty for a workbook. */
  readonly text: string;
  readonly sheets: readonly { readonly name: string; readonly rows: readonly (readonly string[])[] }[];
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
}

/** What a file would bring, before it is taken over. */
export interface Report {
  /** Title of its format. */
  readonly format: string;
  /** What would be new, changed or gone, by kind. */
  readonly found: readonly { readonly what: string; readonly count: number }[];
  /** What was not understood or does not fit, each with its place in the file. */
  readonly problems: readonly Problem[];
  /** Nothing when nothing of it can be used. */
  readonly batch: readonly Change[];
  /** Name of the step in the history. */
  readonly label: string;
}

export interface Importer {
  readonly id: string;
  readonly title: string;
  /** Whether the file is one of these, by what stands in it and not by its name. */
  sniff(source: Source): boolean;
  report(source: Source, into: Into): Report;
}

export interface Exporter {
  readonly id: string;
  readonly title: string;
  /** A workbook is given as sheets, anything else as text. */
  readonly extension: 'json' | 'csv' | 'xlsx';
  write(network: Network, name: string, notes: string): string | readonly Sheet[];
}

/** A refusal or a remark about a place in a file. */
export const remark = (message: string, severity: Problem['severity'] = 'warning'): Problem => ({
  severity,
  code: 'file.content',
  message,
});
