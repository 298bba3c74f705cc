import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { newElement } from '../model/defaults';
import { elementId } from '../model/fields';
import { find, networkOf, ofKind } from '../model/network';
import { currentInput } from '../model/protection';
import { maximumSources } from '../model/condition';
import { curvesOf, type Curves } from '../protection/curve';
import { deviceFrom, deviceOf, withFunction } from '../protection/device';
import { characteristicNames, type OvercurrentFunction } from '../protection/overcurrent/schema';
import { assuredMultiple } from '../protection/overcurrent/timeCurrent';
import { familyOf } from '../protection/registry';
import { seenBy } from '../protection/seen';
import { closeInPlace } from '../protection/zone';
import { Studies } from '../studies/studies';
import type { FaultKind } from '../faults/kinds';
import { genericRelays, newFunction } from '../protection/overcurrent/library';
import { isDefinite } from '../protection/overcurrent/timeCurrent';
import { demoNetwork } from '../test/demo';
import { decisiveIn, pairMargin, pairStates, type PairState } from './margin';
import { proposeFor } from './proposal';
import { deviceFigures, referenceFactor } from './figures';
import { runs } from '../test/runs';

const ct = newElement('currentTransformer', elementId('ct'), 'CT', { primaryA: 100 });
const functions = fc.array(
  fc.record({
    code: fc.constantFrom('51' as const, '50' as const),
    characteristic: fc.constantFrom(...characteristicNames),
    pickup: fc.double({ min: 0.5, max: 10, noNaN: true }),
    timeMultiplier: fc.double({ min: 0.05, max: 1, noNaN: true }),
    delayS: fc.double({ min: 0, max: 1, noNaN: true }),
  }),
  { minLength: 1, maxLength: 3 },
);
const seen = (phaseA: number) => ({ ct: { phaseA, residualA: 0, negativeA: 0 } });
const relayWith = (list: Partial<OvercurrentFunction>[]): Curves => {
  const relay = newElement('relay', elementId('r'), 'R', {
    inputs: [currentInput(ct.id)],
    functions: list.map((over, k) => ({
      ...newFunction(elementId(`f${k}`), over.code!, genericRelays[0].ranges),
      ...over,
    })),
  });
  return curvesOf(deviceFrom(networkOf([ct, relay]), relay)!);
};

/** The second method: look at very many currents. */
function bruteForce(state: PairState, downstream: Curves, upstream: Curves): number {
  const time = ({ functions: all }: Curves, currentA: number) =>
    Math.min(
      ...all.map((fn) => {
        // A characteristic by points that has none yet operates after a fixed time, too.
        return isDefinite(fn.fn as OvercurrentFunction) || currentA >= assuredMultiple * fn.pickupA
          ? fn.at(currentA).latestS
          : Infinity;
      }),
    );
  let best = Infinity;
  for (let k = 0; k <= 20000; k++) {
    const scale = 10 ** (-3 * (1 - k / 20000));
    const margin =
      time(upstream, state.upstream.ct.phaseA * scale) - time(downstream, state.downstream.ct.phaseA * scale);
    if (margin < best) best = margin;
  }
  return best;
}

describe('the decisive point', () => {
  it('is at least as small as anything a walk over 20 000 currents finds', () => {
    fc.assert(
      fc.property(
        functions,
        functions,
        fc.double({ min: 500, max: 20000, noNaN: true }),
        fc.double({ min: 0.2, max: 1.2, noNaN: true }),
        (p, q, current, share) => {
          const [downstream, upstream] = [relayWith(p), relayWith(q)];
          const state: PairState = {
            kind: '3ph',
            condition: maximumSources.id,
            downstream: seen(current),
            upstream: seen(current * share),
          };
          const found = decisiveIn(state, downstream, upstream, 'phase');
          const walked = bruteForce(state, downstream, upstream);
          if (!Number.isFinite(walked)) return;
          expect(found).not.toBeNull();
          expect(found!.marginS).toBeLessThanOrEqual(walked + 1e-4 * (1 + Math.abs(walked)));
          expect(found!.marginS).toBeCloseTo(found!.upstreamS - found!.downstreamS, 12);
        },
      ),
      { numRuns: runs(60) },
    );
  });

  it('does not exist where one of them never picks up', () => {
    const [low, high] = [relayWith([{ code: '51', pickup: 1 }]), relayWith([{ code: '51', pickup: 9 }])];
    const state: PairState = {
      kind: '3ph',
      condition: maximumSources.id,
      downstream: seen(800),
      upstream: seen(800),
    };
    expect(decisiveIn(state, low, high, 'phase')).toBeNull();
  });
});

