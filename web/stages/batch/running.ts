/** Batches and scripts that run just now, each in a thread of its own: they go on while somebody works at another stage. Cancelling ends the thread. */
import { proxy, wrap, type Remote } from 'comlink';
import { create } from 'zustand';
import type { ProjectStore } from '../../project/store';
import type { ProgramsService, SentProject } from '../../workers/programs.worker';

export interface Running {
  /** The share that is done; null while nothing runs. */
  readonly progress: number | null;
  readonly failure: string | null;
}

const idle: Running = { progress: null, failure: null };
/** Beyond this a thread is ended, whatever it does. */
const longestS = 600;

const useAll = create<Readonly<Record<string, Running>>>()(() => ({}));
/** Of a batch or script, by its id. */
export const useRunning = (id: string): Running => useAll((all) => all[id] ?? idle);

const threads = new Map<
  string,
  { readonly worker: Worker; readonly leave: () => void; readonly timer: ReturnType<typeof setTimeout> }
>();

export function cancelRun(id: string, failure: string | null = null): void {
  const thread = threads.get(id);
  if (!thread) return;
  threads.delete(id);
  clearTimeout(thread.timer);
  thread.worker.terminate();
  thread.leave();
  useAll.setState({ [id]: { progress: null, failure } });
}

/** Another project is opened. */
export function cancelAll(): void {
  for (const id of threads.keys()) cancelRun(id);
  useAll.setState({}, true);
}

type Work<T> = (service: Remote<ProgramsService>, project: SentProject, tell: (share: number) => void) => Promise<T>;

/** Runs on the project as it stands; null where it was cancelled or failed, which is told in {@link useRunning}. */
export async function runInThread<T>(id: string, store: ProjectStore, work: Work<T>): Promise<T | null> {
  cancelRun(id);
  useAll.setState({ [id]: { progress: 0, failure: null } });
  const worker = new Worker(new URL('../../workers/programs.worker.ts', import.meta.url), { type: 'module' });
  const { name, network } = store.getState();
  const project = { name, elements: [...network.elements.values()] };
  const left = new Promise<null>((resolve) => {
    const timer = setTimeout(
      () => cancelRun(id, `It took longer than ${longestS / 60} minutes and was ended.`),
      longestS * 1000,
    );
    threads.set(id, { worker, leave: () => resolve(null), timer });
  });
  const isMine = () => threads.get(id)?.worker === worker;
  const tell = (progress: number) => {
    if (isMine()) useAll.setState({ [id]: { progress, failure: null } });
  };
  try {
    const answer = await Promise.race([work(wrap<ProgramsService>(worker), project, proxy(tell)), left]);
    if (isMine()) cancelRun(id);
    return answer;
  } catch (error) {
    if (isMine()) cancelRun(id, (error as Error).message);
    return null;
  }
}
