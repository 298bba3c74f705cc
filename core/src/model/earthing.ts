/** What a current that returns through earth needs of stations and lines, and studies of it that stand by themselves. */
import { z } from 'zod';
import { choice, elementIdSchema, optionalQuantity, quantity, reference, withDefault } from './fields';

/** Soil in one layer, or an upper one over another. */
const soilSchema = z
  .object({
    upperOhmM: quantity('Soil', 'Ω·m', { above: 0, max: 1e6 }, { symbol: 'ρ' }),
    lowerOhmM: optionalQuantity('Soil below', 'Ω·m', { above: 0, max: 1e6 }, { symbol: 'ρ2' }),
    thicknessM: optionalQuantity('Upper layer', 'm', { above: 0, max: 1000 }, { symbol: 'h' }),
  })
  .refine(({ lowerOhmM, thicknessM }) => (lowerOhmM === null) === (thicknessM === null), {
    path: ['thicknessM'],
    message: 'two layers need both the soil below and the thickness of the upper layer',
  });
export type Soil = z.infer<typeof soilSchema>;

const depthM = quantity('Depth', 'm', { above: 0, max: 50 });
const wireMm = quantity('Diameter of the wire', 'mm', { above: 0, max: 500 });

/** Earth electrode whose resistance a formula gives. */
export const electrodeSchema = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('grid'),
    formula: withDefault(choice('Formula', ['sverak', 'schwarz']), 'sverak'),
    soil: soilSchema,
    lengthM: quantity('Length', 'm', { above: 0, max: 5000 }),
    widthM: quantity('Width', 'm', { above: 0, max: 5000 }),
    depthM,
    conductorM: quantity('Conductors, in all', 'm', { above: 0, max: 1e6 }),
    wireMm,
    rods: z.int().min(0).max(10000).meta({ title: 'Rods' }),
    rodM: quantity('Length of a rod', 'm', { above: 0, max: 100 }),
    rodMm: quantity('Diameter of a rod', 'mm', { above: 0, max: 500 }),
  }),
  z.object({
    kind: z.literal('rod'),
    soil: soilSchema,
    rodM: quantity('Length of the rod', 'm', { above: 0, max: 100 }),
    rodMm: quantity('Diameter of the rod', 'mm', { above: 0, max: 500 }),
  }),
  z.object({
    kind: z.literal('ring'),
    soil: soilSchema,
    diameterM: quantity('Diameter of the ring', 'm', { above: 0, max: 5000 }),
    wireMm,
    depthM,
  }),
  z.object({
    kind: z.literal('wire'),
    soil: soilSchema,
    lengthM: quantity('Length', 'm', { above: 0, max: 5000 }),
    wireMm,
    depthM,
  }),
]);
export type Electrode = z.infer<typeof electrodeSchema>;

/** Earthing of a station: of one of its busbars it stands for all. */
export const stationEarthingSchema = z
  .object({
    rOhm: quantity('R', 'Ω', { min: 0, max: 1000 }, { symbol: 'RE' }),
    xOhm: quantity('X', 'Ω', { min: 0, max: 1000 }, { symbol: 'XE' }),
    /** Its resistance in the place of R. */
    electrode: withDefault(electrodeSchema.nullable(), null),
    /** Layer of gravel or asphalt that people stand on; nought: none. */
    surfaceOhmM: withDefault(quantity('Surface layer', 'Ω·m', { min: 0, max: 1e6 }), 0),
    surfaceM: withDefault(quantity('of a thickness', 'm', { min: 0, max: 2 }), 0),
  })
  .refine(({ rOhm, xOhm, electrode }) => electrode !== null || rOhm > 0 || xOhm > 0, {
    path: ['rOhm'],
    message: 'R and X must not both be nought',
  });
export type StationEarthing = z.infer<typeof stationEarthingSchema>;

const metals = ['copper', 'aluminium', 'steel', 'lead'] as const;

