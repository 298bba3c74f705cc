/**
 * `mesura sheet`: setting sheets. From a project file as drafts; from a running server also what is issued there, as it was issued. Where people sign in at the server, MESURA_USER and
 * MESURA_PASSWORD say as whom.
 */
import { alternating } from '@mesura/core/model/directPart';
import { nameOf } from '@mesura/core/model/element';
import { networkOf, ofKind, settingsOf, type Network } from '@mesura/core/model/network';
import { devicesOf } from '@mesura/core/protection/device';
import { bytesOf } from '@mesura/core/formats/open';
import type { IssuableContent, Subject } from '@mesura/core/sheets/content';
import { arcContent, packageContent } from '@mesura/core/sheets/documents';
import { sheetContent } from '@mesura/core/sheets/sheet';
import { sheetChecks } from '@mesura/core/sheets/statements';
import { subjectsOf } from '@mesura/core/sheets/subjects';
import { sheetWorkbook } from '@mesura/core/sheets/workbook';
import { Studies } from '@mesura/core/studies/studies';
import { finished } from '@mesura/core/working/steps';
import { onePath, projectFrom, type Call, type Command, type Outcome } from '../command';
import { elementNamed, oneOf, Refusal, type Values } from '../options';
import { tableOf, type Column } from '../output';

const formats = ['table', 'csv', 'json', 'pdf', 'xlsx'] as const;

/** Exit code 3 where a statement of a sheet does not hold. */
export const sheetCommand: Command = {
  name: 'sheet',
  takes: 'FILE',
  summary: 'setting sheets: drafts of a file, issued ones of a running server',
  run: (call) => (call.values.server ? issuedSheet(call) : draftSheet(call)),
};

async function draftSheet(call: Call): Promise<Outcome> {
  const { values } = call;
  const format = oneOf('--format', values.format, formats);
  const { network: whole, name } = projectFrom(onePath(call, 'sheet'), call.read);
  const studies = new Studies(whole);
  const subject = subjectAsked(whole, values);
  if (!subject) {
    if (format === 'pdf' || format === 'xlsx')
      throw new Refusal(2, `--format ${format} is of one sheet: add --device NAME`);
    return listed(studies, format);
  }
  const content = contentOf(studies, subject);
  if (!content)
    throw new Refusal(1, 'there is nothing to say about it: it is no device, or nothing feeds an arc there');
  const code = content.subject === 'device' && content.statements.some(({ verdict }) => verdict === 'short') ? 3 : 0;
  const plain = { code, output: '', errors: '' } as const;
  if (format === 'json') return { ...plain, output: `${JSON.stringify(content, null, 2)}\n` };
  if (format === 'xlsx') {
    const head = { project: name, revision: 'Draft', reason: '', digest: '', signatures: [] };
    return { ...plain, bytes: await bytesOf(sheetWorkbook(content, head), 'xlsx') };
  }
  if (format === 'pdf') {
    // The writer of documents is the server's own, and loaded only here.
    const { preparedContents, writtenSheet } = (await import('../../../web/server/jobs/sheets' as string)) as {
      preparedContents(job: object): ({ content: IssuableContent; drawing: string | null } | null)[];
      writtenSheet(job: object): Promise<Uint8Array>;
    };
    const [made] = preparedContents({ task: 'sheets', elements: [...whole.elements.values()], subjects: [subject] });
    const issue = { project: name, head: null, history: [], since: [] };
    const settings = settingsOf(whole);
    return { ...plain, bytes: await writtenSheet({ task: 'sheetPdf', ...made!, issue, settings }) };
  }
  if (content.subject !== 'device') throw new Refusal(2, `a ${content.subject} has --format json, pdf or xlsx`);
  const columns: Column<(typeof content.values)[number]>[] = [
    { head: 'function', name: 'function', value: ({ code: of }) => of },
    { head: 'setting', name: 'setting', value: ({ setting }) => setting },
    { head: 'value', name: 'value', value: ({ value, shown }) => shown ?? value },
    { head: 'unit', name: 'unit', value: ({ unit }) => unit },
    { head: 'primary', name: 'primary', value: ({ primary }) => primary?.value ?? null },
    { head: '', name: 'primary_unit', value: ({ primary }) => primary?.unit ?? null },
    { head: 'secondary', name: 'secondary', value: ({ secondary }) => secondary?.value ?? null },
    { head: '', name: 'secondary_unit', value: ({ secondary }) => secondary?.unit ?? null },
    { head: 'origin', name: 'origin', value: ({ state }) => state },
  ];
  return { ...plain, output: tableOf(columns, content.values, format) };
}

