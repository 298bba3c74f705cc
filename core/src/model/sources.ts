/** Elements that feed or take current at one terminal. */
import { z } from 'zod';
import { consumerSchema } from './circuit';
import { parseVectorGroup } from './vectorgroup';
import {
  choice,
  isolatedNeutral,
  neutralSchema,
  optionalQuantity,
  placed,
  quantity,
  rating,
  withDefault,
  type FieldMeta,
} from './fields';

/** What a generator or converter is told to do in the load flow. */
const operationSchema = z
  .object({
    holds: choice('Holds', ['power', 'voltage']),
    activeMw: quantity('Active power', 'MW'),
    reactiveMvar: quantity('Reactive power', 'Mvar', {}, { shownWhen: { field: 'holds', is: ['power'] } }),
    voltagePercent: quantity(
      'Voltage',
      '% Un',
      { above: 50, max: 150 },
      { shownWhen: { field: 'holds', is: ['voltage'] } },
    ),
    minMvar: optionalQuantity('Minimum reactive power', 'Mvar', {}, { shownWhen: { field: 'holds', is: ['voltage'] } }),
    maxMvar: optionalQuantity('Maximum reactive power', 'Mvar', {}, { shownWhen: { field: 'holds', is: ['voltage'] } }),
  })
  .refine((at) => at.minMvar === null || at.maxMvar === null || at.minMvar <= at.maxMvar, {
    path: ['minMvar'],
    message: 'must not exceed the maximum',
  });
export type Operation = z.infer<typeof operationSchema>;
export const idle: Operation = {
  holds: 'power',
  activeMw: 0,
  reactiveMvar: 0,
  voltagePercent: 100,
  minMvar: null,
  maxMvar: null,
};
const operationField = withDefault(operationSchema.meta({ title: 'Operation' }), idle);

const laterOptional = (title: string, unit: string, extra: Partial<FieldMeta> = {}) =>
  withDefault(optionalQuantity(title, unit, { above: 0 }, extra), null);

/** What the steady fault current of a synchronous machine depends on. */
const machineFields = {
  xd1Percent: laterOptional('Transient reactance x′d', '%', { symbol: 'x′d' }),
  xdPercent: laterOptional('Synchronous reactance xd', '%', { symbol: 'xd', help: 'Saturated: for Ik' }),
  rotor: withDefault(choice('Rotor', ['turbo', 'salient']), 'turbo'),
  td2S: laterOptional('Subtransient time constant T″d', 's', {
    symbol: 'T″d',
    help: 'Of the short circuit at the terminals',
  }),
  td1S: laterOptional('Transient time constant T′d', 's', {
    symbol: 'T′d',
    help: 'Of the short circuit at the terminals',
  }),
  taS: laterOptional('Armature time constant Ta', 's', { symbol: 'Ta' }),
  excitation: withDefault(
    choice('Excitation', ['series1', 'series2', 'terminalFed'], {
      help: 'Highest excitation voltage: 1.3 or 1.6 times the rated one (turbo), 1.6 or 2.0 (salient poles); IEC 60909-0, 10.2',
    }),
    'series1',
  ),
};

const feederLevelSchema = z
  .object({
    given: choice('Given as', ['current', 'power']),
    ikKa: optionalQuantity(
      'Ik″',
      'kA',
      { above: 0 },
      { shownWhen: { field: 'given', is: ['current'] }, symbol: 'Ik″Q' },
    ),
    skMva: optionalQuantity(
      'Sk″',
      'MVA',
      { above: 0 },
      { shownWhen: { field: 'given', is: ['power'] }, symbol: 'Sk″Q' },
    ),
    rOverX: quantity('R/X', '', { min: 0, max: 10 }, { symbol: 'RQ/XQ' }),
    x0OverX1: optionalQuantity('X0/X1', '', { above: 0 }, { symbol: 'X0/X1' }),
    r0OverX0: optionalQuantity('R0/X0', '', { min: 0, max: 10 }, { symbol: 'R0/X0' }),
  })
  .superRefine((level, context) => {
    const field = level.given === 'current' ? 'ikKa' : 'skMva';
    if (level[field] === null) context.addIssue({ code: 'custom', path: [field], message: 'must be given' });
  });

