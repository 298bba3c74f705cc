/** Cases of arc energy, alternating and direct current, of IEC 61660-1 and of batteries. */
import type { Electrodes } from '@mesura/core/arc/coefficients';
import {
  boxMultiplier,
  directArc,
  directBoundary,
  directMethods,
  directStages,
  largestPower,
  paukert,
  radiated,
  risingWork,
  roundedEnergyCal,
  stokes,
  stokesRoot,
  transitionA,
  workOf,
  type Box,
  type DirectArc,
} from '@mesura/core/arc/directCurrent';
import { arcingCurrent2002, boundaryEnergy2002, exposure2002, reducedShare2002 } from '@mesura/core/arc/ieee2002';
import {
  arcingCurrents,
  enclosureCorrection,
  exposure,
  joulesPerCalorie,
  type ArcPlace2018,
} from '@mesura/core/arc/ieee2018';
import { energyOver, stagedEnergy } from '@mesura/core/arc/stages';
import { theoreticalBoundary, theoreticalEnergy } from '@mesura/core/arc/theoretical';
import {
  batteryOhm,
  batteryVoltage,
  longestCable,
  loopOhm,
  risen,
  timeOfCurrent,
  timeOfSquare,
  voltageAtPower,
} from '@mesura/core/direct/circuit';
import {
  approximated,
  batteryCurrent,
  capacitorCurrent,
  commonBranchFactors,
  directMotorCurrent,
  largestOf,
  rectifierCurrent,
} from '@mesura/core/direct/iec61660';
import type { Inputs } from './case';

type Numbers = Record<string, number>;
type Computed = (inputs: Numbers, given: Inputs) => unknown;

const placeOf = (n: Numbers, { config }: Inputs): ArcPlace2018 => ({
  electrodes: config as Electrodes,
  voltageKv: n.voc_kV,
  gapMm: n.gap_mm,
  distanceMm: n.distance_mm,
  // Of no account in open air.
  enclosure: { heightMm: n.height_mm ?? 508, widthMm: n.width_mm ?? 508, depthMm: n.depth_mm ?? 508 },
});

const ms = (seconds: number | null) => (seconds === null ? null : 1000 * seconds);

function arc2018(n: Numbers, given: Inputs) {
  const place = placeOf(n, given);
  const arcing = arcingCurrents(place, n.ibf_kA);
  const correction = enclosureCorrection(place);
  const [full, reduced] = [false, true].map((isReduced) =>
    exposure(
      place,
      { boltedKa: n.ibf_kA, arcing, reduced: isReduced },
      isReduced ? (n.time_reduced_ms ?? n.time_ms) : n.time_ms,
      correction,
    ),
  );
  const { size, shallow } = correction;
  return {
    iarc_600_kA: arcing.intermediateKa[0.6],
    iarc_2700_kA: arcing.intermediateKa[2.7],
    iarc_14300_kA: arcing.intermediateKa[14.3],
    iarc_kA: arcing.currentKa,
    varcf: arcing.variation,
    iarc_reduced_kA: arcing.reducedKa,
    cf: correction.factor,
    enclosure: size ? (shallow ? 'shallow' : 'typical') : 'open',
    height1_in: size?.heightIn,
    width1_in: size?.widthIn,
    ees_in: size?.equivalentIn,
    E_J_cm2: full.energy,
    E_cal_cm2: full.energy / joulesPerCalorie,
    afb_mm: full.boundaryMm,
    E_reduced_J_cm2: reduced.energy,
    E_reduced_cal_cm2: reduced.energy / joulesPerCalorie,
    afb_reduced_mm: reduced.boundaryMm,
    governing: reduced.energy > full.energy ? 'reduced' : 'full',
    E_600_J_cm2: full.intermediate[0.6]?.energy,
    E_2700_J_cm2: full.intermediate[2.7]?.energy,
    E_14300_J_cm2: full.intermediate[14.3]?.energy,
    afb_600_mm: full.intermediate[0.6]?.boundaryMm,
    afb_2700_mm: full.intermediate[2.7]?.boundaryMm,
    afb_14300_mm: full.intermediate[14.3]?.boundaryMm,
  };
}

