/** Arcs of direct current in a network: against the closed forms of one source, against stages given by hand, and against a search over all voltages. */
import { describe, expect, it } from 'vitest';
import { builtInConditions, maximumSources } from '../model/condition';
import { defaultSettings } from '../model/element';
import { elementId } from '../model/fields';
import { directNetwork } from '../direct/network';
import { solveDirect } from '../direct/solve';
import { loopOhm } from '../direct/circuit';
import { expectFollowed } from '../test/followed';
import { Builder } from '../test/network';
import { finished } from '../working/steps';
import {
  directArc,
  directMethods,
  directStages,
  paukertVoltage,
  radiated,
  stokesVoltage,
  workOf,
} from './directCurrent';
import { burningArc, decidingDirect, directArcStudy, directArcWorking } from './directStudy';

const max = { condition: maximumSources.id };
const fuse = (linkA: number) =>
  [
    {
      family: 'fuse',
      id: 'f',
      enabled: true,
      input: null,
      circuits: [],
      class: 'gG',
      linkA,
      preloadPercent: 0,
      points: null,
    },
  ] as never;
const usual = {
  equipment: 'byVoltage',
  electrodes: null,
  distanceMm: null,
  heightMm: null,
  widthMm: null,
  depthMm: null,
  longestS: null,
  leftOut: false,
} as const;

/** Batteries behind fuses on one board. */
function board(links: readonly number[], gapMm = 10, settings: Partial<(typeof defaultSettings)['arc']> = {}) {
  const b = new Builder({ arc: { ...defaultSettings.arc, ...settings } });
  b.add('bus', 'D', { system: 'dc', nominalKv: 0.11, arc: { ...usual, gapMm } });
  links.forEach((link, k) => {
    b.add('battery', `B${k}`, { cells: 54, cellV: 2.05, cellMohm: 0.6 + 0.2 * k, connectorMohm: 0 });
    b.add('switch', `F${k}`, { type: 'fuse', ratedA: link, functions: fuse(link) });
    b.join(`B${k}`, `F${k}:0`, `F${k}:1`, 'D');
  });
  return b.network();
}
const at = (network: ReturnType<typeof directNetwork>) => network.nodeAt(elementId('D'), 0)!;
const volts = 54 * 2.05;
const ohm = (k: number) => 0.9 * 54e-3 * (0.6 + 0.2 * k) + 1e-7;

describe('where arc and network agree', () => {
  it.each(directMethods)('one battery gives what %s gives behind its resistance', (method) => {
    const network = directNetwork(board([160]), max);
    const found = burningArc(network, at(network), method, 10)!;
    const arc = directArc(method, volts, ohm(0), 10)!;
    expect(found.heldA / arc.currentA).toBeCloseTo(1, 6);
    expect(found.volts[at(network)] / arc.voltageV).toBeCloseTo(1, 6);
  });
  it('a charger at its limit beside a battery: arc and network agree at the current found, and at no larger one', () => {
    const b = new Builder();
    b.add('battery', 'B', { cells: 54, cellMohm: 2 });
    b.add('bus', 'D', { system: 'dc', nominalKv: 0.11 });
    b.add('rectifier', 'U', { type: 'limited', ratedA: 200, limitPercent: 105, floatV: 121 });
    b.join('B', 'D', 'U:1', 'D');
    const network = directNetwork(b.network(), max);
    for (const [method, of] of [
      ['stokes', stokesVoltage],
      ['paukert', paukertVoltage],
    ] as const) {
      const found = burningArc(network, at(network), method, 8)!;
      expect(of(8, found.heldA)! / found.volts[at(network)]).toBeCloseTo(1, 6);
      for (let u = 0; u < 0.999 * found.volts[at(network)]; u += 0.5)
        expect(u).toBeLessThan(of(8, solveDirect({ ...network, draws: [] }, { node: at(network), volts: u }).heldA)!);
    }
    const most = burningArc(network, at(network), 'maxpower', 8)!;
    const power = most.heldA * most.volts[at(network)];
    for (let u = 1; u < 121; u++)
      expect(u * solveDirect({ ...network, draws: [] }, { node: at(network), volts: u }).heldA).toBeLessThanOrEqual(
        power * (1 + 1e-6),
      );
  });
  it('no arc where the voltage does not sustain one, or the method has no figures', () => {
    const network = directNetwork(board([160], 100), max);
    expect(burningArc(network, at(network), 'stokes', 400)).toBeNull();
    expect(burningArc(network, at(network), 'paukert', 400)).toBeNull();
  });
});

