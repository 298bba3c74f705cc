/** Short-time withstand: the thermal equivalent current against a rating for a stated time. IEC 60909-0:2016, clause 11; IEC 62271-1, 5.6. */

/**
 * What a short-time withstand rating allows over another duration, in its unit: Ik·√(tk/t) for longer ones. For shorter ones the rating is not raised: what
 * limits there is the peak.
 */
export const withstandOver = (rated: number, ratedS: number, durationS: number): number =>
  durationS <= ratedS ? rated : rated * Math.sqrt(ratedS / durationS);

/** The current over one second that heats as much. */
export const oneSecondEquivalent = (thermal: number, durationS: number): number => thermal * Math.sqrt(durationS);
