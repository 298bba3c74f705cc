/** What flows ahead and backward, where it can be told by hand; forgotten directions and turned polarities are found. */
import { describe, expect, it } from 'vitest';
import { checked } from '../checks/run';
import { faultAtPlace, terminalPlace } from '../faults/iec60909/study';
import { solidFault } from '../faults/kinds';
import { elementId } from '../model/fields';
import { find, withElements } from '../model/network';
import { deviceOf } from '../protection/device';
import { Studies } from '../studies/studies';
import { demoNetwork } from '../test/demo';
import { deviceFigures } from './figures';
import { directionRoom, directions, largestBehind, type Directions } from './directions';

const id = elementId;
const network = demoNetwork();
const studies = new Studies(network);
const all = (() => {
  const steps = directions(studies, studies.conditions);
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
})();
const of = (name: string, mode: Directions['mode'] = 'phase') =>
  all.find(({ device, mode: own }) => device.id === name && own === mode)!;

describe('directions', () => {
  it('at the end of a radial feeder nothing flows backward, and none is needed', () => {
    const recloser = of('pen-r1');
    expect(recloser.reverse).toBeNull();
    expect(recloser).toMatchObject({ needs: 'none', directional: false });
    expect(recloser.forward!.least.ampere).toBeLessThan(recloser.forward!.most.ampere);
  });
  it('between parallel transformers a direction is needed: what comes back from the board is that of the other one', () => {
    const incomer = of('bra-q21-relay');
    expect(incomer.needs).toBe('direction');
    expect(incomer.reverse!.most.ampere).toBeGreaterThan(incomer.forward!.most.ampere);
  });
  it('the current backward is what the place carries less what comes from ahead', () => {
    const device = deviceOf(network, id('bra-q21-relay'))!;
    const { behind } = deviceFigures(studies, device, studies.conditions);
    const worst = behind.find(({ kind }) => kind === '3ph')!;
    const study = studies.iec60909({ condition: worst.condition });
    const place = terminalPlace(device.inputs[0].through, 1);
    const result = faultAtPlace(study, place, solidFault('3ph'));
    if (!result.ok) throw new Error('no fault');
    const close = deviceFigures(studies, device, [
      studies.conditions.find((condition) => condition.id === worst.condition)!,
    ]).closeIn.find(({ kind }) => kind === '3ph')!;
    // Both shares have nearly the same angle: they add up.
    expect((worst.seen.phaseA + close.seen.phaseA) / result.fault.ikA).toBeCloseTo(1, 2);
    expect(of('bra-q21-relay').reverse!.most.ampere).toBeCloseTo(worst.seen.phaseA, 3);
  });
  it('angles are those of the fault current behind the voltage of the place', () => {
    for (const { forward, angleDeg, mode } of all)
      if (mode === 'phase' && forward) {
        expect(forward.most.lagDeg).toBeGreaterThan(20);
        expect(forward.most.lagDeg).toBeLessThan(90);
        expect(Math.abs(angleDeg! - (90 - (forward.most.lagDeg + forward.least.lagDeg) / 2))).toBeLessThanOrEqual(2.5);
      }
  });
  it('a pickup has room, or has not', () => {
    expect(directionRoom(100, 1000, 130)).toBe('none');
    expect(directionRoom(200, 1000, 130)).toBe('pickup');
    expect(directionRoom(800, 1000, 130)).toBe('direction');
    expect(directionRoom(largestBehind(1000, 130), 1000, 130)).not.toBe('direction');
  });
});

describe('findings', () => {
  const found = (elements: Parameters<typeof withElements>[1]) =>
    checked(new Studies(withElements(network, elements)), undefined, ['settings.direction']).checks;
  const verdictOf = (checks: ReturnType<typeof found>, name: string) =>
    checks.find((check) => check.id === name)?.verdict;
  const second = find(network, 'relay', id('bra-q02-relay'))!;
  it('tell of the polarity that is turned round, of either transformer, and no more when both are', () => {
    const [current, voltage] = second.inputs;
    const wired = (first: boolean, other: boolean) => [
      {
        ...second,
        inputs: [
          { ...current, reversed: first },
          { ...voltage, reversed: other },
        ],
      },
    ];
    expect(verdictOf(found([]), 'polarity bra-q01-relay phase')).toBe('holds');
    for (const [first, other, verdict] of [
      [true, false, 'short'],
      [false, true, 'short'],
      [true, true, 'holds'],
      [false, false, 'holds'],
    ] as const)
      expect(verdictOf(found(wired(first, other)), 'polarity bra-q02-relay phase')).toBe(verdict);
  });
  it('tell of the direction that is missing, until a direction is given', () => {
    const incomer = find(network, 'relay', id('bra-q21-relay'))!;
    expect(verdictOf(found([]), 'direction bra-q21-relay phase')).toBe('doubtful');
    const directed = {
      ...incomer,
      inputs: [
        ...incomer.inputs,
        {
          id: id('v'),
          type: 'voltage' as const,
          element: id('bra-vt33'),
          towards: 1 as const,
          reversed: false,
          star: null,
        },
      ],
      functions: incomer.functions.map((fn) =>
        fn.family === 'overcurrent'
          ? {
              ...fn,
              direction: {
                looks: 'forward' as const,
                characteristicAngleDeg: 45,
                sectorDeg: 88,
                minPolarisingPercent: 1,
                withoutVoltage: 'memory' as const,
              },
            }
          : fn,
      ),
    };
    expect(verdictOf(found([directed]), 'direction bra-q21-relay phase')).toBeUndefined();
  });
});
