/** The study of ratings: duties against ratings in three summaries, what is not known, what was taken for granted. */
import { kinds, nameOf, type Element } from '../model/element';
import type { ElementId } from '../model/fields';
import type { Network } from '../model/network';
import type { Check, DutyFigures, Rule } from './check';
import { breakingRule } from './equipment/breaking';
import { makingRule } from './equipment/making';
import { shortTimeRule } from './equipment/shortTime';
import { missingRatings } from './equipment/unknown';
import { withstandRule } from './equipment/withstand';

export const ratingRules: readonly Rule[] = [makingRule, breakingRule, withstandRule, shortTimeRule];
const ids = new Set(ratingRules.map(({ id }) => id));

/** A check with a duty against a rating. */
export interface RatingCheck extends Check {
  readonly duty: DutyFigures;
  readonly value: number;
  readonly bound: number;
}

export const isRatingCheck = (check: Check): check is RatingCheck => ids.has(check.rule) && check.duty !== undefined;

export const ratingTables = ['making', 'breaking', 'thermal'] as const;
export type RatingTable = (typeof ratingTables)[number];

export const ratingTableTitles: Readonly<Record<RatingTable, string>> = {
  making: 'Making, close and latch, peak withstand',
  breaking: 'Breaking, interrupting',
  thermal: 'Short-time withstand, heating',
};

/** Of one summary, the most used first. */
export const ratingsOf = (checks: readonly Check[], table: RatingTable): RatingCheck[] =>
  checks
    .filter(isRatingCheck)
    .filter(({ duty }) => duty.table === table)
    .sort((p, q) => q.duty.utilisationPercent - p.duty.utilisationPercent);

/** The worst verdict of each element, for the drawing. */
export function worstRatings(checks: readonly Check[]): ReadonlyMap<ElementId, RatingCheck> {
  const worst = new Map<ElementId, RatingCheck>();
  for (const check of checks.filter(isRatingCheck)) {
    const known = worst.get(check.subject);
    if (!known || check.duty.utilisationPercent > known.duty.utilisationPercent) worst.set(check.subject, check);
  }
  return worst;
}

export interface UnknownRating {
  readonly element: ElementId;
  readonly name: string;
  readonly kind: string;
  readonly missing: readonly string[];
}

/** Elements that something is not known of: nothing of it is checked. */
export const unknownRatings = (network: Network): UnknownRating[] =>
  [...network.elements.values()].flatMap((element: Element): UnknownRating[] => {
    const missing = missingRatings(element);
    return missing.length === 0
      ? []
      : [{ element: element.id, name: nameOf(element), kind: kinds[element.kind].title, missing }];
  });
