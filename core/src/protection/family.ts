/**
 * What a family of functions brings, as far as it has it. A family is a folder under `protection/`, registered once (`registry`); grading, sheets, checks and
 * charts ask families, never a code or a kind of device.
 */
import type { Complex } from '../linear/complex';
import type { SettingRange } from '../model/deviceFunction';
import type { ElementId } from '../model/fields';
import type { Switch } from '../model/switching';
import type { Trace } from '../working/trace';
import type { DeviceFunction } from './schemas';

/** What a function measures: the largest phase current, the residual current 3·I0, the negative-sequence current I2. */
export type Quantity = 'phase' | 'residual' | 'negative';

/** Phasors L1, L2, L3. */
export type ThreePhasors = readonly [Complex, Complex, Complex];

/** Currents at one input and the voltages that go with them, as phasors. */
export interface SeenVectors {
  /** Primary amperes towards the protected side, as the relay is connected: a reversed polarity turns them. */
  readonly currents: ThreePhasors;
  /** Phase to earth, in volts; null without a voltage transformer. */
  readonly voltages: ThreePhasors | null;
  /** The same before the fault. */
  readonly before: ThreePhasors | null;
  /** Rated voltage between phases, in volts. */
  readonly ratedV: number;
  /** Of the voltage transformer, between phases; null without one. */
  readonly secondaryV: number | null;
  /** Smallest voltage between phases in per unit of the rated one; null without a voltage transformer. */
  readonly leastVoltage: number | null;
}

/** Currents at one input, as magnitudes in primary amperes. */
export interface SeenCurrents extends Readonly<Record<`${Quantity}A`, number>> {
  /** Known where the device asks for directions or voltages. */
  readonly vectors?: SeenVectors;
  /** Zones of a device that protects busbars, as they stand with the switches of the moment; by busbar. */
  readonly zones?: ReadonlyMap<ElementId, ProtectedZone>;
  /** Busbars, and switches on their cable side, from which the light of an arc falls. */
  readonly light?: ReadonlySet<ElementId>;
  /** The breaker has just closed: nothing flowed before. */
  readonly isClosing?: boolean;
  /** What the device sees at its other inputs, for functions that look at more than one. */
  readonly inputs?: Readonly<Record<string, SeenCurrents>>;
}

/** What is connected to a busbar, as far as the current transformers of a device. */
export interface ProtectedZone {
  /** Itself, and others that it is joined with. */
  readonly buses: readonly ElementId[];
  readonly inputs: readonly string[];
  /** Of those that the device opens. */
  readonly breakers: readonly ElementId[];
}

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

/** How far a relay may be off its nominal time. */
export interface Accuracy {
  /** Of the operating time; 0.05 is five per cent. */
  readonly share: number;
  readonly fixedS: number;
  /** How long it goes on when the current has ceased. */
  readonly overshootS: number;
}

export const never: Band = { earliestS: Infinity, latestS: Infinity };
export const exactly = (timeS: number): Band => ({ earliestS: timeS, latestS: timeS });

/** What melts a link and what it lets through at most, in A²s. */
export interface Energy {
  readonly meltingA2s: number;
  throughA2s(currentA: number): number;
  /** Standard by which links of selective energies are selective over all currents. */
  readonly series?: string;
}

/** A function with operating time over current, in primary amperes of its input. */
export interface TimeCurrent {
  readonly fn: DeviceFunction;
  /** "51", "50N": how it is called beside a curve. */
  readonly code: string;
  /** Which part of a function that has several curves. */
  readonly part?: string;
  readonly input: string;
  readonly quantity: Quantity;
  readonly pickupA: number;
  /** From here on it operates with assurance; times below it count for no margin. */
  readonly assuredA: number;
  /** Where the curve begins, steps or bends. */
  readonly cornersA: readonly number[];
  /**
   * Time at a steady current: the nominal operating time of a relay; from melting to the end of the arc of a fuse; the band of a release or of a trip class,
   * from which on the breaker certainly opens to when the current has certainly ceased.
   */
  at(currentA: number): Band;
  /** What the nominal time may be off by; null where {@link at} holds all of it. */
  readonly accuracy: Accuracy | null;
  /** Whether {@link at} runs to the end of the current; else the opening of a breaker comes on top. */
  readonly clears: boolean;
  /** What it measures of what its device sees, where that is not simply its quantity: a direction that it heeds, a voltage. */
  measure?(seen: SeenCurrents): number;
  /** By energy, in A²s, where times of less than a cycle say nothing: what melts a fuse, and what it lets through at most. */
  readonly energy?: Energy;
  /** Of a breaker that limits the current: what its data sheet lets through at most where it opens at once, in A²s. */
  readonly limitA2s?: number;
  /** In use only while a recloser runs through its fast operations. */
  readonly fast?: boolean;
  /** What of the curve is only remembered of a standard. */
  readonly remembered?: string;
}

/** Latest end of the current; `openingS`: of the breaker, where the function does not interrupt by itself. */
export function latestClearing({ at, accuracy, clears }: TimeCurrent, currentA: number, openingS: number): number {
  const { latestS } = at(currentA);
  const opening = clears ? 0 : openingS;
  return accuracy ? latestS * (1 + accuracy.share) + accuracy.fixedS + opening : latestS + opening;
}

/** From when on it may operate: an overshooting relay that saw the current until then still trips. */
export function earliestOperation({ at, accuracy }: TimeCurrent, currentA: number): number {
  const { earliestS } = at(currentA);
  return accuracy ? earliestS * (1 - accuracy.share) - accuracy.fixedS - accuracy.overshootS : earliestS;
}

