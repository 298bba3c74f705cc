/** Which standard rates a switching device, and what it takes for granted where a rating is not given. */
import type { ElementOf } from '../../model/element';
import type { RatingStandard } from '../../model/switching';
import { closeAndLatchFactor } from '../../ratings/american';
import { makingFactor } from '../../ratings/highVoltage';
import { makingRatio } from '../../ratings/lowVoltage';
import { breakerClasses, type BreakerClass } from '../../faults/c37/factors';

type Switch = ElementOf<'switch'>;
export type Standard = Exclude<RatingStandard, 'byVoltage'>;

export const standardTitles: Readonly<Record<Standard, string>> = {
  iec62271: 'IEC 62271-100',
  iec60947: 'IEC 60947-2',
  c37Symmetrical: 'IEEE C37.010',
  c37Total: 'IEEE C37.010, total current',
  c3713: 'IEEE C37.13',
  c3713Fused: 'IEEE C37.13, fused',
  mouldedCase: 'moulded case',
};

export const standardOf = ({ ratedBy }: Switch, nominalKv: number | null): Standard =>
  ratedBy === 'byVoltage' ? (nominalKv !== null && nominalKv <= 1 ? 'iec60947' : 'iec62271') : ratedBy;

export const isAmerican = (standard: Standard): boolean => standard !== 'iec62271' && standard !== 'iec60947';

/** Contact parting and S of a breaker by its rated interrupting time; the nearest class. */
export const breakerClassOf = ({ ratedCycles }: Switch): BreakerClass =>
  breakerClasses.reduce((best, each) =>
    Math.abs(each.ratedCycles - ratedCycles) < Math.abs(best.ratedCycles - ratedCycles) ? each : best,
  );

/** Rated making peak in kA: given, or by the factor of the standard from the breaking current; null where neither is known. */
export function makingRating(
  device: Switch,
  standard: Standard,
  frequencyHz: number,
): { readonly kA: number; readonly assumed: string | null } | null {
  const { makingKa, breakingKa, timeConstantMs } = device;
  if (makingKa !== null) return { kA: makingKa, assumed: null };
  if (breakingKa === null) return null;
  const by = (factor: number, symbol: string) => ({ kA: factor * breakingKa, assumed: `${factor} × ${symbol}` });
  switch (standard) {
    case 'iec62271':
      return by(makingFactor(frequencyHz, timeConstantMs), 'Isc');
    case 'iec60947':
      return by(makingRatio(breakingKa).n, 'Icu');
    case 'c37Symmetrical':
    case 'c37Total':
      return by(closeAndLatchFactor, 'I');
    // Low-voltage breakers of C37.13 and moulded-case ones are not rated for a peak of their own: the test circuit covers it.
    default:
      return null;
  }
}
