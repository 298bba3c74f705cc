/**
 * Grading margin of a pair over the currents that both devices see. The network is linear: for faults beyond the downstream device
 * the currents at both keep their proportion. So each fault state close in is scaled from its full size down to where one
 * of them stops picking up, and the smallest difference is looked for on the way: earliest operation upstream less latest operation downstream.
 */
import type { FaultKind } from '../faults/kinds';
import type { Condition } from '../model/condition';
import type { ElementId } from '../model/fields';
import { settingsOf, type Network } from '../model/network';
import type { GradingPair, Measured } from '../model/protection';
import { curvesOf, measuredBy, operatingTime, quantityOfMode, type Curves } from '../protection/curve';
import { deviceFrom, deviceOf, type Device, type DeviceElement } from '../protection/device';
import type { Band, DeviceSeen, TimeCurrent } from '../protection/family';
import { seenBy } from '../protection/seen';
import { closeInPlace } from '../protection/zone';
import type { Studies } from '../studies/studies';
import { conditionsKey, kindsFor, placeKey } from './figures';

/** Both devices in one fault state, in primary amperes at each of their inputs. */
export interface PairState {
  readonly kind: FaultKind;
  readonly condition: ElementId;
  readonly downstream: DeviceSeen;
  readonly upstream: DeviceSeen;
}

/** The state and scale with the smallest margin. */
export interface DecisivePoint {
  readonly kind: FaultKind;
  readonly condition: ElementId;
  /** Share of the full fault state, in (0, 1]. */
  readonly scale: number;
  readonly downstreamA: number;
  readonly upstreamA: number;
  /** Latest operation of the one below. */
  readonly downstreamS: number;
  /** Earliest operation of the one above. */
  readonly upstreamS: number;
  readonly marginS: number;
  /** Functions that trip at this point. */
  readonly downstreamBy: string;
  readonly upstreamBy: string;
}

export type Verdict = 'holds' | 'short' | 'blind' | 'noBackup' | 'unknown';

export interface PairMargin {
  readonly pair: GradingPair;
  readonly wantedS: number;
  readonly verdict: Verdict;
  readonly decisive: DecisivePoint | null;
  /** Below this current at the downstream device, in amperes, only the upstream one picks up; null when the pickups grade. */
  readonly upstreamFirstBelowA: number | null;
  /** In plain words, what stands behind the verdict when there is no decisive point. */
  readonly reason: string;
}

/** States of a pair: each kind of fault close beyond the downstream device, in every condition. Found once. */
export const pairStates = (
  studies: Studies,
  downstream: Device,
  upstream: Device,
  measured: Measured,
  conditions: readonly Condition[],
): readonly PairState[] =>
  studies.remembered(
    `pair ${measured} ${placeKey(downstream)} ${placeKey(upstream)} ${conditionsKey(conditions)}`,
    () => statesOf(studies, downstream, upstream, measured, conditions),
  );

function statesOf(
  studies: Studies,
  downstream: Device,
  upstream: Device,
  measured: Measured,
  conditions: readonly Condition[],
): PairState[] {
  const place = closeInPlace(downstream);
  if (!place) return [];
  const kinds = kindsFor(measured);
  return conditions.flatMap(({ id }) =>
    seenBy(studies.iec60909({ condition: id }), place, kinds, [downstream, upstream]).flatMap((seen, k) => {
      const [below, above] = seen?.devices ?? [];
      return below && above ? [{ kind: kinds[k], condition: id, downstream: below, upstream: above }] : [];
    }),
  );
}

/** A function with what it measures in one full state. */
interface Measuring {
  readonly fn: TimeCurrent;
  readonly fullA: number;
}

const measuring = ({ functions }: Curves, seen: DeviceSeen): readonly Measuring[] =>
  functions.map((fn) => ({ fn, fullA: measuredBy(fn, seen) }));

/** The quickest of the functions that operate with assurance at a share of the full state; null when none does. `edge` is what makes it quick. */
function assuredOperation(functions: readonly Measuring[], scale: number, edge: keyof Band): Measuring | null {
  let best: Measuring | null = null;
  let bestS = Infinity;
  for (const each of functions) {
    const timeS = assuredTime(each, scale, edge);
    if (timeS < bestS) [best, bestS] = [each, timeS];
  }
  return best;
}

function assuredTime({ fn, fullA }: Measuring, scale: number, edge: keyof Band): number {
  const currentA = fullA * scale;
  return currentA < fn.assuredA ? Infinity : fn.at(currentA)[edge];
}

/** Current that stands for a device on a chart of this mode, in one state: at the first of its inputs. */
const standingFor = ({ device }: Curves, seen: DeviceSeen, measured: Measured): number => {
  const input = device.inputs[0]?.id;
  return input === undefined ? 0 : measuredBy({ input, quantity: quantityOfMode[measured] }, seen);
};

/** Largest current at the downstream device, in amperes, at which the upstream one picks up and the downstream one does not; null when there is none. */
export function upstreamFirstBelow(
  states: readonly PairState[],
  downstream: Curves,
  upstream: Curves,
  measured: Measured,
): number | null {
  let worst: number | null = null;
  for (const state of states) {
    const startOf = ({ functions }: Curves, seen: DeviceSeen) =>
      Math.min(...functions.map((fn) => fn.pickupA / measuredBy(fn, seen)));
    const below = startOf(downstream, state.downstream);
    if (startOf(upstream, state.upstream) >= below || below > 1) continue;
    const currentA = below * standingFor(downstream, state.downstream, measured);
    worst = Math.max(worst ?? 0, currentA);
  }
  return worst;
}

