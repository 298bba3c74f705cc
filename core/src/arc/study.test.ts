/** Arcs in a network: against the formulas by hand on a small one, and what must hold of any on the demo. */
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { magnitude } from '../linear/complex';
import { usualArcPlace } from '../model/arc';
import { elementId, type ElementId } from '../model/fields';
import { find, networkOf, ofKind, settingsOf, withElements, type Network } from '../model/network';
import { currentInput, tripCircuit } from '../model/protection';
import { clearsAfter } from '../protection/device';
import type { OvercurrentFunction } from '../protection/overcurrent/schema';
import { genericRelays, newFunction } from '../protection/overcurrent/library';
import { Studies } from '../studies/studies';
import { demoNetwork } from '../test/demo';
import { expectFollowed } from '../test/followed';
import { Builder } from '../test/network';
import { finished } from '../working/steps';
import { caloriesOf, clothingFor, shockBoundaries } from './clothing';
import { arcOhm } from './course';
import { arcPlace } from './equipment';
import { arcingCurrents, enclosureCorrection, exposure } from './ieee2018';
import { arcLabel, labelLanguages } from './labels';
import { theoreticalEnergy } from './theoretical';
import { ArcKeeper, arcStudy, decidingCase, governingDevice, spotName, type ArcRow } from './study';
import { arcLines } from './table';
import { arcWorking } from './working';

const id = elementId;
const options = { compare: false, only: null };
const arcsOf = (network: Network, only: readonly ElementId[] | null = null): ArcRow[] => {
  const studies = new Studies(network);
  return finished(arcStudy(studies, studies.conditions, { compare: false, only }));
};
const rowOf = (rows: readonly ArcRow[], key: string) => rows.find(({ spot }) => spot.key === key)!;

const delayS = 0.3;
/** A feeder, a relay with one undependent stage, a line, a busbar; the breaker stands at the first busbar. */
function radial(over: Partial<OvercurrentFunction> = {}, settings = {}): Network {
  const b = new Builder(settings);
  b.add('networkFeeder', 'N', { given: 'current', ikMaxKa: 20, ikMinKa: 20 } as never);
  b.add('bus', 'S', { nominalKv: 11 });
  b.add('switch', 'Q', { openingTimeS: 0.05 });
  b.add('currentTransformer', 'CT', { primaryA: 400 });
  b.add('line', 'L', { lengthKm: 1 } as never);
  b.add('bus', 'B', { nominalKv: 11 });
  b.join('N', 'S', 'S', 'Q:0', 'Q:1', 'CT:0', 'CT:1', 'L:0', 'L:1', 'B');
  const fn = {
    ...(newFunction(id('f'), '51', genericRelays[0].ranges) as OvercurrentFunction),
    characteristic: 'definite' as const,
    pickup: 1,
    delayS,
    ...over,
  };
  b.add('relay', 'R', {
    inputs: [currentInput(id('CT'))],
    circuits: [tripCircuit([id('Q')])],
    functions: [fn],
  } as never);
  return b.network();
}

