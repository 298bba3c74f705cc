/** The curve of a device against what the transformer, line or cable that it protects bears: at every current it has cleared before. */
import { deviceFigures, kindsFor, nothingA } from '../../grading/figures';
import type { LimitCurve } from '../../limits/limit';
import { limitsOf } from '../../limits/limits';
import type { Element } from '../../model/element';
import { currentOf, mainInput, timeCurrents, type Device } from '../../protection/device';
import { latestClearing } from '../../protection/family';
import { timeOn } from '../../protection/pointCurve';
import { farEnds } from '../../protection/zone';
import { formula, quantityOf, type Trace } from '../../working/trace';
import { checkRule, digits, type Check, type Context } from '../check';
import { behindIt, deviceSubjects } from '../devices';

/** Lines that must not be reached, by what they are of. */
const judged = new Set<LimitCurve['line']>(['withstand', 'conductor']);
const steps = 48;

export const damageRule = checkRule<Device>({
  id: 'settings.damage',
  title: 'Below the damage limit',
  advice: {
    'setting.damage':
      'Lower the curve, or take a larger cross-section: what it protects is damaged before it has cleared.',
  },
  subjects: (context) => deviceSubjects(context, (device) => [...device.opens, ...behindIt(context)(device)]),
  test: (context, device, trace) =>
    farEnds(context.studies.max, device).flatMap(({ element, terminal }): Check[] => {
      const of = context.network.elements.get(element);
      // Behind a transformer's low-voltage side its limit stands at another voltage: the device on the other side is judged.
      if (!of || (of.kind === 'transformer' && terminal === 0)) return [];
      return againstLimits(context, device, of, trace);
    }),
});

function againstLimits(
  { network, studies, conditions }: Context,
  device: Device,
  element: Element,
  trace: Trace,
): Check[] {
  const { topology } = studies.max.assembly;
  const main = mainInput(device)!;
  const node = topology.nodeAt(main.through, main.towards);
  const nominalKv = node === undefined ? null : topology.nodes[node].nominalKv;
  const functions = timeCurrents(device).filter(
    (fn) => fn.quantity === 'phase' && fn.input === main.id && !fn.measure && !fn.fast,
  );
  if (functions.length === 0 || nominalKv === null) return [];
  const largest = deviceFigures(studies, device, conditions)
    .closeIn.filter(({ kind }) => kindsFor('phase').includes(kind))
    .reduce<{ ampere: number; condition: Check['deciding'] } | null>((most, { kind, condition, seen }) => {
      const ampere = currentOf(seen, 'phase');
      return ampere > (most?.ampere ?? nothingA) ? { ampere, condition: { condition, kind } } : most;
    }, null);
  if (!largest) return [];
  const clearing = (currentA: number) =>
    functions
      .map((fn) => ({ fn, timeS: latestClearing(fn, currentA, device.openingS) }))
      .reduce((p, q) => (q.timeS < p.timeS ? q : p));
  return limitsOf(network, element, nominalKv)
    .filter(({ line }) => judged.has(line))
    .flatMap((limit): Check[] => {
      const fromA = limit.points[0][0];
      const toA = Math.min(limit.points[limit.points.length - 1][0], largest.ampere);
      if (toA <= fromA) return [];
      let worst: { currentA: number; share: number; limitS: number; timeS: number; code: string } | null = null;
      for (let k = 0; k <= steps; k++) {
        const currentA = fromA * (toA / fromA) ** (k / steps);
        const { fn, timeS } = clearing(currentA);
        const limitS = timeOn(limit.points, currentA);
        const share = timeS / limitS;
        if (worst === null || share > worst.share) worst = { currentA, share, limitS, timeS, code: fn.code };
      }
      const { currentA, share, limitS, timeS, code } = worst!;
      const holds = share <= 1;
      trace.section(`${device.name}, ${code}: ${limit.title}`, device.id);
      trace.step(
        'tclear/tlimit',
        formula`${quantityOf('tclear', timeS, 's')} / ${quantityOf('tlimit', limitS, 's')}`,
        share,
        '',
        limit.source,
        limit.mark === '' ? undefined : limit.mark,
      );
      const cleared = Number.isFinite(timeS) ? `clears in ${digits(timeS)} s` : 'does not operate';
      return [
        {
          id: `damage ${device.id} ${element.id} ${limit.line}`,
          rule: 'settings.damage',
          code: 'setting.damage',
          subject: device.id,
          elements: [device.id, element.id],
          title: `${limit.title} cleared before`,
          value: Number.isFinite(timeS) ? timeS : null,
          bound: limitS,
          unit: 's',
          sense: 'atMost',
          deciding: largest.condition,
          verdict: holds ? 'holds' : 'doubtful',
          severity: 'warning',
          message: `${device.name} at ${digits(currentA)} A: ${cleared}; ${limit.title}${limit.mark === '' ? '' : ` (${limit.mark})`} is ${digits(limitS)} s`,
        },
      ];
    });
}
