/** Low-voltage circuits: a second calculation in phase quantities, properties of lengths and sections, tables against the formula that they were made of. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { add, magnitude, multiply, polar, scale, subtract, type Complex } from '../linear/complex';
import { denseFrom, denseSolve, entry } from '../linear/dense';
import {
  ambientFactor,
  groupingFactor,
  protectiveSection,
  resistanceAt20,
  soilFactor,
  tableCurrent,
  typicalReactance,
  type LayingMethod,
} from './ampacity';
import { ampacityTable, tableSections } from './ampacityTable';
import {
  circuitResult,
  conductorOhm,
  failing,
  nextRated,
  smallestSection,
  supplyImpedance,
  voltageDrop,
  withSection,
  type Circuit,
} from './circuit';
import { cutOffS, letThroughA2s, operatingA, residualS, type CircuitDevice } from './device';

/** Largest 5 s and 0.1 s currents of gG fuses, IEC 60269-1 (as remembered). */
const fuses = [
  [10, 47, 110],
  [13, 55, 125],
  [16, 65, 150],
  [20, 85, 190],
  [25, 110, 260],
  [32, 150, 350],
] as const;
const fuse = (ratedA: number): CircuitDevice => {
  const [, max5sA, max01sA] = fuses.find(([each]) => each === ratedA)!;
  return { kind: 'gG', ratedA, max5sA, max01sA };
};

/** A motor of 5.5 kW over 60 m. */
const motor = (sectionMm2: number, over: Partial<Circuit> = {}): Circuit =>
  withSection(
    {
      ...{
        unV: 400,
        frequencyHz: 50,
        cMax: 1.1,
        cMin: 0.9,
        system: 'TN-S',
        phases: 3,
        isFinal: true,
        hasSockets: false,
      },
      ...{ dropLimitPercent: 4, upstream: [], breakingA: 100_000, raOhm: 0, rbOhm: 0 },
      supply: { kind: 'board', ik3MaxA: 9200, ik3MinA: 6000, rOverXMax: 0.5, rOverXMin: 0.6, r0OverR1: 1, x0OverX1: 1 },
      cable: {
        ...{ metal: 'Cu', insulation: 'PVC', sectionMm2: 0, peSectionMm2: 0, parallel: 1, lengthM: 60, method: 'C' },
        ...{ loadedConductors: 3, tableA: 0, factor: 1, rOhmPerKm: 0, xOhmPerKm: 0, rPeOhmPerKm: 0, xPeOhmPerKm: 0 },
        ...{ hotC: 160, hotPeC: 160, k: 0, kPe: 0 },
      },
      load: { kind: 'motor', mechanicalW: 5500, efficiency: 0.896, cosPhi: 0.83 },
      device: fuse(25),
      overloadRelayA: 11,
      residual: null,
      secondFault: null,
      ...over,
    },
    sectionMm2,
  )!;

describe('a motor of 5.5 kW over 60 m', () => {
  it('is cut off too late with 2.5 mm² and 25 A, in time with 4 mm² or with 16 A', () => {
    const thin = circuitResult(motor(2.5));
    expect(thin.requiredS).toBe(0.4);
    expect(failing(thin)).toEqual(['disconnection']);
    expect(thin.maximumLengthM).toBeCloseTo(46.1, 1);
    expect(failing(circuitResult(motor(4)))).toEqual([]);
    expect(failing(circuitResult(motor(2.5, { device: fuse(16), overloadRelayA: null })))).toEqual([]);
    expect(smallestSection(motor(2.5))).toEqual({ sectionMm2: 4, below: ['disconnection'] });
    expect(nextRated(thin.designA)).toBe(13);
  });
  it('in phases: every conductor and every return as an unknown', () => {
    for (const sectionMm2 of [2.5, 4, 6]) {
      const circuit = motor(sectionMm2);
      const { z1, z0 } = supplyImpedance(circuit, 'min');
      const [ph, pe] = [conductorOhm(circuit.cable, 'phase', 'min'), conductorOhm(circuit.cable, 'pe', 'min')];
      // Source impedances of the phases, coupled: own (2·z1 + z0)/3, mutual (z0 − z1)/3; the fault joins L1 to its protective conductor.
      const own = scale(add(scale(z1, 2), z0), 1 / 3);
      const mutual = scale(subtract(z0, z1), 1 / 3);
      const u0 = (0.9 * 400) / Math.sqrt(3);
      const emf = [0, 1, 2].map((k) => polar(u0, (-2 * Math.PI * k) / 3));
      const one: Complex = { re: 1, im: 0 };
      const none: Complex = { re: 0, im: 0 };
      // Unknowns: three phase currents, voltage of L1 at the load.
      const m = denseFrom([
        [add(own, ph), mutual, mutual, one],
        [none, one, none, none],
        [none, none, one, none],
        [scale(pe, 1), none, none, scale(one, -1)],
      ]);
      const x = denseSolve(m, denseFrom([[emf[0]], [none], [none], [none]]))!;
      expect(circuitResult(circuit).earthFaultA / magnitude(entry(x, 0, 0))).toBeCloseTo(1, 9);
    }
  });
});

