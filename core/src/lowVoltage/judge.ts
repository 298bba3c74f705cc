/** A circuit against everything that it has to meet: IEC 60364-4-41, -4-43, -5-52, -5-54; for machines IEC 60204-1. */
import { demandedS } from '../circuits/circuit';
import { add, divide, magnitude, scale, subtract, zero, type Complex } from '../linear/complex';
import type { ElementId } from '../model/fields';
import type { Switch } from '../model/switching';
import { earliestOperation } from '../protection/family';
import { motorResistanceRatio, ratedMvaOf } from '../sequence/asynchronousMotor';
import type { AsynchronousMotor } from '../model/sources';
import { atHeat, capacityOf, heatBorneA2s, type CableCase, type Capacity } from './cable';
import { dropOver, type CableOnWay, type CircuitCase, type Feeding, type WayCase } from './case';
import { heaviest, phaseAmperes } from './demand';
import { clearedBy, letThrough, operatingCurrent, seesOf, type Cleared, type FaultWay, type Guard } from './guards';

/** In the order in which they are told. */
export const criteria = [
  'load',
  'overload',
  'drop',
  'startDrop',
  'start',
  'disconnection',
  'touch',
  'breaking',
  'heat',
  'heatPe',
] as const;
export type Criterion = (typeof criteria)[number];

export type CircuitVerdict = 'holds' | 'short' | 'doubtful' | 'unknown';

/** Why a criterion is not simply met or missed. */
export type Reason =
  | 'noDevice'
  | 'noOverload'
  | 'noCapacity'
  | 'noSupply'
  | 'noZeroSequence'
  | 'noEarth'
  | 'noBreaking'
  | 'noSection'
  | 'neverEnds'
  | 'boundOfStandard'
  | 'mayTrip';

export interface CircuitCheck {
  readonly criterion: Criterion;
  readonly verdict: CircuitVerdict;
  readonly value: number | null;
  readonly limit: number | null;
  readonly unit: string;
  /** Value over limit, as what is asked is met up to 1; null where it cannot be told. */
  readonly used: number | null;
  readonly condition: ElementId | null;
  /** Cable, switch or consumer that decides. */
  readonly subject: ElementId | null;
  readonly why: Reason | null;
}

export interface FaultFigure {
  readonly ampere: number;
  readonly condition: ElementId;
  readonly end: ElementId;
}

export interface Judgement {
  readonly designA: number;
  readonly phasesA: readonly [number, number, number];
  readonly cosPhi: number;
  readonly upstreamPercent: number;
  /** Of this circuit alone, to its worst end. */
  readonly ownPercent: number;
  readonly startPercent: number | null;
  /** At the board: three-phase, and one phase to earth. */
  readonly boardMax: FaultFigure | null;
  readonly boardEarth: FaultFigure | null;
  readonly endMax: FaultFigure | null;
  /** Smallest without earth: two phases, or phase and neutral. */
  readonly endShort: FaultFigure | null;
  /** Smallest to the protective conductor or earth. */
  readonly endEarth: FaultFigure | null;
  readonly loopOhm: number | null;
  readonly requiredS: number;
  readonly cleared: Cleared | null;
  readonly operatingA: number | null;
  /** By cable of the case. */
  readonly capacities: readonly Capacity[];
  readonly guard: Guard | null;
  readonly checks: readonly CircuitCheck[];
  readonly verdict: CircuitVerdict;
  /** What is nearest to its limit, or beyond it most. */
  readonly binding: Criterion | null;
}

/** Highest touch voltage that may stay, V (IEC 60364-4-41, 411.5.3). */
const touchV = 50;
/** Beyond this the adiabatic equation does not hold, and overload protection ends it (IEC 60364-4-43, 434.5.2). */
const adiabaticS = 5;

const root3 = Math.sqrt(3);
const one: Complex = { re: 1, im: 0 };
const sumOf = (list: readonly Complex[]): Complex => list.reduce(add, zero);

const threePhase = ({ sourceV, z1 }: Feeding): number => sourceV / magnitude(z1);
const twoPhase = ({ sourceV, z1, z2 }: Feeding): number => (root3 * sourceV) / magnitude(add(z1, z2));
const loopOf = ({ z1, z2 }: Feeding, z0: Complex): Complex => scale(add(add(z1, z2), z0), 1 / 3);

