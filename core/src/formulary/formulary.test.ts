/** Formulas called alone: each example as a second program has it, and what is wrong told by its name. */
import { describe, expect, it } from 'vitest';
import { answered, inputsOf } from './formula';
import { formulaNamed, formulas } from './index';

describe('every formula', () => {
  for (const formula of formulas)
    it(`${formula.name} gives its example`, () => {
      const result = answered(formula, formula.example.inputs);
      if (!result.ok) throw new Error(result.problems[0].message);
      expect(Object.keys(result.outputs).sort()).toEqual(Object.keys(formula.outputs).sort());
      for (const [name, expected] of Object.entries(formula.example.outputs)) {
        const found = result.outputs[name];
        if (typeof expected === 'number' && expected !== 0) expect(Number(found) / expected, name).toBeCloseTo(1, 8);
        else expect(found, name).toEqual(expected);
      }
      expect(Object.keys(formula.example.outputs).sort()).toEqual(Object.keys(formula.outputs).sort());
    });
  it('has a name of its own, a source, and a title for each input', () => {
    expect(new Set(formulas.map(({ name }) => name)).size).toBe(formulas.length);
    for (const formula of formulas) {
      expect(formula.name).toMatch(/^[a-z0-9]+(-[a-z0-9]+)*$/);
      expect(formula.source.length, formula.name).toBeGreaterThan(5);
      for (const [input, { title }] of Object.entries(inputsOf(formula)))
        expect(title, `${formula.name} ${input}`).not.toBe('');
    }
  });
});

describe('inputs', () => {
  const wrong = (name: string, inputs: unknown) => {
    const result = answered(formulaNamed(name)!, inputs);
    return result.ok ? '' : result.problems.map(({ message }) => message).join('; ');
  };
  it('that are missing, unknown, no numbers or out of range are told by name', () => {
    expect(wrong('peak-factor', { rOverX: 0.1 })).toMatch(/ikKa/);
    expect(wrong('peak-factor', { rOverX: -1, ikKa: 1 })).toMatch(/rOverX: must be at least 0/);
    expect(wrong('peak-factor', { rOverX: 'low', ikKa: 1 })).toMatch(/rOverX: must be a number/);
    expect(wrong('peak-factor', { rOverX: 0.1, ikKa: 1, ik: 2 })).toMatch(/ik/);
    expect(wrong('peak-factor', [1])).not.toBe('');
    expect(wrong('peak-factor', null)).not.toBe('');
  });
  it('at the edge give a word instead of infinity', () => {
    const at = { characteristic: 'iecA', multiple: 1, timeMultiplier: 1, dependentTo: null };
    expect(answered(formulaNamed('inverse-time')!, at)).toEqual({
      ok: true,
      outputs: { operatingS: null, resetS: null },
    });
    const reset = { characteristic: 'ieeeE', multiple: 0.5, timeMultiplier: 2, dependentTo: null };
    expect(answered(formulaNamed('inverse-time')!, reset)).toMatchObject({
      outputs: { operatingS: null, resetS: 57.6 },
    });
  });
});
