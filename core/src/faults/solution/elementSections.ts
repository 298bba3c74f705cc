/** The part of a working that all methods share: the impedances of the elements that carry the fault current. */
import type { ElementId } from '../../model/fields';
import { contextFor, type Assembly } from '../../assembly/assemble';
import { toPhases } from '../../sequence/components';
import { sequenceModel } from '../../sequence/models';
import type { Section, Trace } from '../../working/trace';
import { largestPhase, type FaultState } from './contributions';
import type { TerminalCurrents } from './flows';

export interface Working {
  readonly title: string;
  readonly sections: readonly Section[];
  /** Elements that carry current in this fault but were left out to keep the page readable. */
  readonly omitted: number;
}

const mostElements = 40;

/** Elements that carry fault current, by its size referred to one level, so that a transformer's sides and all voltages compare. */
export function carryingElements({ assembly }: FaultState, flows: TerminalCurrents): ElementId[] {
  const { topology, level } = assembly;
  const size = new Map<ElementId, number>();
  for (const [key, current] of flows) {
    const id = key.slice(0, key.lastIndexOf(':')) as ElementId;
    const referred = largestPhase(toPhases(current)) * level[topology.nodeOf.get(key)!];
    size.set(id, Math.max(size.get(id) ?? 0, referred));
  }
  const largest = Math.max(...size.values(), 0);
  return [...size]
    .filter(([, value]) => value > largest * 1e-9)
    .sort((p, q) => q[1] - p[1])
    .map(([id]) => id);
}

/** Writes a section for each element, as its sequence model runs; returns how many were left out. */
export function elementSections(assembly: Assembly, elements: readonly ElementId[], trace: Trace): number {
  const { network, topology, options } = assembly;
  const context = contextFor(network, topology, options, trace);
  for (const id of elements.slice(0, mostElements)) sequenceModel(network.elements.get(id)!, context);
  return Math.max(0, elements.length - mostElements);
}
