/** Records: what is written is read, binary forms say the same as ASCII, and what is broken is told with its line. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { runs } from '../../test/runs';
import { isConfiguration, partsOfCff, readComtrade } from './read';
import { comtrade, type Recorded } from './write';

const bytes = (text: string) => new TextEncoder().encode(text);
const values = (size: number) =>
  fc.array(fc.double({ min: -2e4, max: 2e4, noNaN: true }), { minLength: size, maxLength: size });
const recorded: fc.Arbitrary<Recorded> = fc.integer({ min: 1, max: 40 }).chain((size) =>
  fc.record({
    station: fc.constant('FER 33'),
    device: fc.constant('Feeder relay'),
    frequencyHz: fc.constantFrom(50, 60),
    rateHz: fc.constantFrom(1000, 1200, 4000),
    triggerSample: fc.nat(size - 1),
    channels: fc.array(
      fc.record({
        name: fc.constantFrom('IL1', 'UL2'),
        phase: fc.constantFrom('A', 'B'),
        unit: fc.constant('A'),
        values: values(size),
      }),
      { minLength: 1, maxLength: 4 },
    ),
    states: fc.array(
      fc.record({
        name: fc.constant('Trip'),
        values: fc.array(fc.constantFrom(0, 1), { minLength: size, maxLength: size }),
      }),
      { maxLength: 20 },
    ),
  }),
);

/** The same data in a binary form. */
function binary(dat: string, analogs: number, width: 2 | 4): Uint8Array {
  const rows = dat
    .trim()
    .split('\r\n')
    .map((line) => line.split(',').map(Number));
  const digitals = rows[0].length - 2 - analogs;
  const length = 8 + analogs * width + 2 * Math.ceil(digitals / 16);
  const out = new DataView(new ArrayBuffer(rows.length * length));
  rows.forEach((row, j) => {
    out.setUint32(j * length, row[0], true);
    out.setUint32(j * length + 4, row[1], true);
    for (let k = 0; k < analogs; k++)
      if (width === 4) out.setInt32(j * length + 8 + 4 * k, row[2 + k], true);
      else out.setInt16(j * length + 8 + 2 * k, row[2 + k], true);
    for (let k = 0; k < digitals; k++) {
      const at = j * length + 8 + analogs * width + 2 * (k >> 4);
      out.setUint16(at, out.getUint16(at, true) | (row[2 + analogs + k] << (k & 15)), true);
    }
  });
  return new Uint8Array(out.buffer);
}

describe('a record', () => {
  it('is read as it was written, within the last digit of its integers', () => {
    fc.assert(
      fc.property(recorded, (given) => {
        const { cfg, dat } = comtrade(given);
        expect(isConfiguration(cfg)).toBe(true);
        const read = readComtrade(cfg, bytes(dat));
        expect(read).toMatchObject({
          station: given.station,
          device: given.device,
          frequencyHz: given.frequencyHz,
          revision: 1999,
          remarks: [],
        });
        expect(read.triggerS).toBeCloseTo(given.triggerSample / given.rateHz, 6);
        given.channels.forEach((channel, k) => {
          const largest = Math.max(...channel.values.map(Math.abs), 1e-9);
          channel.values.forEach((value, j) =>
            expect(Math.abs(read.channels[k].values[j] - value)).toBeLessThan(largest * 1.1e-5),
          );
        });
        given.states!.forEach(({ values: states }, k) =>
          expect([...read.states[k].values]).toEqual(Array.from(states)),
        );
        expect(read.seconds[read.seconds.length - 1]).toBeCloseTo(
          (given.channels[0].values.length - 1) / given.rateHz,
          9,
        );
      }),
      { seed: 3, numRuns: runs(60) },
    );
  });
  it('says the same in binary form, and in one file', () => {
    fc.assert(
      fc.property(recorded, (given) => {
        const { cfg, dat } = comtrade(given);
        const ascii = readComtrade(cfg, bytes(dat));
        const data = binary(dat, given.channels.length, 4);
        const other = readComtrade(cfg.replace('ASCII', 'BINARY32'), data);
        expect(other.channels.map((each) => [...each.values])).toEqual(ascii.channels.map((each) => [...each.values]));
        expect(other.states.map((each) => [...each.values])).toEqual(ascii.states.map((each) => [...each.values]));
        const head = bytes(
          `--- file type: CFG ---\r\n${cfg.replace('ASCII', 'BINARY32')}--- file type: DAT BINARY32: ${data.length} ---\r\n`,
        );
        const parts = partsOfCff(Uint8Array.from([...head, ...data]), (part) => new TextDecoder().decode(part))!;
        expect([...readComtrade(parts.cfg, parts.data).channels[0].values]).toEqual([...ascii.channels[0].values]);
      }),
      { seed: 4, numRuns: runs(30) },
    );
  });
  it('of sixteen bits keeps missing values apart', () => {
    const cfg = [
      'S,D,1999',
      '2,1A,1D',
      '1,IL1,A,,A,0.5,2,0,-32767,32767,400,1,S',
      '1,Trip,,,0',
      '50',
      '1',
      '1000,3',
      '01/01/2000,00:00:00.000000',
      '01/01/2000,00:00:00.001000',
      'BINARY',
      '1',
      '',
    ].join('\r\n');
    const data = binary('1,0,10,0\r\n2,1000,-32768,1\r\n3,2000,-20,1', 1, 2);
    const read = readComtrade(cfg, data);
    expect([...read.channels[0].values]).toEqual([7, NaN, -8]);
    expect([...read.states[0].values]).toEqual([0, 1, 1]);
    expect(read.channels[0]).toMatchObject({ primary: 400, secondary: 1, side: 'secondary', unit: 'A' });
    expect([...read.seconds]).toEqual([0, 0.001, 0.002]);
    // By the stamps, where no rate is told.
    expect([...readComtrade(cfg.replace('1\r\n1000,3', '0\r\n0,3'), data).seconds]).toEqual([0, 0.001, 0.002]);
    expect(readComtrade(cfg, data.subarray(0, 24)).remarks).toEqual(['the data hold 2 of 3 samples']);
  });
  it('that is broken is refused with its line', () => {
    const { cfg, dat } = comtrade({
      station: 'S',
      device: 'D',
      frequencyHz: 50,
      rateHz: 1000,
      triggerSample: 0,
      channels: [{ name: 'IL1', phase: 'A', unit: 'A', values: [1, 2] }],
    });
    for (const [config, data, why] of [
      [cfg.split('\r\n').slice(0, 3).join('\r\n'), dat, /ends at line 3/],
      [cfg.replace('1A', '99999A'), dat, /line 2: more than/],
      [cfg.replace('ASCII', 'WORDS'), dat, /"WORDS" is no form of data/],
      [cfg.replace(/,[\d.e-]+,0,0,/, ',much,0,0,'), dat, /line 3: "much" is no number/],
      [cfg, dat.replace(/,\d+\r\n$/, ',often\r\n'), /data, line 2: "often" is no number/],
      [cfg, dat.replace(/,\d+,\d+\r\n$/, '\r\n'), /data, line 2: 1 figures instead of 3/],
    ] as const)
      expect(() => readComtrade(config, bytes(data))).toThrow(why);
  });
});
