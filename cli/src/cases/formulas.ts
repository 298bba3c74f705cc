/** Cases of one formula, by the name that they give it. */
import { asymmetry, exactPeak, halfCyclePeak, lowVoltageFactors, remoteFactor } from '@mesura/core/faults/c37/factors';
import { inverseTime } from '@mesura/core/protection/overcurrent/characteristics';
import { earthReturnImpedance, equivalentDepth } from '@mesura/core/sequence/lineConstants';
import { runUp } from '@mesura/core/flow/motor';
import { heatLossFrom, type Metal } from '@mesura/core/ratings/conductors';
import { windingTemperature, type WindingMetal } from '@mesura/core/ratings/transformers';
import type { Pair, ReferenceCase } from './case';
import { protectionFormulas } from './protection';

type Numbers = Record<string, number>;

const metals: Readonly<Record<string, Metal & WindingMetal>> = { Cu: 'copper', Al: 'aluminium' };

const milesPerKm = 1.609344;

const formulas: Readonly<
  Record<string, (inputs: Numbers, words: Record<string, string>) => number | readonly number[]>
> = {
  ...protectionFormulas,
  toc: ({ k, alpha, c, M, tms }) => inverseTime({ k, alpha, c }, M, tms),
  mfremote: ({ XR, C_cycles, S }) => remoteFactor(XR, { partingCycles: C_cycles, s: S }),
  asym: ({ XR, cycles }) => asymmetry(XR, cycles),
  peak_exact: ({ XR }) => exactPeak(XR),
  peak_half: ({ XR }) => halfCyclePeak(XR),
  c3713: ({ pf }) => {
    const { unfused, fused } = lowVoltageFactors(Math.tan(Math.acos(pf)));
    return [unfused, fused];
  },
  De: ({ rho, f_Hz }) => {
    const depth = equivalentDepth(rho, f_Hz);
    return [depth, depth];
  },
  carson: ({ f_Hz, rho, d_m }) => both(earthReturnImpedance(f_Hz, rho, d_m, 0, 0, 'depth')),
  carson_series: ({ f_Hz, rho, d_m, h_m }) => both(earthReturnImpedance(f_Hz, rho, d_m, 2 * h_m, 0, 'series')),
  kersting: ({ d_ft, r_ohm_mi }) => {
    const z = earthReturnImpedance(60, 100, d_ft * 0.3048, 0, 0, 'depth');
    return [z.re * milesPerKm + r_ohm_mi, z.im * milesPerKm];
  },
  xy60949: ({ sigma_i, rho_i_Km_W, F, C1, C2 }, { material }) => {
    const insulation = { heat: sigma_i, resistivity: rho_i_Km_W, contact: F };
    const { x, y } = heatLossFrom(metals[material], insulation, { c1: C1, c2: C2 });
    return [x, y];
  },
  t60076: ({ J_A_mm2, t_s, theta0_C }, { metal }) => windingTemperature(metals[metal], theta0_C, J_A_mm2, t_s),
  motorstart: ({ J_kgm2, w0_rad_s, Tmax_Nm, s_max, s_end }) =>
    runUp({
      torque: { breakdownNm: Tmax_Nm, breakdownSlip: s_max },
      load: { follows: 'constant', nm: 0 },
      inertiaKgM2: J_kgm2,
      synchronousRpm: (w0_rad_s * 30) / Math.PI,
      endSlip: s_end,
      factor: () => 1,
    }).timeS!,
};

const both = ({ re, im }: { re: number; im: number }) => [re, im];

/** Null for a case that names no formula known here. */
export function formulaPairs({ calc, inputs, expected }: ReferenceCase): Pair[] | null {
  const known = calc === undefined ? undefined : formulas[calc];
  if (!known || !inputs) return null;
  const computed = [known(inputs as Numbers, inputs as Record<string, string>)].flat() as number[];
  const wanted = [expected].flat() as number[];
  return wanted.map((value, k) => ({
    figure: wanted.length > 1 ? `${calc} ${k + 1}` : calc!,
    expected: value,
    computed: computed[k],
  }));
}
