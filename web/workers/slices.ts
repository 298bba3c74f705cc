/** Long work in slices, so that a thread stays open for messages: to leave the work off, or to take a newer model. */

/** The work was left off because nobody wants it any more. */
export class LeftOff extends Error {
  override name = 'LeftOff';
}

export interface Control {
  isWanted(): boolean;
  /** Share that is done, 0 to 1; told once a slice. */
  onProgress?(share: number): void;
}

const sliceMs = 20;

/** Runs the steps of a generator to its end; `milliseconds` is what they took, without what came in between. Errors: {@link LeftOff}. */
export async function inSlices<T>(
  steps: Generator<number, T>,
  { isWanted, onProgress }: Control,
): Promise<{ value: T; milliseconds: number }> {
  let milliseconds = 0;
  for (;;) {
    if (!isWanted()) throw new LeftOff('calculation cancelled');
    const started = performance.now();
    let step = steps.next();
    while (!step.done && performance.now() < started + sliceMs) step = steps.next();
    milliseconds += performance.now() - started;
    if (step.done) return { value: step.value, milliseconds };
    onProgress?.(step.value);
    await nextTask();
  }
}

/** After what waits in the thread's queue; a timer would wait four milliseconds more. */
function nextTask(): Promise<void> {
  return new Promise((resolve) => {
    const { port1, port2 } = new MessageChannel();
    port1.onmessage = () => {
      port1.close();
      resolve();
    };
    port2.postMessage(null);
  });
}
