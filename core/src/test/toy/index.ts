/** A family that only tests know: a definite time that falls with the square of the current, with a band. One folder, one registration. */
import { z } from 'zod';
import { functionBase } from '../../model/deviceFunction';
import { ownInput, type Family } from '../../protection/family';
import { allFamilies, registerFamily } from '../../protection/registry';
import type { DeviceFunction } from '../../protection/schemas';

const toySchema = z.object({ family: z.literal('toy'), ...functionBase, level: z.number().min(1).max(1e5) });
export type ToyFunction = z.infer<typeof toySchema>;

const toy: Family<ToyFunction> = {
  id: 'toy',
  title: 'Toy',
  hosts: ['relay'],
  variants: [{ value: 'T', label: 'T toy' }],
  fresh: (id, _, input) => ({ family: 'toy', id, enabled: true, input, circuits: [], level: 100 }),
  code: () => 'T',
  name: () => 'Toy',
  settings: (fn) => [
    {
      field: 'level',
      title: 'Level',
      unit: 'A',
      value: fn.level,
      range: { min: 50, max: 5000, step: 50 },
      role: 'pickup',
    },
  ],
  withSetting: (fn, field, value) => ({ ...fn, [field]: value }),
  timeCurrents: (fn) => [
    {
      accuracy: null,
      clears: true,
      fn: fn as unknown as DeviceFunction,
      code: 'T',
      input: fn.input ?? ownInput,
      quantity: 'phase',
      pickupA: fn.level,
      assuredA: fn.level,
      cornersA: [fn.level],
      at: (currentA) => {
        const timeS = (fn.level / currentA) ** 2;
        return currentA > fn.level
          ? { earliestS: 0.9 * timeS, latestS: 1.1 * timeS }
          : { earliestS: Infinity, latestS: Infinity };
      },
    },
  ],
  sheet: (fn, { primaryA, secondaryA }) => ({
    code: 'T',
    curve: 'toy',
    characteristic: 'Toy',
    pickupIn: fn.level / primaryA,
    primaryA: fn.level,
    secondaryA: (fn.level / primaryA) * secondaryA,
    timeMultiplier: null,
    delayS: null,
  }),
};

// Test files share their modules: another one may have registered it already.
if (!allFamilies().some(({ id }) => (id as string) === 'toy')) registerFamily(toy as unknown as Family, toySchema);
