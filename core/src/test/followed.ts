/** Follows a working with a calculator: every written formula must give its result. */
import { all, create, type Complex as MathComplex } from 'mathjs';
import { expect } from 'vitest';
import { magnitude, type Complex } from '../linear/complex';
import type { Section, Step } from '../working/trace';

const math = create(all, {});

const number = (value: number | Complex) =>
  typeof value === 'number' ? `(${value})` : `complex(${value.re}, ${value.im})`;

/** What a reader with a calculator gets from the written formula. */
export function evaluate(step: Step): Complex {
  const text = step.expression
    .map((part) => (typeof part === 'string' ? part : number(part.value)))
    .join('')
    .replaceAll('·', '*')
    .replaceAll('√', 'sqrt')
    .replaceAll('π', 'pi')
    .replaceAll(/\bln\(/g, 'log(')
    .replaceAll(/\blg\(/g, 'log10(')
    .replace(/\|([^|]*)\|/g, 'abs($1)');
  const value = math.evaluate(text) as number | MathComplex;
  return typeof value === 'number' ? { re: value, im: 0 } : { re: value.re, im: value.im };
}

/** Expects every step of a working to give what it says. */
export function expectFollowed(sections: readonly Section[], where: string): void {
  for (const step of sections.flatMap((section) => section.steps)) {
    const { value } = step.result;
    const expected = typeof value === 'number' ? { re: value, im: 0 } : value;
    const got = evaluate(step);
    const off = Math.hypot(got.re - expected.re, got.im - expected.im);
    expect(off, `${step.result.symbol} of ${where}`).toBeLessThan(1e-6 * (1 + magnitude(expected)));
  }
}

/** Last result with this symbol. */
export const lastResult = (sections: readonly Section[], symbol: string): number | Complex | undefined =>
  sections
    .flatMap((section) => section.steps)
    .filter((step) => step.result.symbol === symbol)
    .at(-1)?.result.value;
