/**
 * Current transformers against the current that decides: a definite-time function must see its pickup, a dependent one its time at the largest current, as far
 * as the time still falls. IEC 61869-2, 5.6.202, as remembered: ALF' = ALF·(Rct + Sr/Isr²)/(Rct + Rb).
 */
import { deviceFigures } from '../../grading/figures';
import type { ElementOf } from '../../model/element';
import { find, ofKind } from '../../model/network';
import { currentOf, deviceFrom, timeCurrents, type Device } from '../../protection/device';
import { edgeTime } from '../../protection/curve';
import { effectiveAlf, limitFactor, ratedBurdenOhm } from '../../ratings/ctAdequacy';
import { formula, quantityOf } from '../../working/trace';
import { checkRule, digits, type Check, type Subject } from '../check';

type Ct = ElementOf<'currentTransformer'>;

/** With the burden that is really connected; the one on the nameplate where winding, output or burden are not known. */
export function effectiveLimit({ accuracy, ratedVa, windingOhm, burdenOhm, secondaryA }: Ct): number | null {
  const alf = limitFactor(accuracy);
  if (alf === null || ratedVa === null || windingOhm === null || burdenOhm === null) return alf;
  return effectiveAlf(alf, windingOhm, ratedBurdenOhm(ratedVa, secondaryA), burdenOhm);
}

/** Beyond this multiple of pickup a dependent time falls no further. */
const lastMultiple = 20;

interface Measuring {
  readonly device: Device;
  readonly ct: Ct;
}

export const accuracyLimitRule = checkRule<Measuring>({
  id: 'equipment.accuracyLimit',
  title: 'Accuracy limit of a current transformer',
  advice: {
    'ct.saturation': 'Lower the burden, take a larger ratio or a higher accuracy limit, or lower the pickup.',
  },
  subjects: ({ network }) =>
    ofKind(network, 'relay').flatMap((relay) => {
      const device = deviceFrom(network, relay)!;
      return device.inputs.flatMap(({ through }): Subject<Measuring>[] => {
        const ct = find(network, 'currentTransformer', through);
        return ct ? [{ key: `${relay.id} ${through}`, value: { device, ct }, on: [relay, ct] }] : [];
      });
    }),
  test({ studies, conditions }, { device, ct }, trace): Check[] {
    const limit = effectiveLimit(ct);
    const input = device.inputs.find(({ through }) => through === ct.id)!;
    if (limit === null) return [];
    const { closeIn } = deviceFigures(studies, device, conditions);
    return timeCurrents(device)
      .filter((fn) => fn.input === input.id && fn.quantity === 'phase')
      .flatMap((fn): Check[] => {
        const largest = closeIn.reduce<(typeof closeIn)[number] | null>(
          (p, q) => (p && currentOf(p.seen, fn.quantity) >= currentOf(q.seen, fn.quantity) ? p : q),
          null,
        );
        const mostA = largest ? currentOf(largest.seen, fn.quantity) : 0;
        const definite = edgeTime(fn, 2 * fn.pickupA, 'nominal') === edgeTime(fn, 4 * fn.pickupA, 'nominal');
        // What never comes needs not be measured.
        if (!largest || mostA < fn.pickupA) return [];
        const decisiveA = definite ? fn.pickupA : Math.min(mostA, lastMultiple * fn.pickupA);
        const needed = decisiveA / ct.primaryA;
        trace.section(`${device.name}, ${fn.code}`, device.id);
        const alf = quantityOf('ALF', limitFactor(ct.accuracy)!);
        const { ratedVa, windingOhm, burdenOhm } = ct;
        if (ratedVa !== null && windingOhm !== null && burdenOhm !== null) {
          const rct = quantityOf('Rct', windingOhm, 'Ω');
          const [sr, isr, rb] = [
            quantityOf('Sr', ratedVa, 'VA'),
            quantityOf('Isr', ct.secondaryA, 'A'),
            quantityOf('Rb', burdenOhm, 'Ω'),
          ];
          trace.step(
            'ALF′',
            formula`${alf} · (${rct} + ${sr} / ${isr}^2) / (${rct} + ${rb})`,
            limit,
            '',
            'IEC 61869-2, 5.6.202 (as remembered)',
          );
        }
        trace.step(
          'I/Ipr',
          formula`${quantityOf('I', decisiveA, 'A')} / ${quantityOf('Ipr', ct.primaryA, 'A')}`,
          needed,
        );
        const holds = needed <= limit * (1 + 1e-9);
        const what = definite ? 'pickup' : 'current that decides its time';
        return [
          {
            id: `accuracy ${device.id} ${ct.id} ${fn.fn.id}`,
            rule: 'equipment.accuracyLimit',
            code: 'ct.saturation',
            subject: ct.id,
            elements: [ct.id, device.id],
            title: `${device.name}, ${fn.code}: accuracy limit of ${ct.name}`,
            value: needed,
            bound: limit,
            unit: '× Ipr',
            sense: 'atMost',
            deciding: { condition: largest.condition, kind: largest.kind, place: largest.place },
            verdict: holds ? 'holds' : definite ? 'short' : 'doubtful',
            severity: definite ? 'error' : 'warning',
            message: `${ct.name}: accuracy limit ${digits(limit)} × Ipr; ${device.name}, ${fn.code}: the ${what} is ${digits(needed)} × Ipr`,
            field: 'accuracy',
          },
        ];
      });
  },
});
