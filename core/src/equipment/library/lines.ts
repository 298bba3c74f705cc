/**
 * Lines and cables: resistance per kilometre at 20 °C from the conductor (IEC 60228, Table 2, class 2), reactance and capacitance typical of the make. The
 * current-carrying capacities are round values of practice for laying in earth and in air; IEC 60364-5-52 and IEC 60287 decide.
 */
import { shipped, type LibraryEntry } from '../entry';

/** Largest resistance of stranded copper and aluminium conductors at 20 °C in Ω/km by section in mm² (IEC 60228, Table 2). */
const conductor: readonly (readonly [mm2: number, copper: number, aluminium: number])[] = [
  [16, 1.15, 1.91],
  [25, 0.727, 1.2],
  [35, 0.524, 0.868],
  [50, 0.387, 0.641],
  [70, 0.268, 0.443],
  [95, 0.193, 0.32],
  [120, 0.153, 0.253],
  [150, 0.124, 0.206],
  [185, 0.0991, 0.164],
  [240, 0.0754, 0.125],
  [300, 0.0601, 0.1],
  [400, 0.047, 0.0778],
  [500, 0.0366, 0.0605],
  [630, 0.0283, 0.0469],
];

/** Capacity of single-core XLPE cables in trefoil in earth, in A by section; practice. */
const inEarth: Readonly<Record<number, readonly [copper: number, aluminium: number]>> = {
  35: [180, 140],
  50: [215, 165],
  70: [260, 205],
  95: [310, 245],
  120: [355, 275],
  150: [395, 310],
  185: [445, 350],
  240: [515, 405],
  300: [580, 455],
  400: [655, 520],
  500: [735, 590],
  630: [825, 670],
};

const round = (value: number) => Number(value.toPrecision(3));

/** Medium-voltage XLPE cables: reactance falls with the section, capacitance rises. */
const mediumVoltage = (kv: number): LibraryEntry[] =>
  conductor
    .filter(([mm2]) => mm2 in inEarth)
    .flatMap(([mm2, copper, aluminium]) =>
      (['Cu', 'Al'] as const).map((metal) => {
        const r1 = metal === 'Cu' ? copper : aluminium;
        const x1 = round((kv > 20 ? 0.16 : 0.145) - 0.018 * Math.log(mm2 / 35));
        const microfarad = (kv > 20 ? 0.11 : 0.16) + 0.00032 * mm2;
        return shipped(
          `xlpe-${kv}-${mm2}-${metal.toLowerCase()}`,
          'line',
          `XLPE cable ${kv} kV, 3 × 1 × ${mm2} mm² ${metal}`,
          {
            type: 'cable',
            data: 'perLength',
            r1OhmPerKm: r1,
            x1OhmPerKm: x1,
            r0OhmPerKm: round(r1 + 0.6),
            x0OhmPerKm: round(2.4 * x1),
            b1UsPerKm: round(2 * Math.PI * 50 * microfarad),
            b0UsPerKm: round(2 * Math.PI * 50 * microfarad),
            ratedA: inEarth[mm2][metal === 'Cu' ? 0 : 1],
            endTemperatureC: 250,
          },
          'R: IEC 60228, Table 2; the rest typical',
        );
      }),
    );

const lowVoltage = conductor
  .filter(([mm2]) => mm2 <= 300)
  .flatMap(([mm2, copper, aluminium]) =>
    (['Cu', 'Al'] as const).map((metal) => {
      const r1 = metal === 'Cu' ? copper : aluminium;
      return shipped(
        `pvc-0.4-${mm2}-${metal.toLowerCase()}`,
        'line',
        `PVC cable 0.6/1 kV, 4 × ${mm2} mm² ${metal}`,
        {
          type: 'cable',
          data: 'perLength',
          r1OhmPerKm: r1,
          x1OhmPerKm: round(0.086 - 0.0035 * Math.log(mm2 / 16)),
          r0OhmPerKm: round(4 * r1),
          x0OhmPerKm: round(0.33),
          ratedA: Math.round(((metal === 'Cu' ? 20 : 15.5) * mm2 ** 0.61) / 5) * 5,
          endTemperatureC: 160,
        },
        'R: IEC 60228, Table 2; the rest typical',
      );
    }),
  );

/** Overhead conductors on wood or steel, geometric mean distance about 1.5 m (11 to 33 kV) and 6 m (132 kV). */
const overhead = (
  [
    ['acsr-50', 'Overhead line to 33 kV, Al/St 50 mm²', 0.595, 0.37, 170],
    ['acsr-95', 'Overhead line to 33 kV, Al/St 95 mm²', 0.306, 0.35, 350],
    ['acsr-150', 'Overhead line to 33 kV, Al/St 150 mm²', 0.194, 0.335, 470],
    ['acsr-240', 'Overhead line 66 to 132 kV, Al/St 240 mm²', 0.119, 0.405, 645],
    ['acsr-400', 'Overhead line 132 to 220 kV, Al/St 400 mm²', 0.072, 0.395, 860],
  ] as const
).map(([id, title, r1, x1, ratedA]) =>
  shipped(
    id,
    'line',
    title,
    {
      type: 'overhead',
      data: 'perLength',
      r1OhmPerKm: r1,
      x1OhmPerKm: x1,
      r0OhmPerKm: round(r1 + 0.15),
      x0OhmPerKm: round(3.4 * x1),
      b1UsPerKm: 2.8,
      b0UsPerKm: 1.6,
      ratedA,
      endTemperatureC: 80,
    },
    'typical',
    false,
  ),
);

export const lines: readonly LibraryEntry[] = [...mediumVoltage(11), ...mediumVoltage(33), ...lowVoltage, ...overhead];
