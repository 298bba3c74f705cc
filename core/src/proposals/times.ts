/** Times from the far end upward, each raised no further than the margins over the devices below ask. */
import { deviceIn, pairMargin, wantedMargin, type PairMargin } from '../grading/margin';
import type { GradingPair } from '../model/chart';
import type { ElementId } from '../model/fields';
import { settingsOf } from '../model/network';
import { curvesOf, measuredBy } from '../protection/curve';
import { devicesOf, timeCurrents, type Device } from '../protection/device';
import { operatingBy, quickest, tolerance } from '../grading/least';
import { type TimeCurrent } from '../protection/family';
import { familyOf } from '../protection/registry';
import { requiredMargin } from '../rules/margins';
import { asItIs, demandsOf, rangeDemand, type Demand } from './demand';
import { kindsBehind } from './figures';
import { Climb, fromBelow, inRings, type Judged } from './order';
import { widerS } from './proposal';
import { firstStep, lastStep, modeOf, settingOf, stepAt, stepsOf, subjectOf } from './slots';
import { characteristicWays } from './ways';
import { almost, conflictWords, curveKey, type Work } from './work';

/** The smallest times that rules allow, or those that are set; margins come on top. */
export function setTimes(work: Work, device: Device): void {
  const kinds = kindsBehind(work.plantOf(device));
  for (const curve of timeCurrents(work.now(device))) {
    const subject = subjectOf(curve);
    const setting = settingOf(curve, 'time');
    const steps = setting && stepsOf(setting);
    if (!subject || !setting || !steps || /Instant$/.test(subject)) continue;
    const demands = demandsOf(work.book, subject, kinds, 'time', work.figures(device, modeOf(curve)));
    const timeAt = (value: number, ampere: number) => work.timeAt(device, curve, setting, value, ampere);
    const lower = demands.filter(({ sense, atA }) => sense === 'atLeast' && atA !== null);
    const upper = demands.filter(({ sense, atA }) => sense === 'atMost' && atA !== null);
    let low = stepAt(steps, 0);
    let by: Demand[] = [];
    for (const demand of lower) {
      const needed = firstStep(steps, (value) => timeAt(value, demand.atA!) >= demand.value - almost);
      if (needed === null || needed > low) {
        low = needed ?? stepAt(steps, Infinity);
        by = [demand];
      }
    }
    for (const demand of upper) {
      const value = lastStep(steps, (each) => {
        const timeS = timeAt(each, demand.atA!);
        return timeS === Infinity || timeS <= demand.value + almost;
      });
      const key = `${device.id} ${curve.fn.id} ${setting.field}`;
      const before = work.ceilings.get(key);
      if (value !== null && (!before || value < before.value)) work.ceilings.set(key, { value, by: demand });
      if (value !== null && value < low && by.length > 0) {
        const keepsUpper = demand.importance <= by[0].importance;
        const [kept, given] = keepsUpper ? [demand, by[0]] : [by[0], demand];
        const at = keepsUpper ? by[0].atA! : demand.atA!;
        const short = Math.abs(timeAt(keepsUpper ? value : low, at) - given.value);
        work.conflict(
          `time ${curveKey(device, curve)}`,
          device,
          curve,
          [kept, given],
          short,
          conflictWords(device, curve, kept, given),
        );
        if (keepsUpper) low = value;
      }
    }
    // What no rule asks a time of keeps it: the delay of an overload release is chosen by what it feeds.
    const keeps = work.options.strategy === 'least' || demands.length === 0;
    const value = keeps ? Math.max(low, setting.value) : low;
    const fn = work.fnOf(device, curve.fn.id);
    work.put(device, familyOf(fn).withSetting(fn, setting.field, value), {
      field: setting.field,
      setting,
      steps,
      by,
    });
  }
}

