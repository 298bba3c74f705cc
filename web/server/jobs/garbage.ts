/**
 * Memory of a large job kept low. A thread that still has room lets garbage grow to several times what is in use, and the server has the memory of
 * all threads; so it is collected whenever a job has grown by a good deal.
 */
import { getHeapStatistics, setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';

const growth = 96 << 20;

let collect: (() => void) | null = null;

/** Takes some fifty milliseconds for each hundred megabytes in use. */
export function collectGarbage(): void {
  if (!collect) {
    setFlagsFromString('--expose-gc');
    collect = runInNewContext('gc') as () => void;
    setFlagsFromString('--no-expose-gc');
  }
  collect();
}

/** What steps come to, with the garbage collected on the way. */
export function frugally<T>(steps: Generator<unknown, T>): T {
  let limit = getHeapStatistics().used_heap_size + growth;
  for (;;) {
    const { done, value } = steps.next();
    if (done) return value as T;
    if (getHeapStatistics().used_heap_size < limit) continue;
    collectGarbage();
    limit = getHeapStatistics().used_heap_size + growth;
  }
}
