/** Long work in slices: the event loop gets a turn in between, so that one large project holds up nobody else's request. */
import { setImmediate as turn } from 'node:timers/promises';

const sliceMs = 15;

/** Maps a long list, pausing every few milliseconds. */
export async function inSlices<T, R>(list: readonly T[], map: (each: T, k: number) => R): Promise<R[]> {
  const result = new Array<R>(list.length);
  let since = performance.now();
  for (let k = 0; k < list.length; k++) {
    result[k] = map(list[k], k);
    // Looking at the clock costs more than a small element.
    if (k % 32 === 31 && performance.now() - since > sliceMs) {
      await turn();
      since = performance.now();
    }
  }
  return result;
}

const chunkLength = 64 * 1024;

/** A JSON object with one long list as a stream: head, elements one by one, tail. */
export function jsonStream(head: object, name: string, list: Iterable<unknown>): ReadableStream<Uint8Array> {
  const encoder = new TextEncoder();
  const start = JSON.stringify(head);
  const each = list[Symbol.iterator]();
  let text = `${start.slice(0, -1)}${start.length > 2 ? ',' : ''}${JSON.stringify(name)}:[`;
  let first = true;
  return new ReadableStream({
    pull(controller) {
      while (text.length < chunkLength) {
        const next = each.next();
        if (next.done) {
          controller.enqueue(encoder.encode(`${text}]}`));
          controller.close();
          return;
        }
        text += first ? JSON.stringify(next.value) : `,${JSON.stringify(next.value)}`;
        first = false;
      }
      controller.enqueue(encoder.encode(text));
      text = '';
    },
  });
}
