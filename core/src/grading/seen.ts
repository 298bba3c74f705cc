/** What relays see during faults near one of them: the basis of margins, flags and sensitivity. */
import { largestPhase } from '../faults/contributions';
import { magnitude } from '../linear/complex';
import { nameOf } from '../model/element';
import type { ElementId } from '../model/fields';
import { find, ofKind, type Network } from '../model/network';
import { terminalKey, type TerminalKey } from '../model/topology';
import type { Relay } from '../model/protection';
import { throughElement } from '../faults/iec60909/contributions';
import type { FaultKind } from '../faults/kinds';
import { toPhases } from '../sequence/components';
import { faultAt, faultFlows, iec60909Study, type Fault, type Iec60909Study } from '../faults/iec60909/study';
import type { TerminalCurrents } from '../faults/flows';
import type { Measured, SeenCurrents } from '../protection/overcurrent/relay';
import type { FaultCase } from '../sequence/stamp';

/** Both cases of one network, made once for all relays. */
export interface StudyPair {
  readonly max: Iec60909Study;
  readonly min: Iec60909Study;
}

export const studyPair = (network: Network): StudyPair => ({
  max: iec60909Study(network, 'max'),
  min: iec60909Study(network, 'min'),
});

export const kindsFor = (measured: Measured): readonly FaultKind[] =>
  measured === 'phase' ? ['3ph', '2ph'] : ['1ph', '2phE'];

/** One fault just beyond a relay's CT, and what any relay sees of it. */
export interface ProbedFault {
  readonly fault: Fault;
  readonly flows: TerminalCurrents;
  readonly study: Iec60909Study;
}

/** Currents at a relay's CT during a fault; null when the CT is not in the circuit, or lies in a ring of closed switches. */
export function seenBy(probe: ProbedFault, relay: Relay): SeenCurrents | null {
  if (relay.ct === null) return null;
  const through = throughElement(probe.fault, probe.flows, relay.ct);
  if (!through) return null;
  const phases = toPhases(through);
  return { phaseA: largestPhase(phases), residualA: magnitude(phases.residual) };
}

/**
 * A fault close to a relay's CT, on the side it protects. The share of the current that another relay sees does not change for
 * faults further on, as long as nothing feeds in beyond.
 */
export function closeInFault(
  studies: StudyPair,
  relay: Relay,
  faultCase: FaultCase,
  kind: FaultKind,
): ProbedFault | null {
  if (relay.ct === null) return null;
  const study = studies[faultCase];
  const result = faultAt(study, relay.ct, relay.towards, kind);
  return result.ok ? { fault: result.fault, flows: faultFlows(result.fault), study } : null;
}

/** Far ends of what a relay protects: the next nodes beyond the branches on its protected side, or its own busbar. */
export function farEnds(studies: StudyPair, relay: Relay): { element: ElementId; terminal: number }[] {
  if (relay.ct === null) return [];
  const { topology, network } = studies.max.assembly;
  const start = terminalKey(relay.ct, relay.towards);
  const node = topology.nodes[topology.nodeOf.get(start)!];
  const reached = new Set<TerminalKey>([start]);
  const queue = [...reached];
  const ends: { element: ElementId; terminal: number }[] = [];
  while (queue.length > 0) {
    const key = queue.pop()!;
    const [element, terminal] = [
      key.slice(0, key.lastIndexOf(':')) as ElementId,
      Number(key.slice(key.lastIndexOf(':') + 1)),
    ];
    const kind = network.elements.get(element)?.kind;
    if (kind === 'bus') return [{ element, terminal: 0 }];
    if (kind === 'line' || kind === 'transformer' || kind === 'seriesReactor')
      ends.push({ element, terminal: 1 - terminal });
    if (kind === 'threeWindingTransformer')
      for (const other of [0, 1, 2]) if (other !== terminal) ends.push({ element, terminal: other });
    for (const wire of node.wires) {
      if (wire.element === relay.ct) continue;
      for (const [here, there] of [
        [wire.from, wire.to],
        [wire.to, wire.from],
      ])
        if (here === key && !reached.has(there)) {
          reached.add(there);
          queue.push(there);
        }
    }
  }
  return ends;
}

export interface RelayFigures {
  /** Largest current for a close-in fault, by kind; primary amperes at the CT. */
  readonly closeIn: readonly FaultFigure[];
  /** Smallest current for a fault at the far end of what is protected. */
  readonly farEnd: readonly FaultFigure[];
}

export interface FaultFigure {
  readonly kind: FaultKind;
  readonly faultCase: FaultCase;
  readonly place: ElementId;
  /** Name of the bus there, or of the element at whose end it is. */
  readonly placeName: string;
  /** Nominal voltage at the fault in kV. */
  readonly nominalKv: number;
  readonly seen: SeenCurrents;
}

const allKinds: readonly FaultKind[] = ['3ph', '2ph', '2phE', '1ph'];

/** The fault figures a relay is set by: maximum close in, minimum at the far end. */
export function relayFigures(studies: StudyPair, relay: Relay): RelayFigures {
  const closeIn: FaultFigure[] = [];
  const farEnd: FaultFigure[] = [];
  for (const kind of allKinds) {
    const probe = closeInFault(studies, relay, 'max', kind);
    const seen = probe && seenBy(probe, relay);
    if (probe && seen)
      closeIn.push({
        kind,
        faultCase: 'max',
        place: relay.ct!,
        placeName: placeName(probe),
        nominalKv: probe.fault.nominalKv,
        seen,
      });
    for (const end of farEnds(studies, relay)) {
      const result = faultAt(studies.min, end.element, end.terminal, kind);
      if (!result.ok) continue;
      const far = { fault: result.fault, flows: faultFlows(result.fault), study: studies.min };
      const farSeen = seenBy(far, relay);
      if (farSeen)
        farEnd.push({
          kind,
          faultCase: 'min',
          place: end.element,
          placeName: placeName(far),
          nominalKv: result.fault.nominalKv,
          seen: farSeen,
        });
    }
  }
  return { closeIn, farEnd };
}

function placeName({ study, fault }: ProbedFault): string {
  const { topology, network } = study.assembly;
  const bus = topology.nodes[fault.node].buses[0];
  const { element } = fault.place;
  return bus ? bus.name : `end of ${nameOf(network.elements.get(element)!)}`;
}

/** Voltage ratio for referring a relay's currents to a level, by rated transformer ratios; falls back to nominal voltages. */
export function referenceFactor(study: Iec60909Study, relay: Relay, referenceKv: number): number | null {
  const { topology, level, part } = study.assembly;
  if (relay.ct === null) return null;
  const at = topology.nodeAt(relay.ct, 0);
  if (at === undefined) return null;
  const own = topology.nodes[at].nominalKv;
  if (own === referenceKv) return 1;
  // A bus of the wanted level in the same part of the network tells the exact ratio.
  for (const bus of ofKind(study.assembly.network, 'bus')) {
    if (bus.nominalKv !== referenceKv) continue;
    const node = topology.nodeAt(bus.id, 0)!;
    if (part[node] === part[at]) return level[at] / level[node];
  }
  return own === null ? null : own / referenceKv;
}

export const ctOf = (network: Network, relay: Relay) => find(network, 'currentTransformer', relay.ct);