/** How a function guards a conductor against overload (IEC 60364-4-43, 433.1). */
export interface OverloadGuard {
  /** In, or the setting where there is one: it must lie between the design current and what the conductor carries. */
  readonly referenceA: number;
  /** I2, at which it certainly trips within the conventional time. */
  readonly tripsA: number;
}

/** A value that can be set. */
export interface Setting {
  readonly field: string;
  readonly title: string;
  readonly unit: string;
  readonly value: number;
  /** What the device can be set to; null: anything that the field takes. */
  readonly range: SettingRange | null;
  /** What such devices can commonly be set to, where that of this one is not known. */
  readonly typical?: SettingRange;
  /** Where it can only be one of so many: the sizes that a link or a breaker is made with. */
  readonly sizes?: readonly number[];
  /** Raised to trip later, or at more current; others move no curve by themselves. */
  readonly role: 'pickup' | 'time' | 'other';
  /** Amperes and ohms as the relay measures them, behind its transformers; else they are primary. */
  readonly secondary?: true;
  /** Seldom changed: shown on demand. */
  readonly more?: boolean;
  /** The part of a function with several curves that it belongs to. */
  readonly part?: string;
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
  /** Seconds since the current fell below pickup, where the travel is held for a time. */
  readonly restS?: number;
}

export const atRest: Progress = { share: 0, tripped: false };

/** What has picked up in one state and runs to a trip by itself: a function, or one of its zones or parts. */
export interface Timer {
  /** Within the function; empty where it has but one. */
  readonly id: string;
  /** "zone 2"; empty where it is the function as a whole. */
  readonly name: string;
  /** Measured value over pickup. */
  readonly multiple: number;
  /** From rest to the trip; Infinity where it has picked up and does not trip by itself. */
  readonly timeS: number;
  /** What it opens, where that is not the same at all times. */
  readonly opens?: readonly ElementId[];
}

/** How often and when a device closes again what it has opened. */
export interface ReclosingSequence {
  /** Trips to lockout. */
  readonly shots: number;
  readonly fastShots: number;
  /** After each opening but the last. */
  readonly deadTimesS: readonly number[];
  /** From closing, or drop-out if that is later, until it begins anew. */
  readonly reclaimS: number;
}

/** A choice among named values. */
export interface Choice {
  readonly field: string;
  readonly title: string;
  readonly value: string;
  readonly options: readonly { readonly value: string; readonly label: string }[];
  /** Fixed by another setting. */
  readonly fixed?: boolean;
  /** Seldom changed: shown on demand. */
  readonly more?: boolean;
}

/** What a curve is held by: its pickup, moved sideways, or its time, moved up and down. */
export type Grip = 'pickup' | 'time';

/** What may have functions of a family: relays, or switches of a type. */
export type Host = 'relay' | Switch['type'];

/** What every function has; a family adds its own settings. */
export type FunctionLike = Pick<DeviceFunction, 'id' | 'enabled' | 'input' | 'circuits' | 'origins'> & {
  readonly family: string;
};

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
  /** Whether it does nothing without a voltage transformer. */
  measuresVoltage?(fn: F): boolean;
  /** Whether it compares currents, of all inputs of its device, as phasors. */
  looksAtAll?(fn: F): boolean;
  /** Relays that send it what they measure. */
  hears?(fn: F): readonly ElementId[];
  /** Busbars that it protects, each by what is connected to it. */
  zones?(fn: F): readonly ElementId[];
  /** Values in use. */
  settings(fn: F): readonly Setting[];
  withSetting(fn: F, field: string, value: number): F;
  /** `inputs`: current inputs of its device, for what looks at more than one. */
  choices?(fn: F, inputs?: readonly { readonly id: string; readonly label: string }[]): readonly Choice[];
  withChoice?(fn: F, field: string, value: string): F;
  /** Moved by hand so that its curve is gripped at a primary current and a time; the nearest that the device has. */
  dragged?(
    fn: F,
    rating: InputRating,
    grip: Grip,
    at: { readonly currentA: number; readonly timeS: number },
    part?: string,
  ): F;
  /** A short circuit always makes its switch open without delay: such have no short-time rating. */
  opensAtOnce?: true;
  /** Null where it does not guard against overload. */
  guards?(fn: F, rating: InputRating): OverloadGuard | null;
  /** As operating time over current, a curve for each of its parts; families without one grade by other means. */
  timeCurrents?(fn: F, rating: InputRating): readonly TimeCurrent[];
  /** What it does at steady quantities, with its working. */
  respond?(fn: F, rating: InputRating, seen: SeenCurrents, trace: Trace): Response;
  /** What it does while quantities change: `seconds` further at these. Under constant quantities it ends as {@link respond} says. */
  advance?(fn: F, rating: InputRating, before: Progress, seen: SeenCurrents, seconds: number): Progress;
  /** What of it has picked up, where it times several things apart from each other; the others have dropped out. */
  timers?(fn: F, rating: InputRating, seen: SeenCurrents): readonly Timer[];
  /** Largest phase current below which nothing of it picks up, in primary amperes; null where more than a current decides. */
  leastA?(fn: F, rating: InputRating): number | null;
  /** Seconds to the trip at these quantities; the rest of its time where it is left out. */
  remaining?(fn: F, rating: InputRating, before: Progress, seen: SeenCurrents): number;
  /** Begun by a trip of its device's breakers, not by current alone: what it opens in their place. */
  afterTrip?(fn: F): readonly ElementId[];
  /** Closes again what its device has opened. */
  sequence?(fn: F): ReclosingSequence;
  /** Its row on a setting sheet. */
  sheet?(fn: F, rating: InputRating): SheetFunction;
}
