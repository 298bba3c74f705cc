/** Runs a calculation that yields the share that is done to its end, in one go. */
export function finished<T>(steps: Generator<unknown, T>): T {
  let step = steps.next();
  while (!step.done) step = steps.next();
  return step.value;
}
