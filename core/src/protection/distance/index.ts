/** Distance protection: up to five zones and an overreaching one, on six loops; circles or quadrilaterals. IEEE C37.113, IEC 60255-121. */
import { add, magnitude, subtract, type Complex } from '../../linear/complex';
import { formula, quantityOf as figure, type Trace } from '../../working/trace';
import {
  atRest,
  never,
  type Choice,
  type Family,
  type InputRating,
  type Response,
  type SeenCurrents,
  type Setting,
  type Timer,
} from '../family';
import type { ElementId } from '../../model/fields';
import { travelled } from '../travel';
import { inZone, measuredLoops, rad, secondaryOf, withZoneK0 } from './measured';
import { zoneNames, type DistanceFunction, type DistanceZone, type ZoneName } from './schema';
import type { Loop } from './loops';

const source = 'IEEE C37.113; loop equations';

export const zoneTitle = (name: ZoneName): string => (name === 'overreach' ? 'Overreaching zone' : `Zone ${name}`);

const freshZone = (name: ZoneName, reachOhm: number, delayS: number): DistanceZone => ({
  name,
  enabled: true,
  looks: 'forward',
  reachOhm,
  reachEarthOhm: reachOhm,
  resistanceOhm: reachOhm,
  resistanceEarthOhm: reachOhm,
  delayS,
  delayEarthS: delayS,
  k0: null,
  k0AngleDeg: 0,
});

export const freshDistance = (id: DistanceFunction['id'], input: DistanceFunction['input']): DistanceFunction => ({
  family: 'distance',
  id,
  enabled: true,
  input,
  circuits: [],
  characteristic: 'quadrilateral',
  polarisation: 'memory',
  lineAngleDeg: 75,
  compensation: 'factor',
  k0: 0.7,
  k0AngleDeg: 0,
  kr: 0.7,
  kx: 0.7,
  parallelInput: null,
  k0m: 0,
  k0mAngleDeg: 0,
  offsetPercent: 25,
  tiltDeg: -3,
  fromDeg: -15,
  toDeg: 115,
  loadCut: null,
  starting: null,
  voltageFailure: null,
  onClosing: null,
  startPickup: 0.2,
  earthPickup: 0.1,
  zones: [freshZone('1', 5, 0), freshZone('2', 8, 0.4), freshZone('3', 12, 0.8)],
  ranges: { ohm: { min: 0.05, max: 500, step: 0.01 }, delayS: { min: 0, max: 10, step: 0.01 } },
  reachErrorPercent: 5,
  operatingS: 0.03,
  errorS: 0.02,
});

