/**
 * One mechanism for every tested statement: what is compared, with what, in which condition it was decided, and the verdict. A rule is a file that says what it
 * tests and how; findings are the checks that do not hold, and faults in the data.
 */
import type { FaultKind } from '../faults/kinds';
import type { Condition } from '../model/condition';
import type { ElementId } from '../model/fields';
import type { Network } from '../model/network';
import type { Problem, Severity } from '../model/problem';
import type { Studies } from '../studies/studies';
import type { Trace } from '../working/trace';

export const verdicts = ['holds', 'short', 'doubtful', 'notApplicable'] as const;
export type CheckVerdict = (typeof verdicts)[number];

/** As they are shown. */
export const verdictTitles: Readonly<Record<CheckVerdict, string>> = {
  holds: 'OK',
  short: 'not met',
  doubtful: 'warning',
  notApplicable: 'not applicable',
};

/** Which state decided. */
export interface Deciding {
  readonly condition: ElementId;
  readonly kind?: FaultKind;
  readonly place?: ElementId;
}

export interface Check {
  /** The same statement in every run. */
  readonly id: string;
  /** Rule that made it. */
  readonly rule: string;
  /** Stable code of what is found when it does not hold. */
  readonly code: string;
  readonly subject: ElementId;
  /** All elements concerned, when they are several. */
  readonly elements?: readonly ElementId[];
  /** What is tested, in a few words: "Margin to FER Q31 relay, phase faults". */
  readonly title: string;
  readonly value: number | null;
  readonly bound: number | null;
  readonly unit: string;
  /** Whether the value must not fall below the bound, or not rise above it. */
  readonly sense: 'atLeast' | 'atMost';
  readonly deciding: Deciding | null;
  readonly verdict: CheckVerdict;
  /** How bad it is when it does not hold. */
  readonly severity: Severity;
  /** What is compared, as a sentence; what is wrong when it does not hold. */
  readonly message: string;
  readonly field?: string;
  readonly proposal?: Problem['proposal'];
  /** Further figures of a duty against a rating, for its table. */
  readonly duty?: DutyFigures;
}

/** What stands beside a duty and its rating in the summary of ratings. */
export interface DutyFigures {
  /** Which summary it belongs to. */
  readonly table: 'making' | 'breaking' | 'thermal';
  readonly standard: string;
  /** Symbols of rating and duty: "Icu", "Ik″". */
  readonly rating: string;
  readonly symbol: string;
  readonly utilisationPercent: number;
  readonly xOverR: number | null;
  /** D.c. component at contact parting, in percent of the peak of the a.c. component. */
  readonly dcPercent: number | null;
  /** Multiplying factor between the current and the duty; null where there is none. */
  readonly factor: number | null;
  /** Contact parting or clearing, in seconds. */
  readonly timeS: number | null;
  /** Device that clears, where the time comes from one. */
  readonly clearedBy: ElementId | null;
  /** The whole current of the place rather than what flows through. */
  readonly whole: boolean;
  /** What the rating was taken from where it was not given: "2.5 × Isc". */
  readonly assumed: string | null;
}

/** How far a value is on the right side of its bound, in its unit; negative where it is not. Null without figures. */
export const marginOf = ({ value, bound, sense }: Check): number | null =>
  value === null || bound === null ? null : sense === 'atLeast' ? value - bound : bound - value;

/** What a rule may look at. */
export interface Context {
  readonly network: Network;
  readonly studies: Studies;
  readonly conditions: readonly Condition[];
  /** What rules find in {@link RuleHead.prepare}, and keep from one run to the next. */
  readonly memory: Map<string, unknown>;
}

/** One thing that a rule tests. */
export interface Subject<T> {
  /** Within the rule. */
  readonly key: string;
  readonly value: T;
  /** What the result depends on besides the network that currents flow in: compared by identity from one run to the next. */
  readonly on: readonly unknown[];
}

interface RuleHead {
  readonly id: string;
  /** What is asked of the subject, as a heading. */
  readonly title: string;
  readonly clause?: string;
  /** What to do when it does not hold, by the code of what is found. */
  readonly advice: Readonly<Record<string, string>>;
  /** What takes long and is found for all subjects at once, before they are asked for: yields the share that is done. */
  prepare?(context: Context): Generator<number, void>;
  /** How many like findings are told as one: "…, … and 4 more have a free end". */
  readonly many?: Readonly<Record<string, string>>;
}

/** A rule with tested statements. */
export interface CheckRule<T> extends RuleHead {
  subjects(context: Context): Iterable<Subject<T>>;
  /** The same runs with and without a working. */
  test(context: Context, value: T, trace: Trace): Check[];
}

/** A rule that looks for faults in the data. */
export interface DataRule<T> extends RuleHead {
  subjects(context: Context): Iterable<Subject<T>>;
  faults(context: Context, value: T): Problem[];
}

export type Rule<T = unknown> = CheckRule<T> | DataRule<T>;

/** For rules whose subjects are of their own type. */
export const checkRule = <T>(rule: CheckRule<T>): Rule => rule as unknown as Rule;
export const dataRule = <T>(rule: DataRule<T>): Rule => rule as unknown as Rule;

/** The whole network as the one subject. */
export const wholeNetwork = ({ network }: Context): Subject<Network>[] => [
  { key: 'network', value: network, on: [network] },
];

export const listed = (names: readonly string[]): string =>
  names.length <= 4 ? names.join(', ') : `${names.slice(0, 3).join(', ')} and ${names.length - 3} more`;

export const digits = (value: number): number => Number(value.toPrecision(4));
