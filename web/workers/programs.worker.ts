// No code is made of texts here either (content security policy): scripts run in an interpreter of their own.
import { config } from 'zod';
import { expose, transfer } from 'comlink';
import type { OpenProject } from '@mesura/cli/command';
import { batchAnswer, type BatchAnswer } from '@mesura/cli/commands/batch';
import { contentOf, ScriptSession } from '@mesura/cli/scripting';
import { askWith } from '@mesura/cli/study';
import { bytesOf } from '@mesura/core/formats/open';
import type { Batch } from '@mesura/core/model/batch';
import type { Change } from '@mesura/core/model/changes';
import type { Element } from '@mesura/core/model/element';
import { networkOf } from '@mesura/core/model/network';
import { runScript, type ScriptResult } from '@mesura/core/scripts/sandbox';
import { watched } from '@mesura/core/working/steps';

export interface SentProject {
  readonly name: string;
  readonly elements: readonly Element[];
}

export interface ScriptAnswer extends Omit<ScriptResult, 'files'> {
  readonly files: readonly { readonly name: string; readonly bytes: Uint8Array }[];
  /** What the script changed, to be taken or left. */
  readonly changes: readonly Change[];
}

const tellMs = 100;

/** Told no oftener than anybody looks. */
function seldom(tell: (share: number) => void): (share: number) => void {
  let told = performance.now();
  return (share) => {
    if (performance.now() < told + tellMs) return;
    told = performance.now();
    tell(share);
  };
}

const opened = ({ name, elements }: SentProject): OpenProject => ({ name, notes: '', network: networkOf(elements) });

/** Batches and scripts, beside the page. Whoever does not want the answer any more ends the worker. */
export class ProgramsService {
  batch(project: SentProject, batch: Batch, tell: (share: number) => void): Promise<BatchAnswer> {
    return watched(seldom(tell), () => batchAnswer(opened(project), batch, askWith()));
  }

  async script(project: SentProject, text: string, tell: (share: number) => void): Promise<ScriptAnswer> {
    const told = seldom(tell);
    const session = new ScriptSession(opened(project), askWith(), told);
    const { said, files, failure } = await watched(told, () => runScript(text, session));
    const written = await Promise.all(files.map(async (file) => ({ name: file.name, bytes: await contentOf(file) })));
    return { said, failure, files: written, changes: session.changes() };
  }

  async workbook(rows: readonly (readonly (string | number | null)[])[], name: string): Promise<Uint8Array> {
    const bytes = await bytesOf([{ name, rows }], 'xlsx');
    return transfer(bytes, [bytes.buffer]);
  }
}

expose(new ProgramsService());
config({ jitless: true });
