/** Reference cases through `mesura cases`: published ones, and what an independent audit found. */
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { figureAt } from './cases/answer';
import { run } from './run';

const file = (path: string) => readFileSync(new URL(`../../${path}`, import.meta.url), 'utf8');
const cases = (...paths: string[]) => {
  const outcome = run(['cases', ...paths, '--format', 'json'], file);
  const answer = JSON.parse(outcome.output) as {
    agree: number;
    differ: number;
    cases: { id: string; figure: string; verdict: string }[];
  };
  return { ...outcome, ...answer };
};

describe('mesura cases', () => {
  it.each([
    ['core/reference/audit1.json', 20],
    ['core/reference/iec60909.json', 60],
    ['core/reference/protection.json', 297],
    ['core/reference/distance/distance.json', 2440],
    ['core/reference/distance/reach.json', 2526],
    ['core/reference/distance/loadability.json', 135],
    ['core/reference/distance/linepackage.json', 848],
    ['core/reference/distance/differential.json', 2323],
    ['core/reference/trials/trials.json', 4995],
    ['core/reference/curves.json', 69],
    ['core/reference/margins.json', 157],
    ['core/reference/study/ratings.json', 511],
    ['core/reference/study/decrement.json', 415],
    ['core/reference/study/load.json', 1894],
    ['core/reference/study/circuits.json', 1315],
    ['core/reference/earth/arc.json', 861],
    ['core/reference/earth/battery.json', 95],
    ['core/reference/earth/grids.json', 134],
    ['core/reference/earth/earth.json', 14658],
  ])('%s agrees in at least %i figures, and differs in none', (path, least) => {
    const { code, agree, cases: list } = cases(path);
    expect(list.filter(({ verdict }) => verdict === 'differs')).toEqual([]);
    expect(agree).toBeGreaterThanOrEqual(least);
    expect(code).toBe(0);
  });
  it('leaves no case of the audit out', () => {
    const { cases: list } = cases('core/reference/audit1.json');
    expect(list.every(({ verdict }) => verdict === 'agrees')).toBe(true);
    expect(new Set(list.map(({ id }) => id.slice(0, 2))).size).toBe(9);
  });
  it('says where a figure differs, with exit code 3', () => {
    const changed = file('core/reference/audit1.json').replace('"faults.0.ikA": 7236', '"faults.0.ikA": 9197');
    const { code, output } = run(['cases', 'core/reference/audit1.json'], (path) =>
      path === 'core/reference/audit1.json' ? changed : file(path),
    );
    expect(code).toBe(3);
    expect(output).toMatch(/D5-one-of-two-circuits +faults\.0\.ikA +9197 +7236 +-1961 +differs/);
  });
  it('refuses what is no list of cases', () => {
    expect(run(['cases'], file).code).toBe(2);
    const refused = run(['cases', 'package.json'], file);
    expect(refused.code).toBe(1);
    expect(refused.errors).toMatch(/holds no list of cases/);
  });
  it('solves a power-flow case and compares it with what is printed in it', () => {
    const { agree, differ } = cases('core/reference/powerFlow/ieee-14-bus.cdf');
    expect([agree, differ]).toEqual([33, 0]);
    const path = 'core/reference/powerFlow/ieee-14-bus.cdf';
    const other = run(['cases', path, '--format', 'json'], () => file(path).replace('1.019', '1.119'));
    expect([other.code, (JSON.parse(other.output) as { differ: number }).differ]).toEqual([3, 1]);
    expect(run(['cases', path], () => file(path).replace('0.01938', 'abc')).errors).toMatch(
      /line 19, columns 20 to 29/,
    );
  });
  it('leaves no figure of ratings, load flow and currents over time out', () => {
    for (const name of ['ratings', 'decrement', 'load']) {
      const { cases: list } = cases(`core/reference/study/${name}.json`);
      expect(list.filter(({ verdict }) => verdict !== 'agrees')).toEqual([]);
    }
  });
  it('compares words, answers of yes and no, and what has no solution, too', () => {
    const case_ = (expected: object) =>
      JSON.stringify({
        cases: [{ id: 'x', kind: 'hv-breaking', inputs: { ibKa: 20, ratedBreakingKa: 16 }, expected }],
      });
    const verdict = (expected: object) => {
      const { output } = run(['cases', 'x.json', '--format', 'json'], () => case_(expected));
      return (JSON.parse(output) as { cases: { verdict: string }[] }).cases.map((each) => each.verdict);
    };
    expect(verdict({ verdict: 'not met', duty: 20, note: 'words about it' })).toEqual(['agrees', 'agrees']);
    expect(verdict({ verdict: 'OK', duty: null, moment: 3 })).toEqual(['differs', 'differs', 'not yet computed']);
  });
  it('finds figures in an answer', () => {
    const answer = {
      faults: [
        {
          branches: [
            { id: 'a', x: 1 },
            { id: 'b', x: { y: 2 } },
          ],
        },
      ],
    };
    expect(figureAt(answer, 'faults.0.branches[id=b].x.y')).toBe(2);
    expect(figureAt(answer, 'faults.0.branches[id=c].x.y')).toBeNull();
    expect(figureAt(answer, 'faults.1.nothing')).toBeNull();
  });
});
