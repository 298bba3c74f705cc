/**
 * What is seen at chosen places during several faults at once, broken conductors among them: the same as `seen` tells of one fault, from the currents of the whole
 * network.
 */
import { zero } from '../linear/complex';
import { prefaultOf, raisedBy, simultaneousFaults, solvedFlows, type Iec60909Study } from '../faults/iec60909/study';
import { nodeVoltages } from '../faults/solution/flows';
import type { Disturbance, DisturbanceResult } from '../faults/solution/solve';
import type { Problem } from '../model/problem';
import { terminalKey, type TerminalKey } from '../model/topology';
import { addComponents, noCurrents, scaleComponents, turned, type SequenceCurrents } from '../sequence/components';
import { cutAt } from './cut';
import type { Sighting, Watch } from './seen';

export type SeenTogether =
  | {
      readonly ok: true;
      readonly seen: Omit<Sighting, 'fault'>;
      /** Of each disturbance, in the order given. */
      readonly results: readonly DisturbanceResult[];
    }
  | { readonly ok: false; readonly problems: readonly Problem[] };

/** Currents and voltages in the phase position of their own nodes. Problems as in `simultaneousFaults`. */
export function lookTogether(study: Iec60909Study, disturbances: readonly Disturbance[], watch: Watch): SeenTogether {
  const solved = simultaneousFaults(study, disturbances);
  if (!solved.ok) return solved;
  const { assembly } = study;
  const { network, topology, lag } = assembly;
  const { solution, results } = solved;
  const flows = solvedFlows(study, solution);
  const raised = raisedBy(study, solution.ports[0]);
  const prefault = prefaultOf(study, solution.reference, raised);
  const drawn = new Map<TerminalKey, SequenceCurrents>();
  disturbances.forEach((each, k) => {
    if (each.type !== 'shunt' || each.place.at !== 'terminal') return;
    const key = terminalKey(each.place.element, each.place.terminal);
    // As the flows do, each result stands in the phase position of its own place.
    drawn.set(key, addComponents(drawn.get(key) ?? noCurrents, results[k].current));
  });
  const through = watch.through.map((element): SequenceCurrents | null => {
    const cut = cutAt(network, topology, element);
    if (!cut) return null;
    let sum: SequenceCurrents = noCurrents;
    for (const { key } of cut.carrying) sum = addComponents(sum, flows.get(key) ?? noCurrents);
    for (const [key, current] of drawn) if (cut.keys.has(key)) sum = addComponents(sum, scaleComponents(current, -1));
    return cut.side === 0 ? sum : scaleComponents(sum, -1);
  });
  const nodes = (watch.voltagesAt ?? []).map(({ element, terminal }) => topology.nodeAt(element, terminal));
  const before = (node: number) => prefault.voltageAt(node);
  const lagAt = (node: number) => lag[node] - lag[solution.reference];
  return {
    ok: true,
    results,
    seen: {
      through,
      voltages: nodes.map((node) => (node === undefined ? null : nodeVoltages(assembly, solution, node, before(node)))),
      voltagesBefore: nodes.map((node) =>
        node === undefined ? null : turned({ positive: before(node), negative: zero, zero }, lagAt(node)),
      ),
      into: (watch.into ?? []).map(({ element, terminal }) =>
        topology.nodeAt(element, terminal) === undefined
          ? null
          : scaleComponents(flows.get(terminalKey(element, terminal)) ?? noCurrents, -1),
      ),
    },
  };
}
