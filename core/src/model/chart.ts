/** The grading charts kept with the project: what stands on them, how it is drawn, and the states of settings that are tried or remembered. */
import { z } from 'zod';
import { functionSchema } from '../protection/schemas';
import { curvePointsSchema } from './curvePoints';
import { choice, elementIdSchema, quantity, reference, type ElementId } from './fields';
import { switchTypes } from './switching';

/** A pair that must grade: the downstream device clears first. Null takes the project's required margin. */
export const gradingPairSchema = z.object({
  downstream: reference(['relay', 'switch'], 'entry'),
  upstream: reference(['relay', 'switch'], 'entry'),
  wantedMarginS: quantity('Required margin', 's', { min: 0, max: 10 }).nullable(),
});
export type GradingPair = z.infer<typeof gradingPairSchema>;

/** A pair that a person has decided on against what is found from the network, with the reason. */
export const pairRulingSchema = z.object({
  downstream: reference(['relay', 'switch'], 'entry'),
  upstream: reference(['relay', 'switch'], 'entry'),
  /** Need not grade, or must though it was not found. */
  graded: z.boolean(),
  reason: z.string().trim().min(1, 'a reason is needed').max(300),
});
export type PairRuling = z.infer<typeof pairRulingSchema>;

/** What a chart compares: phase currents, residual currents (3I0), both on the same axes, or the negative sequence (I2). */
export const chartModes = ['phase', 'earth', 'both', 'negative'] as const;
export type ChartMode = (typeof chartModes)[number];
export type Measured = Exclude<ChartMode, 'both'>;

/** What a chart compares, each judged by itself. */
export const modesOf = ({ mode }: { readonly mode: ChartMode }): readonly Measured[] =>
  mode === 'both' ? ['phase', 'earth'] : [mode];

/** What is drawn over the current: time, energy let through, peak let through. */
export const chartPlots = ['time', 'energy', 'cutOff'] as const;
export type ChartPlot = (typeof chartPlots)[number];

/** Currents that are marked on the axis: largest and smallest initial fault current, with its peak over √2 (first cycle), at contact parting, steady. */
export const flagKinds = ['maximum', 'minimum', 'firstCycle', 'breaking', 'steady'] as const;
export type FlagKind = (typeof flagKinds)[number];

export const bandOpacity = { least: 0, usual: 0.13, most: 0.5 } as const;

/** Number of colours and of dashes that curves take. */
export const chartStyles = 8;
const style = z
  .number()
  .int()
  .min(0)
  .max(chartStyles - 1);

/** How one device is drawn, where it is not by its place in the list. */
export const chartLookSchema = z.object({
  device: reference(['relay', 'switch'], 'entry'),
  colour: style,
  dash: style,
});

export const guestTypes = ['relay', ...switchTypes] as const;

/** A device on trial that is not in the network; in the place of one that is, it sees what that one sees. */
export const chartGuestSchema = z.object({
  /** Within the chart. */
  id: elementIdSchema,
  name: z.string().trim().min(1).max(60).meta({ title: 'Name' }),
  type: choice('Type', guestTypes),
  standsFor: reference(['relay', 'switch'], 'field').nullable(),
  kv: quantity('Voltage', 'kV', { above: 0 }),
  primaryA: quantity('Rated current', 'A', { above: 0, max: 1e5 }),
  secondaryA: quantity('Secondary', 'A', { above: 0, max: 1e5 }),
  openingTimeS: quantity('Opening time', 's', { min: 0, max: 5 }).nullable(),
  functions: z.array(functionSchema).max(32),
});
export type ChartGuest = z.infer<typeof chartGuestSchema>;

/** Settings of the devices of a chart under a name: a variant that is tried, or how they stood on a day; and what the margins were. */
export const chartStateSchema = z.object({
  /** Within the chart. */
  id: elementIdSchema,
  name: z.string().trim().min(1).max(60).meta({ title: 'Name' }),
  /** Day on which it was kept. */
  keptOn: z.string().max(40),
  settings: z
    .array(z.object({ device: reference(['relay', 'switch'], 'entry'), functions: z.array(functionSchema).max(32) }))
    .max(24),
  margins: z
    .array(
      z.object({
        downstream: reference(['relay', 'switch'], 'entry'),
        upstream: reference(['relay', 'switch'], 'entry'),
        mode: choice('Faults', ['phase', 'earth', 'negative']),
        marginS: z.number().nullable(),
        holds: z.boolean(),
      }),
    )
    .max(120),
});
export type ChartState = z.infer<typeof chartStateSchema>;

/** A stored time–current chart. */
export const gradingChartSchema = z.object({
  kind: z.literal('gradingChart'),
  id: elementIdSchema,
  name: z.string().trim().min(1).max(80),
  /** Its place among the charts: those with smaller ones stand before it. */
  rank: z.number().int().min(0).max(10000).default(0),
  /** Devices shown: relays, and switches with a release of their own. */
  relays: z.array(reference(['relay', 'switch'], 'entry')).max(24),
  pairs: z.array(gradingPairSchema).max(60),
  referenceKv: quantity('Referred to', 'kV', { above: 0 }),
  /** The current axis in multiples of the pickup of this device, instead of amperes. */
  multiplesOf: reference(['relay', 'switch'], 'field').nullable().default(null),
  mode: choice('Faults', chartModes),
  shows: choice('Shows', chartPlots).default('time'),
  /** Whether bands are drawn around the curves. */
  bands: z.boolean().default(true).meta({ title: 'Bands' }),
  bandOpacity: z.number().min(bandOpacity.least).max(bandOpacity.most).default(bandOpacity.usual),
  looks: z.array(chartLookSchema).max(24).default([]),
  /** Lines of what is protected: damage, inrush, start, load. */
  limits: z
    .array(
      z.object({
        element: reference(['transformer', 'line', 'asynchronousMotor', 'synchronousMachine', 'bus'], 'entry'),
        /** Which of its lines; one that it no longer has is not drawn. */
        line: z.string().max(40),
      }),
    )
    .max(40)
    .default([]),
  /** What the line of a load with growth adds to it. */
  growthPercent: quantity('Growth of the load', '%', { min: 0, max: 500 }).default(20),
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
  guests: z.array(chartGuestSchema).max(8).default([]),
  /** Which flags the devices have, and flags at currents of one's own. */
  flags: z.array(z.enum(flagKinds)).max(flagKinds.length).default(['maximum', 'minimum']),
  ownFlags: z
    .array(
      z.object({
        text: z.string().trim().min(1).max(60),
        currentA: quantity('Current', 'A', { above: 0 }),
      }),
    )
    .max(20)
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
  states: z.array(chartStateSchema).max(8).default([]),
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
  rank: 0,
  relays: [],
  pairs: [],
  multiplesOf: null,
  mode: 'phase',
  shows: 'time',
  bands: true,
  bandOpacity: bandOpacity.usual,
  looks: [],
  limits: [],
  growthPercent: 20,
  own: [],
  guests: [],
  flags: ['maximum', 'minimum'],
  ownFlags: [],
  notes: [],
  states: [],
  range: null,
  ...over,
});