/** A wire beside the phases that the arrangement of the tower does not have. */
const addedWireSchema = z.object({
  name: z.string().trim().min(1, 'must not be empty').max(40).meta({ title: 'Name' }),
  /** Joined to every tower on the way; bare in the soil, and joined to every tower; insulated, and joined at both ends of the stretch. */
  lies: choice('Lies', ['joined', 'bare', 'insulated']),
  xM: quantity('Aside', 'm', { min: -200, max: 200 }),
  heightM: quantity('Height', 'm', { min: -20, max: 300 }, { help: 'Negative in the ground' }),
  rOhmPerKm: quantity('R', 'Ω/km', { above: 0, max: 100 }),
  gmrMm: quantity('GMR', 'mm', { above: 0, max: 500 }),
  sectionMm2: optionalQuantity('Section', 'mm²', { above: 0, max: 5000 }),
  metal: withDefault(choice('Metal', metals), 'copper'),
});
export type AddedWire = z.infer<typeof addedWireSchema>;

/** Sheaths or screens of a cable, and how they are bonded. */
const sheathSchema = z.object({
  formation: choice('Cores', ['trefoil', 'flat', 'threeCore']),
  spacingM: quantity('Spacing of the axes', 'm', { above: 0, max: 5 }),
  depthM: quantity('Depth', 'm', { above: 0, max: 50 }),
  rOhmPerKm: quantity('Sheath, R', 'Ω/km', { above: 0, max: 100 }),
  radiusMm: quantity('Mean radius of the sheath', 'mm', { above: 0, max: 500 }),
  sectionMm2: optionalQuantity('Section of the sheath', 'mm²', { above: 0, max: 5000 }),
  metal: withDefault(choice('Metal of the sheath', metals), 'copper'),
  bonding: choice('Bonded', ['both', 'from', 'to', 'cross']),
  /** Three minor sections, of cross-bonded sheaths. */
  majorM: withDefault(quantity('Major section', 'm', { above: 10, max: 20000 }), 1500),
});
export type CableSheath = z.infer<typeof sheathSchema>;

const perTower = z.array(z.number().gt(0).max(1e6)).max(2000);

/** A part of a line of one kind: towers with their wires, or a cable. */
const stretchSchema = z.object({
  kind: choice('Kind', ['overhead', 'cable']),
  /** Null: what the others leave of the line. */
  lengthKm: optionalQuantity('Length', 'km', { above: 0, max: 2000 }),
  /** Arrangement of conductors and shield wires; null: none returns anything. */
  tower: reference(['tower'], 'field').nullable(),
  soilOhmM: optionalQuantity('Soil', 'Ω·m', { above: 0, max: 1e6 }, { symbol: 'ρ' }),
  /** Of a cable: from one joint that is earthed to the next, where a bare wire lies beside it. */
  spanM: quantity('Span', 'm', { above: 1, max: 20000 }),
  /** One by one; null: all alike. */
  spansM: perTower.nullable().meta({ title: 'Spans, one by one', unit: 'm' }),
  footingOhm: optionalQuantity('Footing', 'Ω', { above: 0, max: 10000 }),
  /** One by one, from the beginning; those that are not in the list have the one above. */
  footingsOhm: perTower.nullable().meta({ title: 'Footings, one by one', unit: 'Ω' }),
  /** Footings scatter about their median by this factor (one standard deviation up or down); null: all alike. */
  spread: optionalQuantity('Spread', '×', { min: 1, max: 10 }),
  /** Another one is another scatter of the same kind. */
  seed: z.int().min(0).max(1_000_000).meta({ title: 'Scatter' }),
  /** Shield wires are joined at the ends of the stretch alone. */
  insulated: z.boolean().meta({ title: 'Shield wires insulated' }),
  wires: z.array(addedWireSchema).max(6).meta({ title: 'Further wires' }),
  sheath: sheathSchema.nullable(),
});
export type ReturnStretch = z.infer<typeof stretchSchema>;

