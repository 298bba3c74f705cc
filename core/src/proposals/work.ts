/** What a proposal is worked out on: devices with their figures, what has been changed of them so far, what is in conflict. */
import { askedPairs, statesAsked } from '../grading/network';
import { type PairMargin } from '../grading/margin';
import type { Measured } from '../model/chart';
import type { Condition } from '../model/condition';
import type { ElementId } from '../model/fields';
import { settingsOf, type Network } from '../model/network';
import {
  deviceFrom,
  devicesOf,
  mainInput,
  timeCurrents,
  withFunction,
  type Device,
  type DeviceElement,
} from '../protection/device';
import { ownInput, type Setting, type TimeCurrent } from '../protection/family';
import { familyOf } from '../protection/registry';
import type { DeviceFunction } from '../protection/schemas';
import { bookOf } from '../rules/book';
import { type Studies } from '../studies/studies';
import { type Demand } from './demand';
import { figuresFor, plantBehind, type Figures, type Plant } from './figures';
import { type Judged } from './order';
import { type Conflict, type LeftOut, type ProposeOptions, type Way } from './proposal';
import { settingOf, type Steps } from './slots';

export const almost = 1e-9;
export const curveKey = (device: Device, { fn, part }: TimeCurrent): string => `${device.id} ${fn.id} ${part ?? ''}`;
const byId = <T extends { readonly id: string }>(p: T, q: T) => (p.id < q.id ? -1 : p.id > q.id ? 1 : 0);

/** What is proposed on: the network with the functions that rules ask for, and what is stored. */
export interface Ground {
  readonly studies: Studies;
  readonly stored: Network;
  /** Functions that are added or given a direction, by device and function, with what asks for them. */
  readonly given: ReadonlyMap<string, readonly Demand[]>;
}

export interface Completion {
  readonly element: DeviceElement;
  readonly given: readonly (readonly [fn: ElementId, by: readonly Demand[]])[];
}

export interface Change {
  readonly device: ElementId;
  readonly functionId: ElementId;
  readonly field: string;
  readonly setting: Setting | null;
  readonly steps: Steps | null;
  readonly by: readonly Demand[];
}

/** `before`: one of the same currents, whose plant is taken over. */
export class Work {
  readonly devices: readonly Device[];
  readonly book;
  readonly trials = new Map<ElementId, DeviceElement>();
  readonly changes = new Map<string, Change>();
  readonly conflicts = new Map<string, Conflict>();
  /** What pairs ask of pickups, by curve of the upper device. */
  readonly asked = new Map<string, Demand>();
  readonly leftOut: LeftOut[] = [];
  pairs: readonly Judged[] = [];
  below: ReadonlySet<ElementId> = new Set();
  private readonly known = new Map<string, Figures>();
  private readonly plants: Map<ElementId, readonly Plant[]>;
  /** Pairs of rings that were given up for the others of their ring. */
  readonly givenUp = new Set<string>();
  /** Margins of all pairs as proposed. */
  readonly final = new Map<string, PairMargin>();
  /** Of every time that can be raised: the largest that rules allow. */
  readonly ceilings = new Map<string, { readonly value: number; readonly by: Demand }>();
  readonly studies: Studies;

  constructor(
    readonly ground: Ground,
    readonly conditions: readonly Condition[],
    readonly options: ProposeOptions,
    before?: Work,
  ) {
    this.plants = before?.plants ?? new Map();
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

  plantOf(device: Device): readonly Plant[] {
    let plant = this.plants.get(device.id);
    if (!plant) this.plants.set(device.id, (plant = plantBehind(this.studies, device)));
    return plant;
  }

  now(device: Device): Device {
    const trial = this.trials.get(device.id);
    return trial ? deviceFrom(this.studies.network, trial)! : device;
  }

  figures(device: Device, mode: Measured): Figures {
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

  put(device: Device, fn: DeviceFunction, change: Omit<Change, 'device' | 'functionId'>): void {
    this.trials.set(device.id, withFunction(this.trials.get(device.id) ?? device.element, fn));
    this.changes.set(`${device.id} ${fn.id} ${change.field}`, { device: device.id, functionId: fn.id, ...change });
  }

  conflict(
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

  fnOf(device: Device, id: ElementId): DeviceFunction {
    return (this.trials.get(device.id) ?? device.element).functions.find((fn) => fn.id === id)!;
  }

  timeAt(
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

  /** What allows a time no further. */
  ceilingOf(device: Device, curve: TimeCurrent): Demand | undefined {
    const setting = settingOf(curve, 'time');
    return setting && this.ceilings.get(`${device.id} ${curve.fn.id} ${setting.field}`)?.by;
  }
}

const digits = (value: number): string => String(Number(value.toPrecision(4)));
const said = ({ sense, value, unit, atA, title }: Demand): string =>
  `${title.toLowerCase()} (${sense === 'atLeast' ? 'at least' : 'at most'} ${digits(value)} ${unit}${atA === null ? '' : ` at ${digits(atA)} A`})`;

export const conflictWords = (device: Device, curve: TimeCurrent, kept: Demand, given: Demand): string =>
  `${device.name}, ${curve.code}: ${said(given)} cannot be met together with ${said(kept)}`;
