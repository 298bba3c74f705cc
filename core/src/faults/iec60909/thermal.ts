/** Joule integral and thermal equivalent current Ith with the heat of the d.c. (m) and a.c. (n) components. IEC 60909-0:2016, clause 11 and Annex A. */

/** m = (e^(4·f·Tk·ln(κ − 1)) − 1)/(2·f·Tk·ln(κ − 1)). */
export function heatOfDc(kappa: number, frequencyHz: number, durationS: number): number {
  const exponent = 2 * frequencyHz * durationS * Math.log(kappa - 1);
  // Without resistance (κ = 2) the d.c. component stays: m tends to 2.
  return Math.abs(exponent) < 1e-9 ? 2 : Math.expm1(2 * exponent) / exponent;
}

/**
 * n for a current that falls from Ik″ to Ik: i = Ik·(1 + (Ik′/Ik − 1)·e^(−t/T′d) + ((Ik″ − Ik′)/Ik)·e^(−10·t/T′d)), squared and averaged over Tk, with
 * Ik′/Ik = (Ik″/Ik)/(0.88 + 0.17·Ik″/Ik) and T′d = 3.1 s/(Ik′/Ik). 1 while Ik″/Ik stays below 1.25.
 */
export function heatOfAc(initialOverSteady: number, durationS: number): number {
  const ratio = initialOverSteady;
  if (!(ratio >= 1.25)) return 1;
  const transient = ratio / (0.88 + 0.17 * ratio);
  const td = 3.1 / transient;
  const tk = durationS;
  const fallen = (rate: number) => 1 - Math.exp((-rate * tk) / td);
  const [sub, tra] = [ratio - transient, transient - 1];
  const sum =
    1 +
    (td / (20 * tk)) * fallen(20) * sub ** 2 +
    (td / (2 * tk)) * fallen(2) * tra ** 2 +
    (td / (5 * tk)) * fallen(10) * sub +
    ((2 * td) / tk) * fallen(1) * tra +
    (td / (5.5 * tk)) * fallen(11) * sub * tra;
  return sum / ratio ** 2;
}

export interface ThermalCurrent {
  readonly durationS: number;
  readonly m: number;
  readonly n: number;
  readonly ithA: number;
  /** ∫i²dt = Ith²·Tk in A²s. */
  readonly jouleIntegral: number;
}

/** Ith = Ik″·√(m + n). */
export function thermalCurrent(
  ikA: number,
  kappa: number,
  initialOverSteady: number,
  frequencyHz: number,
  durationS: number,
): ThermalCurrent {
  const m = heatOfDc(kappa, frequencyHz, durationS);
  const n = heatOfAc(initialOverSteady, durationS);
  const ithA = ikA * Math.sqrt(m + n);
  return { durationS, m, n, ithA, jouleIntegral: ithA ** 2 * durationS };
}
