/**
 * Heating of conductors by a short circuit: cables by IEC 60949 (adiabatic, and with the heat that leaves for the insulation), bare conductors by IEC 60865-1.
 * Constants of the metals and of the heat loss are recalled from these standards.
 */

export const metals = ['copper', 'aluminium', 'steel'] as const;
export type Metal = (typeof metals)[number];

/** Also of sheaths. */
export type WireMetal = Metal | 'lead';

/** IEC 60949, table 1: volumetric heat in J/(K·m³), resistivity at 20 °C in Ω·m, reciprocal of its temperature coefficient at 0 °C in K. */
const cableMetal: Readonly<Record<WireMetal, { heat: number; resistivity: number; beta: number }>> = {
  copper: { heat: 3.45e6, resistivity: 1.7241e-8, beta: 234.5 },
  aluminium: { heat: 2.5e6, resistivity: 2.8264e-8, beta: 228 },
  steel: { heat: 3.8e6, resistivity: 13.8e-8, beta: 202 },
  lead: { heat: 1.45e6, resistivity: 21.4e-8, beta: 230 },
};

/** IEC 60865-1, annex A: conductivity at 20 °C in 1/(Ω·m), specific heat in J/(kg·K), density in kg/m³, temperature coefficient at 20 °C in 1/K. */
const bareMetal: Readonly<Record<Metal, { kappa: number; c: number; density: number; alpha: number }>> = {
  copper: { kappa: 56e6, c: 390, density: 8900, alpha: 0.0039 },
  aluminium: { kappa: 34.8e6, c: 910, density: 2700, alpha: 0.004 },
  steel: { kappa: 7.25e6, c: 480, density: 7850, alpha: 0.0045 },
};

export const insulations = ['pvc', 'xlpe', 'epr', 'paper'] as const;
export type Insulation = (typeof insulations)[number];

/**
 * Highest conductor temperatures in °C: in service, and at the end of a short circuit of up to 5 s, above 300 mm² too (IEC 60364-4-43, table 43A; IEC 60724,
 * IEC 60986).
 */
export const conductorTemperatures: Readonly<
  Record<Insulation, { service: number; fault: number; faultAbove300Mm2: number }>
> = {
  pvc: { service: 70, fault: 160, faultAbove300Mm2: 140 },
  xlpe: { service: 90, fault: 250, faultAbove300Mm2: 250 },
  epr: { service: 90, fault: 250, faultAbove300Mm2: 250 },
  paper: { service: 65, fault: 250, faultAbove300Mm2: 250 },
};

/** Constants X in √(mm²/s) and Y in mm²/s of the heat loss, as printed. */
type HeatLoss = Readonly<Record<Insulation, Partial<Record<Metal, readonly [number, number]>>>>;

/** Cables up to 3 kV (IEC 60949, table 2). Steel is not listed there. */
const heatLoss: HeatLoss = {
  pvc: { copper: [0.29, 0.06], aluminium: [0.4, 0.08] },
  xlpe: { copper: [0.41, 0.12], aluminium: [0.57, 0.16] },
  epr: { copper: [0.38, 0.1], aluminium: [0.52, 0.14] },
  paper: { copper: [0.45, 0.14], aluminium: [0.62, 0.2] },
};
/** Above 3 kV the insulation of PVC and EPR conducts heat less well. */
const heatLossAbove3Kv: HeatLoss = {
  ...heatLoss,
  pvc: { copper: [0.27, 0.05], aluminium: [0.37, 0.07] },
  epr: { copper: [0.32, 0.07], aluminium: [0.44, 0.1] },
};

/** The same constants from what the insulation is: volumetric heat in J/(K·m³) and thermal resistivity in K·m/W, factor for imperfect contact (IEC 60949, 5.1). */
export function heatLossFrom(
  metal: Metal,
  insulation: { readonly heat: number; readonly resistivity: number; readonly contact: number },
  { c1, c2 } = { c1: 2464, c2: 1.22 },
): { x: number; y: number } {
  const ratio = insulation.heat / insulation.resistivity;
  const { heat } = cableMetal[metal];
  return { x: (insulation.contact * c1 * Math.sqrt(ratio)) / heat, y: (insulation.contact ** 2 * c2 * ratio) / heat };
}

