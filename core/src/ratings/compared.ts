/** A duty against a rating: how far it is used, what is left, whether it is enough. */

export interface Compared {
  readonly duty: number;
  readonly rating: number;
  /** Duty over rating, in percent. */
  readonly utilisationPercent: number;
  /** What is left of the rating, in percent of it; negative where it is not enough. */
  readonly marginPercent: number;
  readonly holds: boolean;
}

/** Both in the same unit, the rating above zero. A duty that equals the rating holds. */
export function comparedWith(duty: number, rating: number): Compared {
  const utilisationPercent = (100 * duty) / rating;
  // Equal figures that were reached on different ways differ in the last digit.
  return {
    duty,
    rating,
    utilisationPercent,
    marginPercent: 100 - utilisationPercent,
    holds: duty <= rating * (1 + 1e-12),
  };
}
