/** The part of a sheet that its digest covers: data, not prose. A characteristic that gets another title leaves every issued sheet as it is. */
import type { DeviceFigures, IssuableContent, SheetContent } from './content';

/** Fields that say in words what other fields say as data, in each form. */
const proseOf2: ReadonlySet<string> = new Set(['characteristic', 'reason', 'condition']);
const proseOf3: ReadonlySet<string> = new Set([
  ...proseOf2,
  'message',
  'title',
  'clause',
  'words',
  'setting',
  'shown',
  'text',
]);

/** A sheet's content as it was stored, of this form or an earlier one. */
export type StoredContent = IssuableContent | Form2Content | Form1Content;

/** Form 2: sheets of devices without values one by one, statements, trials and planes. */
export type Form2Content = DeviceFigures & { readonly form: 2 };

/** Form 1, issued before forms were numbered: sources maximum or minimum in place of a condition, characteristics by title. */
export type Form1Content = DeviceFigures & { readonly form?: undefined };

/** What the digest of a sheet is taken of. A report is words and figures in one, and counts whole. */
export function digestible(content: StoredContent): unknown {
  if (content.form === undefined) return content;
  if (content.form === 2) return without(content, proseOf2);
  return content.subject === 'device' ? without(content, proseOf3) : content;
}

function without(value: unknown, prose: ReadonlySet<string>): unknown {
  if (Array.isArray(value)) return value.map((each) => without(each, prose));
  if (value === null || typeof value !== 'object') return value;
  return Object.fromEntries(
    Object.entries(value)
      .filter(([key]) => !prose.has(key))
      .map(([key, inner]) => [key, without(inner, prose)]),
  );
}

/** A draft as form 2 would have put it, so that a sheet issued then can be compared. */
export function inForm2(content: SheetContent): Form2Content {
  const { relay, owner, frequencyHz, ct, nominalKv, trips, functions, notInUse, origins } = content;
  const { faults, sensitivities, margins, chart } = content;
  return {
    form: 2,
    relay,
    owner,
    frequencyHz,
    ct,
    nominalKv,
    trips,
    functions,
    notInUse,
    ...(origins && { origins }),
    faults,
    sensitivities,
    margins,
    chart,
  };
}

/** The same for form 1; null where form 1 has no words for it. */
export function inForm1(content: SheetContent): unknown {
  if (content.faults.some(({ conditionId }) => !(conditionId in cases))) return null;
  const { form: _, ...rest } = inForm2(content);
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
