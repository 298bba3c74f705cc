/**
 * Stored settings of all families of functions: the part of protection that the model itself stands on. A family puts its schema here and itself into
 * `registry`; the compiler asks for the second.
 */
import { z } from 'zod';
import { breakerFailureFunctionSchema } from './breakerFailure/schema';
import { differentialFunctionSchema } from './differential/schema';
import { distanceFunctionSchema } from './distance/schema';
import { fuseFunctionSchema } from './fuse/schema';
import { lightFunctionSchema } from './light/schema';
import { miniatureFunctionSchema } from './miniature/schema';
import { overcurrentFunctionSchema } from './overcurrent/schema';
import { overloadFunctionSchema } from './overload/schema';
import { reclosingFunctionSchema } from './reclosing/schema';
import { releaseFunctionSchema } from './release/schema';
import { thermalFunctionSchema } from './thermal/schema';
import { residualFunctionSchema } from './residual/schema';
import { undercurrentFunctionSchema } from './undercurrent/schema';

const builtIn = [
  overcurrentFunctionSchema,
  fuseFunctionSchema,
  releaseFunctionSchema,
  reclosingFunctionSchema,
  overloadFunctionSchema,
  miniatureFunctionSchema,
  thermalFunctionSchema,
  undercurrentFunctionSchema,
  breakerFailureFunctionSchema,
  distanceFunctionSchema,
  differentialFunctionSchema,
  lightFunctionSchema,
  residualFunctionSchema,
] as const;

export type DeviceFunction = z.infer<(typeof builtIn)[number]>;
export type FamilyId = DeviceFunction['family'];
export type FunctionOf<F extends FamilyId> = Extract<DeviceFunction, { family: F }>;

type FunctionSchema = z.ZodObject<{ family: z.ZodLiteral<string> } & z.ZodRawShape>;
const schemas: FunctionSchema[] = [...(builtIn as unknown as FunctionSchema[])];
let union: z.ZodType<DeviceFunction> | null = null;

/** Takes in the schema of a further family. */
export function admitSchema(schema: z.ZodType): void {
  schemas.push(schema as FunctionSchema);
  union = null;
}

const anyFamily = (): z.ZodType<DeviceFunction> =>
  (union ??= z.discriminatedUnion('family', schemas as never) as unknown as z.ZodType<DeviceFunction>);

/** One function of any family. */
export const functionSchema: z.ZodType<DeviceFunction> = z.lazy(anyFamily);
// A lazy schema keeps what it was first given; a family that is admitted later counts all the same.
Object.defineProperty(functionSchema._zod, 'innerType', { get: anyFamily });
