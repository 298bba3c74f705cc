/** Arc energy: properties that hold for any arc, working that a calculator follows, second methods. Published and independent cases stand in `core/reference` and run through the terminal's tests. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { expectFollowed } from '../test/followed';
import { Trace } from '../working/trace';
import { electrodeConfigurations, isBoxed } from './coefficients';
import {
  directArc,
  directBoundary,
  directMethods,
  directStages,
  paukertRows,
  paukertVoltage,
  radiated,
  risingWork,
  stokes,
  stokesVoltage,
  workOf,
} from './directCurrent';
import { arcingCurrent2002, exposure2002 } from './ieee2002';
import {
  arcingCurrents,
  boundaryEnergy,
  enclosureCorrection,
  exposure,
  forbids,
  isConfirmed,
  outOfRange2018,
  type ArcPlace2018,
} from './ieee2018';
import { boundaryOf, energyOver, stagedEnergy } from './stages';
import { theoreticalBoundary, theoreticalExposure } from './theoretical';

const places: fc.Arbitrary<ArcPlace2018> = fc
  .record({
    electrodes: fc.constantFrom(...electrodeConfigurations),
    voltageKv: fc.double({ min: 0.208, max: 15, noNaN: true }),
    share: fc.double({ min: 0.1, max: 0.9, noNaN: true }),
    distanceMm: fc.double({ min: 305, max: 1500, noNaN: true }),
    heightMm: fc.double({ min: 300, max: 1500, noNaN: true }),
    widthMm: fc.double({ min: 300, max: 1500, noNaN: true }),
    depthMm: fc.double({ min: 150, max: 800, noNaN: true }),
  })
  .map(({ electrodes, voltageKv, share, distanceMm, ...enclosure }) => ({
    electrodes,
    voltageKv,
    // Gaps that were tested at the voltage.
    gapMm: voltageKv <= 0.6 ? 10 + 30 * share : voltageKv <= 2.7 ? 25 + 50 * share : 100 + 60 * share,
    distanceMm,
    enclosure,
  }));
const currents = fc.double({ min: 3, max: 30, noNaN: true });
const times = fc.double({ min: 10, max: 2000, noNaN: true });
const runs = { numRuns: 300, seed: 17 };

const exposed = (place: ArcPlace2018, boltedKa: number, timeMs: number, reduced = false) =>
  exposure(place, { boltedKa, arcing: arcingCurrents(place, boltedKa), reduced }, timeMs, enclosureCorrection(place));

describe('IEEE 1584-2018', () => {
  it('a longer arc never gives less energy, a longer distance never more; twice the time is twice the energy', () => {
    fc.assert(
      fc.property(places, currents, times, (place, ka, ms) => {
        const { energy, boundaryMm } = exposed(place, ka, ms);
        expect(exposed(place, ka, 2 * ms).energy / energy).toBeCloseTo(2, 9);
        expect(exposed(place, ka, 1.01 * ms).boundaryMm).toBeGreaterThan(boundaryMm);
        expect(exposed({ ...place, distanceMm: 1.1 * place.distanceMm }, ka, ms).energy).toBeLessThan(energy);
      }),
      runs,
    );
  });
  it('at its boundary the energy is 1.2 cal/cm², where one voltage of the model decides', () => {
    fc.assert(
      fc.property(places, currents, times, fc.boolean(), (any, ka, ms, reduced) => {
        const place = { ...any, voltageKv: 0.4 };
        const { boundaryMm } = exposed(place, ka, ms, reduced);
        expect(exposed({ ...place, distanceMm: boundaryMm }, ka, ms, reduced).energy).toBeCloseTo(boundaryEnergy, 8);
      }),
      runs,
    );
  });
  it('the arc draws less than the bolted fault up to 0.6 kV, and the reduced current is the smaller', () => {
    fc.assert(
      fc.property(places, currents, (place, ka) => {
        const { currentKa, reducedKa, variation } = arcingCurrents(place, ka);
        if (place.voltageKv <= 0.6) expect(currentKa).toBeLessThan(ka);
        expect(reducedKa).toBeCloseTo(currentKa * (1 - variation / 2), 12);
      }),
      runs,
    );
  });
  it('goes on steadily over 2.7 kV, where its formula changes', () => {
    const at = (voltageKv: number) =>
      exposed({ electrodes: 'VCB', voltageKv, gapMm: 104, distanceMm: 914.4, enclosure: largeBox }, 15, 200);
    expect(at(2.7).energy / at(2.7 + 1e-9).energy).toBeCloseTo(1, 6);
    expect(at(2.7).boundaryMm / at(2.7 + 1e-9).boundaryMm).toBeCloseTo(1, 6);
  });
  const largeBox = { heightMm: 1143, widthMm: 762, depthMm: 508 };
  it('has a working that a calculator follows', () => {
    fc.assert(
      fc.property(places, currents, times, fc.boolean(), (place, ka, ms, reduced) => {
        const trace = new Trace();
        const arcing = arcingCurrents(place, ka, trace);
        const correction = enclosureCorrection(place, trace);
        exposure(place, { boltedKa: ka, arcing, reduced }, ms, correction, trace);
        expectFollowed(trace.sections, 'arc');
      }),
      { ...runs, numRuns: 60 },
    );
  });
  it('says what it does not reach, with the field; and what is only remembered', () => {
    const place: ArcPlace2018 = {
      electrodes: 'VCB',
      voltageKv: 0.4,
      gapMm: 25,
      distanceMm: 455,
      enclosure: { heightMm: 600, widthMm: 600, depthMm: 300 },
    };
    expect(outOfRange2018(place, 20)).toEqual([]);
    const fields = (over: Partial<ArcPlace2018>, ka = 20) =>
      outOfRange2018({ ...place, ...over }, ka).map(({ field }) => field);
    expect(fields({ voltageKv: 22, gapMm: 150 })).toEqual(['voltageKv']);
    expect(fields({}, 120)).toEqual(['boltedKa']);
    expect(fields({}, 0.4)).toEqual(['boltedKa']);
    expect(fields({ gapMm: 100 })).toEqual(['gapMm']);
    expect(fields({ distanceMm: 200 })).toEqual(['distanceMm']);
    expect(outOfRange2018({ ...place, gapMm: 5 }, 20).every(forbids)).toBe(true);
    const wide = outOfRange2018({ ...place, enclosure: { ...place.enclosure, widthMm: 1400 } }, 20);
    expect(wide.map(({ field }) => field)).toEqual(['widthMm']);
    expect(wide.some(forbids)).toBe(false);
    expect(isConfirmed(place)).toBe(true);
    expect(isConfirmed({ ...place, electrodes: 'HCB' })).toBe(false);
    expect(isConfirmed({ ...place, enclosure: { heightMm: 300, widthMm: 300, depthMm: 150 } })).toBe(false);
    expect(isConfirmed({ ...place, voltageKv: 2 })).toBe(false);
  });
});

describe('stages', () => {
  it('a current that stays is one stage, however it is cut; its boundary too up to 0.6 kV', () => {
    fc.assert(
      fc.property(places, currents, times, fc.boolean(), (any, ka, ms, reduced) => {
        const place = { ...any, voltageKv: 0.48 };
        const { energy, boundaryMm } = exposed(place, ka, ms, reduced);
        const cut = stagedEnergy(
          place,
          [0.2, 0.5, 0.3].map((share) => ({ boltedKa: ka, durationMs: share * ms })),
          reduced,
        );
        expect(cut.energy / energy).toBeCloseTo(1, 9);
        expect(cut.boundaryMm / boundaryMm).toBeCloseTo(1, 6);
        expect(energyOver(place, () => ka, ms, reduced, 20) / energy).toBeCloseTo(1, 9);
      }),
      { ...runs, numRuns: 60 },
    );
  });
  it('add up as a numeric integral of the power does', () => {
    const place: ArcPlace2018 = {
      electrodes: 'VCBB',
      voltageKv: 11,
      gapMm: 152,
      distanceMm: 914.4,
      enclosure: { heightMm: 1143, widthMm: 762, depthMm: 762 },
    };
    const steps = [
      { boltedKa: 22, durationMs: 130 },
      { boltedKa: 9, durationMs: 400 },
    ];
    // Small steps in time, each with a formula of its own kind: energy of one millisecond.
    let sum = 0;
    for (let ms = 0; ms < 530; ms++) sum += exposed(place, ms < 130 ? 22 : 9, 1).energy;
    expect(stagedEnergy(place, steps, false).energy / sum).toBeCloseTo(1, 9);
  });
  it('have no boundary where there is no energy', () => {
    expect(boundaryOf(() => 0)).toBe(0);
    expect(boundaryOf(() => 10)).toBe(Infinity);
    expect(boundaryOf((d) => 1000 / d)).toBeCloseTo(1000 / boundaryEnergy, 6);
  });
});

describe('other methods', () => {
  it('have a working that a calculator follows', () => {
    const trace = new Trace();
    theoreticalExposure(33, 10, 0.3, 900, trace);
    for (const voltageKv of [0.4, 6.6]) {
      const place = { inBox: true, voltageKv, gapMm: 32, distanceMm: 610, distanceExponent: 1.473, earthed: true };
      exposure2002(place, arcingCurrent2002(place, 20, trace), 0.2, trace);
    }
    expectFollowed(trace.sections, 'other methods');
  });
  it('the theoretical energy at its boundary is the one it was asked for', () => {
    const mm = theoreticalBoundary(33, 12, 0.4);
    expect(theoreticalExposure(33, 12, 0.4, mm).energy).toBeCloseTo(boundaryEnergy, 9);
  });
});

describe('direct current', () => {
  const circuits = fc.record({
    volts: fc.double({ min: 100, max: 800, noNaN: true }),
    ohm: fc.double({ min: 0.005, max: 0.2, noNaN: true }),
    gapMm: fc.double({ min: 2, max: 50, noNaN: true }),
  });
  it('the arc lies on the line of the circuit, and takes no more than the largest power', () => {
    fc.assert(
      fc.property(circuits, ({ volts, ohm, gapMm }) => {
        const most = directArc('maxpower', volts, ohm, gapMm)!.powerW;
        for (const method of directMethods) {
          const arc = directArc(method, volts, ohm, gapMm);
          if (!arc) continue;
          expect(arc.voltageV + ohm * arc.currentA).toBeCloseTo(volts, 6);
          expect(arc.powerW).toBeLessThanOrEqual(most * (1 + 1e-9));
        }
      }),
      runs,
    );
  });
  it('the arc voltage of the table is met at its gaps, and lies between them elsewhere', () => {
    for (const row of paukertRows)
      expect(paukertVoltage(row.gapMm, 500)).toBeCloseTo(row.high[0] * 500 ** row.high[1], 9);
    const [at10, at15, at20] = [10, 15, 20].map((gap) => paukertVoltage(gap, 500)!);
    expect(at15).toBeCloseTo((at10 + at20) / 2, 9);
    expect(paukertVoltage(300, 500)).toBeNull();
    expect(directArc('paukert', 250, 0.01, 0.5)).toBeNull();
  });
  it('no arc burns where the circuit cannot sustain it', () => {
    expect(stokes(24, 0.01, 20)).toBeNull();
    expect(directArc('paukert', 24, 0.01, 20)).toBeNull();
  });
  it('a rising current comes to the steady arc in the end', () => {
    const circuit = { volts: 250, ohm: 0.0139, henry: 0.000641, gapMm: 20 };
    const steady = stokes(250, 0.0139, 20)!;
    expect(risingWork(circuit, 14, 3).endA / steady.currentA).toBeCloseTo(1, 6);
    // A second method: explicit steps, much smaller.
    let [i, work] = [14, 0];
    const h = 1e-6;
    for (let k = 0; k < 50_000; k++) {
      const v = stokesVoltage(20, i);
      work += v * i * h;
      i += ((250 - 0.0139 * i - v) / 0.000641) * h;
    }
    expect(risingWork(circuit, 14, 0.05).workJ / work).toBeCloseTo(1, 3);
  });
  it('ends where what is left can sustain no arc', () => {
    const stages = directStages(
      'stokes',
      [
        { volts: 110, ohm: 0.02, opensS: 0.1 },
        { volts: 110, ohm: 20, opensS: 2 },
      ],
      10,
    );
    expect(stages).toHaveLength(2);
    expect(stages[1].arc).toBeNull();
    expect(workOf(stages)).toBeCloseTo(0.1 * stages[0].arc!.powerW, 6);
  });
  it('the energy at the boundary is 1.2 cal/cm², in open air and out of a box', () => {
    for (const box of [null, { aMm: 400, k: 0.312 }]) {
      const mm = directBoundary(4e5, box);
      expect(radiated(4e5, mm, box)).toBeCloseTo(boundaryEnergy, 9);
    }
    expect(directBoundary(10, { aMm: 400, k: 0.312 })).toBe(0);
    expect(electrodeConfigurations.filter(isBoxed)).toEqual(['VCB', 'VCBB', 'HCB']);
  });
});
