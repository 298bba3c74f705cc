import { describe, expect, it } from 'vitest';
import { elementId } from '../model/fields';
import { marginOf, type Check } from './check';
import { compareChecks } from './compare';

const check = (id: string, over: Partial<Check> = {}): Check => ({
  id,
  rule: 'r',
  code: 'c',
  subject: elementId('x'),
  title: `Title ${id}`,
  value: 10,
  bound: 8,
  unit: 'A',
  sense: 'atLeast',
  deciding: null,
  verdict: 'holds',
  severity: 'error',
  message: '',
  ...over,
});
const told = (before: readonly Check[], after: readonly Check[]) =>
  compareChecks(before, after).map(({ id, way }) => `${id} ${way}`);

describe('the margin of a check', () => {
  it('is how far the value is on the right side of its bound', () => {
    expect(marginOf(check('a'))).toBe(2);
    expect(marginOf(check('a', { sense: 'atMost' }))).toBe(-2);
    expect(marginOf(check('a', { value: null }))).toBeNull();
    expect(marginOf(check('a', { bound: null }))).toBeNull();
  });
});

describe('two runs of the checks', () => {
  it('that are the same have no difference', () => {
    expect(compareChecks([check('a'), check('b')], [check('b'), check('a')])).toEqual([]);
    // In the last digits only: less than a millionth of the bound.
    expect(told([check('a')], [check('a', { value: 10 + 7.9e-6 })])).toEqual([]);
    expect(told([check('a')], [check('a', { value: 10 + 8.1e-6 })])).toEqual(['a better']);
    expect(told([check('a', { bound: null })], [check('a', { bound: null, value: 99 })])).toEqual([]);
  });
  it('tell what got worse and what better, by verdict first, by margin where the verdict is the same', () => {
    expect(told([check('a')], [check('a', { value: 9 })])).toEqual(['a worse']);
    expect(told([check('a')], [check('a', { value: 11 })])).toEqual(['a better']);
    expect(told([check('a', { sense: 'atMost' })], [check('a', { sense: 'atMost', value: 11 })])).toEqual(['a worse']);
    // A better margin with a worse verdict is worse.
    expect(told([check('a')], [check('a', { value: 11, verdict: 'doubtful' })])).toEqual(['a worse']);
    expect(told([check('a', { verdict: 'short' })], [check('a', { value: 9, verdict: 'doubtful' })])).toEqual([
      'a better',
    ]);
    expect(told([check('a', { verdict: 'notApplicable' })], [check('a')])).toEqual([]);
    const [only] = compareChecks([check('a')], [check('a', { value: 9 })]);
    expect(only).toEqual({
      id: 'a',
      title: 'Title a',
      way: 'worse',
      before: check('a'),
      after: check('a', { value: 9 }),
    });
  });
  it('tell a new check that does not hold, and one that is gone whatever it said', () => {
    expect(told([], [check('a'), check('n', { verdict: 'notApplicable' })])).toEqual([]);
    expect(compareChecks([], [check('a', { verdict: 'doubtful' })])).toEqual([
      { id: 'a', title: 'Title a', way: 'new', before: null, after: check('a', { verdict: 'doubtful' }) },
    ]);
    expect(compareChecks([check('a')], [])).toEqual([
      { id: 'a', title: 'Title a', way: 'gone', before: check('a'), after: null },
    ]);
    expect(told([check('a', { verdict: 'short' })], [])).toEqual(['a gone']);
  });
  it('come worst first: verdicts by how far they fell, new ones, margins by their share, what is better, what is gone', () => {
    const before = [
      check('held'),
      check('warned', { verdict: 'doubtful' }),
      check('little'),
      check('much'),
      check('huge', { bound: 1e-12, value: 5 }),
      check('gain'),
      check('rise', { verdict: 'short' }),
      check('gone'),
    ];
    const after = [
      check('gain', { value: 12 }),
      check('rise'),
      check('little', { value: 9.5 }),
      check('much', { value: 9 }),
      check('huge', { bound: 1e-12, value: 1 }),
      check('fresh', { verdict: 'doubtful' }),
      check('bad', { verdict: 'short' }),
      check('warned', { verdict: 'short' }),
      check('held', { verdict: 'short' }),
    ];
    expect(told(before, after)).toEqual([
      'held worse',
      'warned worse',
      'bad new',
      'fresh new',
      'huge worse',
      'much worse',
      'little worse',
      'rise better',
      'gain better',
      'gone gone',
    ]);
  });
});
