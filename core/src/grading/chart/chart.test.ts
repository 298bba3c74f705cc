/** What is drawn on a chart and read from it: both quantities, guests, states, flags, energies, the caliper. */
import { describe, expect, it } from 'vitest';
import { heatOfDc } from '../../faults/iec60909/thermal';
import { modesOf, type GradingChart } from '../../model/chart';
import { elementId } from '../../model/fields';
import { find, ofKind, withElements } from '../../model/network';
import { gradingChartSchema } from '../../model/chart';
import { curvesOf } from '../../protection/curve';
import { deviceFrom, deviceOf } from '../../protection/device';
import { earliestOperation, latestClearing } from '../../protection/family';
import type { FunctionOf } from '../../protection/schemas';
import type { OvercurrentFunction } from '../../protection/overcurrent/schema';
import { loadRanges } from '../../studies/loads';
import { Studies } from '../../studies/studies';
import { demoNetwork } from '../../test/demo';
import { pairMargin, pairStates } from '../margin';
import { chartBasis, nominalKvAt } from './basis';
import { axisUnit, chartCurves, flagsOf, judgePairs, ownFlags, settingsShown, trialsOf } from './curves';
import { chartAt, ownElsewhere } from './level';
import { letThroughA2s, letThroughPeakA, letThroughPoints } from './energy';
import { fitsFor, guestDevice, guestFrom, swappedIn } from './guest';
import { answersAt, between, currentsAt, pointRows } from './readings';

const id = elementId;
const network = demoNetwork();
const studies = new Studies(network);
const stored = (name: string) => find(network, 'gradingChart', id(name))!;
const made = (chart: GradingChart, on = studies) => {
  const basis = chartBasis(on, chart);
  const curves = chartCurves(on.network, chart, basis, new Map());
  return { basis, curves, judged: judgePairs(on.network, chart, basis, new Map()) };
};

describe('phase and earth on one chart', () => {
  const chart = { ...stored('chart-phase'), mode: 'both' as const };
  const { curves, judged } = made(chart);
  it('draws a curve for each, in one colour and two dashes, and none where a device measures no earth current', () => {
    const of = (device: string) => curves.filter((curve) => curve.device.id === device && curve.points.length > 0);
    expect(of('bra-q32-relay').map(({ mode }) => mode)).toEqual(['phase', 'earth']);
    expect(of('bra-f41-relay').map(({ mode }) => mode)).toEqual(['phase']);
    const [phase, earth] = of('bra-q32-relay');
    expect(earth.style).toBe(phase.style);
    expect(earth.dash).not.toBe(phase.dash);
    expect([phase.label, earth.label]).toEqual(['BRA Q32', 'BRA Q32 3I0']);
  });
  it('judges each pair in each of them, as charts of one quantity do', () => {
    expect(judged).toHaveLength(2 * chart.pairs.length);
    for (const mode of modesOf(chart)) {
      const alone = made({ ...chart, mode }).judged;
      expect(judged.filter((each) => each.mode === mode).map(({ margin }) => margin)).toEqual(
        alone.map(({ margin }) => margin),
      );
    }
  });
  it('can be stored, and older charts get what they lack', () => {
    expect(gradingChartSchema.parse(chart)).toEqual(chart);
    const { shows: _, guests: __, states: ___, looks: ____, flags: _____, rank: ______, ...older } = chart;
    expect(gradingChartSchema.parse(older)).toEqual({
      ...chart,
      rank: 0,
    });
  });
});

describe('the axis', () => {
  it('counts in multiples of the stored pickup of a device, referred to the level of the chart', () => {
    const chart = { ...stored('chart-phase'), multiplesOf: id('bra-q11-relay') };
    const { basis } = made(chart);
    const factor = basis.devices.find((each) => each.id === 'bra-q11-relay')!.factor!;
    expect(axisUnit(network, chart, basis)).toBeCloseTo(1.3 * 300 * factor, 9);
    expect(factor).toBeCloseTo(33 / 11.5, 9);
    expect(axisUnit(network, { ...chart, multiplesOf: null }, basis)).toBe(1);
  });
});

