/** The families of functions. A new one is a folder, its schema in `schemas` and a line here. */
import type { z } from 'zod';
import type { Family } from './family';
import { breakerFailure } from './breakerFailure';
import { differential } from './differential';
import { distance } from './distance';
import { fuse } from './fuse';
import { light } from './light';
import { miniature } from './miniature';
import { overcurrent } from './overcurrent';
import { overload } from './overload';
import { reclosing } from './reclosing';
import { residual } from './residual';
import { release } from './release';
import { thermal } from './thermal';
import { undercurrent } from './undercurrent';
import { admitSchema, type DeviceFunction, type FamilyId, type FunctionOf } from './schemas';

const builtIn: { readonly [F in FamilyId]: Family<FunctionOf<F>> } = {
  overcurrent,
  fuse,
  release,
  reclosing,
  overload,
  miniature,
  thermal,
  undercurrent,
  breakerFailure,
  distance,
  differential,
  light,
  residual,
};

const families = new Map<string, Family>(Object.entries(builtIn as unknown as Record<string, Family>));

/** Takes in a further family with the schema of its stored settings. */
export function registerFamily(family: Family, schema: z.ZodType): void {
  if (families.has(family.id)) throw new Error(`there is a family "${family.id}" already`);
  families.set(family.id, family);
  admitSchema(schema);
}

/** The family of a function, for its own settings: what it is asked about is of its own form. */
export function familyOf<F extends DeviceFunction>(fn: F): Family<F> {
  const family = families.get(fn.family);
  if (!family) throw new Error(`there is no family "${fn.family}"`);
  return family as unknown as Family<F>;
}

/** A family by its identifier. */
export const familyNamed = <F extends FamilyId>(id: F): Family<FunctionOf<F>> =>
  families.get(id) as unknown as Family<FunctionOf<F>>;

export const allFamilies = (): readonly Family[] => [...families.values()];
