/** The margin that the rulebook asks of two devices. */
import { settingsOf, type Network } from '../model/network';
import type { Rule, Rulebook } from '../model/rulebook';
import type { Curves } from '../protection/curve';
import { bookOf, rulesFor, valueOf } from './book';

const anywhere = new Set<never>();
/** What a book comes to for the same figures: asked again for every step of a search. */
const known = new WeakMap<Rulebook, Map<string, RequiredMargin>>();

export interface RequiredMargin {
  readonly marginS: number;
  /** Null where no rule says anything, and the project's own margin counts. */
  readonly rule: Rule | null;
}

/** The largest margin of the rules in use, in seconds; that of the project where none can be evaluated. */
export function requiredMargin(network: Network, downstream: Curves, upstream: Curves): RequiredMargin {
  const book = bookOf(network);
  const { wantedMarginS } = settingsOf(network);
  const worst = ({ functions }: Curves, of: (accuracy: { fixedS: number; overshootS: number }) => number) =>
    functions.reduce((most, { accuracy }) => Math.max(most, accuracy ? of(accuracy) : 0), 0);
  const values = {
    projectMargin: wantedMarginS,
    breakerTime: downstream.functions.every(({ clears }) => clears) ? 0 : downstream.device.openingS,
    lowerError: worst(downstream, ({ fixedS }) => fixedS),
    upperError: worst(upstream, ({ fixedS }) => fixedS),
    overshoot: worst(upstream, ({ overshootS }) => overshootS),
  };
  let of = known.get(book);
  if (!of) known.set(book, (of = new Map()));
  const key = Object.values(values).join(' ');
  let margin = of.get(key);
  if (!margin) of.set(key, (margin = largest(book, values)));
  return margin;
}

function largest(book: Rulebook, values: Readonly<Record<string, number>>): RequiredMargin {
  let most: RequiredMargin | null = null;
  for (const { rule, formula } of rulesFor(book, 'pair', anywhere)) {
    if (rule.bound !== 'margin' || rule.sense !== 'atLeast') continue;
    const result = valueOf(rule, formula!, values);
    if (result.ok && result.value > (most?.marginS ?? -Infinity)) most = { marginS: Math.max(0, result.value), rule };
  }
  return most ?? { marginS: values.projectMargin, rule: null };
}
