import { describe, expect, it } from 'vitest';
import type { Problem } from '@mesura/core/model/problem';
import '../stages';
import { grouped, mostShown } from './grouped';

const problem = (code: string, message: string, severity: Problem['severity'] = 'warning'): Problem => ({
  severity,
  code,
  message,
});
const some = [
  problem('supply.none', 'Bus East is connected to no source'),
  problem('grading.margin', 'Q1 to Q2 lacks margin', 'error'),
  problem('supply.none', 'Bus West is connected to no source', 'error'),
];

describe('findings in the drawer', () => {
  it('stand with the stage that looks after them, the graver first', () => {
    const { groups, stages, more } = grouped(some, null, '');
    expect(groups.map(({ stage, count }) => [stage, count])).toEqual([
      ['Network', 2],
      ['Grading', 1],
    ]);
    expect(groups[0].findings.map(({ message }) => message[4])).toEqual(['W', 'E']);
    expect([stages, more]).toEqual([['Network', 'Grading'], 0]);
  });
  it('are filtered by stage and by all words; the stages stay to choose from', () => {
    expect(grouped(some, 'Grading', '').groups.map(({ count }) => count)).toEqual([1]);
    expect(grouped(some, null, 'source west').groups[0].findings).toHaveLength(1);
    expect(grouped(some, null, 'nothing')).toEqual({ groups: [], stages: ['Network', 'Grading'], more: 0 });
  });
  it('are never more than can be read; what is left out is counted', () => {
    const many = Array.from({ length: 5000 }, (_, k) => problem(k % 2 ? 'supply.none' : 'grading.margin', `No ${k}`));
    const { groups, more } = grouped(many, null, '');
    expect(groups.reduce((sum, { findings }) => sum + findings.length, 0)).toBe(mostShown);
    expect(more).toBe(5000 - mostShown);
    expect(groups.map(({ count }) => count)).toEqual([2500, 2500]);
  });
});
