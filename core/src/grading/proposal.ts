/** What setting would make a failing pair hold: the smallest settable time multiplier, or delay, of the upstream relay. */
import type { ElementId } from '../model/fields';
import { find, type Network } from '../model/network';
import type { GradingPair, OvercurrentFunction, Relay } from '../model/protection';
import { isDefinite, measures, primaryRelay, tripTime, type Measured } from '../protection/overcurrent/relay';
import { snapUp } from '../protection/overcurrent/settings';
import { pairMargin, type PairState } from './margin';
import { ctOf } from './seen';

export interface Proposal {
  readonly relay: ElementId;
  readonly functionId: ElementId;
  readonly field: 'timeMultiplier' | 'delayS';
  readonly from: number;
  readonly to: number;
}

/** Null when no single setting of the upstream function that decides can make the pair hold. */
export function proposeFor(
  network: Network,
  states: readonly PairState[],
  pair: GradingPair,
  measured: Measured,
  edited: ReadonlyMap<ElementId, Relay> = new Map(),
): Proposal | null {
  const upstream = edited.get(pair.upstream) ?? find(network, 'relay', pair.upstream);
  const ct = upstream && ctOf(network, upstream);
  const before = pairMargin(network, states, pair, measured, edited);
  if (!upstream || !ct || before.verdict !== 'short' || !before.decisive) return null;
  const seen =
    measured === 'phase'
      ? { phaseA: before.decisive.upstreamA, residualA: 0 }
      : { phaseA: 0, residualA: before.decisive.upstreamA };
  const fn = tripTime(primaryRelay(upstream, ct), seen).by?.source;
  if (!fn || measures(fn) !== measured) return null;

  const field = isDefinite(fn) ? 'delayS' : 'timeMultiplier';
  const range = fn.ranges[field];
  const holds = (value: number) => {
    const changed = withFunction(upstream, { ...fn, [field]: value });
    return (
      pairMargin(network, states, pair, measured, new Map([...edited, [upstream.id, changed]])).verdict === 'holds'
    );
  };
  if (!holds(range.max)) return null;
  let [low, high] = [fn[field], range.max];
  while (high - low > range.step / 4) {
    const middle = (low + high) / 2;
    if (holds(middle)) high = middle;
    else low = middle;
  }
  const to = snapUp(range, low);
  if (to === null) return null;
  const settled = holds(to) ? to : snapUp(range, to + range.step);
  return settled === null ? null : { relay: upstream.id, functionId: fn.id, field, from: fn[field], to: settled };
}

/** The relay with one of its functions replaced. */
export const withFunction = (relay: Relay, fn: OvercurrentFunction): Relay => ({
  ...relay,
  functions: relay.functions.map((other) => (other.id === fn.id ? fn : other)),
});