export const distance: Family<DistanceFunction> = {
  id: 'distance',
  title: 'Distance',
  hosts: ['relay'],
  variants: [{ value: '21', label: '21 distance protection' }],
  fresh: (id, _, input) => freshDistance(id, input),
  code: () => '21',
  name: () => 'Distance protection',
  measuresVoltage: () => true,
  settings: settingsOf,
  withSetting,
  choices: (fn, inputs = []) => [
    {
      field: 'characteristic',
      title: 'characteristic',
      value: fn.characteristic,
      options: [
        { value: 'mho', label: 'circle through the origin' },
        { value: 'offsetMho', label: 'circle with offset' },
        { value: 'quadrilateral', label: 'quadrilateral' },
      ],
    },
    ...(fn.characteristic === 'mho'
      ? [
          {
            field: 'polarisation',
            title: 'polarised by',
            value: fn.polarisation,
            options: [
              { value: 'self', label: 'its own voltage' },
              { value: 'cross', label: 'the sound phases' },
              { value: 'memory', label: 'the voltage before the fault' },
            ],
          },
        ]
      : []),
    {
      field: 'compensation',
      title: 'residual compensation',
      value: fn.compensation,
      options: [
        { value: 'factor', label: 'k0' },
        { value: 'apart', label: 'RE/RL and XE/XL' },
      ],
    },
    onOff(
      'zoneK0',
      'k0 of zones',
      fn.zones.some(({ k0 }) => k0 !== null),
      'one for all',
      'each its own',
    ),
    {
      field: 'starting',
      title: 'started by',
      value: fn.starting?.by ?? none,
      options: [
        { value: none, label: 'its zones alone' },
        { value: 'overcurrent', label: 'overcurrent' },
        { value: 'underimpedance', label: 'underimpedance' },
      ],
      more: fn.starting === null,
    },
    ...(inputs.length > 1
      ? [
          {
            field: 'parallelInput',
            title: 'parallel line at',
            value: fn.parallelInput ?? none,
            options: [
              { value: none, label: 'not measured' },
              ...inputs.filter(({ id }) => id !== fn.input).map(({ id, label }) => ({ value: id, label })),
            ],
          },
        ]
      : []),
    onOff('voltageFailure', 'without voltage', fn.voltageFailure !== null, 'is blocked', 'overcurrent takes over'),
    onOff('onClosing', 'closing onto a fault', fn.onClosing !== null, 'as ever', 'trips by current'),
    onOff('loadCut', 'load', fn.loadCut !== null, 'within the zones', 'cut out'),
  ],
  withChoice,
  respond,
  advance(fn, rating, before, seen, seconds) {
    const { latestS } = respond(fn, rating, seen, null).band;
    return latestS < Infinity ? travelled(before, latestS, seconds) : before.tripped ? before : atRest;
  },
  timers,
  leastA,
  sheet: (fn, { primaryA, secondaryA }) => ({
    code: '21',
    curve: fn.characteristic,
    characteristic: fn.zones
      .filter(({ enabled }) => enabled)
      .map(({ name, reachOhm, delayS }) => `${zoneTitle(name)} ${reachOhm} Ω, ${delayS} s`)
      .join('; '),
    pickupIn: fn.startPickup,
    primaryA: fn.startPickup * primaryA,
    secondaryA: fn.startPickup * secondaryA,
    timeMultiplier: null,
    delayS: fn.zones[0].delayS,
  }),
};

/** Not there. */
const none = 'none';

const onOff = (field: string, title: string, isOn: boolean, off: string, on: string): Choice => ({
  field,
  title,
  value: isOn ? 'on' : none,
  options: [
    { value: none, label: off },
    { value: 'on', label: on },
  ],
  more: !isOn,
});

/** What a stage begins with when it is put in use. */
const fresh: Pick<DistanceFunction, 'starting' | 'voltageFailure' | 'onClosing' | 'loadCut'> = {
  starting: { by: 'overcurrent', pickup: 1.5, reachOhm: 20, endForwardS: 2, endS: 3 },
  voltageFailure: { pickup: 1.5, delayS: 0.5 },
  onClosing: { pickup: 2 },
  loadCut: { resistanceOhm: 30, angleDeg: 35 },
};

function withChoice(fn: DistanceFunction, field: string, value: string): DistanceFunction {
  if (field === 'parallelInput') return { ...fn, parallelInput: value === none ? null : (value as ElementId) };
  if (field === 'zoneK0') {
    const { k0, k0AngleDeg } = fn;
    const zones = fn.zones.map((zone) => (value === none ? { ...zone, k0: null } : { ...zone, k0, k0AngleDeg }));
    return { ...fn, zones };
  }
  if (!(field in fresh)) return { ...fn, [field]: value };
  const stage = field as keyof typeof fresh;
  if (value === none) return { ...fn, [stage]: null };
  const begun = fn[stage] ?? fresh[stage]!;
  return { ...fn, [stage]: stage === 'starting' ? { ...begun, by: value } : begun };
}

