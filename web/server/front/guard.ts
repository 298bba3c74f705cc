/**
 * Who may ask, decided before anything else sees the request: method, address, host, origin, rate. A page of another site must neither read nor write here on behalf
 * of whoever has it open, under whatever name it reaches this machine.
 */
import type { IncomingMessage } from 'node:http';

export interface Refusal {
  readonly status: number;
  readonly code: string;
  readonly message: string;
  readonly headers?: Readonly<Record<string, string>>;
}

const methods = new Set(['GET', 'HEAD', 'POST', 'PATCH', 'DELETE', 'OPTIONS']);
const longestAddress = 4000;

const refusal = (status: number, code: string, message: string, headers?: Refusal['headers']): Refusal => ({
  status,
  code,
  message,
  headers,
});

/** Names under which this server answers: itself on loopback, the address that it listens on where that is one, and what its owner has added. */
export function hostsOf(port: number, more = '', listens = '127.0.0.1'): ReadonlySet<string> {
  const address = listens.includes(':') ? `[${listens.toLowerCase()}]` : listens.toLowerCase();
  const own = ['127.0.0.1', 'localhost', '[::1]', ...(/^(0\.0\.0\.0|\[::\])$/.test(address) ? [] : [address])].map(
    (name) => `${name}:${port}`,
  );
  const added = more
    .split(/[\s,]+/)
    .filter(Boolean)
    .map((name) => name.toLowerCase());
  return new Set([...own, ...added]);
}

/** What a proxy adds to a request. */
const forwarded = ['forwarded', 'x-forwarded-for', 'x-forwarded-host', 'x-forwarded-proto', 'x-real-ip', 'via'];

/** Why a request is not let in; null when it is. `ownDesk`: nobody signs in, so that nothing may come from elsewhere. */
export function refusalOf(
  request: Pick<IncomingMessage, 'method' | 'url' | 'headers'>,
  hosts: ReadonlySet<string>,
  ownDesk = true,
): Refusal | null {
  const { method = '', url = '', headers } = request;
  if (!methods.has(method))
    return refusal(405, 'method', 'This method is not served here.', { allow: [...methods].join(', ') });
  if (url.length > longestAddress) return refusal(414, 'address.long', 'This address is too long.');
  const wrong = wrongAddress(url);
  if (wrong) return refusal(400, 'address.invalid', wrong);
  const host = headers.host?.toLowerCase();
  if (host === undefined || !hosts.has(host))
    return refusal(421, 'host', 'Mesura does not answer under this name. Open it at http://127.0.0.1.');
  if (ownDesk && forwarded.some((name) => headers[name] !== undefined))
    return refusal(
      403,
      'proxy',
      'This request comes by way of a proxy, and nobody signs in here. Start with MESURA_ACCOUNTS=required; see docs/people.md.',
    );
  if (foreign(headers.origin, hosts)) return refusal(403, 'origin', 'This request comes from another site.');
  const site = headers['sec-fetch-site'];
  const navigation = headers['sec-fetch-mode'] === 'navigate' && (method === 'GET' || method === 'HEAD');
  if ((site === 'cross-site' || site === 'same-site') && !navigation)
    return refusal(403, 'origin', 'This request comes from another site.');
  return null;
}

function wrongAddress(url: string): string | null {
  if (!url.startsWith('/') || url.startsWith('//')) return 'This is not an address of this server.';
  try {
    const path = decodeURIComponent(url.split('?', 1)[0]);
    decodeURIComponent(url.slice(url.indexOf('?') + 1).replaceAll('+', ' '));
    if (path.includes('\\') || [...path].some((each) => each < ' ' || each === '\x7f'))
      return 'This address holds characters that no address has.';
    if (path.split('/').includes('..')) return 'This address leads out of the server.';
  } catch {
    return 'This address cannot be read: a "%" in it stands for nothing.';
  }
  return null;
}

/** An origin that is none of ours; "null" and what cannot be read are none either. */
function foreign(origin: string | string[] | undefined, hosts: ReadonlySet<string>): boolean {
  if (origin === undefined) return false;
  const match = typeof origin === 'string' ? /^https?:\/\/([^/]+)$/.exec(origin.toLowerCase()) : null;
  return !match || !hosts.has(match[1]);
}

/** Where a request comes from, and whether by TLS: what a proxy says counts only where it is trusted, and of a list what the nearest one has added. */
export function cameFrom(
  headers: IncomingMessage['headers'],
  peer: string,
  proxyIsTrusted: boolean,
): { readonly address: string; readonly secure: boolean } {
  const plain = peer.replace(/^::ffff:/, '');
  if (!proxyIsTrusted) return { address: plain, secure: false };
  const last = (value: string | string[] | undefined) =>
    String(value ?? '')
      .split(',')
      .at(-1)!
      .trim();
  const told = last(headers['x-forwarded-for']);
  return {
    address: /^[0-9a-fA-F.:]{2,45}$/.test(told) ? told : plain,
    secure: last(headers['x-forwarded-proto']).toLowerCase() === 'https',
  };
}

/** At most so many requests a second from one client, with a reserve for moments when much happens at once. */
export class Rate {
  private readonly clients = new Map<string, { left: number; at: number }>();

  constructor(
    private readonly perSecond: number,
    private readonly reserve: number,
    private readonly now: () => number = () => performance.now(),
  ) {}

  /** Takes one; false when the client has none left. */
  take(client: string): boolean {
    const at = this.now();
    const known = this.clients.get(client);
    const left = known ? Math.min(this.reserve, known.left + ((at - known.at) / 1000) * this.perSecond) : this.reserve;
    if (!known && this.clients.size > 10_000) this.clients.clear();
    this.clients.set(client, { left: Math.max(left - 1, 0), at });
    return left >= 1;
  }
}

/** What every page says about itself; `nonce` belongs to the scripts that this answer brings along. */
export function securityHeaders(nonce: string, secure = false): Readonly<Record<string, string>> {
  return {
    ...(secure && { 'strict-transport-security': 'max-age=31536000' }),
    'permissions-policy': 'camera=(), geolocation=(), microphone=(), payment=(), usb=()',
    'content-security-policy': [
      "default-src 'self'",
      // The interpreter of scripts is compiled to WebAssembly; texts still become no code of the page.
      `script-src 'self' 'nonce-${nonce}' 'wasm-unsafe-eval'`,
      // The interface sets styles on single elements.
      "style-src 'self' 'unsafe-inline'",
      "img-src 'self' data: blob:",
      "font-src 'self' data:",
      "connect-src 'self'",
      "worker-src 'self' blob:",
      "object-src 'none'",
      "base-uri 'none'",
      "form-action 'self'",
      "frame-ancestors 'none'",
    ].join('; '),
    'x-content-type-options': 'nosniff',
    'x-frame-options': 'DENY',
    'referrer-policy': 'no-referrer',
    'cross-origin-opener-policy': 'same-origin',
    'cross-origin-resource-policy': 'same-origin',
  };
}
