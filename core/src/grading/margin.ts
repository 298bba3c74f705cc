/**
 * Grading margin of a pair over the currents that both relays see. The network is linear: for faults beyond the downstream relay
 * the currents at both relays keep their proportion. So each fault state close in is scaled from its full size down to where one
 * of them stops picking up, and the smallest difference of times is looked for on the way.
 */
import type { ElementId } from '../model/fields';
import { find, settingsOf, type Network } from '../model/network';
import type { FunctionCode, GradingPair, Relay } from '../model/protection';
import type { FaultKind } from '../faults/kinds';
import { dependentTimeLimit } from '../protection/overcurrent/characteristics';
import {
  functionTime,
  isDefinite,
  primaryRelay,
  tripTime,
  type Measured,
  type PrimaryRelay,
  type SeenCurrents,
} from '../protection/overcurrent/relay';
import type { FaultCase } from '../sequence/stamp';
import { closeInFault, ctOf, kindsFor, seenBy, type StudyPair } from './seen';

/** Both relays in one fault state, in primary amperes at each. */
export interface PairState {
  readonly kind: FaultKind;
  readonly faultCase: FaultCase;
  readonly downstream: SeenCurrents;
  readonly upstream: SeenCurrents;
}

/** The state and scale with the smallest margin. */
export interface DecisivePoint {
  readonly kind: FaultKind;
  readonly faultCase: FaultCase;
  /** Share of the full fault state, in (0, 1]. */
  readonly scale: number;
  readonly downstreamA: number;
  readonly upstreamA: number;
  readonly downstreamS: number;
  readonly upstreamS: number;
  readonly marginS: number;
  /** Functions that trip at this point. */
  readonly downstreamBy: FunctionCode;
  readonly upstreamBy: FunctionCode;
}

export type Verdict = 'holds' | 'short' | 'blind' | 'noBackup' | 'unknown';

export interface PairMargin {
  readonly pair: GradingPair;
  readonly wantedS: number;
  readonly verdict: Verdict;
  readonly decisive: DecisivePoint | null;
  /** Below this current at the downstream relay, in amperes, only the upstream one picks up; null when the pickups grade. */
  readonly upstreamFirstBelowA: number | null;
  /** In plain words, what stands behind the verdict when there is no decisive point. */
  readonly reason: string;
}

/** States of a pair: each kind of fault close beyond the downstream relay, in both cases. */
export function pairStates(studies: StudyPair, downstream: Relay, upstream: Relay, measured: Measured): PairState[] {
  const states: PairState[] = [];
  for (const faultCase of ['max', 'min'] as const)
    for (const kind of kindsFor(measured)) {
      const probe = closeInFault(studies, downstream, faultCase, kind);
      const below = probe && seenBy(probe, downstream);
      const above = probe && seenBy(probe, upstream);
      if (below && above) states.push({ kind, faultCase, downstream: below, upstream: above });
    }
  return states;
}

const scaled = (seen: SeenCurrents, scale: number): SeenCurrents => ({
  phaseA: seen.phaseA * scale,
  residualA: seen.residualA * scale,
});

/**
 * Dependent times count from this multiple of pickup: below it a relay may or may not operate and its time grows without bound
 * (IEC 60255-151, 4.4.2: the effective range begins above the setting).
 */
export const assuredMultiple = 1.1;

/** The quickest of the functions that operate with assurance; null when none does. */
function assuredTrip(relay: PrimaryRelay, seen: SeenCurrents): { timeS: number; by: FunctionCode } | null {
  let best: { timeS: number; by: FunctionCode } | null = null;
  for (const fn of relay.functions) {
    const currentA = fn.measured === 'phase' ? seen.phaseA : seen.residualA;
    if (!isDefinite(fn.source) && currentA < assuredMultiple * fn.pickupA) continue;
    const timeS = functionTime(fn, currentA);
    if (Number.isFinite(timeS) && (!best || timeS < best.timeS)) best = { timeS, by: fn.source.code };
  }
  return best;
}

/** Largest current at the downstream relay, in amperes, at which the upstream one picks up and the downstream one does not; null when there is none. */
export function upstreamFirstBelow(
  states: readonly PairState[],
  downstream: PrimaryRelay,
  upstream: PrimaryRelay,
  measured: Measured,
): number | null {
  let worst: number | null = null;
  for (const state of states) {
    const startOf = (relay: PrimaryRelay, seen: SeenCurrents) =>
      Math.min(...relay.functions.map((fn) => fn.pickupA / (fn.measured === 'phase' ? seen.phaseA : seen.residualA)));
    const below = startOf(downstream, state.downstream);
    if (startOf(upstream, state.upstream) >= below || below > 1) continue;
    const currentA = below * (measured === 'phase' ? state.downstream.phaseA : state.downstream.residualA);
    worst = Math.max(worst ?? 0, currentA);
  }
  return worst;
}