describe('another level', () => {
  const chart: GradingChart = {
    ...stored('chart-phase'),
    own: [
      {
        name: 'Arc furnace',
        kind: 'device',
        points: [
          [600, 10],
          [1200, 0.5],
        ],
      },
    ],
    ownFlags: [{ text: 'x', currentA: 300 }],
    notes: [{ text: 'y', currentA: 900, timeS: 2 }],
    range: { fromA: 30, toA: 3000, fromS: 0.01, toS: 100 },
  };
  it('takes along what stands in amperes, and back again', () => {
    const above = chartAt(chart, 33);
    expect(above.own[0].points).toEqual([
      [200, 10],
      [400, 0.5],
    ]);
    expect([above.ownFlags[0].currentA, above.notes[0].currentA, above.range!.toA]).toEqual([100, 300, 1000]);
    expect(above.range!.toS).toBe(100);
    expect(chartAt(above, 11)).toEqual(chart);
  });
  it('of another chart’s own curve too, each name once and none that is there', () => {
    const other = stored('chart-pair');
    expect(ownElsewhere(other, [chart, other, { ...chart, id: id('copy') }])).toEqual([
      { ...chart.own[0], points: chartAt(chart, 33).own[0].points },
    ]);
    expect(ownElsewhere({ ...other, own: chart.own }, [chart, other])).toEqual([]);
  });
});

describe('flags', () => {
  const chart: GradingChart = {
    ...stored('chart-phase'),
    flags: ['maximum', 'minimum', 'firstCycle', 'breaking', 'steady'],
    ownFlags: [{ text: 'arc furnace', currentA: 850 }],
  };
  const { basis, curves } = made(chart);
  it('follow the largest fault from its first half-cycle to its steady value', () => {
    for (const curve of curves) {
      const flags = Object.fromEntries(
        flagsOf(curve, chart, basis).map(({ label, currentA }) => [label.replace(` ${curve.label}`, ''), currentA]),
      );
      expect(flags['first cycle']).toBeGreaterThan(flags.max);
      expect(flags['first cycle']).toBeLessThanOrEqual(flags.max * Math.sqrt(3) * (1 + 1e-9));
      expect(flags.breaking).toBeLessThanOrEqual(flags.max * (1 + 1e-9));
      expect(flags.steady).toBeLessThanOrEqual(flags.breaking * (1 + 1e-9));
      expect(flags.min).toBeLessThan(flags.max);
    }
  });
  it('are those asked for, and one’s own', () => {
    expect(flagsOf(curves[0], { ...chart, flags: ['minimum'] }, basis).map(({ label }) => label)).toEqual([
      'min BRA F41',
    ]);
    expect(ownFlags(chart)).toEqual([{ label: 'arc furnace', currentA: 850, style: null }]);
  });
});

describe('guests', () => {
  const base = stored('chart-phase');
  const device = deviceOf(network, id('bra-q21-relay'))!;
  const first = device.functions[0] as OvercurrentFunction;
  const guest = {
    ...guestFrom(device, id('g1'), 'slower', 11),
    functions: [{ ...first, timeMultiplier: 0.09 }, ...device.functions.slice(1)],
  };
  const chart = { ...base, guests: [guest] };
  it('in the place of a device see what that one sees: their margins are those of the device so set', () => {
    const { judged, curves } = made(chart);
    const set = withElements(network, [
      { ...find(network, 'relay', id('bra-q21-relay'))!, functions: guest.functions },
    ]);
    const expected = made(base, new Studies(set)).judged;
    const asGuest = judged.filter(({ guest: name }) => name === 'slower');
    expect(asGuest.map(({ margin }) => [margin.verdict, margin.decisive?.marginS])).toEqual(
      expected
        .filter(({ margin: { pair } }) => [pair.downstream, pair.upstream].includes(id('bra-q21-relay')))
        .map(({ margin }) => [margin.verdict, margin.decisive?.marginS]),
    );
    expect(judged.filter(({ guest: name }) => name === null)).toHaveLength(base.pairs.length);
    const drawn = curves.at(-1)!;
    expect(drawn).toMatchObject({ isGuest: true, label: 'slower (guest)' });
    const own = curves.find((curve) => curve.device.id === device.id)!;
    expect(drawn.points[10].timeS / own.points[10].timeS).toBeCloseTo(0.09 / 0.07, 6);
  });
  it('are swapped in with what they are', () => {
    const after = withElements(network, [swappedIn(network, guest, device.element)]);
    expect(deviceOf(after, device.id)!.functions).toEqual(guest.functions);
    const fuse = deviceOf(network, id('pen-f2'))!;
    const link = {
      ...guestFrom(fuse, id('g2'), 'larger', 11),
      primaryA: 40,
      functions: [{ ...(fuse.functions[0] as FunctionOf<'fuse'>), linkA: 40 }],
    };
    const swapped = swappedIn(network, link, fuse.element);
    expect(swapped).toMatchObject({ kind: 'switch', type: 'fuse', ratedA: 40, functions: [{ linkA: 40 }] });
    expect(fitsFor(link, fuse.element)).toBe(true);
    expect(fitsFor(link, device.element)).toBe(false);
  });
  it('in no place have amperes of their own voltage', () => {
    const loose = { ...guest, standsFor: null, kv: 33, functions: device.functions.map((fn) => ({ ...fn })) };
    const free = guestDevice(network, loose);
    expect(free.inputs).toEqual([
      { id: 'own', through: 'g1', towards: 1, reversed: false, rating: { primaryA: 800, secondaryA: 1 } },
    ]);
    const curve = made({ ...base, guests: [loose] }).curves.at(-1)!;
    expect(curve.factor).toBe(3);
    expect(curve.functions.length).toBeGreaterThan(0);
  });
});

