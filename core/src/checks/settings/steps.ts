/** Values in use against the ranges and steps that the device really has. */
import type { Device } from '../../protection/device';
import { devicesOf } from '../../protection/device';
import { familyOf } from '../../protection/registry';
import { isSettable, snap } from '../../protection/settings/range';
import { checkRule, type Check, type Subject } from '../check';

/** Sizes are spread evenly in proportion. */
const nearestOf = (sizes: readonly number[], value: number): number =>
  sizes.reduce((p, q) => (Math.abs(Math.log(q / value)) < Math.abs(Math.log(p / value)) ? q : p));

export const stepsRule = checkRule<Device>({
  id: 'settings.steps',
  title: 'Available settings',
  advice: { 'setting.step': 'Take the nearest setting that the device has.' },
  subjects: ({ network }) =>
    devicesOf(network).map((device): Subject<Device> => ({ key: device.id, value: device, on: [device.element] })),
  test: (_, { id, name, functions }) =>
    functions
      .filter(({ enabled }) => enabled)
      .flatMap((fn) =>
        familyOf(fn)
          .settings(fn)
          .flatMap(({ field, title, unit, value, range, sizes }): Check[] => {
            if (!range && !sizes) return [];
            const holds = range ? isSettable(range, value) : sizes!.includes(value);
            const code = familyOf(fn).code(fn);
            const nearest = range ? snap(range, value) : nearestOf(sizes!, value);
            return [
              {
                id: `steps ${id} ${fn.id} ${field}`,
                rule: 'settings.steps',
                code: 'setting.step',
                subject: id,
                title: `${code} ${title.toLowerCase()} available`,
                value,
                bound: nearest,
                unit,
                sense: 'atLeast',
                deciding: null,
                verdict: holds ? 'holds' : 'short',
                severity: 'error',
                message: holds
                  ? `${name}, ${code}: ${title.toLowerCase()} ${value} is an available setting`
                  : `${name}, ${code}: ${title.toLowerCase()} ${value} is not an available setting; nearest ${nearest}`,
                field: `functions.${fn.id}.${field}`,
              },
            ];
          }),
      ),
});
