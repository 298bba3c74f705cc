/** Pickups between what rules ask at least and at most, and graded: no fault is seen by an upper device alone that a lower one is there for. */
import { deviceIn, type PairState } from '../grading/margin';
import type { ElementId } from '../model/fields';
import { curvesOf, measuredBy, quantityOfMode } from '../protection/curve';
import { timeCurrents, type Device } from '../protection/device';
import { type Setting, type TimeCurrent } from '../protection/family';
import { familyOf } from '../protection/registry';
import type { DeviceFunction } from '../protection/schemas';
import { rulesFor, valueOf, type ReadyRule } from '../rules/book';
import { asksAnew, demandsOf, rangeDemand, strictest, type Demand } from './demand';
import { kindsBehind, type Figure } from './figures';
import { inRings, type Judged } from './order';
import { type Way } from './proposal';
import { firstStep, isHighStage, lastStep, modeOf, settingOf, stepAt, stepsOf, subjectOf, type Steps } from './slots';
import { ratioWays, voltageWays } from './ways';
import { almost, conflictWords, curveKey, type Work } from './work';

export function setPickups(work: Work, device: Device): void {
  const kinds = kindsBehind(work.plantOf(device));
  for (const curve of timeCurrents(device)) {
    const subject = subjectOf(curve);
    const setting = settingOf(curve, 'pickup');
    const steps = setting && stepsOf(setting);
    if (!subject || !setting || !steps) continue;
    const ofPairs = work.asked.get(curveKey(device, curve));
    const demands = [
      ...demandsOf(work.book, subject, kinds, 'pickup', work.figures(device, modeOf(curve))),
      ...(ofPairs ? [ofPairs] : []),
    ];
    // Where no time can be set, what is asked of times is asked of the size.
    const times = settingOf(curve, 'time')
      ? []
      : demandsOf(work.book, subject, kinds, 'time', work.figures(device, modeOf(curve)));
    if (demands.length > 0) setPickup(work, device, curve, setting, steps, demands, times, subject === 'link');
  }
}

