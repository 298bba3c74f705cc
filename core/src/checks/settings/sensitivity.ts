/** Pickup against the smallest fault that a device must see: at the far end of what it protects, in the condition with the least current. */
import { faultKindTitles } from '../../faults/kinds';
import { deviceFigures, kindsFor, nothingA, type FaultFigure } from '../../grading/figures';
import type { Condition } from '../../model/condition';
import type { Measured } from '../../model/chart';
import { quantityOfMode } from '../../protection/curve';
import { currentOf, timeCurrents, type Device } from '../../protection/device';
import type { TimeCurrent } from '../../protection/family';
import type { Studies } from '../../studies/studies';
import { formula, quantityOf } from '../../working/trace';
import { checkRule, type Check } from '../check';
import { deviceSubjects } from '../devices';

/** A device should see the smallest fault at its far end at least this many times its pickup. */
export const requiredSensitivity = 1.5;

export interface Sensitivity {
  readonly measured: Measured;
  readonly figure: FaultFigure;
  readonly currentA: number;
  readonly pickupA: number;
  readonly factor: number;
  /** The function with the lowest pickup. */
  readonly by: TimeCurrent;
}

/** Far-end sensitivity of a device for each quantity that it measures: smallest current seen over the most sensitive pickup. */
export function sensitivities(studies: Studies, device: Device, conditions: readonly Condition[]): Sensitivity[] {
  const functions = timeCurrents(device);
  if (functions.length === 0) return [];
  const figures = deviceFigures(studies, device, conditions).farEnd;
  return (['phase', 'earth', 'negative'] as const).flatMap((measured) => {
    const quantity = quantityOfMode[measured];
    const own = functions.filter((fn) => fn.quantity === quantity);
    const seen = (figure: FaultFigure) => currentOf(figure.seen, quantity);
    const relevant = figures.filter((figure) => kindsFor(measured).includes(figure.kind) && seen(figure) > nothingA);
    if (own.length === 0 || relevant.length === 0) return [];
    const figure = relevant.reduce((p, q) => (seen(q) < seen(p) ? q : p));
    const by = own.reduce((p, q) => (q.pickupA < p.pickupA ? q : p));
    const currentA = seen(figure);
    return [{ measured, figure, currentA, pickupA: by.pickupA, factor: currentA / by.pickupA, by }];
  });
}

export const sensitivityRule = checkRule<Device>({
  id: 'settings.sensitivity',
  title: 'Sensitivity at the far end',
  advice: { 'setting.sensitivity': 'Lower the pickup, or take another kind of protection.' },
  subjects: (context) => deviceSubjects(context),
  test: ({ studies, conditions }, device, trace) =>
    sensitivities(studies, device, conditions).map(({ measured, figure, currentA, pickupA, factor, by }): Check => {
      trace.section(`${device.name}, ${measured} faults at ${figure.placeName}`, device.id);
      trace.step('I/Ip', formula`${quantityOf('I', currentA, 'A')} / ${quantityOf('Ip', pickupA, 'A')}`, factor);
      const holds = factor >= requiredSensitivity;
      const sees = `${device.name}, ${by.code}: smallest ${faultKindTitles[figure.kind]} fault at ${figure.placeName} is ${factor.toFixed(2)} × pickup`;
      return {
        id: `sensitivity ${device.id} ${measured}`,
        rule: 'settings.sensitivity',
        code: 'setting.sensitivity',
        subject: device.id,
        title: `Sensitivity, ${measured} faults at ${figure.placeName}`,
        value: factor,
        bound: requiredSensitivity,
        unit: '× pickup',
        sense: 'atLeast',
        deciding: { condition: figure.condition, kind: figure.kind, place: figure.place },
        verdict: holds ? 'holds' : factor < 1 ? 'short' : 'doubtful',
        severity: factor < 1 ? 'error' : 'warning',
        message: `${sees} (required ${requiredSensitivity} ×)`,
      };
    }),
});