describe('the chain of the demo', () => {
  const network = demoNetwork();
  const studies = new Studies(network);
  const { conditions } = studies;
  const chart = ofKind(network, 'gradingChart')[0];
  const relay = (id: string) => find(network, 'relay', elementId(id))!;
  const device = (id: string) => deviceOf(network, elementId(id))!;
  const statesOf = (down: string, up: string) => pairStates(studies, device(down), device(up), 'phase', conditions);
  /** Phase currents at some devices for a fault close to the first of them. */
  const phases = (kind: FaultKind, ...ids: string[]) => {
    const devices = ids.map(device);
    const [found] = seenBy(studies.max, closeInPlace(devices[0])!, [kind], devices);
    return found!.devices.map((each) => each!.ct.phaseA);
  };

  it('has one pair that is short, and the proposal makes it hold with the least step', () => {
    const short = chart.pairs.filter(
      (pair) => pairMargin(network, statesOf(pair.downstream, pair.upstream), pair, 'phase').verdict === 'short',
    );
    expect(short).toHaveLength(1);
    const [pair] = short;
    const states = statesOf(pair.downstream, pair.upstream);
    const proposal = proposeFor(network, states, pair, 'phase')!;
    const upstream = relay(pair.upstream);
    const fn = upstream.functions.find((each) => each.id === proposal.functionId)!;
    const judge = (value: number) => {
      const changed = withFunction(upstream, familyOf(fn).withSetting(fn, proposal.field, value));
      return pairMargin(network, states, pair, 'phase', new Map([[changed.id, changed]])).verdict;
    };
    expect(judge(proposal.to)).toBe('holds');
    const { range } = familyOf(fn)
      .settings(fn)
      .find(({ field }) => field === proposal.field)!;
    expect(judge(proposal.to - range!.step)).toBe('short');
  });

  it('takes the currents from the network: with two transformers in parallel each incomer sees its share', () => {
    const [feeder, incomer, above] = phases('3ph', 'bra-q32-relay', 'bra-q21-relay', 'bra-q11-relay');
    expect(feeder / incomer).toBeGreaterThan(2);
    expect(above).toBeCloseTo(incomer * (11.5 / 33), 6);
  });

  it('sees a two-phase fault beyond a Dyn transformer 2/√3 times as large in one phase', () => {
    const ratio = (kind: '3ph' | '2ph') => {
      const [below, above] = phases(kind, 'bra-f41-relay', 'bra-q32-relay');
      return above / below;
    };
    // Not to the last digit: the wind farm's current is the same in both, and lifts the voltage at the motors beyond.
    expect(ratio('2ph') / ratio('3ph')).toBeCloseTo(2 / Math.sqrt(3), 4);
  });

  it('refers currents by the rated ratios on the way', () => {
    expect(referenceFactor(studies, device('bra-q32-relay'), 11)).toBe(1);
    expect(referenceFactor(studies, device('bra-q11-relay'), 11)).toBeCloseTo(33 / 11.5, 12);
    expect(referenceFactor(studies, device('bra-f41-relay'), 11)).toBeCloseTo(0.42 / 11, 12);
  });

  it('finds the far end beyond the protected branch', () => {
    const figures = deviceFigures(studies, device('bra-q32-relay'), conditions);
    expect(figures.farEnd.find((figure) => figure.kind === '3ph')!.placeName).toBe('BRA 0.4');
    expect(deviceFigures(studies, device('bra-q21-relay'), conditions).farEnd[0].placeName).toBe('BRA 11 A');
  });

  it('says so when the upstream relay is blind, or one has no CT', () => {
    const pair = { downstream: elementId('bra-f41-relay'), upstream: elementId('fer-q21-relay'), wantedMarginS: null };
    expect(pairMargin(network, statesOf(pair.downstream, pair.upstream), pair, 'phase')).toMatchObject({
      verdict: 'noBackup',
    });
    const loose = { ...relay('fer-q21-relay'), inputs: [currentInput(null)] };
    expect(pairMargin(network, [], pair, 'phase', new Map([[loose.id, loose]]))).toMatchObject({ verdict: 'unknown' });
  });
});
