/** Distance protection: up to five zones and an overreaching one, on six loops; circles or quadrilaterals. IEEE C37.113, IEC 60255-121. */
import { add, magnitude, type Complex } from '../../linear/complex';
import { formula, quantityOf as figure, type Trace } from '../../working/trace';
import {
  atRest,
  never,
  type Family,
  type InputRating,
  type Response,
  type SeenCurrents,
  type Setting,
} from '../family';
import { travelled } from '../travel';
import { inZone, measuredLoops } from './measured';
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
  choices: (fn) => [
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
  ],
  withChoice: (fn, field, value) => ({ ...fn, [field]: value }),
  respond,
  advance(fn, rating, before, seen, seconds) {
    const { latestS } = respond(fn, rating, seen, null).band;
    return latestS < Infinity ? travelled(before, latestS, seconds) : before.tripped ? before : atRest;
  },
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
      ];
    }),
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
  if (part !== 'zones') return { ...fn, [field]: value };
  return { ...fn, zones: fn.zones.map((zone, k) => (k === Number(index) ? { ...zone, [inner]: value } : zone)) };
}

export interface ZoneHit {
  readonly zone: DistanceZone;
  readonly loop: Loop;
  readonly delayS: number;
}

/** Zones that loops lie in, the quickest first. */
export function zonesHit(fn: DistanceFunction, loops: readonly Loop[], wider = 1): ZoneHit[] {
  return fn.zones
    .flatMap((zone) =>
      loops
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

function respond(fn: DistanceFunction, rating: InputRating, seen: SeenCurrents, trace: Trace | null): Response {
  const { vectors } = seen;
  const loops = vectors ? measuredLoops(fn, rating, vectors, parallelOf(fn, seen.inputs)) : [];
  const [first] = zonesHit(fn, loops);
  const multiple = seen.phaseA / (fn.startPickup * rating.primaryA);
  if (!first) return { pickedUp: loops.length > 0, multiple, band: never };
  const { loop, zone, delayS } = first;
  const reach = loop.isEarth ? zone.reachEarthOhm : zone.reachOhm;
  if (trace) {
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
    trace.step(
      't',
      formula`${figure('td', delayS, 's')} + ${figure('own time', fn.operatingS, 's')}`,
      delayS + fn.operatingS,
      's',
    );
  }
  return {
    pickedUp: true,
    multiple,
    band: {
      earliestS: Math.max(0, delayS + fn.operatingS - fn.errorS),
      latestS: delayS + fn.operatingS + (delayS > 0 ? fn.errorS : 0),
    },
  };
}
