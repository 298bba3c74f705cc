/** What rules ask of one value, with the figures that they ask it of. */
import type { FaultKind } from '../faults/kinds';
import type { ElementId } from '../model/fields';
import type { Rule, RuleBehind, RuleBound, Rulebook, RuleSubject } from '../model/rulebook';
import { readyRule, rulesFor, valueOf } from '../rules/book';
import { valuesOf, type Figure, type Figures } from './figures';

export interface Demand {
  /** Of the rulebook; null: the range of the device. */
  readonly rule: Rule | null;
  readonly title: string;
  readonly sense: 'atLeast' | 'atMost';
  readonly value: number;
  readonly unit: string;
  /** For times: at this current, in amperes. */
  readonly atA: number | null;
  readonly figures: readonly Figure[];
  /** For margins: of these two devices. */
  readonly pair: {
    readonly downstream: ElementId;
    readonly upstream: ElementId;
    readonly kind: FaultKind | null;
  } | null;
  readonly condition: ElementId | null;
  readonly importance: number;
}

/** Demands of the rules in use; a rule with a figure that is not known asks nothing. */
export function demandsOf(
  book: Rulebook,
  subject: RuleSubject,
  behind: ReadonlySet<RuleBehind>,
  bound: RuleBound,
  figures: Figures,
): Demand[] {
  const values = valuesOf(figures);
  return rulesFor(book, subject, behind).flatMap(({ rule, formula, at }): Demand[] => {
    if (rule.bound !== bound) return [];
    const result = valueOf(rule, formula!, values);
    const current = at === null ? null : valueOf(rule, at, values);
    if (!result.ok || (current !== null && !current.ok)) return [];
    const used = [...new Set([...formula!.names, ...(at?.names ?? [])])].flatMap((name) => {
      const figure = figures[name] as Figure | undefined;
      return figure?.value != null ? [figure] : [];
    });
    return [
      {
        rule,
        title: rule.title,
        sense: rule.sense,
        value: result.value,
        unit: formula!.unit,
        atA: current?.ok ? current.value : null,
        figures: used,
        pair: null,
        condition: used.find(({ condition }) => condition !== null)?.condition ?? null,
        importance: rule.importance,
      },
    ];
  });
}

/** What the rule of a demand asks with other figures; null where it has none, or they do not suffice. */
export function asksAnew({ rule }: Demand, figures: Figures): number | null {
  const formula = rule && readyRule(rule).formula;
  const result = formula ? valueOf(rule, formula, valuesOf(figures)) : null;
  return result?.ok ? result.value : null;
}

/** The one that asks most, of demands in the same sense. */
export const strictest = (demands: readonly Demand[], sense: Demand['sense']): Demand | null => {
  const own = demands.filter((each) => each.sense === sense);
  if (own.length === 0) return null;
  return own.reduce((p, q) => ((sense === 'atLeast' ? q.value > p.value : q.value < p.value) ? q : p));
};

/** What a device cannot be set to; nothing is more important. */
export const rangeDemand = (sense: Demand['sense'], value: number, unit: string): Demand => ({
  rule: null,
  title: sense === 'atMost' ? 'Largest that the device can be set to' : 'Smallest that the device can be set to',
  sense,
  value,
  unit,
  atA: null,
  figures: [],
  pair: null,
  condition: null,
  importance: 0,
});

/** What is not changed, whatever is asked of it. */
export const asItIs = (title: string): Demand => ({ ...rangeDemand('atMost', 0, ''), title });