function arc2002(n: Numbers, { config, grounded }: Inputs) {
  const place = {
    inBox: config === 'box',
    voltageKv: n.V_kV,
    gapMm: n.gap_mm,
    distanceMm: n.distance_mm,
    distanceExponent: n.distance_exponent,
    earthed: grounded as boolean,
  };
  const iarc = arcingCurrent2002(place, n.ibf_kA);
  const full = exposure2002(place, iarc, n.time_s);
  const reduced = exposure2002(place, reducedShare2002 * iarc, n.time_85_s ?? n.time_s);
  return {
    iarc_kA: iarc,
    En_J_cm2: full.normalised,
    E_J_cm2: full.energy,
    afb_mm_5J: full.boundaryMm,
    iarc_85_kA: reducedShare2002 * iarc,
    En_85_J_cm2: reduced.normalised,
    E_85_J_cm2: reduced.energy,
    afb_85_mm_5J: reduced.boundaryMm,
  };
}

const boxOf = ({ a_mm, k }: Numbers): Box | null => (a_mm === undefined ? null : { aMm: a_mm, k });

function ofDirectArc(arc: DirectArc, n: Numbers) {
  const work = arc.powerW * n.time_s;
  const box = boxOf(n);
  return {
    iarc_A: arc.currentA,
    varc_V: arc.voltageV,
    rarc_ohm: arc.resistanceOhm,
    parc_W: arc.powerW,
    E_J_cm2_open: radiated(work, n.distance_mm, null),
    afb_mm_open: directBoundary(work, null),
    E_J_cm2_box: box && radiated(work, n.distance_mm, box),
    afb_mm_box: box && directBoundary(work, box),
  };
}

function stokesCase(n: Numbers) {
  const arc = stokes(n.V_V, n.R_ohm, n.gap_mm);
  return {
    sustained: arc !== null,
    transition_A: transitionA(n.gap_mm),
    root_A: stokesRoot(n.V_V, n.R_ohm, n.gap_mm),
    ...(arc && ofDirectArc(arc, n)),
  };
}

function compare(n: Numbers) {
  const all = directMethods.map(
    (method) => [method, ofDirectArc(directArc(method, n.V_V, n.R_ohm, n.gap_mm)!, n)] as const,
  );
  const sorted = [...all].sort(([, p], [, q]) => q.E_J_cm2_open - p.E_J_cm2_open);
  return { methods: Object.fromEntries(all), worst: sorted[0][0], least: sorted.at(-1)![0] };
}

function directStagesCase(n: Numbers) {
  const stages = directStages(
    'stokes',
    [
      { volts: n.V_V, ohm: n.R_battery_ohm, opensS: n.battery_opens_s },
      { volts: n.V_V, ohm: n.R_charger_ohm, opensS: n.charger_opens_s },
    ],
    n.gap_mm,
  );
  const work = workOf(stages);
  const box = boxOf(n);
  return {
    iarc_A: stages.map(({ arc }) => arc?.currentA),
    W_J: work,
    E_J_cm2_open: radiated(work, n.distance_mm, null),
    E_J_cm2_box: radiated(work, n.distance_mm, box),
    afb_mm_open: directBoundary(work, null),
    afb_mm_box: directBoundary(work, box),
  };
}

function stages2018(n: Numbers, given: Inputs) {
  const place = placeOf(n, given);
  const sources = given.sources as readonly { ibf_kA: number; opens_ms: number }[];
  const times = [0, ...sources.map(({ opens_ms }) => opens_ms)].sort((p, q) => p - q);
  const stages = times.slice(1).map((until, k) => ({
    durationMs: until - times[k],
    boltedKa: sources.reduce((sum, { ibf_kA, opens_ms }) => (opens_ms > times[k] ? sum + ibf_kA : sum), 0),
  }));
  const full = stagedEnergy(place, stages, false);
  return {
    stages: full.stages.map(({ boltedKa, arcingKa, durationMs, energy }) => ({
      ibf_kA: boltedKa,
      iarc_kA: arcingKa,
      duration_ms: durationMs,
      E_J_cm2: energy,
    })),
    E_J_cm2: full.energy,
    E_reduced_J_cm2: stagedEnergy(place, stages, true).energy,
    afb_mm: full.boundaryMm,
  };
}

