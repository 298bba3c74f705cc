/** Elements with impedances between their terminals. Terminal 0 is the HV (or sending) side. */
import { z } from 'zod';
import { layingSchema } from './circuit';
import { returnPathSchema } from './earthing';
import {
  choice,
  elementIdSchema,
  neutralSchema,
  optionalQuantity,
  placed,
  quantity,
  rating,
  reference,
  shortTimeRating,
  withDefault,
} from './fields';
import { parseVectorGroup, parseVectorGroup3 } from './vectorgroup';

const perLength = { shownWhen: { field: 'data', is: ['perLength'] } };
const fromTower = { shownWhen: { field: 'data', is: ['tower'] } };

/** Overhead line or cable: per-length data of one circuit at 20 °C, typed or from a tower; `circuits` like ones in parallel (IEC 60909-0, 6.4). */
export const lineSchema = z.object({
  kind: z.literal('line'),
  ...placed,
  type: choice('Type', ['overhead', 'cable']),
  lengthKm: quantity('Length', 'km', { above: 0, max: 2000 }, { symbol: 'l' }),
  circuits: z.int().min(1).max(12).meta({ title: 'Parallel circuits' }),
  data: withDefault(choice('Data', ['perLength', 'tower']), 'perLength'),
  tower: withDefault(
    reference(['tower'], 'field', true)
      .nullable()
      .meta({ title: 'Tower', hidden: true, ...fromTower }),
    null,
  ),
  towerCircuit: withDefault(
    z
      .int()
      .min(1)
      .max(4)
      .meta({ title: 'Circuit on the tower', ...fromTower }),
    1,
  ),
  r1OhmPerKm: quantity('R1 at 20 °C', 'Ω/km', { min: 0 }, { symbol: 'R′', ...perLength }),
  x1OhmPerKm: quantity('X1', 'Ω/km', { above: 0 }, { symbol: 'X′', ...perLength }),
  r0OhmPerKm: optionalQuantity('R0 at 20 °C', 'Ω/km', { min: 0 }, { symbol: 'R′0', ...perLength }),
  x0OhmPerKm: optionalQuantity('X0', 'Ω/km', { above: 0 }, { symbol: 'X′0', ...perLength }),
  b1UsPerKm: quantity('B1', 'µS/km', { min: 0 }, { symbol: 'B′', ...perLength }),
  b0UsPerKm: quantity('B0', 'µS/km', { min: 0 }, { symbol: 'B′0', ...perLength }),
  ratedA: optionalQuantity('Rated current', 'A', { above: 0 }, { help: 'Of one circuit' }),
  emergencyA: withDefault(
    optionalQuantity('Emergency current', 'A', { above: 0 }, { help: 'Of one circuit, for a limited time' }),
    null,
  ),
  endTemperatureC: quantity('Conductor at end of fault', '°C', { min: 20, max: 400 }, { symbol: 'θe' }),
  /** Towers and wires that current returns along. */
  returnPath: returnPathSchema.meta({ title: 'Towers', hidden: true }).optional(),
  /** Of a low-voltage cable: where it lies; left out: its rated current is what it may carry. */
  laying: layingSchema.meta({ title: 'Laying', hidden: true }).optional(),
  sectionMm2: rating('Cross-section', 'mm²', 5000, { symbol: 'S', help: 'Of one phase conductor' }),
  metal: withDefault(choice('Conductor', ['copper', 'aluminium', 'steel']), 'aluminium'),
  insulation: withDefault(choice('Insulation', ['none', 'pvc', 'xlpe', 'epr', 'paper']), 'xlpe'),
  serviceTemperatureC: withDefault(
    optionalQuantity(
      'Conductor before a fault',
      '°C',
      { min: -20, max: 150 },
      { symbol: 'θi', help: 'Empty: by the insulation' },
    ),
    null,
  ),
});

const tapSchema = z
  .object({
    side: choice('Tap changer on', ['none', 'hv', 'lv']),
    position: z
      .int()
      .min(-40)
      .max(40)
      .meta({ title: 'Position', shownWhen: { field: 'side', is: ['hv', 'lv'] } }),
    steps: z
      .int()
      .min(0)
      .max(40)
      .meta({ title: 'Steps each way', shownWhen: { field: 'side', is: ['hv', 'lv'] } }),
    stepPercent: quantity('Step', '%', { min: 0, max: 10 }, { shownWhen: { field: 'side', is: ['hv', 'lv'] } }),
    holds: withDefault(
      choice('Holds the voltage of', ['nothing', 'hv', 'lv'], { shownWhen: { field: 'side', is: ['hv', 'lv'] } }),
      'nothing',
    ),
    targetPercent: withDefault(
      quantity('at', '% Un', { above: 50, max: 150 }, { shownWhen: { field: 'holds', is: ['hv', 'lv'] } }),
      100,
    ),
  })
  .refine((tap) => Math.abs(tap.position) <= tap.steps || tap.side === 'none', {
    path: ['position'],
    message: 'must lie within the steps',
  });

