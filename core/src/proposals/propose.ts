/**
 * Settings by rule, for any number of devices: pickups between what rules ask at least and at most; times from the far end upward, each raised no further
 * than the margins over the devices below ask. What cannot be met is told as a conflict of two demands, and the more important one is kept. The
 * outcome does not depend on the order of the devices: times only rise, to the smallest that hold.
 */
import { askedPairs, statesAsked } from '../grading/network';
import { deviceIn, pairMargin, wantedMargin, type PairMargin, type PairState } from '../grading/margin';
import type { Measured } from '../model/chart';
import type { Condition } from '../model/condition';
import type { GradingPair } from '../model/chart';
import type { ElementId } from '../model/fields';
import { find, settingsOf, withElements, type Network } from '../model/network';
import { nextPrimaryA } from '../model/standardSizes';
import { curvesOf, measuredBy, quantityOfMode } from '../protection/curve';
import {
  deviceFrom,
  deviceOf,
  devicesOf,
  mainInput,
  timeCurrents,
  withFunction,
  withFunctions,
  type Device,
  type DeviceElement,
} from '../protection/device';
import { operatingBy, quickest, tolerance } from '../grading/least';
import { ownInput, type Setting, type TimeCurrent } from '../protection/family';
import { familyOf } from '../protection/registry';
import type { DeviceFunction } from '../protection/schemas';
import { bookOf, rulesFor, valueOf, type ReadyRule } from '../rules/book';
import { requiredMargin } from '../rules/margins';
import { flowIn } from '../studies/loads';
import { Studies } from '../studies/studies';
import { canBeDirected, missingFunctions, settingWords, withDirected, withGiven } from './complete';
import { asItIs, asksAnew, demandsOf, rangeDemand, strictest, type Demand } from './demand';
import { figuresFor, kindsBehind, plantBehind, type Figure, type Figures, type Plant } from './figures';
import { Climb, fromBelow, inRings, type Judged } from './order';
import { valueNow } from './origin';
import {
  widerS,
  type Conflict,
  type LeftOut,
  type Measures,
  type Proposal,
  type ProposedPart,
  type ProposedRatio,
  type ProposedValue,
  type ProposeOptions,
  type Way,
} from './proposal';
import { firstStep, isHighStage, lastStep, modeOf, settingOf, stepAt, stepsOf, subjectOf, type Steps } from './slots';
import { characteristicWays, directionWays, ratioWays, voltageWays } from './ways';

const almost = 1e-9;
const angleField = 'direction.characteristicAngleDeg';
/** To steps of 5°, as angles are commonly set: up, down, or the nearer one. */
const towardsRound = (degrees: number, way: 1 | -1 | 0): number =>
  5 *
  (way === 0 ? Math.round(degrees / 5) : way > 0 ? Math.ceil(degrees / 5 - almost) : Math.floor(degrees / 5 + almost));
const curveKey = (device: Device, { fn, part }: TimeCurrent): string => `${device.id} ${fn.id} ${part ?? ''}`;
const byId = <T extends { readonly id: string }>(p: T, q: T) => (p.id < q.id ? -1 : p.id > q.id ? 1 : 0);

/** Yields the share that is done. */
export function* propose(
  studies: Studies,
  conditions: readonly Condition[],
  options: ProposeOptions,
): Generator<number, Proposal> {
  let ground: Ground = { studies, stored: studies.network, given: new Map() };
  ground = completed(ground, new Run(ground, conditions, options).missing());
  let run = new Run(ground, conditions, options);
  yield* within(run.pickups(), 0, 0.3);
  // A direction changes what a device sees: who stands above whom is judged with it.
  const directions = run.lackDirection();
  if (directions.length > 0) {
    ground = completed(ground, directions);
    run = new Run(ground, conditions, options);
    yield* within(run.pickups(), 0.3, 0.4);
  }
  for (const [k, device] of run.devices.entries()) {
    yield 0.4 + (0.04 * k) / run.devices.length;
    run.setAngles(device);
    run.setTimes(device);
  }
  yield* run.grade();
  return run.result();
}

function* within(steps: Generator<number, void>, from: number, to: number): Generator<number, void> {
  for (const share of steps) yield from + (to - from) * share;
}

/** What is proposed on: the network with the functions that rules ask for, and what is stored. */
interface Ground {
  readonly studies: Studies;
  readonly stored: Network;
  /** Functions that are added or given a direction, by device and function, with what asks for them. */
  readonly given: ReadonlyMap<string, readonly Demand[]>;
}

