import { describe, expect, it } from 'vitest';
import { demoText } from '@mesura/core/test/demo';
import { run } from './run';

const demo = (path: string) => {
  if (path !== 'demo.json') throw new Error('no such file');
  return demoText();
};
const faults = (...args: string[]) => run(['faults', 'demo.json', ...args], demo);

describe('mesura faults', () => {
  it('prints a table with every bus', () => {
    const { code, output } = faults();
    expect(code).toBe(0);
    expect(output.split('\n')[0]).toMatch(/^bus +kV +kind +case +Ik" kA +ip kA +X\/R/);
    expect(output.trim().split('\n')).toHaveLength(9);
    expect(output).toMatch(/^BRA 11 A +11 +3ph +max +14\.45 /m);
  });
  it('prints CSV for one bus by name or identifier', () => {
    const byName = faults('--at', 'BRA 11 A', '--format', 'csv');
    expect(byName.output).toBe(faults('--at', 'bra-11-a', '--format', 'csv').output);
    expect(byName.output.trim().split('\r\n')).toHaveLength(2);
  });
  it('prints JSON whose contributions add up to the fault current', () => {
    const { output } = faults('--format', 'json', '--kind', 'all', '--case', 'min');
    const { faults: list } = JSON.parse(output) as {
      faults: {
        kind: string;
        ikA: number;
        phasesA: Record<string, { re: number; im: number }>;
        contributions: { phasesA: Record<string, { re: number; im: number }> }[];
        ipA: number;
        xOverR: number;
      }[];
    };
    expect(list).toHaveLength(32);
    for (const fault of list)
      for (const phase of ['l1', 'l2', 'l3'])
        for (const part of ['re', 'im'] as const)
          expect(fault.contributions.reduce((sum, share) => sum + share.phasesA[phase][part], 0)).toBeCloseTo(
            fault.phasesA[phase][part],
            4,
          );
  });
  it.each([
    [['faults'], 2, /mesura faults FILE/],
    [['nonsense', 'demo.json'], 2, /mesura faults FILE/],
    [['faults', 'demo.json', '--kind', '4ph'], 2, /--kind must be one of/],
    [['faults', 'demo.json', '--case', 'most'], 2, /--case must be/],
    [['faults', 'demo.json', '--format', 'xml'], 2, /--format must be/],
    [['faults', 'demo.json', '--frobnicate'], 2, /frobnicate/],
    [['faults', 'gone.json'], 1, /gone\.json cannot be read: no such file/],
    [['faults', 'demo.json', '--at', 'Atlantis'], 1, /no bus is called "Atlantis"; there are: .*BRA 33/],
  ])('%j fails with %i', (args, code, message) => {
    const outcome = run(args, demo);
    expect(outcome.code).toBe(code);
    expect(outcome.errors).toMatch(message);
    expect(outcome.output).toBe('');
  });
  it('tells what is wrong in a file, and where', () => {
    const outcome = run(['faults', 'x'], () => demoText().replace('"ukPercent":12.4', '"ukPercent":"much"'));
    expect(outcome.code).toBe(1);
    expect(outcome.errors).toMatch(/x: elements\.\d+\.ukPercent: must be a number \(FER T1\)/);
  });
});
