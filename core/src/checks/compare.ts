/** Two runs of the checks against each other: what got worse, what better. */
import { marginOf, type Check } from './check';

export interface Changed {
  readonly id: string;
  readonly title: string;
  readonly way: 'worse' | 'better' | 'new' | 'gone';
  readonly before: Check | null;
  readonly after: Check | null;
}

const rank = { holds: 0, notApplicable: 0, doubtful: 1, short: 2 } as const;

/** Below this share of the bound a difference of margins is not told. */
const leastShare = 1e-6;

/**
 * What differs, worst first: other verdicts, then margins of checks that hold in neither or both. A new check is told when it does not hold; one that
 * is gone when it held, or did not, all the same.
 */
export function compareChecks(before: readonly Check[], after: readonly Check[]): Changed[] {
  const earlier = new Map(before.map((check) => [check.id, check]));
  const later = new Map(after.map((check) => [check.id, check]));
  const changes: (Changed & { readonly size: number })[] = [];
  for (const check of after) {
    const was = earlier.get(check.id);
    if (!was) {
      if (rank[check.verdict] > 0)
        changes.push({
          id: check.id,
          title: check.title,
          way: 'new',
          before: null,
          after: check,
          size: 10 + rank[check.verdict],
        });
      continue;
    }
    const step = rank[check.verdict] - rank[was.verdict];
    const difference = (marginOf(check) ?? 0) - (marginOf(was) ?? 0);
    const moved = Math.abs(difference) > leastShare * Math.abs(check.bound ?? 1);
    if (step === 0 && !moved) continue;
    const worse = step === 0 ? difference < 0 : step > 0;
    const size =
      step === 0
        ? Math.min(1, Math.abs(difference) / Math.max(Math.abs(check.bound ?? 1), 1e-9))
        : 20 + 2 * Math.abs(step);
    changes.push({
      id: check.id,
      title: check.title,
      way: worse ? 'worse' : 'better',
      before: was,
      after: check,
      size: worse ? size : size - 100,
    });
  }
  for (const check of before)
    if (!later.has(check.id))
      changes.push({ id: check.id, title: check.title, way: 'gone', before: check, after: null, size: -200 });
  return changes
    .sort((p, q) => q.size - p.size)
    .map(({ id, title, way, before: was, after: now }) => ({ id, title, way, before: was, after: now }));
}