interface Completion {
  readonly element: DeviceElement;
  readonly given: readonly (readonly [fn: ElementId, by: readonly Demand[]])[];
}

/** Functions carry no current: the studies stay. */
function completed({ studies, stored, given }: Ground, completions: readonly Completion[]): Ground {
  if (completions.length === 0) return { studies, stored, given };
  const elements = completions.map(({ element }) => element);
  return {
    studies: new Studies(withElements(studies.network, elements), { studies, changed: elements.map(({ id }) => id) }),
    stored,
    given: new Map([
      ...given,
      ...completions.flatMap(({ element, given: own }) => own.map(([fn, by]) => [`${element.id} ${fn}`, by] as const)),
    ]),
  };
}

interface Change {
  readonly device: ElementId;
  readonly functionId: ElementId;
  readonly field: string;
  readonly setting: Setting | null;
  readonly steps: Steps | null;
  readonly by: readonly Demand[];
}

class Run {
  readonly devices: readonly Device[];
  private readonly book;
  private readonly trials = new Map<ElementId, DeviceElement>();
  private readonly changes = new Map<string, Change>();
  private readonly conflicts = new Map<string, Conflict>();
  /** What pairs ask of pickups, by curve of the upper device. */
  private readonly asked = new Map<string, Demand>();
  private readonly leftOut: LeftOut[] = [];
  private pairs: readonly Judged[] = [];
  private below: ReadonlySet<ElementId> = new Set();
  private readonly known = new Map<string, Figures>();
  private readonly plants = new Map<ElementId, readonly Plant[]>();
  /** Pairs of rings that were given up for the others of their ring. */
  private readonly givenUp = new Set<string>();
  /** Margins of all pairs as proposed. */
  private readonly final = new Map<string, PairMargin>();
  /** Of every time that can be raised: the largest that rules allow. */
  private readonly ceilings = new Map<string, { readonly value: number; readonly by: Demand }>();
  private readonly studies: Studies;

  constructor(
    private readonly ground: Ground,
    private readonly conditions: readonly Condition[],
    private readonly options: ProposeOptions,
  ) {
    this.studies = ground.studies;
    const { network } = ground.studies;
    this.book = bookOf(network);
    const locked = new Set(settingsOf(network).lockedDevices);
    const asked = devicesOf(network)
      .filter(({ id }) => options.devices === null || options.devices.has(id))
      .sort(byId);
    this.devices = asked.filter((device) => {
      const reason = locked.has(device.id) ? 'locked' : this.reasonToLeave(device);
      if (reason) this.leftOut.push({ device: device.id, deviceName: device.name, reason });
      return reason === null;
    });
  }

  /** Functions that rules ask for and that are not there. */
  missing(): Completion[] {
    return this.devices.flatMap((device): Completion[] => {
      const plant = this.plantOf(device);
      const given = missingFunctions(this.book, device, plant, (mode) => this.figures(device, mode));
      if (given.length === 0) return [];
      return [{ element: withGiven(device.element, given), given: given.map(({ fn, by }) => [fn.id, by] as const) }];
    });
  }

  /** Functions that need a direction, of devices that measure a voltage. */
  lackDirection(): Completion[] {
    return this.devices.flatMap((device): Completion[] => {
      const lacking = device.voltageAt ? this.undirected(device) : [];
      if (lacking.length === 0) return [];
      const ids = lacking.map(({ curve }) => curve.fn.id);
      return [
        {
          element: withDirected(device.element, ids),
          given: lacking.map(({ curve, demands }) => [curve.fn.id, demands] as const),
        },
      ];
    });
  }

  /** Functions whose pickup, as proposed, a fault behind reaches, while no higher one still sees the smallest ahead. */
  private undirected(device: Device): { readonly curve: TimeCurrent; readonly demands: readonly [Demand, Demand] }[] {
    if (device.kind !== 'relay') return [];
    const kinds = kindsBehind(this.plantOf(device));
    return timeCurrents(this.now(device)).flatMap((curve) => {
      const subject = subjectOf(curve);
      if (!subject || curve.measure || isHighStage(curve) || !canBeDirected(curve.fn)) return [];
      const figures = this.figures(device, modeOf(curve));
      const asked = strictest(demandsOf(this.book, subject, kinds, 'directed', figures), 'atLeast');
      const sees = strictest(demandsOf(this.book, subject, kinds, 'pickup', figures), 'atMost');
      const isNeeded = asked && sees && curve.pickupA < asked.value && sees.value < asked.value;
      return isNeeded ? [{ curve, demands: [sees, asked] as const }] : [];
    });
  }