function decaying2018(n: Numbers, given: Inputs) {
  const place = placeOf(n, given);
  const steps = given.steps as readonly { ibf_kA: number; duration_ms: number }[];
  const { energy, boundaryMm } = stagedEnergy(
    place,
    steps.map(({ ibf_kA, duration_ms }) => ({ boltedKa: ibf_kA, durationMs: duration_ms })),
    false,
  );
  const { I0_kA, Iinf_kA, tau_ms, until_ms } = given.exponential as Numbers;
  const current = (t: number) => Iinf_kA + (I0_kA - Iinf_kA) * Math.exp(-t / tau_ms);
  return {
    E_J_cm2: energy,
    E_exponential_J_cm2: energyOver(place, current, until_ms, false),
    afb_mm: boundaryMm,
  };
}

const stringOf = (n: Numbers) => ({
  cells: n.cells,
  cellV: n.cell_open_V,
  cellOhm: n.cell_resistance_mohm / 1000,
  connectorOhmPerCell: n.connector_mohm_per_cell / 1000,
  strings: n.strings,
});

/** Voltage, resistance of the battery and of a cable behind it. */
function loopIn(n: Numbers, cable: Numbers = n) {
  const string = stringOf(n);
  const metal = { rho20: n.rho20_ohm_mm2_m, alpha: n.alpha_per_K };
  return {
    volts: batteryVoltage(string),
    source: batteryOhm(string),
    cable: loopOhm(cable.length_m, cable.section_mm2, cable.temperature_C, metal),
  };
}

function batteryShort(n: Numbers, { sections }: Inputs) {
  const cables = (sections as readonly Numbers[]).map((section) => loopIn(n, section).cable);
  const { volts, source } = loopIn(n, (sections as readonly Numbers[])[0]);
  const behind = cables.map((_, k) => cables.slice(0, k + 1).reduce((sum, each) => sum + each, source));
  return {
    E_V: volts,
    R_source_ohm: source,
    R_section_ohm: cables,
    If_A: [source, ...behind].map((ohm) => volts / ohm),
  };
}

function batteryDrop(n: Numbers) {
  const { volts, source, cable } = loopIn(n);
  if (n.load_W !== undefined) {
    const loadV = voltageAtPower(volts, source + cable, n.load_W)!;
    const loadA = n.load_W / loadV;
    return { load_V: loadV, load_A: loadA, drop_in_cable_V: loadA * cable };
  }
  const drop = n.load_A * cable;
  const batteryV = volts - n.load_A * source;
  return { battery_V: batteryV, load_V: batteryV - drop, drop_V: drop, drop_percent_of_110: drop / 1.1 };
}

function batteryFuse(n: Numbers) {
  const { volts, source, cable } = loopIn(n);
  const finalA = volts / (source + cable);
  const tau = n.L_H / (source + cable);
  const melt = timeOfSquare(finalA, tau, n.fuse_melting_I2t_A2s);
  return {
    If_A: finalA,
    tau_ms: ms(tau),
    t_melt_ms: ms(melt),
    t_clear_ms: ms(timeOfSquare(finalA, tau, n.fuse_clearing_I2t_A2s)),
    i_melt_A: risen(finalA, tau, melt),
  };
}

function batteryBreaker(n: Numbers) {
  const { volts, source, cable } = loopIn(n);
  const finalA = volts / (source + cable);
  const tau = n.L_H / (source + cable);
  const pickup = n.In_A * n.instantaneous_multiple_dc;
  const at = timeOfCurrent(finalA, tau, pickup);
  const cleared = at + n.opening_ms / 1000;
  return {
    If_A: finalA,
    tau_ms: ms(tau),
    pickup_A: pickup,
    instantaneous: at < Infinity,
    margin: finalA / pickup,
    t_pickup_ms: ms(at),
    t_clear_ms: ms(cleared),
    i_at_opening_A: risen(finalA, tau, cleared),
    longest_cable_m: longestCable(volts, source, pickup, cable / n.length_m),
  };
}

