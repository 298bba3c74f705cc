/** What setting would make a failing pair hold: the smallest settable time of the upstream function that decides. */
import type { ElementId } from '../model/fields';
import type { Network } from '../model/network';
import type { GradingPair, Measured } from '../model/chart';
import { curvesOf, measuredBy } from '../protection/curve';
import { withFunction } from '../protection/device';
import type { Setting } from '../protection/family';
import { familyOf } from '../protection/registry';
import { snapUp } from '../protection/settings/range';
import { deviceIn, pairMargin, type PairState, type Trials } from './margin';

export interface Proposal {
  readonly device: ElementId;
  readonly functionId: ElementId;
  readonly field: string;
  /** As the setting is called. */
  readonly title: string;
  readonly unit: string;
  readonly from: number;
  readonly to: number;
}

/** Null when no single setting of the upstream function that decides can make the pair hold. */
export function proposeFor(
  network: Network,
  states: readonly PairState[],
  pair: GradingPair,
  measured: Measured,
  trials: Trials = new Map(),
): Proposal | null {
  const upstream = deviceIn(network, trials, pair.upstream);
  const { verdict, decisive } = pairMargin(network, states, pair, measured, trials);
  if (!upstream || verdict !== 'short' || !decisive) return null;
  const state = states.find(({ kind, condition }) => kind === decisive.kind && condition === decisive.condition)!;
  const fn = curvesOf(upstream)
    .functions.filter(({ code, fast }) => code === decisive.upstreamBy && !fast)
    .reduce((p, q) =>
      q.at(measuredBy(q, state.upstream) * decisive.scale).earliestS <
      p.at(measuredBy(p, state.upstream) * decisive.scale).earliestS
        ? q
        : p,
    ).fn;
  const family = familyOf(fn);
  const time = family.settings(fn).find((setting): setting is Setting => setting.role === 'time');
  if (!time?.range) return null;
  const { range } = time;
  const holds = (value: number) => {
    const changed = withFunction(upstream.element, family.withSetting(fn, time.field, value));
    return (
      pairMargin(network, states, pair, measured, new Map([...trials, [upstream.id, changed]])).verdict === 'holds'
    );
  };
  if (!holds(range.max)) return null;
  let [low, high] = [time.value, range.max];
  while (high - low > range.step / 4) {
    const middle = (low + high) / 2;
    if (holds(middle)) high = middle;
    else low = middle;
  }
  const to = snapUp(range, low);
  if (to === null) return null;
  const settled = holds(to) ? to : snapUp(range, to + range.step);
  if (settled === null) return null;
  const { field, title, unit, value } = time;
  return { device: upstream.id, functionId: fn.id, field, title, unit, from: value, to: settled };
}
