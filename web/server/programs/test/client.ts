/** A client made from the description for programs, on the real handlers: each answer is held against what the description says of it. */
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import Ajv2020 from 'ajv/dist/2020';
import createClient, { type Client } from 'openapi-fetch';
import { openApi } from '../openapi';
import { problemType } from '../../problem';
import type { paths } from './api';

const api = join(import.meta.dirname, '../../../app/api');
const ajv = new Ajv2020({ strict: false, validateFormats: false });

interface Described {
  readonly paths: Record<
    string,
    Record<string, { responses: Record<string, { content?: Record<string, { schema: object }>; $ref?: string }> }>
  >;
  readonly components: { responses: { problem: { content: Record<string, { schema: object }> } } };
}
const description = openApi() as unknown as Described;

type Handler = (request: Request, context: { params: Promise<Record<string, string>> }) => Promise<Response>;

const routes = readdirSync(join(api, 'v1'), { recursive: true, encoding: 'utf8' })
  .filter((file) => file.endsWith('route.ts'))
  .map((file) => {
    const parts = file.split('/').slice(0, -1);
    const pattern = parts.map((part) => part.replace(/^\[(\w+)\]$/, '(?<$1>[^/]+)')).join('/');
    return {
      file: join(api, 'v1', file),
      at: new RegExp(`^/api/v1/${pattern}$`),
      fixed: parts.filter((part) => !part.startsWith('[')).length,
    };
  })
  .sort((p, q) => q.fixed - p.fixed);

/** How often an answer was held against the description. */
export let checkedAnswers = 0;

async function held(request: Request, path: string, answer: Response): Promise<void> {
  const template = Object.keys(description.paths).find((each) =>
    new RegExp(`^${each.replaceAll(/\{\w+\}/g, '[^/]+').replaceAll('.', '\\.')}$`).test(path),
  );
  const operation = template && description.paths[template][request.method.toLowerCase()];
  const type = answer.headers.get('content-type')?.split(';')[0] ?? '';
  if (answer.status >= 400) {
    if (type !== problemType)
      throw new Error(`${request.method} ${path} ${answer.status} is no problem document: ${type}`);
    const { schema } = description.components.responses.problem.content[problemType];
    const body = (await answer.clone().json()) as { status: number; type: string; code: string };
    if (!ajv.validate(schema, body)) throw new Error(ajv.errorsText());
    if (body.status !== answer.status || body.type !== `urn:mesura:problem:${body.code}`)
      throw new Error(JSON.stringify(body));
    checkedAnswers++;
    return;
  }
  if (!operation) throw new Error(`${request.method} ${path} is answered and not described`);
  const described = operation.responses[answer.status];
  if (!described) throw new Error(`${request.method} ${path}: ${answer.status} is not described`);
  const schema = described.content?.['application/json']?.schema;
  if (!schema || type !== 'application/json') return;
  if (!ajv.validate(schema, await answer.clone().json()))
    throw new Error(`${request.method} ${path}: ${ajv.errorsText()}`);
  checkedAnswers++;
}

/** A request as the server in front hands it on. */
export async function served(request: Request): Promise<Response> {
  const path = new URL(request.url).pathname;
  const found = routes.find(({ at }) => at.test(path));
  if (!found) throw new Error(`nothing answers at ${path}`);
  const handlers = (await import(found.file)) as Record<string, Handler | undefined>;
  const handler = handlers[request.method];
  if (!handler) throw new Error(`${path} knows no ${request.method}`);
  const answer = await handler(request, { params: Promise.resolve({ ...found.at.exec(path)!.groups }) });
  await held(request, path, answer);
  return answer;
}

export const client = (token?: string): Client<paths> =>
  createClient<paths>({
    baseUrl: 'http://127.0.0.1:3000',
    headers: token === undefined ? {} : { authorization: `Bearer ${token}` },
    fetch: served,
  });
