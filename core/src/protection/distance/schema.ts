/** Stored settings of distance protection (IEEE C37.2, 21), in secondary ohms, as the relay takes them. */
import { z } from 'zod';
import { choice, functionBase, quantity, settingRangeSchema } from '../../model/deviceFunction';
import { elementIdSchema, withDefault } from '../../model/fields';

export const zoneNames = ['1', '2', '3', '4', '5', 'overreach'] as const;
export type ZoneName = (typeof zoneNames)[number];

const ohm = (title: string) => quantity(title, 'Ω', { min: 0, max: 10_000 });

/** A zone: along the line angle and across it, for phase and for earth loops, each with its own timer. */
export const distanceZoneSchema = z.object({
  name: choice('Zone', zoneNames),
  enabled: z.boolean().meta({ title: 'In use' }),
  looks: choice('Looks', ['forward', 'reverse', 'both']),
  reachOhm: ohm('Reach, phase loops'),
  reachEarthOhm: ohm('Reach, earth loops'),
  resistanceOhm: ohm('Resistance, phase loops'),
  resistanceEarthOhm: ohm('Resistance, earth loops'),
  delayS: quantity('Delay, phase loops', 's', { min: 0, max: 60 }),
  delayEarthS: quantity('Delay, earth loops', 's', { min: 0, max: 60 }),
  /** Residual compensation of its own; null: that of the function. */
  k0: withDefault(quantity('k0 of the zone', '', { min: 0, max: 10 }).nullable(), null),
  k0AngleDeg: withDefault(quantity('Angle of its k0', '°', { min: -180, max: 180 }), 0),
});
export type DistanceZone = z.infer<typeof distanceZoneSchema>;

export const startings = ['overcurrent', 'underimpedance'] as const;

/** What must pick up before any zone may trip, and when it trips by itself: in the direction of the line, and in any. */
export const startingSchema = z.object({
  by: choice('Started by', startings),
  pickup: quantity('Starting current', '× In', { above: 0, max: 20 }),
  reachOhm: ohm('Starting impedance'),
  endForwardS: quantity('End time, forward', 's', { min: 0, max: 60 }).nullable(),
  endS: quantity('End time, any direction', 's', { min: 0, max: 60 }).nullable(),
});

/** Overcurrent that takes over while no voltage is measured. */
export const voltageFailureSchema = z.object({
  pickup: quantity('Pickup without voltage', '× In', { above: 0, max: 20 }),
  delayS: quantity('Delay without voltage', 's', { min: 0, max: 60 }),
});

/** Trips at once when a breaker is closed onto a fault: by current alone, as there is no voltage to remember. */
export const onClosingSchema = z.object({
  pickup: quantity('Pickup on closing', '× In', { above: 0, max: 20 }),
});

export const distanceFunctionSchema = z.object({
  family: z.literal('distance'),
  ...functionBase,
  characteristic: choice('Characteristic', ['mho', 'offsetMho', 'quadrilateral']),
  polarisation: withDefault(choice('Polarised by', ['self', 'cross', 'memory']), 'memory'),
  lineAngleDeg: quantity('Angle of the line', '°', { min: 20, max: 90 }),
  /** How earth loops take in the residual current. */
  compensation: choice('Residual compensation', ['factor', 'apart']),
  k0: quantity('k0', '', { min: 0, max: 10 }),
  k0AngleDeg: quantity('Angle of k0', '°', { min: -180, max: 180 }),
  kr: quantity('RE/RL', '', { min: -1, max: 20 }),
  kx: quantity('XE/XL', '', { min: -1, max: 20 }),
  /** Input that measures the parallel line, whose residual current counts for earth loops; none: not compensated. */
  parallelInput: withDefault(elementIdSchema.nullable().meta({ title: 'Parallel line at' }), null),
  k0m: withDefault(quantity('k0m', '', { min: 0, max: 10 }), 0),
  k0mAngleDeg: withDefault(quantity('Angle of k0m', '°', { min: -180, max: 180 }), 0),
  /** Of the reach, backward: for the circle with offset. */
  offsetPercent: withDefault(quantity('Offset', '%', { min: 0, max: 200 }), 25),
  tiltDeg: withDefault(quantity('Tilt of the top', '°', { min: -45, max: 45 }), 0),
  fromDeg: withDefault(quantity('Directional side, lower', '°', { min: -60, max: 30 }), -15),
  toDeg: withDefault(quantity('Directional side, upper', '°', { min: 90, max: 160 }), 115),
  /** Resistance from which on the impedance of a load is cut out, and up to which angle; none: nothing is cut out. */
  loadCut: withDefault(
    z
      .object({
        resistanceOhm: ohm('Load from'),
        angleDeg: quantity('Load up to', '°', { min: 0, max: 60 }),
      })
      .nullable()
      .meta({ title: 'Load cut out' }),
    null,
  ),
  starting: withDefault(startingSchema.nullable().meta({ title: 'Starting' }), null),
  voltageFailure: withDefault(voltageFailureSchema.nullable().meta({ title: 'Failure of the voltage' }), null),
  onClosing: withDefault(onClosingSchema.nullable().meta({ title: 'Closing onto a fault' }), null),
  /** Least current of a loop, in multiples of the rated one: below it nothing is measured. */
  startPickup: quantity('Least current', '× In', { above: 0, max: 10 }),
  /** Residual current from which on earth loops are looked at. */
  earthPickup: quantity('Residual current of earth faults', '× In', { above: 0, max: 10 }),
  zones: z.array(distanceZoneSchema).min(1).max(zoneNames.length).meta({ title: 'Zones', hidden: true }),
  ranges: z.object({ ohm: settingRangeSchema, delayS: settingRangeSchema }),
  /** Of an impedance, and of the time that measuring takes. */
  reachErrorPercent: withDefault(quantity('Error of the reach', '%', { min: 0, max: 30 }), 5),
  operatingS: withDefault(quantity('Own time', 's', { min: 0, max: 1 }), 0.03),
  errorS: withDefault(quantity('Error of the timers', 's', { min: 0, max: 1 }), 0.02),
});
export type DistanceFunction = z.infer<typeof distanceFunctionSchema>;