/** What a transformer may carry for a limited time. */
const emergencyPercent = withDefault(
  optionalQuantity('Emergency loading', '%', { min: 50, max: 300 }, { help: 'Of the rated power, for a limited time' }),
  null,
);

const withstandS = withDefault(
  quantity('Withstands a short circuit for', 's', { above: 0, max: 10 }, { symbol: 'tk' }),
  2,
);

/** Shape of the core: decides the zero-sequence path of star–star units without a delta winding. */
export const coreTypes = ['unspecified', 'threeLimb', 'fiveLimb', 'bank'] as const;
export type CoreType = (typeof coreTypes)[number];
const coreFields = {
  core: withDefault(choice('Core', coreTypes), 'unspecified'),
  x0mPercent: withDefault(
    optionalQuantity(
      'Zero-sequence magnetising reactance',
      '%',
      { above: 0 },
      { symbol: 'x0m', help: 'Star–star without delta only. Empty: by the core' },
    ),
    null,
  ),
};

/** Two-winding transformer, or an autotransformer ("YNa0") (IEC 60909-0, 6.3.1 and 6.3.3). */
export const transformerSchema = z
  .object({
    kind: z.literal('transformer'),
    ...placed,
    ratedMva: quantity('Rated power', 'MVA', { above: 0 }, { symbol: 'SrT' }),
    emergencyPercent,
    withstandS,
    hvKv: quantity('Rated HV voltage', 'kV', { above: 0 }, { symbol: 'UrTHV' }),
    lvKv: quantity('Rated LV voltage', 'kV', { above: 0 }, { symbol: 'UrTLV' }),
    ukPercent: quantity('Short-circuit voltage uk', '%', { above: 0, max: 100 }, { symbol: 'ukr' }),
    uRPercent: quantity('Its resistive part uR', '%', { min: 0, max: 100 }, { symbol: 'uRr' }),
    vectorGroup: z
      .string()
      .refine((text) => parseVectorGroup(text) !== null, 'must be a vector group such as Dyn11 or YNd1')
      .meta({ title: 'Vector group' }),
    shiftDegrees: withDefault(
      quantity(
        'Additional phase shift',
        '°',
        { min: -90, max: 90 },
        { help: 'Of a phase-shifting unit; positive: LV lags more' },
      ),
      0,
    ),
    x0OverX1: optionalQuantity('X0/X1', '', { above: 0, max: 100 }, { symbol: 'X0T/XT' }),
    r0OverR1: optionalQuantity('R0/R1', '', { min: 0, max: 100 }, { symbol: 'R0T/RT' }),
    ...coreFields,
    hvNeutral: neutralSchema.meta({ title: 'HV neutral' }),
    lvNeutral: neutralSchema.meta({ title: 'LV neutral' }),
    tap: tapSchema.meta({ title: 'Tap changer' }),
  })
  .refine((transformer) => transformer.uRPercent <= transformer.ukPercent, {
    path: ['uRPercent'],
    message: 'must not exceed the short-circuit voltage uk',
  })
  .superRefine(({ hvKv, lvKv }, context) => notBelow(context, ['HV', hvKv], ['LV', lvKv]));

const pairSchema = z
  .object({
    ratedMva: quantity('Rated power', 'MVA', { above: 0 }, { symbol: 'SrT' }),
    ukPercent: quantity('uk', '%', { above: 0, max: 100 }, { symbol: 'ukr' }),
    uRPercent: quantity('uR', '%', { min: 0, max: 100 }, { symbol: 'uRr' }),
    x0OverX1: optionalQuantity('X0/X1', '', { above: 0, max: 100 }, { symbol: 'X0T/XT' }),
    r0OverR1: optionalQuantity('R0/R1', '', { min: 0, max: 100 }, { symbol: 'R0T/RT' }),
  })
  .refine((pair) => pair.uRPercent <= pair.ukPercent, { path: ['uRPercent'], message: 'must not exceed uk' });
export type WindingPair = z.infer<typeof pairSchema>;

/** Three-winding transformer, or an autotransformer with tertiary ("YNa0d1"); terminals HV, MV, LV (IEC 60909-0, 6.3.2 and 6.3.3). */
export const threeWindingTransformerSchema = z
  .object({
    kind: z.literal('threeWindingTransformer'),
    ...placed,
    emergencyPercent,
    withstandS,
    hvKv: quantity('Rated HV voltage', 'kV', { above: 0 }, { symbol: 'UrTHV' }),
    mvKv: quantity('Rated MV voltage', 'kV', { above: 0 }, { symbol: 'UrTMV' }),
    lvKv: quantity('Rated LV voltage', 'kV', { above: 0 }, { symbol: 'UrTLV' }),
    vectorGroup: z
      .string()
      .refine((text) => parseVectorGroup3(text) !== null, 'must be a vector group such as YNyn0d5 or YNa0d1')
      .meta({ title: 'Vector group' }),
    hvMv: pairSchema.meta({ title: 'HV–MV' }),
    hvLv: pairSchema.meta({ title: 'HV–LV' }),
    mvLv: pairSchema.meta({ title: 'MV–LV' }),
    ...coreFields,
    hvNeutral: neutralSchema.meta({ title: 'HV neutral' }),
    mvNeutral: neutralSchema.meta({ title: 'MV neutral' }),
    lvNeutral: neutralSchema.meta({ title: 'LV neutral' }),
    tap: tapSchema.meta({ title: 'Tap changer' }),
  })
  .superRefine(({ hvKv, mvKv, lvKv }, context) => {
    notBelow(context, ['HV', hvKv], ['MV', mvKv]);
    notBelow(context, ['HV', hvKv], ['LV', lvKv]);
  });

