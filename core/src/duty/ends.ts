/** Faults at the ends of elements with an impedance: lines, transformers, reactors. */
import { terminalPlace, type Fault, type Iec60909Study } from '../faults/iec60909/study';
import { solidFault, type FaultKind } from '../faults/kinds';
import { largestPhase } from '../faults/solution/contributions';
import type { Condition } from '../model/condition';
import type { ElementId } from '../model/fields';
import { toPhases, type SequenceCurrents } from '../sequence/components';
import { lookAt } from '../studies/seen';
import type { Studies } from '../studies/studies';
import { dutyKinds } from './through';

/** A fault at a terminal of an element with an impedance, and what flows into it. */
export interface EndFault {
  readonly study: Iec60909Study;
  readonly condition: ElementId;
  readonly kind: FaultKind;
  readonly fault: Fault;
  /** Into the element at each of its terminals. */
  readonly into: readonly (SequenceCurrents | null)[];
  readonly at: number;
}

/** Faults at the terminals of an element with what flows into it. */
export function endFaults(
  studies: Studies,
  conditions: readonly Condition[],
  element: ElementId,
  terminals: readonly number[],
): EndFault[] {
  const watch = { through: [], into: [0, 1].map((terminal) => ({ element, terminal })) };
  return conditions.flatMap(({ id: condition }) => {
    const study = studies.iec60909({ condition });
    return terminals.flatMap((at) =>
      lookAt(study, terminalPlace(element, at), dutyKinds.map(solidFault), watch).flatMap((looked, k): EndFault[] =>
        looked.ok
          ? [{ study, condition, kind: dutyKinds[k], fault: looked.seen.fault, into: looked.seen.into, at }]
          : [],
      ),
    );
  });
}

export const largestOf = (components: SequenceCurrents): number => largestPhase(toPhases(components));
