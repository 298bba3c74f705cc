/** Who is told how far it is; one work at a time is watched. */
let watcher: ((share: number) => void) | null = null;

/** Runs a calculation that yields the share that is done to its end, in one go. Only the outermost is told to who watches. */
export function finished<T>(steps: Generator<unknown, T>): T {
  const tell = watcher;
  watcher = null;
  try {
    let step = steps.next();
    while (!step.done) {
      if (tell && typeof step.value === 'number') tell(step.value);
      step = steps.next();
    }
    return step.value;
  } finally {
    watcher = tell;
  }
}

/** Tells how far a work is that runs in one go; `tell` may throw, and ends it by that. A work that waits is watched to its end. */
export function watched<T>(tell: (share: number) => void, work: () => T): T {
  const before = watcher;
  watcher = tell;
  const back = (): void => void (watcher = before);
  let result: T;
  try {
    result = work();
  } catch (error) {
    back();
    throw error;
  }
  if (result instanceof Promise) return result.finally(back) as T;
  back();
  return result;
}

/** One of several works, `k` of `count`, within what is watched. */
export function watchedPart<T>(k: number, count: number, work: () => T): T {
  const tell = watcher;
  if (!tell) return work();
  tell(k / count);
  return watched((share) => tell((k + share) / count), work);
}

/** A calculation as a part of a larger one: its share of the work begins at `from` and is `part` of the whole. */
export function* within<T>(steps: Generator<number, T>, from: number, part: number): Generator<number, T> {
  let step = steps.next();
  while (!step.done) {
    yield from + part * step.value;
    step = steps.next();
  }
  return step.value;
}
