/** Undo and redo: steps of this page are known whole, older ones are fetched when their turn comes. */
import type { Change } from '@mesura/core/model/changes';
import { nameOf } from '@mesura/core/model/element';
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
  /** Nothing of this step can be undone any more: the next one stands on top. */
  pass(step: Step): void;
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
    const [made, back] = way === 'undo' ? [did.forward, did.inverse] : [did.inverse, did.forward];
    const network = this.of.network();
    const { changes, kept } = changesFor(network, made, back);
    const label = `${way === 'undo' ? 'Undo' : 'Redo'}: ${step.label}`;
    const names = [...kept].map((id) => nameOf(network.elements.get(id)!));
    const others =
      names.length === 0
        ? ''
        : ` Others have gone on with ${names.slice(0, 3).join(', ')}${names.length > 3 ? ` and ${names.length - 3} more` : ''}: that stays as it is.`;
    if (changes.length === 0 && way === 'undo') this.of.pass(step);
    if (changes.length === 0 || !this.of.lay(changes, label, way).ok)
      this.of.notice(`"${step.label}" cannot be ${way === 'undo' ? 'undone' : 'redone'} any more.${others}`);
    else if (others) this.of.notice(`"${step.label}" was ${way === 'undo' ? 'undone' : 'redone'} in part.${others}`);
  }
}
