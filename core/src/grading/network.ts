/** All pairs of a project with their margins: those found from the network, those that stand on its charts, and what was decided by hand. */
import { modesOf, type GradingPair, type Measured, type PairRuling } from '../model/chart';
import type { Condition } from '../model/condition';
import type { ElementId } from '../model/fields';
import { ofKind, settingsOf } from '../model/network';
import { curvesOf, quantityOfMode } from '../protection/curve';
import { deviceOf, timeCurrents, type Device } from '../protection/device';
import type { Studies } from '../studies/studies';
import { pairsFrom } from './chain';
import { pairMargin, pairStates, type PairMargin, type PairState } from './margin';

/** A pair that is to be judged. */
export interface AskedPair {
  readonly mode: Measured;
  readonly pair: GradingPair;
  /** Charts that it stands on; none: found from the network alone. */
  readonly charts: readonly ElementId[];
  /** Conditions in which they follow each other; none: put on a chart or asked for by hand. */
  readonly conditions: readonly ElementId[];
  /** What was decided by hand. */
  readonly ruling: PairRuling | null;
}

export interface NetworkPair extends Omit<AskedPair, 'pair'> {
  readonly downstream: Device;
  readonly upstream: Device;
  readonly margin: PairMargin;
}

const pairKey = ({ downstream, upstream }: Pick<GradingPair, 'downstream' | 'upstream'>) => `${downstream} ${upstream}`;

/** Pairs to be judged, for each quantity: found, on charts, asked for by hand; also those that were left out by hand, with their ruling. */
export function askedPairs(
  studies: Studies,
  conditions: readonly Condition[],
  modes: readonly Measured[] = ['phase', 'earth'],
): AskedPair[] {
  const { network } = studies;
  const found = pairsFrom(studies, conditions);
  const charts = ofKind(network, 'gradingChart');
  const rulings = new Map(settingsOf(network).pairRulings.map((ruling) => [pairKey(ruling), ruling]));
  return modes.flatMap((mode) => {
    const pairs = new Map<string, AskedPair>();
    const put = (pair: GradingPair, over: Partial<AskedPair>) => {
      const key = pairKey(pair);
      const before = pairs.get(key) ?? {
        mode,
        pair,
        charts: [],
        conditions: [],
        ruling: rulings.get(key) ?? null,
      };
      // What a chart asks of a pair counts, not what the project asks in general.
      pairs.set(key, { ...before, ...(pair.wantedMarginS !== null && { pair }), ...over });
    };
    for (const { downstream, upstream, conditions: holding } of found)
      put({ downstream, upstream, wantedMarginS: null }, { conditions: holding });
    for (const { downstream, upstream, graded } of rulings.values())
      if (graded) put({ downstream, upstream, wantedMarginS: null }, {});
    for (const chart of charts)
      if (modesOf(chart).includes(mode))
        for (const pair of chart.pairs) put(pair, { charts: [...(pairs.get(pairKey(pair))?.charts ?? []), chart.id] });
    return [...pairs.values()];
  });
}

/** The states that a pair is judged in. Null where there is nothing to judge: neither measures the quantity, or none sees anything of it. */
export function statesAsked(
  studies: Studies,
  conditions: readonly Condition[],
  { mode, pair, charts, conditions: holding, ruling }: AskedPair,
): { readonly downstream: Device; readonly upstream: Device; readonly states: readonly PairState[] } | null {
  const { network } = studies;
  const [downstream, upstream] = [deviceOf(network, pair.downstream), deviceOf(network, pair.upstream)];
  if (!downstream || !upstream) return null;
  const byHand = charts.length > 0 || ruling?.graded === true;
  const quantity = quantityOfMode[mode];
  const measures = (device: Device) => curvesOf(device).functions.some((fn) => fn.quantity === quantity);
  if (!byHand && !measures(downstream) && !measures(upstream)) return null;
  const counted = holding.length > 0 ? conditions.filter(({ id }) => holding.includes(id)) : conditions;
  const states = pairStates(studies, downstream, upstream, mode, counted);
  // Where none of them both see anything there is nothing to grade: an earth fault behind a delta winding.
  return !byHand && states.length === 0 ? null : { downstream, upstream, states };
}

/** A found pair whose upper device gives no backup because all that it does with the quantity heeds a direction or a voltage: it is there for something else. */
export const isAside = (
  { mode, charts, ruling }: Pick<AskedPair, 'mode' | 'charts' | 'ruling'>,
  upstream: Device,
  { verdict }: PairMargin,
): boolean =>
  verdict === 'noBackup' &&
  charts.length === 0 &&
  ruling === null &&
  timeCurrents(upstream).every(({ quantity, measure }) => quantity !== quantityOfMode[mode] || measure !== undefined) &&
  timeCurrents(upstream).some(({ quantity }) => quantity === quantityOfMode[mode]);

/** Yields the share that is done. */
export function* networkPairs(
  studies: Studies,
  conditions: readonly Condition[],
  modes: readonly Measured[] = ['phase', 'earth'],
): Generator<number, readonly NetworkPair[]> {
  const asked = askedPairs(studies, conditions, modes);
  const result: NetworkPair[] = [];
  for (const [k, { pair, ...rest }] of asked.entries()) {
    yield k / asked.length;
    const judged = statesAsked(studies, conditions, { pair, ...rest });
    if (!judged) continue;
    const { downstream, upstream, states } = judged;
    const margin = pairMargin(studies.network, states, pair, rest.mode);
    if (!isAside(rest, upstream, margin)) result.push({ ...rest, downstream, upstream, margin });
  }
  return result;
}

/** What a margin comes to, in a few words. */
export function marginWords(margin: PairMargin): string {
  const { verdict, decisive, energy, wantedS, reason, selectiveUpToA, listedUpToA } = margin;
  const figures = decisive && `margin ${decisive.marginS.toFixed(3)} s at ${Math.round(decisive.downstreamA)} A`;
  const kA = (ampere: number) => `${Number((ampere / 1000).toPrecision(3))} kA`;
  const listed = listedUpToA === null ? '' : ', as listed for the two types';
  const upTo = selectiveUpToA === null ? '' : `, selective up to ${kA(selectiveUpToA)}${listed}`;
  if (verdict === 'holds' && listedUpToA !== null) return `selective up to ${kA(listedUpToA)}${listed}`;
  if (verdict === 'holds') return figures ?? (energy ? 'selective by energy' : reason);
  if (verdict !== 'short') return reason;
  const below = decisive && decisive.marginS < wantedS ? wantedS - decisive.marginS : null;
  const time = below === null ? null : `${figures}, ${below.toFixed(3)} s below the required ${wantedS} s`;
  return `${[time, reason].filter(Boolean).join('; ')}${upTo}`;
}
