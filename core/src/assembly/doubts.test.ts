import { neutralOf } from '../model/fields';
import { describe, expect, it } from 'vitest';
import { voltageFactor } from '../faults/iec60909/voltageFactor';
import { demoNetwork } from '../test/demo';
import { Builder } from '../test/network';
import { assemble } from './assemble';
import { doubtsOf } from './doubts';

const doubts = (b: Builder) => doubtsOf(assemble(b.network(), { faultCase: 'max', voltageFactor: voltageFactor(10) }));

function plant(neutral: 'solid' | 'isolated', line: object = {}) {
  const b = new Builder();
  const level = { given: 'current' as const, ikKa: 10, skMva: null, rOverX: 0.1, x0OverX1: 1, r0OverX0: 0.1 };
  b.add('bus', 'A', { nominalKv: 33 });
  b.add('bus', 'B', { nominalKv: 11 });
  b.add('bus', 'C', { nominalKv: 11 });
  b.add('networkFeeder', 'N', { max: level, min: level });
  b.add('transformer', 'T', {
    ratedMva: 10,
    hvKv: 33,
    lvKv: 11,
    ukPercent: 8,
    uRPercent: 0.5,
    vectorGroup: 'Dyn11',
    x0OverX1: 0.95,
    r0OverR1: 1,
    lvNeutral: neutralOf(neutral),
  });
  b.add('line', 'L', { r0OhmPerKm: 0.3, x0OhmPerKm: 0.4, ...line });
  b.join('N', 'A', 'T:0', 'A', 'T:1', 'B', 'L:0', 'B', 'L:1', 'C');
  return b;
}

describe('doubtful data', () => {
  it('none in a common plant, and none in the demo', () => {
    expect(doubts(plant('solid'))).toEqual([]);
    expect(doubtsOf(assemble(demoNetwork(), { faultCase: 'max', voltageFactor: voltageFactor(10) }))).toEqual([]);
  });
  it('a network without an earthed neutral is named once', () => {
    expect(doubts(plant('isolated'))).toMatchObject([
      {
        code: 'earthing.none',
        element: 'B',
        message: expect.stringMatching(/^B and 1 more bus: no neutral is earthed/),
      },
    ]);
  });
  it('an X/R that nobody has seen, and none at all', () => {
    expect(doubts(plant('solid', { r1OhmPerKm: 0.0001, x1OhmPerKm: 0.4 }))).toMatchObject([
      { code: 'ratio.uncommon', element: 'L', field: 'r1OhmPerKm', message: expect.stringMatching(/X\/R = 4000/) },
    ]);
    expect(doubts(plant('solid', { r1OhmPerKm: 0, x1OhmPerKm: 0.4 }))).toMatchObject([
      { code: 'ratio.uncommon', message: expect.stringMatching(/without any resistance/) },
    ]);
  });
});