function subjectAsked(network: Network, { device, package: pack, at }: Values): Subject | null {
  const asked = [device, pack, at?.[0]].filter((each) => each !== undefined);
  if (asked.length > 1) throw new Refusal(2, 'sheet takes one of --device, --package and --at');
  if (device !== undefined)
    return { kind: 'device', id: elementNamed(network, device, ['relay', 'switch'], 'device').id };
  if (pack !== undefined)
    return { kind: 'linePackage', id: elementNamed(network, pack, ['linePackage'], 'line package').id };
  if (at !== undefined) return { kind: 'arcLabel', id: elementNamed(network, at[0], ['bus'], 'busbar').id };
  return null;
}

function contentOf(studies: Studies, { kind, id }: Subject): IssuableContent | null {
  if (kind === 'linePackage') return finished(packageContent(studies, id));
  if (kind === 'arcLabel') return finished(arcContent(studies, id));
  return sheetContent(studies, id as never);
}

/** All that there are sheets of, with how many of their statements do not hold. */
function listed(studies: Studies, format: 'table' | 'csv' | 'json'): Outcome {
  const network = alternating(studies.whole);
  const run = finished(sheetChecks(studies, devicesOf(network)));
  const rows = subjectsOf(studies.whole).map((subject) => {
    const content = subject.kind === 'device' ? sheetContent(studies, subject.id as never, run) : null;
    return {
      ...subject,
      functions: content ? [...new Set(content.values.map(({ code }) => code))].join(' ') : '',
      statements: content?.statements.length ?? 0,
      short: content?.statements.filter(({ verdict }) => verdict === 'short').length ?? 0,
    };
  });
  const columns: Column<(typeof rows)[number]>[] = [
    { head: 'sheet of', name: 'name', value: ({ name }) => name },
    { head: 'type', name: 'type', value: ({ type }) => type },
    { head: 'station', name: 'station', value: ({ station }) => station },
    { head: 'functions', name: 'functions', value: ({ functions }) => functions },
    { head: 'statements', name: 'statements', value: ({ statements }) => statements },
    { head: 'not met', name: 'short', value: ({ short }) => short },
  ];
  const output =
    format === 'json'
      ? `${JSON.stringify({ command: 'sheet', sheets: rows }, null, 2)}\n`
      : tableOf(columns, rows, format);
  return { code: rows.some(({ short }) => short > 0) ? 3 : 0, output, errors: '' };
}

interface RegisterAnswer {
  readonly sheets: readonly {
    readonly id: number;
    readonly relayId: string;
    readonly number: number;
    readonly issuedAt: string;
    readonly issuedBy: string;
    readonly digest: string;
    readonly sound: boolean;
  }[];
}

