/**
 * Lines and cables: resistance per kilometre at 20 °C from the conductor (IEC 60228, Table 2, class 2), reactance and capacitance typical of the make. The
 * current-carrying capacities are round values of practice for laying in earth and in air; IEC 60364-5-52 and IEC 60287 decide.
 */
import { conductors } from '../../circuits/ampacity';
import { shipped, type LibraryEntry } from '../entry';

/** Those of stranded conductors that are made in both metals and laid as cables here: section, copper, aluminium. */
const conductor = conductors.flatMap(([mm2, copper, aluminium]) =>
  mm2 >= 16 && aluminium !== null ? [[mm2, copper, aluminium] as const] : [],
);

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
            sectionMm2: mm2,
            metal: metal === 'Cu' ? 'copper' : 'aluminium',
            insulation: 'xlpe',
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
          sectionMm2: mm2,
          metal: metal === 'Cu' ? 'copper' : 'aluminium',
          insulation: 'pvc',
          endTemperatureC: 160,
        },
        'R: IEC 60228, Table 2; the rest typical',
      );
    }),
  );

/**
 * Aluminium conductors with a steel core, 50 Hz: section of aluminium in mm², diameter in mm, resistance at 20 °C in Ω/km (EN 50182), and the current for 40 K
 * above air of 35 °C in slight wind, in A (practice).
 */
export const steelCored: readonly (readonly [mm2: number, diameterMm: number, ohmPerKm: number, ampere: number])[] = [
  [25, 6.8, 1.203, 140],
  [35, 8.1, 0.835, 170],
  [50, 9.6, 0.595, 210],
  [70, 11.7, 0.413, 290],
  [95, 13.6, 0.306, 350],
  [120, 15.5, 0.237, 410],
  [150, 17.1, 0.194, 470],
  [185, 19, 0.157, 535],
  [240, 21.8, 0.119, 645],
  [300, 24.5, 0.0949, 740],
  [435, 28.8, 0.0666, 900],
  [560, 32.2, 0.0514, 1040],
];

/** Geometric mean distance of the phases in metres by what the line is built for, and the sections that are strung there. */
const strung = [
  { key: 'acsr', title: 'to 33 kV', gmdM: 1.5, from: 25, to: 185 },
  { key: 'acsr-132', title: '66 to 132 kV', gmdM: 6, from: 150, to: 435 },
  { key: 'acsr-220', title: '220 kV', gmdM: 9, from: 240, to: 560 },
] as const;

const vacuumPermittivity = 8.8542; // nF/km: ε₀
const omega = 2 * Math.PI * 50;

/** Reactance and capacitance of the geometry (a stranded conductor's geometric mean radius is 0.81 of its own), earth return by its resistance π²·f·10⁻⁴ Ω/km a phase. */
const overhead = strung.flatMap(({ key, title, gmdM, from, to }) =>
  steelCored
    .filter(([mm2]) => mm2 >= from && mm2 <= to)
    .map(([mm2, diameterMm, r1, ratedA]) => {
      const radiusM = diameterMm / 2000;
      const x1 = round(omega * 2e-4 * Math.log(gmdM / (0.81 * radiusM)));
      const b1 = (omega * 2 * Math.PI * vacuumPermittivity) / Math.log(gmdM / radiusM) / 1000;
      return shipped(
        `${key}-${mm2}`,
        'line',
        `Overhead line ${title}, Al/St ${mm2} mm²`,
        {
          type: 'overhead',
          data: 'perLength',
          r1OhmPerKm: r1,
          x1OhmPerKm: x1,
          r0OhmPerKm: round(r1 + 3 * Math.PI ** 2 * 50e-4),
          x0OhmPerKm: round(3.4 * x1),
          b1UsPerKm: round(b1),
          b0UsPerKm: round(0.58 * b1),
          ratedA,
          sectionMm2: mm2,
          metal: 'aluminium',
          insulation: 'none',
          endTemperatureC: 80,
        },
        `R: EN 50182; X and B: geometric mean distance ${gmdM} m; zero sequence and capacity typical`,
      );
    }),
);

export const lines: readonly LibraryEntry[] = [...mediumVoltage(11), ...mediumVoltage(33), ...lowVoltage, ...overhead];