/** "zones.1.reachOhm" is the reach of the second zone. */
function settingsOf(fn: DistanceFunction): readonly Setting[] {
  const plain = (
    field: string,
    title: string,
    unit: string,
    value: number,
    range: Setting['range'],
    more = false,
  ): Setting => ({
    field,
    title,
    unit,
    value,
    range,
    role: 'other',
    ...(unit === 'Ω' && { secondary: true as const }),
    ...(more && { more }),
  });
  const isQuad = fn.characteristic === 'quadrilateral';
  return [
    plain('lineAngleDeg', 'Line angle', '°', fn.lineAngleDeg, { min: 20, max: 90, step: 0.1 }),
    ...(fn.compensation === 'factor'
      ? [
          plain('k0', 'k0', '', fn.k0, { min: 0, max: 10, step: 0.001 }),
          plain('k0AngleDeg', 'k0 angle', '°', fn.k0AngleDeg, null),
        ]
      : [plain('kr', 'RE/RL', '', fn.kr, null), plain('kx', 'XE/XL', '', fn.kx, null)]),
    ...(fn.parallelInput === null
      ? []
      : [
          plain('k0m', 'k0m', '', fn.k0m, { min: 0, max: 10, step: 0.001 }),
          plain('k0mAngleDeg', 'k0m angle', '°', fn.k0mAngleDeg, null),
        ]),
    ...fn.zones.flatMap((zone, k): Setting[] => {
      if (!zone.enabled) return [];
      const title = zoneTitle(zone.name);
      const of = (field: keyof DistanceZone, words: string, unit: string, range: Setting['range'], more = false) =>
        plain(`zones.${k}.${field}`, `${title} ${words}`, unit, zone[field] as number, range, more);
      return [
        of('reachOhm', 'reach', 'Ω', fn.ranges.ohm),
        of('reachEarthOhm', 'reach, earth', 'Ω', fn.ranges.ohm),
        ...(isQuad
          ? [
              of('resistanceOhm', 'resistance', 'Ω', fn.ranges.ohm),
              of('resistanceEarthOhm', 'resistance, earth', 'Ω', fn.ranges.ohm),
            ]
          : []),
        of('delayS', 'delay', 's', fn.ranges.delayS),
        of('delayEarthS', 'delay, earth', 's', fn.ranges.delayS),
        ...(zone.k0 === null
          ? []
          : [
              of('k0', 'k0', '', { min: 0, max: 10, step: 0.001 }),
              of('k0AngleDeg', 'k0 angle', '°', { min: -180, max: 180, step: 0.1 }),
            ]),
      ];
    }),
    ...(fn.starting
      ? [
          fn.starting.by === 'overcurrent'
            ? plain('starting.pickup', 'Starting current', '× In', fn.starting.pickup, {
                min: 0.1,
                max: 20,
                step: 0.05,
              })
            : plain('starting.reachOhm', 'Starting impedance', 'Ω', fn.starting.reachOhm, fn.ranges.ohm),
          ...(fn.starting.endForwardS !== null
            ? [plain('starting.endForwardS', 'End time, forward', 's', fn.starting.endForwardS, fn.ranges.delayS)]
            : []),
          ...(fn.starting.endS !== null
            ? [plain('starting.endS', 'End time', 's', fn.starting.endS, fn.ranges.delayS)]
            : []),
        ]
      : []),
    ...(fn.voltageFailure
      ? [
          plain('voltageFailure.pickup', 'Pickup without voltage', '× In', fn.voltageFailure.pickup, {
            min: 0.1,
            max: 20,
            step: 0.05,
          }),
          plain('voltageFailure.delayS', 'Delay without voltage', 's', fn.voltageFailure.delayS, fn.ranges.delayS),
        ]
      : []),
    ...(fn.onClosing
      ? [
          plain('onClosing.pickup', 'Pickup on closing', '× In', fn.onClosing.pickup, {
            min: 0.1,
            max: 20,
            step: 0.05,
          }),
        ]
      : []),
    ...(fn.loadCut
      ? [
          plain('loadCut.resistanceOhm', 'Load from', 'Ω', fn.loadCut.resistanceOhm, fn.ranges.ohm),
          plain('loadCut.angleDeg', 'Load up to', '°', fn.loadCut.angleDeg, { min: 0, max: 60, step: 1 }),
        ]
      : []),
    plain('startPickup', 'Least current', '× In', fn.startPickup, { min: 0.05, max: 4, step: 0.01 }),
    plain('earthPickup', 'Earth current', '× In', fn.earthPickup, { min: 0.05, max: 4, step: 0.01 }),
    ...(isQuad
      ? [
          plain('tiltDeg', 'Tilt', '°', fn.tiltDeg, { min: -45, max: 45, step: 1 }, true),
          plain('fromDeg', 'Lower side', '°', fn.fromDeg, null, true),
          plain('toDeg', 'Upper side', '°', fn.toDeg, null, true),
        ]
      : []),
    ...(fn.characteristic === 'offsetMho'
      ? [plain('offsetPercent', 'Offset', '%', fn.offsetPercent, { min: 0, max: 200, step: 1 })]
      : []),
    plain('reachErrorPercent', 'Error of the reach', '%', fn.reachErrorPercent, null, true),
    plain('operatingS', 'Own time', 's', fn.operatingS, null, true),
    plain('errorS', 'Error of timers', 's', fn.errorS, null, true),
  ];
}

