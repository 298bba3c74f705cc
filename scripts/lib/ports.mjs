/** TCP ports on loopback. */
import { createServer } from 'node:net';

const listen = (port) =>
  new Promise((resolve) => {
    const server = createServer();
    server.once('error', () => resolve(null));
    server.listen(port, '127.0.0.1', () => {
      const found = server.address().port;
      server.close(() => resolve(found));
    });
  });

export const isFree = async (port) => (await listen(port)) !== null;

/** A free port; `preferred` when it is free. */
export async function freePort(preferred = 0) {
  return (preferred && (await listen(preferred))) || (await listen(0));
}
