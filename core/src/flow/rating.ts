/** What an element may carry at each of its terminals, normally and for a limited time. */
import type { Element } from '../model/element';
import type { LoadLimits } from '../model/element';

export interface LoadRating {
  /** Amperes. */
  readonly ratedA: number;
  /** Its own emergency rating; null where none is given. */
  readonly emergencyA: number | null;
}

const root3 = Math.sqrt(3);
const amperes = (mva: number, kv: number) => (mva * 1000) / (root3 * kv);

/** Null for elements without a rated current, and at terminals that carry none of their own. */
export function loadRatingOf(element: Element, terminal: number): LoadRating | null {
  const of = (ratedA: number, emergencyPercent: number | null = null): LoadRating => ({
    ratedA,
    emergencyA: emergencyPercent === null ? null : (ratedA * emergencyPercent) / 100,
  });
  switch (element.kind) {
    case 'line': {
      const { ratedA, emergencyA, circuits } = element;
      if (ratedA === null) return null;
      return { ratedA: ratedA * circuits, emergencyA: emergencyA === null ? null : emergencyA * circuits };
    }
    case 'transformer':
      return of(amperes(element.ratedMva, terminal === 0 ? element.hvKv : element.lvKv), element.emergencyPercent);
    case 'threeWindingTransformer': {
      const { hvMv, hvLv, mvLv, hvKv, mvKv, lvKv, emergencyPercent } = element;
      // The rated power of a pair is that of its weaker winding.
      const [mva, kv] = [
        [Math.max(hvMv.ratedMva, hvLv.ratedMva), hvKv],
        [Math.max(hvMv.ratedMva, mvLv.ratedMva), mvKv],
        [Math.max(hvLv.ratedMva, mvLv.ratedMva), lvKv],
      ][terminal];
      return of(amperes(mva, kv), emergencyPercent);
    }
    case 'seriesReactor':
      return of(element.ratedA);
    case 'synchronousMachine':
    case 'converterSource':
    case 'doublyFedMachine':
    case 'staticDrive':
      return of(amperes(element.ratedMva, element.ratedKv));
    case 'powerStationUnit':
      return terminal === 0
        ? of(amperes(element.transformer.ratedMva, element.transformer.hvKv))
        : of(amperes(element.generator.ratedMva, element.generator.ratedKv));
    case 'asynchronousMotor':
      return of(
        (element.count * element.ratedMw * 1000) /
          ((element.efficiencyPercent / 100) * element.powerFactor * root3 * element.ratedKv),
      );
    case 'switch':
      return element.ratedA === null ? null : of(element.ratedA);
    case 'currentTransformer':
      return of(element.primaryA);
    case 'bus':
      return element.ratedA === null ? null : of(element.ratedA);
    default:
      return null;
  }
}

/** The current that counts as 100 % of what is allowed, and in which case. */
export function allowedA({ ratedA, emergencyA }: LoadRating, limits: LoadLimits, emergency: boolean): number {
  if (!emergency) return (ratedA * limits.loadingPercent) / 100;
  return emergencyA ?? (ratedA * limits.emergencyLoadingPercent) / 100;
}

/** Voltages allowed, in percent of nominal. */
export const voltageBand = (limits: LoadLimits, emergency: boolean): { readonly low: number; readonly high: number } =>
  emergency
    ? { low: limits.emergencyLowPercent, high: limits.emergencyHighPercent }
    : { low: limits.lowPercent, high: limits.highPercent };