/** Raises times until every pair holds that can: first those that are in no ring, then those of rings, one after the other, as long as times allow. */
export function* grade(work: Work): Generator<number, void> {
  const scope = new Map(work.devices.map((device) => [device.id, device]));
  const pairs = work.pairs.filter(({ pair }) => scope.has(pair.upstream));
  const mutual = inRings(pairs);
  const plain = pairs.filter(({ key }) => !mutual.has(key));
  // In a ring somebody must give way: whoever follows in the fewest conditions comes last.
  const ring = pairs
    .filter(({ key }) => mutual.has(key))
    .sort((p, q) => q.conditions - p.conditions || (p.key < q.key ? -1 : 1));
  const active = new Climb(plain);
  yield* raiseAll(work, active, fromBelow(plain), scope, [0.44, 0.7]);
  for (const [k, judged] of ring.entries()) {
    const [trials, changes] = [new Map(work.trials), new Map(work.changes)];
    const span = [0.7 + (0.25 * k) / ring.length, 0.7 + (0.25 * (k + 1)) / ring.length] as const;
    const tried = active.with(judged);
    if (yield* raiseAll(work, tried, [judged], scope, span)) {
      active.add(judged);
      continue;
    }
    work.givenUp.add(judged.key);
    restore(work.trials, trials);
    restore(work.changes, changes);
  }
  for (const [k, judged] of work.pairs.entries()) {
    yield 0.95 + (0.05 * k) / work.pairs.length;
    pairConflict(work, judged);
  }
}

function marginOf(work: Work, { pair, states, mode }: Judged): PairMargin {
  return pairMargin(work.studies.network, states, wanted(work, pair), mode, work.trials);
}

function wanted(work: Work, pair: GradingPair): GradingPair {
  if (work.options.strategy !== 'widest') return pair;
  const { network } = work.studies;
  const [below, above] = [pair.downstream, pair.upstream].map((id) =>
    devicesOf(network).find((device) => device.id === id),
  );
  if (!below || !above) return pair;
  return { ...pair, wantedMarginS: wantedMargin(network, pair, curvesOf(below), curvesOf(above)) + widerS };
}

/** From some pairs on through all that follow. False as soon as one that is not known to be stuck cannot be raised any further. */
function* raiseAll(
  work: Work,
  climb: Climb,
  from: readonly Judged[],
  scope: ReadonlyMap<ElementId, Device>,
  [begin, end]: readonly [number, number],
): Generator<number, boolean> {
  const queue = [...from];
  const queued = new Set(from.map(({ key }) => key));
  let [done, share] = [0, 0];
  while (queue.length > 0) {
    const judged = queue.shift()!;
    queued.delete(judged.key);
    done++;
    // What is raised asks others again: the share never falls for it.
    share = Math.max(share, done / (done + queue.length));
    yield begin + (end - begin) * share;
    const upper = scope.get(judged.pair.upstream)!;
    for (;;) {
      const raised = raise(work, judged, upper);
      if (raised === 'done') break;
      if (raised !== 'raised' && climb.isTried && !climb.stuck.has(judged.key)) return false;
      if (raised === 'stuck') {
        climb.stuck.add(judged.key);
        break;
      }
      for (const next of climb.above.get(upper.id) ?? [])
        if (!queued.has(next.key)) {
          queued.add(next.key);
          queue.push(next);
        }
    }
  }
  return true;
}