/** What current returns along a line, from its terminal 0 on. */
export const returnPathSchema = z.object({
  stretches: z.array(stretchSchema).min(1).max(30),
  /** Circuit of the towers that this line is. */
  circuit: z.int().min(1).max(4).meta({ title: 'Circuit on the towers' }),
  /** The line whose towers it stands on: that one has the path. */
  along: reference(['line'], 'field').nullable(),
  /** Wires that end open at the station of terminal 0, and of terminal 1. */
  openFrom: z.array(z.string().max(60)).max(12),
  openTo: z.array(z.string().max(60)).max(12),
  /** Towers, counted from terminal 0, that shield wires are not joined to. */
  insulatedAt: z.array(z.int().min(1).max(5000)).max(500),
});
export type ReturnPath = z.infer<typeof returnPathSchema>;

export const usualStretch: ReturnStretch = {
  kind: 'overhead',
  lengthKm: null,
  tower: null,
  soilOhmM: null,
  spanM: 300,
  spansM: null,
  footingOhm: 15,
  footingsOhm: null,
  spread: null,
  seed: 1,
  insulated: false,
  wires: [],
  sheath: null,
};
export const usualSheath: CableSheath = {
  formation: 'trefoil',
  spacingM: 0.1,
  depthM: 1,
  rOhmPerKm: 0.2,
  radiusMm: 40,
  sectionMm2: 95,
  metal: 'copper',
  bonding: 'both',
  majorM: 1500,
};
export const usualPath: ReturnPath = {
  stretches: [usualStretch],
  circuit: 1,
  along: null,
  openFrom: [],
  openTo: [],
  insulatedAt: [],
};

/** How the project judges currents that return through earth. */
export const earthSettingsSchema = z.object({
  method: choice('Impedances with earth return', ['series', 'twoTerm', 'complexDepth']),
  /** Lines beyond those of the faulted station that act too, in steps from station to station. */
  farther: z.int().min(0).max(20).meta({ title: 'Further lines, steps', unit: '' }),
  touch: choice('Touch voltage', ['en50522', 'ieee50', 'ieee70']),
  /** Null: until the protection clears. */
  durationS: optionalQuantity('Fault lasts', 's', { above: 0, max: 60 }),
  limitV: optionalQuantity('Own limit of the rise', 'V', { above: 0, max: 1e5 }),
  towerLimitV: optionalQuantity('Own limit of towers', 'V', { above: 0, max: 1e5 }),
  findings: choice('Beyond what is borne', ['quiet', 'finding']),
  units: choice('Lengths', ['metric', 'imperial']),
});
export type EarthSettings = z.infer<typeof earthSettingsSchema>;
export const usualEarthSettings: EarthSettings = {
  method: 'series',
  farther: 1,
  touch: 'en50522',
  durationS: null,
  limitV: null,
  towerLimitV: null,
  findings: 'quiet',
  units: 'metric',
};

const stationName = z.string().trim().min(1, 'must not be empty').max(80).meta({ title: 'Name' });
const fromSource = {
  currentA: quantity('Current', 'A', { min: 0, max: 1e6 }),
  degrees: quantity('Angle', '°', { min: -360, max: 360 }),
};

/** A study without a network: a faulted station, others with what they give, lines in between. */
export const earthStudySchema = z.object({
  kind: z.literal('earthStudy'),
  id: elementIdSchema,
  name: stationName.max(120),
  note: z.string().max(300).default('').meta({ title: 'Note' }),
  hub: z.object({ name: stationName, earthing: stationEarthingSchema }),
  /** What the faulted station gives itself to a fault on a line. */
  local: z.object(fromSource),
  stations: z
    .array(z.object({ id: elementIdSchema, name: stationName, earthing: stationEarthingSchema.nullable() }))
    .max(40),
  lines: z
    .array(
      z.object({
        id: elementIdSchema,
        name: stationName,
        /** Of the list of stations. */
        station: elementIdSchema,
        lengthKm: quantity('Length', 'km', { above: 0, max: 2000 }),
        /** From that station to the faulted one, in the faulted phase. */
        ...fromSource,
        path: returnPathSchema,
      }),
    )
    .max(60),
  xOverR: optionalQuantity('X/R of the fault', '', { above: 0, max: 1000 }),
  durationS: quantity('Fault lasts', 's', { above: 0, max: 60 }),
});
export type EarthStudy = z.infer<typeof earthStudySchema>;
export type EarthStudyLine = EarthStudy['lines'][number];
