/**
 * What a family of functions brings, as far as it has it. A family is a folder under `protection/`, registered once (`registry`); grading, sheets, checks and
 * charts ask families, never a code or a kind of device.
 */
import type { SettingRange } from '../model/deviceFunction';
import type { ElementId } from '../model/fields';
import type { Switch } from '../model/switching';
import type { Trace } from '../working/trace';
import type { DeviceFunction } from './schemas';

/** What a function measures: the largest phase current, the residual current 3·I0, the negative-sequence current I2. */
export type Quantity = 'phase' | 'residual' | 'negative';

/** Currents at one input, as magnitudes in primary amperes. */
export type SeenCurrents = Readonly<Record<`${Quantity}A`, number>>;

/** What a device sees in one state of the system, by its inputs. */
export type DeviceSeen = Readonly<Record<string, SeenCurrents>>;

/** Input of functions that measure the current through the device itself. */
export const ownInput = 'own';

/** Rated currents of the current transformer at an input; both 1 where the device carries the current itself. */
export interface InputRating {
  readonly primaryA: number;
  readonly secondaryA: number;
}

/** Operating time in seconds, from the earliest to the latest; Infinity where the function does not operate. */
export interface Band {
  readonly earliestS: number;
  readonly latestS: number;
}

export const never: Band = { earliestS: Infinity, latestS: Infinity };
export const exactly = (timeS: number): Band => ({ earliestS: timeS, latestS: timeS });

/** A function with operating time over current, in primary amperes of its input. */
export interface TimeCurrent {
  readonly fn: DeviceFunction;
  /** "51", "50N": how it is called beside a curve. */
  readonly code: string;
  readonly input: string;
  readonly quantity: Quantity;
  readonly pickupA: number;
  /** From here on it operates with assurance; times below it count for no margin. */
  readonly assuredA: number;
  /** Where the curve begins, steps or bends. */
  readonly cornersA: readonly number[];
  /** Operating time at a steady current. */
  at(currentA: number): Band;
}

/** A value that can be set. */
export interface Setting {
  readonly field: string;
  readonly title: string;
  readonly unit: string;
  readonly value: number;
  /** What the device can be set to; null: anything that the field takes. */
  readonly range: SettingRange | null;
  /** Raised to trip later, or at more current. */
  readonly role: 'pickup' | 'time';
}

/** A row of a setting sheet: primary, secondary and in the device's own terms. */
export interface SheetFunction {
  readonly code: string;
  /** Which curve, as data; `characteristic` says it in words. */
  readonly curve: string;
  readonly characteristic: string;
  readonly pickupIn: number;
  readonly primaryA: number;
  readonly secondaryA: number;
  readonly timeMultiplier: number | null;
  readonly delayS: number | null;
}

/** What a function does in one state of the system. */
export interface Response {
  readonly pickedUp: boolean;
  /** Measured value over pickup. */
  readonly multiple: number;
  readonly band: Band;
}

/** State of a function while quantities change: how far it is on its way to the trip, 0 to 1. */
export interface Progress {
  readonly share: number;
  readonly tripped: boolean;
}

export const atRest: Progress = { share: 0, tripped: false };

/** A choice among named values. */
export interface Choice {
  readonly field: string;
  readonly title: string;
  readonly value: string;
  readonly options: readonly { readonly value: string; readonly label: string }[];
  /** Fixed by another setting. */
  readonly fixed?: boolean;
}

/** What a curve is held by: its pickup, moved sideways, or its time, moved up and down. */
export type Grip = Setting['role'];

/** What may have functions of a family: relays, or switches of a type. */
export type Host = 'relay' | Switch['type'];

/** What every function has; a family adds its own settings. */
export type FunctionLike = Pick<DeviceFunction, 'id' | 'enabled' | 'input' | 'circuits'> & { readonly family: string };

export interface Family<F extends FunctionLike = DeviceFunction> {
  readonly id: F['family'];
  readonly title: string;
  readonly hosts: readonly Host[];
  /** What can be added: "51, Phase overcurrent, time-delayed". */
  readonly variants: readonly { readonly value: string; readonly label: string }[];
  /** A new function with careful values; `like`: one of the same device, whose ranges it takes. */
  fresh(id: ElementId, variant: string, input: ElementId | null, like?: DeviceFunction): F;
  /** Number of IEEE C37.2, or what takes its place. */
  code(fn: F): string;
  /** Plain name of the function. */
  name(fn: F): string;
  /** Values in use. */
  settings(fn: F): readonly Setting[];
  withSetting(fn: F, field: string, value: number): F;
  choices?(fn: F): readonly Choice[];
  withChoice?(fn: F, field: string, value: string): F;
  /** Moved by hand so that its curve is gripped at a primary current and a time; the nearest that the device has. */
  dragged?(fn: F, rating: InputRating, grip: Grip, at: { readonly currentA: number; readonly timeS: number }): F;
  /** As operating time over current; families without one grade by other means. */
  timeCurrent?(fn: F, rating: InputRating): TimeCurrent;
  /** What it does at steady quantities, with its working. */
  respond?(fn: F, rating: InputRating, seen: SeenCurrents, trace: Trace): Response;
  /** What it does while quantities change: `seconds` further at these. Under constant quantities it ends as {@link respond} says. */
  advance?(fn: F, rating: InputRating, before: Progress, seen: SeenCurrents, seconds: number): Progress;
  /** Its row on a setting sheet. */
  sheet?(fn: F, rating: InputRating): SheetFunction;
}
