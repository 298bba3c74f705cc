/** The union of all kinds of element, and what the rest of the program asks of a kind. */
import { z } from 'zod';
import {
  lineCouplingSchema,
  lineSchema,
  seriesReactorSchema,
  threeWindingTransformerSchema,
  towerSchema,
  transformerSchema,
} from './branches';
import { conditionSchema } from './condition';
import { libraryEntrySchema } from './library';
import { rulebookSchema } from './rulebook';
import { chartPictureSchema, pageSchema, panelSchema, textNoteSchema } from './sheet';
import { choice, elementIdSchema, quantity, withDefault, type ElementId, reference } from './fields';
import { gradingChartSchema, pairRulingSchema } from './chart';
import { linePackageSchema } from './linePackage';
import { arcSettingsSchema, usualArcSettings } from './arc';
import { batchSchema, scriptSchema } from './batch';
import { trialSchema } from './trial';
import {
  batterySchema,
  directCableSchema,
  directCapacitorSchema,
  directLoadSchema,
  directMotorSchema,
  rectifierSchema,
} from './direct';
import { earthSettingsSchema, earthStudySchema, usualEarthSettings } from './earthing';
import { relaySchema } from './protection';
import { sheetSettingsSchema, usualSheetSettings } from './sheetSettings';
import { upgradedElement } from './upgrade';
import {
  asynchronousMotorSchema,
  converterSourceSchema,
  doublyFedMachineSchema,
  earthingTransformerSchema,
  loadSchema,
  networkFeederSchema,
  powerStationUnitSchema,
  shuntSchema,
  staticDriveSchema,
  synchronousMachineSchema,
} from './sources';
import {
  busSchema,
  connectionSchema,
  currentTransformerSchema,
  earthingSwitchSchema,
  switchSchema,
  voltageTransformerSchema,
} from './switching';

const percentOfUn = (title: string) => quantity(title, '% Un', { min: 50, max: 150 });
/** What a voltage and a loading may be: always, and for a limited time (conditions of emergency, outages). */
const loadLimitsSchema = z
  .object({
    lowPercent: percentOfUn('Lowest voltage'),
    highPercent: percentOfUn('Highest voltage'),
    emergencyLowPercent: percentOfUn('Lowest voltage, emergency'),
    emergencyHighPercent: percentOfUn('Highest voltage, emergency'),
    loadingPercent: quantity('Highest loading', '%', { above: 0, max: 300 }),
    emergencyLoadingPercent: quantity(
      'Highest loading, emergency',
      '%',
      { above: 0, max: 300 },
      { help: 'Where no emergency rating is given' },
    ),
  })
  .refine((limits) => limits.lowPercent < limits.highPercent, {
    path: ['lowPercent'],
    message: 'must be below the highest voltage',
  })
  .refine((limits) => limits.emergencyLowPercent < limits.emergencyHighPercent, {
    path: ['emergencyLowPercent'],
    message: 'must be below the highest voltage in an emergency',
  });
export type LoadLimits = z.infer<typeof loadLimitsSchema>;
const usualLoadLimits: LoadLimits = {
  lowPercent: 95,
  highPercent: 105,
  emergencyLowPercent: 90,
  emergencyHighPercent: 110,
  loadingPercent: 100,
  emergencyLoadingPercent: 100,
};

/** How duties are found and when they are told. */
const ratingLimitsSchema = z
  .object({
    duty: choice('Duty of a device', ['through', 'total'], {
      help: 'The current through the device for a fault on either side of it, or, cautiously, the whole current at the place',
    }),
    clearing: choice('Time of a short circuit', ['protection', 'chosen'], {
      help: 'For thermal withstand: until the protection clears, or as chosen',
    }),
    clearingS: quantity('as chosen', 's', { above: 0, max: 10 }, { help: 'Also where no protection clears' }),
    relayMs: quantity('Shortest time of a relay', 'ms', { min: 0, max: 100 }, { help: 'Before the breaker opens' }),
    warnPercent: quantity('Warning from', '% of rating', { above: 0, max: 200 }),
    failPercent: quantity('Not met above', '% of rating', { above: 0, max: 200 }),
  })
  .refine((limits) => limits.warnPercent <= limits.failPercent, {
    path: ['warnPercent'],
    message: 'must not exceed the limit',
  });
export type RatingLimits = z.infer<typeof ratingLimitsSchema>;
const usualRatingLimits: RatingLimits = {
  duty: 'through',
  clearing: 'protection',
  clearingS: 1,
  relayMs: 10,
  warnPercent: 90,
  failPercent: 100,
};

/** Characters of a picture of 300 kB. */
const markLimit = 400_000;

