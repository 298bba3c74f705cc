/** Relays with their inputs, functions and trip circuits, and the grading charts kept with the project. */
import { z } from 'zod';
import { curvePointsSchema } from './curvePoints';
import { functionSchema } from '../protection/schemas';
import { choice, elementIdSchema, placed, quantity, reference, type ElementId } from './fields';
import { firstCircuit, firstInput } from './upgrade';

/** Where a relay measures: a current transformer with its direction, or a voltage transformer. */
export const relayInputSchema = z.object({
  /** Within the relay. */
  id: elementIdSchema,
  type: choice('Input', ['current', 'voltage']),
  element: reference(['currentTransformer', 'voltageTransformer'], 'field').nullable().meta({ title: 'Measures at' }),
  /** Terminal of the CT on the protected side, which is also the forward direction; 1 stands below on an unturned drawing. */
  towards: z
    .union([z.literal(0), z.literal(1)])
    .default(1)
    .meta({ title: 'Protected side' }),
  /** Connected with reversed polarity: directional and differential functions are turned round. */
  reversed: z.boolean().default(false).meta({ title: 'Polarity reversed' }),
});
export type RelayInput = z.infer<typeof relayInputSchema>;

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

/** A pair that must grade: the downstream device clears first. Null takes the project's required margin. */
export const gradingPairSchema = z.object({
  downstream: reference(['relay', 'switch'], 'entry'),
  upstream: reference(['relay', 'switch'], 'entry'),
  wantedMarginS: quantity('Required margin', 's', { min: 0, max: 10 }).nullable(),
});
export type GradingPair = z.infer<typeof gradingPairSchema>;

/** What a chart compares: phase currents, residual currents (3I0), or the negative sequence (I2). */
export const chartModes = ['phase', 'earth', 'negative'] as const;
export type Measured = (typeof chartModes)[number];

/** A stored time–current chart. */
export const gradingChartSchema = z.object({
  kind: z.literal('gradingChart'),
  id: elementIdSchema,
  name: z.string().trim().min(1).max(80),
  /** Devices shown: relays, and switches with a release of their own. */
  relays: z.array(reference(['relay', 'switch'], 'entry')).max(24),
  pairs: z.array(gradingPairSchema).max(60),
  referenceKv: quantity('Referred to', 'kV', { above: 0 }),
  mode: choice('Faults', chartModes),
  /** Whether bands are drawn around the curves. */
  bands: z.boolean().default(true).meta({ title: 'Bands' }),
  /** Lines of what is protected: damage, inrush, start, load. */
  limits: z
    .array(
      z.object({
        element: reference(['transformer', 'line', 'asynchronousMotor'], 'entry'),
        /** Which of its lines; one that it no longer has is not drawn. */
        line: z.string().max(40),
      }),
    )
    .max(40)
    .default([]),
  /** Curves by points that are of nothing in the network: an arc furnace, a machine still to come. Amperes at the voltage of the chart, seconds. */
  own: z
    .array(
      z.object({
        name: z.string().trim().min(1).max(60),
        kind: choice('Kind', ['device', 'damage', 'load']),
        points: curvePointsSchema,
      }),
    )
    .max(12)
    .default([]),
  /** Notes at places of the chart. */
  notes: z
    .array(
      z.object({
        text: z.string().trim().min(1).max(200),
        currentA: quantity('Current', 'A', { above: 0 }),
        timeS: quantity('Time', 's', { above: 0 }),
      }),
    )
    .max(40)
    .default([]),
  /** Range of the axes; null: by what is drawn. */
  range: z
    .object({
      fromA: quantity('From', 'A', { above: 0 }),
      toA: quantity('To', 'A', { above: 0 }),
      fromS: quantity('From', 's', { above: 0 }),
      toS: quantity('To', 's', { above: 0 }),
    })
    .nullable()
    .default(null),
});
export type GradingChart = z.infer<typeof gradingChartSchema>;

/** A chart with nothing on it but what is given. */
export const newChart = (
  id: ElementId,
  name: string,
  over: Partial<Omit<GradingChart, 'kind' | 'id' | 'name'>> & Pick<GradingChart, 'referenceKv'>,
): GradingChart => ({
  kind: 'gradingChart',
  id,
  name,
  relays: [],
  pairs: [],
  mode: 'phase',
  bands: true,
  limits: [],
  own: [],
  notes: [],
  range: null,
  ...over,
});
