/** Studies asked for by programs: in the thread. */
import type { MessagePort } from 'node:worker_threads';
import type { AnswerForm } from '@mesura/cli/command';
import { ask } from '@mesura/cli/study';
import type { StudyName } from '@mesura/cli/words';
import type { Element } from '@mesura/core/model/element';
import { networkOf } from '@mesura/core/model/network';
import { watched } from '@mesura/core/working/steps';
import { documents } from './documents';

export interface StudyJob {
  readonly task: 'study';
  readonly study: StudyName;
  readonly options: Readonly<Record<string, unknown>>;
  readonly form: AnswerForm;
  readonly name: string;
  readonly elements: readonly Element[];
  /** Told the share that is done. */
  readonly port?: MessagePort;
}

/** As the terminal would end: its exit code, what it prints, what it remarks. */
export interface StudyAnswer {
  readonly code: 0 | 1 | 2 | 3;
  readonly output: string | Uint8Array;
  readonly notes: string;
}

/** Not oftener than anybody looks. */
const toldEveryMs = 200;

export async function studied({ study, options, form, name, elements, port }: StudyJob): Promise<StudyAnswer> {
  let told = performance.now();
  const tell = (share: number): void => {
    const now = performance.now();
    if (now - told < toldEveryMs) return;
    told = now;
    port?.postMessage(share);
  };
  const project = { network: networkOf(elements), name, notes: '' };
  const { code, output, errors, bytes } = await watched(tell, () => ask(study, options, form, project, documents));
  return { code, output: bytes ?? output, notes: errors };
}
