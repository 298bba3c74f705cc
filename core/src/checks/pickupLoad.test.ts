/** Pickups against load, on a feeder whose load current is known by hand: 4 MVA at 11 kV are 210 A. */
import { describe, expect, it } from 'vitest';
import { elementId } from '../model/fields';
import { currentInput, tripCircuit } from '../model/protection';
import { familyNamed } from '../protection/registry';
import type { DeviceFunction } from '../protection/schemas';
import { Studies } from '../studies/studies';
import { Builder } from '../test/network';
import { expectFollowed } from '../test/followed';
import { checked, workingOf } from './run';

const id = elementId;
const overcurrent = familyNamed('overcurrent');
const input = currentInput(null).id;
const fn = (code: string, over: object = {}) =>
  ({ ...overcurrent.fresh(id(code), code, input), ...over }) as DeviceFunction;

/** Fed at A; the relay looks at the load, its CT 100/1. */
function feeder(functions: DeviceFunction[], ratedMva = 4, fused: DeviceFunction[] = []) {
  const b = new Builder();
  b.add('bus', 'A', { nominalKv: 11 });
  b.add('networkFeeder', 'N');
  b.add('currentTransformer', 'CT', { primaryA: 100 });
  b.add('switch', 'Q');
  b.add('switch', 'F', { type: 'fuse', functions: fused });
  b.add('load', 'D', { ratedMva, powerFactor: 1 });
  b.join('N', 'A', 'A', 'CT:0', 'CT:1', 'Q:0', 'Q:1', 'F:0', 'F:1', 'D');
  b.add('relay', 'R', { inputs: [currentInput(id('CT'))], circuits: [tripCircuit([id('Q')])], functions });
  const studies = new Studies(b.network());
  return { studies, checks: checked(studies, undefined, ['settings.load']).checks };
}
const of = (subject: string, checks: ReturnType<typeof feeder>['checks']) =>
  checks.find((each) => each.subject === subject);

describe('a pickup', () => {
  it('lies above the largest load, a relay’s by a tenth', () => {
    const at = (pickup: number) => of('R', feeder([fn('51', { pickup })]).checks)!;
    expect(at(2)).toMatchObject({ verdict: 'short', severity: 'error' });
    expect(at(2.2)).toMatchObject({ verdict: 'doubtful', severity: 'warning', bound: 1.1 });
    expect(at(2.4)).toMatchObject({ verdict: 'holds' });
    expect(at(2.4).value).toBeCloseTo(240 / (4000 / (Math.sqrt(3) * 11)), 4);
  });
  it('of the function that begins first decides; those that tell load from fault do not count', () => {
    const { checks } = feeder([fn('51', { pickup: 3 }), fn('50', { pickup: 1 }), fn('51N', { pickup: 0.1 })]);
    expect(of('R', checks)).toMatchObject({ title: 'Pickup of 50 above load', verdict: 'short' });
    expect(of('R', feeder([fn('67', { pickup: 0.5 })]).checks)).toBeUndefined();
    expect(of('R', feeder([fn('51', { pickup: 3 }), fn('50', { pickup: 1, enabled: false })]).checks)).toMatchObject({
      verdict: 'holds',
    });
    expect(of('R', feeder([fn('51')], 0).checks)).toBeUndefined();
  });
  it('of a fuse is where it may melt', () => {
    const fuse = familyNamed('fuse').fresh(id('f'), 'gG', null);
    const with_ = (linkA: number) => of('F', feeder([], 4, [{ ...fuse, linkA }]).checks)!;
    // 1.25 times the rated current is carried.
    expect(with_(160)).toMatchObject({ verdict: 'short', bound: 1 });
    expect(with_(200)).toMatchObject({ verdict: 'holds' });
  });
  it('has a working that a calculator follows', () => {
    const { studies, checks } = feeder([fn('51', { pickup: 2.4 })]);
    expectFollowed(workingOf(studies, studies.conditions, checks[0])!.sections, 'load');
  });
});
