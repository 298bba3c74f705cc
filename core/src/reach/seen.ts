/** What a relay at an end of a line sees during a fault: the currents into the line and the voltages of its busbar, as phasors of the phases. */
import type { Assembly } from '../assembly/assemble';
import type { FaultCondition } from '../faults/kinds';
import type { Iec60909Study } from '../faults/iec60909/study';
import { nodeVoltages, terminalCurrents } from '../faults/solution/flows';
import { solveDisturbances, type Place, type Prefault } from '../faults/solution/solve';
import { zero } from '../linear/complex';
import type { ElementId } from '../model/fields';
import type { Problem } from '../model/problem';
import { terminalKey } from '../model/topology';
import type { ThreePhasors } from '../protection/family';
import {
  addComponents,
  noCurrents,
  scaleComponents,
  toPhases,
  turned,
  type SequenceValues,
} from '../sequence/components';
import { lookAt } from '../studies/seen';

/** An end of a line, by its terminal. */
export interface LineEnd {
  readonly line: ElementId;
  readonly terminal: number;
}

/** Amperes into the line and volts to earth, in the phase position of the end. */
export interface EndSeen {
  readonly currents: ThreePhasors;
  readonly voltages: ThreePhasors;
  readonly before: ThreePhasors;
}

export type SeenAtEnds =
  | { readonly ok: true; /** Null where the end is not connected. */ readonly ends: readonly (EndSeen | null)[] }
  | { readonly ok: false; readonly problems: readonly Problem[] };

const phasors = (values: SequenceValues): ThreePhasors => {
  const { l1, l2, l3 } = toPhases(values);
  return [l1, l2, l3];
};

/** Faults at a place by the equivalent voltage source, without load. */
export const seenAtEnds = (
  study: Iec60909Study,
  place: Place,
  conditions: readonly FaultCondition[],
  ends: readonly LineEnd[],
): SeenAtEnds[] => {
  const at = ends.map(({ line, terminal }) => ({ element: line, terminal }));
  return lookAt(study, place, conditions, { through: [], into: at, voltagesAt: at }).map((looked): SeenAtEnds => {
    if (!looked.ok) return looked;
    const { into, voltages, voltagesBefore } = looked.seen;
    return {
      ok: true,
      ends: ends.map((_, k): EndSeen | null => {
        const [current, during, before] = [into[k], voltages[k], voltagesBefore[k]];
        if (!current || !during || !before) return null;
        return { currents: phasors(current), voltages: phasors(during), before: phasors(before) };
      }),
    };
  });
};

/** A fault laid over a state that carries load: currents and voltages are those of both together. */
export function seenOverLoad(
  assembly: Assembly,
  prefault: Prefault,
  place: Place,
  condition: FaultCondition,
  ends: readonly LineEnd[],
): SeenAtEnds {
  const solved = solveDisturbances(assembly, prefault, [{ type: 'shunt', place, ...condition }]);
  if (!solved.ok) return solved;
  const { solution } = solved;
  const changes = terminalCurrents(assembly, solution);
  return {
    ok: true,
    ends: ends.map(({ line, terminal }): EndSeen | null => {
      const node = assembly.topology.nodeAt(line, terminal);
      if (node === undefined) return null;
      const lag = assembly.lag[node] - assembly.lag[solution.reference];
      const load = turned({ positive: prefault.currentInto(line, terminal), negative: zero, zero }, lag);
      const change = scaleComponents(changes.get(terminalKey(line, terminal)) ?? noCurrents, -1);
      const before = prefault.voltageAt(node);
      return {
        currents: phasors(addComponents(load, change)),
        voltages: phasors(nodeVoltages(assembly, solution, node, before)),
        before: phasors(turned({ positive: before, negative: zero, zero }, lag)),
      };
    }),
  };
}