function withSetting(fn: DistanceFunction, field: string, value: number): DistanceFunction {
  const [part, index, inner] = field.split('.');
  if (part !== 'zones' && index !== undefined) {
    const stage = part as keyof typeof fresh;
    return { ...fn, [stage]: { ...fn[stage], [index]: value } };
  }
  if (part !== 'zones') return { ...fn, [field]: value };
  return { ...fn, zones: fn.zones.map((zone, k) => (k === Number(index) ? { ...zone, [inner]: value } : zone)) };
}

export interface ZoneHit {
  readonly zone: DistanceZone;
  readonly loop: Loop;
  readonly delayS: number;
}

/** Zones that loops lie in, the quickest first. `loopsFor`: as a zone with a residual compensation of its own measures them. */
export function zonesHit(
  fn: DistanceFunction,
  loops: readonly Loop[],
  wider = 1,
  loopsFor: (zone: DistanceZone) => readonly Loop[] = () => loops,
): ZoneHit[] {
  return fn.zones
    .flatMap((zone) =>
      loopsFor(zone)
        .filter((loop) => inZone(fn, zone, loop, wider))
        .map((loop): ZoneHit => ({ zone, loop, delayS: loop.isEarth ? zone.delayEarthS : zone.delayS })),
    )
    .sort((p, q) => p.delayS - q.delayS || zoneNames.indexOf(p.zone.name) - zoneNames.indexOf(q.zone.name));
}

/** Residual of the input that measures the parallel line; null where the function does not heed it. */
export const parallelOf = (
  fn: DistanceFunction,
  all: Readonly<Record<string, SeenCurrents>> | undefined,
): Complex | null => {
  const vectors = fn.parallelInput ? all?.[fn.parallelInput]?.vectors : undefined;
  return vectors ? vectors.currents.reduce((sum, each) => add(sum, each)) : null;
};

/** By what a distance function trips. */
export interface Trip {
  /** A zone; an end time of the starting, forward or in any direction; overcurrent without a voltage; on closing. */
  readonly by: 'zone' | 'endForward' | 'end' | 'voltageFailure' | 'closing';
  readonly zone: DistanceZone | null;
  readonly loop: Loop | null;
  readonly delayS: number;
}

/** Of the rated voltage: below it before the fault, the voltage transformer has failed. */
const failedVoltage = 0.1;

const hasFailed = (seen: SeenCurrents): boolean => {
  const { vectors } = seen;
  if (!vectors?.voltages) return true;
  const least = (failedVoltage * vectors.ratedV) / Math.sqrt(3);
  return [vectors.voltages, vectors.before].every(
    (three) => three !== null && three.every((each) => magnitude(each) < least),
  );
};

/** Whether the fault lies ahead: by the loop with the smallest impedance, as others take in sound phases. */
function isAhead(fn: DistanceFunction, loops: readonly Loop[]): boolean {
  const size = ({ impedance }: Loop) => (impedance ? magnitude(impedance) : Infinity);
  const { impedance } = loops.reduce((p, q) => (size(q) < size(p) ? q : p));
  if (!impedance || magnitude(impedance) === 0) return impedance !== null;
  const deg = (Math.atan2(impedance.im, impedance.re) * 180) / Math.PI;
  return deg > fn.fromDeg && deg < fn.toDeg;
}