/** Says both voltages, since the field that was changed may be either. */
function notBelow(context: z.RefinementCtx, [high, highKv]: [string, number], [low, lowKv]: [string, number]): void {
  if (highKv >= lowKv) return;
  const message = `the ${high} voltage (${highKv} kV) is below the ${low} voltage (${lowKv} kV): exchange the two, or set the ${high} voltage first`;
  context.addIssue({ code: 'custom', path: ['hvKv'], message });
}

/** Series (current-limiting) reactor (IEC 60909-0, 6.5). */
export const seriesReactorSchema = z.object({
  kind: z.literal('seriesReactor'),
  ...placed,
  ratedKv: quantity('Rated voltage', 'kV', { above: 0 }, { symbol: 'Un' }),
  ratedA: quantity('Rated current', 'A', { above: 0 }, { symbol: 'IrR' }),
  ukPercent: quantity('Rated voltage drop', '%', { above: 0, max: 100 }, { symbol: 'ukR' }),
  ...shortTimeRating(2),
  peakKa: rating('Rated mechanical short-circuit current', 'kA', 800, { symbol: 'ip' }),
  rOverX: quantity('R/X', '', { min: 0, max: 1 }, { symbol: 'RR/XR' }),
  x0OverX1: quantity('X0/X1', '', { above: 0, max: 10 }, { symbol: 'X0/X1' }),
});

/** A conductor on a tower, or a bundle of like ones; place of its centre, height as the mean over the span. */
export const towerConductorSchema = z.object({
  /** 1 to 4; 0 for a shield wire. */
  circuit: z.int().min(0).max(4),
  /** 1, 2, 3 for L1, L2, L3; 0 for a shield wire. */
  phase: z.int().min(0).max(3),
  xM: z.number().min(-200).max(200),
  heightM: z.number().gt(0).max(300),
  rOhmPerKm: z.number().min(0).max(100),
  /** Geometric mean radius in millimetres, for the inductance. */
  gmrMm: z.number().gt(0).max(500),
  /** Outer radius in millimetres, for the capacitance. */
  radiusMm: z.number().gt(0).max(500),
  bundle: z.int().min(1).max(8).default(1),
  bundleSpacingMm: z.number().min(0).max(2000).default(0),
  /** Section and metal, for the heat of a short circuit; null: not known. */
  sectionMm2: z.number().gt(0).max(5000).nullable().default(null),
  metal: z.enum(['copper', 'aluminium', 'steel']).default('aluminium'),
});
export type TowerConductor = z.infer<typeof towerConductorSchema>;

/** Geometry of a tower, from which lines take their data (Carson's earth return). Not on the drawing. */
export const towerSchema = z.object({
  kind: z.literal('tower'),
  id: elementIdSchema,
  name: z.string().trim().min(1).max(80).meta({ title: 'Name' }),
  earthResistivityOhmM: quantity('Earth resistivity', 'Ω·m', { above: 0, max: 1e6 }, { symbol: 'ρ' }),
  conductors: z.array(towerConductorSchema).max(24),
});

/** Zero-sequence coupling of two lines on common towers, over all or part of their length. Not on the drawing. */
export const lineCouplingSchema = z.object({
  kind: z.literal('lineCoupling'),
  id: elementIdSchema,
  name: z.string().trim().min(1).max(80).meta({ title: 'Name' }),
  first: reference(['line'], 'owner'),
  second: reference(['line'], 'owner'),
  /** The common stretch begins this far from terminal 0 of each line. */
  firstFromKm: quantity('Begins on the first line at', 'km', { min: 0 }),
  secondFromKm: quantity('Begins on the second line at', 'km', { min: 0 }),
  lengthKm: quantity('Common length', 'km', { above: 0 }),
  opposite: z
    .boolean()
    .meta({ title: 'Lines run against each other', help: 'The second line is counted from its other end' }),
  /** Null: from the tower that both lines refer to. */
  r0mOhmPerKm: optionalQuantity('R0m', 'Ω/km', { min: 0 }, { symbol: 'R′0m' }),
  x0mOhmPerKm: optionalQuantity('X0m', 'Ω/km', { min: 0 }, { symbol: 'X′0m' }),
});

export type Line = z.infer<typeof lineSchema>;
export type Transformer = z.infer<typeof transformerSchema>;
export type ThreeWindingTransformer = z.infer<typeof threeWindingTransformerSchema>;
export type SeriesReactor = z.infer<typeof seriesReactorSchema>;
export type Tower = z.infer<typeof towerSchema>;
export type LineCoupling = z.infer<typeof lineCouplingSchema>;
export type Tap = z.infer<typeof tapSchema>;
