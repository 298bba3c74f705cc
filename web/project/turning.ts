/** Undo and redo: steps of this page are known whole, older ones are fetched when their turn comes. */
import type { Change } from '@mesura/core/model/changes';
import type { Network } from '@mesura/core/model/network';
import { ApiError } from './api';
import { changesFor, type Step } from './undo';

export type Way = 'undo' | 'redo';
type Did = NonNullable<Step['own']>;

export interface Turned {
  network(): Network;
  /** The step that stands on top of the stack. */
  top(way: Way): Step | undefined;
  fetch(revision: number): Promise<Did>;
  lay(changes: readonly Change[], label: string, way: Way): { readonly ok: boolean };
  notice(text: string): void;
}

export class Turning {
  private fetching: Promise<void> | null = null;

  constructor(private readonly of: Turned) {}

  /** One after the other: a step that is not known whole is fetched first. */
  back(way: Way): void {
    if (this.fetching) {
      this.fetching = this.fetching.then(() => this.one(way) ?? undefined);
      return;
    }
    const waiting = this.one(way);
    if (waiting)
      this.fetching = waiting.finally(() => {
        this.fetching = null;
      });
  }

  private one(way: Way): Promise<void> | null {
    const step = this.of.top(way);
    if (!step) return null;
    if (step.own) {
      this.turn(way, step, step.own);
      return null;
    }
    return this.of.fetch(step.revision!).then(
      (found) => {
        // Others may have gone on meanwhile: then it is another step that stands on top.
        if (this.of.top(way)?.revision === step.revision) this.turn(way, step, found);
      },
      (error: unknown) => {
        const why = error instanceof ApiError ? error.message : String(error);
        this.of.notice(`"${step.label}" cannot be ${way === 'undo' ? 'undone' : 'redone'} now: ${why}`);
      },
    );
  }

  private turn(way: Way, step: Step, did: Did): void {
    const changes = changesFor(this.of.network(), way === 'undo' ? did.inverse : did.forward);
    const label = `${way === 'undo' ? 'Undo' : 'Redo'}: ${step.label}`;
    if (changes.length === 0 || !this.of.lay(changes, label, way).ok)
      this.of.notice(`"${step.label}" cannot be ${way === 'undo' ? 'undone' : 'redone'} any more.`);
  }
}
