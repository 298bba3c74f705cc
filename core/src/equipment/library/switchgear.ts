/** Breakers by standard ratings, contactors, fuses; current and voltage transformers. */
import { closeAndLatchFactor } from '../../ratings/american';
import { makingFactor, standardTimeConstantMs } from '../../ratings/highVoltage';
import { makingRatio } from '../../ratings/lowVoltage';
import { shipped, type LibraryEntry } from '../entry';

const kilo = (value: number) => Number(value.toPrecision(4));

/** Rated voltages of IEC 62271-1, 5.2, with rated currents and breaking currents of IEC 62271-100 that are commonly made. */
const highVoltage: readonly (readonly [kv: number, amperes: readonly number[], kiloamperes: readonly number[]])[] = [
  [3.6, [630, 1250], [16, 25, 31.5]],
  [7.2, [630, 1250, 2000], [16, 25, 31.5, 40]],
  [12, [630, 1250, 2000, 2500, 3150], [16, 20, 25, 31.5, 40, 50]],
  [17.5, [630, 1250, 2000], [20, 25, 31.5, 40]],
  [24, [630, 1250, 2000, 2500], [16, 20, 25, 31.5]],
  [36, [630, 1250, 2000, 2500], [16, 20, 25, 31.5, 40]],
  [72.5, [1250, 2000], [25, 31.5, 40]],
  [145, [1250, 2000, 3150], [25, 31.5, 40]],
  [245, [2000, 3150], [40, 50]],
];

const breakers = highVoltage.flatMap(([ratedKv, amperes, kiloamperes]) =>
  amperes.flatMap((ratedA) =>
    kiloamperes.map((breakingKa) =>
      shipped(
        `cb-${ratedKv}-${ratedA}-${breakingKa}`,
        'switch',
        `Breaker ${ratedKv} kV, ${ratedA} A, ${breakingKa} kA`,
        {
          type: 'breaker',
          ratedKv,
          ratedA,
          ratedBy: 'iec62271',
          breakingKa,
          makingKa: kilo(makingFactor(50, standardTimeConstantMs) * breakingKa),
          shortTimeKa: breakingKa,
          shortTimeS: 3,
          timeConstantMs: standardTimeConstantMs,
          openingTimeS: ratedKv > 52 ? 0.04 : 0.06,
        },
        'ratings of IEC 62271-1, 5.2 and IEC 62271-100, making current for 50 Hz; opening time typical',
      ),
    ),
  ),
);

/** Rated maximum voltages and symmetrical interrupting currents of IEEE C37.06, indoor breakers. */
const north: readonly (readonly [kv: number, amperes: readonly number[], kiloamperes: readonly number[]])[] = [
  [4.76, [1200, 2000, 3000], [31.5, 40, 50]],
  [15, [1200, 2000, 3000], [20, 25, 31.5, 40, 50]],
  [38, [1200, 2000, 3000], [20, 25, 31.5, 40]],
];
const northBreakers = north.flatMap(([ratedKv, amperes, kiloamperes]) =>
  amperes.flatMap((ratedA) =>
    kiloamperes.map((breakingKa) =>
      shipped(
        `cb-ieee-${ratedKv}-${ratedA}-${breakingKa}`,
        'switch',
        `Breaker ${ratedKv} kV, ${ratedA} A, ${breakingKa} kA (IEEE)`,
        {
          type: 'breaker',
          ratedKv,
          ratedA,
          ratedBy: 'c37Symmetrical',
          breakingKa,
          makingKa: kilo(closeAndLatchFactor * breakingKa),
          shortTimeKa: breakingKa,
          shortTimeS: 2,
          ratedCycles: 5,
          openingTimeS: 0.05,
        },
        'ratings of IEEE C37.06; opening time typical',
      ),
    ),
  ),
);

