/** What caused the difference of a fault current between two sides: changes of the network and of the condition, one at a time. */
import type { FaultQuery, PlaceQuery, StudyQuery } from '../faults/answers/query';
import type { Condition } from '../model/condition';
import { elementId } from '../model/fields';
import { withElements, type Network } from '../model/network';
import { causesOf, conditionFactors, networkFactors, type Causes } from './causes';
import { FaultEngine } from './engine';

export interface SystemState {
  readonly network: Network;
  readonly condition: Condition;
}

const tried = elementId('mesura-tried');

/** In steps that yield the share that is done; null where the current does not exist on both sides. */
export function causesBetween(
  before: SystemState,
  after: SystemState,
  study: Omit<StudyQuery, 'condition'>,
  fault: FaultQuery,
  place: PlaceQuery,
): Generator<number, Causes | null> {
  const networks = networkFactors(before.network, after.network);
  const conditions = conditionFactors(after.network, before.condition, after.condition);
  const count = networks.factors.length;
  return causesOf([...networks.factors, ...conditions.factors], (made) => {
    const network = networks.with(new Set([...made].filter((k) => k < count)));
    if (!network) return null;
    const condition = conditions.with(new Set([...made].flatMap((k) => (k >= count ? [k - count] : []))));
    const here = withElements(network, [{ ...condition, id: tried, name: 'tried' }]);
    return new FaultEngine(here).row({ ...study, condition: tried }, fault, place).result?.ikA ?? null;
  });
}