/** Phase to neutral through the supply at the board and twice the conductors; with the heat of the feeding's case. */
function phaseToNeutral(atBoard: Feeding, cables: readonly CableCase[]): number | null {
  if (!atBoard.z0) return null;
  const heat = atBoard.faultCase === 'max' ? 'cold' : 'hot';
  const conductors = sumOf(cables.map((cable) => atHeat(cable.phase, cable, heat)));
  return atBoard.sourceV / magnitude(add(loopOf(atBoard, atBoard.z0), scale(conductors, 2)));
}

interface EarthFault {
  /** Nought where nothing flows; null where it is not known. */
  readonly ampere: number | null;
  readonly loopOhm: number | null;
}

/** One phase to the exposed part at the end of a way; in IT systems the second fault (IEC 60364-4-41, 411.6.4). */
export function earthFaultAt(
  { installation, cables }: Pick<CircuitCase, 'installation' | 'cables'>,
  way: WayCase,
  at: Feeding,
): EarthFault {
  const { system, raOhm, rbOhm } = installation;
  if (system === 'IT') {
    const own = way.cables.map((k) => cables[k].cable);
    if (own.some(({ pe }) => pe === null)) return { ampere: null, loopOhm: null };
    const heat = at.faultCase === 'max' ? 'cold' : 'hot';
    const z = magnitude(add(at.z1, sumOf(own.map((cable) => atHeat(cable.pe!, cable, heat)))));
    return { ampere: (root3 * at.sourceV) / (2 * z), loopOhm: z };
  }
  if (system === 'TT') {
    // The electrodes are nearly all of the loop; conductors count as in the positive sequence where the zero sequence is not given.
    if (at.z0 === null) return { ampere: 0, loopOhm: null };
    const z = magnitude(add(loopOf(at, at.z0 ?? at.z1), { re: raOhm + rbOhm, im: 0 }));
    return { ampere: at.sourceV / z, loopOhm: z };
  }
  if (at.z0 === undefined) return { ampere: null, loopOhm: null };
  if (at.z0 === null) return { ampere: 0, loopOhm: null };
  const z = magnitude(loopOf(at, at.z0));
  return { ampere: at.sourceV / z, loopOhm: z };
}

const resistanceRatio = ({ rOverX, ratedKv, ratedMw, polePairs }: AsynchronousMotor): number =>
  rOverX ?? motorResistanceRatio(ratedKv, ratedMw / polePairs);

/** Of a motor at standstill, Ω. */
export function standstillOhm(motor: AsynchronousMotor): Complex {
  const size = motor.ratedKv ** 2 / ratedMvaOf(motor) / motor.startingRatio;
  const ratio = resistanceRatio(motor);
  const cosPhi = motor.startPowerFactor ?? ratio / Math.hypot(1, ratio);
  return { re: size * cosPhi, im: size * Math.sqrt(1 - cosPhi ** 2) };
}

/** Percent that is lost to the terminals of a motor at standstill, network and cables together. */
export function startDropOf(motor: AsynchronousMotor, atBoard: Feeding, cables: readonly CableCase[]): number {
  const zm = standstillOhm(motor);
  const way = add(atBoard.z1, sumOf(cables.map((cable) => atHeat(cable.phase, cable, 'service'))));
  return 100 * (1 - magnitude(zm) / magnitude(add(zm, way)));
}

/** TN: exposed parts hang on the source by the protective conductor. */
const isEarthedBySource = ({ system }: CircuitCase['installation']): boolean =>
  system === 'TN-S' || system === 'TN-C-S';

/** Interrupts what it guards: breakers and fuses with a device of their own. */
const interrupts = ({ type }: Switch): boolean => type === 'breaker' || type === 'fuse' || type === 'recloser';

const worse: Readonly<Record<CircuitVerdict, number>> = { holds: 0, unknown: 1, doubtful: 2, short: 3 };
/** The worse of two; of like ones that which is used up more. */
const worseOf = (p: CircuitCheck, q: CircuitCheck): CircuitCheck =>
  worse[q.verdict] > worse[p.verdict] || (worse[q.verdict] === worse[p.verdict] && (q.used ?? 0) > (p.used ?? 0))
    ? q
    : p;

/** What is not simply value over limit. */
interface Told {
  readonly used?: number | null;
  readonly verdict?: CircuitVerdict;
  readonly condition?: ElementId | null;
  readonly subject?: ElementId | null;
  readonly why?: Reason | null;
}
type Put = (criterion: Criterion, unit: string, value: number | null, limit: number | null, told: Told) => void;

