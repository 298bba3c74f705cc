/**
 * Short-circuit currents of d.c. auxiliary installations, IEC 61660-1 (as remembered): each source alone, sources behind a common branch, and their sum over time by the standard approximation
 * function. Volts, ohms, henries, farads, seconds, amperes.
 */

export const source61660 = 'IEC 61660-1 (as remembered)';

/** What the standard approximation function is made of. */
export interface PartialCurrent {
  readonly peakA: number;
  readonly steadyA: number;
  /** Null where the standard takes it from a figure. */
  readonly peakS: number | null;
  readonly riseS: number | null;
  readonly decayS: number | null;
}

export interface BatteryCurrent extends PartialCurrent {
  readonly voltageV: number;
  readonly branchOhm: number;
  readonly internalOhm: number;
  /** 1/δ, which time to peak and rise are read with. */
  readonly inverseDeltaS: number;
}

/** Clause 2.3. RB of the battery charged, RBL of its conductors, RY of the common branch; EB = 1.05·Un where it is not known. */
export function batteryCurrent(given: {
  readonly nominalV: number;
  readonly openV?: number;
  readonly batteryOhm: number;
  readonly conductorOhm: number;
  readonly commonOhm: number;
  readonly branchHenry: number;
}): BatteryCurrent {
  const { nominalV, openV, batteryOhm, conductorOhm, commonOhm, branchHenry } = given;
  const voltageV = openV ?? 1.05 * nominalV;
  const internalOhm = 0.9 * batteryOhm + conductorOhm;
  const branchOhm = internalOhm + commonOhm;
  const batteryS = 0.03;
  return {
    voltageV,
    branchOhm,
    internalOhm,
    inverseDeltaS: 2 / (branchOhm / branchHenry + 1 / batteryS),
    peakA: voltageV / branchOhm,
    steadyA: (0.95 * voltageV) / (branchOhm + 0.1 * batteryOhm),
    peakS: null,
    riseS: null,
    decayS: 0.1,
  };
}

export interface CapacitorCurrent extends PartialCurrent {
  readonly kappa: number;
  readonly omega0: number;
  readonly inverseDeltaS: number;
}

/** Clause 2.4: peak and time to peak of the discharge are those of the series circuit. */
export function capacitorCurrent(voltageV: number, farad: number, ohm: number, henry: number): CapacitorCurrent {
  const omega0 = 1 / Math.sqrt(henry * farad);
  const delta = ohm / (2 * henry);
  const [peakS, peakA] = ((): [number, number] => {
    if (Math.abs(delta - omega0) < 1e-9 * omega0) {
      const t = 1 / omega0;
      return [t, (voltageV / henry) * t * Math.exp(-1)];
    }
    if (delta < omega0) {
      const damped = Math.sqrt(omega0 ** 2 - delta ** 2);
      const t = Math.atan2(damped, delta) / damped;
      return [t, (voltageV / (damped * henry)) * Math.exp(-delta * t) * Math.sin(damped * t)];
    }
    const root = Math.sqrt(delta ** 2 - omega0 ** 2);
    const t = Math.log((delta + root) / (delta - root)) / (2 * root);
    return [t, (voltageV / (root * henry)) * Math.exp(-delta * t) * Math.sinh(root * t)];
  })();
  return {
    peakA,
    steadyA: 0,
    peakS,
    // Read from figures in the standard.
    riseS: null,
    decayS: null,
    kappa: (peakA * ohm) / voltageV,
    omega0,
    inverseDeltaS: 1 / delta,
  };
}

export interface RectifierCurrent extends PartialCurrent {
  readonly lambda: number;
  readonly phiRad: number;
  readonly kappa: number;
}

