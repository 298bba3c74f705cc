/** The direct-current network: currents, voltages and clearing against hand calculation, against the circuit stepped through time, and against closed forms. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { alternating, directPart } from '../model/directPart';
import { builtInConditions, maximumSources, minimumSources } from '../model/condition';
import { elementId } from '../model/fields';
import { withElements } from '../model/network';
import { finished } from '../working/steps';
import { checked, findings } from '../checks/run';
import { chartBasis } from '../grading/chart/basis';
import { newChart } from '../model/chart';
import { deviceOf, timeCurrents } from '../protection/device';
import { wholeDemo } from '../test/demo';
import { Studies } from '../studies/studies';
import { expectFollowed } from '../test/followed';
import { Builder } from '../test/network';
import { loopOhm } from './circuit';
import { bolted, directCourse } from './clearing';
import { directFault, discharge, operating, totalCurrent } from './currents';
import { commonBranchFactors } from './iec61660';
import { directNetwork } from './network';
import { pathBetween, solveDirect } from './solve';
import { directStudy, directWorking } from './study';

const max = { condition: maximumSources.id };
const min = { condition: minimumSources.id };

/** Battery, its fuse, a board; a cable to a second board with a load; a charger at the first board. */
function station(over: { charger?: boolean; watts?: number; link?: number } = {}) {
  const b = new Builder();
  b.add('battery', 'B', {
    cells: 54,
    cellV: 2.05,
    cellMohm: 0.74,
    connectorMohm: 0.02,
    dischargedV: 1.85,
    dischargedMohm: 1.2,
  });
  b.add('switch', 'F', {
    type: 'fuse',
    ratedA: 160,
    functions: [
      {
        family: 'fuse',
        id: 'f',
        enabled: true,
        input: null,
        circuits: [],
        class: 'gG',
        linkA: over.link ?? 160,
        preloadPercent: 0,
        points: null,
      },
    ] as never,
  });
  b.add('bus', 'D', { system: 'dc', nominalKv: 0.11 });
  b.add('directCable', 'W', { lengthM: 25, sectionMm2: 16, serviceTemperatureC: 60 });
  b.add('bus', 'E', { system: 'dc', nominalKv: 0.11 });
  b.add('directLoad', 'L', { powerW: over.watts ?? 2000, behaves: 'constantPower', lowestPercent: 85 });
  b.join('B', 'F:0', 'F:1', 'D', 'D', 'W:0', 'W:1', 'E', 'E', 'L');
  if (over.charger) {
    b.add('rectifier', 'U', { type: 'limited', ratedA: 40, limitPercent: 110, floatV: 121 });
    b.add('bus', 'A', { nominalKv: 0.4 });
    b.add('networkFeeder', 'N');
    b.join('N', 'A', 'A', 'U:0', 'U:1', 'D');
  }
  return b.network();
}

describe('what carries direct current', () => {
  it('is found over switches, and is no part of what alternating current sees; a charger is a load there', () => {
    const network = station({ charger: true });
    const { ids, crossing } = directPart(network);
    expect([...ids].filter((id) => !id.startsWith('w')).sort()).toEqual(['B', 'D', 'E', 'F', 'L', 'U', 'W'].sort());
    expect(crossing).toEqual([]);
    const rest = alternating(network);
    expect(
      [...rest.elements.values()].filter(({ kind }) => kind !== 'connection').map(({ id, kind }) => `${id} ${kind}`),
    ).toEqual(['settings projectSettings', 'U load', 'A bus', 'N networkFeeder']);
    expect(alternating(network)).toBe(rest);
    // 121 V · 40 A / 0.88 / 0.85.
    expect(rest.elements.get(elementId('U'))).toMatchObject({ ratedMva: (121 * 40) / 0.88 / 0.85 / 1e6 });
  });
  it('a network without it is left as it is', () => {
    const b = new Builder();
    b.add('bus', 'A', { nominalKv: 11 });
    const network = b.network();
    expect(alternating(network)).toBe(network);
  });
  it('joined to alternating current, the joint is told', () => {
    const b = new Builder();
    b.add('bus', 'D', { system: 'dc', nominalKv: 0.11 });
    b.add('switch', 'Q');
    b.add('bus', 'A', { nominalKv: 0.4 });
    b.join('D', 'Q:0', 'Q:1', 'A');
    expect(directPart(b.network()).crossing).toHaveLength(1);
  });
  it('studies taken over see what goes over to the other side', () => {
    const b = new Builder();
    b.add('networkFeeder', 'N');
    b.add('bus', 'A', { nominalKv: 0.4 });
    b.add('switch', 'Q');
    b.add('bus', 'E', { nominalKv: 0.4 });
    b.add('asynchronousMotor', 'M', { ratedKv: 0.4, ratedMw: 0.1 });
    b.join('N', 'A', 'A', 'Q:0', 'Q:1', 'E', 'E', 'M');
    const before = new Studies(b.network());
    const nodeOf = (studies: Studies, id: string) => studies.max.assembly.topology.nodeAt(elementId(id), 0);
    expect(nodeOf(before, 'Q')).toBe(nodeOf(before, 'A'));
    const bus = b.network().elements.get(elementId('E'))!;
    const after = withElements(b.network(), [{ ...bus, system: 'dc' } as never]);
    const next = new Studies(after, { studies: before, changed: [elementId('E')] });
    expect(next.network.elements.has(elementId('Q'))).toBe(false);
    expect(nodeOf(next, 'Q')).toBeUndefined();
    expect(nodeOf(next, 'M')).not.toBe(nodeOf(next, 'A'));
  });
});