/** Keeps of each criterion the worst; two thousand circuits are judged at a change, so only what stays is made. */
class Checks {
  private readonly found = new Map<Criterion, CircuitCheck>();

  readonly put: Put = (criterion, unit, value, limit, told) => {
    const used = told.used ?? (value !== null && limit !== null && limit > 0 ? value / limit : null);
    const verdict = told.verdict ?? (used === null ? 'unknown' : used <= 1 + 1e-9 ? 'holds' : 'short');
    const before = this.found.get(criterion);
    if (before) {
      const rank = worse[verdict] - worse[before.verdict];
      if (rank < 0 || (rank === 0 && (used ?? 0) <= (before.used ?? 0))) return;
    }
    const { condition = null, subject = null, why = null } = told;
    this.found.set(criterion, { criterion, verdict, value, limit, unit, used, condition, subject, why });
  };

  all(): CircuitCheck[] {
    const list: CircuitCheck[] = [];
    for (const each of criteria) {
      const found = this.found.get(each);
      if (found) list.push(found);
    }
    return list;
  }
}

/** The largest or smallest of several currents, with its place. */
class Extreme {
  private best = NaN;
  private condition: ElementId | null = null;
  private end: ElementId | null = null;

  constructor(private readonly sign: 1 | -1) {}

  take(ampere: number | null, condition: ElementId, end: ElementId): void {
    if (ampere === null || this.sign * ampere <= this.sign * this.best) return;
    [this.best, this.condition, this.end] = [ampere, condition, end];
  }

  get figure(): FaultFigure | null {
    return this.condition ? { ampere: this.best, condition: this.condition, end: this.end! } : null;
  }
}

