/** What an arc burns in at a place, and how the project judges arcs. */
import { z } from 'zod';
import { choice, optionalQuantity, quantity, withDefault } from './fields';

/** Kinds of equipment with their usual gaps, sizes and working distances (`arc/equipment`). */
export const arcEquipmentKinds = [
  'byVoltage',
  'switchgear15',
  'switchgear5',
  'lowVoltageSwitchgear',
  'controlCentre',
  'cableBox',
  'openAir',
] as const;
export type ArcEquipmentKind = (typeof arcEquipmentKinds)[number];

/** Null: usual for the kind of equipment. */
export const arcPlaceSchema = z.object({
  equipment: choice('Equipment', arcEquipmentKinds),
  electrodes: z.enum(['VCB', 'VCBB', 'HCB', 'VOA', 'HOA']).nullable().meta({ title: 'Electrodes' }),
  gapMm: optionalQuantity('Gap', 'mm', { above: 0, max: 1000 }),
  distanceMm: optionalQuantity('Working distance', 'mm', { above: 0, max: 10000 }),
  heightMm: optionalQuantity('Height of the enclosure', 'mm', { above: 0, max: 10000 }),
  widthMm: optionalQuantity('Width of the enclosure', 'mm', { above: 0, max: 10000 }),
  depthMm: optionalQuantity('Depth of the enclosure', 'mm', { above: 0, max: 10000 }),
  /** Null: as the project has it. */
  longestS: optionalQuantity('Longest time', 's', { above: 0, max: 60 }),
  /** Nobody works at it: no result, no label. */
  leftOut: z.boolean().meta({ title: 'Not part of the study' }),
});
export type ArcPlaceData = z.infer<typeof arcPlaceSchema>;

export const usualArcPlace: ArcPlaceData = {
  equipment: 'byVoltage',
  electrodes: null,
  gapMm: null,
  distanceMm: null,
  heightMm: null,
  widthMm: null,
  depthMm: null,
  longestS: null,
  leftOut: false,
};

/** A step of the table that clothing is chosen by. */
const clothingSchema = z.object({
  upToCal: quantity('Up to', 'cal/cm²', { above: 0, max: 1000 }),
  wear: z.string().trim().min(1, 'must not be empty').max(200).meta({ title: 'Clothing' }),
});
export type Clothing = z.infer<typeof clothingSchema>;

/** A line of one's own on labels; {place}, {note} and {source} stand for the name, the note of the busbar, and what ends the arc. */
const labelLineSchema = z.object({
  title: z.string().trim().min(1, 'must not be empty').max(40).meta({ title: 'Name' }),
  text: z.string().trim().max(120).meta({ title: 'Text' }),
});
export type LabelLine = z.infer<typeof labelLineSchema>;

/** How an enclosure throws back what an arc of direct current radiates: E = k·W/(a² + d²). */
const boxSchema = z.object({
  equipment: choice('Equipment', ['switchgear15', 'switchgear5', 'lowVoltageSwitchgear', 'controlCentre', 'cableBox']),
  aMm: quantity('a', 'mm', { above: 0, max: 10000 }),
  k: quantity('k', '', { above: 0, max: 1 }),
});

export type ArcBox = z.infer<typeof boxSchema>;

export const arcSettingsSchema = z.object({
  edition: choice('Method', ['2018', '2002']),
  longestS: quantity('Longest time', 's', { above: 0, max: 60 }),
  motorsFeedS: optionalQuantity('Motors feed the arc for', 's', { min: 0, max: 60 }),
  /** Null: subtransient throughout. */
  transientAfterS: withDefault(
    optionalQuantity('Generators by their transient reactance after', 's', { min: 0.01, max: 60 }),
    0.1,
  ),
  /** Null: not within the longest time. */
  steadyAfterS: withDefault(
    optionalQuantity('and by their synchronous reactance after', 's', { min: 0.01, max: 60 }),
    null,
  ),
  limitCal: quantity('Energy not to be exceeded', 'cal/cm²', { above: 0, max: 1000 }),
  findings: withDefault(choice('Energy above the limit', ['quiet', 'finding']), 'quiet'),
  direct: withDefault(choice('D.c. arcs', ['worst', 'least', 'maxpower', 'stokes', 'paukert']), 'worst'),
  /** In the place of those that are usual. */
  boxes: withDefault(z.array(boxSchema).max(10).meta({ title: 'Enclosures of d.c. arcs', hidden: true }), []),
  labelLines: withDefault(z.array(labelLineSchema).max(3).meta({ title: 'Own lines of labels', hidden: true }), []),
  clothing: z.array(clothingSchema).max(20).meta({ title: 'Clothing', hidden: true }),
});
export type ArcSettings = z.infer<typeof arcSettingsSchema>;

export const usualArcSettings: ArcSettings = {
  edition: '2018',
  longestS: 2,
  motorsFeedS: 0.1,
  transientAfterS: 0.1,
  steadyAfterS: null,
  limitCal: 40,
  findings: 'quiet',
  direct: 'worst',
  boxes: [],
  labelLines: [],
  // NFPA 70E, Table 130.5(G), as remembered.
  clothing: [
    { upToCal: 1.2, wear: 'untreated natural fibre, long sleeves' },
    { upToCal: 12, wear: 'arc-rated clothing and face shield with balaclava' },
    { upToCal: 40, wear: 'arc-rated suit with hood' },
  ],
};