  /** Who follows whom, and all pickups. */
  *pickups(): Generator<number, void> {
    yield* within(this.find(), 0, 0.55);
    for (const [k, device] of this.devices.entries()) {
      yield 0.55 + (0.4 * k) / this.devices.length;
      this.setPickups(device);
    }
    for (const _ of this.gradePickups()) yield 0.95;
  }

  /** Who follows whom, in which states. */
  *find(): Generator<number, void> {
    const { studies, conditions } = this;
    const asked = askedPairs(studies, conditions).filter(({ ruling }) => ruling?.graded !== false);
    const pairs: Judged[] = [];
    for (const [k, each] of asked.entries()) {
      yield k / asked.length;
      const states = statesAsked(studies, conditions, each)?.states ?? [];
      const { pair, mode } = each;
      const key = `${mode} ${pair.downstream} ${pair.upstream}`;
      if (states.length > 0) pairs.push({ key, mode, pair, states, conditions: each.conditions.length });
    }
    this.pairs = pairs.sort((p, q) => (p.key < q.key ? -1 : 1));
    this.below = new Set(pairs.map(({ pair }) => pair.upstream));
  }

  private reasonToLeave(device: Device): string | null {
    if (device.inputs.length === 0) return 'measures at no current transformer';
    if (device.opens.length === 0) return 'opens nothing';
    if (timeCurrents(device).length === 0) return 'no function in use that operates by time over current';
    if (this.options.includeAssumed) return null;
    const { network } = this.studies;
    const looked = [
      network.elements.get(mainInput(device)!.through),
      ...this.plantOf(device).map(({ element }) => element),
    ];
    const guessed = looked.filter(
      (element) => element && 'assumed' in element && element.assumed?.some((path) => path !== 'functions'),
    );
    const names = guessed.map((element) => ('name' in element! ? element.name : ''));
    return names.length > 0 ? `assumed data of ${names.join(', ')}` : null;
  }

  private plantOf(device: Device): readonly Plant[] {
    let plant = this.plants.get(device.id);
    if (!plant) this.plants.set(device.id, (plant = plantBehind(this.studies, device)));
    return plant;
  }

  private now(device: Device): Device {
    const trial = this.trials.get(device.id);
    return trial ? deviceFrom(this.studies.network, trial)! : device;
  }

  private figures(device: Device, mode: Measured): Figures {
    const key = `${device.id} ${mode}`;
    let known = this.known.get(key);
    if (!known) {
      const transforms = this.plantOf(device).some(({ element }) => element.kind === 'transformer');
      const hasBelow = transforms || this.below.has(device.id);
      this.known.set(
        key,
        (known = figuresFor(this.studies, this.conditions, device, mode, hasBelow, this.plantOf(device))),
      );
    }
    return known;
  }

  private put(device: Device, fn: DeviceFunction, change: Omit<Change, 'device' | 'functionId'>): void {
    this.trials.set(device.id, withFunction(this.trials.get(device.id) ?? device.element, fn));
    this.changes.set(`${device.id} ${fn.id} ${change.field}`, { device: device.id, functionId: fn.id, ...change });
  }

  private conflict(
    key: string,
    device: Device,
    curve: TimeCurrent | null,
    demands: readonly [Demand, Demand],
    short: number,
    message: string,
    ways: readonly Way[] = [],
  ): void {
    const [kept, given] = demands;
    this.conflicts.set(key, {
      device: device.id,
      deviceName: device.name,
      functionId: curve?.fn.id ?? null,
      code: curve?.code ?? '',
      kept,
      given,
      short,
      message,
      ways,
    });
  }

  setPickups(device: Device): void {
    const kinds = kindsBehind(this.plantOf(device));
    for (const curve of timeCurrents(device)) {
      const subject = subjectOf(curve);
      const setting = settingOf(curve, 'pickup');
      const steps = setting && stepsOf(setting);
      if (!subject || !setting || !steps) continue;
      const ofPairs = this.asked.get(curveKey(device, curve));
      const demands = [
        ...demandsOf(this.book, subject, kinds, 'pickup', this.figures(device, modeOf(curve))),
        ...(ofPairs ? [ofPairs] : []),
      ];
      // Where no time can be set, what is asked of times is asked of the size.
      const times = settingOf(curve, 'time')
        ? []
        : demandsOf(this.book, subject, kinds, 'time', this.figures(device, modeOf(curve)));
      if (demands.length > 0) this.setPickup(device, curve, setting, steps, demands, times, subject === 'link');
    }
  }

