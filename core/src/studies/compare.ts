/** Two conditions, or two states of the project, against each other: fault currents bus by bus. */
import type { FaultQuery, StudyQuery } from '../faults/answers/query';
import type { ElementId } from '../model/fields';
import type { FaultEngine } from './engine';

export interface BusDifference {
  readonly bus: ElementId;
  readonly name: string;
  readonly nominalKv: number;
  /** Initial currents in amperes; null where there is no such fault, or no such bus. */
  readonly beforeA: number | null;
  readonly afterA: number | null;
  /** After less before. */
  readonly differenceA: number | null;
  /** Of the current before; null where that is nought. */
  readonly percent: number | null;
}

/** One side of a comparison. */
export interface Side {
  readonly engine: FaultEngine;
  readonly study: StudyQuery;
}

/** Differences at all buses of either side, largest first; in steps that yield the share that is done. */
export function* compareFaults(before: Side, after: Side, fault: FaultQuery): Generator<number, BusDifference[]> {
  interface Found {
    readonly name: string;
    readonly nominalKv: number;
    readonly values: [number | null, number | null];
  }
  const found = new Map<ElementId, Found>();
  const [first, second] = [before.engine.buses(), after.engine.buses()];
  const total = first.length + second.length;
  let done = 0;
  yield 0;
  for (const [side, { engine, study }] of [before, after].entries())
    for (const place of side === 0 ? first : second) {
      const row = engine.row(study, fault, place);
      const entry = found.get(place.element) ?? { name: row.name, nominalKv: row.nominalKv, values: [null, null] };
      entry.values[side] = row.result?.ikA ?? null;
      found.set(place.element, entry);
      yield ++done / total;
    }
  return [...found]
    .map(
      ([
        bus,
        {
          name,
          nominalKv,
          values: [beforeA, afterA],
        },
      ]): BusDifference => {
        const differenceA = beforeA === null || afterA === null ? null : afterA - beforeA;
        const percent = differenceA === null || !beforeA ? null : (100 * differenceA) / beforeA;
        return { bus, name, nominalKv, beforeA, afterA, differenceA, percent };
      },
    )
    .sort((p, q) => Math.abs(q.percent ?? Infinity) - Math.abs(p.percent ?? Infinity));
}