function batteryArc(n: Numbers) {
  const { volts, source, cable } = loopIn(n);
  const ohm = source + cable;
  const arc = stokes(volts, ohm, n.gap_mm)!;
  return {
    If_A: volts / ohm,
    iarc_A: arc.currentA,
    varc_V: arc.voltageV,
    E_J_cm2_open: radiated(arc.powerW * n.time_s, n.distance_mm, null),
    E_maxpower_J_cm2: radiated(largestPower(volts, ohm).powerW * n.time_s, n.distance_mm, null),
  };
}

function rectifier(n: Numbers) {
  const found = rectifierCurrent({
    sourceV: n.c * n.UnTr_V,
    rnOhm: n.RN_ohm,
    xnOhm: n.XN_ohm,
    directOhm: n.RDBr_ohm,
    directHenry: n.LDBr_H,
    frequencyHz: n.f_Hz,
  });
  // The voltage of the network, through the ratio of the transformer.
  const steady = n.ratio * found.steadyA;
  return {
    lambda_D: found.lambda,
    Ik_A: steady,
    phi_D_rad: found.phiRad,
    kappa_D: found.kappa,
    ip_A: found.kappa * steady,
    tp_ms: ms(found.peakS),
    tau1_ms: ms(found.riseS),
    tau2_ms: ms(found.decayS),
  };
}

const sumOf61660 = (_: Numbers, given: Inputs) => {
  const sources = (given.sources as readonly Numbers[]).map(({ ip_A, Ik_A, tp_ms, tau1_ms, tau2_ms }) => ({
    peakA: ip_A,
    steadyA: Ik_A,
    peakS: tp_ms / 1000,
    riseS: tau1_ms / 1000,
    decayS: tau2_ms / 1000,
  }));
  const parts = sources.map(approximated);
  const total = (t: number) => parts.reduce((sum, part) => sum + part(t), 0);
  return {
    i_A: (given.t_ms as readonly number[]).map((t) => total(t / 1000)),
    peak_A: largestOf(
      total,
      sources.map(({ peakS }) => peakS),
    ).peakA,
  };
};

