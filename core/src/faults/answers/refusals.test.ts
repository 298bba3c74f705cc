import { describe, expect, it } from 'vitest';
import { elementId } from '../../model/fields';
import { Builder } from '../../test/network';
import { contributions } from '../iec60909/contributions';
import { faultAt, iec60909Study } from '../iec60909/study';
import { faultTable } from '../../test/faultTable';

const source = { given: 'current' as const, ikKa: 10, skMva: null, rOverX: 0.1, x0OverX1: 1, r0OverX0: 0.1 };

function twoBuses(over: Parameters<Builder['add']>[2] = {}) {
  const b = new Builder();
  b.add('bus', 'A', { nominalKv: 20 });
  b.add('bus', 'B', { nominalKv: 20 });
  b.add('networkFeeder', 'N', { max: source, min: source });
  b.add('line', 'L', over as never);
  b.join('N', 'A', 'L:0', 'A', 'L:1', 'B');
  return b;
}

describe('what cannot be computed is said, with its place', () => {
  it('a bus without supply', () => {
    const b = twoBuses();
    b.add('bus', 'Lonely', { nominalKv: 20 });
    b.add('asynchronousMotor', 'M');
    b.join('M', 'Lonely');
    const study = iec60909Study(b.network(), 'max');
    const result = faultAt(study, elementId('Lonely'), 0, '3ph');
    expect(result).toMatchObject({ ok: false, problems: [{ code: 'supply.none', element: 'Lonely' }] });
    expect(study.assembly.problems.map((problem) => problem.code)).toContain('supply.none');
  });

  it('missing zero-sequence data: which element, which fields; other kinds go on', () => {
    const study = iec60909Study(twoBuses().network(), 'max');
    expect(faultAt(study, elementId('B'), 0, '1ph')).toMatchObject({
      ok: false,
      problems: [{ code: 'zeroSequence.missing', element: 'L', field: 'r0OhmPerKm' }],
    });
    expect(faultAt(study, elementId('B'), 0, '3ph').ok).toBe(true);
    const rows = faultTable(study, '1ph');
    expect(rows.every((row) => row.result === null && row.problems.length === 1)).toBe(true);
  });

  it('no earth path: no single-phase current, and the two-phase-earth current is the two-phase one', () => {
    const b = twoBuses({ r0OhmPerKm: 0.2, x0OhmPerKm: 0.6 } as never);
    Object.assign(
      b.elements.find((element) => element.id === 'N')!,
      { earthed: false },
    );
    const study = iec60909Study(b.network(), 'max');
    const [one, double, two] = (['1ph', '2phE', '2ph'] as const).map((kind) => faultAt(study, elementId('B'), 0, kind));
    if (!one.ok || !double.ok || !two.ok) throw new Error('no result');
    expect(one.fault.ikA).toBe(0);
    expect(double.fault.ikA).toBeCloseTo(two.fault.ikA, 9);
    expect(double.fault.earthA).toBe(0);
  });

  it('two levels on one node, and a line between levels', () => {
    const b = twoBuses();
    b.add('bus', 'C', { nominalKv: 11 });
    b.add('switch', 'Q');
    b.join('B', 'Q:0', 'Q:1', 'C');
    expect(iec60909Study(b.network(), 'max').assembly.problems.map((problem) => problem.code)).toContain('level.mixed');
    const c = twoBuses();
    Object.assign(
      c.elements.find((element) => element.id === 'B')!,
      { nominalKv: 11 },
    );
    expect(iec60909Study(c.network(), 'max').assembly.problems.map((problem) => problem.code)).toContain('level.line');
  });

  it('parallel transformers with different clock numbers', () => {
    const b = twoBuses();
    b.add('bus', 'D', { nominalKv: 0.4 });
    for (const [name, vectorGroup] of [
      ['T1', 'Dyn5'],
      ['T2', 'Dyn11'],
    ] as const) {
      b.add('transformer', name, { hvKv: 20, lvKv: 0.42, vectorGroup });
      b.join(`${name}:0`, 'B', `${name}:1`, 'D');
    }
    expect(iec60909Study(b.network(), 'max').assembly.problems.map((problem) => problem.code)).toContain('clock.loop');
  });

  it('a line of no impedance does not break the calculation', () => {
    const study = iec60909Study(twoBuses({ r1OhmPerKm: 0, x1OhmPerKm: 1e-12 } as never).network(), 'max');
    const result = faultAt(study, elementId('B'), 0, '3ph');
    expect(result.ok && result.fault.ikA).toBeCloseTo(10000, 3);
  });

  it('passive elements are listed with nothing and the reason', () => {
    const b = twoBuses();
    b.add('load', 'O');
    b.add('asynchronousMotor', 'M', { ratedKv: 20 });
    b.join('O', 'B', 'M', 'B');
    const study = iec60909Study(b.network(), 'min');
    const result = faultAt(study, elementId('B'), 0, '3ph');
    if (!result.ok) throw new Error('no result');
    const shares = new Map(contributions(result.fault).map((share) => [share.name, share]));
    expect(shares.get('O')).toMatchObject({ currentA: 0, remark: 'a passive load gives none' });
    expect(shares.get('M')).toMatchObject({ currentA: 0, remark: 'left out of minimum currents' });
  });

  it('an empty network gives an empty table', () => {
    expect(faultTable(iec60909Study(new Builder().network(), 'max'), '3ph')).toEqual([]);
  });
});
