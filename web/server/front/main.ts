/** The server that the application stands behind: lets requests in or not, says what belongs on every answer, writes the log, and ends in order. */
import { randomBytes, randomUUID } from 'node:crypto';
import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import { join } from 'node:path';
import type { Duplex } from 'node:stream';
import next from 'next';
import { listensAt, modeOf, trustsProxy } from '../people/mode';
import { problemDocument, problemType } from '../problem';
import { addressHeader, secureHeader } from '../people/heads';
import { cameFrom, hostsOf, Rate, refusalOf, securityHeaders, type Refusal } from './guard';
import { RequestLog } from './log';

const port = Number(process.env.PORT);
const folder = process.env.MESURA_WEB!;
const logFolder = process.env.MESURA_LOGS || null;
const listens = listensAt(process.env);
const hosts = hostsOf(port, process.env.MESURA_HOSTS, listens);
const ownDesk = modeOf() === 'ownDesk';
const proxyIsTrusted = trustsProxy();
const log = new RequestLog(logFolder && join(logFolder, 'requests.log'));
const [perSecond, reserve] = (process.env.MESURA_RATE ?? '400,4000').split(',').map(Number);
const rate = new Rate(perSecond, reserve);
/** After the signal to end, answers on their way have this long. */
const lastAnswersMs = 3000;

const app = next({ dev: false, dir: folder, hostname: '127.0.0.1', port });
const handle = app.getRequestHandler();
await app.prepare();

let ending = false;

function refuse(response: ServerResponse, url: string, { status, code, message, headers }: Refusal): void {
  const isForPrograms = url.startsWith('/api/v1/');
  const type = isForPrograms ? problemType : 'application/json';
  response.writeHead(status, { 'content-type': type, connection: 'close', ...headers });
  response.end(JSON.stringify(isForPrograms ? problemDocument(status, code, message) : { error: { code, message } }));
}

function answer(request: IncomingMessage, response: ServerResponse): void {
  const since = performance.now();
  const id = randomUUID();
  const nonce = randomBytes(16).toString('base64');
  const { method = '', url = '' } = request;
  const { address, secure } = cameFrom(request.headers, request.socket.remoteAddress ?? '', proxyIsTrusted);
  const own = securityHeaders(nonce, secure);
  for (const [name, value] of Object.entries(own)) response.setHeader(name, value);
  response.setHeader('x-request-id', id);
  if (ending) response.setHeader('connection', 'close');
  response.on('close', () =>
    log.write({ id, method, url, status: response.statusCode, milliseconds: performance.now() - since }),
  );
  const refused = refusalOf(request, hosts, ownDesk);
  if (refused) return refuse(response, url, refused);
  if (url.startsWith('/api/') && !rate.take(address))
    return refuse(response, url, {
      status: 429,
      code: 'rate',
      message: 'Too many requests. Try again in a moment.',
      headers: { 'retry-after': '1' },
    });
  // From here the renderer takes the nonce for the scripts that it writes.
  request.headers['content-security-policy'] = own['content-security-policy'];
  request.headers['x-nonce'] = nonce;
  // Whatever was sent under these names is overwritten.
  request.headers[addressHeader] = address;
  request.headers[secureHeader] = secure ? '1' : '0';
  void handle(request, response).catch((error: unknown) => {
    console.error(`${new Date().toISOString()} ${id} ${(error as Error).name}`);
    if (!response.headersSent)
      refuse(response, url, { status: 500, code: 'internal', message: 'Something went wrong in Mesura itself.' });
    else response.destroy();
  });
}

const server = createServer(
  { maxHeaderSize: 16_384, headersTimeout: 10_000, requestTimeout: 120_000, keepAliveTimeout: 5000 },
  answer,
);
// A request that cannot even be read.
server.on('clientError', (_, socket) => {
  if (socket.writable) socket.end('HTTP/1.1 400 Bad Request\r\nconnection: close\r\ncontent-length: 0\r\n\r\n');
});
for (const event of ['connect', 'upgrade'] as const)
  server.on(event, (_: IncomingMessage, socket: Duplex) =>
    socket.end('HTTP/1.1 405 Method Not Allowed\r\nconnection: close\r\ncontent-length: 0\r\n\r\n'),
  );

function end(): void {
  if (ending) return;
  ending = true;
  server.close(() => process.exit(0));
  server.closeIdleConnections();
  setTimeout(() => {
    server.closeAllConnections();
    setTimeout(() => process.exit(0), 200);
  }, lastAnswersMs).unref();
}
for (const signal of ['SIGTERM', 'SIGINT'] as const) process.on(signal, end);

server.on('error', (error) => {
  console.error((error as NodeJS.ErrnoException).code === 'EADDRINUSE' ? `Port ${port} is taken.` : String(error));
  process.exit(1);
});
server.listen(port, listens);
