/**
 * Records of currents and voltages read: COMTRADE of 1991, 1999 and 2013 (IEEE C37.111, IEC 60255-24), a configuration with its data in ASCII, binary, 32-bit binary or float form, or both in one CFF file; clauses as
 * remembered. Values are scaled as the configuration says (a·x + b) and told in the channel's unit.
 */
import { FileRefusal } from '../format';

export interface ReadChannel {
  readonly name: string;
  readonly phase: string;
  readonly unit: string;
  /** One value a sample, NaN where it is missing; on the side that the record was made. */
  readonly values: Float64Array;
  /** Of the transformer in between: rated primary and secondary. */
  readonly primary: number;
  readonly secondary: number;
  readonly side: 'primary' | 'secondary';
}

export interface ReadState {
  readonly name: string;
  readonly values: Uint8Array;
}

export interface ComtradeRecord {
  readonly station: string;
  readonly device: string;
  readonly revision: 1991 | 1999 | 2013;
  readonly frequencyHz: number;
  /** Seconds of each sample after the first. */
  readonly seconds: Float64Array;
  /** When the trigger fell, in seconds after the first sample; null where the stamps cannot be read. */
  readonly triggerS: number | null;
  readonly channels: readonly ReadChannel[];
  readonly states: readonly ReadState[];
  readonly remarks: readonly string[];
}

const mostSamples = 20_000_000;
const mostChannels = 2000;

interface Analog {
  readonly name: string;
  readonly phase: string;
  readonly unit: string;
  readonly a: number;
  readonly b: number;
  readonly primary: number;
  readonly secondary: number;
  readonly side: 'primary' | 'secondary';
}

interface Configuration {
  readonly station: string;
  readonly device: string;
  readonly revision: ComtradeRecord['revision'];
  readonly analogs: readonly Analog[];
  readonly digitals: readonly string[];
  readonly frequencyHz: number;
  /** Samples a second up to the sample of that number; none: by the stamps. */
  readonly rates: readonly { readonly hz: number; readonly last: number }[];
  readonly started: string;
  readonly triggered: string;
  readonly form: 'ASCII' | 'BINARY' | 'BINARY32' | 'FLOAT32';
  /** By which time stamps are multiplied, in microseconds. */
  readonly stampFactor: number;
}

export const isConfiguration = (text: string): boolean =>
  /^[^\n]*\r?\n\s*\d+\s*,\s*\d+\s*A\s*,\s*\d+\s*D\s*\r?\n/i.test(text.slice(0, 2000));

/** Configuration and data. Throws a `FileRefusal` with the line where one is no record. */
export function readComtrade(cfg: string, data: Uint8Array): ComtradeRecord {
  const configuration = configurationOf(cfg);
  const { analogs, digitals, form } = configuration;
  const read = form === 'ASCII' ? asciiSamples(data, configuration) : binarySamples(data, configuration);
  const remarks: string[] = [];
  const promised = configuration.rates[configuration.rates.length - 1]?.last ?? read.count;
  if (read.count < promised) remarks.push(`the data hold ${read.count} of ${promised} samples`);
  const seconds = secondsOf(read, configuration);
  return {
    station: configuration.station,
    device: configuration.device,
    revision: configuration.revision,
    frequencyHz: configuration.frequencyHz,
    seconds,
    triggerS: triggerOf(configuration),
    channels: analogs.map(({ a, b, ...channel }, k) => ({
      ...channel,
      values: read.analogs[k].map((value) => a * value + b),
    })),
    states: digitals.map((name, k) => ({ name, values: read.digitals[k] })),
    remarks,
  };
}

/** Both parts of a combined file; the data as bytes behind their heading. */
export function partsOfCff(
  bytes: Uint8Array,
  decode: (bytes: Uint8Array) => string,
): { cfg: string; data: Uint8Array } | null {
  const text = Array.from(bytes.subarray(0, 4_000_000), (byte) => String.fromCharCode(byte)).join('');
  const heading = /---\s*file type:\s*([A-Z]+)(?:\s+([A-Z0-9]+))?\s*(?::\s*(\d+))?\s*---\r?\n/gi;
  let cfg: string | null = null;
  let data: Uint8Array | null = null;
  const found = [...text.matchAll(heading)];
  found.forEach((match, k) => {
    const from = match.index + match[0].length;
    const to = found[k + 1]?.index ?? bytes.length;
    if (/^CFG$/i.test(match[1])) cfg = decode(bytes.subarray(from, to));
    if (/^DAT$/i.test(match[1])) data = bytes.subarray(from, match[3] ? from + Number(match[3]) : to);
  });
  return cfg !== null && data !== null ? { cfg, data } : null;
}