describe('states', () => {
  const chart = stored('chart-phase');
  const relay = find(network, 'relay', id('bra-q21-relay'))!;
  const first = relay.functions[0] as OvercurrentFunction;
  const slower = { ...relay, functions: [{ ...first, timeMultiplier: 0.2 }, ...relay.functions.slice(1)] };
  it('keep what is shown, trials included, and are taken over as trials', () => {
    const shown = settingsShown(network, chart, new Map([[relay.id, slower]]));
    expect(shown.map(({ device }) => device)).toEqual(chart.relays);
    expect(shown.find(({ device }) => device === relay.id)!.functions).toEqual(slower.functions);
    const trials = trialsOf(network, shown);
    expect([...trials.keys()]).toEqual([relay.id]);
    expect(trials.get(relay.id)!.functions).toEqual(slower.functions);
  });
  it('stand behind the curves that they differ from, and behind no other', () => {
    const basis = chartBasis(studies, chart);
    const compared = new Map(
      settingsShown(network, chart, new Map([[relay.id, slower]])).map((each) => [each.device, each.functions]),
    );
    const curves = chartCurves(network, chart, basis, new Map(), undefined, compared);
    expect(curves.filter(({ ghost }) => ghost.length > 0).map(({ device }) => device.id)).toEqual([relay.id]);
    const { ghost, points } = curves.find(({ device }) => device.id === relay.id)!;
    expect(ghost[20].timeS / points[20].timeS).toBeCloseTo(0.2 / 0.07, 6);
  });
});

describe('what is read from a chart', () => {
  const { curves } = made(stored('chart-phase'));
  const of = (name: string) => curves.find(({ label }) => label === name)!;
  it('the caliper measures from the latest end below to the earliest operation above, whichever is named first', () => {
    const [p, q] = [of('BRA Q32'), of('BRA Q21')];
    const found = between(p, q, 4000)!;
    expect(between(q, p, 4000)).toEqual(found);
    const fnOf = (curve: typeof p) => curvesOf(curve.device).functions.filter((fn) => fn.quantity === 'phase');
    const cleared = Math.min(...fnOf(p).map((fn) => latestClearing(fn, 4000 / p.factor, p.device.openingS)));
    const operates = Math.min(...fnOf(q).map((fn) => earliestOperation(fn, 4000 / q.factor)));
    expect(found.marginS).toBeCloseTo(operates - cleared, 12);
    expect(found.nominalS).toBeGreaterThan(found.marginS);
    expect(between(p, q, 20)).toBeNull();
  });
  it('times at a current are those of the curve, currents at a time lie on it', () => {
    const curve = of('BRA Q21');
    for (const timeS of [0.3, 0.5, 1, 5])
      for (const currentA of currentsAt(curve, timeS)) {
        const [{ latestS }] = answersAt([curve], currentA);
        const [fn] = curve.functions;
        expect(Math.abs(fn.fn.at(currentA / curve.factor).latestS / timeS - 1)).toBeLessThan(1e-6);
        expect(latestS).toBeGreaterThan(timeS);
      }
    expect(pointRows(curves, []).length).toBeGreaterThan(300);
  });
});

