/** A rulebook made ready: formulas compiled, with what is wrong with them; the one that a project uses. */
import { compile, evaluate, type Evaluated, type Formula, type FormulaProblem } from '../formulas/formula';
import type { Rule, RuleBehind, Rulebook, RuleSubject } from '../model/rulebook';
import { find, settingsOf, type Network } from '../model/network';
import { namesByName, namesFor, unitOf } from './names';
import { plainPractice } from './plainPractice';

/** Where in a rule something is wrong. */
export interface RuleProblem extends FormulaProblem {
  readonly rule: string;
  readonly field: 'formula' | 'at';
}

export interface ReadyRule {
  readonly rule: Rule;
  /** Null where the formula cannot be used; nothing comes of the rule then. */
  readonly formula: Formula | null;
  readonly at: Formula | null;
  readonly problems: readonly RuleProblem[];
}

/** Both formulas of a rule, against the names that its subject has. */
export function readyRule(rule: Rule): ReadyRule {
  const names = namesFor(rule.subject);
  const problems: RuleProblem[] = [];
  const made = (field: RuleProblem['field'], text: string, unit: string): Formula | null => {
    const compiled = compile(text, names, unit);
    if (compiled.ok) return compiled.formula;
    problems.push(...compiled.problems.map((each) => ({ ...each, rule: rule.id, field })));
    return null;
  };
  const formula = made('formula', rule.formula, unitOf(rule.bound));
  const at = rule.at === null ? null : made('at', rule.at, 'A');
  return { rule, formula, at, problems };
}

const ready = new WeakMap<Rulebook, readonly ReadyRule[]>();

/** All rules of a book; made once. */
export function readyBook(book: Rulebook): readonly ReadyRule[] {
  let rules = ready.get(book);
  if (!rules) ready.set(book, (rules = book.rules.map(readyRule)));
  return rules;
}

/** The rulebook that a project uses: its own, else plain practice. */
export const bookOf = (network: Network): Rulebook =>
  find(network, 'rulebook', settingsOf(network).rulebook) ?? plainPractice;

/** Rules in use about a subject, for devices of what lies behind them. */
export const rulesFor = (book: Rulebook, subject: RuleSubject, behind: ReadonlySet<RuleBehind>): ReadyRule[] =>
  readyBook(book).filter(
    ({ rule, formula, problems }) =>
      rule.enabled &&
      rule.subject === subject &&
      (rule.behind === 'any' || behind.has(rule.behind)) &&
      formula !== null &&
      problems.length === 0,
  );

/** What a formula of a rule comes to, with the figures of its subject. */
export const valueOf = (
  rule: Rule,
  formula: Formula,
  values: Readonly<Record<string, number | null | undefined>>,
): Evaluated => evaluate(formula, values, namesByName(namesFor(rule.subject)));