function setPickup(
  work: Work,
  device: Device,
  curve: TimeCurrent,
  setting: Setting,
  steps: Steps,
  demands: readonly Demand[],
  times: readonly Demand[],
  isLink: boolean,
): void {
  const fn = work.fnOf(device, curve.fn.id);
  const key = `pickup ${curveKey(device, curve)}`;
  work.conflicts.delete(key);
  const family = familyOf(fn);
  const rating = device.inputs.find(({ id }) => id === curve.input)!.rating;
  const sized = (value: number): { least: number; most: number } => {
    const set = family.withSetting(fn, setting.field, value);
    const at = family.timeCurrents!(set, rating).find(({ part }) => part === curve.part)!;
    // The rated current of a link carries; it certainly operates only further on.
    return isLink
      ? { least: ratedOf(set, setting, value, rating.primaryA), most: at.assuredA }
      : { least: at.pickupA, most: at.pickupA };
  };
  const [most, least] = [strictest(demands, 'atLeast'), strictest(demands, 'atMost')];
  const slow = times.filter(({ sense, atA }) => sense === 'atLeast' && atA !== null);
  const lasts = ({ value: timeS, atA }: Demand, value: number) =>
    work.timeAt(device, curve, setting, value, atA!) >= timeS - almost;
  const reaches = (value: number) =>
    (most === null || sized(value).least >= most.value * (1 - almost)) && slow.every((each) => lasts(each, value));
  const stays = (value: number) => least === null || sized(value).most <= least.value * (1 + almost);
  const from = firstStep(steps, reaches);
  const to = lastStep(steps, stays);
  const [smallest, largest] = [stepAt(steps, 0), stepAt(steps, Infinity)];
  const set = (value: number, by: readonly Demand[]) => {
    work.put(device, family.withSetting(fn, setting.field, value), { field: setting.field, setting, steps, by });
  };
  const beyond = (sense: Demand['sense'], value: number, given: Demand, short: (range: Demand) => number) => {
    const range = rangeDemand(sense, sense === 'atMost' ? sized(value).least : sized(value).most, 'A');
    const words = conflictWords(device, curve, range, given);
    const ways = otherRatios(work, device, curve, setting, steps, demands);
    work.conflict(key, device, curve, [range, given], short(range), words, ways);
    set(value, [range, given]);
  };
  // It would reach too far or never operate.
  const outOfUse = (by: readonly Demand[]) =>
    work.put(device, { ...fn, enabled: false }, { field: 'enabled', setting: null, steps: null, by });
  // Not even the largest that can be set: for the pickup, or for a time that is asked of the size.
  const tooSmall = most && sized(largest).least < most.value * (1 - almost) ? most : null;
  const tooQuick = slow.find((each) => !lasts(each, largest));
  if (tooSmall && /Instant$/.test(subjectOf(curve)!)) return outOfUse([tooSmall]);
  if (tooSmall) return beyond('atMost', largest, tooSmall, (range) => tooSmall.value - range.value);
  if (tooQuick)
    return beyond(
      'atMost',
      largest,
      tooQuick,
      () => tooQuick.value - work.timeAt(device, curve, setting, largest, tooQuick.atA!),
    );
  if (to === null && least) return beyond('atLeast', smallest, least, (range) => range.value - least.value);
  const [low, high] = [from ?? smallest, to ?? largest];
  if (low <= high) {
    const current = setting.value;
    const clamped = Math.min(Math.max(current, low), high);
    const isFree = most === null || isHighStage(curve) || work.options.strategy === 'least';
    if (!isFree) {
      // The step below does not do: for this demand, or for that time.
      const shorter = lastStep(steps, (value) => value < low);
      const bySlow = shorter === null ? undefined : slow.find((each) => !lasts(each, shorter));
      const byPickup = shorter !== null && sized(shorter).least >= most.value * (1 - almost);
      return set(low, byPickup && bySlow ? [bySlow] : [most]);
    }
    // What stands between the demands stays as it is.
    if (clamped !== current) set(clamped, clamped > current ? [most!] : [least!]);
    return;
  }
  if (/Instant$/.test(subjectOf(curve)!)) return outOfUse([most!, least!]);
  const keepsUpper = least!.importance <= most!.importance;
  const value = keepsUpper ? high : low;
  const [kept, given] = keepsUpper ? [least!, most!] : [most!, least!];
  const short = keepsUpper ? most!.value - sized(value).least : sized(value).most - least!.value;
  const figures = work.figures(device, modeOf(curve));
  const ways = [
    ...otherRatios(work, device, curve, setting, steps, demands),
    ...(isLink ? [] : voltageWays(work.studies, work.conditions, device, curve, steps, most!.value, least!, figures)),
  ];
  work.conflict(key, device, curve, [kept, given], short, conflictWords(device, curve, kept, given), ways);
  set(value, [kept, given]);
}

/** Current transformers with which all demands on a pickup would be met; those by what is rated move with them. */
function otherRatios(
  work: Work,
  device: Device,
  curve: TimeCurrent,
  setting: Setting,
  steps: Steps,
  demands: readonly Demand[],
): Way[] {
  const kinds = kindsBehind(work.plantOf(device));
  const own = work.figures(device, modeOf(curve));
  const carries = demandsOf(work.book, 'currentTransformer', kinds, 'primary', work.figures(device, 'phase'));
  const demandsAt = (primaryA: number) => {
    const rated = (name: string) => (own[name].value === null ? own[name] : { ...own[name], value: primaryA });
    const figures = { ...own, ctPrimary: rated('ctPrimary'), deviceRating: rated('deviceRating') };
    const asked = (sense: Demand['sense']) =>
      demands
        .filter((demand) => demand.sense === sense)
        .map((demand) => (demand.pair ? null : asksAnew(demand, figures)) ?? demand.value);
    return { atLeastA: Math.max(0, ...asked('atLeast')), atMostA: Math.min(Infinity, ...asked('atMost')) };
  };
  return ratioWays(device, curve, setting, steps, demandsAt, carries);
}

