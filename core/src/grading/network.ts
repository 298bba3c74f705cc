/** All pairs of a project with their margins: those found from the network, and those that stand on its charts. */
import type { Condition } from '../model/condition';
import type { ElementId } from '../model/fields';
import { ofKind } from '../model/network';
import type { GradingPair, Measured } from '../model/protection';
import { curvesOf, quantityOfMode } from '../protection/curve';
import { deviceOf, type Device } from '../protection/device';
import type { Studies } from '../studies/studies';
import { pairsFrom } from './chain';
import { pairMargin, pairStates, type PairMargin } from './margin';

export interface NetworkPair {
  readonly mode: Measured;
  readonly downstream: Device;
  readonly upstream: Device;
  /** Charts that it stands on; none: found from the network alone. */
  readonly charts: readonly ElementId[];
  /** Conditions in which they follow each other; none: put on a chart by hand. */
  readonly conditions: readonly ElementId[];
  readonly margin: PairMargin;
}

const pairKey = ({ downstream, upstream }: Pick<GradingPair, 'downstream' | 'upstream'>) => `${downstream} ${upstream}`;

/** Yields the share that is done. Pairs of which one device has nothing to do with the quantity are left out. */
export function* networkPairs(
  studies: Studies,
  conditions: readonly Condition[],
  modes: readonly Measured[] = ['phase', 'earth'],
): Generator<number, readonly NetworkPair[]> {
  const { network } = studies;
  const found = pairsFrom(studies, conditions);
  const charts = ofKind(network, 'gradingChart');
  const asked = modes.flatMap((mode) => {
    const pairs = new Map<string, { pair: GradingPair; charts: ElementId[]; conditions: readonly ElementId[] }>();
    for (const { downstream, upstream, conditions: holding } of found)
      pairs.set(pairKey({ downstream, upstream }), {
        pair: { downstream, upstream, wantedMarginS: null },
        charts: [],
        conditions: holding,
      });
    for (const chart of charts.filter((each) => each.mode === mode))
      for (const pair of chart.pairs) {
        const known = pairs.get(pairKey(pair));
        // What a chart asks of a pair counts, not what the project asks in general.
        pairs.set(pairKey(pair), {
          pair: pair.wantedMarginS === null && known ? known.pair : pair,
          charts: [...(known?.charts ?? []), chart.id],
          conditions: known?.conditions ?? [],
        });
      }
    return [...pairs.values()].map((each) => ({ mode, ...each }));
  });
  const result: NetworkPair[] = [];
  for (const [k, { mode, pair, charts: on, conditions: holding }] of asked.entries()) {
    yield k / asked.length;
    const [downstream, upstream] = [deviceOf(network, pair.downstream), deviceOf(network, pair.upstream)];
    if (!downstream || !upstream) continue;
    const quantity = quantityOfMode[mode];
    const measures = (device: Device) => curvesOf(device).functions.some((fn) => fn.quantity === quantity);
    if (on.length === 0 && !measures(downstream) && !measures(upstream)) continue;
    const counted = holding.length > 0 ? conditions.filter(({ id }) => holding.includes(id)) : conditions;
    const states = pairStates(studies, downstream, upstream, mode, counted);
    // Where none of them both see anything there is nothing to grade: an earth fault behind a delta winding.
    if (on.length === 0 && states.length === 0) continue;
    result.push({
      mode,
      downstream,
      upstream,
      charts: on,
      conditions: holding,
      margin: pairMargin(network, states, pair, mode),
    });
  }
  return result;
}

/** What a margin comes to, in a few words. */
export function marginWords({ verdict, decisive, energy, wantedS, reason, selectiveUpToA }: PairMargin): string {
  const figures = decisive && `margin ${decisive.marginS.toFixed(3)} s at ${Math.round(decisive.downstreamA)} A`;
  const upTo = selectiveUpToA === null ? '' : `, selective up to ${Number((selectiveUpToA / 1000).toPrecision(3))} kA`;
  if (verdict === 'holds') return figures ?? (energy ? 'selective by energy' : reason);
  if (verdict !== 'short') return reason;
  const below = decisive && decisive.marginS < wantedS ? wantedS - decisive.marginS : null;
  const time = below === null ? null : `${figures}, ${below.toFixed(3)} s below the required ${wantedS} s`;
  return `${[time, reason].filter(Boolean).join('; ')}${upTo}`;
}