export function judged(given: CircuitCase): Judgement {
  const { circuit, installation, unV, isSinglePhase, cables, ways, feeding, switches } = given;
  const u0 = unV / root3;
  const service = heaviest(given.demand, u0);
  const loaded = isSinglePhase ? 2 : 3;
  const capacities = cables.map(({ cable }) => capacityOf(cable, loaded));
  const checks = new Checks();
  const { put } = checks;
  const cablesOf = ways.map(({ cables: own }) => own.map((k) => cables[k].cable));

  // Overload.
  const guard = given.guards.find(({ overload }) => overload !== null) ?? null;
  if (given.guards.length === 0) put('load', 'A', service.ampere, null, { why: 'noDevice' });
  else if (guard) put('load', 'A', service.ampere, guard.overload!.referenceA, { subject: guard.at });
  cables.forEach((each, k) => overloadCheck(given, each, k, capacities[k], put));

  // Voltage.
  let ownPercent = 0;
  let startPercent: number | null = null;
  ways.forEach((way, w) => {
    let drop = 0;
    for (const k of way.cables) drop += dropOver(cables[k], u0, isSinglePhase);
    ownPercent = Math.max(ownPercent, drop);
    if (way.cables.length > 0 || given.upstreamPercent > 0)
      put('drop', '%', given.upstreamPercent + drop, installation.dropPercent, { subject: way.end });
    if (!way.motor) return;
    for (const atBoard of feeding) {
      const percent = startDropOf(way.motor, atBoard, cablesOf[w]);
      startPercent = Math.max(startPercent ?? 0, percent);
      put('startDrop', '%', percent, installation.startDropPercent, {
        condition: atBoard.condition,
        subject: way.end,
      });
    }
    startCheck(way.motor, way, put);
  });

  // Faults at the board and at the ends.
  const [board3, board1, endMax, endShort, endEarth] = [1, 1, 1, -1, -1].map((sign) => new Extreme(sign as 1 | -1));
  for (const at of feeding) {
    board3.take(threePhase(at), at.condition, circuit.board);
    if (at.z0) board1.take(at.sourceV / magnitude(loopOf(at, at.z0)), at.condition, circuit.board);
  }
  const earth = ways.map((way) => way.feeding.map((at) => earthFaultAt(given, way, at)));
  ways.forEach((way, w) =>
    way.feeding.forEach((at, n) => {
      const atBoard = isSinglePhase ? feeding.find(({ condition }) => condition === at.condition) : undefined;
      const toNeutral = atBoard ? phaseToNeutral(atBoard, cablesOf[w]) : null;
      endMax.take(isSinglePhase ? toNeutral : threePhase(at), at.condition, way.end);
      endShort.take(isSinglePhase ? toNeutral : twoPhase(at), at.condition, way.end);
      endEarth.take(earth[w][n].ampere, at.condition, way.end);
    }),
  );

  // Disconnection.
  const { system } = installation;
  const isTn = isEarthedBySource(installation);
  const faultWay: FaultWay = system === 'IT' ? 'short' : 'earth';
  // A relay for the overload of a motor is not what the circuit is rated by.
  const ratedA = Math.max(0, ...given.guards.map(({ overload }) => overload?.referenceA ?? 0));
  const requiredS = requiredIn(given, ratedA);
  let cleared: Cleared | null = null;
  let operatingA: number | null = null;
  let loopOhm: number | null = null;
  ways.forEach((way, w) => {
    if (way.feeding.length === 0) put('disconnection', 's', null, requiredS, { why: 'noSupply', subject: way.end });
    const needsA = operatingCurrent(way.guards, requiredS, faultWay);
    way.feeding.forEach(({ condition }, n) => {
      const { ampere, loopOhm: ohm } = earth[w][n];
      const subject = way.end;
      if (ampere === null) {
        put('disconnection', 's', null, requiredS, { condition, subject, why: 'noZeroSequence' });
        return;
      }
      const ends = clearedBy(way.guards, seesOf(faultWay, ampere));
      const used = needsA === null || ampere === 0 ? Math.max(1.001, ends.timeS / requiredS) : needsA / ampere;
      const isLate = ends.timeS > requiredS;
      put('disconnection', 's', ends.timeS === Infinity ? null : ends.timeS, requiredS, {
        condition,
        subject,
        used: isLate ? Math.max(used, 1.001) : Math.min(used, 1),
        verdict: isLate ? 'short' : 'holds',
        why:
          way.guards.length === 0
            ? 'noDevice'
            : ampere === 0
              ? 'noEarth'
              : ends.timeS === Infinity
                ? 'neverEnds'
                : null,
      });
      const isLater = !cleared || ends.timeS > cleared.timeS;
      if (isLater || (ends.timeS === cleared!.timeS && (ohm ?? 0) > (loopOhm ?? 0)))
        [cleared, operatingA, loopOhm] = [ends, needsA, ohm];
    });
  });
  if (system === 'TT')
    for (const each of given.guards)
      for (const fn of each.functions)
        if (fn.quantity === 'residual')
          put('touch', 'V', installation.raOhm * fn.assuredA, touchV, { subject: each.at });

  // What devices break, and what conductors bear.
  const [most3, most1] = [board3.figure, board1.figure];
  const boardMax = most3 && most1 && most1.ampere > most3.ampere ? most1 : most3;
  if (boardMax)
    for (const each of switches) {
      if (!interrupts(each) || !given.guards.some(({ at }) => at === each.id)) continue;
      if (each.breakingKa === null)
        put('breaking', 'kA', boardMax.ampere / 1000, null, { subject: each.id, why: 'noBreaking' });
      else
        put('breaking', 'kA', boardMax.ampere / 1000, each.breakingKa, {
          condition: boardMax.condition,
          subject: each.id,
        });
    }
  cables.forEach((each, k) => {
    heatChecks(given, each, k, 'phase', earth, put);
    if (isTn) heatChecks(given, each, k, 'pe', earth, put);
  });

  const list = checks.all();
  const verdict = list.reduce<CircuitVerdict>((p, q) => (worse[q.verdict] > worse[p] ? q.verdict : p), 'holds');
  const binding = list.reduce<CircuitCheck | null>((p, q) => (q.used === null ? p : p ? worseOf(p, q) : q), null);
  return {
    designA: service.ampere,
    phasesA: phaseAmperes(given.demand, u0),
    cosPhi: service.cosPhi,
    upstreamPercent: given.upstreamPercent,
    ownPercent,
    startPercent,
    boardMax: most3,
    boardEarth: most1,
    endMax: endMax.figure,
    endShort: endShort.figure,
    endEarth: endEarth.figure,
    loopOhm,
    requiredS,
    cleared,
    operatingA,
    capacities,
    guard,
    checks: list,
    verdict,
    binding: binding?.criterion ?? null,
  };
}

/** IEC 60364-4-41, 411.3.2; at machines what is fixed may take 5 s (IEC 60204-1, annex A). `ratedA`: of the device. */
export function requiredIn(
  { circuit, installation, unV, hasSockets }: Pick<CircuitCase, 'circuit' | 'installation' | 'unV' | 'hasSockets'>,
  ratedA: number,
): number {
  const { system, rules } = installation;
  const isFinal = !circuit.isFeeder && !(rules === 'machine' && !hasSockets);
  return demandedS({ system, unV, isFinal, hasSockets, ratedA });
}

