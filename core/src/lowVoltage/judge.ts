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

/** Of a motor at standstill, Ω. */
export function standstillOhm(motor: AsynchronousMotor): Complex {
  const size = motor.ratedKv ** 2 / ratedMvaOf(motor) / motor.startingRatio;
  const ratio = motor.rOverX ?? motorResistanceRatio(motor.ratedKv, motor.ratedMw / motor.polePairs);
  const cosPhi = motor.startPowerFactor ?? ratio / Math.hypot(1, ratio);
  return { re: size * cosPhi, im: size * Math.sqrt(1 - cosPhi ** 2) };
}

/** Percent that is lost to the terminals of a motor at standstill, network and cables together. */
export function startDropOf(motor: AsynchronousMotor, atBoard: Feeding, cables: readonly CableCase[]): number {
  const zm = standstillOhm(motor);
  const way = add(atBoard.z1, sumOf(cables.map((cable) => atHeat(cable.phase, cable, 'service'))));
  return 100 * (1 - magnitude(zm) / magnitude(add(zm, way)));
}

/** Interrupts what it guards: breakers and fuses with a device of their own. */
const interrupts = ({ type }: Switch): boolean => type === 'breaker' || type === 'fuse' || type === 'recloser';

const worse: Readonly<Record<CircuitVerdict, number>> = { holds: 0, unknown: 1, doubtful: 2, short: 3 };
/** The worse of two; of like ones that which is used up more. */
const worseOf = (p: CircuitCheck, q: CircuitCheck): CircuitCheck =>
  worse[q.verdict] > worse[p.verdict] || (worse[q.verdict] === worse[p.verdict] && (q.used ?? 0) > (p.used ?? 0))
    ? q
    : p;

const smallest = (list: readonly (FaultFigure | null)[]): FaultFigure | null =>
  list.reduce<FaultFigure | null>((p, q) => (q && (!p || q.ampere < p.ampere) ? q : p), null);
const largest = (list: readonly (FaultFigure | null)[]): FaultFigure | null =>
  list.reduce<FaultFigure | null>((p, q) => (q && (!p || q.ampere > p.ampere) ? q : p), null);