/** Raises pickups until none of an upper device lies below that of a lower one, as both see the faults between them; not around rings. */
export function* gradePickups(work: Work): Generator<number, void> {
  const rules = rulesFor(work.book, 'pair', new Set()).filter(({ rule }) => rule.bound === 'pickup');
  if (rules.length === 0) return;
  const scope = new Map(work.devices.map((device) => [device.id, device]));
  const mutual = inRings(work.pairs);
  const pairs = work.pairs.filter(
    ({ key, pair, mode }) => mode !== 'negative' && !mutual.has(key) && scope.has(pair.upstream),
  );
  let open = pairs;
  // As many rounds as there are devices above each other.
  for (let round = 0; open.length > 0 && round <= work.devices.length; round++) {
    const raised = new Set<ElementId>();
    for (const judged of open) {
      yield 0;
      const upper = scope.get(judged.pair.upstream)!;
      if (askPickups(work, judged, upper, rules)) raised.add(upper.id);
    }
    for (const id of raised) setPickups(work, scope.get(id)!);
    open = pairs.filter(({ pair }) => raised.has(pair.downstream));
  }
}

function askPickups(work: Work, { pair, states, mode }: Judged, upper: Device, rules: readonly ReadyRule[]): boolean {
  const { network } = work.studies;
  const lower = deviceIn(network, work.trials, pair.downstream);
  if (!lower) return false;
  const quantity = quantityOfMode[mode];
  // An overload that a thermal function clears in minutes is none of the upper device; where there is nothing else it counts.
  const seeing = curvesOf(lower).functions.filter((each) => each.quantity === quantity && !each.fast && !each.measure);
  const faults = seeing.filter((each) => subjectOf(each) !== 'thermal');
  const below = faults.length > 0 ? faults : seeing;
  const above = timeCurrents(upper).filter(
    (each) =>
      each.quantity === quantity && !each.measure && /Delayed$/.test(subjectOf(each) ?? '') && !isHighStage(each),
  );
  if (below.length === 0) return false;
  let isRaised = false;
  for (const curve of above) {
    let most: { lowerPickup: number; state: PairState } | null = null;
    for (const state of states) {
      const share = Math.min(...below.map((each) => each.pickupA / measuredBy(each, state.downstream)));
      const lowerPickup = share * measuredBy(curve, state.upstream);
      if (share <= 1 && lowerPickup > (most?.lowerPickup ?? 0)) most = { lowerPickup, state };
    }
    if (!most) continue;
    for (const { rule, formula } of rules) {
      const result = valueOf(rule, formula!, { lowerPickup: most.lowerPickup });
      const key = curveKey(upper, curve);
      if (!result.ok || result.value <= (work.asked.get(key)?.value ?? 0) * (1 + almost)) continue;
      const { kind, condition } = most.state;
      const figure: Figure = {
        name: 'lowerPickup',
        value: most.lowerPickup,
        unit: 'A',
        condition,
        kind,
        place: lower.name,
      };
      work.asked.set(key, {
        rule,
        title: rule.title,
        sense: rule.sense,
        value: result.value,
        unit: 'A',
        atA: null,
        figures: [figure],
        pair: { downstream: pair.downstream, upstream: pair.upstream, kind },
        condition,
        importance: rule.importance,
      });
      isRaised = true;
    }
  }
  return isRaised;
}

/** Rated current that a setting of a link or a release stands for. */
function ratedOf(fn: DeviceFunction, { unit }: Setting, value: number, primaryA: number): number {
  if (unit === 'A') return value;
  return value * ('ratedA' in fn ? fn.ratedA : primaryA);
}
