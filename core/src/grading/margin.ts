/**
 * Grading margin of a pair over the currents that both devices see. The network is linear: for faults beyond the downstream device
 * the currents at both keep their proportion. So each fault state close in is scaled from its full size down to where one
 * of them stops picking up, and the smallest difference is looked for on the way (`least`).
 */
import type { FaultKind } from '../faults/kinds';
import type { Condition } from '../model/condition';
import type { ElementId } from '../model/fields';
import { partnerOf } from '../model/partners';
import { settingsOf, type Network } from '../model/network';
import type { GradingPair, Measured } from '../model/chart';
import { curvesOf, measuredBy, operatingTime, quantityOfMode, type Curves } from '../protection/curve';
import { deviceFrom, deviceOf, type Device, type DeviceElement } from '../protection/device';
import type { DeviceSeen, TimeCurrent } from '../protection/family';
import { seenBy } from '../protection/seen';
import { requiredMargin } from '../rules/margins';
import { closeInPlace } from '../protection/zone';
import type { Studies } from '../studies/studies';
import { conditionsKey, kindsFor, placeKey } from './figures';
import {
  clearingBy,
  energyBelowS,
  failsFrom,
  leastMargin,
  meltsByEnergy,
  operatingBy,
  quickest,
  quickestOf,
  selectiveByEnergy,
  tolerance,
  type Counting,
  type Measuring,
} from './least';

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

/** What the one below lets through, and what melts the one above, in A²s; `share` of the full fault state. */
export interface EnergyPoint {
  readonly kind: FaultKind;
  readonly condition: ElementId;
  readonly downstreamA: number;
  readonly throughA2s: number;
  readonly meltingA2s: number;
}

export type Verdict = 'holds' | 'short' | 'blind' | 'noBackup' | 'unknown';

export interface PairMargin {
  readonly pair: GradingPair;
  readonly wantedS: number;
  readonly verdict: Verdict;
  readonly decisive: DecisivePoint | null;
  /** Where energies decide, the worst of them. */
  readonly energy: EnergyPoint | null;
  /** Of two devices whose bands hold all they do: up to so many amperes at the one below they are selective; null where over all that flows. */
  readonly selectiveUpToA: number | null;
  /** Up to so many amperes tests of the two types have shown them selective, where the library says so and it counts: what is beyond their curves. */
  readonly listedUpToA: number | null;
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

/** Fast operations of a recloser are not what it grades by: it goes on to the slow ones. */
const lasting = ({ functions }: Curves) => functions.filter(({ fast }) => !fast);

const clearing = (curves: Curves, seen: DeviceSeen, counting: Counting): readonly Measuring[] =>
  lasting(curves).map((fn) => clearingBy(fn, measuredBy(fn, seen), curves.device.openingS, counting));

const operating = (curves: Curves, seen: DeviceSeen, counting: Counting): readonly Measuring[] =>
  lasting(curves).map((fn) => operatingBy(fn, measuredBy(fn, seen), counting));

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
    const startOf = ({ functions }: Curves, seen: DeviceSeen, from: (fn: TimeCurrent) => number) =>
      Math.min(...functions.map((fn) => from(fn) / measuredBy(fn, seen)));
    const below = startOf(downstream, state.downstream, (fn) => (fn.accuracy ? fn.pickupA : fn.assuredA));
    if (startOf(upstream, state.upstream, (fn) => fn.pickupA) >= below || below > 1) continue;
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
  counting: Counting = 'curves',
): DecisivePoint | null {
  const least = leastMargin(
    clearing(downstream, state.downstream, counting),
    operating(upstream, state.upstream, counting),
  );
  if (!least) return null;
  const { scale, marginS, downstreamS, upstreamS } = least;
  return {
    kind: state.kind,
    condition: state.condition,
    scale,
    downstreamA: standingFor(downstream, state.downstream, measured) * scale,
    upstreamA: standingFor(upstream, state.upstream, measured) * scale,
    downstreamS,
    upstreamS,
    marginS,
    downstreamBy: least.downstream.fn.code,
    upstreamBy: least.upstream.fn.code,
  };
}

/** Energies of two links in one state; null where it comes to no times that short, or one of them does not melt by energy. */
export function energyIn(
  state: PairState,
  downstream: Curves,
  upstream: Curves,
  measured: Measured,
): EnergyPoint | null {
  const below = clearing(downstream, state.downstream, 'bands');
  const above = operating(upstream, state.upstream, 'bands');
  if (!meltsByEnergy(below) || !meltsByEnergy(above) || quickest(below, 1) >= energyBelowS) return null;
  const first = quickestOf(below, 1)!;
  const second = above.reduce((p, q) => (q.fn.energy!.meltingA2s < p.fn.energy!.meltingA2s ? q : p));
  return {
    kind: state.kind,
    condition: state.condition,
    downstreamA: standingFor(downstream, state.downstream, measured),
    throughA2s: first.fn.energy!.throughA2s(first.fullA),
    meltingA2s: second.fn.energy!.meltingA2s * (second.fullA > 0 ? (first.fullA / second.fullA) ** 2 : Infinity),
  };
}

/**
 * Smallest current at the downstream device, in amperes, from which on the upstream one may open before the downstream one has cleared, and how quickly
 * that one clears there; null where over the whole range it does not. Of breakers and links, whose bands hold all that they do.
 */
