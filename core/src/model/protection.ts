/** Relays with their inputs, functions and trip circuits. */
import { z } from 'zod';
import { functionSchema } from '../protection/schemas';
import { choice, elementIdSchema, placed, quantity, reference, withDefault, type ElementId } from './fields';
import { firstCircuit, firstInput } from './upgrade';

/** Elements whose star point can be measured at. */
export const starPointKinds = [
  'transformer',
  'threeWindingTransformer',
  'earthingTransformer',
  'synchronousMachine',
  'asynchronousMotor',
] as const;

/**
 * Where a relay measures: a current transformer with its direction, a voltage transformer; the current in the star point of a machine or transformer, or the currents of the
 * windings of a machine on the side of its star point, by current transformers that are not drawn.
 */
export const relayInputSchema = z.object({
  /** Within the relay. */
  id: elementIdSchema,
  type: choice('Input', ['current', 'voltage', 'neutral', 'winding']),
  element: reference(['currentTransformer', 'voltageTransformer', ...starPointKinds], 'field')
    .nullable()
    .meta({ title: 'Measures at' }),
  /** At a star point: the side of a transformer, by its terminal, and the current transformer there. */
  star: withDefault(
    z
      .object({
        side: z.int().min(0).max(2).meta({ title: 'Side' }),
        primaryA: quantity('Rated primary current', 'A', { above: 0, max: 1e5 }),
        secondaryA: quantity('Rated secondary current', 'A', { above: 0, max: 10 }),
      })
      .nullable()
      .meta({ title: 'At the star point' }),
    null,
  ),
  /** Terminal of the CT on the protected side, which is also the forward direction; 1 stands below on an unturned drawing. */
  towards: z
    .union([z.literal(0), z.literal(1)])
    .default(1)
    .meta({ title: 'Protected side' }),
  /** Connected with reversed polarity: directional and differential functions are turned round. */
  reversed: z.boolean().default(false).meta({ title: 'Polarity reversed' }),
});
export type RelayInput = z.infer<typeof relayInputSchema>;

export const isStarPoint = ({ type }: Pick<RelayInput, 'type'>): boolean => type === 'neutral' || type === 'winding';

/** A trip circuit: the breakers that it opens together. */
export const tripCircuitSchema = z.object({
  /** Within the relay. */
  id: elementIdSchema,
  name: z.string().trim().min(1).max(40).meta({ title: 'Name' }),
  breakers: z
    .array(reference(['switch'], 'entry'))
    .max(20)
    .meta({ title: 'Opens' }),
});
export type TripCircuit = z.infer<typeof tripCircuitSchema>;

export const relaySchema = z.object({
  kind: z.literal('relay'),
  ...placed,
  device: z.string().max(80).meta({ title: 'Device', hidden: true }),
  inputs: z.array(relayInputSchema).max(12).meta({ title: 'Inputs', hidden: true }),
  circuits: z.array(tripCircuitSchema).max(12).meta({ title: 'Trip circuits', hidden: true }),
  functions: z.array(functionSchema).max(32).meta({ title: 'Functions', hidden: true }),
});
export type Relay = z.infer<typeof relaySchema>;

/** A relay's only current input, as most have it. */
export const currentInput = (element: ElementId | null, towards: 0 | 1 = 1): RelayInput => ({
  id: firstInput as ElementId,
  type: 'current',
  element,
  towards,
  reversed: false,
  star: null,
});

/** A relay's only trip circuit, as most have it. */
export const tripCircuit = (breakers: readonly ElementId[]): TripCircuit => ({
  id: firstCircuit as ElementId,
  name: 'Trip',
  breakers: [...breakers],
});

/** The current transformer of a relay's first current input. */
export const firstCtOf = ({ inputs }: Pick<Relay, 'inputs'>): ElementId | null =>
  inputs.find(({ type }) => type === 'current')?.element ?? null;

/** All breakers that a relay opens. */
export const breakersOf = ({ circuits }: Pick<Relay, 'circuits'>): ElementId[] => [
  ...new Set(circuits.flatMap(({ breakers }) => breakers)),
];
