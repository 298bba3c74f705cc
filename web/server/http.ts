/** Route handlers in a few lines: JSON in and out, errors as problems, bodies of bounded size. Who may ask at all is decided before (`front`). */
import { NextResponse } from 'next/server';
import { readBatch, type ReadBatch } from './batch';
import { ServiceError, toServiceError } from './errors';
import { note } from './people/audit';
import { Rate } from './front/guard';
import { admission, isForPrograms, permissions, scopeOf, type Need, type RouteName } from './people/permissions';
import { problemDocument, problemResponse } from './problem';
import { nobody, personOf, refusalFor, type Person } from './people/person';
import { inThread } from './workers';

type Params = Record<string, string>;

/** Ids of projects and sheets as they may stand in an address. */
const idInAddress = /^[A-Za-z0-9_-]{1,160}$/;

/**
 * Wraps a handler: who may ask stands in the table of permissions under the route's name; what the handler returns is answered as JSON (or as it is when a Response),
 * what it throws as a problem.
 */
export function route<P extends Params>(
  name: RouteName,
  handle: (params: P, request: Request, person: Person) => Promise<unknown>,
) {
  return async (request: Request, context: { params: Promise<P> }): Promise<Response> => {
    try {
      const params = await context.params;
      for (const id of Object.values(params ?? {}))
        if (!idInAddress.test(id)) throw new ServiceError(404, 'missing', 'This address leads nowhere.');
      const person = await admitted(name, params?.id ?? null, request);
      const result = await handle(params, request, person);
      return result instanceof Response ? result : NextResponse.json(result ?? { ok: true });
    } catch (error) {
      const { status, code, message, details } = toServiceError(error);
      const headers = status === 503 || status === 429 ? { 'retry-after': '1' } : undefined;
      if (isForPrograms(name)) return problemResponse(problemDocument(status, code, message, details), headers);
      return NextResponse.json({ error: { code, message, ...details } }, { status, headers });
    }
  };
}

/** Who asks, once it is clear that they may. What is refused to somebody who is signed in stands in the audit log. */
async function admitted(name: RouteName, projectId: string | null, request: Request): Promise<Person> {
  const need: Need = permissions[name];
  const isProgram = isForPrograms(name);
  // Health is asked for when the database is away, too.
  const person = name === 'GET /api/health' ? nobody : await personOf(request.headers, projectId, isProgram);
  const answer = admission(need, person);
  if (isProgram) takeTurn(person);
  if (answer === 'admitted' && isProgram && person.scopes && !person.scopes.has(scopeOf[name]))
    throw new ServiceError(403, 'scope', `This token is not made for that: it lacks "${scopeOf[name]}".`);
  if (answer === 'admitted') return person;
  if (answer !== 'signIn') await note(person, { action: 'refused', target: name, detail: projectId ?? '' });
  throw refusalFor(answer);
}

/** Programs of one person ask at most so often, whatever the number of their addresses. */
const programRate = new Rate(50, 500);

function takeTurn({ accountId, address }: Person): void {
  if (programRate.take(accountId ?? address)) return;
  throw new ServiceError(429, 'rate', 'Too many requests by this person. Try again in a moment.');
}

/** Longest bodies in bytes by what they are. */
export const longest = { small: 64e3, study: 1e6, batch: 16e6, file: 120e6 };

export const textBody = async (request: Request, limit = longest.small): Promise<string> =>
  (await bytesBody(request, limit)).toString('utf8');

/** Reads a body and stops as soon as it is longer than allowed, however it is sent. */
export async function bytesBody(request: Request, limit: number): Promise<Buffer> {
  const tooLarge = () =>
    new ServiceError(
      413,
      'body.large',
      `This is larger than ${limit >= 1e6 ? `${limit / 1e6} MB` : `${limit / 1e3} kB`}.`,
    );
  if (Number(request.headers.get('content-length') ?? 0) > limit) throw tooLarge();
  if (!request.body) return Buffer.alloc(0);
  const reader = request.body.getReader();
  const parts: Uint8Array[] = [];
  let length = 0;
  for (;;) {
    const { done, value } = await reader.read().catch(() => {
      throw new ServiceError(400, 'body.broken', 'The request broke off.');
    });
    if (done) break;
    length += value.byteLength;
    if (length > limit) {
      void reader.cancel().catch(() => undefined);
      throw tooLarge();
    }
    parts.push(value);
  }
  return Buffer.concat(parts);
}

export async function jsonBody(request: Request, limit = longest.small): Promise<unknown> {
  return parsed(await textBody(request, limit));
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    throw noJson();
  }
}

const noJson = () => new ServiceError(400, 'body.json', 'The request is not JSON.');

/** Above this a batch is read and checked in a thread: the server goes on answering meanwhile. */
const readHere = 256e3;

export async function batchBody(request: Request): Promise<ReadBatch> {
  const text = await textBody(request, longest.batch);
  if (text.length <= readHere) return readBatch(parsed(text));
  const read = await inThread({ task: 'batch', text }, request.signal);
  if (!read) throw noJson();
  return read;
}

/** A whole number in the query of an address; 422 for anything else. */
export function wholeNumber(request: Request, name: string, fallback: number | null = null): number {
  const text = new URL(request.url).searchParams.get(name);
  if (text === null && fallback !== null) return fallback;
  const value = text === null || !/^\d{1,15}$/.test(text) ? Number.NaN : Number(text);
  if (!Number.isSafeInteger(value)) throw new ServiceError(422, 'query.invalid', `"${name}" must be a whole number.`);
  return value;
}