/** The point of one state with the smallest margin; null when they never both operate. */
export function decisiveIn(
  state: PairState,
  downstream: Curves,
  upstream: Curves,
  measured: Measured,
): DecisivePoint | null {
  const below = measuring(downstream, state.downstream);
  const above = measuring(upstream, state.upstream);
  const quickest = (functions: readonly Measuring[], scale: number, edge: keyof Band): number => {
    let timeS = Infinity;
    for (const each of functions) timeS = Math.min(timeS, assuredTime(each, scale, edge));
    return timeS;
  };
  /** Infinity where they do not both operate. */
  const marginAt = (scale: number): number => {
    const first = quickest(below, scale, 'latestS');
    return first === Infinity ? Infinity : quickest(above, scale, 'earliestS') - first;
  };
  const scales = breakpoints(below, above);
  let best: { scale: number; marginS: number } | null = null;
  const consider = (scale: number) => {
    const marginS = marginAt(scale);
    if (marginS < (best?.marginS ?? Infinity)) best = { scale, marginS };
  };
  // Between two breakpoints both times are smooth: a coarse walk finds the valley, golden section its floor.
  for (let k = 0; k + 1 < scales.length; k++) consider(walk(scales[k] * (1 + 1e-9), scales[k + 1], marginAt));
  consider(1);
  if (!best) return null;
  const { scale } = best as { scale: number };
  const first = assuredOperation(below, scale, 'latestS')!;
  const second = assuredOperation(above, scale, 'earliestS')!;
  const downstreamS = first.fn.at(first.fullA * scale).latestS;
  const upstreamS = second.fn.at(second.fullA * scale).earliestS;
  return {
    kind: state.kind,
    condition: state.condition,
    scale,
    downstreamA: standingFor(downstream, state.downstream, measured) * scale,
    upstreamA: standingFor(upstream, state.upstream, measured) * scale,
    downstreamS,
    upstreamS,
    marginS: upstreamS - downstreamS,
    downstreamBy: first.fn.code,
    upstreamBy: second.fn.code,
  };
}

/** Scales at which a curve of either device begins, steps or bends, between 0 and 1. */
function breakpoints(below: readonly Measuring[], above: readonly Measuring[]): number[] {
  const scales = [1];
  for (const { fn, fullA } of [...below, ...above])
    for (const cornerA of fn.cornersA) {
      const scale = cornerA / fullA;
      if (scale < 1) scales.push(scale);
    }
  return [...new Set(scales)].sort((p, q) => p - q);
}

function walk(from: number, to: number, f: (x: number) => number): number {
  if (!(to > from)) return to;
  const steps = 24;
  const x = (k: number) => from * (to / from) ** (k / steps);
  let best = 0;
  let least = f(from);
  for (let k = 1; k <= steps; k++) {
    const here = f(x(k));
    if (here < least) [best, least] = [k, here];
  }
  let [a, b] = [x(Math.max(best - 1, 0)), x(Math.min(best + 1, steps))];
  const golden = (Math.sqrt(5) - 1) / 2;
  let [p, q] = [b - golden * (b - a), a + golden * (b - a)];
  let [fp, fq] = [f(p), f(q)];
  for (let k = 0; k < 28; k++) {
    if (fp < fq) {
      [b, q, fq] = [q, p, fp];
      p = b - golden * (b - a);
      fp = f(p);
    } else {
      [a, p, fp] = [p, q, fq];
      q = a + golden * (b - a);
      fq = f(q);
    }
  }
  const middle = (a + b) / 2;
  return f(middle) < least ? middle : x(best);
}

/** Judges a pair. Devices may be given with settings that are not stored yet (a curve under the pointer). */
export function pairMargin(
  network: Network,
  states: readonly PairState[],
  pair: GradingPair,
  measured: Measured,
  edited: ReadonlyMap<ElementId, DeviceElement> = new Map(),
): PairMargin {
  const wantedS = pair.wantedMarginS ?? settingsOf(network).wantedMarginS;
  const judge = (verdict: Verdict, reason: string): PairMargin => ({
    pair,
    wantedS,
    verdict,
    decisive: null,
    upstreamFirstBelowA: null,
    reason,
  });
  const deviceAt = (id: ElementId) => {
    const element = edited.get(id);
    return element ? deviceFrom(network, element) : deviceOf(network, id);
  };
  const below = deviceAt(pair.downstream);
  const above = deviceAt(pair.upstream);
  if (!below || !above) return judge('unknown', 'a device of this pair does not exist any more');
  const homeless = [below, above].find(({ inputs }) => inputs.length === 0);
  if (homeless) return judge('unknown', `${homeless.name} measures at no current transformer`);
  if (states.length === 0)
    return judge(
      'unknown',
      'no fault current reaches both: check the supply, or a ring of closed switches around a CT',
    );
  const downstream = curvesOf(below);
  const upstream = curvesOf(above);
  const seesFull = (curves: Curves, side: 'downstream' | 'upstream') =>
    states.some((state) => Number.isFinite(operatingTime(curves, state[side]).timeS));
  if (!seesFull(downstream, 'downstream')) return judge('blind', `${below.name}: no pickup for close-in faults`);
  if (!seesFull(upstream, 'upstream'))
    return judge('noBackup', `${above.name}: no pickup for faults beyond ${below.name}`);
  const points = states
    .map((state) => decisiveIn(state, downstream, upstream, measured))
    .filter((point) => point !== null);
  if (points.length === 0) return judge('noBackup', 'no common pickup range');
  const decisive = points.reduce((p, q) => (q.marginS < p.marginS ? q : p));
  const holds = decisive.marginS >= wantedS - 1e-9;
  const upstreamFirstBelowA = upstreamFirstBelow(states, downstream, upstream, measured);
  return { pair, wantedS, verdict: holds ? 'holds' : 'short', decisive, upstreamFirstBelowA, reason: '' };
}