function configurationOf(text: string): Configuration {
  const lines = text.split(/\r\n?|\n/);
  const at = (k: number): string[] => {
    if (k >= lines.length)
      throw new FileRefusal(`the configuration ends at line ${lines.length}, before it is complete`);
    return lines[k].split(',').map((cell) => cell.trim());
  };
  const figure = (cell: string | undefined, line: number, what: string): number => {
    const value = Number(cell);
    if (cell === undefined || cell === '' || !Number.isFinite(value))
      throw new FileRefusal(`configuration, line ${line + 1}: "${(cell ?? '').slice(0, 40)}" is no number (${what})`);
    return value;
  };
  const [station, device = '', year = '1991'] = at(0);
  const [, analogText = '', digitalText = ''] = at(1);
  const [analogCount, digitalCount] = [analogText, digitalText].map((cell) =>
    figure(cell.replace(/[AD]$/i, ''), 1, 'number of channels'),
  );
  if (analogCount > mostChannels || digitalCount > mostChannels || analogCount < 0 || digitalCount < 0)
    throw new FileRefusal(`configuration, line 2: more than ${mostChannels} channels`);
  let k = 2;
  const analogs = Array.from({ length: analogCount }, (): Analog => {
    const cells = at(k);
    const line = k++;
    const optional = (cell: string | undefined, usual: number) =>
      Number.isFinite(Number(cell)) && cell ? Number(cell) : usual;
    return {
      name: cells[1] ?? '',
      phase: cells[2] ?? '',
      unit: cells[4] ?? '',
      a: figure(cells[5], line, 'factor'),
      b: optional(cells[6], 0),
      primary: optional(cells[10], 1),
      secondary: optional(cells[11], 1),
      side: (cells[12] ?? 'S').toUpperCase() === 'P' ? 'primary' : 'secondary',
    };
  });
  const digitals = Array.from({ length: digitalCount }, () => at(k++)[1] ?? '');
  const frequencyHz = figure(at(k)[0], k++, 'line frequency');
  const rateCount = figure(at(k)[0], k++, 'number of sampling rates');
  // Nought says that the stamps alone tell when a sample was taken; a line with the last sample follows all the same.
  const rates = Array.from({ length: Math.min(Math.max(1, rateCount), 100) }, () => {
    const cells = at(k);
    const line = k++;
    return { hz: figure(cells[0], line, 'sampling rate'), last: figure(cells[1], line, 'last sample') };
  });
  const [started, triggered] = [lines[k] ?? '', lines[k + 1] ?? ''];
  const form = (lines[k + 2] ?? '').trim().toUpperCase();
  if (form !== 'ASCII' && form !== 'BINARY' && form !== 'BINARY32' && form !== 'FLOAT32')
    throw new FileRefusal(`configuration, line ${k + 3}: "${form.slice(0, 40)}" is no form of data`);
  const factor = Number(lines[k + 3]);
  return {
    station,
    device,
    revision: year.includes('2013') ? 2013 : year.includes('1999') ? 1999 : 1991,
    analogs,
    digitals,
    frequencyHz,
    rates,
    started,
    triggered,
    form,
    stampFactor: Number.isFinite(factor) && factor > 0 ? factor : 1,
  };
}

interface Samples {
  readonly count: number;
  readonly analogs: Float64Array[];
  readonly digitals: Uint8Array[];
  /** Microseconds before the factor; NaN where a sample has no stamp. */
  readonly stamps: Float64Array;
}

function emptySamples(count: number, { analogs, digitals }: Configuration): Samples {
  if (count > mostSamples || count * (analogs.length + digitals.length) > 20 * mostSamples)
    throw new FileRefusal(`there are more samples than ${mostSamples}`);
  return {
    count,
    analogs: analogs.map(() => new Float64Array(count)),
    digitals: digitals.map(() => new Uint8Array(count)),
    stamps: new Float64Array(count),
  };
}

/** A value of -32768 or of 99999 stands for one that is missing. */
const missingAscii = 99_999;