/** Raises the time of the upper function that decides, to the smallest at which it grades by itself. */
function raise(work: Work, judged: Judged, upper: Device): 'done' | 'raised' | 'beyond' | 'stuck' {
  const { states } = judged;
  const margin = marginOf(work, judged);
  if (margin.verdict !== 'short' || !margin.decisive) return 'done';
  const { decisive } = margin;
  const state = states.find(({ kind, condition }) => kind === decisive.kind && condition === decisive.condition)!;
  const curve = curvesOf(work.now(upper))
    .functions.filter(({ code, fast }) => code === decisive.upstreamBy && !fast)
    .reduce((p, q) =>
      q.at(measuredBy(q, state.upstream) * decisive.scale).earliestS <
      p.at(measuredBy(p, state.upstream) * decisive.scale).earliestS
        ? q
        : p,
    );
  const setting = settingOf(curve, 'time');
  const steps = setting && stepsOf(setting);
  if (!setting || !steps) return 'stuck';
  const fn = work.fnOf(upper, curve.fn.id);
  const family = familyOf(fn);
  const rating = upper.inputs.find(({ id }) => id === curve.input)!.rating;
  const counting = settingsOf(work.studies.network).marginCounts;
  const fullA = measuredBy(curve, state.upstream);
  // At the currents that decide; others that decide then have their turn.
  const holds = (value: number): boolean => {
    if (value < setting.value - almost) return false;
    const set = family.withSetting(fn, setting.field, value);
    const at = family.timeCurrents!(set, rating).find(({ part }) => part === curve.part)!;
    const timeS = quickest([operatingBy(at, fullA, counting)], decisive.scale);
    return timeS - decisive.downstreamS >= margin.wantedS - tolerance;
  };
  const value = firstStep(steps, holds);
  if (value === null || value <= setting.value) return 'stuck';
  const key = `${upper.id} ${fn.id} ${setting.field}`;
  const ceiling = work.ceilings.get(key);
  const demand = marginDemand(work, judged, margin);
  const isBeyond = ceiling !== undefined && value > ceiling.value;
  // The more important of the two is kept.
  if (isBeyond && ceiling.by.importance < demand.importance) return 'stuck';
  work.put(upper, family.withSetting(fn, setting.field, value), {
    field: setting.field,
    setting: work.changes.get(key)?.setting ?? setting,
    steps,
    by: [demand],
  });
  return isBeyond ? 'beyond' : 'raised';
}

function marginDemand(work: Work, { pair }: Judged, { decisive, wantedS }: PairMargin): Demand {
  const { network } = work.studies;
  const [below, above] = [pair.downstream, pair.upstream].map((id) => deviceIn(network, work.trials, id));
  const rule = below && above ? requiredMargin(network, curvesOf(below), curvesOf(above)).rule : null;
  return {
    rule,
    title: rule?.title ?? 'Margin between two devices',
    sense: 'atLeast',
    value: wantedS,
    unit: 's',
    atA: decisive?.downstreamA ?? null,
    figures: [],
    pair: { downstream: pair.downstream, upstream: pair.upstream, kind: decisive?.kind ?? null },
    condition: decisive?.condition ?? null,
    importance: rule?.importance ?? 2,
  };
}

/** What still does not hold between two devices is told. */
function pairConflict(work: Work, judged: Judged): void {
  const upper = work.devices.find(({ id }) => id === judged.pair.upstream);
  const lower = work.devices.find(({ id }) => id === judged.pair.downstream);
  const device = upper ?? lower;
  const margin = marginOf(work, judged);
  work.final.set(judged.key, margin);
  if (!device || margin.verdict !== 'short') return;
  const demand = marginDemand(work, judged, margin);
  const short = margin.decisive ? margin.wantedS - margin.decisive.marginS : 0;
  const names = [judged.pair.downstream, judged.pair.upstream].map(
    (id) => devicesOf(work.studies.network).find((each) => each.id === id)?.name ?? id,
  );
  const curve = upper
    ? (curvesOf(work.now(upper)).functions.find(({ code }) => code === margin.decisive?.upstreamBy) ?? null)
    : null;
  const kept = !curve
    ? asItIs('The upper device is left as it is')
    : work.givenUp.has(judged.key)
      ? asItIs('The other margins of its ring')
      : whyNotHigher(work, device, curve);
  work.conflict(
    `pair ${judged.key}`,
    device,
    curve,
    [kept, demand],
    short,
    `${names[0]} → ${names[1]}, ${judged.mode} faults: margin ${margin.decisive?.marginS.toFixed(3).replace('-', '−') ?? '?'} s, ${margin.wantedS} s required; kept: ${kept.title.toLowerCase()}`,
    upper && curve
      ? characteristicWays(work.studies, judged, upper, curve, work.trials, work.ceilingOf(upper, curve))
      : [],
  );
}

function whyNotHigher(work: Work, device: Device, curve: TimeCurrent): Demand {
  const setting = settingOf(curve, 'time');
  return work.ceilingOf(device, curve) ?? rangeDemand('atMost', setting?.value ?? 0, setting?.unit ?? 's');
}

function restore<K, V>(map: Map<K, V>, from: ReadonlyMap<K, V>): void {
  map.clear();
  for (const [key, value] of from) map.set(key, value);
}
