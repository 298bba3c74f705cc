/**
 * Coefficients of IEEE 1584-2018, Tables 1 to 5 and 7 and the polynomials of Table 6, as remembered. Printed examples of the annex confirm VCB in a typical
 * enclosure up to 0.6 kV and above 2.7 kV; nobody here could confirm the others against the printed tables.
 */

/** Electrodes vertical or horizontal, in a box or in open air; VCBB: ending at an insulating barrier. */
export const electrodeConfigurations = ['VCB', 'VCBB', 'HCB', 'VOA', 'HOA'] as const;
export type Electrodes = (typeof electrodeConfigurations)[number];
export type BoxedElectrodes = Extract<Electrodes, 'VCB' | 'VCBB' | 'HCB'>;

export const isBoxed = (electrodes: Electrodes): electrodes is BoxedElectrodes =>
  electrodes !== 'VOA' && electrodes !== 'HOA';

export interface LevelCoefficients {
  /** k1 to k3 of the intermediate arcing current. */
  readonly current: readonly [number, number, number];
  /** k4 to k10: powers six to nought of the bolted current. */
  readonly polynomial: readonly number[];
  /** k1, k2, k3, k11, k12, k13 of the intermediate energy. */
  readonly energy: readonly [number, number, number, number, number, number];
}

/** At the three voltages, in kV, between which the model interpolates. */
export const levels = [0.6, 2.7, 14.3] as const;
export type Level = (typeof levels)[number];

export interface Coefficients {
  readonly at: Readonly<Record<Level, LevelCoefficients>>;
  /** Powers six to nought of the voltage in kV: share by which the arcing current varies. */
  readonly variation: readonly number[];
}

/** Height and width beyond 660.4 mm count by (voltage + A) / B. */
export interface BoxCoefficients {
  readonly a: number;
  readonly b: number;
  readonly typical: readonly [number, number, number];
  readonly shallow: readonly [number, number, number];
}