describe('voltages in service', () => {
  it('of a load of constant power behind a cable are the upper root of its quadratic', () => {
    const network = directNetwork(station(), min);
    const { volts, feedA } = solveDirect(operating(network));
    const ohm = 54 * (1.2 + 0.02) * 1e-3 + loopOhm(25, 16, 60) + 1e-7;
    const e = 54 * 1.85;
    const u = (e + Math.sqrt(e ** 2 - 4 * ohm * 2000)) / 2;
    expect(volts[network.nodeAt(elementId('L'), 0)!]).toBeCloseTo(u, 6);
    expect(feedA[0]).toBeCloseTo(2000 / u, 6);
  });
  it('a charger holds its voltage up to its limit, then the battery helps', () => {
    const light = directNetwork(station({ charger: true }), max);
    const at = (network: typeof light) => solveDirect(operating(network));
    const u = at(light);
    expect(u.volts[light.nodeAt(elementId('D'), 0)!]).toBeCloseTo(121, 1);
    expect(u.feedA[light.feeds.findIndex(({ kind }) => kind === 'battery')]).toBe(0);
    const heavy = directNetwork(station({ charger: true, watts: 9000 }), max);
    const h = at(heavy);
    expect(h.feedA[heavy.feeds.findIndex(({ kind }) => kind === 'charger')]).toBeCloseTo(44, 9);
    expect(h.feedA[heavy.feeds.findIndex(({ kind }) => kind === 'battery')]).toBeGreaterThan(20);
    expect(h.volts[heavy.nodeAt(elementId('D'), 0)!]).toBeLessThan(110.7);
  });
  it('a load that nothing can carry falls out and is told', () => {
    const network = directNetwork(station({ watts: 80_000 }), min);
    expect(solveDirect(operating(network)).collapsed.map(({ element }) => element)).toEqual(['L']);
  });
  it('balance at every node of random meshes, whatever regime each source is in', () => {
    const between = (low: number, high: number) => fc.double({ min: low, max: high, noNaN: true });
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat(7), fc.nat(7), between(0.001, 1)), { minLength: 8, maxLength: 16 }),
        fc.array(fc.tuple(fc.nat(7), between(90, 130), between(0.001, 0.5), between(5, 3000)), {
          minLength: 1,
          maxLength: 5,
        }),
        fc.option(fc.tuple(fc.nat(7), between(0, 100)), { nil: null }),
        (joints, sources, held) => {
          const nodes = 8;
          const branches = joints.map(([a, b, ohm]) => ({
            element: elementId('x'),
            kind: 'cable' as const,
            a,
            b: a === b ? (b + 1) % nodes : b,
            ohm,
            henry: 0,
          }));
          const feeds = sources.map(([node, volts, ohm, limitA]) => ({
            element: elementId('y'),
            kind: 'charger' as const,
            node,
            volts,
            ohm,
            limitA,
          }));
          const found = solveDirect({ nodes, branches, feeds }, held && { node: held[0], volts: held[1] });
          const rest = new Float64Array(nodes);
          branches.forEach(({ a, b }, k) => ((rest[a] += found.branchA[k]), (rest[b] -= found.branchA[k])));
          feeds.forEach(({ node, volts, ohm, limitA }, k) => {
            rest[node] -= found.feedA[k];
            expect(found.feedA[k]).toBeCloseTo(Math.min(Math.max((volts - found.volts[node]) / ohm, 0), limitA), 9);
          });
          if (held) {
            expect(-rest[held[0]]).toBeCloseTo(found.heldA, 6);
            rest[held[0]] = 0;
          }
          rest.forEach((each) => expect(Math.abs(each)).toBeLessThan(1e-5));
        },
      ),
      { numRuns: 300, seed: 17 },
    );
  });
});

