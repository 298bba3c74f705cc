/** What browser and server say to each other about changes: one place for both. */
import type { Change } from '@mesura/core/model/changes';
import type { Element } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import type { StoredChange } from '@mesura/core/model/storedChanges';

export type Origin = 'edit' | 'undo' | 'redo';

/** A step of the history without what it did. */
export interface LogEntry {
  revision: number;
  batchId: string;
  label: string;
  origin: Origin;
  author: string;
  /** Account of the author; null on one's own desk. */
  by: string | null;
  madeAt: string;
}

/** Somebody else who has the project open: a page of theirs. */
export interface PersonHere {
  readonly client: string;
  readonly name: string;
  readonly stage: string;
  readonly page: ElementId | null;
  readonly selection: readonly ElementId[];
}

/** A step with what it did. */
export interface StoredBatch extends LogEntry {
  forward: StoredChange[];
}

export interface LoadedProject {
  id: string;
  name: string;
  revision: number;
  elements: Element[];
  /** The last steps of the history up to the revision, oldest first. */
  log?: LogEntry[];
}

/** A batch as it is sent. */
export interface SentBatch {
  batchId: string;
  /** Revision that the author had before the eyes. */
  baseRevision: number;
  label: string;
  origin: Origin;
  author: string;
  /** Who sends it: changes of these clients are the author's own and clash with nothing. The first is the sender. */
  clients: readonly string[];
  changes: readonly Change[];
}

export interface Accepted {
  revision: number;
  /** Batches of others since the base revision; null when there are too many to send: then the project is to be read anew. */
  missed: StoredBatch[] | null;
}
