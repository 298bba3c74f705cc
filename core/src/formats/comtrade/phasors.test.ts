import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { magnitude, polar, type Complex } from '../../linear/complex';
import { measured, operatingPoint, toPrimary } from './phasors';
import { readComtrade, type ComtradeRecord, type ReadChannel } from './read';
import { comtrade } from './write';

const frequencyHz = 50;
const channel = (name: string, phase: string, unit: string, values: Float64Array, ratio = 1): ReadChannel => ({
  name,
  phase,
  unit,
  values,
  primary: ratio,
  secondary: 1,
  side: ratio === 1 ? 'primary' : 'secondary',
});
const record = (rateHz: number, count: number, channels: (t: Float64Array) => ReadChannel[]): ComtradeRecord => {
  const seconds = Float64Array.from({ length: count }, (_, k) => k / rateHz);
  return {
    station: '',
    device: '',
    revision: 1999,
    frequencyHz,
    seconds,
    triggerS: 0,
    channels: channels(seconds),
    states: [],
    remarks: [],
  };
};
const wave = (t: Float64Array, { re, im }: Complex, more: (t: number) => number = () => 0) =>
  t.map((s) => {
    const angle = 2 * Math.PI * frequencyHz * s;
    return Math.SQRT2 * (re * Math.cos(angle) - im * Math.sin(angle)) + more(s);
  });
const near = (found: Complex | null, wanted: Complex, share = 1e-3) => {
  expect(found).not.toBeNull();
  expect(magnitude({ re: found!.re - wanted.re, im: found!.im - wanted.im })).toBeLessThan(
    share * (magnitude(wanted) + 1e-9),
  );
};

describe('operating points of a record', () => {
  it('are the fundamental, whatever its size and angle, beside harmonics and a constant part', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 1, max: 1e5, noNaN: true }),
        fc.double({ min: -3, max: 3, noNaN: true }),
        (size, angle) => {
          const phasor = polar(size, angle);
          const made = record(4000, 400, (t) => [
            channel(
              'I',
              'A',
              'A',
              wave(t, phasor, (s) => size * (0.3 + 0.2 * Math.cos(2 * Math.PI * 150 * s))),
            ),
          ]);
          near(operatingPoint(made, 0.05)!.currents.L1, phasor);
        },
      ),
      { numRuns: 50 },
    );
  });
  it('see the impedance of the loop in primary ohms, by hand', () => {
    // 8 ohm at 60°, 100 A secondary at 600/1, 60 V at 33 kV / 110 V.
    const impedance = polar(8, Math.PI / 3);
    const current = (turn: number) => polar(600, turn);
    const voltage = (turn: number) => polar(600 * 8, turn + Math.PI / 3);
    const turns = [0, (-2 * Math.PI) / 3, (2 * Math.PI) / 3];
    const made = record(4800, 480, (t) => [
      ...turns.map((turn, k) => channel(`I${'ABC'[k]}`, 'ABC'[k], 'A', wave(t, polar(1, turn)), 600)),
      ...turns.map((turn, k) =>
        channel(`UL${k + 1}`, '', 'kV', wave(t, { re: voltage(turn).re / 1000, im: voltage(turn).im / 1000 })),
      ),
    ]);
    const point = operatingPoint(made, 0.06)!;
    near(point.currents.L2, current(turns[1]));
    near(point.voltages.L3, voltage(turns[2]));
    for (const { ohm } of point.loops) near(ohm, impedance);
  });
  it('come back from a record that was written and read again', () => {
    const seconds = Array.from({ length: 800 }, (_, k) => k / 4000);
    const phasors = [polar(1500, 0.3), polar(1500, -1.8), polar(800, 2.4)];
    const { cfg, dat } = comtrade({
      station: 'S',
      device: 'D',
      frequencyHz,
      rateHz: 4000,
      triggerSample: 100,
      channels: phasors.map((phasor, k) => ({
        name: `I ${'ABC'[k]}`,
        phase: 'ABC'[k],
        unit: 'A',
        values: Array.from(wave(Float64Array.from(seconds), phasor)),
      })),
    });
    const read = readComtrade(cfg, new TextEncoder().encode(dat));
    expect(read.triggerS).toBeCloseTo(0.025, 9);
    const { currents, voltages, loops } = operatingPoint(read, 0.15)!;
    [currents.L1, currents.L2, currents.L3].forEach((found, k) => near(found, phasors[k]));
    expect(voltages.L1).toBeNull();
    expect(loops.every(({ ohm }) => ohm === null)).toBe(true);
  });
  it('are none before a whole cycle, nor with too few samples', () => {
    const made = record(1000, 100, (t) => [channel('I', '1', 'A', wave(t, polar(1, 0)))]);
    expect(operatingPoint(made, 0.019)).toBeNull();
    expect(operatingPoint(made, 0.02)).not.toBeNull();
    expect(
      operatingPoint(
        record(100, 40, () => []),
        0.2,
      ),
    ).toBeNull();
  });
  it('know channels by phase or name, and their units', () => {
    const of = (name: string, phase: string, unit: string) => measured({ name, phase, unit });
    expect(of('x', 'L2', 'kA')).toEqual({ quantity: 'current', phase: 'L2', factor: 1000 });
    expect(of('x', 's', 'V')).toEqual({ quantity: 'voltage', phase: 'L2', factor: 1 });
    expect(of('Line IL3', '', 'A')).toEqual({ quantity: 'current', phase: 'L3', factor: 1 });
    expect(of('U_b', '', 'mV')).toEqual({ quantity: 'voltage', phase: 'L2', factor: 0.001 });
    for (const [name, phase, unit] of [
      ['IN', 'N', 'A'],
      ['3I0', '', 'A'],
      ['f', '1', 'Hz'],
      ['', '', ''],
    ])
      expect(of(name, phase, unit), name).toBeNull();
    expect(toPrimary(channel('I', 'A', 'A', new Float64Array(), 800))).toBe(800);
  });
});
