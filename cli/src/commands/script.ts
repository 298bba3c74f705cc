/** `mesura script`: a script of the project, or one in a file, run in the sandbox; what it prints, the files it writes, the project as it leaves it. */
import { csv } from '@mesura/core/formats/tables/csv';
import { writeProject } from '@mesura/core/formats/project/project';
import { nameOf } from '@mesura/core/model/element';
import { ofKind } from '@mesura/core/model/network';
import { runScript, type Said, type ScriptResult } from '@mesura/core/scripts/sandbox';
import { onePath, plainFormat, projectFrom, type Call, type Command, type OpenProject, type Outcome } from '../command';
import { Refusal } from '../options';
import { textTable, type Cell } from '../output';
import { contentOf, ScriptSession } from '../scripting';
import { studySummaries } from '../words';

export const scriptCommand: Command = {
  name: 'script',
  takes: 'FILE',
  summary: studySummaries.script,
  run,
};

/** Exit code 1 where the script broke off. */
async function run(call: Call): Promise<Outcome> {
  const { values } = call;
  const format = plainFormat(values);
  const project = projectFrom(onePath(call, 'script'), call.read);
  const session = new ScriptSession(project, call.study);
  const result = await runScript(textAsked(call, project), session);
  const changes = session.changes();
  const files = await Promise.all(
    result.files.map(async (file) => ({ path: file.name, content: await contentOf(file) })),
  );
  const notes = [
    result.failure && `${result.failure.line === null ? '' : `line ${result.failure.line}: `}${result.failure.message}`,
    ...(changes.length > 0 && values.write === undefined
      ? [`${changes.length === 1 ? '1 change is' : `${changes.length} changes are`} not kept: add --write OUT`]
      : []),
  ].flatMap((note) => (note ? [`${note}\n`] : []));
  const written = values.write === undefined ? [] : [{ path: values.write, content: projectText(session.after) }];
  const outcome = { code: result.failure ? 1 : 0, errors: notes.join('') } as const;
  if (format === 'json') {
    const answer = {
      command: 'script',
      ...result,
      files: files.map(({ path, content }) => ({ name: path, base64: base64Of(content) })),
      changes,
    };
    return { ...outcome, output: `${JSON.stringify(answer, null, 2)}\n`, files: written };
  }
  const output = format === 'csv' ? tablesOf(result) : result.said.map(textOf).join('');
  return { ...outcome, output, files: [...files, ...written] };
}

function textAsked({ values, read }: Call, { network }: OpenProject): string {
  if (values.run !== undefined && values.name !== undefined)
    throw new Refusal(2, 'script takes --name, of the project, or --run, a file');
  if (values.run !== undefined)
    try {
      return read(values.run);
    } catch (error) {
      throw new Refusal(1, `${values.run} cannot be read: ${(error as Error).message}`);
    }
  const all = ofKind(network, 'script');
  const found = all.find(({ id, name }) => id === values.name || name === values.name);
  if (found) return found.text;
  const known = all.map(nameOf).join(', ') || 'none';
  throw new Refusal(
    values.name === undefined ? 2 : 1,
    values.name === undefined
      ? `script needs --name NAME or --run FILE; there are: ${known}`
      : `no script is called "${values.name}"; there are: ${known}`,
  );
}

const projectText = ({ network, name, notes }: OpenProject): string =>
  writeProject({ name, notes, elements: network.elements.values() });

const cellOf = (value: string | number | boolean | null): Cell => (typeof value === 'boolean' ? String(value) : value);

function textOf(said: Said): string {
  if (said.what === 'text') return `${said.text}\n`;
  if (said.what === 'table')
    return `${said.title ? `${said.title}\n` : ''}${textTable(
      said.columns,
      said.rows.map((row) => row.map(cellOf)),
    )}`;
  const { title, x, y, series } = said.plot;
  const rows = series.flatMap(({ name, points }) => points.map(([p, q]): Cell[] => [name, p, q]));
  return `${title ? `${title}\n` : ''}${textTable(['series', x || 'x', y || 'y'], rows)}`;
}

const tablesOf = ({ said }: ScriptResult): string =>
  said
    .flatMap((each) => (each.what === 'table' ? [csv([each.columns, ...each.rows.map((row) => row.map(cellOf))])] : []))
    .join('\r\n');

function base64Of(content: Uint8Array): string {
  let text = '';
  for (let k = 0; k < content.length; k += 8192) text += String.fromCharCode(...content.subarray(k, k + 8192));
  return btoa(text);
}