describe('short-circuit currents after IEC 61660-1', () => {
  it('of a battery behind a cable by hand, charged and at the end of discharge', () => {
    const [rb, rc] = [54 * 0.74e-3, 54 * 0.02e-3];
    const cold = loopOhm(25, 16, 20);
    const most = directNetwork(station(), max);
    const at = (network: typeof most) => directFault(network, network.nodeAt(elementId('E'), 0)!)!;
    const branch = 0.9 * rb + rc + cold + 1e-7;
    expect(at(most).peakA / (110.7 / branch)).toBeCloseTo(1, 5);
    expect(at(most).steadyA / ((0.95 * 110.7) / (branch + 0.1 * rb))).toBeCloseTo(1, 6);
    const least = directNetwork(station(), min);
    expect(at(least).steadyA / ((0.95 * 99.9) / (54 * 1.22e-3 + loopOhm(25, 16, 60) + 1e-7))).toBeCloseTo(1, 6);
  });
  it('two batteries over a shared cable share it by the factor of the standard; the whole is what the mesh gives', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.2, max: 2, noNaN: true }),
        fc.double({ min: 0.2, max: 2, noNaN: true }),
        fc.double({ min: 5, max: 80, noNaN: true }),
        (p, q, metres) => {
          const b = new Builder();
          const cell = { cells: 54, cellV: 2.05, connectorMohm: 0, inductanceUh: 10 };
          b.add('battery', 'B1', { ...cell, cellMohm: p });
          b.add('battery', 'B2', { ...cell, cellMohm: q });
          b.add('bus', 'D', { system: 'dc', nominalKv: 0.11 });
          b.add('bus', 'E', { system: 'dc', nominalKv: 0.11 });
          b.add('directCable', 'W', { lengthM: metres, sectionMm2: 25 });
          b.join('B1', 'D', 'B2', 'D', 'D', 'W:0', 'W:1', 'E');
          const network = directNetwork(b.network(), max);
          const fault = directFault(network, network.nodeAt(elementId('E'), 0)!)!;
          const own = [p, q].map((each) => 0.9 * 54e-3 * each);
          const factors = commonBranchFactors(own, loopOhm(metres, 25, 20));
          fault.partials.forEach(({ factor }, k) => expect(factor).toBeCloseTo(factors[k], 6));
          const peaks = fault.partials.reduce((sum, { factor, alone }) => sum + factor * alone.peakA, 0);
          expect(peaks / fault.circuitA).toBeCloseTo(1, 6);
        },
      ),
      { numRuns: 50, seed: 17 },
    );
  });
  it('a capacitor gives the charge that it holds, and its peak at its time', () => {
    const b = new Builder();
    b.add('battery', 'B', { inductanceUh: 10 });
    b.add('bus', 'D', { system: 'dc', nominalKv: 0.11 });
    b.add('directCapacitor', 'C', { capacitanceMf: 20, seriesMohm: 8, seriesUh: 4 });
    b.join('B', 'D', 'C', 'D');
    const network = directNetwork(b.network(), max);
    const fault = directFault(network, network.nodeAt(elementId('D'), 0)!)!;
    const part = fault.partials.find(({ kind }) => kind === 'capacitor')!;
    const volts = 54 * 2.05;
    const only = totalCurrent({ partials: [part] });
    let charge = 0;
    const h = 1e-6;
    for (let k = 0; k < 20_000; k++) charge += only((k + 0.5) * h) * h;
    expect(charge / (0.02 * volts)).toBeCloseTo(1, 2);
    expect(part.alone.peakA).toBeCloseTo(discharge(volts, 0.02, 0.008, 4e-6, part.alone.peakS), 3);
    // Added to the battery's, the peak is later than that of the capacitor alone is early.
    expect(fault.peakA).toBeGreaterThan(part.alone.peakA);
  });
  it('a limited charger gives its limit wherever the fault is', () => {
    const network = directNetwork(station({ charger: true }), max);
    const fault = directFault(network, network.nodeAt(elementId('E'), 0)!)!;
    const charger = fault.partials.find(({ kind }) => kind === 'charger')!;
    expect(charger.factor * charger.alone.steadyA).toBeCloseTo(44, 9);
  });
  it('ways in parallel count by what flows in them', () => {
    const b = new Builder();
    b.add('battery', 'B');
    for (const bus of ['D', 'E']) b.add('bus', bus, { system: 'dc', nominalKv: 0.11 });
    b.add('directCable', 'W1', { lengthM: 20, sectionMm2: 16 });
    b.add('directCable', 'W2', { lengthM: 20, sectionMm2: 16 });
    b.join('B', 'D', 'D', 'W1:0', 'W1:1', 'E', 'D', 'W2:0', 'W2:1', 'E');
    const network = directNetwork(b.network(), max);
    const path = pathBetween(network, network.nodeAt(elementId('D'), 0)!, network.nodeAt(elementId('E'), 0)!)!;
    expect(path.ohm).toBeCloseTo(loopOhm(20, 16, 20) / 2, 9);
    expect(path.henry).toBeCloseTo((20 * 0.6e-6) / 2, 12);
  });
});