export const arcKinds: Readonly<Record<string, Computed>> = {
  ieee1584_2018: arc2018,
  ieee1584_2002: arc2002,
  stages_2018: stages2018,
  decaying_2018: decaying2018,
  lee: ({ V_kV, ibf_kA, time_s, distance_mm }) => {
    const energy = theoreticalEnergy(V_kV, ibf_kA, time_s, distance_mm);
    return {
      E_J_cm2: energy,
      E_cal_cm2: energy / joulesPerCalorie,
      afb_mm_5J: theoreticalBoundary(V_kV, ibf_kA, time_s, boundaryEnergy2002),
      afb_mm_1_2cal: theoreticalBoundary(V_kV, ibf_kA, time_s),
    };
  },
  dc_maxpower: (n) => {
    const arc = largestPower(n.V_V, n.R_ohm);
    const rounded = roundedEnergyCal(n.V_V, n.R_ohm, n.time_s, n.distance_mm);
    return {
      ...ofDirectArc(arc, n),
      E_cal_cm2_0_01: rounded,
      E_cal_cm2_0_01_enclosed_x3: boxMultiplier * rounded,
      E_J_cm2_sphere: radiated(arc.powerW * n.time_s, n.distance_mm, null),
    };
  },
  dc_stokes: stokesCase,
  dc_paukert: (n) => ofDirectArc(paukert(n.V_V, n.R_ohm, n.gap_mm)!, n),
  dc_integrated: (n) => {
    const circuit = { volts: n.V_V, ohm: n.R_ohm, henry: n.L_H, gapMm: n.gap_mm };
    const { workJ, endA } = risingWork(circuit, n.i_start_A, n.time_s);
    return {
      W_J: workJ,
      W_steady_J: stokes(n.V_V, n.R_ohm, n.gap_mm)!.powerW * n.time_s,
      i_end_A: endA,
      E_J_cm2_open: radiated(workJ, n.distance_mm, null),
    };
  },
  dc_compare: compare,
  stages_dc: directStagesCase,
  iec61660_battery: (n) => {
    const found = batteryCurrent({
      nominalV: n.Un_V,
      openV: n.EB_V,
      batteryOhm: n.RB_ohm,
      conductorOhm: n.RBL_ohm,
      commonOhm: n.RY_ohm,
      branchHenry: n.LBBr_H,
    });
    return {
      EB_V: found.voltageV,
      RBBr_ohm: found.branchOhm,
      ip_A: found.peakA,
      Ik_A: found.steadyA,
      one_over_delta_ms: ms(found.inverseDeltaS),
      tau2_ms: ms(found.decayS),
      internal_ohm: found.internalOhm,
    };
  },
  iec61660_capacitor: (n) => {
    const found = capacitorCurrent(n.E_V, n.C_F, n.R_ohm, n.L_H);
    return {
      ip_A: found.peakA,
      tp_ms: ms(found.peakS),
      kappa: found.kappa,
      Ik_A: found.steadyA,
      omega0_per_s: found.omega0,
      one_over_delta_ms: ms(found.inverseDeltaS),
    };
  },
  iec61660_rectifier: rectifier,
  iec61660_motor: (n) => {
    const found = directMotorCurrent({
      ratedV: n.UrM_V,
      ratedA: n.IrM_A,
      armatureOhm: n.RM_ohm,
      armatureHenry: n.LM_H,
      branchOhm: n.RBr_extra_ohm,
      branchHenry: n.LBr_extra_H,
      fieldShare: n.LF_over_L0F,
    });
    return {
      EM_V: found.inducedV,
      ip_A: found.peakA,
      Ik_A: found.steadyA,
      tauM_ms: ms(found.armatureS),
    };
  },
  iec61660_common_branch: (n, given) => {
    const factors = commonBranchFactors(given.internal_ohm as readonly number[], n.RY_ohm);
    const steady = (given.Ik_A as readonly number[]).map((each, k) => factors[k] * each);
    return {
      sigma: factors,
      ip_corrected_A: (given.ip_A as readonly number[]).map((each, k) => factors[k] * each),
      Ik_corrected_A: steady,
      Ik_total_A: steady.reduce((sum, each) => sum + each, 0),
    };
  },
  iec61660_sum: sumOf61660,
  short_circuit: batteryShort,
  voltage_drop: batteryDrop,
  dc_fuse: batteryFuse,
  dc_breaker: batteryBreaker,
  battery_arc: batteryArc,
};

/** Bridge on the secondary side of its transformer, by the voltage of a phase. */
const bridge = ({ Uph_V, RN, XN, RD, LD_H, f_Hz }: Numbers) =>
  rectifierCurrent({
    sourceV: Math.sqrt(3) * Uph_V,
    rnOhm: RN,
    xnOhm: XN,
    directOhm: RD,
    directHenry: LD_H,
    frequencyHz: f_Hz,
  });

/** By the name of a formula. */
export const arcFormulas: Readonly<
  Record<string, (inputs: Numbers, words: Record<string, string>) => number | readonly number[]>
> = {
  ieee1584: (n, words) => (arc2018(n, words) as unknown as Numbers)[words.out],
  dc_maxpower: ({ V_V, R_ohm }) => {
    const { voltageV, currentA, powerW } = largestPower(V_V, R_ohm);
    return [voltageV, currentA, powerW];
  },
  cap: ({ E_V, C_F, R_ohm, L_H }) => {
    const { peakA, peakS } = capacitorCurrent(E_V, C_F, R_ohm, L_H);
    return [peakA, 1000 * peakS!];
  },
  rect_ik: (n) => bridge(n).steadyA,
  rect_ip: (n) => bridge(n).peakA,
};
