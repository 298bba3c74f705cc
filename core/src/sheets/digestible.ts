/** The part of a sheet that its digest covers: data, not prose. A characteristic that gets another title leaves every issued sheet as it is. */
import { sheetForm, type SheetContent } from './sheet';

/** Fields that say in words what other fields say as data. */
const prose: ReadonlySet<string> = new Set(['characteristic', 'reason', 'condition']);

/** A sheet's content as it was stored, of this form or an earlier one. */
export type StoredContent = SheetContent | Form1Content;

/** Form 1, issued before forms were numbered: sources maximum or minimum in place of a condition, characteristics by title. */
export type Form1Content = Omit<SheetContent, 'form'> & { readonly form?: undefined };

/** What the digest of a sheet is taken of. */
export const digestible = (content: StoredContent): unknown =>
  content.form === undefined ? content : withoutProse(content);

function withoutProse(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(withoutProse);
  if (value === null || typeof value !== 'object') return value;
  return Object.fromEntries(
    Object.entries(value)
      .filter(([key]) => !prose.has(key))
      .map(([key, inner]) => [key, withoutProse(inner)]),
  );
}

/** A draft as form 1 would have put it, so that a sheet issued then can be compared; null where form 1 has no words for it. */
export function inForm1(content: SheetContent): unknown {
  if (content.form !== sheetForm || content.faults.some(({ conditionId }) => !(conditionId in cases))) return null;
  const { form: _, ...rest } = content;
  return {
    ...rest,
    functions: content.functions.map(({ curve, ...fn }) => ({
      ...fn,
      characteristic: titlesOfForm1[curve] ?? fn.characteristic,
    })),
    faults: content.faults.map(({ place, nominalKv, kind, conditionId, phaseA, residualA, tripS, by }) => ({
      place,
      nominalKv,
      kind,
      faultCase: cases[conditionId],
      phaseA,
      residualA,
      tripS,
      by,
    })),
    chart: content.chart.filter(({ measured }) => measured !== 'negative'),
  };
}

const cases: Readonly<Record<string, 'max' | 'min'>> = { maximum: 'max', minimum: 'min' };

/** Titles as they were when form 1 was issued; never changed. */
const titlesOfForm1: Readonly<Record<string, string>> = {
  definite: 'Definite time',
  iecA: 'IEC A, inverse',
  iecB: 'IEC B, very inverse',
  iecC: 'IEC C, extremely inverse',
  ieeeD: 'IEEE D, moderately inverse',
  ieeeE: 'IEEE E, very inverse',
  ieeeF: 'IEEE F, extremely inverse',
  longTime: 'Long-time inverse',
};
