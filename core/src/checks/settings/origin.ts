/** Whether the figures that a setting was proposed from are still what they were. */
import { figuresFor, type Figures } from '../../proposals/figures';
import { modeOf, subjectOf } from '../../proposals/slots';
import { originOf } from '../../proposals/origin';
import { timeCurrents, type Device } from '../../protection/device';
import { formula, quantityOf } from '../../working/trace';
import { checkRule, digits, type Check } from '../check';
import { behindIt, deviceSubjects } from '../devices';

/** A figure that has moved by so much, as a share, is told. */
export const movedBy = 0.05;
/** Of angles, which have no share: by so many degrees. */
export const turnedByDeg = 5;

export const originRule = checkRule<Device>({
  id: 'settings.origin',
  title: 'Figures of proposed settings',
  advice: { 'setting.moved': 'Propose anew in the stage Settings, or confirm the value with a reason.' },
  subjects: (context) =>
    deviceSubjects(context, behindIt(context)).filter(({ value }) =>
      value.functions.some(({ origins }) => origins !== undefined && origins.length > 0),
    ),
  test({ studies, conditions }, device, trace): Check[] {
    const found = new Map<string, Figures>();
    const told = new Set<string>();
    return timeCurrents(device).flatMap((curve): Check[] => {
      const { fn, code } = curve;
      if (!subjectOf(curve)) return [];
      const mode = modeOf(curve);
      let figures = found.get(mode);
      // Whether others follow is no figure of a load or a fault: all of them are looked at.
      if (!figures) found.set(mode, (figures = figuresFor(studies, conditions, device, mode, true)));
      return (fn.origins ?? []).flatMap(({ field }): Check[] => {
        const origin = originOf(fn, field);
        // A function with several curves has its settings once.
        const key = `${fn.id} ${field}`;
        if (!origin || origin.proposed !== null || told.has(key)) return [];
        told.add(key);
        const moved = origin.figures.flatMap((before) => {
          const now = figures[before.name]?.value;
          if (now === null || now === undefined) return [];
          if (before.unit === 'deg') {
            const by = Math.abs(now - before.value);
            return [{ before, now, by, bound: turnedByDeg, unit: '°' }];
          }
          return before.value === 0
            ? []
            : [{ before, now, by: 100 * Math.abs(now / before.value - 1), bound: 100 * movedBy, unit: '%' }];
        });
        const worst = moved.sort((p, q) => q.by / q.bound - p.by / p.bound)[0];
        if (!worst) return [];
        const { before, now, by, bound, unit } = worst;
        const [then, is] = [
          quantityOf(`${before.name} then`, before.value, before.unit),
          quantityOf(`${before.name} now`, now, before.unit),
        ];
        trace.section(`${device.name}, ${code}`, device.id);
        trace.step(
          'moved',
          unit === '%' ? formula`abs(${is} / ${then} - 1) · 100` : formula`abs(${is} - ${then})`,
          by,
          unit,
        );
        const signed = `${now > before.value ? '+' : '−'}${digits(by)} ${unit}`;
        return [
          {
            id: `origin ${device.id} ${fn.id} ${field}`,
            rule: 'settings.origin',
            code: 'setting.moved',
            subject: device.id,
            title: `Figures of ${code}, ${field}`,
            value: by,
            bound,
            unit,
            sense: 'atMost',
            deciding: null,
            verdict: by > bound ? 'doubtful' : 'holds',
            severity: 'warning',
            message: `${device.name}, ${code}: proposed on ${origin.on} from ${before.name} ${digits(before.value)} ${before.unit}, now ${digits(now)} ${before.unit} (${signed})`,
          },
        ];
      });
    });
  },
});
