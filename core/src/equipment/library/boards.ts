/** Boards by standard ratings: what their busbars carry, and what they withstand. */
import { boardPeakRatio } from '../../ratings/lowVoltage';
import { shipped, type LibraryEntry } from '../entry';

/** Rated peak over rated short-time withstand current at 50 Hz and a time constant of 45 ms (IEC 62271-1, 5.7). */
const highVoltagePeak = 2.5;

/** Rated voltages and currents of IEC 62271-1, 5.2 and 5.5, as metal-enclosed boards are commonly made. */
const highVoltage: readonly (readonly [kv: number, amperes: readonly number[], kiloamperes: readonly number[]])[] = [
  [7.2, [630, 1250, 2000, 2500, 3150], [16, 20, 25, 31.5, 40]],
  [12, [630, 1250, 2000, 2500, 3150, 4000], [16, 20, 25, 31.5, 40, 50]],
  [17.5, [630, 1250, 2000, 2500, 3150], [20, 25, 31.5, 40]],
  [24, [630, 1250, 2000, 2500], [16, 20, 25, 31.5]],
  [36, [630, 1250, 2000, 2500], [16, 20, 25, 31.5, 40]],
];

const digits = (value: number) => Number(value.toPrecision(3));

const boards = highVoltage.flatMap(([ratedKv, amperes, kiloamperes]) =>
  amperes.flatMap((ratedA) =>
    kiloamperes.map((shortTimeKa) =>
      shipped(
        `board-${ratedKv}-${ratedA}-${shortTimeKa}`,
        'bus',
        `Board ${ratedKv} kV, ${ratedA} A, ${shortTimeKa} kA for 3 s`,
        { ratedKv, ratedA, shortTimeKa, shortTimeS: 3, peakKa: digits(highVoltagePeak * shortTimeKa) },
        'ratings of IEC 62271-1, 5.2 to 5.8 and IEC 62271-200; peak for 50 Hz',
      ),
    ),
  ),
);

const lowVoltage = (
  [
    [400, [10, 16, 25]],
    [630, [16, 25, 36]],
    [1000, [25, 36, 50]],
    [1600, [36, 50, 65]],
    [2500, [50, 65, 80]],
    [3200, [50, 65, 80, 100]],
    [4000, [65, 80, 100]],
    [5000, [80, 100]],
  ] as const
).flatMap(([ratedA, kiloamperes]) =>
  kiloamperes.map((shortTimeKa) =>
    shipped(
      `board-0.69-${ratedA}-${shortTimeKa}`,
      'bus',
      `Board 0.69 kV, ${ratedA} A, ${shortTimeKa} kA for 1 s`,
      {
        ratedKv: 0.69,
        ratedA,
        shortTimeKa,
        shortTimeS: 1,
        peakKa: digits(boardPeakRatio(shortTimeKa).n * shortTimeKa),
      },
      'IEC 61439-1, Table 7 for the peak; ratings commonly made',
    ),
  ),
);

export const switchboards: readonly LibraryEntry[] = [...boards, ...lowVoltage];
