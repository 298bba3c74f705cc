/** Formulas in spreadsheets, evaluated by a second library, against the product's own evaluation in complex numbers. */
import fc from 'fast-check';
import { HyperFormula } from 'hyperformula';
import { describe, expect, it } from 'vitest';
import { magnitude, type Complex } from '../linear/complex';
import { runs } from '../test/runs';
import { evaluateComplex } from './complexValue';
import { compile, type Name } from './formula';
import { spreadsheetFormula } from './spreadsheet';

const names: readonly Name[] = [
  { name: 'own', title: 'a line', unit: 'ohm' },
  { name: 'next', title: 'another', unit: 'ohm' },
  { name: 'small', title: 'a reactance', unit: 'ohm' },
  { name: 'load', title: 'a resistance', unit: 'ohm' },
  { name: 'absent', title: 'not known', unit: 'ohm' },
  { name: 'angle', title: 'an angle', unit: 'deg' },
];
const byName = new Map(names.map((each) => [each.name, each]));

function inSheet(text: string, values: Readonly<Record<string, Complex | null>>, unit = 'ohm'): number | null {
  const compiled = compile(text, names, unit);
  if (!compiled.ok) throw new Error(compiled.problems[0].message);
  const rows: (number | string)[][] = [];
  const cells = new Map<string, { re: string; im: string | null }>();
  for (const [name, value] of Object.entries(values)) {
    if (!value) continue;
    rows.push([value.re, value.im]);
    cells.set(name, { re: `A${rows.length}`, im: value.im === 0 ? null : `B${rows.length}` });
  }
  const written = spreadsheetFormula(compiled.formula, byName, (name) => cells.get(name) ?? null);
  if (written === null) return null;
  rows.push([`=${written}`]);
  const book = HyperFormula.buildFromArray(rows, { licenseKey: 'gpl-v3' });
  const value = book.getCellValue({ sheet: 0, row: rows.length - 1, col: 0 });
  book.destroy();
  if (typeof value !== 'number') throw new Error(`${written} gives ${JSON.stringify(value)}`);
  return value;
}

function own(text: string, values: Readonly<Record<string, Complex | null>>, unit = 'ohm'): number | null {
  const compiled = compile(text, names, unit);
  if (!compiled.ok) throw new Error(compiled.problems[0].message);
  const result = evaluateComplex(compiled.formula, values, byName);
  return result.ok ? magnitude(result.value) : null;
}

const values = {
  own: { re: 3.729, im: 12.703 },
  next: { re: 2.23, im: 7.6 },
  small: { re: 0, im: 2 },
  load: { re: 83.05, im: 0 },
  absent: null,
  angle: { re: 14, im: 0 },
};

describe('formulas in spreadsheets', () => {
  it.each([
    '0.85 * own',
    'own + 0.5 * next',
    'max(own + 1.2 * next, 1.5 * own)',
    'min(own, next, 5 ohm)',
    'own - next / 2',
    '-own + load',
    'abs(own) - abs(next)',
    'firstKnown(absent, next)',
    'own > next ? own : load',
    'own < next or not (load >= own) ? 1 ohm : 0.6 * load',
    'own == own and load != own ? +small : 1 ohm',
    'max(20 ohm, 0.3 * load)',
    'own * own / next',
    'sqrt(load * load)',
    'sqrt(own * own)',
    'own ^ 2 / load',
    'load ^ 2 / load',
    'round(own / next) * 1 ohm',
    'round(load / 10 ohm) * 2 ohm',
  ])('%s', (text) => {
    const expected = own(text, values);
    expect(expected).not.toBeNull();
    expect(inSheet(text, values)).toBeCloseTo(expected!, 9);
  });
  it('keep the units of what they come to', () => {
    expect(inSheet('max(20 deg, 1.3 * angle)', values, 'deg')).toBeCloseTo(20, 9);
    expect(inSheet('2 * angle', values, 'deg')).toBeCloseTo(28, 9);
  });
  it('are not written where something is not known', () => {
    expect(inSheet('own + absent', values)).toBeNull();
    expect(inSheet('firstKnown(absent, absent + own)', values)).toBeNull();
  });
  it('random sums and choices give what our own evaluation gives', () => {
    const leaf = fc.constantFrom('own', 'next', 'small', 'load', '4 ohm');
    const text = fc.letrec<{ node: string }>((tie) => ({
      node: fc.oneof(
        { depthSize: 'small', withCrossShrink: true },
        leaf,
        fc.tuple(tie('node'), fc.constantFrom('+', '-'), tie('node')).map(([p, sign, q]) => `(${p} ${sign} ${q})`),
        fc.tuple(fc.double({ min: 0.1, max: 3, noNaN: true }), tie('node')).map(([k, p]) => `${k.toFixed(3)} * ${p}`),
        fc.tuple(fc.constantFrom('max', 'min'), tie('node'), tie('node')).map(([name, p, q]) => `${name}(${p}, ${q})`),
      ),
    })).node;
    fc.assert(
      fc.property(text, (each) => {
        fc.pre(each.length < 300);
        expect(inSheet(each, values)).toBeCloseTo(own(each, values)!, 6);
      }),
      { seed: 5, numRuns: runs(120) },
    );
  });
});