describe('properties', () => {
  const any = fc.record({
    section: fc.constantFrom(1.5, 2.5, 4, 6, 10, 16, 25, 50),
    lengthM: fc.double({ min: 5, max: 300, noNaN: true }),
    longer: fc.double({ min: 1.01, max: 3, noNaN: true }),
    ik: fc.double({ min: 800, max: 30_000, noNaN: true }),
    rated: fc.constantFrom(10, 16, 25, 32),
    phases: fc.constantFrom(1 as const, 3 as const),
  });
  const made = ({
    section,
    lengthM,
    ik,
    rated,
    phases,
  }: {
    section: number;
    lengthM: number;
    ik: number;
    rated: number;
    phases: 1 | 3;
  }): Circuit => {
    const circuit = motor(section, { device: fuse(rated), overloadRelayA: null, phases });
    return {
      ...circuit,
      supply: { ...circuit.supply, ik3MaxA: ik, ik3MinA: 0.7 * ik } as Circuit['supply'],
      cable: { ...circuit.cable, lengthM },
    };
  };
  it('a longer cable never raises a fault current, and never lowers the drop', () => {
    fc.assert(
      fc.property(any, (given) => {
        const [p, q] = [given, { ...given, lengthM: given.longer * given.lengthM }].map((each) =>
          circuitResult(made(each)),
        );
        expect(q.earthFaultA).toBeLessThan(p.earthFaultA);
        expect(q.maxAtLoadA).toBeLessThan(p.maxAtLoadA);
        expect(q.drop.usual).toBeGreaterThan(p.drop.usual);
        expect(p.earthFaultA).toBeLessThan(p.ik1MaxAtDeviceA);
      }),
      { numRuns: 80, seed: 19 },
    );
  });
  it('the proposed section is the smallest: it meets all, and one less misses what is said', () => {
    let proposed = 0;
    fc.assert(
      fc.property(any, (given) => {
        const circuit = made(given);
        const { sectionMm2, below } = smallestSection(circuit);
        if (sectionMm2 === null) return;
        proposed++;
        expect(failing(circuitResult(withSection(circuit, sectionMm2)!))).toEqual([]);
        const before = tableSections.filter((mm2) => mm2 < sectionMm2).at(-1);
        if (before === undefined) expect(below).toBeNull();
        else expect(below).toEqual(failing(circuitResult(withSection(circuit, before)!)));
      }),
      { numRuns: 60, seed: 19 },
    );
    expect(proposed).toBeGreaterThan(15);
  });
  it('at its longest the cable is cut off just in time', () => {
    fc.assert(
      fc.property(any, (given) => {
        const circuit = made(given);
        const { maximumLengthM, operatingA: operating } = circuitResult(circuit);
        if (maximumLengthM === null || maximumLengthM <= 0) return;
        const at = circuitResult({ ...circuit, cable: { ...circuit.cable, lengthM: maximumLengthM } });
        expect(at.earthFaultA / operating!).toBeCloseTo(1, 9);
      }),
      { numRuns: 60, seed: 19 },
    );
  });
  it('drops satisfy the circuit that they come from', () => {
    fc.assert(
      fc.property(any, fc.double({ min: 0.3, max: 1, noNaN: true }), ({ section, lengthM, phases }, cosPhi) => {
        const { cable } = made({ section, lengthM, ik: 5000, rated: 16, phases });
        const ampere = 12;
        const { exactCurrent, constantPower } = voltageDrop(cable, phases, 400, ampere, cosPhi);
        const u0 = 400 / Math.sqrt(3);
        const z = scale(conductorOhm(cable, 'phase', 'service'), phases === 3 ? 1 : 2);
        const sending = (ur: number, i: number) =>
          magnitude(add({ re: ur, im: 0 }, multiply(polar(i, -Math.acos(cosPhi)), z)));
        if (exactCurrent !== null) expect(sending(u0 * (1 - exactCurrent / 100), ampere)).toBeCloseTo(u0, 6);
        if (constantPower === null) return;
        const ur = u0 * (1 - constantPower / 100);
        expect(sending(ur, (ampere * u0) / ur)).toBeCloseTo(u0, 6);
      }),
      { numRuns: 60, seed: 19 },
    );
  });
});

