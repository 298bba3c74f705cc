/**
 * Operating points in a record: root mean square values and angles of the fundamental over the full cycle before a moment (discrete Fourier, in samples as they come),
 * and the impedances that the phase-to-phase loops see there.
 */
import { add, divide, magnitude, scale, subtract, type Complex } from '../../linear/complex';
import type { ComtradeRecord, ReadChannel } from './read';

export const recordPhases = ['L1', 'L2', 'L3'] as const;
export type RecordPhase = (typeof recordPhases)[number];

/** A channel by what it measures; null for others. */
export function measured({ name, phase, unit }: Pick<ReadChannel, 'name' | 'phase' | 'unit'>): {
  readonly quantity: 'current' | 'voltage';
  readonly phase: RecordPhase;
  /** Of its unit in amperes or volts. */
  readonly factor: number;
} | null {
  const match = /^\s*(k|m)?(A|V)\s*$/.exec(unit);
  const index = phaseOf(phase) ?? phaseOf(/(?:^|[\s_-]|[IUV])(L[123]|[ABC123RST])\s*$/i.exec(name)?.[1] ?? '');
  if (!match || index === null) return null;
  const factor = match[1] === 'k' ? 1000 : match[1] === 'm' ? 0.001 : 1;
  return { quantity: match[2] === 'A' ? 'current' : 'voltage', phase: recordPhases[index], factor };
}

function phaseOf(text: string): 0 | 1 | 2 | null {
  const found = /^\s*(?:L?([123])|([ABC])|([RST]))\s*$/i.exec(text);
  if (!found) return null;
  if (found[1]) return (Number(found[1]) - 1) as 0 | 1 | 2;
  return (found[2] ? 'ABC' : 'RST').indexOf((found[2] ?? found[3]).toUpperCase()) as 0 | 1 | 2;
}

/** What turns a channel's values into primary amperes or volts. */
export const toPrimary = (channel: ReadChannel): number => {
  const { side, primary, secondary } = channel;
  const ratio = side === 'secondary' && primary > 0 && secondary > 0 ? primary / secondary : 1;
  return ratio * (measured(channel)?.factor ?? 1);
};

export interface OperatingPoint {
  /** Seconds after the first sample. */
  readonly atS: number;
  /** Fundamental in primary amperes and volts, root mean square; null where the record has no such channel. */
  readonly currents: Readonly<Record<RecordPhase, Complex | null>>;
  readonly voltages: Readonly<Record<RecordPhase, Complex | null>>;
  /** Ohms, primary, of the loops between two phases; null without currents or voltages. */
  readonly loops: readonly { readonly loop: string; readonly ohm: Complex | null }[];
}

/** Null where the cycle before that moment is not whole in the record. */
export function operatingPoint(record: ComtradeRecord, atS: number): OperatingPoint | null {
  const { seconds, frequencyHz } = record;
  const period = 1 / frequencyHz;
  const to = lastBefore(seconds, atS);
  const from = lastBefore(seconds, atS - period);
  // At least as many samples as the fundamental needs.
  if (from < 0 || to - from < 4) return null;
  const find = (quantity: 'current' | 'voltage', phase: RecordPhase): Complex | null => {
    const channel = record.channels.find((each) => {
      const what = measured(each);
      return what?.quantity === quantity && what.phase === phase;
    });
    return channel ? scale(fundamental(channel.values, seconds, from, to, frequencyHz), toPrimary(channel)) : null;
  };
  const of = (quantity: 'current' | 'voltage') =>
    Object.fromEntries(recordPhases.map((phase) => [phase, find(quantity, phase)])) as OperatingPoint['currents'];
  const currents = of('current');
  const voltages = of('voltage');
  const loops = (
    [
      ['L1', 'L2'],
      ['L2', 'L3'],
      ['L3', 'L1'],
    ] as const
  ).map(([p, q]) => {
    const [u, v, i, j] = [voltages[p], voltages[q], currents[p], currents[q]];
    const current = i && j ? subtract(i, j) : null;
    const isSeen = u && v && current && magnitude(current) > 1e-9;
    return { loop: `${p}-${q}`, ohm: isSeen ? divide(subtract(u, v), current) : null };
  });
  return { atS, currents, voltages, loops };
}

/** Index of the last sample at or before a moment; -1 before the first. */
function lastBefore(seconds: Float64Array, atS: number): number {
  let low = 0;
  let high = seconds.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (seconds[middle] <= atS + 1e-9) low = middle + 1;
    else high = middle;
  }
  return low - 1;
}

/** Over one cycle, by trapezoids between the samples; what is missing counts as nothing. Angle against a cosine at the first sample of the record. */
function fundamental(
  values: Float64Array,
  seconds: Float64Array,
  from: number,
  to: number,
  frequencyHz: number,
): Complex {
  let sum: Complex = { re: 0, im: 0 };
  for (let k = from; k < to; k++) {
    const width = seconds[k + 1] - seconds[k];
    for (const j of [k, k + 1]) {
      const value = Number.isFinite(values[j]) ? values[j] : 0;
      const angle = -2 * Math.PI * frequencyHz * seconds[j];
      sum = add(sum, { re: (value * width * Math.cos(angle)) / 2, im: (value * width * Math.sin(angle)) / 2 });
    }
  }
  const span = seconds[to] - seconds[from];
  return scale(sum, Math.SQRT2 / span);
}
