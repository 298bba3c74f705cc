/** Whether a device protects what lies right behind it against overload: it certainly trips before 1.45 times what that carries (IEC 60364-4-43, 433.1, as remembered). */
import { loadRatingOf } from '../../flow/rating';
import { nameOf, type Element, type ElementKind } from '../../model/element';
import { mainInput, timeCurrents, type Device } from '../../protection/device';
import { farEnds } from '../../protection/zone';
import { formula, quantityOf, type Trace } from '../../working/trace';
import { checkRule, digits, type Check } from '../check';
import { behindIt, deviceSubjects } from '../devices';

/** Conventional operating current over the continuous one. */
const conventional = 1.45;

/** What overload is judged of. */
const judged: ReadonlySet<ElementKind> = new Set(['line', 'transformer', 'asynchronousMotor']);

export const overloadRule = checkRule<Device>({
  id: 'settings.overload',
  title: 'Protects against overload',
  clause: 'IEC 60364-4-43, 433.1',
  advice: { 'setting.overload': 'Leave it to another device, or lower the pickup below what it carries on and on.' },
  subjects: (context) => deviceSubjects(context, behindIt(context)),
  test: ({ network, studies }, device, trace) =>
    farEnds(studies.max, device).flatMap(({ element, terminal }): Check[] => {
      const of = network.elements.get(element);
      const isSecondary = of?.kind === 'transformer' && terminal === 0;
      if (!of || !judged.has(of.kind) || isSecondary) return [];
      // The near terminal: a transformer is judged at its high-voltage side.
      const rating = loadRatingOf(of, 0);
      return rating ? overloadOf(device, of, rating.ratedA, trace) : [];
    }),
});

function overloadOf(device: Device, element: Element, carriedA: number, trace: Trace): Check[] {
  const main = mainInput(device);
  const functions = timeCurrents(device).filter(
    (fn) => fn.quantity === 'phase' && fn.input === main?.id && !fn.measure && !fn.fast,
  );
  if (functions.length === 0) return [];
  const by = functions.reduce((p, q) => (q.assuredA < p.assuredA ? q : p));
  const bound = conventional * carriedA;
  trace.section(`${device.name}, ${by.code}`, device.id);
  trace.step(
    'I2/Iz',
    formula`${quantityOf('I2', by.assuredA, 'A')} / ${quantityOf('Iz', carriedA, 'A')}`,
    by.assuredA / carriedA,
    '',
    'IEC 60364-4-43, 433.1',
    'as remembered',
  );
  const holds = by.assuredA <= bound;
  return [
    {
      id: `overload ${device.id} ${element.id}`,
      rule: 'settings.overload',
      code: 'setting.overload',
      subject: device.id,
      elements: [device.id, element.id],
      title: `Overload of ${nameOf(element)}`,
      value: by.assuredA,
      bound,
      unit: 'A',
      sense: 'atMost',
      deciding: null,
      // Overload may be left to the device on the other side: no fault of this one.
      verdict: holds ? 'holds' : 'notApplicable',
      severity: 'warning',
      message: `${device.name}, ${by.code}: certainly trips from ${digits(by.assuredA)} A; ${nameOf(element)} carries ${digits(carriedA)} A`,
    },
  ];
}