export const coefficients: Readonly<Record<Electrodes, Coefficients>> = {
  VCB: {
    at: {
      0.6: {
        current: [-0.04287, 1.035, -0.083],
        polynomial: [0, 0, -4.783e-9, 1.962e-6, -0.000229, 0.003141, 1.092],
        energy: [0.753364, 0.566, 1.752636, 0, -1.598, 0.957],
      },
      2.7: {
        current: [0.0065, 1.001, -0.024],
        polynomial: [-1.557e-12, 4.556e-10, -4.186e-8, 8.346e-7, 5.482e-5, -0.003191, 0.9729],
        energy: [2.40021, 0.165, 0.354202, 0, -1.569, 0.9778],
      },
      14.3: {
        current: [0.005795, 1.015, -0.011],
        polynomial: [-1.557e-12, 4.556e-10, -4.186e-8, 8.346e-7, 5.482e-5, -0.003191, 0.9729],
        energy: [3.825917, 0.11, -0.999749, 0, -1.568, 0.99],
      },
    },
    variation: [0, -1.4269e-6, 8.3137e-5, -0.0019382, 0.022366, -0.12645, 0.30226],
  },
  VCBB: {
    at: {
      0.6: {
        current: [-0.017432, 0.98, -0.05],
        polynomial: [0, 0, -5.767e-9, 2.524e-6, -0.00034, 0.01187, 1.013],
        energy: [3.068459, 0.26, -0.098107, -0.06, -1.809, 1.19],
      },
      2.7: {
        current: [0.002823, 0.995, -0.0125],
        polynomial: [0, -9.204e-11, 2.901e-8, -3.262e-6, 0.0001569, -0.004003, 0.9825],
        energy: [3.870592, 0.185, -0.736618, 0, -1.742, 1.09],
      },
      14.3: {
        current: [0.014827, 1.01, -0.01],
        polynomial: [0, -9.204e-11, 2.901e-8, -3.262e-6, 0.0001569, -0.004003, 0.9825],
        energy: [3.644309, 0.215, -0.585522, 0, -1.677, 1.06],
      },
    },
    variation: [1.138e-6, -6.0287e-5, 0.0012758, -0.013778, 0.080217, -0.24066, 0.33524],
  },
  HCB: {
    at: {
      0.6: {
        current: [0.054922, 0.988, -0.11],
        polynomial: [0, 0, -5.382e-9, 2.316e-6, -0.000302, 0.0091, 0.9725],
        energy: [4.073745, 0.344, -0.370259, 0, -2.03, 1.036],
      },
      2.7: {
        current: [0.001011, 1.003, -0.0249],
        polynomial: [0, 0, 4.859e-10, -1.814e-7, -9.128e-6, -0.0007, 0.9881],
        energy: [3.486391, 0.177, -0.193101, 0.027, -1.723, 1.055],
      },
      14.3: {
        current: [0.008693, 0.999, -0.02],
        polynomial: [0, -5.043e-11, 2.233e-8, -3.046e-6, 0.000116, -0.001145, 0.9839],
        energy: [3.044516, 0.125, 0.245106, 0, -1.655, 1.084],
      },
    },
    variation: [0, -3.097e-6, 0.00016405, -0.0033609, 0.033308, -0.16182, 0.34627],
  },
  VOA: {
    at: {
      0.6: {
        current: [0.043785, 1.04, -0.18],
        polynomial: [0, 0, -4.783e-9, 1.962e-6, -0.000229, 0.003141, 1.092],
        energy: [0.679294, 0.746, 1.222636, 0, -1.598, 0.997],
      },
      2.7: {
        current: [-0.02395, 1.006, -0.0188],
        polynomial: [-1.557e-12, 4.556e-10, -4.186e-8, 8.346e-7, 5.482e-5, -0.003191, 0.9729],
        energy: [3.880724, 0.105, -1.906033, 0, -1.515, 1.115],
      },
      14.3: {
        current: [0.005371, 1.0102, -0.029],
        polynomial: [-1.557e-12, 4.556e-10, -4.186e-8, 8.346e-7, 5.482e-5, -0.003191, 0.9729],
        energy: [3.405454, 0.12, -0.93245, 0, -1.534, 0.979],
      },
    },
    variation: [9.5606e-7, -5.1543e-5, 0.0011161, -0.01242, 0.075125, -0.23584, 0.33696],
  },
  HOA: {
    at: {
      0.6: {
        current: [0.111147, 1.008, -0.24],
        polynomial: [0, 0, -3.895e-9, 1.641e-6, -0.000197, 0.002615, 1.1],
        energy: [3.470417, 0.465, -0.261863, 0, -1.99, 1.04],
      },
      2.7: {
        current: [0.000435, 1.006, -0.038],
        polynomial: [0, 0, 7.859e-10, -1.914e-7, -9.128e-6, -0.0007, 0.9981],
        energy: [3.616266, 0.149, -0.761561, 0, -1.639, 1.078],
      },
      14.3: {
        current: [0.000904, 0.999, -0.02],
        polynomial: [0, 0, 7.859e-10, -1.914e-7, -9.128e-6, -0.0007, 0.9981],
        energy: [2.04049, 0.177, 1.005092, -0.05, -1.633, 1.151],
      },
    },
    variation: [0, -3.1555e-6, 0.0001682, -0.0034607, 0.034124, -0.1599, 0.34629],
  },
};

export const boxCoefficients: Readonly<Record<BoxedElectrodes, BoxCoefficients>> = {
  VCB: { a: 4, b: 20, typical: [-0.000302, 0.03441, 0.4325], shallow: [0.002222, -0.02556, 0.6222] },
  VCBB: { a: 10, b: 24, typical: [-0.0002976, 0.032, 0.479], shallow: [-0.002778, 0.1194, -0.2778] },
  HCB: { a: 10, b: 22, typical: [-0.0001923, 0.01935, 0.6899], shallow: [-0.0005556, 0.03722, 0.4778] },
};
