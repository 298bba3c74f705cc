/** Cases of one formula, by the name that they give it. */
import { asymmetry, exactPeak, halfCyclePeak, lowVoltageFactors, remoteFactor } from '@mesura/core/faults/c37/factors';
import { inverseTime } from '@mesura/core/protection/overcurrent/characteristics';
import { earthReturnImpedance, equivalentDepth } from '@mesura/core/sequence/lineConstants';
import { runUp } from '@mesura/core/flow/motor';
import { heatLossFrom, type Metal } from '@mesura/core/ratings/conductors';
import { windingTemperature, type WindingMetal } from '@mesura/core/ratings/transformers';
import { add, polar, scale, subtract } from '@mesura/core/linear/complex';
import { loopsOf, residualFactor } from '@mesura/core/protection/distance/loops';
import { apparentWithInfeed } from '@mesura/core/reach/infeed';
import { largestReach, loadOhm } from '@mesura/core/reach/loadability';
import { arcFormulas } from './arc';
import type { Pair, ReferenceCase } from './case';
import { gridFormulas } from './grids';
import { differentialFormulas } from './differential';
import { protectionFormulas } from './protection';

type Numbers = Record<string, number>;

const metals: Readonly<Record<string, Metal & WindingMetal>> = { Cu: 'copper', Al: 'aluminium' };

const milesPerKm = 1.609344;

const formulas: Readonly<
  Record<string, (inputs: Numbers, words: Record<string, string>) => number | readonly number[]>
> = {
  ...protectionFormulas,
  ...arcFormulas,
  ...gridFormulas,
  toc: ({ k, alpha, c, M, tms }) => inverseTime({ k, alpha, c }, M, tms),
  mfremote: ({ XR, C_cycles, S }) => remoteFactor(XR, { partingCycles: C_cycles, s: S }),
  asym: ({ XR, cycles }) => asymmetry(XR, cycles),
  peak_exact: ({ XR }) => exactPeak(XR),
  peak_half: ({ XR }) => halfCyclePeak(XR),
  c3713: ({ pf }) => {
    const { unfused, fused } = lowVoltageFactors(Math.tan(Math.acos(pf)));
    return [unfused, fused];
  },
  prc: ({ V_LL_V, I_rating_A, mult, mta_deg }) => {
    const ohm = loadOhm(V_LL_V / 1000, mult * I_rating_A);
    return [ohm, largestReach(ohm, mta_deg)];
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

const ofDegrees = ([size, deg]: readonly [number, number]) => polar(size, (deg * Math.PI) / 180);

/** Formulas with complex numbers in their inputs: [re, im], or [magnitude, degrees]. */
const complexFormulas: Readonly<
  Record<string, (inputs: Record<string, [number, number]> & Numbers) => readonly number[]>
> = {
  distslg: ({ Zself_ohm_km, Zmut_ohm_km, length_km, m }) => {
    const km = (length_km as number) * (m as number);
    const [self, mutual] = [Zself_ohm_km, Zmut_ohm_km].map(([re, im]) => ({ re, im }));
    const none = { re: 0, im: 0 };
    const z1 = subtract(self, mutual);
    const k0 = residualFactor(z1, add(self, scale(mutual, 2)));
    const voltages = [scale(self, km), scale(mutual, km), scale(mutual, km)] as const;
    const [loop] = loopsOf(
      { currents: [{ re: 1, im: 0 }, none, none], voltages, before: null },
      { form: 'factor', k0 },
    );
    return both(loop.impedance!);
  },
  infeed: ({ E_A_V, angA_deg, E_B_V, angB_deg, Zs_A, Zs_B, Z1, Z2 }) =>
    both(
      apparentWithInfeed({
        own: ofDegrees([E_A_V, angA_deg] as never),
        other: ofDegrees([E_B_V, angB_deg] as never),
        sourceOhm: ofDegrees(Zs_A),
        otherOhm: ofDegrees(Zs_B),
        toTapOhm: ofDegrees(Z1),
        toFaultOhm: ofDegrees(Z2),
      }).impedance,
    ),
};

const both = ({ re, im }: { re: number; im: number }) => [re, im];

/** Null for a case that names no formula known here. */
export function formulaPairs({ calc, inputs, expected }: ReferenceCase): Pair[] | null {
  const known =
    calc === undefined
      ? undefined
      : (formulas[calc] ??
        (complexFormulas[calc] as unknown as (typeof formulas)[string] | undefined) ??
        (differentialFormulas[calc] as unknown as (typeof formulas)[string] | undefined));
  if (!known || !inputs) return null;
  const computed = [known(inputs as Numbers, inputs as Record<string, string>)].flat() as number[];
  const wanted = [expected].flat() as number[];
  return wanted.map((value, k) => ({
    figure: wanted.length > 1 ? `${calc} ${k + 1}` : calc!,
    expected: value,
    computed: computed[k],
  }));
}
