/** Requests to our own server; failures as errors that carry status and code. */
import type { Problem } from '@mesura/core/model/problem';

export class ApiError extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly problems: readonly Problem[] = [],
    /** Whatever else the server told. */
    readonly details: Readonly<Record<string, unknown>> = {},
  ) {
    super(message);
  }

  /** True when trying the same again later may work; also after a session has ended, once somebody has signed in again. */
  get passing(): boolean {
    return this.status === 0 || this.status === 401 || this.status === 408 || this.status === 429 || this.status >= 500;
  }
}

export async function api<T>(path: string, init: RequestInit & { json?: unknown } = {}): Promise<T> {
  const { json, ...rest } = init;
  let response: Response;
  try {
    response = await fetch(
      `/api${path}`,
      json === undefined
        ? rest
        : { ...rest, body: JSON.stringify(json), headers: { 'content-type': 'application/json' } },
    );
  } catch {
    throw new ApiError(0, 'network', 'The server cannot be reached.');
  }
  const body = await response.json().catch(() => null);
  if (!response.ok)
    throw new ApiError(
      response.status,
      body?.error?.code ?? 'unknown',
      body?.error?.message ?? `The server answered ${response.status}.`,
      body?.error?.problems,
      body?.error,
    );
  return body as T;
}
