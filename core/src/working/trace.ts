/**
 * The working: a calculation written out while it runs. Each step keeps its formula as text with the values in it, so that a
 * reader sees symbols and numbers alike, and a test can evaluate the text and compare it with the result.
 */
import type { Complex } from '../linear/complex';
import type { ElementId } from '../model/fields';

/** A value in a formula: an input with the field it comes from, or an earlier result. */
export interface Quantity {
  readonly value: number | Complex;
  readonly unit: string;
  readonly symbol: string;
  /** The field it was typed into; a click leads there. */
  readonly source?: { readonly element: ElementId; readonly field: string };
  /** Not typed by anybody: a typical value of the standard. */
  readonly assumed?: boolean;
}

export type Part = string | Quantity;

export interface Step {
  readonly result: Quantity;
  /** Right side of the equation. Text uses · / √( sin( ^ and |…| for a magnitude. */
  readonly expression: readonly Part[];
  readonly clause?: string;
  readonly remark?: string;
}

export interface Section {
  readonly title: string;
  readonly element?: ElementId;
  readonly steps: Step[];
}

/** Right side of a step: `` formula`${c} · ${un} / √(3)` ``. */
export const formula = (texts: TemplateStringsArray, ...values: Quantity[]): Formula => new Formula(texts, values);

/** Taken apart only when a working is written: most runs write none. */
export class Formula implements Iterable<Part> {
  constructor(
    private readonly texts: TemplateStringsArray,
    private readonly values: readonly Quantity[],
  ) {}

  *[Symbol.iterator](): Generator<Part, void> {
    for (let k = 0; k < this.texts.length; k++) {
      if (this.texts[k]) yield this.texts[k];
      if (k < this.values.length) yield this.values[k];
    }
  }
}

export const quantityOf = (symbol: string, value: number | Complex, unit = ''): Quantity => ({ symbol, value, unit });

/** A value that somebody typed, with its place. */
export const given = (symbol: string, value: number, unit: string, element: ElementId, field: string): Quantity => ({
  symbol,
  value,
  unit,
  source: { element, field },
});

/** A typical value taken where none was typed. */
export const assumed = (symbol: string, value: number, unit: string, element: ElementId, field: string): Quantity => ({
  ...given(symbol, value, unit, element, field),
  assumed: true,
});

/** Collects the sections of a working. */
export class Trace {
  readonly sections: Section[] = [];

  section(title: string, element?: ElementId): void {
    this.sections.push({ title, element, steps: [] });
  }

  /** Records a step and hands its result on, so that calculation and working cannot part. */
  step<V extends number | Complex>(
    symbol: string,
    expression: Iterable<Part>,
    value: V,
    unit = '',
    clause?: string,
    remark?: string,
  ): Quantity & { readonly value: V } {
    const result = { symbol, value, unit };
    if (this.sections.length === 0) this.section('');
    this.sections[this.sections.length - 1].steps.push({ result, expression: [...expression], clause, remark });
    return result;
  }
}

/** A trace that keeps nothing, for runs whose working nobody asked for. */
export class SilentTrace extends Trace {
  override section(): void {}
  override step<V extends number | Complex>(symbol: string, _expression: Iterable<Part>, value: V, unit = '') {
    return { symbol, value, unit };
  }
}
