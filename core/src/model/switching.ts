/** Busbars and what joins terminals without impedance. */
import { z } from 'zod';
import { functionSchema } from '../protection/schemas';
import { choice, elementIdSchema, optionalQuantity, placed, quantity, reference, withDefault } from './fields';

/** Busbar, with the ratings of the board that it belongs to where they are known. Connections attach anywhere along it; the one terminal is terminal 0. */
export const busSchema = z.object({
  kind: z.literal('bus'),
  ...placed,
  nominalKv: quantity('Nominal voltage', 'kV', { above: 0, max: 1500 }, { symbol: 'Un' }),
  ratedKv: withDefault(optionalQuantity('Rated voltage', 'kV', { above: 0, max: 1500 }, { symbol: 'Ur' }), null),
  ratedA: withDefault(optionalQuantity('Rated current', 'A', { above: 0 }, { symbol: 'Ir' }), null),
  peakKa: withDefault(
    optionalQuantity('Rated peak withstand current', 'kA', { above: 0, max: 800 }, { symbol: 'Ip' }),
    null,
  ),
  shortTimeKa: withDefault(
    optionalQuantity('Rated short-time withstand current', 'kA', { above: 0, max: 300 }, { symbol: 'Ik' }),
    null,
  ),
  shortTimeS: withDefault(quantity('Rated duration of short circuit', 's', { above: 0, max: 5 }, { symbol: 'tk' }), 1),
  length: z.number().min(20).max(10000).meta({ title: 'Length on the drawing', hidden: true }),
});

/** Types of switch: IEC 60050-441; a recloser is a breaker with protection and reclosing of its own. */
export const switchTypes = ['breaker', 'disconnector', 'fuse', 'link', 'recloser', 'contactor'] as const;

/**
 * Breaker, disconnector, fuse, bolted link, recloser or contactor; open or closed, without impedance. A fuse, a breaker with a release, a recloser and a
 * motor starter are protective devices of their own: their functions measure the current through the switch and open it.
 */
export const switchSchema = z.object({
  kind: z.literal('switch'),
  ...placed,
  type: choice('Type', switchTypes),
  closed: z.boolean().meta({ title: 'Closed' }),
  ratedKv: withDefault(optionalQuantity('Rated voltage', 'kV', { above: 0, max: 1500 }, { symbol: 'Ur' }), null),
  ratedA: optionalQuantity('Rated current', 'A', { above: 0 }),
  breakingKa: withDefault(
    optionalQuantity(
      'Rated breaking current',
      'kA',
      { above: 0, max: 300 },
      { symbol: 'Isc', shownWhen: { field: 'type', is: ['breaker', 'fuse', 'recloser', 'contactor'] } },
    ),
    null,
  ),
  openingTimeS: optionalQuantity(
    'Opening time',
    's',
    { min: 0, max: 5 },
    { shownWhen: { field: 'type', is: ['breaker', 'recloser', 'contactor'] } },
  ),
  /** What protects by this switch itself. */
  functions: z.array(functionSchema).max(8).default([]).meta({ title: 'Functions', hidden: true }),
});

/** Earthing switch: joins its three phases to earth while it is closed. */
export const earthingSwitchSchema = z.object({
  kind: z.literal('earthingSwitch'),
  ...placed,
  closed: z.boolean().meta({ title: 'Closed (earthed)' }),
});

/** Current transformer in the run of a feeder. */
export const currentTransformerSchema = z.object({
  kind: z.literal('currentTransformer'),
  ...placed,
  primaryA: quantity('Rated primary current', 'A', { above: 0, max: 100000 }),
  secondaryA: quantity('Rated secondary current', 'A', { above: 0, max: 10 }),
  accuracy: z.string().max(40).meta({ title: 'Accuracy class' }),
});

/** Voltage transformer between the phases and earth of a bus or a run (IEC 61869-3); it draws no current that counts. */
export const voltageTransformerSchema = z.object({
  kind: z.literal('voltageTransformer'),
  ...placed,
  primaryKv: quantity('Rated primary voltage', 'kV', { above: 0, max: 1500 }, { help: 'Between phases' }),
  secondaryV: quantity('Rated secondary voltage', 'V', { above: 0, max: 1000 }, { help: 'Between phases' }),
  accuracy: z.string().max(40).meta({ title: 'Accuracy class' }),
});

const endSchema = z.object({
  element: reference([], 'owner'),
  /** Index of the element's terminal. */
  terminal: z.int().min(0).max(2),
  /** Only at a bus: distance from its start, in drawing units. */
  at: z.number().min(0).max(10000).optional(),
});

/** A conductor without impedance between two terminals. */
export const connectionSchema = z.object({
  kind: z.literal('connection'),
  id: elementIdSchema,
  from: endSchema,
  to: endSchema,
});

export type Bus = z.infer<typeof busSchema>;
export type Switch = z.infer<typeof switchSchema>;
export type EarthingSwitch = z.infer<typeof earthingSwitchSchema>;
export type CurrentTransformer = z.infer<typeof currentTransformerSchema>;
export type VoltageTransformer = z.infer<typeof voltageTransformerSchema>;
export type Connection = z.infer<typeof connectionSchema>;
export type ConnectionEnd = z.infer<typeof endSchema>;