/** In ≤ Iz and I2 ≤ 1.45·Iz (IEC 60364-4-43, 433.1). */
function overloadCheck({ ways }: CircuitCase, on: CableOnWay, k: number, { ampere }: Capacity, put: Put): void {
  const subject = on.cable.element;
  const behind = ways.filter(({ cables }) => cables.includes(k));
  // A device at the end of a run without branches guards it against overload as well (433.2.2).
  const guards = behind.length === 1 ? behind[0].guards : on.guards;
  let guard: Guard['overload'] = null;
  for (const { overload } of guards)
    if (overload && (!guard || overload.referenceA < guard.referenceA)) guard = overload;
  if (ampere === null) put('overload', 'A', guard?.referenceA ?? null, null, { subject, why: 'noCapacity' });
  else if (!guard) {
    // Nothing guards it: it carries what its consumers draw, or not even that.
    const used = Math.max(1.001, on.designA / ampere);
    put('overload', 'A', on.designA, ampere, { used, verdict: 'short', subject, why: 'noOverload' });
  } else if (guard.tripsA > 1.45 * guard.referenceA) put('overload', 'A', guard.tripsA, 1.45 * ampere, { subject });
  else put('overload', 'A', guard.referenceA, ampere, { subject });
}

/** The device lets the motor start: it trips at the earliest after the start is over. Doubtful where its band begins before that and ends after it. */
function startCheck(motor: AsynchronousMotor, { guards, consumer, end }: WayCase, put: Put): void {
  const startA = (motor.startingRatio * 1e6 * ratedMvaOf(motor)) / (root3 * 1000 * motor.ratedKv);
  let [earliest, latest] = [Infinity, Infinity];
  let subject: ElementId = end;
  for (const guard of guards)
    for (const fn of guard.functions)
      if (fn.quantity === 'phase' && startA > fn.pickupA) {
        const timeS = earliestOperation(fn, startA);
        latest = Math.min(latest, fn.at(startA).latestS);
        if (timeS < earliest) [earliest, subject] = [timeS, guard.at];
      }
  const { startS } = consumer;
  if (earliest === Infinity) return put('start', 's', startS, null, { used: 0, subject: end });
  const used = earliest <= 0 ? Math.max(1.001, startS / 0.01) : startS / earliest;
  const mayTrip = used > 1 && startS <= latest;
  put('start', 's', startS, Math.max(earliest, 0), {
    used,
    subject,
    ...(mayTrip && { verdict: 'doubtful', why: 'mayTrip' }),
  });
}

/** I²t of the device against k²·S² (IEC 60364-4-43, 434.5.2; IEC 60364-5-54, 543.1.2): at the largest current where the cable begins, and at the smallest at the far ends. */
function heatChecks(
  given: CircuitCase,
  { cable, guards }: CableOnWay,
  k: number,
  which: 'phase' | 'pe',
  earth: readonly (readonly EarthFault[])[],
  put: Put,
): void {
  const criterion = which === 'phase' ? 'heat' : 'heatPe';
  const subject = cable.element;
  const limit = heatBorneA2s(cable, which);
  if (limit === null) return put(criterion, 'A²s', null, null, { subject, why: 'noSection' });
  if (guards.length === 0) return put(criterion, 'A²s', null, limit, { subject, why: 'noDevice' });
  const { frequencyHz, isSinglePhase, ways } = given;
  const judge = (ampere: number, way: FaultWay, z1: Complex, condition: ElementId, isFar: boolean) => {
    const through = letThrough(guards, seesOf(way, ampere), { rOverX: z1.re / z1.im, frequencyHz });
    if (!through) {
      // Where the current is smallest overload protection may be what ends it; that is judged by itself.
      if (!isFar) put(criterion, 'A²s', null, limit, { condition, subject, why: 'neverEnds' });
      return;
    }
    if (isFar && through.timeS > adiabaticS) return;
    const isDoubtful = through.isBound && through.a2s > limit * (1 + 1e-9);
    put(
      criterion,
      'A²s',
      through.a2s,
      limit,
      isDoubtful ? { condition, subject, verdict: 'doubtful', why: 'boundOfStandard' } : { condition, subject },
    );
  };
  const first = ways.find(({ cables }) => cables.includes(k))!;
  const ahead = first.cables.slice(0, first.cables.indexOf(k)).map((each) => given.cables[each].cable);
  for (const atBoard of given.feeding) {
    const heat = atBoard.faultCase === 'max' ? 'cold' : 'hot';
    const z1 = ahead.reduce((sum, each) => add(sum, atHeat(each.phase, each, heat)), atBoard.z1);
    if (which === 'phase' && !isSinglePhase)
      judge(atBoard.sourceV / magnitude(z1), 'short', z1, atBoard.condition, false);
    else if (atBoard.z0) {
      const z = ahead.reduce(
        (sum, each) => add(sum, atHeat(add(each.phase, each.pe ?? each.phase), each, heat)),
        loopOf(atBoard, atBoard.z0),
      );
      judge(atBoard.sourceV / magnitude(z), which === 'pe' ? 'earth' : 'short', z1, atBoard.condition, false);
    }
  }
  const isTn = isEarthedBySource(given.installation);
  ways.forEach((way, w) => {
    if (!way.cables.includes(k)) return;
    way.feeding.forEach((at, n) => {
      const toEarth = isTn ? earth[w][n].ampere : null;
      if (toEarth) judge(toEarth, 'earth', at.z1, at.condition, true);
      if (which === 'phase' && !isSinglePhase) judge(twoPhase(at), 'short', at.z1, at.condition, true);
    });
  });
}

