import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compile, evaluate, formulaFunctions, formulaUnits, longestFormula, type Name } from './formula';

const names: readonly Name[] = [
  { name: 'load', title: 'Largest load', unit: 'A' },
  { name: 'smallestFault', title: 'Smallest fault', unit: 'A' },
  { name: 'emergencyLoad', title: 'Load in an emergency', unit: 'A' },
  { name: 'breakerTime', title: 'Breaker time', unit: 's' },
  { name: 'voltage', title: 'Voltage', unit: 'kV' },
  { name: 'ratio', title: 'Ratio', unit: '' },
];
const byName = new Map(names.map((each) => [each.name, each]));
const values = { load: 100, smallestFault: 900, emergencyLoad: null, breakerTime: 0.06, voltage: 11, ratio: 2 };
const value = (text: string, unit: string, given: Parameters<typeof evaluate>[1] = values) => {
  const compiled = compile(text, names, unit);
  if (!compiled.ok) throw new Error(compiled.problems[0].message);
  return evaluate(compiled.formula, given, byName);
};
const problem = (text: string, unit = 'A') => {
  const compiled = compile(text, names, unit);
  if (compiled.ok) throw new Error(`${text} is taken`);
  const [{ message, from, to }] = compiled.problems;
  return { message, at: text.slice(from, to) };
};