/** Settings of the project: one element of its own, so that undo, history and clashes work for it too. */
export const projectSettingsSchema = z.object({
  kind: z.literal('projectSettings'),
  id: elementIdSchema,
  frequencyHz: z.union([z.literal(50), z.literal(60)]).meta({ title: 'Frequency', unit: 'Hz' }),
  lowVoltageTolerancePercent: z
    .union([z.literal(6), z.literal(10)])
    .meta({ title: 'Low-voltage tolerance', unit: '%', help: 'Chooses c below 1 kV: IEC 60909-0, Table 1' }),
  minimumFactors: withDefault(
    choice('Correction factors, minimum', ['one', 'asMaximum'], {
      help: 'KT, KG, KS in minimum currents: 1 after IEC 60909-0:2016, 7.1.2 (as remembered), or those of the maximum, as before that edition',
    }),
    'one',
  ),
  /** Rules that settings are proposed by; null: plain practice, which ships. */
  rulebook: withDefault(reference(['rulebook'], 'field').nullable().meta({ title: 'Rulebook', hidden: true }), null),
  /** Proposals leave them as they are. */
  lockedDevices: withDefault(
    z
      .array(reference(['relay', 'switch'], 'entry'))
      .max(5000)
      .meta({ title: 'Locked devices', hidden: true }),
    [],
  ),
  wantedMarginS: quantity('Required grading margin', 's', { min: 0, max: 5 }),
  marginCounts: withDefault(
    choice('Margin between', ['curves', 'bands'], {
      help: 'Curves as set: errors, overshoot and breaker time are part of the required margin. Bands: they are counted, the margin is what remains',
    }),
    'curves',
  ),
  pairRulings: withDefault(z.array(pairRulingSchema).max(200).meta({ title: 'Pairs by hand', hidden: true }), []),
  ratingLimits: withDefault(ratingLimitsSchema.meta({ title: 'Ratings' }), usualRatingLimits),
  arc: withDefault(arcSettingsSchema.meta({ title: 'Arc energy' }), usualArcSettings),
  earthReturn: withDefault(
    earthSettingsSchema.meta({ title: 'Current through earth', hidden: true }),
    usualEarthSettings,
  ),
  loadLimits: withDefault(loadLimitsSchema.meta({ title: 'Limits of the load flow' }), usualLoadLimits),
  baseMva: quantity('Base for percent impedances', 'MVA', { above: 0 }),
  owner: z.string().max(120).meta({ title: 'Owner of the network' }),
  /** Picture of the company, as it stands on labels: PNG or JPEG in the file itself. */
  mark: withDefault(
    z
      .string()
      .max(markLimit, 'the picture is too large: at most 300 kB')
      .regex(/^data:image\/(png|jpeg);base64,[A-Za-z0-9+/=]+$/, 'must be a PNG or JPEG picture')
      .nullable()
      .meta({ title: 'Company mark', hidden: true }),
    null,
  ),
  /** How sheets are written: their language for units and heads, and what the company adds to the title block. */
  sheets: withDefault(sheetSettingsSchema.meta({ title: 'Setting sheets', hidden: true }), usualSheetSettings),
  symbols: choice('Symbols', ['iec', 'ieee'], {
    help: 'Of the drawing: IEC 60617, or IEEE 315 as used in North America',
  }),
});
export type ProjectSettings = z.infer<typeof projectSettingsSchema>;

const elementUnion = z.discriminatedUnion('kind', [
  busSchema,
  switchSchema,
  currentTransformerSchema,
  voltageTransformerSchema,
  connectionSchema,
  networkFeederSchema,
  lineSchema,
  transformerSchema,
  threeWindingTransformerSchema,
  seriesReactorSchema,
  synchronousMachineSchema,
  powerStationUnitSchema,
  asynchronousMotorSchema,
  staticDriveSchema,
  converterSourceSchema,
  doublyFedMachineSchema,
  loadSchema,
  shuntSchema,
  earthingTransformerSchema,
  earthingSwitchSchema,
  batterySchema,
  rectifierSchema,
  directMotorSchema,
  directCapacitorSchema,
  directLoadSchema,
  directCableSchema,
  towerSchema,
  lineCouplingSchema,
  relaySchema,
  gradingChartSchema,
  linePackageSchema,
  trialSchema,
  batchSchema,
  scriptSchema,
  earthStudySchema,
  conditionSchema,
  libraryEntrySchema,
  textNoteSchema,
  panelSchema,
  chartPictureSchema,
  rulebookSchema,
  pageSchema,
  projectSettingsSchema,
]);
/** One element; forms of earlier versions are brought up. */
export const elementSchema = z.preprocess(upgradedElement, elementUnion);
export type Element = z.infer<typeof elementUnion>;
export type ElementKind = Element['kind'];
export type ElementOf<K extends ElementKind> = Extract<Element, { kind: K }>;

