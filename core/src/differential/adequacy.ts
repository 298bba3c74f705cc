/** Whether current transformers can give what each protection asks of them: required against built e.m.f., with the dimensioning factor of its accuracy time. */
import type { Condition } from '../model/condition';
import type { ElementId } from '../model/fields';
import { find, settingsOf } from '../model/network';
import { deviceFigures } from '../grading/figures';
import type { CurrentTransformer } from '../model/switching';
import { currentOf, devicesOf, type Device, type DeviceInput } from '../protection/device';
import type { DeviceFunction } from '../protection/schemas';
import { familyOf } from '../protection/registry';
import { ktd, limitFactor, limitingV, neededV, ratedBurdenOhm, timeOfLargest } from '../ratings/ctAdequacy';
import type { Studies } from '../studies/studies';
import { formula, quantityOf as figure, type Trace } from '../working/trace';

export interface Adequacy {
  readonly device: ElementId;
  readonly ct: ElementId;
  readonly fn: ElementId;
  readonly code: string;
  /** Largest current through it that the function must measure truly, in primary amperes. */
  readonly faultA: number;
  readonly condition: ElementId | null;
  readonly tpS: number;
  /** For how long it must stay true, in seconds. */
  readonly accuracyS: number;
  readonly kssc: number;
  readonly ktd: number;
  readonly requiredV: number;
  /** Null where the data do not tell. */
  readonly builtV: number | null;
  readonly holds: boolean | null;
}

/** Secondary time constant of closed cores, in seconds; typical. */
const usualTsS = 3;
/** Differential functions with restraint for heavy saturation need the first half period and a bit; distance zones their own time. */
const accuracyOf = (fn: DeviceFunction): number | null => {
  if (fn.family === 'differential') return fn.scheme === 'highImpedance' ? null : fn.operatingS;
  if (fn.family === 'distance') return fn.operatingS;
  return null;
};

const sources = { ktd: 'IEC 61869-2, Annex 2C (as remembered)', ealf: 'IEC 61869-2, 3.4.2 (as remembered)' };

/** All functions that need more than a symmetrical current; those of overcurrent are in the check of the accuracy limit. */
export function adequacies(
  studies: Studies,
  conditions: readonly Condition[],
  trace: Trace,
  only?: ElementId,
): Adequacy[] {
  const { network } = studies;
  return devicesOf(network)
    .filter(({ id, kind }) => kind === 'relay' && (only === undefined || id === only))
    .flatMap((device) =>
      device.functions.flatMap((fn): Adequacy[] => {
        const accuracyS = fn.enabled ? accuracyOf(fn) : null;
        if (accuracyS === null) return [];
        const inputs = device.inputs.filter(({ star, from }) => !star && !from);
        return inputs.flatMap((input) => {
          const ct = find(network, 'currentTransformer', input.through);
          const one = ct && adequacyOf(studies, conditions, device, fn, input, ct, accuracyS, trace);
          return one ? [one] : [];
        });
      }),
    );
}

function adequacyOf(
  studies: Studies,
  conditions: readonly Condition[],
  device: Device,
  fn: DeviceFunction,
  input: DeviceInput,
  ct: CurrentTransformer,
  accuracyS: number,
  trace: Trace,
): Adequacy | null {
  // Figures of a device are those of its first input: each current transformer is looked at as if it were the only one.
  const alone: Device = { ...device, inputs: [input], functions: [] };
  const { closeIn, behind } = deviceFigures(studies, alone, conditions);
  // What is compared must also hold for faults that only pass through.
  const faults = fn.family === 'differential' ? [...closeIn, ...behind] : closeIn;
  const largest = faults.reduce<(typeof faults)[number] | null>(
    (p, q) => (p && currentOf(p.seen, 'phase') >= currentOf(q.seen, 'phase') ? p : q),
    null,
  );
  if (!largest) return null;
  const faultA = currentOf(largest.seen, 'phase');
  const { frequencyHz } = settingsOf(studies.network);
  const study = studies.iec60909({ condition: largest.condition });
  const node = study.assembly.topology.nodeAt(ct.id, 0);
  const z = node === undefined ? null : study.assembly.positive.inverse()?.between([node]);
  const [re, im] = z ? [z.re[0], z.im[0]] : [1, 10];
  const tpS = Math.abs(im / Math.max(re, 1e-9)) / (2 * Math.PI * frequencyHz);
  const constants = { tpS, tsS: usualTsS, frequencyHz };
  const factor = ktd(constants, Math.min(accuracyS, timeOfLargest(constants)));
  const kssc = faultA / ct.primaryA;
  const { windingOhm, burdenOhm, ratedVa, secondaryA } = ct;
  const code = familyOf(fn).code(fn);
  const known = windingOhm !== null && burdenOhm !== null;
  const requiredV = known ? neededV(kssc, secondaryA, windingOhm, burdenOhm, factor) : NaN;
  const alf = limitFactor(ct.accuracy);
  const builtV = !known
    ? null
    : (ct.kneeV ??
      (alf !== null && ratedVa !== null
        ? limitingV(alf, secondaryA, windingOhm, ratedBurdenOhm(ratedVa, secondaryA))
        : null));
  trace.section(`${device.name}, ${code}: ${ct.name}`, device.id);
  const k = trace.step('Kssc', formula`${figure('I', faultA, 'A')} / ${figure('Ipr', ct.primaryA, 'A')}`, kssc);
  if (known) {
    const t = trace.step(
      'Ktd',
      formula`${figure('Ktd', factor)}`,
      factor,
      '',
      sources.ktd,
      `Tp ${Number((1000 * tpS).toPrecision(3))} ms, ${Number((1000 * accuracyS).toPrecision(3))} ms true`,
    );
    trace.step(
      'Eal',
      formula`${k} · ${t} · ${figure('Isr', secondaryA, 'A')} · (${figure('Rct', windingOhm, 'Ω')} + ${figure('Rb', burdenOhm, 'Ω')})`,
      requiredV,
      'V',
      sources.ealf,
    );
  }
  return {
    device: device.id,
    ct: ct.id,
    fn: fn.id,
    code,
    faultA,
    condition: largest.condition,
    tpS,
    accuracyS,
    kssc,
    ktd: factor,
    requiredV,
    builtV,
    holds: builtV === null || !known ? null : builtV >= requiredV,
  };
}
