/** Cases that put a question to the terminal program and name the figures of its answer. */
import { dirname, join } from 'node:path';
import type { Pair, ReferenceCase } from './case';

/** Asks the terminal program itself. */
export type Ask = (args: readonly string[]) => { readonly output: string };

/** Null for a case without a project. `path`: of the file that the case stands in. */
export function answerPairs(
  { calc, project, options = [], expected }: ReferenceCase,
  path: string,
  ask: Ask,
): Pair[] | null {
  if (calc !== 'faults' || !project) return null;
  const { output } = ask([calc, join(dirname(path), project), '--format', 'json', ...options]);
  const answer = output ? (JSON.parse(output) as unknown) : null;
  return Object.entries(expected as Record<string, number>).map(([figure, wanted]) => ({
    figure,
    expected: wanted,
    computed: figureAt(answer, figure) ?? undefined,
  }));
}

/** "faults.0.branches[id=T][terminal=3].phasesA.l1.re" in an answer; null where there is no number. */
export function figureAt(answer: unknown, path: string): number | null {
  let at: unknown = answer;
  for (const [, name, condition] of path.matchAll(/([^.[\]]+)?((?:\[[^\]]+\])*)\.?/g)) {
    if (name !== undefined) at = (at as Record<string, unknown> | null | undefined)?.[name];
    for (const [, key, value] of (condition ?? '').matchAll(/\[([^=\]]+)=([^\]]+)\]/g))
      at = Array.isArray(at)
        ? at.filter((each) => String((each as Record<string, unknown>)[key]) === value)
        : undefined;
    if (condition) at = (at as unknown[] | undefined)?.[0];
  }
  return typeof at === 'number' ? at : null;
}