/** Clause 2.2: a three-phase bridge. RN and XN of the a.c. side at the secondary winding, its no-load voltage from phase to phase. */
export function rectifierCurrent(given: {
  /** c·Un, from phase to phase, on the secondary side of the transformer. */
  readonly sourceV: number;
  readonly rnOhm: number;
  readonly xnOhm: number;
  /** Of the d.c. side: smoothing reactor, conductors, common branch. */
  readonly directOhm: number;
  readonly directHenry: number;
  readonly frequencyHz: number;
}): RectifierCurrent {
  const { sourceV, rnOhm, xnOhm, directOhm, directHenry, frequencyHz } = given;
  const rOverX = rnOhm / xnOhm;
  const more = 1 + (2 / 3) * (directOhm / rnOhm);
  const lambda = Math.sqrt((1 + rOverX ** 2) / (1 + (rOverX * more) ** 2));
  const steadyA = (lambda * 3 * Math.SQRT2 * sourceV) / (Math.PI * Math.sqrt(3) * Math.hypot(rnOhm, xnOhm));
  const henry = xnOhm / (2 * Math.PI * frequencyHz);
  const share = directHenry / henry;
  const phiRad = Math.atan(1 / (rOverX * more));
  const kappa =
    1 +
    (2 / Math.PI) *
      Math.exp(-(Math.PI / 3 + phiRad) / Math.tan(phiRad)) *
      Math.sin(phiRad) *
      (Math.PI / 2 - Math.atan(share));
  // Milliseconds at 50 Hz, as the standard gives them.
  const peakMs = 3 * kappa + 6 + (share > 1 ? 4 * (share - 1) : 0);
  const riseMs =
    kappa >= 1.05 ? 2 + (kappa - 0.9) * (2.5 + 9 * share) : 0.7 + (7 - rOverX * more) * (0.1 + 0.2 * share);
  const decayMs = 2 / (rOverX * (0.6 + (0.9 * directOhm) / rnOhm));
  return {
    lambda,
    phiRad,
    kappa,
    steadyA,
    peakA: kappa * steadyA,
    peakS: kappa >= 1.05 ? peakMs / 1000 : null,
    riseS: riseMs / 1000,
    decayS: decayMs / 1000,
  };
}

export interface MotorCurrent extends PartialCurrent {
  readonly inducedV: number;
  readonly armatureS: number;
}

/** Clause 2.5: a motor with independent excitation whose speed stays (mechanical time constant at least ten times that of the field). */
export function directMotorCurrent(given: {
  readonly ratedV: number;
  readonly ratedA: number;
  readonly armatureOhm: number;
  readonly armatureHenry: number;
  /** From the motor to the fault, the common branch included. */
  readonly branchOhm: number;
  readonly branchHenry: number;
  /** Field inductance at the fault over that at no load. */
  readonly fieldShare: number;
}): MotorCurrent {
  const { ratedV, ratedA, armatureOhm, armatureHenry, branchOhm, branchHenry, fieldShare } = given;
  const ohm = armatureOhm + branchOhm;
  const inducedV = ratedV - ratedA * armatureOhm;
  const peakA = inducedV / ohm;
  return {
    inducedV,
    armatureS: (armatureHenry + branchHenry) / ohm,
    peakA,
    steadyA: fieldShare * peakA,
    peakS: null,
    riseS: null,
    decayS: null,
  };
}

/** Sources behind a common branch share it: factor of each current alone, from the resistance of its own branch. Clause 2.6; equal source voltages. */
export function commonBranchFactors(internalOhm: readonly number[], commonOhm: number): number[] {
  const siemens = internalOhm.reduce((sum, ohm) => sum + 1 / ohm, 0);
  return internalOhm.map((ohm) => (1 + commonOhm / ohm) / (1 + commonOhm * siemens));
}

/** The standard approximation function of one source, complete in its times. Clause 2.1. */
export const approximated =
  ({ peakA, steadyA, peakS, riseS, decayS }: { readonly [K in keyof PartialCurrent]: number }) =>
  (t: number): number => {
    if (t <= peakS) return (peakA * (1 - Math.exp(-t / riseS))) / (1 - Math.exp(-peakS / riseS));
    const share = steadyA / peakA;
    return peakA * ((1 - share) * Math.exp(-(t - peakS) / decayS) + share);
  };

/** Largest value of a sum of such currents, and when; looked for at their peaks and between them. */
export function largestOf(
  total: (t: number) => number,
  peaksS: readonly number[],
): { readonly atS: number; readonly peakA: number } {
  const until = 1.5 * Math.max(...peaksS);
  const times = [...Array.from({ length: 3001 }, (_, k) => (k * until) / 3000), ...peaksS];
  const atS = times.reduce((p, q) => (total(q) > total(p) ? q : p));
  return { atS, peakA: total(atS) };
}
