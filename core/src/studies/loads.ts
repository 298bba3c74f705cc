/** Load currents over conditions: the largest and the smallest of every end of a branch, and through every switch and current transformer. */
import { busCurrent, flowFigures, type FlowFigures } from '../flow/figures';
import type { Condition } from '../model/condition';
import type { ElementId } from '../model/fields';
import { ofKind } from '../model/network';
import type { Studies } from './studies';

/** Of an element at one of its terminals; `through` it from terminal 0 to 1, or along a busbar. */
export type LoadPlace = `${ElementId}:${number | 'through'}`;

export interface LoadFigure {
  readonly ampere: number;
  readonly mw: number;
  readonly mvar: number;
  readonly condition: ElementId;
}

export interface LoadRange {
  readonly largest: LoadFigure;
  readonly smallest: LoadFigure;
}

/** Figures of the load flow in a condition; those of one that has not converged stand for nothing. */
export const flowIn = (studies: Studies, condition: ElementId): FlowFigures =>
  studies.remembered(
    `flow figures ${condition} ${JSON.stringify(studies.conditions.find(({ id }) => id === condition))}`,
    () => flowFigures(studies.flow({ condition })),
  );

/** Load at every place in one condition; empty where the load flow does not converge. */
function loadsIn(studies: Studies, condition: ElementId): Map<LoadPlace, LoadFigure> {
  const loads = new Map<LoadPlace, LoadFigure>();
  const figures = flowIn(studies, condition);
  if (!figures.converged) return loads;
  for (const { ends } of figures.branches)
    for (const { element, terminal, ampere, mw, mvar } of ends)
      loads.set(`${element}:${terminal}`, { ampere, mw, mvar, condition });
  for (const { element, terminal, ampere, mw, mvar } of figures.loads)
    loads.set(`${element}:${terminal}`, { ampere, mw, mvar, condition });
  for (const { element, terminal, mw, mvar, kv } of figures.sources)
    loads.set(`${element}:${terminal}`, {
      ampere: kv === 0 ? 0 : (Math.hypot(mw, mvar) * 1000) / (Math.sqrt(3) * kv),
      mw,
      mvar,
      condition,
    });
  for (const { element, ampere, mw, mvar } of figures.through)
    loads.set(`${element}:through`, { ampere, mw, mvar, condition });
  const flow = studies.flow({ condition });
  for (const { id } of ofKind(flow.assembly.network, 'bus'))
    loads.set(`${id}:through`, { ampere: busCurrent(flow, id), mw: 0, mvar: 0, condition });
  return loads;
}

/** The largest and the smallest over conditions; a place that a condition takes out of service does not count in it. */
export function loadRanges(studies: Studies, conditions: readonly Condition[]): ReadonlyMap<LoadPlace, LoadRange> {
  return studies.remembered(`load ranges ${JSON.stringify(conditions)}`, () => {
    const ranges = new Map<LoadPlace, LoadRange>();
    for (const { id } of conditions)
      for (const [place, figure] of loadsIn(studies, id)) {
        const known = ranges.get(place);
        ranges.set(place, {
          largest: known && known.largest.ampere >= figure.ampere ? known.largest : figure,
          smallest: known && known.smallest.ampere <= figure.ampere ? known.smallest : figure,
        });
      }
    return ranges;
  });
}

/** Where the load of an element with a rating is looked at. */
export const loadPlaces = (id: ElementId, kind: string, terminals: number): LoadPlace[] =>
  kind === 'switch' || kind === 'currentTransformer' || kind === 'bus'
    ? [`${id}:through`]
    : Array.from({ length: terminals }, (_, terminal): LoadPlace => `${id}:${terminal}`);