function asciiSamples(data: Uint8Array, configuration: Configuration): Samples {
  const { analogs, digitals } = configuration;
  const lines = lineTexts(data);
  const samples = emptySamples(lines.length, configuration);
  lines.forEach((line, j) => {
    const cells = line.split(',');
    if (cells.length < 2 + analogs.length + digitals.length)
      throw new FileRefusal(
        `data, line ${j + 1}: ${cells.length} figures instead of ${2 + analogs.length + digitals.length}`,
      );
    samples.stamps[j] = cells[1].trim() === '' ? NaN : Number(cells[1]);
    analogs.forEach((_, k) => {
      const text = cells[2 + k].trim();
      const value = text === '' ? NaN : Number(text);
      if (text !== '' && !Number.isFinite(value))
        throw new FileRefusal(`data, line ${j + 1}: "${text.slice(0, 40)}" is no number`);
      samples.analogs[k][j] = value === missingAscii ? NaN : value;
    });
    digitals.forEach((_, k) => (samples.digitals[k][j] = cells[2 + analogs.length + k].trim() === '1' ? 1 : 0));
  });
  return samples;
}

function lineTexts(data: Uint8Array): string[] {
  let text = '';
  const piece = 1 << 15;
  for (let k = 0; k < data.length; k += piece) text += String.fromCharCode(...data.subarray(k, k + piece));
  // A sign of its own ends some files.
  return text
    .split('\u001a', 1)[0]
    .split(/\r\n?|\n/)
    .filter((line) => line.trim() !== '');
}

const widths = { BINARY: 2, BINARY32: 4, FLOAT32: 4 } as const;

function binarySamples(data: Uint8Array, configuration: Configuration): Samples {
  const { analogs, digitals } = configuration;
  const form = configuration.form as keyof typeof widths;
  const width = widths[form];
  const words = Math.ceil(digitals.length / 16);
  const length = 8 + analogs.length * width + words * 2;
  const samples = emptySamples(Math.floor(data.length / length), configuration);
  const view = new DataView(data.buffer, data.byteOffset, data.byteLength);
  for (let j = 0; j < samples.count; j++) {
    const from = j * length;
    const stamp = view.getUint32(from + 4, true);
    samples.stamps[j] = stamp === 0xffffffff ? NaN : stamp;
    for (let k = 0; k < analogs.length; k++) {
      const at = from + 8 + k * width;
      const value =
        form === 'BINARY'
          ? view.getInt16(at, true)
          : form === 'BINARY32'
            ? view.getInt32(at, true)
            : view.getFloat32(at, true);
      const isMissing =
        form === 'BINARY' ? value === -0x8000 : form === 'BINARY32' ? value === -0x80000000 : !Number.isFinite(value);
      samples.analogs[k][j] = isMissing ? NaN : value;
    }
    for (let k = 0; k < digitals.length; k++)
      samples.digitals[k][j] = (view.getUint16(from + 8 + analogs.length * width + 2 * (k >> 4), true) >> (k & 15)) & 1;
  }
  return samples;
}

/** By the sampling rates; by the stamps where there is none. */
function secondsOf({ count, stamps }: Samples, { rates, stampFactor }: Configuration): Float64Array {
  const seconds = new Float64Array(count);
  if (rates[0].hz <= 0) {
    for (let j = 0; j < count; j++) seconds[j] = ((stamps[j] - stamps[0]) * stampFactor) / 1e6;
    return seconds;
  }
  let rate = 0;
  for (let j = 1; j < count; j++) {
    while (rate + 1 < rates.length && j >= rates[rate].last) rate++;
    seconds[j] = seconds[j - 1] + 1 / rates[rate].hz;
  }
  return seconds;
}

/** Seconds from the first sample to the trigger, by their stamps of the day. */
function triggerOf({ started, triggered }: Configuration): number | null {
  const clock = (text: string): number | null => {
    const match = /(\d{1,2}):(\d{1,2}):(\d{1,2}(?:\.\d+)?)/.exec(text);
    return match ? Number(match[1]) * 3600 + Number(match[2]) * 60 + Number(match[3]) : null;
  };
  const [from, to] = [clock(started), clock(triggered)];
  if (from === null || to === null) return null;
  const seconds = to - from;
  return seconds < -43_200 ? seconds + 86_400 : seconds;
}
