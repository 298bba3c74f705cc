/** Cases of earthing: electrodes and grids, what people bear, reduction factors, ladders of towers. */
import * as grids from '@mesura/core/earthReturn/grids';
import { returnImpedances } from '@mesura/core/earthReturn/impedance';
import { add, divide, magnitude, multiply, subtract, type Complex } from '@mesura/core/linear/complex';
import { addTo, denseMatrix, entry, kronReduce } from '@mesura/core/linear/dense';
import { earthReturnImpedance } from '@mesura/core/sequence/lineConstants';
import type { Inputs } from './case';
import { conductorsOf } from './earth';

type Numbers = Record<string, number>;
type Computed = (inputs: Numbers, given: Inputs) => unknown;

const both = ({ re, im }: Complex): [number, number] => [re, im];

const schwarzOf = (given: Omit<grids.SchwarzGrid, 'depth'>, depth: string) => {
  const { k1, k2, r1, r2, rm, ohm } = grids.schwarz({ ...given, depth: depth as grids.SchwarzDepth });
  return { K1: k1, K2: k2, R1_ohm: r1, R2_ohm: r2, Rm_ohm: rm, R_ohm: ohm };
};

export const gridKinds: Readonly<Record<string, Computed>> = {
  grid_sverak: ({ rho_ohm_m, length_m, area_m2, depth_m }) => ({
    sverak_ohm: grids.sverak(rho_ohm_m, length_m, area_m2, depth_m),
    laurent_niemann_ohm: grids.laurentNiemann(rho_ohm_m, length_m, area_m2),
  }),
  grid_schwarz: (n, { coefficients }) =>
    schwarzOf(
      {
        soilOhmM: n.rho_ohm_m,
        areaM2: n.area_m2,
        depthM: n.depth_m,
        lengthToWidth: n.length_to_width,
        conductorM: n.conductor_length_m,
        conductorRadiusM: n.conductor_radius_m,
        rods: n.rods,
        rodM: n.rod_length_m,
        rodRadiusM: n.rod_radius_m,
      },
      String(coefficients),
    ),
  /** The segment computation is a program of its own: not one of ours. */
  grid_meshed: (n) => {
    const conductors = n.conductors_parallel_y * n.y_m + n.conductors_parallel_x * n.x_m;
    const area = n.x_m * n.y_m;
    return {
      sverak_ohm: grids.sverak(n.rho_ohm_m, conductors + n.rods * n.rod_length_m, area, n.depth_m),
      schwarz: schwarzOf(
        {
          soilOhmM: n.rho_ohm_m,
          areaM2: area,
          depthM: n.depth_m,
          lengthToWidth: Math.max(n.x_m, n.y_m) / Math.min(n.x_m, n.y_m),
          conductorM: conductors,
          conductorRadiusM: n.conductor_radius_m,
          rods: n.rods,
          rodM: n.rod_length_m,
          rodRadiusM: n.rod_radius_m,
        },
        'surface',
      ),
    };
  },
  rod: (n) => ({
    R_ohm: grids.rod(n.rho_ohm_m, n.length_m, n.radius_m),
    R_average_potential_ohm: grids.rodByPotential(n.rho_ohm_m, n.length_m, n.radius_m),
  }),
  wire: (n) => ({
    R_ohm: grids.wire(n.rho_ohm_m, n.half_length_m, n.radius_m, n.depth_m),
    R_average_potential_ohm: grids.wireByPotential(n.rho_ohm_m, n.half_length_m, n.radius_m, n.depth_m),
  }),
  ring: (n) => ({
    R_ohm: grids.ring(n.rho_ohm_m, n.ring_diameter_m, n.wire_diameter_m, n.depth_m),
    R_elliptic_ohm: grids.ringByPotential(n.rho_ohm_m, n.ring_diameter_m, n.wire_diameter_m, n.depth_m),
  }),
  simple: (n) => ({
    hemisphere_ohm: grids.hemisphere(n.rho_ohm_m, n.radius_m),
    disc_ohm: grids.disc(n.rho_ohm_m, n.radius_m),
  }),
  two_layer: (n) => {
    const soil = { upperOhmM: n.rho1_ohm_m, lowerOhmM: n.rho2_ohm_m, thicknessM: n.upper_thickness_m };
    return {
      R_ohm: grids.rodInTwoLayers(soil, n.rod_length_m, n.rod_radius_m),
      R_average_potential_ohm: grids.rodInTwoLayersByPotential(soil, n.rod_length_m, n.rod_radius_m),
      wenner_ohm_m: grids.wennerOhmM(soil, n.wenner_spacing_m),
    };
  },
  decrement: ({ x_over_r, f_Hz, t_s }) => {
    const { timeS, factor } = grids.decrement(x_over_r, f_Hz, t_s);
    return { Ta_s: timeS, Df: factor };
  },
  tolerable: (n) => {
    const found = grids.tolerable(n.rho_ohm_m, n.rho_surface_ohm_m, n.surface_thickness_m, n.t_s);
    return {
      Cs: found.cs,
      touch50_V: found.touch50V,
      touch70_V: found.touch70V,
      step50_V: found.step50V,
      step70_V: found.step70V,
      metal_touch50_V: found.metalTouch50V,
    };
  },
  en50522: ({ t_s }) => ({ UTp_V: grids.permissibleTouchV(t_s) }),
  reduction_factor: (n, given) => {
    if (!given.conductors) {
      const sheath = conductorsOf([
        {
          name: 's',
          role: 'sheath',
          x_m: 0,
          h_m: -1,
          r_ohm_per_km: n.sheath_r_ohm_per_km,
          gmr_m: n.sheath_mean_radius_m,
        },
      ]);
      const z = entry(returnImpedances(sheath, n.f_Hz, n.soil_ohm_m, 'twoTerm'), 0, 0);
      const r = grids.sheathReduction(n.sheath_r_ohm_per_km, z);
      return { r: both(r), r_abs: magnitude(r), sheath_impedance_ohm_per_km: both(z) };
    }
    const conductors = conductorsOf(given.conductors as Parameters<typeof conductorsOf>[0]);
    const z = returnImpedances(conductors, n.f_Hz, n.soil_ohm_m, 'twoTerm');
    const r = grids.reductionFactor(z);
    return {
      r: both(r),
      r_abs: magnitude(r),
      impedance_ohm_per_km: conductors.map((_, i) => conductors.map((_each, j) => both(entry(z, i, j)))),
    };
  },
  thermal_ieee80: (n) => {
    const mm2 = grids.sectionTo({
      kA: n.I_kA,
      seconds: n.t_s,
      ambientC: n.ambient_C,
      endC: n.Tmax_C,
      alpha: n.alpha_r,
      k0: n.K0_C,
      resistivity: n.rho_r_uohm_cm,
      capacity: n.TCAP_J_cm3_C,
    });
    return { area_mm2: mm2, area_kcmil: mm2 * kcmilPerMm2 };
  },
  thermal_iec60949: (n) => {
    const k = Math.sqrt((n.sigma_c_J_K_m3 * (n.beta_K + 20) * 1e-12) / n.rho20_ohm_m);
    const rise = Math.log((n.theta_f_C + n.beta_K) / (n.theta_i_C + n.beta_K));
    return { K: k, I_adiabatic_A: k * n.S_mm2 * Math.sqrt(rise / n.t_s) };
  },
};

