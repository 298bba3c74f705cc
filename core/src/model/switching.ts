/** Busbars and what joins terminals without impedance. */
import { arcPlaceSchema } from './arc';
import { installationSchema } from './circuit';
import { stationEarthingSchema } from './earthing';
import { z } from 'zod';
import { functionSchema } from '../protection/schemas';
import {
  choice,
  elementIdSchema,
  optionalQuantity,
  placed,
  quantity,
  rating,
  reference,
  shortTimeRating,
  withDefault,
} from './fields';

/** Busbar, with the ratings of the board that it belongs to where they are known. Connections attach anywhere along it; the one terminal is terminal 0. */
export const busSchema = z.object({
  kind: z.literal('bus'),
  ...placed,
  /** Direct current flows in a network of its own (`directPart`). */
  system: withDefault(choice('Current', ['ac', 'dc']), 'ac'),
  nominalKv: quantity('Nominal voltage', 'kV', { above: 0, max: 1500 }, { symbol: 'Un' }),
  ratedKv: rating('Rated voltage', 'kV', 1500, { symbol: 'Ur' }),
  ratedA: rating('Rated current', 'A', 1e5, { symbol: 'Ir' }),
  peakKa: rating('Rated peak withstand current', 'kA', 800, { symbol: 'Ip' }),
  ...shortTimeRating(1),
  length: z.number().min(20).max(10000).meta({ title: 'Length on the drawing', hidden: true }),
  /** What an arc here burns in; left out: usual for the voltage. */
  arc: arcPlaceSchema.meta({ title: 'Arc', hidden: true }).optional(),
  /** Of the station; one busbar of it is enough. */
  stationEarthing: stationEarthingSchema.meta({ title: 'Earthing of the station', hidden: true }).optional(),
  /** Of low voltage: how its circuits are judged; left out: as usual. */
  installation: installationSchema.meta({ title: 'Installation', hidden: true }).optional(),
});

/** Types of switch: IEC 60050-441; a recloser is a breaker with protection and reclosing of its own. */
export const switchTypes = ['breaker', 'disconnector', 'fuse', 'link', 'recloser', 'contactor'] as const;

/** Standards that the ratings of a switching device are given by; by voltage: IEC 60947-2 up to 1 kV, IEC 62271-100 above. */
export const ratingStandards = [
  'byVoltage',
  'iec62271',
  'iec60947',
  'c37Symmetrical',
  'c37Total',
  'c3713',
  'c3713Fused',
  'mouldedCase',
] as const;
export type RatingStandard = (typeof ratingStandards)[number];

const breaking = { shownWhen: { field: 'type', is: ['breaker', 'fuse', 'recloser', 'contactor'] } };
const breaker = { shownWhen: { field: 'type', is: ['breaker', 'recloser'] } };
const carrying = { shownWhen: { field: 'type', is: ['breaker', 'recloser', 'disconnector', 'link', 'contactor'] } };

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
  ratedBy: withDefault(choice('Ratings to', ratingStandards, breaker), 'byVoltage'),
  breakingKa: rating('Rated breaking current', 'kA', 300, { symbol: 'Isc', ...breaking }),
  serviceBreakingKa: rating('Service breaking capacity', 'kA', 300, { symbol: 'Ics', ...breaker }),
  makingKa: rating('Rated making current', 'kA', 800, {
    symbol: 'ip',
    shownWhen: { field: 'type', is: ['breaker', 'recloser', 'disconnector'] },
  }),
  ...shortTimeRating(1, carrying),
  timeConstantMs: withDefault(
    quantity('Rated d.c. time constant', 'ms', { above: 0, max: 500 }, { symbol: 'τ', ...breaker }),
    45,
  ),
  ratedCycles: withDefault(quantity('Rated interrupting time', 'cycles', { min: 2, max: 8 }, breaker), 5),
  minimumBreakingA: rating('Minimum breaking current', 'A', 1e5, {
    symbol: 'I3',
    shownWhen: { field: 'type', is: ['fuse'] },
  }),
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
  makingKa: rating('Rated making current', 'kA', 800, { symbol: 'ip' }),
  ...shortTimeRating(1),
});

/** Current transformer in the run of a feeder. */
export const currentTransformerSchema = z.object({
  kind: z.literal('currentTransformer'),
  ...placed,
  primaryA: quantity('Rated primary current', 'A', { above: 0, max: 100000 }),
  secondaryA: quantity('Rated secondary current', 'A', { above: 0, max: 10 }),
  shortTimeKa: rating('Rated short-time thermal current', 'kA', 300, { symbol: 'Ith' }),
  shortTimeS: withDefault(quantity('Rated duration of short circuit', 's', { above: 0, max: 10 }, { symbol: 'tk' }), 1),
  dynamicKa: rating('Rated dynamic current', 'kA', 800, { symbol: 'Idyn', help: 'Empty: 2.5 × Ith' }),
  accuracy: z.string().max(40).meta({ title: 'Accuracy class' }),
  ratedVa: withDefault(optionalQuantity('Rated output', 'VA', { above: 0, max: 1000 }, { symbol: 'Sr' }), null),
  windingOhm: withDefault(
    optionalQuantity('Winding resistance', 'Ω', { min: 0, max: 1000 }, { symbol: 'Rct', help: 'At 75 °C' }),
    null,
  ),
  kneeV: withDefault(
    optionalQuantity(
      'Knee point e.m.f.',
      'V',
      { above: 0, max: 20000 },
      { symbol: 'Ek', help: 'Class PX; empty: by the class' },
    ),
    null,
  ),
  kneeA: withDefault(
    optionalQuantity('Exciting current there', 'A', { above: 0, max: 50 }, { symbol: 'Ie', help: 'Secondary' }),
    null,
  ),
  remanencePercent: withDefault(
    quantity(
      'Remanence',
      '%',
      { min: 0, max: 95 },
      { symbol: 'Kr', help: 'Of the flux at the knee, taken at the worst sign' },
    ),
    0,
  ),
  burdenOhm: withDefault(
    optionalQuantity(
      'Burden connected',
      'Ω',
      { min: 0, max: 1000 },
      { symbol: 'Rb', help: 'Leads there and back, relay' },
    ),
    null,
  ),
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
