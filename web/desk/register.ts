/** The register of sheets, as the server has it: read when the project is opened, and again after each step. Contents of issued sheets never change and are kept. */
import { create } from 'zustand';
import type { Subject } from '@mesura/core/sheets/content';
import type { StoredContent } from '@mesura/core/sheets/digestible';
import type { ReadingCard } from '../server/sheets/readings';
import type { Register, RunHead } from '../server/sheets/register';
import type { ListedSheet } from '../server/sheets/seal';
import { api } from '../project/api';

export interface RegisterState extends Register {
  readonly projectId: string | null;
  readonly failed: string | null;
  /** Of the latest issued sheets, by their number in the register. */
  readonly contents: ReadonlyMap<number, StoredContent>;
  readonly readings: readonly ReadingCard[];
}

const nothing: RegisterState = {
  projectId: null,
  failed: null,
  runs: [],
  sheets: [],
  contents: new Map(),
  readings: [],
};

export const useRegister = create<RegisterState>()(() => nothing);

/** What the sheets of a subject are kept under, back to the subject. */
export function subjectOf(
  { relayId, runId }: Pick<ListedSheet, 'relayId' | 'runId'>,
  runs: readonly RunHead[],
): Subject {
  if (relayId.startsWith('arc:')) return { kind: 'arcLabel', id: relayId.slice(4) };
  const run = runs.find(({ id }) => id === runId);
  return { kind: run?.kind ?? 'device', id: relayId };
}

/** The sheet in force of each subject: the latest one, unless it was withdrawn. */
export function inForce({ runs, sheets }: Register): ListedSheet[] {
  const latest = new Map<string, ListedSheet>();
  for (const sheet of sheets) {
    const known = latest.get(sheet.relayId);
    if (!known || known.number < sheet.number) latest.set(sheet.relayId, sheet);
  }
  const withdrawn = new Set(runs.flatMap(({ id, state }) => (state === 'withdrawn' ? [id] : [])));
  return [...latest.values()].filter(({ runId }) => runId === null || !withdrawn.has(runId));
}

/** How many contents are asked for at once. */
const atOnce = 4;

let asked = 0;

export async function readRegister(projectId: string): Promise<void> {
  const ticket = ++asked;
  if (useRegister.getState().projectId !== projectId) useRegister.setState({ ...nothing, projectId });
  const isLatest = () => ticket === asked;
  try {
    const [register, { readings }] = await Promise.all([
      api<Register>(`/projects/${projectId}/sheets`),
      api<{ readings: ReadingCard[] }>(`/projects/${projectId}/readings`),
    ]);
    if (!isLatest()) return;
    useRegister.setState({ ...register, readings, failed: null });
    const wanted = inForce(register).filter(({ id }) => !useRegister.getState().contents.has(id));
    for (let k = 0; k < wanted.length && isLatest(); k += atOnce) {
      const read = await Promise.all(
        wanted
          .slice(k, k + atOnce)
          .map(
            async ({ id }) =>
              [id, (await api<{ content: StoredContent }>(`/projects/${projectId}/sheets/${id}`)).content] as const,
          ),
      );
      if (isLatest()) useRegister.setState(({ contents }) => ({ contents: new Map([...contents, ...read]) }));
    }
  } catch (error) {
    if (isLatest()) useRegister.setState({ failed: (error as Error).message });
  }
}
