/** Motors and generators: typical values by size. */
import { shipped, type LibraryEntry } from '../entry';

/** Rated power in kW, efficiency in percent and power factor of four-pole low-voltage motors (about IE3 of IEC 60034-30-1). */
const lowVoltage: readonly (readonly [kw: number, efficiency: number, cos: number])[] = [
  [4, 88.6, 0.81],
  [7.5, 90.4, 0.83],
  [11, 91.4, 0.84],
  [15, 92.1, 0.85],
  [22, 93, 0.85],
  [37, 93.9, 0.86],
  [55, 94.6, 0.86],
  [75, 95, 0.87],
  [110, 95.4, 0.87],
  [160, 95.8, 0.88],
  [200, 96, 0.88],
  [315, 96, 0.88],
];

const motors = lowVoltage.map(([kw, efficiencyPercent, powerFactor]) =>
  shipped(
    `motor-${kw}`,
    'asynchronousMotor',
    `Motor ${kw} kW, 0.4 kV, four poles`,
    { ratedMw: kw / 1000, ratedKv: 0.4, powerFactor, efficiencyPercent, startingRatio: 7, polePairs: 2 },
    'efficiency about IE3 of IEC 60034-30-1; the rest typical',
  ),
);

const large = [250, 400, 630, 1000, 1600, 2100, 3150, 5000].flatMap((kw) =>
  (kw < 1000 ? [3.3, 6.6] : [6.6, 11]).map((ratedKv) =>
    shipped(
      `motor-${kw}-${ratedKv}`,
      'asynchronousMotor',
      `Motor ${kw >= 1000 ? `${kw / 1000} MW` : `${kw} kW`}, ${ratedKv} kV, four poles`,
      {
        ratedMw: kw / 1000,
        ratedKv,
        powerFactor: 0.88,
        efficiencyPercent: kw < 1000 ? 95.5 : 96.5,
        startingRatio: 5.5,
        polePairs: 2,
      },
      'typical',
      false,
    ),
  ),
);

const generators = (
  [
    [0.5, 0.4, 12, 'salient'],
    [1, 0.4, 13, 'salient'],
    [2, 0.4, 14, 'salient'],
    [4, 11, 16, 'salient'],
    [6.3, 11, 17.5, 'salient'],
    [10, 11, 18, 'salient'],
    [25, 11, 13, 'turbo'],
    [50, 11, 14, 'turbo'],
  ] as const
).map(([ratedMva, ratedKv, xd2Percent, rotor]) =>
  shipped(
    `gen-${ratedMva}-${ratedKv}`,
    'synchronousMachine',
    `Generator ${ratedMva} MVA, ${ratedKv} kV, ${rotor === 'turbo' ? 'turbo' : 'salient poles'}`,
    {
      ratedMva,
      ratedKv,
      powerFactor: 0.8,
      xd2Percent,
      xd1Percent: 1.5 * xd2Percent,
      xdPercent: rotor === 'turbo' ? 200 : 180,
      rotor,
      x2Percent: xd2Percent,
      regulationPercent: 5,
    },
    'typical',
    false,
  ),
);

export const machines: readonly LibraryEntry[] = [...motors, ...large, ...generators];