/** All that leads to a trip, and the loops that are measured. */
export function tripsOf(
  fn: DistanceFunction,
  rating: InputRating,
  seen: SeenCurrents,
): { readonly loops: readonly Loop[]; readonly trips: readonly Trip[] } {
  const { vectors } = seen;
  const perUnit = seen.phaseA / rating.primaryA;
  const plain = (by: Trip['by'], delayS: number): Trip => ({ by, zone: null, loop: null, delayS });
  if (seen.isClosing && fn.onClosing && perUnit >= fn.onClosing.pickup)
    return { loops: [], trips: [plain('closing', 0)] };
  if (hasFailed(seen) && !seen.isClosing) {
    const { voltageFailure } = fn;
    return {
      loops: [],
      trips:
        vectors && voltageFailure && perUnit >= voltageFailure.pickup
          ? [plain('voltageFailure', voltageFailure.delayS)]
          : [],
    };
  }
  const parallel = parallelOf(fn, seen.inputs);
  const loops = vectors ? measuredLoops(fn, rating, vectors, parallel) : [];
  const loopsFor = (zone: DistanceZone) =>
    zone.k0 === null || !vectors ? loops : measuredLoops(withZoneK0(fn, zone), rating, vectors, parallel);
  const { starting } = fn;
  const starts =
    starting === null ||
    (starting.by === 'overcurrent'
      ? perUnit >= starting.pickup
      : loops.some(({ impedance }) => impedance !== null && magnitude(impedance) <= starting.reachOhm));
  if (!starts) return { loops, trips: [] };
  const zones = zonesHit(fn, loops, 1, loopsFor);
  const ends =
    starting === null || loops.length === 0
      ? []
      : [
          ...(starting.endForwardS !== null && isAhead(fn, loops) ? [plain('endForward', starting.endForwardS)] : []),
          ...(starting.endS !== null ? [plain('end', starting.endS)] : []),
        ];
  return { loops, trips: [...zones.map((hit): Trip => ({ by: 'zone', ...hit })), ...ends] };
}

/** What trips first, and all loops that are measured; null where nothing trips. */
export function tripOf(
  fn: DistanceFunction,
  rating: InputRating,
  seen: SeenCurrents,
): { readonly loops: readonly Loop[]; readonly trip: Trip | null } {
  const { loops, trips } = tripsOf(fn, rating, seen);
  return { loops, trip: trips.length > 0 ? trips.reduce((p, q) => (q.delayS < p.delayS ? q : p)) : null };
}

/** A loop carries twice the largest phase current at most, or with the residual current of three phases as compensation has it. */
function leastA(fn: DistanceFunction, { primaryA }: InputRating): number | null {
  if (fn.parallelInput !== null) return null;
  const factors = fn.zones.map(({ k0 }) => k0 ?? 0);
  const most = fn.compensation === 'factor' ? Math.max(fn.k0, ...factors) : Math.max(fn.kr, fn.kx, ...factors);
  const loop = fn.startPickup / Math.max(2, 1 + 3 * most);
  const others = [fn.onClosing?.pickup, fn.voltageFailure?.pickup].filter((each) => each !== undefined);
  return Math.min(loop, ...others) * primaryA;
}

/** Of a quadrilateral the farthest corner, in secondary ohms: what lies beyond is in no zone. Null for shapes that depend on more than the impedance. */
function farthestCorner(fn: DistanceFunction): number | null {
  if (fn.characteristic !== 'quadrilateral' || fn.starting !== null) return null;
  const tilt = Math.abs(Math.tan(rad(fn.tiltDeg)));
  const corners = fn.zones.map(({ reachOhm, reachEarthOhm, resistanceOhm, resistanceEarthOhm }) => {
    const [x, r] = [Math.max(reachOhm, reachEarthOhm), Math.max(resistanceOhm, resistanceEarthOhm)];
    // The side along the line leans by as much as the line does.
    const along = r + x / Math.tan(rad(fn.lineAngleDeg));
    return Math.hypot(along, x + along * tilt);
  });
  return 1.01 * Math.max(...corners);
}

