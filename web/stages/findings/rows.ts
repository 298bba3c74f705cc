/** Rows of the checks table: pure, so that thousands can be tested without a screen. */
import { marginOf, verdictTitles, type Check } from '@mesura/core/checks/check';
import { compareChecks, type Changed } from '@mesura/core/checks/compare';
import { nameOf } from '@mesura/core/model/element';
import type { Network } from '@mesura/core/model/network';
import { conditionOf } from '@mesura/core/model/state';
import type { Shown } from './state';

export interface CheckRow {
  readonly check: Check;
  readonly subject: string;
  readonly margin: number | null;
  readonly verdict: string;
  readonly condition: string;
  /** Against the kept run. */
  readonly change: Changed['way'] | null;
  readonly before: Check | null;
}

const fails = ({ verdict }: Check): boolean => verdict === 'short' || verdict === 'doubtful';
const rank = { short: 0, doubtful: 1, holds: 2, notApplicable: 3 } as const;

/** Checks to show, those that are not met first; of the changed ones the worse first. */
export function rowsFor(
  checks: readonly Check[],
  network: Network,
  { shown, filter, kept }: { shown: Shown; filter: string; kept: readonly Check[] | null },
): CheckRow[] {
  const changes = kept ? compareChecks(kept, checks) : [];
  const changeOf = new Map(changes.map((change) => [change.id, change]));
  const listed =
    shown === 'changed'
      ? changes.map(({ before, after }) => (after ?? before)!)
      : checks.filter((check) => shown === 'all' || fails(check)).sort((p, q) => rank[p.verdict] - rank[q.verdict]);
  const words = filter.toLowerCase().split(/\s+/).filter(Boolean);
  return listed
    .map((check): CheckRow => {
      const subject = network.elements.get(check.subject);
      const change = changeOf.get(check.id);
      return {
        check,
        subject: subject ? nameOf(subject) : '',
        margin: marginOf(check),
        verdict: verdictTitles[check.verdict],
        condition: check.deciding ? (conditionOf(network, check.deciding.condition)?.name ?? '') : '',
        change: change?.way ?? null,
        before: change?.before ?? null,
      };
    })
    .filter(({ subject, check, condition, verdict }) => {
      const text = `${subject} ${check.title} ${check.rule} ${condition} ${verdict}`.toLowerCase();
      return words.every((word) => text.includes(word));
    });
}
