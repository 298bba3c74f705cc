/** Route handlers in a few lines: JSON in and out, errors as problems, bodies of bounded size. */
import { NextResponse } from 'next/server';
import { ServiceError, toServiceError } from './errors';

type Params = Record<string, string>;

/** Wraps a handler: what it returns is answered as JSON (or as it is when a Response), what it throws as a problem. */
export function route<P extends Params>(handle: (params: P, request: Request) => Promise<unknown>) {
  return async (request: Request, context: { params: Promise<P> }): Promise<Response> => {
    try {
      const result = await handle(await context.params, request);
      return result instanceof Response ? result : NextResponse.json(result ?? { ok: true });
    } catch (error) {
      const { status, code, message, details } = toServiceError(error);
      return NextResponse.json({ error: { code, message, ...details } }, { status });
    }
  };
}

const largestBody = 40e6;

export async function textBody(request: Request): Promise<string> {
  requireSameOrigin(request);
  if (Number(request.headers.get('content-length') ?? 0) > largestBody) throw tooLarge();
  const text = await request.text();
  if (text.length > largestBody) throw tooLarge();
  return text;
}

const tooLarge = () => new ServiceError(413, 'body.large', 'This is larger than 40 MB.');

export async function jsonBody(request: Request): Promise<unknown> {
  const text = await textBody(request);
  try {
    return JSON.parse(text);
  } catch {
    throw new ServiceError(400, 'body.json', 'The request is not JSON.');
  }
}

/** A page of another site must not write here on behalf of whoever has it open. */
export function requireSameOrigin(request: Request): void {
  const origin = request.headers.get('origin');
  if (origin && new URL(origin).host !== request.headers.get('host'))
    throw new ServiceError(403, 'origin', 'This request comes from another site.');
}
