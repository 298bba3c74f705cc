/** What happens in a trial, and what can be made to go wrong in it. */
import type { ElementId } from '../model/fields';
import type { Disturbance } from '../faults/solution/solve';
import type { Phase } from '../faults/kinds';

export const eventKinds = [
  'fault',
  'change',
  'extinguish',
  'motors',
  'decay',
  'gone',
  'again',
  'pickUp',
  'dropOut',
  'trip',
  'melt',
  'open',
  'failToOpen',
  'close',
  'lockOut',
  'ready',
  'send',
  'receive',
] as const;
export type EventKind = (typeof eventKinds)[number];

export interface TrialEvent {
  /** Seconds from the beginning of the fault. */
  readonly atS: number;
  readonly kind: EventKind;
  readonly device?: ElementId;
  /** The function, by its identifier within the device. */
  readonly fn?: ElementId;
  /** "51", "21 zone 2". */
  readonly code?: string;
  readonly element?: ElementId;
  /** Of a fuse; none: all three. */
  readonly phases?: readonly Phase[];
  /** Measured value over pickup when it happened. */
  readonly multiple?: number;
  /** Of its time to the trip when it happened, at the quantities of the time. */
  readonly share?: number;
  /** Of a channel. */
  readonly signal?: string;
  /** The event in the list that brought it about; the first one has none. */
  readonly because: number | null;
}

/** A fault that begins, or becomes another one, at a time. */
export interface FaultStage {
  readonly atS: number;
  readonly faults: readonly Disturbance[];
}

/** What is made to go wrong. */
export interface Failures {
  /** Breakers that do not open. */
  readonly stuck: readonly ElementId[];
  /** Devices that do nothing. */
  readonly dead: readonly ElementId[];
  /** Channels that carry nothing: of a line package, or of a line differential. */
  readonly silent: readonly ElementId[];
}
export const noFailures: Failures = { stuck: [], dead: [], silent: [] };

/** `noCurrent`: the fault draws none; `stillFed`: nothing more happens and the fault goes on. */
export type Outcome = 'cleared' | 'extinguished' | 'stillFed' | 'noCurrent';
