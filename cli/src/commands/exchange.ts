/** `mesura import` and `mesura export`: files into a project and out of it. */
import { bytesOf, opened } from '@mesura/core/formats/open';
import { writeProject } from '@mesura/core/formats/project/project';
import { exporters, knownFormats, reportOn } from '@mesura/core/formats/registry';
import { applyChanges } from '@mesura/core/model/changes';
import type { ElementId } from '@mesura/core/model/fields';
import { done, onePath, projectFrom, type Call, type Command, type Outcome } from '../command';
import { oneOf, Refusal } from '../options';
import { textTable } from '../output';

export const importCommand: Command = {
  name: 'import',
  takes: 'FILE',
  summary: 'what a file would bring into a project, or the project with it',
  run: bring,
};

async function bring(call: Call): Promise<Outcome> {
  const path = onePath(call, 'import');
  const { into, format } = call.values;
  if (!into) throw new Refusal(2, 'import wants --into PROJECT');
  const form = oneOf('--format', format, ['table', 'json', 'project']);
  const { network, name, notes } = projectFrom(into, call.read);
  const file = await opened(path, bytesFrom(call, path));
  if (!file.ok) throw new Refusal(1, file.message);
  let made = 0;
  const newId = (): ElementId => {
    let id: ElementId;
    do id = `in-${++made}` as ElementId;
    while (network.elements.has(id));
    return id;
  };
  const report = await reportOn(file.source, { network, newId });
  if (!report) throw new Refusal(1, `${path} is none of these: ${knownFormats()}`);
  const code = report.batch.length === 0 ? 1 : 0;
  const remarks = report.problems.map(({ message }) => `note: ${message}\n`).join('');
  if (form === 'json')
    return { code, output: `${JSON.stringify({ command: 'import', ...report }, null, 2)}\n`, errors: '' };
  if (form === 'table') {
    const rows = report.found.map(({ what, count }) => [what, count]);
    return { code, output: textTable(['what it brings', 'number'], rows), errors: remarks };
  }
  const applied = applyChanges(network, report.batch);
  if (!applied.ok) throw new Refusal(1, applied.problems.map(({ message }) => message).join('\n'));
  return { code, output: writeProject({ name, notes, elements: applied.network.elements.values() }), errors: remarks };
}

export const exportCommand: Command = {
  name: 'export',
  takes: 'FILE',
  summary: 'tables or types of a project as a workbook, to standard output',
  async run(call) {
    const { name, notes, network } = projectFrom(onePath(call, 'export'), call.read);
    const id = oneOf(
      '--as',
      call.values.as,
      exporters.map((each) => each.id),
    );
    const { write, extension } = exporters.find((each) => each.id === id)!;
    return { ...done(''), bytes: await bytesOf(write(network, name, notes).content, extension) };
  },
};

function bytesFrom(call: Call, path: string): Uint8Array {
  try {
    return call.bytes(path);
  } catch (error) {
    throw new Refusal(1, `${path} cannot be read: ${(error as Error).message}`);
  }
}
