/**
 * Studies at a running server, and what is issued there: the same words, "--server ADDRESS" in place of a file. A token in MESURA_TOKEN says in whose name where
 * people sign in, or MESURA_USER and MESURA_PASSWORD.
 */
import { nameOf, type Element } from '@mesura/core/model/element';
import type { AnswerForm, Outcome } from './command';
import { oneOf, Refusal, type Values } from './options';
import { tableOf, type Column } from './output';
import { asOneWord, isStudy, studyWords, typedOption, type StudyName } from './words';

const forms = ['table', 'csv', 'json', 'pdf', 'xlsx', 'junit'] as const satisfies readonly AnswerForm[];
type Tell = (share: number) => void;

/** A server that cannot just now is asked so often, about twenty seconds in all. */
const mostTries = 7;
const longestPauseMs = 5000;

/** `typed`: options that were given, so that what holds where nothing is said is left to the server. */
export async function atServer(
  command: string,
  values: Values,
  typed: ReadonlySet<string>,
  tell: Tell,
): Promise<Outcome> {
  if (!isStudy(command)) throw new Refusal(2, `${command} takes no --server`);
  const server = await Server.at(values.server!);
  const project = await server.project(values.project);
  // Drafts are of files; a server has what was issued.
  if (command === 'sheet') return issuedSheet(server, project, values);
  return study(server, project, command, values, typed, tell);
}

interface Job {
  readonly id: string;
  readonly state: 'waiting' | 'running' | 'done' | 'failed' | 'cancelled';
  readonly share: number;
  readonly code: 0 | 1 | 2 | 3 | null;
  readonly notes: string;
}