  private setPickup(
    device: Device,
    curve: TimeCurrent,
    setting: Setting,
    steps: Steps,
    demands: readonly Demand[],
    times: readonly Demand[],
    isLink: boolean,
  ): void {
    const fn = this.fnOf(device, curve.fn.id);
    const key = `pickup ${curveKey(device, curve)}`;
    this.conflicts.delete(key);
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
      this.timeAt(device, curve, setting, value, atA!) >= timeS - almost;
    const reaches = (value: number) =>
      (most === null || sized(value).least >= most.value * (1 - almost)) && slow.every((each) => lasts(each, value));
    const stays = (value: number) => least === null || sized(value).most <= least.value * (1 + almost);
    const from = firstStep(steps, reaches);
    const to = lastStep(steps, stays);
    const [smallest, largest] = [stepAt(steps, 0), stepAt(steps, Infinity)];
    const set = (value: number, by: readonly Demand[]) => {
      this.put(device, family.withSetting(fn, setting.field, value), { field: setting.field, setting, steps, by });
    };
    const beyond = (sense: Demand['sense'], value: number, given: Demand, short: (range: Demand) => number) => {
      const range = rangeDemand(sense, sense === 'atMost' ? sized(value).least : sized(value).most, 'A');
      const words = conflictWords(device, curve, range, given);
      const ways = this.otherRatios(device, curve, setting, steps, demands);
      this.conflict(key, device, curve, [range, given], short(range), words, ways);
      set(value, [range, given]);
    };
    // It would reach too far or never operate.
    const outOfUse = (by: readonly Demand[]) =>
      this.put(device, { ...fn, enabled: false }, { field: 'enabled', setting: null, steps: null, by });
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
        () => tooQuick.value - this.timeAt(device, curve, setting, largest, tooQuick.atA!),
      );
    if (to === null && least) return beyond('atLeast', smallest, least, (range) => range.value - least.value);
    const [low, high] = [from ?? smallest, to ?? largest];
    if (low <= high) {
      const current = setting.value;
      const clamped = Math.min(Math.max(current, low), high);
      const isFree = most === null || isHighStage(curve) || this.options.strategy === 'least';
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
    const figures = this.figures(device, modeOf(curve));
    const ways = [
      ...this.otherRatios(device, curve, setting, steps, demands),
      ...(isLink ? [] : voltageWays(this.studies, this.conditions, device, curve, steps, most!.value, least!, figures)),
    ];
    this.conflict(key, device, curve, [kept, given], short, conflictWords(device, curve, kept, given), ways);
    set(value, [kept, given]);
  }

