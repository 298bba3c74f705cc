/** Published formulas that can be called alone, with plain numbers: by a checker who wants to see one without a network. */
import { z } from 'zod';
import { quantity } from '../model/fields';
import { problemsOf, type Problem } from '../model/problem';

export type Mark = 'checked' | 'remembered';
export type Outcome = number | boolean | string | null;

export interface Output {
  readonly title: string;
  readonly unit: string;
}

export interface PublicFormula {
  /** "inverse-time". */
  readonly name: string;
  readonly subject: string;
  readonly title: string;
  /** Standard and clause, or author and year. */
  readonly source: string;
  /** Whether figures of the source were compared, or it is told from memory. */
  readonly mark: Mark;
  readonly inputs: z.ZodObject<z.ZodRawShape>;
  readonly outputs: Readonly<Record<string, Output>>;
  /** Inputs, and what comes out, found by a second program. */
  readonly example: {
    readonly inputs: Readonly<Record<string, unknown>>;
    readonly outputs: Readonly<Record<string, Outcome>>;
  };
  compute(inputs: Readonly<Record<string, never>>): Readonly<Record<string, Outcome>>;
}

/** A formula with its inputs typed by their schema. */
export function formulaOf<S extends z.ZodRawShape>(
  given: Omit<PublicFormula, 'inputs' | 'compute'> & {
    readonly inputs: S;
    compute(inputs: z.output<z.ZodObject<S>>): Readonly<Record<string, Outcome>>;
  },
): PublicFormula {
  return { ...given, inputs: z.strictObject(given.inputs) as never, compute: given.compute as never };
}

export type Answered =
  | { readonly ok: true; readonly outputs: Readonly<Record<string, Outcome>> }
  | { readonly ok: false; readonly problems: readonly Problem[] };

/** Computes; in words what of the inputs is missing, unknown or out of range. */
export function answered(formula: PublicFormula, inputs: unknown): Answered {
  const read = formula.inputs.safeParse(inputs);
  if (!read.success) return { ok: false, problems: problemsOf(read.error) };
  return { ok: true, outputs: formula.compute(read.data as never) };
}

/** Titles and units of the inputs. */
export const inputsOf = ({ inputs }: PublicFormula): Readonly<Record<string, Output>> =>
  Object.fromEntries(
    Object.entries(inputs.shape as Readonly<Record<string, z.ZodType>>).map(([name, schema]) => {
      const { title = '', unit = '' } = schema.meta() ?? {};
      return [name, { title, unit }];
    }),
  );

export const ampere = (title: string) => quantity(title, 'A', { above: 0 });
export const kiloampere = (title: string) => quantity(title, 'kA', { above: 0 });
export const seconds = (title: string) => quantity(title, 's', { above: 0 });
export const plain = (title: string, bounds: { min?: number; max?: number; above?: number } = {}) =>
  quantity(title, '', bounds);
export const percent = (title: string) => quantity(title, '%', { above: 0 });
export const kilovolt = (title: string) => quantity(title, 'kV', { above: 0 });
export const hertz = z.union([z.literal(50), z.literal(60)]).meta({ title: 'Frequency', unit: 'Hz' });
