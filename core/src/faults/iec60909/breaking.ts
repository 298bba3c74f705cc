/** Symmetrical breaking current Ib, also in meshed networks, and the d.c. component. IEC 60909-0:2016, clause 9 and 8.2. */
import { magnitude, multiply, scale, subtract, type Complex } from '../../linear/complex';
import { ofKind } from '../../model/network';
import { portAt } from '../solution/solve';
import { onOwnPaths } from './paths';
import type { SteadyCurrent } from './steady';
import { loadingOf, sourceShares, type SourceShare } from './machines';
import { impedanceAtFrequency, type Fault } from './study';

/** Terms of µ by minimum time delay in seconds: µ = p + q·e^(−r·I″kG/IrG). */
const muTerms = [
  [0.02, 0.84, 0.26, 0.26],
  [0.05, 0.71, 0.51, 0.3],
  [0.1, 0.62, 0.72, 0.32],
  [0.25, 0.56, 0.94, 0.38],
] as const;

/** Terms of q: q = p + r·ln(m), m in MW per pole pair. */
const qTerms = [
  [0.02, 1.03, 0.12],
  [0.05, 0.79, 0.12],
  [0.1, 0.57, 0.12],
  [0.25, 0.26, 0.1],
] as const;

/** Value between the times of a table, linear in time; held at its ends. */
function between(times: readonly number[], values: readonly number[], t: number): number {
  if (t <= times[0]) return values[0];
  for (let k = 1; k < times.length; k++)
    if (t <= times[k])
      return values[k - 1] + ((values[k] - values[k - 1]) * (t - times[k - 1])) / (times[k] - times[k - 1]);
  return values[values.length - 1];
}

/** Decay factor µ of a machine with this ratio I″kG/IrG; 1 up to a ratio of 2. IEC 60909-0, 9.1.1. */
export function mu(ratio: number, minimumDelayS: number): number {
  if (ratio <= 2) return 1;
  const values = muTerms.map(([, p, q, r]) => Math.min(p + q * Math.exp(-r * ratio), 1));
  return between(
    muTerms.map(([t]) => t),
    values,
    minimumDelayS,
  );
}

/** Decay factor q of asynchronous motors by MW per pole pair, between 0 and 1. IEC 60909-0, 9.1.2. */
export function q(mwPerPolePair: number, minimumDelayS: number): number {
  const values = qTerms.map(([, p, r]) => Math.min(Math.max(p + r * Math.log(mwPerPolePair), 0), 1));
  return between(
    qTerms.map(([t]) => t),
    values,
    minimumDelayS,
  );
}

export interface Decay {
  readonly share: SourceShare;
  readonly mu: number;
  readonly q: number;
  /** I″kG/IrG. */
  readonly ratio: number;
  /** What the share loses until contacts part, amperes at the fault. */
  readonly lost: Complex;
}

export interface BreakingCurrent {
  readonly minimumDelayS: number;
  /** How it was found. */
  readonly rule: SteadyCurrent['rule'];
  readonly ibA: number;
  /** D.c. component at the minimum time delay, amperes. */
  readonly idcA: number;
  /** √(Ib² + idc²). */
  readonly asymmetricalA: number;
  readonly decays: readonly Decay[];
}

/**
 * Ib at the minimum time delay of a three-phase fault. Sources directly at the fault or behind branches of their own: Σ µ·q·Ik″ (9.1.1 and 9.1.2). Meshed
 * networks: from Ik″ each machine loses (ΔU″/(c·Un/√3))·(1 − µ·q) of its share, as phasors (9.1.3). For unbalanced faults Ib = Ik″ (9.2).
 */
export function breakingCurrent(fault: Fault, minimumDelayS: number): BreakingCurrent {
  const idcA = dcComponent(fault, minimumDelayS);
  const result = (ibA: number, rule: BreakingCurrent['rule'], decays: readonly Decay[]): BreakingCurrent => ({
    minimumDelayS,
    rule,
    ibA,
    idcA,
    asymmetricalA: Math.hypot(ibA, idcA),
    decays,
  });
  if (fault.kind !== '3ph') return result(fault.ikA, 'unbalanced', []);
  const { network } = fault.study.assembly;
  const motors = new Map(ofKind(network, 'asynchronousMotor').map((motor) => [motor.id, motor]));
  const shares = sourceShares(fault);
  const rule = onOwnPaths(fault, shares) ? 'single paths' : 'meshed';
  let current: Complex = fault.components.positive;
  const decays: Decay[] = [];
  for (const share of shares) {
    if (share.ratedA === null) continue;
    const ratio = loadingOf(share);
    const motor = motors.get(share.element);
    // A motor far away (ratio up to 2) counts in full, as a generator does; drives leave with their converters (6.11).
    const factors =
      share.kind === 'staticDrive'
        ? { mu: 0, q: 0 }
        : {
            mu: mu(ratio, minimumDelayS),
            q: motor && ratio > 2 ? q(motor.ratedMw / motor.polePairs, minimumDelayS) : 1,
          };
    const atFault = scale(share.current, share.levelRatio);
    // What a machine keeps of its own share; in a mesh less is lost, the more of its voltage drops elsewhere.
    const drop = rule === 'meshed' ? scale(share.drop, 1 / (share.levelRatio * fault.sourceV)) : one;
    const lost = scale(multiply(drop, atFault), 1 - factors.mu * factors.q);
    decays.push({ share, ratio, lost, ...factors });
    current = subtract(current, lost);
  }
  return result(magnitude(current), rule, decays);
}

const one: Complex = { re: 1, im: 0 };

/** fc/f for the d.c. component by f·t: IEC 60909-0, 8.2, table. */
export function dcFrequencyRatio(periods: number): number {
  if (periods < 1) return 0.27;
  if (periods < 2.5) return 0.15;
  return periods < 5 ? 0.092 : 0.055;
}

/** Decaying d.c. component at a time after the fault, amperes: √2·Ik″·e^(−2πf·t·R/X), R/X by the equivalent frequency. */
export function dcComponent(fault: Fault, timeS: number): number {
  const { study, place, ikA } = fault;
  const { frequencyHz } = study.assembly;
  const ratio = dcFrequencyRatio(frequencyHz * timeS);
  const port = portAt(study.assembly, place)!;
  const z = impedanceAtFrequency(study, place, port, ratio, 'own');
  const { phaseOhm } = fault.condition;
  const rOverX = ((z.re + phaseOhm.re) / (z.im + ratio * phaseOhm.im)) * ratio;
  return Math.SQRT2 * ikA * Math.exp(-2 * Math.PI * frequencyHz * timeS * rOverX);
}