export function selectiveUpTo(
  state: PairState,
  downstream: Curves,
  upstream: Curves,
  measured: Measured,
  wantedS: number,
): { upToA: number; belowS: number } | null {
  const below = clearing(downstream, state.downstream, 'bands');
  const scale = failsFrom(below, operating(upstream, state.upstream, 'bands'), wantedS);
  if (scale === null) return null;
  const upToA = scale * standingFor(downstream, state.downstream, measured);
  // A step counts by what lies behind it.
  return { upToA, belowS: quickest(below, scale * (1 + 1e-9)) };
}

const holdsAll = ({ functions }: Curves) =>
  functions.length > 0 && functions.every(({ accuracy }) => accuracy === null);

/** The margin that a pair needs: its own, none where the bands of both hold all that they do, else what the rulebook asks. */
export const wantedMargin = (network: Network, pair: GradingPair, downstream: Curves, upstream: Curves): number =>
  pair.wantedMarginS ??
  (holdsAll(downstream) && holdsAll(upstream) ? 0 : requiredMargin(network, downstream, upstream).marginS);

/** Devices with settings that are not stored, or others in their place, by the id of the one of the network. */
export type Trials = ReadonlyMap<ElementId, DeviceElement | Device>;

/** The device under this identifier, as it is on trial where it is. */
export function deviceIn(network: Network, trials: Trials, id: ElementId): Device | null | undefined {
  const trial = trials.get(id);
  if (!trial) return deviceOf(network, id);
  return 'element' in trial ? trial : triedDevice(network, trial);
}

/** Elements never change: a search over many settings of one device looks at the others again and again. */
const tried = new WeakMap<Network, WeakMap<DeviceElement, Device | null>>();

function triedDevice(network: Network, element: DeviceElement): Device | null {
  let of = tried.get(network);
  if (!of) tried.set(network, (of = new WeakMap()));
  let device = of.get(element);
  if (device === undefined) of.set(element, (device = deviceFrom(network, element)));
  return device;
}

/** Judges a pair. Devices may be given with settings that are not stored yet (a curve under the pointer). */
export function pairMargin(
  network: Network,
  states: readonly PairState[],
  pair: GradingPair,
  measured: Measured,
  trials: Trials = new Map(),
): PairMargin {
  const below = deviceIn(network, trials, pair.downstream);
  const above = deviceIn(network, trials, pair.upstream);
  const nothing = {
    pair,
    wantedS: pair.wantedMarginS ?? settingsOf(network).wantedMarginS,
    decisive: null,
    energy: null,
    selectiveUpToA: null,
    listedUpToA: null,
    upstreamFirstBelowA: null,
  };
  const judge = (verdict: Verdict, reason: string): PairMargin => ({ ...nothing, verdict, reason });
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
  const counting = settingsOf(network).marginCounts;
  const wantedS = wantedMargin(network, pair, downstream, upstream);
  const points = states
    .map((state) => decisiveIn(state, downstream, upstream, measured, counting))
    .filter((point) => point !== null);
  const energies = states.flatMap((state) => energyIn(state, downstream, upstream, measured) ?? []);
  if (points.length === 0 && energies.length === 0) return judge('noBackup', 'no common pickup range');
  const decisive = points.length === 0 ? null : points.reduce((p, q) => (q.marginS < p.marginS ? q : p));
  const ratio = ({ throughA2s, meltingA2s }: EnergyPoint) => throughA2s / meltingA2s;
  const energy = energies.length === 0 ? null : energies.reduce((p, q) => (ratio(q) > ratio(p) ? q : p));
  const holds =
    (decisive === null || decisive.marginS >= wantedS - tolerance) &&
    (energy === null || selectiveByEnergy(energy.throughA2s, energy.meltingA2s));
  const isBands = holdsAll(downstream) && holdsAll(upstream);
  const limits =
    holds || !isBands
      ? []
      : states.flatMap((state) => selectiveUpTo(state, downstream, upstream, measured, wantedS) ?? []);
  // Another device on trial in the place of one is not of its type.
  const isTried = [pair.downstream, pair.upstream].some((id) => 'element' in (trials.get(id) ?? {}));
  const listed = holds || !isBands || isTried ? null : partnerOf(network, pair.downstream, pair.upstream);
  // Tests tell of short circuits that both see at once, not of overloads that curves must tell apart.
  const listedUpToA =
    listed?.selectiveKa && limits.length > 0 && limits.every(({ belowS }) => belowS < energyBelowS)
      ? 1000 * listed.selectiveKa
      : null;
  const largestA = Math.max(...states.map((state) => standingFor(downstream, state.downstream, measured)));
  const isListed = listedUpToA !== null && listedUpToA >= largestA;
  const curvesUpToA = limits.length === 0 ? null : Math.min(...limits.map(({ upToA }) => upToA));
  return {
    pair,
    wantedS,
    verdict: holds || isListed ? 'holds' : 'short',
    decisive,
    energy,
    selectiveUpToA: curvesUpToA === null ? null : Math.max(curvesUpToA, listedUpToA ?? 0),
    listedUpToA,
    upstreamFirstBelowA: upstreamFirstBelow(states, downstream, upstream, measured),
    reason:
      isListed || !energy || selectiveByEnergy(energy.throughA2s, energy.meltingA2s)
        ? ''
        : energyReason(energy, above.name, below.name),
  };
}

const energyReason = ({ throughA2s, meltingA2s }: EnergyPoint, above: string, below: string): string =>
  throughA2s === Infinity
    ? `${below} limits no energy: in less than ${energyBelowS} s ${above} may melt with it`
    : `${below} lets through up to ${kilo(throughA2s)} kA²s, ${above} melts from ${kilo(meltingA2s)} kA²s`;

const kilo = (a2s: number): string => String(Number((a2s / 1000).toPrecision(3)));