/** Infeed from a network that is not modelled: its fault level at the point of connection (IEC 60909-0, 6.2). */
export const networkFeederSchema = z.object({
  kind: z.literal('networkFeeder'),
  ...placed,
  earthed: z.boolean().meta({ title: 'Neutral of the network earthed' }),
  voltagePercent: withDefault(quantity('Voltage in the load flow', '% Un', { above: 50, max: 150 }), 100),
  max: feederLevelSchema.meta({ title: 'Maximum sources' }),
  min: feederLevelSchema.meta({ title: 'Minimum sources' }),
});

/** Synchronous generator, compensator or motor connected to the network directly (IEC 60909-0, 6.6). */
export const synchronousMachineSchema = z.object({
  kind: z.literal('synchronousMachine'),
  ...placed,
  ratedMva: quantity('Rated power', 'MVA', { above: 0 }, { symbol: 'SrG' }),
  ratedKv: quantity('Rated voltage', 'kV', { above: 0 }, { symbol: 'UrG' }),
  powerFactor: quantity('Rated power factor', '', { above: 0, max: 1 }, { symbol: 'cos φrG' }),
  xd2Percent: quantity('Subtransient reactance x″d', '%', { above: 0, max: 200 }, { symbol: 'x″d' }),
  ...machineFields,
  x2Percent: optionalQuantity('Negative-sequence reactance x2', '%', { above: 0 }, { symbol: 'x2' }),
  x0Percent: optionalQuantity('Zero-sequence reactance x0', '%', { above: 0 }, { symbol: 'x0' }),
  rOhm: optionalQuantity(
    'Stator resistance',
    'Ω',
    { min: 0 },
    { symbol: 'RG', help: 'Empty: RGf of IEC 60909-0, 6.6.1' },
  ),
  regulationPercent: quantity('Voltage regulation pG', '%', { min: 0, max: 20 }, { symbol: 'pG' }),
  neutral: neutralSchema.meta({ title: 'Neutral' }),
  runsAtMinimum: z.boolean().meta({ title: 'Runs at minimum sources' }),
  operation: operationField,
});

/**
 * Power-station unit: generator and unit transformer as one block (IEC 60909-0, 6.7). Terminal 0 is the HV side, terminal 1 the generator
 * bus, for auxiliaries.
 */
export const powerStationUnitSchema = z.object({
  kind: z.literal('powerStationUnit'),
  ...placed,
  generator: z
    .object({
      ratedMva: quantity('Rated power', 'MVA', { above: 0 }, { symbol: 'SrG' }),
      ratedKv: quantity('Rated voltage', 'kV', { above: 0 }, { symbol: 'UrG' }),
      powerFactor: quantity('Rated power factor', '', { above: 0, max: 1 }, { symbol: 'cos φrG' }),
      xd2Percent: quantity('Subtransient reactance x″d', '%', { above: 0, max: 200 }, { symbol: 'x″d' }),
      ...machineFields,
      x2Percent: laterOptional('Negative-sequence reactance x2', '%', { symbol: 'x2' }),
      rOhm: optionalQuantity('Stator resistance', 'Ω', { min: 0 }, { symbol: 'RG', help: 'Empty: RGf' }),
      regulationPercent: quantity('Voltage regulation pG', '%', { min: 0, max: 20 }, { symbol: 'pG' }),
    })
    .meta({ title: 'Generator' }),
  transformer: z
    .object({
      ratedMva: quantity('Rated power', 'MVA', { above: 0 }, { symbol: 'SrT' }),
      hvKv: quantity('Rated HV voltage', 'kV', { above: 0 }, { symbol: 'UrTHV' }),
      lvKv: quantity('Rated LV voltage', 'kV', { above: 0 }, { symbol: 'UrTLV' }),
      ukPercent: quantity('Short-circuit voltage uk', '%', { above: 0, max: 100 }, { symbol: 'ukr' }),
      uRPercent: quantity('Its resistive part uR', '%', { min: 0, max: 100 }, { symbol: 'uRr' }),
      vectorGroup: z
        .string()
        .refine((text) => parseVectorGroup(text) !== null, 'must be a vector group such as YNd5')
        .meta({ title: 'Vector group' }),
      onLoadTapChanger: z.boolean().meta({ title: 'On-load tap changer' }),
      pTPercent: quantity(
        'Range of off-load taps pT',
        '%',
        { min: 0, max: 20 },
        { symbol: 'pT', help: 'Only without on-load tap changer' },
      ),
      x0OverX1: optionalQuantity('X0/X1', '', { above: 0, max: 100 }, { symbol: 'X0T/XT' }),
      r0OverR1: optionalQuantity('R0/R1', '', { min: 0, max: 100 }, { symbol: 'R0T/RT' }),
    })
    .refine((t) => t.uRPercent <= t.ukPercent, { path: ['uRPercent'], message: 'must not exceed uk' })
    .meta({ title: 'Unit transformer' }),
  hvNeutral: neutralSchema.meta({ title: 'HV neutral' }),
  runsAtMinimum: z.boolean().meta({ title: 'Runs at minimum sources' }),
  operation: operationField,
});

