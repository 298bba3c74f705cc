/** Differential functions: every fault inside is seen, none outside, in all conditions; polarity, bases and vector group show in the faults outside. */
import { placeIn } from '../../faults/names';
import { nameIn, settingsOf } from '../../model/network';
import type { Place } from '../../faults/solution/solve';
import { devicesOf, type Device } from '../../protection/device';
import { familyOf } from '../../protection/registry';
import type { DifferentialFunction } from '../../protection/differential/schema';
import { planeStudy, type PlanePoint } from '../../differential/plane';
import { stabilityAt } from '../../differential/stability';
import { finished } from '../../working/steps';
import { formula, quantityOf } from '../../working/trace';
import { checkRule, digits, type Check } from '../check';

interface Subject {
  readonly device: Device;
  readonly fn: DifferentialFunction;
}

/** Operating over threshold that a solid fault inside must reach. */
const sensitive = 1.5;
/** Delay that leaves the protection of a tap time, in seconds. */
const leastTapDelayS = 0.1;

export const differentialRule = checkRule<Subject>({
  id: 'settings.differential',
  title: 'Differential: faults inside and outside',
  advice: {
    'setting.differential.inside': 'Lower the pickup or the slopes, or put the 3I0 or I2 element in use.',
    'setting.differential.outside':
      'Look at the polarity of the current transformers, at the base currents, and at how each side is turned.',
    'setting.differential.saturation':
      'Raise the second slope, or take current transformers with a higher knee or a smaller burden.',
    'setting.differential.tap':
      'Raise the pickup above the fault behind the tapped transformer, or delay it so that the protection of the tap comes first.',
    'setting.differential.turned': 'Set the protected side of this input, or tick its polarity as reversed.',
    'setting.differential.ends': 'Name the relays at the other ends, and this one with them.',
  },
  subjects: ({ network }) =>
    devicesOf(network).flatMap((device) =>
      device.functions.flatMap((fn) =>
        fn.enabled && fn.family === 'differential'
          ? [
              {
                key: `${device.id} ${fn.id}`,
                value: { device, fn },
                on: [
                  device.element,
                  settingsOf(network),
                  ...fn.partners.map((id) => network.elements.get(id)),
                  ...device.inputs.map(({ through }) => network.elements.get(through)),
                ],
              },
            ]
          : [],
      ),
    ),
  test({ studies, conditions, network }, { device, fn }, trace): Check[] {
    const code = familyOf(fn).code(fn);
    const common = (id: string, codeOf: string) => ({
      id: `differential ${device.id} ${fn.id} ${id}`,
      rule: 'settings.differential',
      code: codeOf,
      subject: device.id,
      elements: [device.id],
    });
    const say = (id: string, codeOf: string, title: string, message: string): Check => ({
      ...common(id, codeOf),
      title,
      value: null,
      bound: null,
      unit: '',
      sense: 'atLeast',
      deciding: null,
      verdict: 'short',
      severity: 'error',
      message,
    });
    if (fn.sides.length < 2)
      return [
        say(
          'ends',
          'setting.differential.ends',
          `${device.name}, ${code}: sides`,
          `${device.name}, ${code} compares ${fn.sides.length} current${fn.sides.length === 1 ? '' : 's'}: it needs two at least`,
        ),
      ];
    const { region, weakest, nearest, largest, tapped } = finished(planeStudy(studies, conditions, device, fn));
    const placeText = (place: Place) => placeIn(network, place);
    const deciding = ({ condition, kind, place }: PlanePoint) => ({ condition, kind, place: place.element });
    const checks: Check[] = region.turned
      .filter(({ reversed }) => !reversed)
      .map(({ through }) => {
        const name = nameIn(network, through);
        return say(
          `turned ${through}`,
          'setting.differential.turned',
          `${device.name}, ${code}: protected side of ${name}`,
          `${device.name}, ${code}: ${name} looks away from what the others protect`,
        );
      });
    const worked = (point: PlanePoint) => {
      const worst = point.points.reduce((p, q) => (q.operating / q.threshold > p.operating / p.threshold ? q : p));
      trace.section(`${device.name}, ${code}: ${point.kind} at ${placeText(point.place)}`, device.id);
      trace.step(
        'M',
        formula`${quantityOf(`Iop ${worst.name}`, worst.operating, '× base')} / ${quantityOf('Ithr', worst.threshold, '× base')}`,
        worst.operating / worst.threshold,
      );
    };
    if (weakest) {
      worked(weakest);
      checks.push({
        ...common('inside', 'setting.differential.inside'),
        title: `${device.name}, ${code}: solid faults inside`,
        value: weakest.multiple,
        bound: sensitive,
        unit: '× threshold',
        sense: 'atLeast',
        deciding: deciding(weakest),
        verdict: weakest.multiple >= sensitive ? 'holds' : weakest.trips ? 'doubtful' : 'short',
        severity: weakest.trips ? 'warning' : 'error',
        message: `${device.name}, ${code}: a solid fault inside reaches ${digits(weakest.multiple)} × its threshold, ${placeText(weakest.place)}`,
      });
    }
    if (nearest) {
      worked(nearest);
      checks.push({
        ...common('outside', 'setting.differential.outside'),
        title: `${device.name}, ${code}: faults outside`,
        value: nearest.multiple,
        bound: 1,
        unit: '× threshold',
        sense: 'atMost',
        deciding: deciding(nearest),
        verdict: nearest.trips ? 'short' : 'holds',
        severity: 'error',
        message: `${device.name}, ${code}: a fault outside reaches ${digits(nearest.multiple)} × its threshold, ${placeText(nearest.place)}`,
      });
      if (!nearest.trips && largest) checks.push(...saturation(largest));
    }
    if (tapped) {
      worked(tapped);
      // With a delay it is the trials that tell whether the protection of the tap comes first.
      const isLeft = !tapped.trips || fn.delayS >= leastTapDelayS;
      checks.push({
        ...common('tap', 'setting.differential.tap'),
        title: `${device.name}, ${code}: faults behind a tap`,
        value: tapped.multiple,
        bound: 1,
        unit: '× threshold',
        sense: 'atMost',
        deciding: deciding(tapped),
        verdict: isLeft ? 'holds' : 'short',
        severity: 'error',
        message: `${device.name}, ${code}: a fault behind the tap reaches ${digits(tapped.multiple)} × its threshold, ${placeText(tapped.place)}`,
      });
    }
    return checks;

    function saturation({ condition, outage }: PlanePoint): Check[] {
      const state = { condition, outage };
      const found = region.outside.flatMap((place) =>
        (['3ph', '1ph'] as const).flatMap((kind) => stabilityAt(studies, state, device, fn, place, kind) ?? []),
      );
      const known = found.filter(({ unknown }) => unknown.length === 0);
      if (known.length === 0) return [];
      const worst = known.reduce((p, q) => (q.multiple > p.multiple ? q : p));
      return [
        {
          ...common('saturation', 'setting.differential.saturation'),
          title: `${device.name}, ${code}: faults outside with saturation`,
          value: worst.multiple,
          bound: 1,
          unit: '× threshold',
          sense: 'atMost',
          deciding: { condition, kind: worst.kind, place: worst.place.element },
          verdict: worst.holds ? 'holds' : 'short',
          severity: 'error',
          message: `${device.name}, ${code}: with saturation a fault outside reaches ${digits(worst.multiple)} × its threshold, ${placeText(worst.place)}`,
        },
      ];
    }
  },
});