const low = (['Moulded-case breaker', 'Air circuit breaker'] as const).flatMap((make, k) =>
  (k === 0 ? [100, 160, 250, 400, 630] : [800, 1000, 1250, 1600, 2000, 2500, 3200, 4000]).flatMap((ratedA) =>
    (k === 0 ? [25, 36, 50, 70] : [50, 65, 85, 100]).map((breakingKa) =>
      shipped(
        `lv-${ratedA}-${breakingKa}`,
        'switch',
        `${make} 0.69 kV, ${ratedA} A, ${breakingKa} kA`,
        {
          type: 'breaker',
          ratedKv: 0.69,
          ratedA,
          ratedBy: 'iec60947',
          breakingKa,
          makingKa: kilo(makingRatio(breakingKa).n * breakingKa),
          // Moulded-case breakers trip at once (category A) and have no short-time rating.
          shortTimeKa: k === 0 ? null : Math.min(breakingKa, 65),
          shortTimeS: 1,
          openingTimeS: k === 0 ? 0.01 : 0.05,
        },
        'IEC 60947-2; ratings commonly made',
      ),
    ),
  ),
);

/** Rated currents and short-circuit capacities of IEC 60898-1 as miniature breakers are commonly made; their type and let-through energy stand in their function. */
const miniature = [6, 8, 10, 13, 16, 20, 25, 32, 40, 50, 63].flatMap((ratedA) =>
  [6, 10].map((breakingKa) =>
    shipped(
      `mcb-${ratedA}-${breakingKa}`,
      'switch',
      `Miniature breaker 0.415 kV, ${ratedA} A, ${breakingKa} kA`,
      {
        type: 'breaker',
        ratedKv: 0.415,
        ratedA,
        ratedBy: 'iec60947',
        breakingKa,
        makingKa: kilo(makingRatio(breakingKa).n * breakingKa),
        shortTimeKa: null,
        shortTimeS: 1,
        openingTimeS: 0.01,
      },
      'IEC 60898-1, 5.3; ratings commonly made',
    ),
  ),
);

const fuses = [
  ...[16, 20, 25, 32, 40, 50, 63, 80, 100, 125, 160, 200, 250, 315, 400, 500, 630].map((ratedA) =>
    shipped(
      `gg-${ratedA}`,
      'switch',
      `Fuse gG 0.5 kV, ${ratedA} A`,
      { type: 'fuse', ratedKv: 0.5, ratedA, breakingKa: 120, openingTimeS: null },
      'IEC 60269-1; rated currents of IEC 60269-2',
    ),
  ),
  ...[6.3, 10, 16, 20, 25, 31.5, 40, 50, 63, 80, 100, 125].map((ratedA) =>
    shipped(
      `hv-fuse-${ratedA}`,
      'switch',
      `Back-up fuse 12 kV, ${ratedA} A`,
      { type: 'fuse', ratedKv: 12, ratedA, breakingKa: 63, minimumBreakingA: kilo(3.5 * ratedA), openingTimeS: null },
      'IEC 60282-1; ratings commonly made, minimum breaking current typical',
    ),
  ),
];

/** Primary currents of IEC 61869-2, 5.201, with protection classes. */
const currentTransformers = [
  50, 75, 100, 150, 200, 300, 400, 500, 600, 750, 800, 1000, 1200, 1250, 1500, 2000, 2500, 3000,
].flatMap((primaryA) =>
  ([1, 5] as const).flatMap((secondaryA) =>
    (['5P10', '5P20', '10P10'] as const).map((accuracy) =>
      shipped(
        `ct-${primaryA}-${secondaryA}-${accuracy.toLowerCase()}`,
        'currentTransformer',
        `CT ${primaryA}/${secondaryA} A, ${accuracy}`,
        { primaryA, secondaryA, accuracy },
        'IEC 61869-2, 5.201 and 5.6',
      ),
    ),
  ),
);

const voltageTransformers = [3.3, 6.6, 10, 11, 15, 20, 22, 33, 66, 110, 132, 220].flatMap((primaryKv) =>
  [100, 110].map((secondaryV) =>
    shipped(
      `vt-${primaryKv}-${secondaryV}`,
      'voltageTransformer',
      `VT ${primaryKv} kV / ${secondaryV} V, 0.5/3P`,
      { primaryKv, secondaryV, accuracy: '0.5/3P' },
      'IEC 61869-3',
    ),
  ),
);

export const switchgear: readonly LibraryEntry[] = [
  ...breakers,
  ...northBreakers,
  ...low,
  ...miniature,
  ...fuses,
  ...currentTransformers,
  ...voltageTransformers,
];