async function study(
  server: Server,
  project: string,
  command: StudyName,
  values: Values,
  typed: ReadonlySet<string>,
  tell: Tell,
): Promise<Outcome> {
  const form = oneOf('--format', values.format, forms);
  const options = Object.fromEntries(
    [...studyWords[command], 'columns' as const, 'set' as const]
      .filter((name) => typed.has(name))
      .map((name) => [asOneWord(name), typedOption(name, values[name])]),
  );
  for (const name of ['write', 'against', 'run'] as const)
    if (typed.has(name)) throw new Refusal(2, `--${name} is of files: it goes without --server`);
  const wait = { headers: { prefer: 'wait=10' } };
  const body = JSON.stringify({ options, format: form });
  let job = (await server.json(`/v1/projects/${project}/studies/${command}`, {
    method: 'POST',
    body,
    headers: { ...wait.headers, 'content-type': 'application/json' },
  })) as Job;
  while (job.state === 'waiting' || job.state === 'running') {
    tell(job.share);
    job = (await server.json(`/v1/jobs/${job.id}`, wait)) as Job;
  }
  if (job.state !== 'done')
    return { code: job.code === 2 ? 2 : 1, output: '', errors: job.notes || 'nothing was computed\n' };
  const bytes = await server.bytes(`/v1/jobs/${job.id}/result`);
  const isText = form !== 'pdf' && form !== 'xlsx';
  const output = isText ? new TextDecoder().decode(bytes) : '';
  return { code: job.code ?? 0, output, errors: job.notes, ...(!isText && { bytes }) };
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
async function issuedSheet(server: Server, project: string, values: Values): Promise<Outcome> {
  const format = oneOf('--format', values.format, forms);
  const { sheets } = (await server.json(`/v1/projects/${project}/sheets`)) as RegisterAnswer;
  if (values.device === undefined) {
    if (format === 'pdf' || format === 'xlsx' || format === 'junit')
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
  const wanted =
    sheets.find(({ relayId }) => relayId === values.device)?.relayId ??
    (await server.named(project, ['relay', 'switch', 'linePackage'], values.device));
  const revision = values.revision === undefined ? null : Number(values.revision);
  const found = sheets
    .filter(({ relayId, number }) => relayId === wanted && (revision === null || number === revision))
    .reduce<RegisterAnswer['sheets'][number] | null>((p, q) => (p && p.number > q.number ? p : q), null);
  if (!found)
    throw new Refusal(
      1,
      `no ${revision === null ? '' : `revision ${revision} of a `}sheet of "${values.device}" is issued`,
    );
  const path = `/v1/projects/${project}/sheets/${found.id}`;
  if (format === 'pdf' || format === 'xlsx')
    return { code: 0, output: '', errors: '', bytes: await server.bytes(`${path}?as=${format}`) };
  return { code: found.sound ? 0 : 3, output: `${JSON.stringify(await server.json(path), null, 2)}\n`, errors: '' };
}

/** A running server, signed in at where that is asked for. */
class Server {
  private heads: Record<string, string> = {};

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
    const { MESURA_TOKEN: token, MESURA_USER: name, MESURA_PASSWORD: password } = process.env;
    if (token) server.heads = { authorization: `Bearer ${token}` };
    else if (name && password) {
      const answer = await server.ask('/session', {
        method: 'POST',
        body: JSON.stringify({ name, password }),
        headers: { 'content-type': 'application/json', origin: url.origin },
      });
      server.heads = { cookie: (answer.headers.get('set-cookie') ?? '').split(';')[0] };
    }
    return server;
  }

  private async ask(path: string, init: RequestInit = {}): Promise<Response> {
    let answer = await this.once(path, init);
    // "Not just now" passes: a database that starts, a server with too much to do.
    for (let tries = 1; (answer.status === 503 || answer.status === 429) && tries < mostTries; tries++) {
      const seconds = Number(answer.headers.get('retry-after') ?? NaN);
      if (!(seconds >= 0)) break;
      await answer.body?.cancel();
      await new Promise((resolve) => setTimeout(resolve, Math.min(1000 * seconds * tries, longestPauseMs)));
      answer = await this.once(path, init);
    }
    if (answer.ok) return answer;
    const body = (await answer.json().catch(() => null)) as {
      error?: { message?: string };
      detail?: string;
      problems?: readonly { message: string }[];
    } | null;
    const why = [
      body?.error?.message ?? body?.detail ?? answer.status,
      ...(body?.problems ?? []).map(({ message }) => message),
    ];
    throw new Refusal(1, `${this.address} answers: ${why.join('; ')}`);
  }

  private async once(path: string, init: RequestInit): Promise<Response> {
    try {
      return await fetch(`${this.address}/api${path}`, {
        ...init,
        headers: { ...(init.headers as Record<string, string>), ...this.heads },
      });
    } catch {
      throw new Refusal(1, `no server answers at ${this.address}`);
    }
  }

  /** The project named, or the only one. */
  async project(asked: string | undefined): Promise<string> {
    const { projects } = (await this.json('/v1/projects')) as { projects: { id: string; name: string }[] };
    const found =
      asked === undefined
        ? projects.length === 1
          ? projects[0]
          : undefined
        : (projects.find(({ id }) => id === asked) ?? projects.find(({ name }) => name === asked));
    if (found) return found.id;
    throw new Refusal(
      1,
      `--project must be one of ${projects.map(({ name }) => name).join(', ') || 'none: there is none'}`,
    );
  }

  /** Id of the first element of these kinds that is called so. */
  async named(project: string, kinds: readonly string[], name: string): Promise<string | undefined> {
    for (const kind of kinds)
      for (let after: string | null = ''; after !== null;) {
        const page = (await this.json(
          `/v1/projects/${project}/elements?kind=${kind}&after=${encodeURIComponent(after)}`,
        )) as {
          elements: readonly Element[];
          next: string | null;
        };
        const found = page.elements.find((element) => nameOf(element) === name);
        if (found) return found.id;
        after = page.next;
      }
    return undefined;
  }

  json = async (path: string, init: RequestInit = {}): Promise<unknown> => (await this.ask(path, init)).json();
  bytes = async (path: string): Promise<Uint8Array> => new Uint8Array(await (await this.ask(path)).arrayBuffer());
}
