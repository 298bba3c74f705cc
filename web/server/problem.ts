/** Errors for programs: a problem document by RFC 9457. `code` is the same word as in the type; what else is known of it stands beside. */
export interface ProblemDocument {
  readonly type: string;
  readonly title: string;
  readonly status: number;
  readonly detail: string;
  readonly code: string;
  readonly [more: string]: unknown;
}

export const problemType = 'application/problem+json';

const titles: Readonly<Record<number, string>> = {
  400: 'The request cannot be read',
  401: 'Nobody is signed in',
  403: 'This is not allowed',
  404: 'There is no such thing',
  405: 'This method is not served',
  409: 'This clashes with what is there',
  410: 'This is gone',
  413: 'This is too large',
  414: 'The address is too long',
  421: 'This server does not answer under that name',
  422: 'This cannot be accepted',
  429: 'Too much at once',
  500: 'Something went wrong in Mesura itself',
  503: 'Not at the moment',
  507: 'There is no room',
};

export const problemDocument = (
  status: number,
  code: string,
  detail: string,
  more: Readonly<Record<string, unknown>> = {},
): ProblemDocument => ({
  ...more,
  type: `urn:mesura:problem:${code}`,
  title: titles[status] ?? titles[422],
  status,
  detail,
  code,
});

export const problemResponse = (document: ProblemDocument, headers: Readonly<Record<string, string>> = {}): Response =>
  new Response(JSON.stringify(document), {
    status: document.status,
    headers: { ...headers, 'content-type': problemType, 'cache-control': 'no-store' },
  });
