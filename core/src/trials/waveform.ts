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
  { events }: TrialAnswer,
  { device, nameOf }: SamplesAsked,
  count: number,
  at: (k: number) => number,
): Samples['binary'] {
  /** Times at which something begins and ends, by the name of its channel; `of`: the function or switch that it is of. */
  const spans = new Map<string, { readonly of: string; readonly from: number; to: number }[]>();
  const begin = (name: string, of: string, from: number) => {
    const list = spans.get(name) ?? [];
    list.push({ of, from, to: Infinity });
    spans.set(name, list);
  };
  const end = (of: string, to: number) => {
    for (const each of [...spans.values()].flat()) if (each.of === of && each.to === Infinity) each.to = to;
  };
  for (const { kind, atS, device: who, fn, code = '', element } of events) {
    const own = `${who} ${fn}`;
    // Zones and parts of a function trip by names of their own, and drop out with it.
    if (who === device && kind === 'pickUp') begin(`${code.split(' ')[0]} pickup`, own, atS);
    if (who === device && kind === 'trip') begin(`${code} trip`, own, atS);
    if (who === device && kind === 'dropOut') end(own, atS);
    if (kind === 'open' && element) begin(`${nameOf(element)} open`, element, atS);
    if (kind === 'close' && element) end(element, atS);
  }
  return [...spans].map(([name, list]) => {
    const values = new Uint8Array(count);
    for (let k = 0; k < count; k++) {
      const t = at(k);
      if (list.some(({ from, to }) => t >= from && t < to)) values[k] = 1;
    }
    return { name, values };
  });
}