describe('an arc at a busbar behind one relay', () => {
  it('has the energy of the formulas for the current there and the time of relay and breaker', () => {
    const network = radial();
    const row = rowOf(arcsOf(network), 'B');
    const most = row.results.find(({ condition }) => condition === 'maximum')!;
    const place = arcPlace(undefined, 11);
    const arcing = arcingCurrents(place, most.boltedKa);
    expect(most.method).toBe('2018');
    expect(most.full.arcingKa).toBeCloseTo(arcing.currentKa, 6);
    expect(most.reduced!.arcingKa).toBeCloseTo(arcing.reducedKa, 6);
    const relay = find(network, 'relay', id('R'))!;
    const { errorPercent = 0 } = relay.functions[0] as { errorPercent?: number };
    const { governing, burnsS } = most.full;
    expect(governing).toMatchObject({ device: 'R', element: 'Q' });
    expect(burnsS).toBeCloseTo(governing!.trippedS + clearsAfter(0.05), 9);
    // The band of the relay is part of its time.
    expect(governing!.trippedS).toBeGreaterThanOrEqual(delayS);
    expect(governing!.trippedS).toBeLessThan(delayS * (1 + errorPercent / 100) + 0.1);
    const byHand = exposure(
      place,
      { boltedKa: most.boltedKa, arcing, reduced: false },
      1000 * burnsS,
      enclosureCorrection(place),
    );
    expect(most.full.energy / byHand.energy).toBeCloseTo(1, 9);
    expect(most.decides).toBe(most.reduced!.energy > most.full.energy ? 'reduced' : 'full');
  });
  it('burns for the longest time where the relay does not see the arc, and says so', () => {
    const [row] = arcsOf(radial({ pickup: 100 }), [id('B')]);
    const { limited, burnsS, governing, stages } = decidingCase(row.worst!);
    expect({ limited, burnsS, governing }).toEqual({ limited: true, burnsS: 2, governing: null });
    expect(stages).toHaveLength(1);
    const own = radial({ pickup: 100 });
    const bus = find(own, 'bus', id('B'))!;
    const shorter = withElements(own, [{ ...bus, arc: { ...usualArcPlace, longestS: 0.5 } }]);
    expect(decidingCase(rowOf(arcsOf(shorter), 'B').worst!).burnsS).toBe(0.5);
  });
  it('the reduced current decides where the relay sees only the full one in time', () => {
    const full = rowOf(arcsOf(radial()), 'B').results.find(({ condition }) => condition === 'maximum')!;
    const between = (1000 * (full.full.arcingKa + full.reduced!.arcingKa)) / 2 / 400;
    const [row] = arcsOf(radial({ pickup: Number(between.toFixed(2)) }), [id('B')]);
    const most = row.results.find(({ condition }) => condition === 'maximum')!;
    expect(most.full.limited).toBe(false);
    expect(most.reduced!.limited).toBe(true);
    expect(most.decides).toBe('reduced');
  });
  it('is left out, or judged by the theoretical method where the model ends, which is told', () => {
    const network = radial();
    const bus = find(network, 'bus', id('B'))!;
    const out = withElements(network, [{ ...bus, arc: { ...usualArcPlace, leftOut: true } }]);
    expect(arcsOf(out).map(({ spot }) => spot.bus)).not.toContain('B');
    const wide = withElements(network, [{ ...bus, arc: { ...usualArcPlace, gapMm: 400 } }]);
    const { worst, at } = rowOf(arcsOf(wide), 'B');
    expect(worst!.method).toBe('theoretical');
    expect(worst!.remarks.join()).toMatch(/gap 400 mm is outside of/);
    const own = decidingCase(worst!);
    expect(own.energy).toBeCloseTo(theoreticalEnergy(11, worst!.boltedKa, own.burnsS, at.distanceMm), 6);
  });
  it('by the 2002 edition where the project wants it, with the other beside', () => {
    const network = radial({}, { arc: { ...settingsOf(radial()).arc, edition: '2002' } });
    const studies = new Studies(network);
    const [row] = finished(arcStudy(studies, studies.conditions, { compare: true, only: [id('B')] }));
    expect([row.worst!.method, row.other!.method]).toEqual(['2002', '2018']);
    // Above 1 kV that edition knows no reduced current.
    expect(row.worst!.reduced).toBeNull();
    expectFollowed(arcWorking(network, row, row.worst!, false), '2002');
  });
});

