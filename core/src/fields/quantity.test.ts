import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { formatCurrent, formatNumber, parseQuantity, plainNumber } from './quantity';

const value = (text: string, unit: string) => {
  const parsed = parseQuantity(text, unit);
  return parsed.ok ? parsed.value : parsed.message;
};

describe('metres and thousandths', () => {
  it('800 m in kilometres are metres; a bare m elsewhere is a prefix', () => {
    expect(parseQuantity('800 m', 'km')).toEqual({ ok: true, value: 0.8 });
    expect(parseQuantity('800m', 's')).toEqual({ ok: true, value: 0.8 });
  });
});

describe('what people type', () => {
  it.each([
    ['11', 'kV', 11],
    ['11k', 'kV', 11],
    ['11 kV', 'kV', 11],
    ['11000 V', 'kV', 11],
    ['0.4 kV', 'kV', 0.4],
    ['400V', 'kV', 0.4],
    ['2,5', 'MVA', 2.5],
    ['1e3', 'A', 1000],
    ['1600 kVA', 'MVA', 1.6],
    ['1600k', 'MVA', 1.6],
    ['1 600', 'kV', 1600],
    ['−3', '', -3],
    ['.5', 's', 0.5],
    ['5.', 's', 5],
    ['300 ms', 's', 0.3],
    ['0.1 Ω/km', 'Ω/km', 0.1],
    ['0.1 mΩ/m', 'Ω/km', 0.1],
    ['2 kA', 'A', 2000],
    ['0,125', 's', 0.125],
    ['6 %', '%', 6],
  ])('%s in a field of %s', (text, unit, expected) => expect(value(text, unit)).toBe(expected));

  it.each([
    ['', 'kV', /not a number/],
    ['abc', 'kV', /not a number/],
    ['1.2.3', 'kV', /not a number/],
    ['11 MVA', 'kV', /does not fit/],
    ['5 kg', 's', /does not fit/],
    ['1,000', 'A', /may mean 1\.000 or 1000/],
    ['1e999', 'A', /not a number/],
    ['NaN', 'A', /not a number/],
    ['5 x', '', /not expected/],
    ['--5', 'A', /not a number/],
  ])('refuses %s in a field of %s', (text, unit, message) => expect(value(text, unit)).toMatch(message));

  it('reads back what it writes', () => {
    fc.assert(
      fc.property(fc.double({ min: -1e9, max: 1e9, noNaN: true }), (x) => {
        const read = value(plainNumber(x), 'kV');
        expect(Math.abs((read as number) - x)).toBeLessThanOrEqual(1e-11 * Math.abs(x));
      }),
    );
  });
});

describe('what is shown', () => {
  it.each([
    [18.4249, '18.42'],
    [0.04567891, '0.04568'],
    [12345.6, '12350'],
    [0, '0'],
    [-3.2, '−3.200'],
    [99999.6, '100000'],
    [9.9996, '10.00'],
    [1.5e9, '1.500e9'],
    [Infinity, '∞'],
  ])('%d as %s', (x, text) => expect(formatNumber(x)).toBe(text));
  it('currents in A or kA', () => {
    expect(formatCurrent(999)).toBe('999.0\u2009A');
    expect(formatCurrent(18420)).toBe('18.42\u2009kA');
  });
});