export function judged(given: CircuitCase): Judgement {
  const { circuit, installation, unV, isSinglePhase, cables, ways, feeding, switches, frequencyHz } = given;
  const u0 = unV / root3;
  const service = heaviest(given.demand, u0);
  const loaded = isSinglePhase ? 2 : 3;
  const capacities = cables.map(({ cable }) => capacityOf(cable, loaded));
  const found = new Map<Criterion, CircuitCheck>();
  const put = (
    criterion: Criterion,
    unit: string,
    check: Partial<CircuitCheck> & { readonly value?: number | null; readonly limit?: number | null },
  ) => {
    const { value = null, limit = null } = check;
    const used = check.used ?? (value !== null && limit !== null && limit > 0 ? value / limit : null);
    const next: CircuitCheck = {
      criterion,
      verdict: used === null ? 'unknown' : used <= 1 + 1e-9 ? 'holds' : 'short',
      condition: null,
      subject: null,
      why: null,
      ...check,
      value,
      limit,
      unit,
      used,
    };
    const before = found.get(criterion);
    found.set(criterion, before ? worseOf(before, next) : next);
  };
  const wayCables = ({ cables: own }: WayCase): CableCase[] => own.map((k) => cables[k].cable);
  const boardIn = new Map(feeding.map((each) => [each.condition, each]));

  // Overload.
  const guard = given.guards.find(({ overload }) => overload !== null) ?? null;
  if (given.guards.length === 0) put('load', 'A', { value: service.ampere, why: 'noDevice' });
  else if (guard) put('load', 'A', { value: service.ampere, limit: guard.overload!.referenceA, subject: guard.at });
  cables.forEach((each, k) => put('overload', 'A', overloadCheck(given, each, k, capacities[k])));

  // Voltage.
  let ownPercent = 0;
  for (const way of ways) {
    const drop = way.cables.reduce((sum, k) => sum + dropOver(cables[k], u0, isSinglePhase), 0);
    ownPercent = Math.max(ownPercent, drop);
    if (way.cables.length > 0 || given.upstreamPercent > 0)
      put('drop', '%', { value: given.upstreamPercent + drop, limit: installation.dropPercent, subject: way.end });
  }
  let startPercent: number | null = null;
  for (const way of ways)
    if (way.motor) {
      for (const atBoard of feeding) {
        const percent = startDropOf(way.motor, atBoard, wayCables(way));
        startPercent = Math.max(startPercent ?? 0, percent);
        put('startDrop', '%', {
          value: percent,
          limit: installation.startDropPercent,
          condition: atBoard.condition,
          subject: way.end,
        });
      }
      put('start', 's', startCheck(way.motor, way));
    }

  // Faults.
  const board3 = largest(
    feeding.map((at) => ({ ampere: threePhase(at), condition: at.condition, end: circuit.board })),
  );
  const boardEarth = largest(
    feeding.map((at) =>
      at.z0 ? { ampere: at.sourceV / magnitude(loopOf(at, at.z0)), condition: at.condition, end: circuit.board } : null,
    ),
  );
  const boardMax = largest([board3, boardEarth]);
  const atEnd = (of: (way: WayCase, at: Feeding) => number | null) =>
    ways.flatMap((way) =>
      way.feeding.map((at): FaultFigure | null => {
        const ampere = of(way, at);
        return ampere === null ? null : { ampere, condition: at.condition, end: way.end };
      }),
    );
  const neutralAt = (way: WayCase, at: Feeding): number | null => {
    const atBoard = boardIn.get(at.condition);
    return atBoard ? phaseToNeutral(atBoard, wayCables(way)) : null;
  };
  const endMax = largest(atEnd((way, at) => (isSinglePhase ? neutralAt(way, at) : threePhase(at))));
  const endShort = smallest(atEnd((way, at) => (isSinglePhase ? neutralAt(way, at) : twoPhase(at))));
  const endEarth = smallest(atEnd((way, at) => earthFaultAt(given, way, at).ampere));

  // Disconnection.
  const { system } = installation;
  const isTn = system === 'TN-S' || system === 'TN-C-S';
  const faultWay: FaultWay = system === 'IT' ? 'short' : 'earth';
  // A relay for the overload of a motor is not what the circuit is rated by.
  const ratedA = Math.max(0, ...given.guards.map(({ overload }) => overload?.referenceA ?? 0));
  const requiredS = requiredIn(given, ratedA);
  let cleared: Cleared | null = null;
  let operatingA: number | null = null;
  let loopOhm: number | null = null;
  for (const way of ways) {
    if (way.feeding.length === 0) put('disconnection', 's', { why: 'noSupply', limit: requiredS, subject: way.end });
    const needsA = operatingCurrent(way.guards, requiredS, faultWay);
    for (const at of way.feeding) {
      const common = { limit: requiredS, condition: at.condition, subject: way.end };
      const { ampere, loopOhm: ohm } = earthFaultAt(given, way, at);
      if (ampere === null) {
        put('disconnection', 's', { ...common, why: 'noZeroSequence' });
        continue;
      }
      const ends = clearedBy(way.guards, seesOf(faultWay, ampere));
      const used = needsA === null || ampere === 0 ? Math.max(1.001, ends.timeS / requiredS) : needsA / ampere;
      const isLate = ends.timeS > requiredS;
      put('disconnection', 's', {
        ...common,
        value: ends.timeS === Infinity ? null : ends.timeS,
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
    }
  }
  if (system === 'TT')
    for (const each of given.guards)
      for (const fn of each.functions)
        if (fn.quantity === 'residual')
          put('touch', 'V', { value: installation.raOhm * fn.assuredA, limit: touchV, subject: each.at });

  // What devices break, and what conductors bear.
  for (const each of switches)
    if (interrupts(each) && given.guards.some(({ at }) => at === each.id)) {
      if (boardMax === null) continue;
      if (each.breakingKa === null)
        put('breaking', 'kA', { value: boardMax.ampere / 1000, subject: each.id, why: 'noBreaking' });
      else
        put('breaking', 'kA', {
          value: boardMax.ampere / 1000,
          limit: each.breakingKa,
          condition: boardMax.condition,
          subject: each.id,
        });
    }
  cables.forEach((each, k) => {
    for (const which of isTn ? (['phase', 'pe'] as const) : (['phase'] as const))
      heatChecks(given, each, k, which, frequencyHz).forEach((check) =>
        put(which === 'phase' ? 'heat' : 'heatPe', 'A²s', check),
      );
  });

  const checks = criteria.flatMap((each) => found.get(each) ?? []);
  const verdict = checks.reduce<CircuitVerdict>((p, q) => (worse[q.verdict] > worse[p] ? q.verdict : p), 'holds');
  const binding = checks.reduce<CircuitCheck | null>((p, q) => (q.used === null ? p : p ? worseOf(p, q) : q), null);
  return {
    designA: service.ampere,
    phasesA: phaseAmperes(given.demand, u0),
    cosPhi: service.cosPhi,
    upstreamPercent: given.upstreamPercent,
    ownPercent,
    startPercent,
    boardMax: board3,
    boardEarth,
    endMax,
    endShort,
    endEarth,
    loopOhm,
    requiredS,
    cleared,
    operatingA,
    capacities,
    guard,
    checks,
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
function overloadCheck({ ways }: CircuitCase, on: CableOnWay, k: number, capacity: Capacity): Partial<CircuitCheck> {
  const subject = on.cable.element;
  const behind = ways.filter(({ cables }) => cables.includes(k));
  // A device at the end of a run without branches guards it against overload as well (433.2.2).
  const guards = behind.length === 1 ? behind[0].guards : on.guards;
  const guard = guards
    .flatMap(({ overload }) => overload ?? [])
    .reduce<Guard['overload']>((p, q) => (!p || q.referenceA < p.referenceA ? q : p), null);
  if (capacity.ampere === null) return { value: guard?.referenceA ?? null, subject, why: 'noCapacity' };
  if (!guard) {
    // Nothing guards it: it carries what its consumers draw, or not even that.
    const used = Math.max(1.001, on.designA / capacity.ampere);
    return { value: on.designA, limit: capacity.ampere, used, verdict: 'short', subject, why: 'noOverload' };
  }
  const byRated = guard.referenceA / capacity.ampere;
  const byTrip = guard.tripsA / (1.45 * capacity.ampere);
  return byTrip > byRated
    ? { value: guard.tripsA, limit: 1.45 * capacity.ampere, subject }
    : { value: guard.referenceA, limit: capacity.ampere, subject };
}

/** The device lets the motor start: it trips at the earliest after the start is over. Doubtful where its band begins before that and ends after it. */
function startCheck(motor: AsynchronousMotor, { guards, consumer, end }: WayCase): Partial<CircuitCheck> {
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
  if (earliest === Infinity) return { value: consumer.startS, used: 0, subject: end };
  const used = earliest <= 0 ? Math.max(1.001, consumer.startS / 0.01) : consumer.startS / earliest;
  return {
    value: consumer.startS,
    limit: Math.max(earliest, 0),
    used,
    subject,
    ...(used > 1 && consumer.startS <= latest && { verdict: 'doubtful' as const, why: 'mayTrip' as const }),
  };
}

/** I²t of the device against k²·S² (IEC 60364-4-43, 434.5.2; IEC 60364-5-54, 543.1.2): at the largest current where the cable begins, and at the smallest at the far ends. */
function heatChecks(
  given: CircuitCase,
  { cable, guards }: CableOnWay,
  k: number,
  which: 'phase' | 'pe',
  frequencyHz: number,
): Partial<CircuitCheck>[] {
  const subject = cable.element;
  const limit = heatBorneA2s(cable, which);
  if (limit === null) return [{ subject, why: 'noSection' }];
  if (guards.length === 0) return [{ limit, subject, why: 'noDevice' }];
  const behind = given.ways.filter(({ cables }) => cables.includes(k));
  const checks: Partial<CircuitCheck>[] = [];
  const told = (ampere: number, way: FaultWay, rOverX: number, condition: ElementId, isFar: boolean) => {
    const through = letThrough(guards, seesOf(way, ampere), { rOverX, frequencyHz });
    if (!through) {
      // Where the current is smallest overload protection may be what ends it; that is judged by itself.
      if (!isFar) checks.push({ limit, condition, subject, why: 'neverEnds' });
      return;
    }
    if (isFar && through.timeS > adiabaticS) return;
    const isOver = through.a2s > limit * (1 + 1e-9);
    checks.push({
      value: through.a2s,
      limit,
      condition,
      subject,
      ...(isOver && through.isBound && { verdict: 'doubtful' as const, why: 'boundOfStandard' as const }),
    });
  };
  for (const atBoard of given.feeding) {
    const ahead = behind[0].cables.slice(0, behind[0].cables.indexOf(k)).map((each) => given.cables[each].cable);
    const heat = atBoard.faultCase === 'max' ? 'cold' : 'hot';
    const z1 = add(atBoard.z1, sumOf(ahead.map((each) => atHeat(each.phase, each, heat))));
    const rOverX = z1.re / z1.im;
    if (which === 'phase' && !given.isSinglePhase)
      told(atBoard.sourceV / magnitude(z1), 'short', rOverX, atBoard.condition, false);
    else if (atBoard.z0) {
      const aheadPe = sumOf(ahead.map((each) => atHeat(add(each.phase, each.pe ?? each.phase), each, heat)));
      const z = add(loopOf(atBoard, atBoard.z0), aheadPe);
      told(atBoard.sourceV / magnitude(z), which === 'pe' ? 'earth' : 'short', rOverX, atBoard.condition, false);
    }
  }
  const isTn = given.installation.system === 'TN-S' || given.installation.system === 'TN-C-S';
  for (const way of behind)
    for (const at of way.feeding) {
      const rOverX = at.z1.re / at.z1.im;
      const toEarth = isTn ? earthFaultAt(given, way, at).ampere : null;
      if (toEarth) told(toEarth, 'earth', rOverX, at.condition, true);
      if (which === 'phase' && !given.isSinglePhase) told(twoPhase(at), 'short', rOverX, at.condition, true);
    }
  return checks;
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
  const ratio = motor.rOverX ?? motorResistanceRatio(motor.ratedKv, motor.ratedMw / motor.polePairs);
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