describe('devices', () => {
  const breaker: CircuitDevice = {
    ...{ kind: 'breaker', ratedA: 160, irA: 160, longS: 8, letThroughA2s: 1.1e6 },
    shortTime: { isdA: 960, tolerance: 0.1, clearS: 0.18 },
    instantaneous: { iiA: 2400, tolerance: 0.2, clearS: 0.05 },
  };
  const miniature: CircuitDevice = { kind: 'mcb', type: 'C', ratedA: 16, letThroughA2s: 42_000 };
  it.each([fuse(25), breaker, miniature])(
    'cuts off within the time that its operating current is for ($kind)',
    (device) => {
      for (const seconds of [0.1, 0.2, 0.4, 1, 5]) {
        const ampere = operatingA(device, seconds)!;
        expect(cutOffS(device, ampere * 1.0001)).toBeLessThanOrEqual(seconds);
        const before = cutOffS(device, ampere * 0.999);
        expect(before === null || before > seconds * 0.99).toBe(true);
      }
    },
  );
  it('lets more through the longer it takes, the maker’s figure bounds an instantaneous one', () => {
    const offset = { rOverX: 0.2, frequencyHz: 50 };
    expect(letThroughA2s(breaker, 20_000, offset)).toBe(1.1e6);
    expect(letThroughA2s(breaker, 1500, offset)).toBeCloseTo(1500 ** 2 * 0.18, 3);
    expect(letThroughA2s(miniature, 9000, offset)).toBe(42_000);
    expect(letThroughA2s(miniature, 100, offset)).toBeNull();
    expect(letThroughA2s({ ...breaker, letThroughA2s: null } as CircuitDevice, 20_000, offset)).toBeGreaterThan(
      20_000 ** 2 * 0.05,
    );
  });
  it('residual-current devices by the multiple of their rated current', () => {
    expect([0.02, 0.03, 0.06, 0.15].map((ampere) => residualS(0.03, false, ampere))).toEqual([null, 0.3, 0.15, 0.04]);
    expect(residualS(0.5, true, 5)).toBe(0.15);
  });
  it('TT: the electrode must not exceed 50 V over the residual current, whatever the time', () => {
    const house = (raOhm: number) =>
      circuitResult(
        motor(2.5, {
          system: 'TT',
          residual: { ratedA: 0.03, isSelective: false },
          raOhm,
          rbOhm: 2,
          device: fuse(16),
          overloadRelayA: null,
        }),
      );
    expect(house(100).disconnects).toBe(true);
    expect(house(1700).disconnects).toBe(false);
    expect(house(100).heatPe).toBeNull();
  });
});

describe('tables of IEC 60364-5-52', () => {
  it('currents rise with the section, and less current flows in three loaded conductors', () => {
    for (const [key, [sure, ...amperes]] of Object.entries(ampacityTable)) {
      const listed = amperes.filter((ampere) => ampere > 0);
      expect(
        [...listed].sort((p, q) => p - q),
        key,
      ).toEqual(listed);
      expect(sure).toHaveLength(tableSections.length);
      if (!key.includes(' 2 ')) continue;
      const three = ampacityTable[key.replace(' 2 ', ' 3 ')].slice(1) as number[];
      amperes.forEach(
        (ampere, k) => three[k] > 0 && expect(three[k], `${key} ${tableSections[k]}`).toBeLessThan(ampere),
      );
    }
  });
  it('what is marked as verified lies near I = A·S^m of annex D', () => {
    // PVC, copper, three loaded conductors: coefficients of annex D, as remembered.
    for (const [method, a, m] of [
      ['A1', 10.4, 0.605],
      ['B1', 11.84, 0.628],
    ] as [LayingMethod, number, number][])
      for (const mm2 of [2.5, 4, 6, 10, 16, 25, 35, 70, 95, 120]) {
        const { ampere, sure } = tableCurrent('Cu', 'PVC', 3, method, mm2)!;
        if (sure === 'verified') expect(Math.abs(ampere / (a * mm2 ** m) - 1), `${method} ${mm2}`).toBeLessThan(0.025);
      }
    expect(tableCurrent('Al', 'PVC', 3, 'C', 1.5)).toBeNull();
    expect(tableCurrent('Cu', 'PVC', 3, 'C', 3)).toBeNull();
  });
  it('factors', () => {
    expect(ambientFactor('PVC', 'C', 40)).toBe(0.87);
    expect(ambientFactor('PVC', 'D1', 20)).toBe(1);
    expect(ambientFactor('XLPE', 'E', 42)).toBeCloseTo(Math.sqrt(48 / 60), 9);
    expect(ambientFactor('PVC', 'C', 75)).toBe(0);
    // The table is its formula, rounded.
    for (let c = 10; c <= 60; c += 5) expect(ambientFactor('PVC', 'C', c)).toBeCloseTo(Math.sqrt((70 - c) / 40), 1);
    expect(groupingFactor('C', 3, 'bunched', 'touching')).toBe(0.7);
    expect(groupingFactor('C', 10, 'bunched', 'touching')).toBe(0.45);
    expect(groupingFactor('E', 30, 'tray', 'touching')).toBe(0.72);
    expect(groupingFactor('D2', 2, 'bunched', '0.25 m')).toBe(0.9);
    expect(groupingFactor('D1', 2, 'bunched', 'diameter')).toBeNull();
    expect(soilFactor('D2', 1)).toBe(1.5);
    expect(soilFactor('D1', 2.25)).toBeCloseTo(1.025, 9);
    expect(soilFactor('C', 1)).toBe(1);
    expect(soilFactor('D2', 9)).toBe(0.9);
  });
  it('conductors', () => {
    expect([1.5, 16, 25, 35, 50, 70, 150, 240].map(protectiveSection)).toEqual([1.5, 16, 16, 16, 25, 35, 95, 120]);
    expect(resistanceAt20('Al', 6)).toBeNull();
    expect(typicalReactance(400)).toBe(typicalReactance(300));
  });
});