describe('what is let through', () => {
  const site = { kappa: 1.6, frequencyHz: 50, openingS: 0 };
  const link = deviceFrom(network, find(network, 'switch', id('bra-f52'))!)!;
  const [fuse] = curvesOf(link).functions;
  it('of a breaker is all of the current until it has cleared, its d.c. component included: against the integral', () => {
    const [release] = curvesOf(deviceOf(network, id('bra-f53'))!).functions.filter(
      ({ part }) => part === 'instantaneous',
    );
    const currentA = 8000;
    const clearedS = latestClearing(release, currentA, 0);
    // The d.c. component √2·I·e^(−t/τ) has fallen to κ − 1 after half a cycle.
    const tau = -0.01 / Math.log(site.kappa - 1);
    let sum = 0;
    const steps = 40000;
    for (let k = 0; k < steps; k++) {
      const t = ((k + 0.5) * clearedS) / steps;
      sum += 2 * currentA ** 2 * Math.exp((-2 * t) / tau) * (clearedS / steps);
    }
    const dc = currentA ** 2 * clearedS * heatOfDc(site.kappa, 50, clearedS);
    expect(dc / sum).toBeCloseTo(1, 5);
    expect(letThroughA2s(release, currentA, site)).toBeCloseTo(currentA ** 2 * clearedS + dc, 3);
    expect(letThroughPeakA(release, currentA, site)).toBeCloseTo(1.6 * Math.SQRT2 * currentA, 6);
  });
  it('of a link stays at its energy however large the current is, and its peak grows with the third root', () => {
    const energy = fuse.energy!.throughA2s(20000);
    // The larger of what its class lets through and what it melts by at most.
    expect(letThroughA2s(fuse, 20000, site)).toBeGreaterThanOrEqual(energy);
    expect(letThroughA2s(fuse, 40000, site) / letThroughA2s(fuse, 20000, site)).toBeCloseTo(1, 9);
    expect(letThroughPeakA(fuse, 160000, site) / letThroughPeakA(fuse, 20000, site)).toBeCloseTo(2, 6);
    expect(letThroughPeakA(fuse, 80000, site)).toBeLessThan(1.6 * Math.SQRT2 * 80000);
    expect(letThroughA2s(fuse, 100, site)).toBe(Infinity);
  });
  it('is drawn up to the largest fault, below what a cable bears or above it', () => {
    const chart: GradingChart = { ...stored('chart-board'), shows: 'energy' };
    const { basis, curves } = made(chart);
    const points = letThroughPoints(
      curves.find(({ label }) => label === 'BRA F52')!,
      'energy',
    );
    expect(points.length).toBeGreaterThan(10);
    expect(points.every(({ value }) => value > 0)).toBe(true);
    // 2.5 mm² of copper in XLPE: k = 143 A·√s/mm², k²S² = 0.128 MA²s.
    const cable = basis.energies.find(({ title }) => title.startsWith('Dosing cable'))!;
    expect(cable.a2s / (143 * 2.5) ** 2).toBeGreaterThan(0.97);
    expect(cable.a2s / (143 * 2.5) ** 2).toBeLessThan(1.15);
  });
  it('compares over voltages: all of it is referred to the level of the chart', () => {
    const at = (referenceKv: number, shows: 'energy' | 'cutOff') => {
      const chart: GradingChart = { ...stored('chart-board'), shows, referenceKv };
      const { basis, curves } = made(chart);
      const of = (label: string) =>
        letThroughPoints(
          curves.find((each) => each.label === label)!,
          shows,
        ).at(-1)!.value;
      return { cable: basis.energies[0].a2s, breaker: of('BRA F51'), relay: of('BRA Q32') };
    };
    for (const [shows, power] of [
      ['energy', 2],
      ['cutOff', 1],
    ] as const) {
      const [low, high] = [at(0.4, shows), at(11, shows)];
      for (const what of ['breaker', 'relay'] as const)
        expect(low[what] / high[what] / (11 / 0.42) ** power).toBeCloseTo(1, 6);
      expect(low.cable / high.cable / (11 / 0.42) ** 2).toBeCloseTo(1, 6);
    }
  });
});

describe('the basis of every chart of the demo', () => {
  it('holds the states that its pairs are judged in', () => {
    for (const chart of ofKind(network, 'gradingChart')) {
      const basis = chartBasis(studies, chart);
      expect(basis.devices.map((each) => each.id)).toEqual(chart.relays);
      for (const { pair, mode, states } of basis.pairs) {
        const [below, above] = [deviceOf(network, pair.downstream)!, deviceOf(network, pair.upstream)!];
        expect(states).toEqual(pairStates(studies, below, above, mode, studies.conditions));
        expect(pairMargin(network, states, pair, mode).verdict).not.toBe('unknown');
      }
    }
    expect(nominalKvAt(studies, id('bra-ct11'))).toBe(33);
    expect(nominalKvAt(studies, id('nobody'))).toBeNull();
  });
});

describe('the load on a chart', () => {
  it('is the largest over the conditions, and with growth so much more', () => {
    const lines = ['loadNow', 'loadGrown'].map((line) => ({ element: id('bra-t1'), line }));
    const chart: GradingChart = { ...stored('chart-phase'), limits: lines, growthPercent: 25 };
    const [now, grown] = made(chart).basis.limits.map(({ limit }) => limit);
    const largest = loadRanges(studies, studies.conditions).get(`${id('bra-t1')}:0`)!.largest.ampere;
    expect(now.points[0][0]).toBeCloseTo(largest, 9);
    expect(grown.points[0][0] / now.points[0][0]).toBeCloseTo(1.25, 12);
    expect(grown.title).toBe('BRA T1 load with growth, 25 %');
  });
});