describe('what clears', () => {
  it('the fuse of the battery by the latest time of its curve at its own current', () => {
    const network = directNetwork(station({ charger: true, link: 63 }), max);
    const node = network.nodeAt(elementId('D'), 0)!;
    const course = directCourse(network, node, bolted(node), 60, null);
    const [opening] = course.openings;
    expect(opening).toMatchObject({ device: 'F', code: '63 A gG' });
    // The charger goes on with its 44 A, which nothing opens.
    expect(course.stages.at(-1)!.amperes).toBeCloseTo(44, 6);
    expect(course.limited).toBe(true);
    expect(opening.currentA).toBeCloseTo(course.stages[0].amperes - 44, 3);
  });
  it('nothing else feeds: the fault is gone when the fuse has cleared', () => {
    const network = directNetwork(station({ link: 63 }), max);
    const node = network.nodeAt(elementId('E'), 0)!;
    const course = directCourse(network, node, bolted(node), 60, null);
    expect(course).toMatchObject({ limited: false, governing: { device: 'F' } });
    expect(course.burnsS).toBeCloseTo(course.openings[0].openedS, 12);
  });
});

describe('the study', () => {
  it('tells boards and loads in every condition, largest and smallest', () => {
    const { rows, flows } = finished(directStudy(station({ charger: true }), builtInConditions));
    expect(rows.map(({ element }) => element)).toEqual(['D', 'E', 'L']);
    const [board, , load] = rows;
    expect(board.largest!.condition).toBe(maximumSources.id);
    expect(board.smallest!.condition).toBe(minimumSources.id);
    expect(board.largest!.fault.peakA).toBeGreaterThan(load.largest!.fault.peakA);
    expect(load.lowestPercent).toBe(85);
    expect(load.lowest!.percent).toBeGreaterThan(85);
    expect(flows[0].rows.find(({ element }) => element === 'W')!.lossW).toBeGreaterThan(0);
  });
  it('a project without direct current has none', () => {
    expect(finished(directStudy(new Builder().network(), builtInConditions)).rows).toEqual([]);
  });
});

