/** What a proposal is asked for, and what it says; `propose` makes it. */
import type { ElementId } from '../model/fields';
import type { DeviceElement } from '../protection/device';
import type { DeviceFunction } from '../protection/schemas';
import type { Demand } from './demand';

export const strategies = ['fastest', 'widest', 'least'] as const;
/** `fastest`: the lowest times; `widest`: more margin than is asked; `least`: settings that hold stay. */
export type Strategy = (typeof strategies)[number];

/** What `widest` adds to each margin, in seconds. */
export const widerS = 0.1;

export interface ProposeOptions {
  /** Null: all. */
  readonly devices: ReadonlySet<ElementId> | null;
  readonly strategy: Strategy;
  /** Devices whose figures lean on assumed data are included, too. */
  readonly includeAssumed: boolean;
}

export interface ProposedValue {
  readonly device: ElementId;
  readonly deviceName: string;
  readonly functionId: ElementId;
  readonly code: string;
  readonly field: string;
  readonly title: string;
  readonly unit: string;
  /** A text for a function as a whole: none, or its settings. */
  readonly from: number | boolean | string;
  readonly to: number | boolean | string;
  /** Pickups: in primary amperes. */
  readonly primaryA: number | null;
  /** The demands that it is as it is for; empty: it stays as it is. */
  readonly by: readonly Demand[];
  /** The range of the device is not known: a common one was taken. */
  readonly isTypical: boolean;
  /** For a function that is added, or given a direction: all of it as proposed, and what its values are asked by. */
  readonly whole?: { readonly fn: DeviceFunction; readonly parts: readonly ProposedPart[] };
}

/** A value of a function that is taken as a whole. */
export interface ProposedPart {
  readonly field: string;
  readonly value: number | boolean;
  readonly by: readonly Demand[];
}

export interface Conflict {
  readonly device: ElementId;
  readonly deviceName: string;
  readonly functionId: ElementId | null;
  readonly code: string;
  /** The demand that is kept, and the one that is not met. */
  readonly kept: Demand;
  readonly given: Demand;
  /** By so much the other one is not met, in its unit. */
  readonly short: number;
  /** In plain words. */
  readonly message: string;
  /** What was tried and would do. */
  readonly ways: readonly Way[];
}

/** What would resolve a conflict; each has been tried. */
export type Way = {
  /** In plain words. */
  readonly words: string;
} & (
  | {
      /** Another characteristic of a function, with the time at which a pair holds. */
      readonly kind: 'characteristic';
      readonly functionId: ElementId;
      readonly characteristic: string;
      readonly field: string;
      readonly value: number;
    }
  /** Another rated primary current of the current transformer, in amperes. */
  | { readonly kind: 'ratio'; readonly primaryA: number }
  /** The function restrained by voltage, with this pickup. */
  | { readonly kind: 'voltage'; readonly functionId: ElementId; readonly value: number }
  /** A voltage transformer, and with it a direction. */
  | { readonly kind: 'direction'; readonly functionId: ElementId }
);

export interface LeftOut {
  readonly device: ElementId;
  readonly deviceName: string;
  readonly reason: string;
}

/** A current transformer that is rated too small. */
export interface ProposedRatio {
  readonly ct: ElementId;
  readonly ctName: string;
  readonly deviceName: string;
  readonly from: number;
  /** The next standard rated primary current. */
  readonly to: number;
  readonly by: Demand;
}

export interface Measures {
  /** Smallest of margin less required margin over all pairs, in seconds; null where no pair has both. */
  readonly worstMarginS: number | null;
  /** Longest nominal time at the largest fault, in seconds. */
  readonly slowestS: number | null;
  readonly pairs: number;
  readonly pairsShort: number;
  readonly devicesTouched: number;
  readonly valuesChanged: number;
}

export interface Proposal {
  readonly strategy: Strategy;
  readonly book: string;
  readonly values: readonly ProposedValue[];
  readonly conflicts: readonly Conflict[];
  readonly leftOut: readonly LeftOut[];
  /** What the figures lack: conditions whose load flow has no solution. */
  readonly remarks: readonly string[];
  /** Pickups count in their ratings: they come first, and settings are proposed anew. */
  readonly ratios: readonly ProposedRatio[];
  /** Devices as proposed, of those that change. */
  readonly elements: readonly DeviceElement[];
  readonly measures: Measures;
}