/** Whether no loop can lie in any zone: all impedances are beyond the farthest corner. Cheaper than the zones themselves. */
function isFar(fn: DistanceFunction, rating: InputRating, { vectors, phaseA }: SeenCurrents): boolean {
  const corner = farthestCorner(fn);
  if (corner === null || !vectors?.voltages) return false;
  const reach = corner / secondaryOf(rating, vectors);
  const most = fn.compensation === 'factor' ? Math.max(fn.k0, ...fn.zones.map(({ k0 }) => k0 ?? 0)) : null;
  if (most === null || fn.parallelInput !== null) return false;
  const [u, v, w] = vectors.voltages;
  const phase = Math.min(magnitude(u), magnitude(v), magnitude(w));
  const between = Math.min(magnitude(subtract(u, v)), magnitude(subtract(v, w)), magnitude(subtract(w, u)));
  const [p, q, r] = vectors.currents;
  const residual = magnitude(add(p, add(q, r)));
  return phase > reach * (phaseA + most * residual) && between > reach * 2 * phaseA;
}

/** Each zone and each end time by its own timer, by its quickest loop. */
function timers(fn: DistanceFunction, rating: InputRating, seen: SeenCurrents): readonly Timer[] {
  if (!seen.isClosing && isFar(fn, rating, seen)) return [];
  const { trips } = tripsOf(fn, rating, seen);
  const multiple = seen.phaseA / (fn.startPickup * rating.primaryA);
  const found = new Map<string, Timer>();
  for (const trip of trips) {
    const id = trip.zone ? trip.zone.name : trip.by;
    const timeS = trip.delayS + fn.operatingS;
    const before = found.get(id);
    if (!before || before.timeS > timeS)
      found.set(id, {
        id,
        name: trip.zone ? zoneTitle(trip.zone.name).toLowerCase() : tripTitles[trip.by],
        multiple,
        timeS,
      });
  }
  return [...found.values()];
}

const tripTitles: Readonly<Record<Trip['by'], string>> = {
  zone: '',
  endForward: 'end time, forward',
  end: 'end time',
  voltageFailure: 'overcurrent, no voltage',
  closing: 'closing onto a fault',
};

/** "1", "2" … of a zone, words for the others. */
export const tripName = ({ by, zone }: Trip): string => (zone ? zone.name : tripTitles[by]);

function respond(fn: DistanceFunction, rating: InputRating, seen: SeenCurrents, trace: Trace | null): Response {
  const { loops, trip } = tripOf(fn, rating, seen);
  const multiple = seen.phaseA / (fn.startPickup * rating.primaryA);
  if (!trip) return { pickedUp: loops.length > 0, multiple, band: never };
  const { loop, zone, delayS } = trip;
  if (trace && loop && zone) {
    const reach = loop.isEarth ? zone.reachEarthOhm : zone.reachOhm;
    const voltage = figure(`U${loop.name}`, magnitude(loop.voltage), 'V');
    const current = figure(`I${loop.name}`, magnitude(loop.current), 'A');
    const ohm = trace.step(
      `Z${loop.name}`,
      formula`${voltage} / ${current}`,
      magnitude(loop.voltage) / magnitude(loop.current),
      'Ω',
      source,
      'secondary, magnitude; in the ratio of the transformers',
    );
    trace.step(
      'Z/Zr',
      formula`${ohm} / ${figure(`reach of ${zoneTitle(zone.name).toLowerCase()}`, reach, 'Ω')}`,
      ohm.value / reach,
    );
  }
  trace?.step(
    't',
    formula`${figure(zone ? 'td' : tripTitles[trip.by], delayS, 's')} + ${figure('own time', fn.operatingS, 's')}`,
    delayS + fn.operatingS,
    's',
  );
  return {
    pickedUp: true,
    multiple,
    band: {
      earliestS: Math.max(0, delayS + fn.operatingS - fn.errorS),
      latestS: delayS + fn.operatingS + (delayS > 0 ? fn.errorS : 0),
    },
  };
}