/** The case with other values of one of its cables: what lies at the far ends changes by the difference. */
export function withCable(given: CircuitCase, k: number, cable: CableCase): CircuitCase {
  const old = given.cables[k].cable;
  return {
    ...given,
    cables: given.cables.map((each, j) => (j === k ? { ...each, cable } : each)),
    ways: given.ways.map((way) =>
      way.cables.includes(k) ? { ...way, feeding: way.feeding.map((at) => shifted(at, way.motor, old, cable)) } : way,
    ),
  };
}

/** What a motor gives to the largest currents at its own terminals (IEC 60909-0, 6.10), Ω. */
function motorOhm(motor: AsynchronousMotor): Complex {
  const size = motor.ratedKv ** 2 / ratedMvaOf(motor) / motor.startingRatio / motor.count;
  const ratio = resistanceRatio(motor);
  const x = size / Math.hypot(1, ratio);
  return { re: ratio * x, im: x };
}

function shifted(at: Feeding, motor: AsynchronousMotor | null, old: CableCase, cable: CableCase): Feeding {
  const heat = at.faultCase === 'max' ? 'cold' : 'hot';
  const by = (of: (cable: CableCase) => Complex) =>
    subtract(atHeat(of(cable), cable, heat), atHeat(of(old), old, heat));
  const phase = by(({ phase: z }) => z);
  // A motor at the end stands in parallel to what comes over the cable.
  const own = motor && at.faultCase === 'max' ? divide(one, motorOhm(motor)) : zero;
  const moved = (z: Complex) =>
    own === zero
      ? add(z, phase)
      : divide(one, add(own, divide(one, add(divide(one, subtract(divide(one, z), own)), phase))));
  const zeroOf = ({ phase: z, pe }: CableCase) => add(z, scale(pe!, 3));
  return {
    ...at,
    z1: moved(at.z1),
    z2: moved(at.z2),
    z0: !at.z0 ? at.z0 : old.pe === null || cable.pe === null ? undefined : add(at.z0, by(zeroOf)),
  };
}

/** The case with another device at one of its switches; `element`: the switch as it then is. */
export function withGuard(given: CircuitCase, element: Switch, guard: Guard): CircuitCase {
  const passes = (run: readonly ElementId[]) => run.includes(element.id);
  const runOf = (end: ElementId) => given.circuit.ways.find((way) => way.end === end)?.run ?? [];
  const put = (list: readonly Guard[], isOn: boolean): readonly Guard[] =>
    isOn ? [guard, ...list.filter(({ device }) => device !== element.id)] : list;
  return {
    ...given,
    guards: put(given.guards, true),
    switches: given.switches.map((each) => (each.id === element.id ? element : each)),
    ways: given.ways.map((way) => ({ ...way, guards: put(way.guards, passes(runOf(way.end))) })),
    cables: given.cables.map((each) => {
      const way = given.circuit.ways.find(({ cables }) => cables.includes(each.cable.element));
      const ahead = way ? way.run.slice(0, way.run.indexOf(each.cable.element)) : [];
      return { ...each, guards: put(each.guards, passes(ahead)) };
    }),
  };
}