/** K of IEC 60949, 4: √(σc·(β + 20)·10⁻¹²/ρ20), in A·√s/mm². */
export function adiabaticConstant(metal: WireMetal): number {
  const { heat, resistivity, beta } = cableMetal[metal];
  return Math.sqrt((heat * (beta + 20) * 1e-12) / resistivity);
}

/** Rated short-time current density over one second in A/mm² (IEC 60949, 4): K·√ln((θf + β)/(θi + β)); the constant k of IEC 60364-5-54. */
export function adiabaticDensity(metal: WireMetal, initialC: number, finalC: number): number {
  const { beta } = cableMetal[metal];
  return adiabaticConstant(metal) * Math.sqrt(Math.log((finalC + beta) / (initialC + beta)));
}

export interface CableShortCircuit {
  readonly adiabaticA: number;
  /** Null where the constants of the heat loss are not listed. */
  readonly loss: { readonly x: number; readonly y: number; readonly epsilon: number } | null;
  /** ε times the adiabatic current; equal to it without constants. */
  readonly permissibleA: number;
}

/** Permissible short-circuit current of a conductor over a duration (IEC 60949, 3 and 4); the voltage is that between the phases. */
export function cableShortCircuit(
  metal: Metal,
  insulation: Insulation,
  sectionMm2: number,
  initialC: number,
  finalC: number,
  durationS: number,
  nominalKv = 1,
): CableShortCircuit {
  const adiabaticA = (adiabaticDensity(metal, initialC, finalC) * sectionMm2) / Math.sqrt(durationS);
  const constants = (nominalKv > 3 ? heatLossAbove3Kv : heatLoss)[insulation][metal];
  if (!constants) return { adiabaticA, loss: null, permissibleA: adiabaticA };
  const [x, y] = constants;
  const ratio = durationS / sectionMm2;
  const epsilon = Math.sqrt(1 + x * Math.sqrt(ratio) + y * ratio);
  return { adiabaticA, loss: { x, y, epsilon }, permissibleA: epsilon * adiabaticA };
}

/** Temperature in °C that a conductor reaches without any heat leaving it (IEC 60949, 4). */
export function adiabaticTemperature(
  metal: Metal,
  sectionMm2: number,
  initialC: number,
  ampere: number,
  durationS: number,
): number {
  const { beta } = cableMetal[metal];
  const density = ampere / sectionMm2 / adiabaticConstant(metal);
  return (initialC + beta) * Math.exp(density ** 2 * durationS) - beta;
}

/** Rated short-time withstand current density of a bare conductor over one second, in A/mm² (IEC 60865-1, A.7). */
export function bareDensity(metal: Metal, initialC: number, finalC: number): number {
  const { kappa, c, density, alpha } = bareMetal[metal];
  const rise = Math.log((1 + alpha * (finalC - 20)) / (1 + alpha * (initialC - 20)));
  return 1e-6 * Math.sqrt(((kappa * c * density) / alpha) * rise);
}

/** What it may carry over another duration, A/mm²: Sthr·√(Tkr/Tk) (IEC 60865-1, clause 8; one formula for shorter and longer ones). */
export const bareDensityOver = (density1s: number, durationS: number): number => density1s / Math.sqrt(durationS);

/** Force between main conductors in N, the middle one of three side by side: (µ0/2π)·(√3/2)·ip²·l/a (IEC 60865-1, 5.2). */
export const forceOnMiddle = (peakA: number, spanM: number, spacingM: number): number =>
  2e-7 * (Math.sqrt(3) / 2) * peakA ** 2 * (spanM / spacingM);

/** Bending stress of a rigid conductor in Pa: Vσ·Vr·β·F·l/(8·W) (IEC 60865-1, 5.4). */
export const bendingStress = (
  forceN: number,
  spanM: number,
  sectionModulusM3: number,
  { beta, vSigma, vr }: { beta: number; vSigma: number; vr: number },
): number => (vSigma * vr * beta * forceN * spanM) / (8 * sectionModulusM3);