/** What is issued at a running server: the register, or one sheet as it was issued. */
async function issuedSheet({ values }: Call): Promise<Outcome> {
  const format = oneOf('--format', values.format, formats);
  const server = await Server.at(values.server!);
  const { projects } = (await server.json('/projects')) as { projects: { id: string; name: string }[] };
  const asked = values.project;
  const project =
    asked === undefined
      ? projects.length === 1
        ? projects[0]
        : null
      : projects.find(({ id, name }) => id === asked || name === asked);
  if (!project)
    throw new Refusal(
      1,
      `--project must be one of ${projects.map(({ name }) => name).join(', ') || 'none: there is none'}`,
    );
  const { sheets } = (await server.json(`/projects/${project.id}/sheets`)) as RegisterAnswer;
  if (values.device === undefined) {
    if (format === 'pdf' || format === 'xlsx')
      throw new Refusal(2, `--format ${format} is of one sheet: add --device NAME`);
    if (format === 'json')
      return { code: 0, output: `${JSON.stringify({ command: 'sheet', sheets }, null, 2)}\n`, errors: '' };
    const columns: Column<(typeof sheets)[number]>[] = [
      { head: 'sheet of', name: 'id', value: ({ relayId }) => relayId },
      { head: 'revision', name: 'revision', value: ({ number }) => number },
      { head: 'issued', name: 'issued', value: ({ issuedAt }) => issuedAt.slice(0, 10) },
      { head: 'by', name: 'by', value: ({ issuedBy }) => issuedBy },
      { head: 'digest', name: 'digest', value: ({ digest }) => digest.slice(0, 12) },
      { head: 'seal', name: 'sound', value: ({ sound }) => (sound ? 'fits' : 'does not fit') },
    ];
    return { code: sheets.some(({ sound }) => !sound) ? 3 : 0, output: tableOf(columns, sheets, format), errors: '' };
  }
  const { elements } = (await server.json(`/projects/${project.id}`)) as { elements: Parameters<typeof networkOf>[0] };
  const network = networkOf(elements);
  const wanted =
    sheets.find(({ relayId }) => relayId === values.device)?.relayId ??
    [...ofKind(network, 'relay'), ...ofKind(network, 'switch'), ...ofKind(network, 'linePackage')].find(
      (element) => nameOf(element) === values.device,
    )?.id;
  const revision = values.revision === undefined ? null : Number(values.revision);
  const found = sheets
    .filter(({ relayId, number }) => relayId === wanted && (revision === null || number === revision))
    .reduce<RegisterAnswer['sheets'][number] | null>((p, q) => (p && p.number > q.number ? p : q), null);
  if (!found)
    throw new Refusal(
      1,
      `no ${revision === null ? '' : `revision ${revision} of a `}sheet of "${values.device}" is issued`,
    );
  const path = `/projects/${project.id}/sheets/${found.id}`;
  if (format === 'pdf' || format === 'xlsx')
    return { code: 0, output: '', errors: '', bytes: await server.bytes(`${path}/${format}`) };
  return { code: found.sound ? 0 : 3, output: `${JSON.stringify(await server.json(path), null, 2)}\n`, errors: '' };
}

/** A running server, signed in at where that is asked for. */
class Server {
  private cookie = '';

  private constructor(private readonly address: string) {}

  static async at(text: string): Promise<Server> {
    let url: URL;
    try {
      url = new URL(text);
    } catch {
      throw new Refusal(2, `--server must be an address such as http://127.0.0.1:3000, not "${text}"`);
    }
    if (url.protocol !== 'http:' && url.protocol !== 'https:') throw new Refusal(2, '--server speaks http or https');
    const server = new Server(url.origin);
    const { MESURA_USER: name, MESURA_PASSWORD: password } = process.env;
    if (name && password) {
      const answer = await server.ask('/session', {
        method: 'POST',
        body: JSON.stringify({ name, password }),
        headers: { 'content-type': 'application/json', origin: url.origin },
      });
      server.cookie = (answer.headers.get('set-cookie') ?? '').split(';')[0];
    }
    return server;
  }

  private async ask(path: string, init: RequestInit = {}): Promise<Response> {
    let answer: Response;
    try {
      answer = await fetch(`${this.address}/api${path}`, {
        ...init,
        headers: { ...(init.headers as Record<string, string>), ...(this.cookie && { cookie: this.cookie }) },
      });
    } catch {
      throw new Refusal(1, `no server answers at ${this.address}`);
    }
    if (answer.ok) return answer;
    const body = (await answer.json().catch(() => null)) as { error?: { message?: string } } | null;
    throw new Refusal(1, `${this.address} answers: ${body?.error?.message ?? answer.status}`);
  }

  json = async (path: string): Promise<unknown> => (await this.ask(path)).json();
  bytes = async (path: string): Promise<Uint8Array> => new Uint8Array(await (await this.ask(path)).arrayBuffer());
}