describe('energy over the stages', () => {
  it('two batteries whose fuses clear one after the other: work of the same stages by the formulas', () => {
    const network = board([63, 160]);
    const [row] = finished(directArcStudy(network, [maximumSources]));
    for (const method of directMethods) {
      const own = row.results[0].cases[method]!;
      expect(own.openings.map(({ device }) => device)).toEqual(['F0', 'F1']);
      const opens = Object.fromEntries(own.openings.map(({ device, openedS }) => [device, openedS]));
      const sources = [0, 1].map((k) => ({ volts, ohm: ohm(k), opensS: opens[`F${k}`] }));
      const stages = directStages(method, sources, 10);
      expect(own.workJ / workOf(stages)).toBeCloseTo(1, 5);
      expect(own.energy / radiated(workOf(stages), 457.2, { aMm: 100, k: 0.127 })).toBeCloseTo(1, 5);
      // A fuse clears by its latest curve at its own current.
      expect(own.stages).toHaveLength(2);
    }
  });
  it('worst, least and a chosen method decide as asked', () => {
    const of = (direct: (typeof defaultSettings)['arc']['direct']) =>
      finished(directArcStudy(board([160], 10, { direct }), builtInConditions))[0].worst!;
    const energies = directMethods.map((method) => of('worst').cases[method]!.energy);
    expect(decidingDirect(of('worst'))!.energy).toBe(Math.max(...energies));
    expect(of('stokes').decides).toBe('stokes');
    const [least] = finished(directArcStudy(board([160], 10, { direct: 'least' }), [maximumSources]));
    expect(decidingDirect(least.worst!)!.energy).toBe(
      Math.min(...directMethods.map((method) => least.results[0].cases[method]!.energy)),
    );
  });
  it('what nothing opens burns for the longest time; a slower fuse never gives less', () => {
    const of = (links: readonly number[]) => finished(directArcStudy(board(links), [maximumSources]))[0].worst!;
    const open = finished(directArcStudy(board([]), [maximumSources]));
    expect(open[0].worst).toBeNull();
    const energies = [63, 100, 160, 250].map((link) => decidingDirect(of([link]))!.energy);
    energies.reduce((p, q) => (expect(q).toBeGreaterThanOrEqual(p), q));
    expect(decidingDirect(of([1250]))).toMatchObject({ limited: true, burnsS: 2 });
  });
  it('a table of own enclosures counts, and open air is a sphere', () => {
    const boxed = finished(
      directArcStudy(board([160], 10, { boxes: [{ equipment: 'controlCentre', aMm: 200, k: 0.2 }] }), [maximumSources]),
    )[0];
    expect(boxed.at.box).toEqual({ aMm: 200, k: 0.2 });
    const own = decidingDirect(boxed.worst!)!;
    expect(own.energy).toBeCloseTo((100 * 0.2 * own.workJ) / (200 ** 2 + 457.2 ** 2), 9);
  });
  it('the working comes to the energy', () => {
    const network = board([63, 160]);
    const [row] = finished(directArcStudy(network, [maximumSources]));
    for (const each of Object.values(row.results[0].cases))
      expectFollowed(directArcWorking(network, row, each!), each!.method);
    const own = decidingDirect(row.worst!)!;
    const steps = directArcWorking(network, row, own).flatMap((section) => section.steps);
    expect(steps.at(-1)!.result.value).toBeCloseTo(own.energy / 4.184, 9);
    const works = steps.filter(({ result }) => /^W\d$/.test(result.symbol)).map(({ result }) => result.value as number);
    expect(works.reduce((p, q) => p + q, 0)).toBeCloseTo(own.workJ, 6);
  });
  it('a cable between makes the arc weaker by its resistance', () => {
    const b = new Builder();
    b.add('battery', 'B', { cells: 54, cellMohm: 0.6, connectorMohm: 0 });
    b.add('bus', 'D', { system: 'dc', nominalKv: 0.11 });
    b.add('directCable', 'W', { lengthM: 30, sectionMm2: 25 });
    b.join('B', 'W:0', 'W:1', 'D');
    const network = directNetwork(b.network(), max);
    const arc = directArc('stokes', volts, 0.9 * 54e-3 * 0.6 + loopOhm(30, 25, 20), 10)!;
    expect(burningArc(network, at(network), 'stokes', 10)!.heldA / arc.currentA).toBeCloseTo(1, 6);
  });
});