describe('workings', () => {
  it('can be followed, of every kind of source', () => {
    const b = new Builder();
    b.add('battery', 'B');
    b.add('bus', 'D', { system: 'dc', nominalKv: 0.11 });
    b.add('bus', 'E', { system: 'dc', nominalKv: 0.11 });
    b.add('rectifier', 'U', { type: 'limited' });
    b.add('rectifier', 'V', { type: 'bridge', skMva: 15 });
    b.add('rectifier', 'V2', { type: 'bridge', smoothingMh: 0, smoothingMohm: 0, uRPercent: 0.5 });
    b.add('directMotor', 'M');
    b.add('directCapacitor', 'C');
    b.add('directCable', 'W');
    b.join('B', 'D', 'U:1', 'D', 'V:1', 'D', 'V2:1', 'D', 'M', 'D', 'C', 'D', 'D', 'W:0', 'W:1', 'E');
    for (const place of ['D', 'E'])
      for (const { condition } of [max, min]) {
        const sections = directWorking(b.network(), elementId(place), condition)!;
        expect(sections.map(({ title }) => title)).toEqual([
          'B alone',
          'U alone',
          'V alone',
          'V2 alone',
          'M alone',
          'C alone',
          'Sum',
        ]);
        expectFollowed(sections, `${place} ${condition}`);
      }
  });
});

describe('what is found', () => {
  const found = (network: ReturnType<typeof station>) => {
    const studies = new Studies(network);
    return findings(studies).filter(({ code }) => code.startsWith('direct.'));
  };
  const verdicts = (network: ReturnType<typeof station>) =>
    checked(new Studies(network), undefined, ['direct.voltage', 'direct.breaking']).checks.map(({ code, verdict }) => [
      code,
      verdict,
    ]);
  it('nothing where all is well', () => {
    expect(found(station())).toEqual([]);
    expect(verdicts(station())).toEqual([['direct.voltage', 'holds']]);
  });
  it('a joint to alternating current, boards of two voltages, a board that nothing feeds, a free end', () => {
    const b = new Builder();
    b.add('bus', 'D', { system: 'dc', nominalKv: 0.11 });
    b.add('bus', 'E', { system: 'dc', nominalKv: 0.22 });
    b.add('bus', 'A', { nominalKv: 0.4 });
    b.add('directCable', 'W');
    b.join('D', 'E', 'D', 'A', 'W:0', 'D');
    expect(found(b.network()).map(({ code, element }) => `${code} ${element}`)).toEqual([
      'direct.joined D',
      'direct.level E',
      'direct.unsupplied D',
      'direct.unsupplied E',
      'direct.open W',
    ]);
  });
  it('a load with too little voltage, one that falls out, a fuse that cannot break', () => {
    const fuse = station().elements.get(elementId('F'))!;
    const weak = (over: object) => withElements(station(), [{ ...fuse, ...over } as never]);
    expect(verdicts(weak({ breakingKa: 1 }))).toContainEqual(['direct.breaking', 'short']);
    expect(verdicts(weak({ breakingKa: 25 }))).toContainEqual(['direct.breaking', 'holds']);
    expect(verdicts(station({ watts: 80_000 }))).toEqual([['direct.fallsOut', 'short']]);
    const load = station().elements.get(elementId('L'))!;
    const needy = withElements(station(), [{ ...load, lowestPercent: 99 } as never]);
    expect(verdicts(needy)).toEqual([['direct.voltage', 'short']]);
  });
});

describe('devices of direct current elsewhere', () => {
  it('on a grading chart they stand by their curves, and nothing is asked of currents that they do not see', () => {
    const demo = wholeDemo();
    const chart = newChart(elementId('chart-dc'), 'Fernhill 110 V', {
      rank: 9,
      referenceKv: 0.11,
      relays: [elementId('fer-f90'), elementId('fer-f95'), elementId('fer-q96')],
      pairs: [{ downstream: elementId('fer-f95'), upstream: elementId('fer-f90'), wantedMarginS: null }],
    });
    const studies = new Studies(withElements(demo, [chart]));
    const run = checked(studies, undefined, [
      'grading.pairs',
      'grading.found',
      'protection.unprotected',
      'settings.steps',
    ]);
    expect(run.checks.filter(({ id }) => id.includes('fer-f9'))).toEqual([]);
    expect(chartBasis(studies, chart)).toBeTruthy();
    const curves = chart.relays.map((id) => deviceOf(demo, id)!).flatMap(timeCurrents);
    expect(curves.map(({ code }) => code)).toEqual(['100 A gG', '50 A gG', 'C10 d.c.']);
  });
});