describe('formulas', () => {
  it.each([
    ['1.2 * load', 'A', 120],
    ['1.2 load', 'A', 120],
    ['smallestFault / 1.5', 'A', 600],
    ['max(1.2 * load, 2 kA)', 'A', 2000],
    ['min(load, smallestFault) + 0.01 kA', 'A', 110],
    ['120 % * load', 'A', 120],
    ['breakerTime + 50 ms + 0.1 s', 's', 0.21],
    ['ratio > 1 and load < 1 kA ? 2 * load : load', 'A', 200],
    ['-load + smallestFault', 'A', 800],
    ['-20 A + load', 'A', 80],
    ['load - 0.02 kA', 'A', 80],
    ['load ^ 2 / load', 'A', 100],
    ['sqrt(load * load)', 'A', 100],
    ['smallestFault / load', '', 9],
    ['round(smallestFault / load / 2)', '', 5],
    ['voltage / 2', 'kV', 5.5],
    ['voltage / (11 ohm)', 'A', 1000],
    ['abs(load - smallestFault)', 'A', 800],
    ['load / breakerTime * 0.03 s', 'A', 50],
  ])('%s in %s comes to %d', (text, unit, expected) => {
    const result = value(text, unit);
    expect(result.ok && result.value).toBeCloseTo(expected, 9);
  });
  it('say what is not known, and go on with the first that is', () => {
    expect(value('1.05 * emergencyLoad + load', 'A')).toEqual({ ok: false, missing: ['emergencyLoad'] });
    expect(value('firstKnown(1.05 * emergencyLoad, 1.2 * load)', 'A')).toEqual({ ok: true, value: 120 });
    expect(value('firstKnown(1.05 * emergencyLoad, 1.2 * load)', 'A', { ...values, emergencyLoad: 200 })).toEqual({
      ok: true,
      value: 210,
    });
    expect(value('load / (ratio - 2)', 'A')).toEqual({ ok: false, missing: ['load', 'ratio'] });
    expect(value('load', 'A', { load: NaN })).toEqual({ ok: false, missing: ['load'] });
  });
  it.each([
    ['1.2 * laod', 'there is no "laod"; is "load" meant?', 'laod'],
    ['load + smalestFault', 'there is no "smalestFault"; is "smallestFault" meant?', 'smalestFault'],
    ['load + 0.3 s', 'A and s do not go together', 'load + 0.3 s'],
    ['2 * (load + breakerTime) + load', 'A and s do not go together', 'load + breakerTime'],
    ['max(load, smallestFault, breakerTime)', 'A and s do not go together', 'max(load, smallestFault, breakerTime'],
    ['load > breakerTime ? load : load', 'A and s do not go together', 'load > breakerTime'],
    ['load * s', '"s" is a unit: a number must stand before it', 's'],
    ['max * 2', '"max" is a function: write max(…)', 'max'],
    ['mux(load, load)', 'there is no function "mux"; is "max" meant?', 'mux(load, load'],
    ['max(load)', 'max takes 2 or more values', 'max(load'],
    ['load ? load : load', 'a comparison is needed before the "?"', 'load'],
    ['load ^ load', 'an exponent is a bare number', 'load'],
    ['load mod 3', '"mod" cannot be used here', 'load mod 3'],
    ['load +', 'something is missing at the end', '+'],
    ['(load', 'a parenthesis is not closed', 'd'],
    ['load $ 2', 'there is no "$"', '$'],
    ['load + größe', 'there is no "größe"', 'größe'],
    ['load @ 2', 'this cannot be read', '@'],
    ['', 'a formula is needed', ''],
  ])('%s is refused: %s, at "%s"', (text, message, at) => {
    expect(problem(text)).toEqual({ message, at });
  });
  it('come to the unit that is needed', () => {
    expect(problem('load', 's').message).toBe('comes to A, s is needed');
    expect(problem('breakerTime', 'A').message).toBe('comes to s, A is needed');
    expect(problem('ratio', 'A').message).toBe('comes to a bare number, A is needed');
    expect(problem('load', '').message).toBe('comes to A, a bare number is needed');
    expect(problem('load > 1 kA').message).toBe('this is a question, not a quantity');
    expect(problem('load * breakerTime').message).toBe('comes to another unit, A is needed');
  });
  it.each([
    'load = 3',
    'f(x) = x',
    'load; load',
    '[load]',
    '{a: load}',
    '"load"',
    'load.constructor',
    'constructor',
    'toString(load)',
    'import({})',
    'evaluate("1")',
    'parse("1")',
    'createUnit("x")',
    'load[1]',
    'i',
    'pi',
    '__proto__',
    'hasOwnProperty(load)',
    'load!',
    "load'",
    '1:3',
    'load to kA',
    'true',
    'random()',
  ])('%s, which is no formula, is refused', (text) => {
    expect(compile(text, names, 'A').ok).toBe(false);
    expect(compile(text, names, '').ok).toBe(false);
  });
  it('are no longer than they must be, and whatever is typed gets an answer with its place', () => {
    expect(problem(`load + ${'1 A + '.repeat(longestFormula / 6)}load`).message).toContain('longer than');
    const bits = [...names.map(({ name }) => name), ...formulaUnits, ...formulaFunctions.map(({ name }) => name)];
    const piece = fc.constantFrom(
      ...bits,
      '+',
      '-',
      '*',
      '/',
      '^',
      '(',
      ')',
      ',',
      '?',
      ':',
      '>',
      '%',
      '1',
      '0.5',
      ' ',
      '"',
      '[',
      '=',
    );
    fc.assert(
      fc.property(fc.array(piece, { maxLength: 14 }), (pieces) => {
        const text = pieces.join('');
        const compiled = compile(text, names, 'A');
        if (compiled.ok) evaluate(compiled.formula, values, byName);
        else
          for (const { from, to, message } of compiled.problems) {
            expect(message).not.toBe('');
            expect(from).toBeGreaterThanOrEqual(0);
            expect(to).toBeGreaterThanOrEqual(from);
            expect(to).toBeLessThanOrEqual(Math.max(text.length, 1));
          }
      }),
      { seed: 14, numRuns: 600 },
    );
  });
  it('agree with the same arithmetic done by hand', () => {
    const leaf = fc.constantFrom<[string, number]>(['load', 100], ['smallestFault', 900], ['30 A', 30], ['2 kA', 2000]);
    const { tree } = fc.letrec<{ tree: [string, number] }>((tie) => ({
      tree: fc.oneof(
        { depthSize: 'small', withCrossShrink: true },
        leaf,
        fc.tuple(tie('tree'), tie('tree')).map(([p, q]): [string, number] => [`(${p[0]} + ${q[0]})`, p[1] + q[1]]),
        fc.tuple(tie('tree'), tie('tree')).map(([p, q]): [string, number] => [`(${p[0]} - ${q[0]})`, p[1] - q[1]]),
        fc
          .tuple(tie('tree'), tie('tree'))
          .map(([p, q]): [string, number] => [`max(${p[0]}, ${q[0]})`, Math.max(p[1], q[1])]),
        fc
          .tuple(tie('tree'), fc.integer({ min: 1, max: 9 }))
          .map(([p, n]): [string, number] => [`${n} * ${p[0]}`, n * p[1]]),
        fc
          .tuple(tie('tree'), tie('tree'), tie('tree'))
          .map(([p, q, r]): [string, number] => [`(${p[0]} > ${q[0]} ? ${r[0]} : ${p[0]})`, p[1] > q[1] ? r[1] : p[1]]),
      ),
    }));
    fc.assert(
      fc.property(tree, ([text, expected]) => {
        fc.pre(text.length <= longestFormula);
        const result = value(text, 'A');
        expect(result.ok && Math.abs(result.value - expected) <= 1e-9 * Math.max(1, Math.abs(expected))).toBe(true);
      }),
      { seed: 14, numRuns: 300 },
    );
  });
});
