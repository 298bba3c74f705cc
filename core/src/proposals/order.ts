/** In which order pairs are graded: from the far end, rings last. */
import type { PairState } from '../grading/margin';
import type { GradingPair, Measured } from '../model/chart';
import type { ElementId } from '../model/fields';

/** A pair with the states that it is judged in. */
export interface Judged {
  readonly key: string;
  readonly mode: Measured;
  readonly pair: GradingPair;
  readonly states: readonly PairState[];
  /** Number of conditions in which they follow each other. */
  readonly conditions: number;
}

/** Upper devices of each lower one, in one quantity. */
function aboveIn(pairs: readonly Judged[], mode: Measured): (id: ElementId) => readonly ElementId[] {
  const up = new Map<ElementId, ElementId[]>();
  for (const { pair, mode: of } of pairs)
    if (of === mode) up.set(pair.downstream, [...(up.get(pair.downstream) ?? []), pair.upstream]);
  return (id) => up.get(id) ?? [];
}

/** Keys of the pairs whose upper device is, over others, followed by their lower one: no order puts one of them first. */
export function inRings(pairs: readonly Judged[]): ReadonlySet<string> {
  const found = new Set<string>();
  for (const mode of new Set(pairs.map((each) => each.mode))) {
    const above = aboveIn(pairs, mode);
    const reached = new Map<ElementId, ReadonlySet<ElementId>>();
    const reach = (start: ElementId): ReadonlySet<ElementId> => {
      let seen = reached.get(start);
      if (!seen) {
        const open = new Set(above(start));
        for (const id of open) for (const next of above(id)) open.add(next);
        reached.set(start, (seen = open));
      }
      return seen;
    };
    for (const { key, pair, mode: of } of pairs)
      if (of === mode && reach(pair.upstream).has(pair.downstream)) found.add(key);
  }
  return found;
}

/** Those at the far end first: what follows them is then raised once, not again and again. Of pairs without rings. */
export function fromBelow(pairs: readonly Judged[]): readonly Judged[] {
  const above = new Map<ElementId, Judged[]>();
  for (const each of pairs) above.set(each.pair.downstream, [...(above.get(each.pair.downstream) ?? []), each]);
  const depths = new Map<ElementId, number>();
  const open = pairs.map(({ pair }): [ElementId, number] => [pair.downstream, 0]);
  while (open.length > 0) {
    const [id, depth] = open.pop()!;
    if (depth < (depths.get(id) ?? 0) || depth > pairs.length) continue;
    if (depths.get(id) === depth && depth > 0) continue;
    depths.set(id, depth);
    for (const { pair } of above.get(id) ?? []) open.push([pair.upstream, depth + 1]);
  }
  const depthOf = ({ pair }: Judged) => depths.get(pair.upstream) ?? 0;
  return [...pairs].sort((p, q) => depthOf(p) - depthOf(q) || (p.key < q.key ? -1 : 1));
}

/** Pairs that are to hold, by the lower device. */
export class Climb {
  readonly above = new Map<ElementId, readonly Judged[]>();

  constructor(
    pairs: readonly Judged[],
    /** Those that cannot be raised any further. */
    readonly stuck = new Set<string>(),
    /** One more pair is tried: what held before must not suffer. */
    readonly isTried = false,
  ) {
    for (const each of pairs) this.add(each);
  }

  add(judged: Judged): void {
    const { downstream } = judged.pair;
    this.above.set(downstream, [...(this.above.get(downstream) ?? []), judged]);
  }

  with(judged: Judged): Climb {
    return new Climb([...[...this.above.values()].flat(), judged], new Set(this.stuck), true);
  }
}
