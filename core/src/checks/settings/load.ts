/** Pickup against the load that a device must carry, in the condition with the most of it. */
import type { TimeCurrent } from '../../protection/family';
import { mainInput, timeCurrents, type Device } from '../../protection/device';
import { heaviestShare } from '../../lowVoltage/demand';
import { loadRanges } from '../../studies/loads';
import { formula, quantityOf } from '../../working/trace';
import { checkRule, digits, type Check } from '../check';
import { deviceSubjects } from '../devices';

/** A relay resets a little below its pickup: load should lie so far below it. What holds all in its band begins where it may trip. */
export const requiredOverLoad = 1.1;

const required = ({ accuracy }: TimeCurrent): number => (accuracy ? requiredOverLoad : 1);

export const loadRule = checkRule<Device>({
  id: 'settings.load',
  title: 'Pickup above load',
  advice: {
    'setting.load': 'Raise the pickup, or take a protection that knows load from fault: direction, voltage, distance.',
  },
  subjects: (context) => deviceSubjects(context),
  test({ studies, conditions }, device, trace): Check[] {
    const input = mainInput(device);
    const functions = timeCurrents(device).filter(
      (fn) => fn.quantity === 'phase' && fn.input === input?.id && !fn.measure,
    );
    const flow = input && loadRanges(studies, conditions).get(`${input.through}:through`)?.largest;
    // Of a circuit with single-phase consumers the phase that carries most.
    const load = flow && { ...flow, ampere: flow.ampere * heaviestShare(studies.network, input.through) };
    if (functions.length === 0 || !load) return [];
    const by = functions.reduce((p, q) => (q.pickupA / required(q) < p.pickupA / required(p) ? q : p));
    const bound = required(by);
    // Without load there is nothing to carry.
    if (load.ampere < 1e-6) return [];
    const factor = by.pickupA / load.ampere;
    trace.section(`${device.name}, ${by.code}`, device.id);
    trace.step(
      'Ip/Iload',
      formula`${quantityOf('Ip', by.pickupA, 'A')} / ${quantityOf('Iload', load.ampere, 'A')}`,
      factor,
    );
    const holds = factor >= bound;
    return [
      {
        id: `load ${device.id}`,
        rule: 'settings.load',
        code: 'setting.load',
        subject: device.id,
        title: `Pickup of ${by.code} above load`,
        value: factor,
        bound,
        unit: '× load',
        sense: 'atLeast',
        deciding: { condition: load.condition },
        verdict: holds ? 'holds' : factor < 1 ? 'short' : 'doubtful',
        severity: factor < 1 ? 'error' : 'warning',
        message: `${device.name}, ${by.code}: pickup ${digits(by.pickupA)} A is ${factor.toFixed(2)} × the largest load, ${digits(load.ampere)} A (required ${bound} ×)`,
      },
    ];
  },
});