/** Of consumers on low-voltage circuits; left out: three phases, fixed. */
const onCircuit = { circuit: consumerSchema.meta({ title: 'On its circuit', hidden: true }).optional() };

/** Asynchronous motor, or a group of like motors (IEC 60909-0, 6.10). */
export const asynchronousMotorSchema = z.object({
  kind: z.literal('asynchronousMotor'),
  ...placed,
  ratedMw: quantity('Rated power (shaft)', 'MW', { above: 0 }, { symbol: 'PrM' }),
  ratedKv: quantity('Rated voltage', 'kV', { above: 0 }, { symbol: 'UrM' }),
  powerFactor: quantity('Power factor', '', { above: 0, max: 1 }, { symbol: 'cos φrM' }),
  efficiencyPercent: quantity('Efficiency', '%', { above: 0, max: 100 }, { symbol: 'η' }),
  startingRatio: quantity('Starting current ILR/IrM', '', { above: 0, max: 20 }, { symbol: 'ILR/IrM' }),
  polePairs: z.int().min(1).max(60).meta({ title: 'Pole pairs' }),
  count: z.int().min(1).max(500).meta({ title: 'Like motors' }),
  rOverX: optionalQuantity(
    'R/X',
    '',
    { above: 0, max: 5 },
    { symbol: 'RM/XM', help: 'Empty: by rating, IEC 60909-0, 6.10' },
  ),
  loadingPercent: withDefault(quantity('Loading in the load flow', '%', { min: 0, max: 150 }), 100),
  startPowerFactor: withDefault(
    optionalQuantity(
      'Power factor at starting',
      '',
      { above: 0, max: 1 },
      { symbol: 'cos φLR', help: 'Empty: by R/X' },
    ),
    null,
  ),
  startTorque: withDefault(
    optionalQuantity(
      'Locked-rotor torque',
      '× Tn',
      { above: 0, max: 10 },
      { symbol: 'TLR/Tn', help: 'Empty: IEC 60034-12, design N' },
    ),
    null,
  ),
  pullOutTorque: withDefault(
    optionalQuantity(
      'Breakdown torque',
      '× Tn',
      { above: 1, max: 10 },
      { symbol: 'Tb/Tn', help: 'Empty: IEC 60034-12, design N' },
    ),
    null,
  ),
  inertiaKgM2: withDefault(
    optionalQuantity(
      'Moment of inertia with the load',
      'kg·m²',
      { above: 0 },
      { symbol: 'J', help: 'At the speed of the motor' },
    ),
    null,
  ),
  loadTorque: withDefault(choice('Torque of the load', ['quadratic', 'linear', 'constant']), 'quadratic'),
  ...onCircuit,
});

/** Drive fed by a static converter; gives current only when it can feed back (IEC 60909-0, 6.11). */
export const staticDriveSchema = z.object({
  kind: z.literal('staticDrive'),
  ...placed,
  ratedMva: quantity(
    'Rated power',
    'MVA',
    { above: 0 },
    { symbol: 'SrM', help: 'Of the converter transformer, else of the converter' },
  ),
  ratedKv: quantity('Rated voltage', 'kV', { above: 0 }, { symbol: 'UrM' }),
  powerFactor: quantity('Power factor', '', { above: 0, max: 1 }, { symbol: 'cos φ' }),
  feedsBack: z.boolean().meta({ title: 'Regenerative' }),
  loadingPercent: quantity('Loading in the load flow', '%', { min: 0, max: 150 }),
  ...onCircuit,
});