/** A circle of a thousandth of an inch, a thousand of them. */
const kcmilPerMm2 = 4000 / (Math.PI * 25.4 ** 2);

const complexOf = (value: unknown): Complex => {
  const [re, im] = value as readonly [number, number];
  return { re, im };
};

/** Three phases and a neutral on a pole, distances in feet, W. H. Kersting, example 4.1. */
function reducedLine(): Record<string, Complex> {
  const feet = [
    [0.0244, 2.5, 7, 5.6569],
    [2.5, 0.0244, 4.5, 4.272],
    [7, 4.5, 0.0244, 5],
    [5.6569, 4.272, 5, 0.00814],
  ];
  const ohms = [0.306, 0.306, 0.306, 0.592];
  const z = denseMatrix(4);
  feet.forEach((row, i) =>
    row.forEach((each, j) => {
      const { re, im } = earthReturnImpedance(60, 100, each * 0.3048, 0, 0, 'depth');
      addTo(z, i, j, { re: re * 1.609344 + (i === j ? ohms[i] : 0), im: im * 1.609344 });
    }),
  );
  const three = kronReduce(z, 3)!;
  const sum = (pick: (i: number, j: number) => boolean) => {
    let total: Complex = { re: 0, im: 0 };
    for (let i = 0; i < 3; i++) for (let j = 0; j < 3; j++) if (pick(i, j)) total = add(total, entry(three, i, j));
    return total;
  };
  const [own, mutual] = [sum((i, j) => i === j), sum((i, j) => i !== j)];
  const third = (value: Complex): Complex => ({ re: value.re / 3, im: value.im / 3 });
  return {
    Zaa: entry(three, 0, 0),
    Zab: entry(three, 0, 1),
    Zac: entry(three, 0, 2),
    Zbb: entry(three, 1, 1),
    Zbc: entry(three, 1, 2),
    Zcc: entry(three, 2, 2),
    Z00: third(add(own, mutual)),
    Z11: third(subtract(own, { re: mutual.re / 2, im: mutual.im / 2 })),
  };
}

/** By the name of a formula. */
export const gridFormulas: Readonly<
  Record<string, (inputs: Numbers, words: Record<string, string>) => number | readonly number[]>
> = {
  ladder_fin: ({ Rt, N, Rend, ...n }) =>
    both(grids.ladder(complexOf((n as unknown as Inputs).Zs), Rt, N, (Rend as number | null) ?? null)),
  split: ({ Rt, Rg, If_A, ...n }) => {
    const [zs, zm] = [complexOf((n as unknown as Inputs).Zs), complexOf((n as unknown as Inputs).Zm)];
    const endless = grids.endlessLadder(zs, Rt);
    const driven = multiply(subtract({ re: 1, im: 0 }, divide(zm, zs)), { re: If_A, im: 0 });
    const grid = magnitude(multiply(driven, divide(endless, add(endless, { re: Rg, im: 0 }))));
    return [grid, grid * Rg, grid / If_A];
  },
  kersting_red: (_, { term }) => both(reducedLine()[term]),
};