/** Smallest margin of a pair in one state over all scales at which both trip; null when they never do together. */
export function decisiveIn(
  state: PairState,
  downstream: PrimaryRelay,
  upstream: PrimaryRelay,
  measured: Measured,
): DecisivePoint | null {
  const at = (scale: number): DecisivePoint | null => {
    const below = scaled(state.downstream, scale);
    const above = scaled(state.upstream, scale);
    const first = assuredTrip(downstream, below);
    const second = assuredTrip(upstream, above);
    if (!first || !second) return null;
    const currentOf = (seen: SeenCurrents) => (measured === 'phase' ? seen.phaseA : seen.residualA);
    return {
      kind: state.kind,
      faultCase: state.faultCase,
      scale,
      downstreamA: currentOf(below),
      upstreamA: currentOf(above),
      downstreamS: first.timeS,
      upstreamS: second.timeS,
      marginS: second.timeS - first.timeS,
      downstreamBy: first.by,
      upstreamBy: second.by,
    };
  };
  const scales = breakpoints(state, downstream, upstream);
  let best: DecisivePoint | null = null;
  const consider = (point: DecisivePoint | null) => {
    if (point && (!best || point.marginS < best.marginS)) best = point;
  };
  for (let k = 0; k + 1 < scales.length; k++) {
    // Between two breakpoints both times are smooth: a coarse walk finds the valley, golden section its floor.
    const lowest = walk(scales[k] * (1 + 1e-9), scales[k + 1], (scale) => at(scale)?.marginS ?? Infinity);
    consider(at(lowest));
  }
  consider(at(1));
  return best;
}

/** Scales at which a function of either relay picks up or reaches the end of its dependent range, between 0 and 1. */
function breakpoints(state: PairState, downstream: PrimaryRelay, upstream: PrimaryRelay): number[] {
  const scales = [1];
  for (const [relay, seen] of [
    [downstream, state.downstream],
    [upstream, state.upstream],
  ] as const)
    for (const fn of relay.functions) {
      const full = fn.measured === 'phase' ? seen.phaseA : seen.residualA;
      for (const multiple of [1, assuredMultiple, dependentTimeLimit]) {
        const scale = (multiple * fn.pickupA) / full;
        if (scale < 1) scales.push(scale);
      }
    }
  return [...new Set(scales)].sort((p, q) => p - q);
}

function walk(from: number, to: number, f: (x: number) => number): number {
  if (!(to > from)) return to;
  const steps = 24;
  const x = (k: number) => from * (to / from) ** (k / steps);
  let best = 0;
  for (let k = 1; k <= steps; k++) if (f(x(k)) < f(x(best))) best = k;
  let [a, b] = [x(Math.max(best - 1, 0)), x(Math.min(best + 1, steps))];
  const golden = (Math.sqrt(5) - 1) / 2;
  for (let k = 0; k < 28; k++) {
    const [p, q] = [b - golden * (b - a), a + golden * (b - a)];
    if (f(p) < f(q)) b = q;
    else a = p;
  }
  const middle = (a + b) / 2;
  return [x(best), middle].reduce((p, q) => (f(q) < f(p) ? q : p));
}

/** Judges a pair. Relays may be given with settings that are not stored yet (a curve under the pointer). */
export function pairMargin(
  network: Network,
  states: readonly PairState[],
  pair: GradingPair,
  measured: Measured,
  edited: ReadonlyMap<ElementId, Relay> = new Map(),
): PairMargin {
  const wantedS = pair.wantedMarginS ?? settingsOf(network).wantedMarginS;
  const unknown = (reason: string): PairMargin => ({
    pair,
    wantedS,
    verdict: 'unknown',
    decisive: null,
    upstreamFirstBelowA: null,
    reason,
  });
  const relayOf = (id: ElementId) => edited.get(id) ?? find(network, 'relay', id);
  const below = relayOf(pair.downstream);
  const above = relayOf(pair.upstream);
  const belowCt = below && ctOf(network, below);
  const aboveCt = above && ctOf(network, above);
  if (!below || !above) return unknown('a relay of this pair does not exist any more');
  if (!belowCt || !aboveCt) return unknown(`${belowCt ? above.name : below.name} measures at no current transformer`);
  if (states.length === 0)
    return unknown('no fault current reaches both: check the supply, or a ring of closed switches around a CT');

  const downstream = primaryRelay(below, belowCt);
  const upstream = primaryRelay(above, aboveCt);
  const seesFull = (relay: PrimaryRelay, side: 'downstream' | 'upstream') =>
    states.some((state) => Number.isFinite(tripTime(relay, state[side]).timeS));
  const judge = (verdict: Verdict, reason: string): PairMargin => ({
    pair,
    wantedS,
    verdict,
    decisive: null,
    upstreamFirstBelowA: null,
    reason,
  });
  if (!seesFull(downstream, 'downstream')) return judge('blind', `${below.name} picks up for no fault close to it`);
  if (!seesFull(upstream, 'upstream'))
    return judge('noBackup', `${above.name} does not see faults beyond ${below.name}`);

  const points = states
    .map((state) => decisiveIn(state, downstream, upstream, measured))
    .filter((point) => point !== null);
  if (points.length === 0) return judge('noBackup', 'at no current do both pick up');
  const decisive = points.reduce((p, q) => (q.marginS < p.marginS ? q : p));
  const holds = decisive.marginS >= wantedS - 1e-9;
  const upstreamFirstBelowA = upstreamFirstBelow(states, downstream, upstream, measured);
  return { pair, wantedS, verdict: holds ? 'holds' : 'short', decisive, upstreamFirstBelowA, reason: '' };
}