/** Source behind a full-size converter: wind, solar, battery; its fault current is limited (IEC 60909-0:2016, 6.9). */
export const converterSourceSchema = z.object({
  kind: z.literal('converterSource'),
  ...placed,
  ratedMva: quantity('Rated power', 'MVA', { above: 0 }, { symbol: 'SrPF' }),
  ratedKv: quantity('Rated voltage', 'kV', { above: 0 }, { symbol: 'UrPF' }),
  faultRatio: quantity(
    'Fault current',
    '× In',
    { min: 0, max: 5 },
    { symbol: 'IkPF/IrPF', help: 'Largest steady value, into a three-phase fault' },
  ),
  operation: operationField,
});

/** Wind power unit with doubly-fed asynchronous generator, seen from the HV side of its transformer (IEC 60909-0:2016, 6.8). */
export const doublyFedMachineSchema = z.object({
  kind: z.literal('doublyFedMachine'),
  ...placed,
  ratedMva: quantity('Rated power', 'MVA', { above: 0 }, { symbol: 'SrWD' }),
  ratedKv: quantity('Rated voltage at the connection', 'kV', { above: 0 }, { symbol: 'UrTHV' }),
  peakKa: quantity('Highest instantaneous current', 'kA', { above: 0 }, { symbol: 'iWDmax' }),
  kappa: quantity('Factor κ', '', { min: 1, max: 2 }, { symbol: 'κWD' }),
  rOverX: quantity('R/X', '', { min: 0, max: 5 }, { symbol: 'RWD/XWD' }),
  operation: operationField,
});

/** Passive load; gives no fault current (IEC 60909-0, 6.12). */
export const loadSchema = z.object({
  kind: z.literal('load'),
  ...placed,
  ratedMva: quantity('Apparent power', 'MVA', { min: 0 }),
  powerFactor: quantity('Power factor', '', { above: 0, max: 1 }),
  reactive: withDefault(
    choice('Reactive power', ['lagging', 'leading'], {
      help: 'Lagging: drawn, as by motors. Leading: given, as by cables and capacitors',
    }),
    'lagging',
  ),
  behaves: withDefault(
    choice('In the load flow', ['constantPower', 'constantCurrent', 'constantImpedance']),
    'constantPower',
  ),
  ...onCircuit,
});

/** Shunt capacitor or reactor; left out of fault calculations by the equivalent voltage source (IEC 60909-0, 6.12). */
export const shuntSchema = z.object({
  kind: z.literal('shunt'),
  ...placed,
  type: choice('Type', ['capacitor', 'reactor']),
  ratedMvar: quantity('Rated power', 'Mvar', { above: 0 }),
  ratedKv: quantity('Rated voltage', 'kV', { above: 0 }),
  neutral: withDefault(neutralSchema.meta({ title: 'Star point' }), isolatedNeutral),
});

/** Earthing (zigzag) transformer with its neutral impedance: an earth path of the zero sequence and nothing else. */
export const earthingTransformerSchema = z.object({
  kind: z.literal('earthingTransformer'),
  ...placed,
  ratedKv: quantity('Rated voltage', 'kV', { above: 0 }),
  r0Ohm: quantity('R0 per phase', 'Ω', { min: 0 }, { symbol: 'R0' }),
  x0Ohm: quantity('X0 per phase', 'Ω', { above: 0 }, { symbol: 'X0' }),
  shortTimeA: rating('Rated short-time neutral current', 'A', 1e5, { symbol: 'In' }),
  shortTimeS: withDefault(quantity('Rated duration', 's', { above: 0, max: 7200 }), 10),
  neutral: neutralSchema.meta({ title: 'Neutral' }),
});

export type NetworkFeeder = z.infer<typeof networkFeederSchema>;
export type SynchronousMachine = z.infer<typeof synchronousMachineSchema>;
export type PowerStationUnit = z.infer<typeof powerStationUnitSchema>;
export type StaticDrive = z.infer<typeof staticDriveSchema>;
export type ConverterSource = z.infer<typeof converterSourceSchema>;
export type DoublyFedMachine = z.infer<typeof doublyFedMachineSchema>;
export type AsynchronousMotor = z.infer<typeof asynchronousMotorSchema>;
export type Load = z.infer<typeof loadSchema>;
export type Shunt = z.infer<typeof shuntSchema>;
export type EarthingTransformer = z.infer<typeof earthingTransformerSchema>;
