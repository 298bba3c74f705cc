/** Earthing of stations by formulas: what is shown of them gives what is used. */
import { describe, expect, it } from 'vitest';
import { electrodeSchema, stationEarthingSchema, type Electrode } from '../model/earthing';
import { expectFollowed } from '../test/followed';
import { Trace } from '../working/trace';
import { earthingImpedance, electrodeOhm } from './electrodes';
import { ring, rod, rodInTwoLayers, sverak, wennerOhmM, wire } from './grids';

const one = { upperOhmM: 120, lowerOhmM: null, thicknessM: null };
const two = { upperOhmM: 120, lowerOhmM: 30, thicknessM: 5 };
const same = { upperOhmM: 120, lowerOhmM: 120, thicknessM: 5 };
const grid = {
  ...{ kind: 'grid', formula: 'sverak', lengthM: 70, widthM: 45, depthM: 0.7 },
  ...{ conductorM: 980, wireMm: 10.5, rods: 12, rodM: 3, rodMm: 20 },
} as const;
const all: object[] = [
  grid,
  { ...grid, formula: 'schwarz' },
  { ...grid, formula: 'schwarz', rods: 0 },
  { kind: 'rod', rodM: 4, rodMm: 20 },
  { kind: 'rod', rodM: 9, rodMm: 20 },
  { kind: 'ring', diameterM: 12, wireMm: 10, depthM: 0.8 },
  { kind: 'wire', lengthM: 60, wireMm: 10, depthM: 0.8 },
];
const withSoil = (electrode: object, soil: object): Electrode => electrodeSchema.parse({ ...electrode, soil });

describe('electrodes', () => {
  it('are what their formulas give', () => {
    const ohm = (electrode: object) => electrodeOhm(withSoil(electrode, one));
    expect(ohm(all[0])).toBeCloseTo(sverak(120, 980 + 36, 70 * 45, 0.7), 12);
    expect(ohm(all[3])).toBeCloseTo(rod(120, 4, 0.01), 12);
    expect(ohm(all[5])).toBeCloseTo(ring(120, 12, 0.01, 0.8), 12);
    expect(ohm(all[6])).toBeCloseTo(wire(120, 30, 0.005, 0.8), 12);
    // Both formulas for one grid lie near each other, IEEE 80 tells.
    expect(ohm(all[1]) / ohm(all[0])).toBeGreaterThan(0.8);
    expect(ohm(all[1]) / ohm(all[0])).toBeLessThan(1.2);
    expect(ohm(all[1])).toBeLessThan(ohm(all[2]));
  });
  it('in two layers of the same soil are those in one', () => {
    for (const electrode of all)
      expect(electrodeOhm(withSoil(electrode, same))).toBeCloseTo(electrodeOhm(withSoil(electrode, one)), 8);
  });
  it('gain from a better lower layer', () => {
    for (const electrode of all)
      expect(electrodeOhm(withSoil(electrode, two))).toBeLessThan(electrodeOhm(withSoil(electrode, one)));
    expect(electrodeOhm(withSoil(all[3], two))).toBeCloseTo(
      rodInTwoLayers({ upperOhmM: 120, lowerOhmM: 30, thicknessM: 5 }, 4, 0.01),
      12,
    );
    // What lies flat meets what a line of four probes with a spacing of its radius shows.
    const layers = { upperOhmM: 120, lowerOhmM: 30, thicknessM: 5 };
    expect(electrodeOhm(withSoil(all[5], two))).toBeCloseTo(ring(wennerOhmM(layers, 6), 12, 0.01, 0.8), 12);
    expect(electrodeOhm(withSoil(all[0], two))).toBeCloseTo(
      sverak(wennerOhmM(layers, Math.sqrt(3150 / Math.PI)), 1016, 3150, 0.7),
      12,
    );
    expect(electrodeOhm(withSoil(all[6], two))).toBeCloseTo(
      wire(wennerOhmM({ upperOhmM: 120, lowerOhmM: 30, thicknessM: 5 }, 30), 30, 0.005, 0.8),
      12,
    );
  });
  it('can be followed by hand', () => {
    for (const soil of [one, two])
      for (const electrode of all) {
        const trace = new Trace();
        electrodeOhm(withSoil(electrode, soil), trace);
        expectFollowed(trace.sections, JSON.stringify(electrode));
      }
  });
  it('stand in the place of the typed resistance, with the reactance beside', () => {
    const given = stationEarthingSchema.parse({ rOhm: 3, xOhm: 0.2 });
    expect(earthingImpedance(given)).toEqual({ re: 3, im: 0.2 });
    expect(earthingImpedance({ ...given, electrode: withSoil(grid, one) }).re).toBeCloseTo(
      sverak(120, 1016, 3150, 0.7),
      12,
    );
    expect(stationEarthingSchema.safeParse({ rOhm: 0, xOhm: 0 }).success).toBe(false);
    expect(stationEarthingSchema.safeParse({ rOhm: 0, xOhm: 0, electrode: withSoil(grid, one) }).success).toBe(true);
    expect(electrodeSchema.safeParse({ ...grid, soil: { ...one, lowerOhmM: 5 } }).success).toBe(false);
  });
});
