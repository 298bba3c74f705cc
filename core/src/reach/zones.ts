/** Reaches of zones by rules: what each rule asks of them, which one decides, and which elements stand behind it. */
import { evaluateComplex } from '../formulas/complexValue';
import { magnitude, type Complex } from '../linear/complex';
import type { ElementId } from '../model/fields';
import type { Rule, RuleBound, Rulebook, RuleSubject } from '../model/rulebook';
import { rulesFor } from '../rules/book';
import { namesByName, namesFor } from '../rules/names';
import type { ReachFigure, ReachFigures } from './figures';

export const zoneNumbers = [1, 2, 3, 4, 5] as const;
export type ZoneNumber = (typeof zoneNumbers)[number];

/** What a rule asks of a zone. */
export interface ReachDemand {
  readonly rule: Rule;
  /** Magnitude in ohms, or seconds. */
  readonly value: number;
  /** Figures that it came from, with their elements. */
  readonly figures: readonly ReachFigure[];
}

export interface Decided {
  readonly value: number;
  readonly by: ReachDemand;
  /** Elements that decided it, in the order of the formula. */
  readonly elements: readonly ElementId[];
  /** Demands that are not met, with the one that was kept: the more important. */
  readonly against: readonly ReachDemand[];
}

const subjectOf = (zone: ZoneNumber): RuleSubject => `zone${zone}`;
const anywhere = new Set<never>();

/** What the rules in use ask of one figure of a zone, or of another part of a line's protection; a rule with a figure that is not there asks nothing. */
export function reachDemands(
  book: Rulebook,
  subject: RuleSubject,
  bound: RuleBound,
  figures: ReachFigures,
): ReachDemand[] {
  const names = namesByName(namesFor(subject));
  const values: Record<string, Complex | null> = Object.fromEntries(
    Object.values(figures).map(({ name, value }) => [name, value]),
  );
  return rulesFor(book, subject, anywhere).flatMap(({ rule, formula }): ReachDemand[] => {
    if (rule.bound !== bound) return [];
    const result = evaluateComplex(formula!, values, names);
    if (!result.ok) return [];
    return [{ rule, value: magnitude(result.value), figures: result.used.map((name) => figures[name]) }];
  });
}

/**
 * The largest of what is asked at least, no more than the smallest of what is allowed at most: where the two do not go together, the more important one. Null where
 * no rule says anything.
 */
export function decided(demands: readonly ReachDemand[]): Decided | null {
  const [first] = demands;
  if (!first) return null;
  const lower = demands.filter(({ rule }) => rule.sense === 'atLeast');
  const upper = demands.filter(({ rule }) => rule.sense === 'atMost');
  const ranked = [...upper].sort((p, q) => p.value - q.value);
  const [cap] = ranked;
  const want = lower.reduce<ReachDemand | null>((p, q) => (p === null || q.value > p.value ? q : p), null);
  let by = want ?? cap;
  if (want && cap && cap.value < want.value) {
    // A floor that matters more than the cap holds, those that matter less give way to it.
    const floors = lower.filter(({ rule }) => rule.importance < cap.rule.importance);
    const floor = floors.reduce<ReachDemand | null>((p, q) => (p === null || q.value > p.value ? q : p), null);
    by = floor && floor.value > cap.value ? floor : cap;
  }
  const against = demands.filter(({ rule, value }) =>
    rule.sense === 'atLeast' ? value > by.value * (1 + 1e-9) : value < by.value * (1 - 1e-9),
  );
  return { value: by.value, by, elements: [...new Set(by.figures.flatMap(({ elements }) => elements))], against };
}

export interface Reaches {
  readonly zone: ZoneNumber;
  readonly reach: Decided | null;
  /** Of earth loops; that of phase loops where no rule speaks of them apart. */
  readonly reachEarth: Decided | null;
  readonly resistance: Decided | null;
  readonly resistanceEarth: Decided | null;
  readonly delay: Decided | null;
}

/** All zones of one end, one after the other: later ones may name the reaches of those before. */
export function zoneReaches(book: Rulebook, ahead: ReachFigures): Reaches[] {
  const figures: Record<string, ReachFigure> = { ...ahead };
  return zoneNumbers.map((zone): Reaches => {
    const of = (bound: RuleBound) => decided(reachDemands(book, subjectOf(zone), bound, figures));
    const reach = of('reach');
    if (reach)
      figures[`zone${zone}`] = { name: `zone${zone}`, value: { re: reach.value, im: 0 }, elements: reach.elements };
    return {
      zone,
      reach,
      reachEarth: of('reachEarth') ?? reach,
      resistance: of('resistance'),
      resistanceEarth: of('resistanceEarth') ?? of('resistance'),
      delay: of('delay'),
    };
  });
}
