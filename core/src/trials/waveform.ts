/** Currents and voltages of a trial as they run in time: a sine for each interval, continuous in angle, with the relays' and breakers' states beside. */
import { magnitude, type Complex } from '../linear/complex';
import type { ElementId } from '../model/fields';
import type { TrialAnswer } from './answer';

export interface Samples {
  readonly rateHz: number;
  /** Seconds from the beginning of the fault. */
  readonly fromS: number;
  readonly count: number;
  readonly analog: readonly {
    readonly name: string;
    readonly phase: string;
    readonly unit: 'A' | 'V';
    readonly values: Float64Array;
  }[];
  readonly binary: readonly { readonly name: string; readonly values: Uint8Array }[];
}

export interface SamplesAsked {
  readonly device: ElementId;
  readonly rateHz: number;
  /** Before the fault, in seconds. */
  readonly beforeS: number;
  /** Longest record, in seconds. */
  readonly longestS: number;
  readonly frequencyHz: number;
  nameOf(id: ElementId): string;
}

/** √2·|X|·cos(ωt + arg X) of the interval that each sample lies in; before the fault voltages alone, without load. Null for a device that took no part. */
export function samplesOf(answer: TrialAnswer, asked: SamplesAsked): Samples | null {
  const { device, rateHz, beforeS, longestS, frequencyHz } = asked;
  if (!answer.devices.includes(device)) return null;
  const endS = Math.min(answer.endS + 0.1, longestS);
  const count = Math.round((beforeS + endS) * rateHz) + 1;
  const omega = 2 * Math.PI * frequencyHz;
  const seen = answer.intervals.map(({ fromS, currents }) => ({
    fromS,
    own: currents.find((each) => each.device === device) ?? null,
  }));
  const hasVoltages = seen.some(({ own }) => own?.voltages);
  const at = (k: number) => k / rateHz - beforeS;
  const wave = (
    pick: (own: NonNullable<(typeof seen)[number]['own']>) => Complex | undefined,
    before: Complex | null,
  ) => {
    const values = new Float64Array(count);
    let interval = -1;
    for (let k = 0; k < count; k++) {
      const t = at(k);
      while (interval + 1 < seen.length && seen[interval + 1].fromS <= t + 1e-12) interval++;
      const own = interval < 0 ? null : seen[interval].own;
      const phasor = interval < 0 ? before : own ? pick(own) : null;
      if (phasor) values[k] = Math.SQRT2 * magnitude(phasor) * Math.cos(omega * t + Math.atan2(phasor.im, phasor.re));
    }
    return values;
  };
  const phases = ['L1', 'L2', 'L3'] as const;
  // Before the fault the voltages are balanced: the last of the three that are undisturbed after it tells no more than that.
  const first = seen.find(({ own }) => own?.voltages)?.own?.voltages;
  const size = first ? Math.max(...first.map(magnitude)) : 0;
  const analog = [
    ...phases.map((phase, k) => ({
      name: `${asked.nameOf(device)} I`,
      phase,
      unit: 'A' as const,
      values: wave(({ phases: three }) => three[k], null),
    })),
    ...(hasVoltages
      ? phases.map((phase, k) => ({
          name: `${asked.nameOf(device)} U`,
          phase,
          unit: 'V' as const,
          values: wave(({ voltages }) => voltages?.[k], {
            re: size * Math.cos((-2 * Math.PI * k) / 3),
            im: size * Math.sin((-2 * Math.PI * k) / 3),
          }),
        }))
      : []),
  ];
  return { rateHz, fromS: -beforeS, count, analog, binary: binaryOf(answer, asked, count, at) };
}

function binaryOf(
  { events, endS }: TrialAnswer,
  { device, nameOf }: SamplesAsked,
  count: number,
  at: (k: number) => number,
): Samples['binary'] {
  /** Times at which something begins and ends. */
  const spans = new Map<string, { from: number; to: number }[]>();
  const begin = (name: string, from: number) => {
    const list = spans.get(name) ?? [];
    list.push({ from, to: Infinity });
    spans.set(name, list);
  };
  const end = (name: string, to: number) => {
    const last = spans.get(name)?.at(-1);
    if (last && last.to === Infinity) last.to = to;
  };
  for (const { kind, atS, device: who, code = '', element } of events) {
    const what = code.split(' ')[0];
    if (who === device && kind === 'pickUp') begin(`${what} pickup`, atS);
    if (who === device && kind === 'dropOut') {
      end(`${what} pickup`, atS);
      end(`${what} trip`, atS);
    }
    if (who === device && kind === 'trip') begin(`${code} trip`, atS);
    if (kind === 'open' && element) begin(`${nameOf(element)} open`, atS);
    if (kind === 'close' && element) end(`${nameOf(element)} open`, atS);
  }
  void endS;
  return [...spans].map(([name, list]) => {
    const values = new Uint8Array(count);
    for (let k = 0; k < count; k++) {
      const t = at(k);
      if (list.some(({ from, to }) => t >= from && t < to)) values[k] = 1;
    }
    return { name, values };
  });
}
