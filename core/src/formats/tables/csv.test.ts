import { describe, expect, it } from 'vitest';
import { csv, tabSeparated } from './csv';

const nasty = ['=1+1', '+1', '-1', '@SUM(A1)', '\t=1', '\r=1', 'plain', 'a"b', 'two\nlines', 'a\tb', 'a,b'];

describe('tables for spreadsheets', () => {
  it('no cell of a text is a formula, neither in a file nor on the clipboard', () => {
    for (const value of nasty) {
      const file = csv([[value]])
        .replace(/\r\n$/, '')
        .replace(/^"|"$/g, '');
      expect(file, value).not.toMatch(/^[=+\-@\t\r]/);
      expect(tabSeparated([[value]]), value).not.toMatch(/^[=+\-@\t\r]/);
    }
  });
  it('numbers stay numbers, and what is none leaves the field empty', () => {
    expect(tabSeparated([['a', -1.5, null, Number.NaN, Number.POSITIVE_INFINITY]])).toBe('a\t-1.5\t\t\t');
    expect(csv([['a', -1.5, null, Number.NaN]])).toBe('a,-1.5,,\r\n');
  });
  it('a cell stays one cell', () => {
    expect(
      tabSeparated([
        ['a\tb', 'two\r\nlines'],
        ['c', 1],
      ]),
    ).toBe('a b\ttwo lines\nc\t1');
    expect(csv([['a,b', 'a"b']])).toBe('"a,b","a""b"\r\n');
  });
});
