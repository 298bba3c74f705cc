// No code is made of texts here either (content security policy).
import { config } from 'zod';
import { expose } from 'comlink';
import type { Report } from '@mesura/core/formats/format';
import { opened } from '@mesura/core/formats/open';
import { writeProject } from '@mesura/core/formats/project/project';
import { knownFormats, readingSteps, reported } from '@mesura/core/formats/registry';
import { applyChanges } from '@mesura/core/model/changes';
import { blankElements } from '@mesura/core/model/defaults';
import type { ElementId } from '@mesura/core/model/fields';
import { networkOf, type Network } from '@mesura/core/model/network';

export type FileAnswer =
  | { readonly ok: true; readonly report: Omit<Report, 'taking' | 'batch' | 'entries'>; readonly name: string }
  | { readonly ok: false; readonly message: string };

/** At most so often. */
const tellMs = 100;

/** A file that is to become a project of its own. Whoever does not want it any more ends the worker. */
export class FileService {
  private network: Network | null = null;

  async read(name: string, bytes: Uint8Array, onProgress: (share: number) => void): Promise<FileAnswer> {
    const file = await opened(name, bytes);
    if (!file.ok) return file;
    const network = networkOf(blankElements());
    let made = 0;
    const into = { network, newId: () => `e${++made}` as ElementId, at: { x: 100, y: 100 } };
    const steps = readingSteps(file.source, into);
    let told = performance.now();
    let step = steps.next();
    for (; !step.done; step = steps.next())
      if (performance.now() > told + tellMs) {
        told = performance.now();
        onProgress(step.value);
      }
    if (!step.value) return { ok: false, message: `${name} is none of these: ${knownFormats()}` };
    const { batch, taking: _taking, entries: _entries, ...report } = await reported(step.value, into);
    if (batch.length === 0)
      return { ok: false, message: report.problems[0]?.message ?? `${name} brings nothing that makes a project` };
    const applied = applyChanges(network, batch);
    if (!applied.ok) return { ok: false, message: applied.problems[0].message };
    this.network = applied.network;
    return { ok: true, report, name: report.label.replace(/^Import /, '') };
  }

  /** What was read, as a project file. */
  project(name: string): string {
    return writeProject({ name, notes: '', elements: this.network!.elements.values() });
  }
}

expose(new FileService());
config({ jitless: true });
