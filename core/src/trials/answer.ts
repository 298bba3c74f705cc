/** A trial as plain data, for a screen or a file: what happened, and what every interval looked like. */
import type { Complex } from '../linear/complex';
import type { ElementId } from '../model/fields';
import type { Phase } from '../faults/kinds';
import type { Problem } from '../model/problem';
import type { Trial } from '../model/trial';
import type { Studies } from '../studies/studies';
import type { TrialEvent, Outcome } from './event';
import type { Standing } from './play';
import { runTrial } from './trial';
import type { Judged } from './verdict';

/** Currents of one device over an interval, by phase at its first input. */
export interface DeviceCurrents {
  readonly device: ElementId;
  readonly phases: readonly [Complex, Complex, Complex];
  readonly phaseA: number;
  readonly residualA: number;
  readonly negativeA: number;
  /** Phase to earth, in volts; null without a voltage transformer. */
  readonly voltages: readonly [Complex, Complex, Complex] | null;
}

export interface TrialInterval {
  readonly fromS: number;
  readonly toS: number;
  readonly open: readonly ElementId[];
  readonly partly: readonly (readonly [ElementId, readonly Phase[]])[];
  readonly faultA: readonly (readonly [number, number, number])[];
  readonly fed: boolean;
  readonly standings: readonly Standing[];
  /** Of devices that pick up at any time. */
  readonly currents: readonly DeviceCurrents[];
  /** Busbars without supply that had it before, and loads. */
  readonly dead: readonly ElementId[];
  readonly lost: readonly ElementId[];
}

export interface TrialAnswer {
  readonly trial: Trial;
  readonly events: readonly TrialEvent[];
  readonly intervals: readonly TrialInterval[];
  readonly outcome: Outcome;
  readonly clearedS: number | null;
  readonly endS: number;
  readonly cutOff: boolean;
  readonly open: readonly ElementId[];
  readonly judged: Judged;
  /** Devices that took part, in the order in which they did. */
  readonly devices: readonly ElementId[];
}

export type TrialAnswered =
  { readonly ok: true; readonly answer: TrialAnswer } | { readonly ok: false; readonly problems: readonly Problem[] };

export function trialAnswer(studies: Studies, trial: Trial): TrialAnswered {
  const ran = runTrial(studies, trial);
  if (!ran.ok) return ran;
  const { played, judged, devices, supply } = ran.result;
  const before = new Set(supply.of(new Set()).buses);
  const part = [...new Set(played.events.flatMap(({ device }) => device ?? []))];
  const indexOf = new Map(devices.map(({ id }, k) => [id, k]));
  const intervals = played.intervals.map(({ fromS, open, partly, sight, standings }, k): TrialInterval => {
    const supplied = supply.of(new Set(open), new Map(partly));
    const left = new Set(supplied.buses);
    return {
      fromS,
      toS: played.intervals[k + 1]?.fromS ?? played.endS,
      open,
      partly,
      faultA: sight.faultA,
      fed: sight.fed,
      standings,
      currents: part.flatMap((device): DeviceCurrents[] => {
        const index = indexOf.get(device);
        const input = index === undefined ? undefined : devices[index].inputs.at(0);
        const seen = index === undefined || !input ? null : sight.seen(index)?.[input.id];
        if (!seen) return [];
        const phases = seen.vectors?.currents ?? [nought, nought, nought];
        const { phaseA, residualA, negativeA } = seen;
        return [{ device, phases, phaseA, residualA, negativeA, voltages: seen.vectors?.voltages ?? null }];
      }),
      dead: [...before].filter((id) => !left.has(id)),
      lost: supplied.lost,
    };
  });
  return {
    ok: true,
    answer: {
      trial,
      events: played.events,
      intervals,
      outcome: played.outcome,
      clearedS: played.clearedS,
      endS: played.endS,
      cutOff: played.cutOff,
      open: played.open,
      judged,
      devices: part,
    },
  };
}

const nought: Complex = { re: 0, im: 0 };

/** The interval that a time lies in; the last one after the end. */
export const intervalAt = (intervals: readonly TrialInterval[], atS: number): TrialInterval =>
  intervals.filter(({ fromS }) => fromS <= atS + 1e-9).at(-1) ?? intervals[0];