describe('arcs of the demo', () => {
  let demo: Network;
  let studies: Studies;
  let rows: ArcRow[];
  const keeper = new ArcKeeper();
  beforeAll(() => {
    demo = demoNetwork();
    studies = new Studies(demo);
    rows = finished(keeper.run(studies, studies.conditions, options));
  });
  /** All multipliers and delays of a relay times a factor. */
  const slower = (relay: string, factor: number) => {
    const element = find(demo, 'relay', id(relay))!;
    return {
      ...element,
      functions: element.functions.map((fn) =>
        fn.family === 'overcurrent'
          ? { ...fn, timeMultiplier: fn.timeMultiplier * factor, delayS: fn.delayS * factor }
          : fn,
      ),
    };
  };
  it('every energy is the sum of its stages, a numeric integral of the power', () => {
    for (const { results, at } of rows)
      for (const result of results)
        for (const own of [result.full, result.reduced])
          if (own && result.method === '2018') {
            const correction = enclosureCorrection(at);
            const reduced = own === result.reduced;
            // Millisecond by millisecond, and what is left of each stage.
            const sum = own.stages.reduce((total, { fromS, toS, boltedKa }) => {
              const arcing = arcingCurrents(at, boltedKa);
              let part = 0;
              for (let t = fromS; t < toS - 1e-12; t += 0.01)
                part += exposure(
                  at,
                  { boltedKa, arcing, reduced },
                  1000 * (Math.min(t + 0.01, toS) - t),
                  correction,
                ).energy;
              return total + part;
            }, 0);
            expect(own.energy / sum).toBeCloseTo(1, 6);
            expect(own.burnsS).toBeLessThanOrEqual(2 + 1e-9);
          }
  });
  it('on the line side of the one switch that feeds it an arc is cleared later; nowhere does the bolted current rise when a switch opens', () => {
    const beside = rows.filter(({ spot }) => spot.lineSideOf !== null);
    expect(beside.map(({ spot }) => spotName(demo, spot))).toContain('BRA 0.4, line side of BRA F41');
    for (const row of beside) {
      for (const result of row.results) {
        const [first, ...later] = result.full.stages;
        for (const { boltedKa } of later) expect(boltedKa).toBeLessThanOrEqual(first.boltedKa * (1 + 1e-9));
      }
    }
    const [inside, outside] = ['bra-0-4', 'bra-0-4 bra-f41'].map((key) => rowOf(rows, key));
    outside.results.forEach(({ full }, k) => expect(full.burnsS).toBeGreaterThan(inside.results[k].full.burnsS));
  });
  it('slower protection never gives less energy, anywhere', () => {
    for (const relay of ['bra-q32-relay', 'bra-q21-relay', 'fer-q31-relay']) {
      const after = arcsOf(withElements(demo, [slower(relay, 1.3)]));
      for (const row of after) {
        const before = rowOf(rows, row.spot.key);
        row.results.forEach((result, k) => {
          expect(result.full.energy).toBeGreaterThanOrEqual(before.results[k].full.energy * (1 - 1e-9));
        });
      }
      expect(after.some((row) => row.worst!.full.energy > rowOf(rows, row.spot.key).worst!.full.energy * 1.01)).toBe(
        true,
      );
    }
  });
  it('a run that goes on says what a fresh one says, and plays little', () => {
    const changed = slower('bra-q32-relay', 0.5);
    const after = withElements(demo, [changed]);
    const next = new Studies(after, { studies, changed: [changed.id] });
    const steps = keeper.run(next, next.conditions, options);
    let played = 0;
    let step = steps.next();
    for (; !step.done; step = steps.next()) played++;
    expect(step.value).toEqual(arcsOf(after));
    expect(played).toBeGreaterThan(0);
    expect(played).toBeLessThan(rows.length / 2);
    // A place of its own, the settings of the project.
    const bus = find(after, 'bus', id('bra-0-4'))!;
    const moved = withElements(after, [{ ...bus, arc: { ...usualArcPlace, distanceMm: 900 } }]);
    const third = new Studies(moved, { studies: next, changed: [bus.id] });
    const again = finished(keeper.run(third, third.conditions, options));
    expect(again).toEqual(arcsOf(moved));
    expect(rowOf(again, bus.id).worst!.full.energy).not.toBe(rowOf(step.value, bus.id).worst!.full.energy);
  });
  it('have a working that a calculator follows, and name who ends them', () => {
    for (const row of rows) {
      if (!row.worst) continue;
      for (const reduced of [false, true]) expectFollowed(arcWorking(demo, row, row.worst, reduced), row.spot.key);
      const own = decidingCase(row.worst);
      expect(governingDevice(demo, row.worst) === null).toBe(own.limited);
      expect(own.energy).toBe(Math.max(...row.results.map((result) => decidingCase(result).energy)));
    }
  });
  it('labels say it in every language, with the mark of what is only remembered', () => {
    const lines = arcLines(demo, { ac: rows, dc: [] });
    const row = lines.find(({ key }) => key === 'bra-0-4 bra-f41')!;
    for (const language of labelLanguages) {
      const label = arcLabel(demo, row, language)!;
      expect(label.place).toBe('BRA 0.4, line side of BRA F41');
      expect(label.facts[0][1]).toContain('cal/cm²');
      expect(label.facts).toHaveLength(6);
    }
    const theoretical = lines.find(({ worst }) => worst?.outside)!;
    expect(arcLabel(demo, theoretical, 'en')!.notes[0]).toMatch(/not confirmed/);
    expect(arcLabel(demo, theoretical, 'en')).toMatchObject({ isDanger: true, signal: 'DANGER' });
    expect(arcLabel(demo, { ...row, worst: null }, 'en')).toBeNull();
  });
});

describe('around the energy', () => {
  it('the resistance of an arc makes the circuit give its current', () => {
    const ohms = fc.double({ min: 0.001, max: 10, noNaN: true });
    fc.assert(
      fc.property(ohms, ohms, fc.double({ min: 0.3, max: 0.999, noNaN: true }), (re, im, share) => {
        const z = { re, im };
        const ohm = arcOhm(z, 10, 10 * share);
        expect(ohm).toBeGreaterThanOrEqual(0);
        expect(magnitude({ re: re + ohm, im }) / magnitude(z)).toBeCloseTo(1 / share, 9);
      }),
      { numRuns: 200, seed: 17 },
    );
    expect(arcOhm({ re: 1, im: 1 }, 10, 11)).toBe(0);
  });
  it('clothing goes by the table, approach by the voltage', () => {
    const { clothing } = settingsOf(networkOf([])).arc;
    expect(clothingFor(clothing, 4.184)!.upToCal).toBe(1.2);
    expect(clothingFor(clothing, 12 * 4.184)!.upToCal).toBe(12);
    expect(clothingFor(clothing, 41 * 4.184)).toBeNull();
    expect(caloriesOf(4.184)).toBe(1);
    expect(shockBoundaries(0.4, 'ac')).toEqual({ limitedM: 1, restrictedM: 0.3 });
    expect(shockBoundaries(0.11, 'dc')).toEqual({ limitedM: 1, restrictedM: null });
    expect(shockBoundaries(0.024, 'dc')).toBeNull();
    expect(ofKind(networkOf([]), 'bus')).toEqual([]);
  });
});