/** The schema of each kind by itself. */
export const elementSchemas = Object.fromEntries(
  elementUnion.options.map((schema) => [schema.shape.kind.value, schema]),
) as unknown as Readonly<Record<ElementKind, (typeof elementUnion.options)[number]>>;

/** Trade name of each kind, and the number of its terminals. */
export const kinds: Readonly<Record<ElementKind, { title: string; terminals: number }>> = {
  bus: { title: 'Bus', terminals: 1 },
  switch: { title: 'Switch', terminals: 2 },
  currentTransformer: { title: 'Current transformer', terminals: 2 },
  voltageTransformer: { title: 'Voltage transformer', terminals: 1 },
  connection: { title: 'Connection', terminals: 0 },
  networkFeeder: { title: 'Network feeder', terminals: 1 },
  line: { title: 'Line or cable', terminals: 2 },
  transformer: { title: 'Transformer', terminals: 2 },
  threeWindingTransformer: { title: 'Three-winding transformer', terminals: 3 },
  seriesReactor: { title: 'Series reactor', terminals: 2 },
  synchronousMachine: { title: 'Synchronous machine', terminals: 1 },
  powerStationUnit: { title: 'Power-station unit', terminals: 2 },
  asynchronousMotor: { title: 'Asynchronous motor', terminals: 1 },
  staticDrive: { title: 'Static drive', terminals: 1 },
  converterSource: { title: 'Full-converter source', terminals: 1 },
  doublyFedMachine: { title: 'Doubly-fed machine', terminals: 1 },
  load: { title: 'Load', terminals: 1 },
  shunt: { title: 'Shunt', terminals: 1 },
  earthingTransformer: { title: 'Earthing transformer', terminals: 1 },
  earthingSwitch: { title: 'Earthing switch', terminals: 1 },
  battery: { title: 'Battery', terminals: 1 },
  rectifier: { title: 'Charger or rectifier', terminals: 2 },
  directMotor: { title: 'D.c. motor', terminals: 1 },
  directCapacitor: { title: 'D.c. capacitor', terminals: 1 },
  directLoad: { title: 'D.c. load', terminals: 1 },
  directCable: { title: 'D.c. cable', terminals: 2 },
  tower: { title: 'Tower', terminals: 0 },
  lineCoupling: { title: 'Line coupling', terminals: 0 },
  relay: { title: 'Relay', terminals: 0 },
  gradingChart: { title: 'Grading chart', terminals: 0 },
  linePackage: { title: 'Line package', terminals: 0 },
  trial: { title: 'Trial', terminals: 0 },
  batch: { title: 'Batch', terminals: 0 },
  script: { title: 'Script', terminals: 0 },
  earthStudy: { title: 'Study of current through earth', terminals: 0 },
  condition: { title: 'Condition', terminals: 0 },
  libraryEntry: { title: 'Type', terminals: 0 },
  rulebook: { title: 'Rulebook', terminals: 0 },
  textNote: { title: 'Note', terminals: 0 },
  panel: { title: 'Panel', terminals: 0 },
  chartPicture: { title: 'Chart on the drawing', terminals: 0 },
  page: { title: 'Page', terminals: 0 },
  projectSettings: { title: 'Project settings', terminals: 0 },
};

/** The one id under which the settings of a project are kept. */
export const settingsId = 'settings' as ElementId;

export const defaultSettings: ProjectSettings = {
  kind: 'projectSettings',
  id: settingsId,
  frequencyHz: 50,
  lowVoltageTolerancePercent: 10,
  minimumFactors: 'one',
  rulebook: null,
  lockedDevices: [],
  wantedMarginS: 0.1,
  marginCounts: 'bands',
  pairRulings: [],
  arc: usualArcSettings,
  earthReturn: usualEarthSettings,
  loadLimits: usualLoadLimits,
  ratingLimits: usualRatingLimits,
  baseMva: 100,
  owner: '',
  mark: null,
  sheets: usualSheetSettings,
  symbols: 'iec',
};

/** Name for messages and lists; connections have none of their own. */
export function nameOf(element: Element): string {
  if (element.kind === 'connection') return 'connection';
  if (element.kind === 'projectSettings') return 'Project settings';
  if (element.kind === 'textNote') return `note "${element.text.slice(0, 24)}${element.text.length > 24 ? '…' : ''}"`;
  if (element.kind === 'chartPicture') return 'chart on the drawing';
  return element.name;
}
