/** Runs a calculation that yields the share that is done to its end, in one go. */
export function finished<T>(steps: Generator<unknown, T>): T {
  let step = steps.next();
  while (!step.done) step = steps.next();
  return step.value;
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
