/** Findings as the drawer lists them: by the stage that looks after them, filtered, the graver first, never more than can be read. */
import type { Problem } from '@mesura/core/model/problem';
import { stageOwning } from '../desk/stage';

/** More than these nobody reads in a drawer; the Findings stage lists them all. */
export const mostShown = 200;

const rank = { error: 0, warning: 1, assumed: 2 } as const;

export interface Group {
  readonly stage: string;
  /** With the filter, whether they are listed or not. */
  readonly count: number;
  readonly findings: readonly Problem[];
}

export interface Grouped {
  readonly groups: readonly Group[];
  /** Stages that have findings, whatever the filter. */
  readonly stages: readonly string[];
  /** Left out because there are too many. */
  readonly more: number;
}

export function grouped(all: readonly Problem[], stage: string | null, words: string): Grouped {
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
  const titles = new Map<string, string>();
  const stageOf = ({ code }: Problem): string => {
    let title = titles.get(code);
    if (title === undefined) titles.set(code, (title = stageOwning(code).title));
    return title;
  };
  const byStage = new Map<string, Problem[]>();
  const stages = new Set<string>();
  for (const problem of all) {
    const own = stageOf(problem);
    stages.add(own);
    if (stage !== null && own !== stage) continue;
    const text = problem.message.toLowerCase();
    if (!wanted.every((word) => text.includes(word))) continue;
    const list = byStage.get(own);
    if (list) list.push(problem);
    else byStage.set(own, [problem]);
  }
  let room = mostShown;
  let more = 0;
  const groups = [...byStage].map(([title, found]): Group => {
    const findings = [...found].sort((p, q) => rank[p.severity] - rank[q.severity]).slice(0, room);
    room -= findings.length;
    more += found.length - findings.length;
    return { stage: title, count: found.length, findings };
  });
  return { groups, stages: [...stages], more };
}
