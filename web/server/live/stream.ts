/** Server-sent events of a project: its revision as it grows, and who is there. Whether somebody may hear is asked again and again. */
import { ServiceError } from '../errors';
import { streams, watch } from './hub';
import type { Standing } from './presence';

const beatMs = 10_000;
const mostStreams = 2000;
const encoder = new TextEncoder();

/** `allowed`: whether this page may still hear; asked with every beat. */
export function liveStream(
  projectId: string,
  client: string,
  allowed: () => Promise<boolean>,
  signal: AbortSignal,
): Response {
  if (streams() >= mostStreams)
    throw new ServiceError(503, 'live.full', 'Too many pages are open. News comes with the next change of your own.');
  let leave = () => {};
  let closed = false;
  let beat: NodeJS.Timeout | undefined;
  let last: { revision: number | null; people: string } = { revision: -1, people: '' };
  const body = new ReadableStream<Uint8Array>({
    start(controller) {
      const send = (text: string) => {
        try {
          // A page that takes nothing any more, however slowly, is let go: it comes back by itself.
          if ((controller.desiredSize ?? 0) < -64) return close();
          controller.enqueue(encoder.encode(text));
        } catch {
          close();
        }
      };
      const close = () => {
        closed = true;
        leave();
        clearInterval(beat);
        try {
          controller.close();
        } catch {
          // Closed already.
        }
      };
      const tell = ({ revision, people }: Standing) => {
        if (revision === null) {
          send('event: gone\ndata: {}\n\n');
          return close();
        }
        if (revision !== last.revision) send(`event: revision\nid: ${revision}\ndata: ${revision}\n\n`);
        const others = JSON.stringify(people.filter((each) => each.client !== client));
        if (others !== last.people) send(`event: people\ndata: ${others}\n\n`);
        last = { revision, people: others };
      };
      // The browser waits so long before it comes back by itself.
      send('retry: 1500\n\n');
      beat = setInterval(() => {
        send(': here\n\n');
        allowed().then(
          (yes) => {
            if (yes) return;
            send('event: refused\ndata: {}\n\n');
            close();
          },
          // A database that is away refuses nobody.
          () => undefined,
        );
      }, beatMs);
      signal.addEventListener('abort', close);
      leave = watch({ projectId, client, tell, end: close });
      // What was known already may have ended it before there was anything to leave.
      if (closed || signal.aborted) close();
    },
    cancel() {
      leave();
      clearInterval(beat);
    },
  });
  return new Response(body, {
    headers: {
      'content-type': 'text/event-stream; charset=utf-8',
      'cache-control': 'no-store, no-transform',
      // Proxies hand on each line as it comes.
      'x-accel-buffering': 'no',
    },
  });
}