  /** Current transformers with which all demands on a pickup would be met; those by what is rated move with them. */
  private otherRatios(
    device: Device,
    curve: TimeCurrent,
    setting: Setting,
    steps: Steps,
    demands: readonly Demand[],
  ): Way[] {
    const kinds = kindsBehind(this.plantOf(device));
    const own = this.figures(device, modeOf(curve));
    const carries = demandsOf(this.book, 'currentTransformer', kinds, 'primary', this.figures(device, 'phase'));
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

  /** Characteristic angles of what looks forward: kept while they lie between what rules ask. Elsewhere, that a direction is missing. */
  setAngles(device: Device): void {
    const kinds = kindsBehind(this.plantOf(device));
    for (const { curve, demands } of this.undirected(device)) {
      const [sees, asked] = demands;
      const words = `${conflictWords(device, curve, sees, asked)}: no pickup tells faults ahead from faults behind`;
      const ways = directionWays(this.studies, this.conditions, device, curve);
      const short = asked.value - curve.pickupA;
      this.conflict(`direction ${curveKey(device, curve)}`, device, curve, demands, short, words, ways);
    }
    for (const curve of timeCurrents(this.now(device))) {
      const { fn } = curve;
      const subject = subjectOf(curve);
      if (!subject || fn.family !== 'overcurrent' || fn.direction?.looks !== 'forward') continue;
      const demands = demandsOf(this.book, subject, kinds, 'angle', this.figures(device, modeOf(curve)));
      const [low, high] = [strictest(demands, 'atLeast'), strictest(demands, 'atMost')];
      const setting = familyOf(fn)
        .settings(fn)
        .find(({ field }) => field === angleField)!;
      const value = setting.value;
      let to = Math.max(
        low ? towardsRound(low.value, 1) : -180,
        Math.min(high ? towardsRound(high.value, -1) : 180, value),
      );
      if (low && high && low.value > high.value) {
        const [kept, given] = low.importance < high.importance ? [low, high] : [high, low];
        // Of equal weight: half way, so that neither is missed by more.
        to =
          low.importance === high.importance ? Math.round((low.value + high.value) / 2) : towardsRound(kept.value, 0);
        const short = Math.abs(given.value - to);
        this.conflict(
          `angle ${curveKey(device, curve)}`,
          device,
          curve,
          [kept, given],
          short,
          conflictWords(device, curve, kept, given),
        );
      }
      if (to !== value)
        this.put(device, familyOf(fn).withSetting(fn, angleField, to), {
          field: angleField,
          setting,
          steps: stepsOf(setting),
          by: [low, high].flatMap((each) => each ?? []),
        });
    }
  }

  /** Raises pickups until none of an upper device lies below that of a lower one, as both see the faults between them; not around rings. */
  *gradePickups(): Generator<number, void> {
    const rules = rulesFor(this.book, 'pair', new Set()).filter(({ rule }) => rule.bound === 'pickup');
    if (rules.length === 0) return;
    const scope = new Map(this.devices.map((device) => [device.id, device]));
    const mutual = inRings(this.pairs);
    const pairs = this.pairs.filter(
      ({ key, pair, mode }) => mode !== 'negative' && !mutual.has(key) && scope.has(pair.upstream),
    );
    let open = pairs;
    // As many rounds as there are devices above each other.
    for (let round = 0; open.length > 0 && round <= this.devices.length; round++) {
      const raised = new Set<ElementId>();
      for (const judged of open) {
        yield 0;
        const upper = scope.get(judged.pair.upstream)!;
        if (this.askPickups(judged, upper, rules)) raised.add(upper.id);
      }
      for (const id of raised) this.setPickups(scope.get(id)!);
      open = pairs.filter(({ pair }) => raised.has(pair.downstream));
    }
  }

  private askPickups({ pair, states, mode }: Judged, upper: Device, rules: readonly ReadyRule[]): boolean {
    const { network } = this.studies;
    const lower = deviceIn(network, this.trials, pair.downstream);
    if (!lower) return false;
    const quantity = quantityOfMode[mode];
    // An overload that a thermal function clears in minutes is none of the upper device; where there is nothing else it counts.
    const seeing = curvesOf(lower).functions.filter(
      (each) => each.quantity === quantity && !each.fast && !each.measure,
    );
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
        if (!result.ok || result.value <= (this.asked.get(key)?.value ?? 0) * (1 + almost)) continue;
        const { kind, condition } = most.state;
        const figure: Figure = {
          name: 'lowerPickup',
          value: most.lowerPickup,
          unit: 'A',
          condition,
          kind,
          place: lower.name,
        };
        this.asked.set(key, {
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

  private fnOf(device: Device, id: ElementId): DeviceFunction {
    return (this.trials.get(device.id) ?? device.element).functions.find((fn) => fn.id === id)!;
  }

  /** The smallest times that rules allow, or those that are set; margins come on top. */
  setTimes(device: Device): void {
    const kinds = kindsBehind(this.plantOf(device));
    for (const curve of timeCurrents(this.now(device))) {
      const subject = subjectOf(curve);
      const setting = settingOf(curve, 'time');
      const steps = setting && stepsOf(setting);
      if (!subject || !setting || !steps || /Instant$/.test(subject)) continue;
      const demands = demandsOf(this.book, subject, kinds, 'time', this.figures(device, modeOf(curve)));
      const timeAt = (value: number, ampere: number) => this.timeAt(device, curve, setting, value, ampere);
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
        const before = this.ceilings.get(key);
        if (value !== null && (!before || value < before.value)) this.ceilings.set(key, { value, by: demand });
        if (value !== null && value < low && by.length > 0) {
          const keepsUpper = demand.importance <= by[0].importance;
          const [kept, given] = keepsUpper ? [demand, by[0]] : [by[0], demand];
          const at = keepsUpper ? by[0].atA! : demand.atA!;
          const short = Math.abs(timeAt(keepsUpper ? value : low, at) - given.value);
          this.conflict(
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
      const keeps = this.options.strategy === 'least' || demands.length === 0;
      const value = keeps ? Math.max(low, setting.value) : low;
      const fn = this.fnOf(device, curve.fn.id);
      this.put(device, familyOf(fn).withSetting(fn, setting.field, value), {
        field: setting.field,
        setting,
        steps,
        by,
      });
    }
  }

  private timeAt(
    device: Device,
    { fn: { id }, part, input }: TimeCurrent,
    { field }: Setting,
    value: number,
    ampere: number,
  ): number {
    const fn = this.fnOf(device, id);
    const rating = device.inputs.find((each) => each.id === (input ?? ownInput))!.rating;
    const set = familyOf(fn).withSetting(fn, field, value);
    return familyOf(fn).timeCurrents!(set, rating)
      .find((each) => each.part === part)!
      .at(ampere).earliestS;
  }

  /** Raises times until every pair holds that can: first those that are in no ring, then those of rings, one after the other, as long as times allow. */
  *grade(): Generator<number, void> {
    const scope = new Map(this.devices.map((device) => [device.id, device]));
    const pairs = this.pairs.filter(({ pair }) => scope.has(pair.upstream));
    const mutual = inRings(pairs);
    const plain = pairs.filter(({ key }) => !mutual.has(key));
    // In a ring somebody must give way: whoever follows in the fewest conditions comes last.
    const ring = pairs
      .filter(({ key }) => mutual.has(key))
      .sort((p, q) => q.conditions - p.conditions || (p.key < q.key ? -1 : 1));
    const active = new Climb(plain);
    yield* this.raiseAll(active, fromBelow(plain), scope, [0.44, 0.7]);
    for (const [k, judged] of ring.entries()) {
      const [trials, changes] = [new Map(this.trials), new Map(this.changes)];
      const span = [0.7 + (0.25 * k) / ring.length, 0.7 + (0.25 * (k + 1)) / ring.length] as const;
      const tried = active.with(judged);
      if (yield* this.raiseAll(tried, [judged], scope, span)) {
        active.add(judged);
        continue;
      }
      this.givenUp.add(judged.key);
      restore(this.trials, trials);
      restore(this.changes, changes);
    }
    for (const [k, judged] of this.pairs.entries()) {
      yield 0.95 + (0.05 * k) / this.pairs.length;
      this.pairConflict(judged);
    }
  }

  private margin({ pair, states, mode }: Judged): PairMargin {
    return pairMargin(this.studies.network, states, this.wanted(pair), mode, this.trials);
  }

  private wanted(pair: GradingPair): GradingPair {
    if (this.options.strategy !== 'widest') return pair;
    const { network } = this.studies;
    const [below, above] = [pair.downstream, pair.upstream].map((id) =>
      devicesOf(network).find((device) => device.id === id),
    );
    if (!below || !above) return pair;
    return { ...pair, wantedMarginS: wantedMargin(network, pair, curvesOf(below), curvesOf(above)) + widerS };
  }

  /** From some pairs on through all that follow. False as soon as one that is not known to be stuck cannot be raised any further. */
  private *raiseAll(
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
        const raised = this.raise(judged, upper);
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
  private raise(judged: Judged, upper: Device): 'done' | 'raised' | 'beyond' | 'stuck' {
    const { states } = judged;
    const margin = this.margin(judged);
    if (margin.verdict !== 'short' || !margin.decisive) return 'done';
    const { decisive } = margin;
    const state = states.find(({ kind, condition }) => kind === decisive.kind && condition === decisive.condition)!;
    const curve = curvesOf(this.now(upper))
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
    const fn = this.fnOf(upper, curve.fn.id);
    const family = familyOf(fn);
    const rating = upper.inputs.find(({ id }) => id === curve.input)!.rating;
    const counting = settingsOf(this.studies.network).marginCounts;
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
    const ceiling = this.ceilings.get(key);
    const demand = this.marginDemand(judged, margin);
    const isBeyond = ceiling !== undefined && value > ceiling.value;
    // The more important of the two is kept.
    if (isBeyond && ceiling.by.importance < demand.importance) return 'stuck';
    this.put(upper, family.withSetting(fn, setting.field, value), {
      field: setting.field,
      setting: this.changes.get(key)?.setting ?? setting,
      steps,
      by: [demand],
    });
    return isBeyond ? 'beyond' : 'raised';
  }

  private marginDemand({ pair }: Judged, { decisive, wantedS }: PairMargin): Demand {
    const { network } = this.studies;
    const [below, above] = [pair.downstream, pair.upstream].map((id) => deviceIn(network, this.trials, id));
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
  private pairConflict(judged: Judged): void {
    const upper = this.devices.find(({ id }) => id === judged.pair.upstream);
    const lower = this.devices.find(({ id }) => id === judged.pair.downstream);
    const device = upper ?? lower;
    const margin = this.margin(judged);
    this.final.set(judged.key, margin);
    if (!device || margin.verdict !== 'short') return;
    const demand = this.marginDemand(judged, margin);
    const short = margin.decisive ? margin.wantedS - margin.decisive.marginS : 0;
    const names = [judged.pair.downstream, judged.pair.upstream].map(
      (id) => devicesOf(this.studies.network).find((each) => each.id === id)?.name ?? id,
    );
    const curve = upper
      ? (curvesOf(this.now(upper)).functions.find(({ code }) => code === margin.decisive?.upstreamBy) ?? null)
      : null;
    const kept = !curve
      ? asItIs('The upper device is left as it is')
      : this.givenUp.has(judged.key)
        ? asItIs('The other margins of its ring')
        : this.whyNotHigher(device, curve);
    this.conflict(
      `pair ${judged.key}`,
      device,
      curve,
      [kept, demand],
      short,
      `${names[0]} → ${names[1]}, ${judged.mode} faults: margin ${margin.decisive?.marginS.toFixed(3).replace('-', '−') ?? '?'} s, ${margin.wantedS} s required; kept: ${kept.title.toLowerCase()}`,
      upper && curve
        ? characteristicWays(this.studies, judged, upper, curve, this.trials, this.ceilingOf(upper, curve))
        : [],
    );
  }

  private whyNotHigher(device: Device, curve: TimeCurrent): Demand {
    const setting = settingOf(curve, 'time');
    return this.ceilingOf(device, curve) ?? rangeDemand('atMost', setting?.value ?? 0, setting?.unit ?? 's');
  }

  /** What allows a time no further. */
  private ceilingOf(device: Device, curve: TimeCurrent): Demand | undefined {
    const setting = settingOf(curve, 'time');
    return setting && this.ceilings.get(`${device.id} ${curve.fn.id} ${setting.field}`)?.by;
  }

  result(): Proposal {
    const { given } = this.ground;
    const values: ProposedValue[] = [];
    const elements: DeviceElement[] = [];
    for (const device of this.devices) {
      const own = [...this.changes.values()].filter((each) => each.device === device.id);
      const plain = own
        .filter(({ functionId }) => !given.has(`${device.id} ${functionId}`))
        .map((change) => this.valueOf(device, change));
      const wholes = device.functions
        .filter(({ id }) => given.has(`${device.id} ${id}`))
        .flatMap(({ id }) => this.wholeOf(device, id, own) ?? []);
      values.push(...plain, ...wholes);
      // What was added and found no room is not added.
      const added = new Set(wholes.map(({ functionId }) => functionId));
      const { functions } = this.storedOf(device);
      const element = this.trials.get(device.id) ?? device.element;
      const kept = element.functions.filter(({ id }) => added.has(id) || functions.some((fn) => fn.id === id));
      if (wholes.length > 0 || plain.some(({ from, to }) => from !== to)) elements.push(withFunctions(element, kept));
    }
    const changed = values.filter(({ from, to }) => from !== to);
    return {
      strategy: this.options.strategy,
      book: this.book.name,
      values,
      conflicts: [...this.conflicts].sort(([p], [q]) => (p < q ? -1 : 1)).map(([, each]) => each),
      leftOut: this.leftOut,
      remarks: this.remarks(),
      ratios: this.ratios(),
      elements,
      measures: { ...this.measures(), devicesTouched: elements.length, valuesChanged: changed.length },
    };
  }

  private storedOf(device: Device): DeviceElement {
    return deviceOf(this.ground.stored, device.id)!.element;
  }

  private valueOf(device: Device, { functionId, field, setting, steps, by }: Change): ProposedValue {
    const trial = this.trials.get(device.id)!;
    const [before, after] = [this.storedOf(device), trial].map((of) =>
      of.functions.find(({ id }) => id === functionId)!,
    );
    const curves = timeCurrents(device).filter(({ fn }) => fn.id === functionId);
    const curve = timeCurrents(deviceFrom(this.studies.network, trial)!).find(
      ({ fn, part }) => fn.id === functionId && part === setting?.part,
    );
    return {
      device: device.id,
      deviceName: device.name,
      functionId,
      code: curve?.code ?? curves[0]?.code ?? familyOf(after).code(after),
      field,
      title: setting?.title ?? 'In use',
      unit: setting?.unit ?? '',
      from: valueNow(before, field)!,
      to: valueNow(after, field)!,
      primaryA: setting?.role === 'pickup' ? (curve?.pickupA ?? null) : null,
      by,
      isTypical: steps?.isTypical ?? false,
    };
  }

  /** A function that is added or given a direction, in one; null where there is no room for one that was to be added. */
  private wholeOf(device: Device, functionId: ElementId, own: readonly Change[]): ProposedValue | null {
    const before = this.storedOf(device).functions.find(({ id }) => id === functionId);
    const fn = this.fnOf(device, functionId);
    if (!fn.enabled) return null;
    const parts = own
      .filter((change) => change.functionId === functionId)
      .map(({ field, by }): ProposedPart => ({ field, value: valueNow(fn, field)!, by }));
    const asking = [...this.ground.given.get(`${device.id} ${functionId}`)!, ...parts.flatMap(({ by }) => by)];
    return {
      device: device.id,
      deviceName: device.name,
      functionId,
      code: familyOf(fn).code(fn),
      field: before ? 'direction' : 'function',
      title: before ? 'Direction' : 'Function added',
      unit: '',
      from: before ? `${familyOf(before).code(before)}, ${settingWords(before)}` : 'none',
      to: `${before ? 'forward, ' : ''}${settingWords(fn)}`,
      primaryA: null,
      by: asking.filter(({ title }, k) => asking.findIndex((other) => other.title === title) === k),
      isTypical: false,
      whole: { fn, parts },
    };
  }

  /** A load that is not known asks nothing: whoever takes the pickups must know. */
  private remarks(): string[] {
    return this.conditions
      .filter(({ id }) => !flowIn(this.studies, id).converged)
      .map(({ name }) => `${name}: the load flow has no solution, no load of this condition is counted`);
  }

  private ratios(): ProposedRatio[] {
    const { network } = this.studies;
    const found = new Map<ElementId, ProposedRatio>();
    for (const device of this.devices) {
      const ct = find(network, 'currentTransformer', mainInput(device)!.through);
      if (!ct) continue;
      const kinds = kindsBehind(this.plantOf(device));
      const demands = demandsOf(this.book, 'currentTransformer', kinds, 'primary', this.figures(device, 'phase'));
      const lower = demands.filter(({ sense }) => sense === 'atLeast');
      if (lower.length === 0) continue;
      const by = lower.reduce((p, q) => (q.value > p.value ? q : p));
      if (by.value <= ct.primaryA * (1 + almost) || by.value <= (found.get(ct.id)?.by.value ?? 0)) continue;
      const to = nextPrimaryA(by.value);
      found.set(ct.id, { ct: ct.id, ctName: ct.name, deviceName: device.name, from: ct.primaryA, to, by });
    }
    return [...found.values()];
  }

  private measures(): Pick<Measures, 'worstMarginS' | 'slowestS' | 'pairs' | 'pairsShort'> {
    let worstMarginS: number | null = null;
    let pairsShort = 0;
    const beyond = this.options.strategy === 'widest' ? widerS : 0;
    for (const judged of this.pairs) {
      const { decisive, wantedS, verdict } = this.final.get(judged.key)!;
      // What only lacks the width that was wished for is met.
      const isShort = verdict === 'short' && !(decisive && decisive.marginS >= wantedS - beyond - tolerance);
      if (isShort) pairsShort++;
      if (decisive) worstMarginS = Math.min(worstMarginS ?? Infinity, decisive.marginS - (wantedS - beyond));
    }
    const times = this.devices.flatMap((device) => {
      const curves = timeCurrents(this.now(device)).filter(({ quantity }) => quantity === 'phase');
      const largest = curves.length > 0 ? this.figures(device, 'phase').largestFault.value : null;
      const timeS = largest === null ? Infinity : Math.min(...curves.map(({ at }) => at(largest).earliestS));
      return Number.isFinite(timeS) ? [timeS] : [];
    });
    return {
      worstMarginS,
      slowestS: times.length > 0 ? Math.max(...times) : null,
      pairs: this.pairs.length,
      pairsShort,
    };
  }
}

/** Rated current that a setting of a link or a release stands for. */
function ratedOf(fn: DeviceFunction, { unit }: Setting, value: number, primaryA: number): number {
  if (unit === 'A') return value;
  return value * ('ratedA' in fn ? fn.ratedA : primaryA);
}

function restore<K, V>(map: Map<K, V>, from: ReadonlyMap<K, V>): void {
  map.clear();
  for (const [key, value] of from) map.set(key, value);
}

const digits = (value: number): string => String(Number(value.toPrecision(4)));
const said = ({ sense, value, unit, atA, title }: Demand): string =>
  `${title.toLowerCase()} (${sense === 'atLeast' ? 'at least' : 'at most'} ${digits(value)} ${unit}${atA === null ? '' : ` at ${digits(atA)} A`})`;

const conflictWords = (device: Device, curve: TimeCurrent, kept: Demand, given: Demand): string =>
  `${device.name}, ${curve.code}: ${said(given)} cannot be met together with ${said(kept)}`;
