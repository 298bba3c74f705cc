/** What a device protects against: damage and overload of what lies right behind it, worked by hand. */
import { describe, expect, it } from 'vitest';
import { elementId } from '../model/fields';
import { find, ofKind, withElements } from '../model/network';
import type { OvercurrentFunction } from '../protection/overcurrent/schema';
import type { FunctionOf } from '../protection/schemas';
import { Studies } from '../studies/studies';
import { demoNetwork } from '../test/demo';
import { checked } from './run';

const id = elementId;
const network = demoNetwork();
const checksWith = (...elements: Parameters<typeof withElements>[1][]) =>
  checked(new Studies(elements.reduce<typeof network>((on, each) => withElements(on, each), network)), undefined, [
    'settings.damage',
    'settings.overload',
  ]).checks;
const now = checksWith();
const of = (checks: typeof now, check: string) => checks.find((each) => each.id === check);

describe('damage', () => {
  const cable = find(network, 'line', id('fer-pen'))!;
  const relay = find(network, 'relay', id('fer-q33-relay'))!;
  const [first, ...rest] = relay.functions as OvercurrentFunction[];
  it('holds while the curve lies below the limit at every current, and is told where it does not', () => {
    expect(of(now, `damage ${relay.id} ${cable.id} conductor`)!.verdict).toBe('holds');
    // Without its undelayed stage and much slower it lets the conductor glow.
    const slow = checksWith([{ ...relay, functions: [{ ...first, timeMultiplier: 1.2 }] }]);
    const check = of(slow, `damage ${relay.id} ${cable.id} conductor`)!;
    expect(check).toMatchObject({ verdict: 'doubtful', code: 'setting.damage', elements: [relay.id, cable.id] });
    expect(check.value!).toBeGreaterThan(check.bound!);
    expect(rest.length).toBeGreaterThan(0);
  });
  it('of a transformer counts from its high-voltage side only', () => {
    expect(of(now, 'damage bra-q32-relay bra-tl1 withstand')).toMatchObject({ verdict: 'holds' });
    expect(of(now, 'damage bra-q32-relay bra-tl1 withstand')!.bound).toBeCloseTo(2, 9);
    expect(now.filter((check) => check.id.startsWith('damage bra-q21-relay'))).toEqual([]);
  });
  it('a link too large does not protect its transformer', () => {
    const fuse = find(network, 'switch', id('pen-f1'))!;
    const link = fuse.functions[0] as FunctionOf<'fuse'>;
    const larger = checksWith([{ ...fuse, functions: [{ ...link, linkA: 25 }] }]);
    expect(of(now, 'damage pen-f1 pole-1 withstand')!.verdict).toBe('holds');
    expect(of(larger, 'damage pen-f1 pole-1 withstand')!.verdict).toBe('doubtful');
  });
});

describe('overload', () => {
  it('is protected against where it certainly trips below 1.45 times what the element carries', () => {
    const motor = ofKind(network, 'asynchronousMotor').find(({ name }) => name === 'BRA P1')!;
    const ratedA = (motor.ratedMw * 1e3) / (Math.sqrt(3) * 11 * 0.87 * 0.962);
    const check = of(now, 'overload bra-q33-relay bra-p1')!;
    expect(check.bound! / (1.45 * ratedA)).toBeCloseTo(1, 6);
    // 49: Ib = 0.66 × 200 A, k = 1.05.
    expect(check.value).toBeCloseTo(0.66 * 200 * 1.05, 6);
    expect(check.verdict).toBe('holds');
  });
  it('is left to others where not, and is no finding', () => {
    expect(of(now, 'overload pen-f1 pole-1')!.verdict).toBe('notApplicable');
  });
});
