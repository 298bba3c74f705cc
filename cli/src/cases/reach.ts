/** Cases of reaches by rule, of routes, and of true ends of zones. */
import { magnitude, type Complex } from '@mesura/core/linear/complex';
import type { FaultKind } from '@mesura/core/faults/kinds';
import { elementId } from '@mesura/core/model/fields';
import type { Rule, Rulebook } from '@mesura/core/model/rulebook';
import { toSecondary, type Compensation } from '@mesura/core/protection/distance/loops';
import { circuitAt, lineOhm, pathsFrom } from '@mesura/core/reach/circuits';
import { apparent, zoneEnd } from '@mesura/core/reach/ends';
import { aheadOf } from '@mesura/core/reach/figures';
import { routeOf, shareAt, stepsAlong } from '@mesura/core/reach/route';
import { zoneReaches } from '@mesura/core/reach/zones';
import type { LineEnd } from '@mesura/core/reach/seen';
import { plainPractice } from '@mesura/core/rules/plainPractice';
import type { Studies } from '@mesura/core/studies/studies';
import type { Inputs, Pair } from './case';
import { pairsOf } from './case';
import {
  endOf,
  phaseOf,
  stateOf,
  type ConditionCase,
  type LoopPhase,
  type NetworkKind,
  type Open,
  type RelayCase,
} from './distance';

interface RuleCase {
  readonly z1: number;
  readonly z2own: number;
  readonly z2next: number;
  readonly z3: string;
  readonly z3f: number;
  readonly trLimit: number;
  readonly trOn: readonly string[];
  readonly merge: boolean;
}

/** The text of a case's rules as a rulebook. */
function bookOf(rule: RuleCase, hasNext: boolean): Rulebook {
  let count = 0;
  const of = (
    zone: 1 | 2 | 3,
    title: string,
    formula: string,
    sense: Rule['sense'] = 'atLeast',
    importance = 3,
  ): Rule => ({
    id: `case-${++count}`,
    title,
    subject: `zone${zone}`,
    behind: 'any',
    bound: 'reach',
    sense,
    at: null,
    formula,
    reason: 'of the case',
    clause: '',
    remembered: false,
    importance,
    enabled: true,
    watchedBy: '',
  });
  const { z1, z2own, z2next, z3, z3f, trLimit, trOn } = rule;
  const third = hasNext
    ? z3.startsWith('own')
      ? of(3, 'own + z3f*longest', `own + ${z3f} * longestNext`)
      : of(3, 'z3f*(own + longest)', `${z3f} * (own + longestNext)`)
    : of(3, 'z3f*own (no next line)', `${z3f} * own`);
  return {
    ...plainPractice,
    rules: [
      of(1, 'z1*own', `${z1} * ownNearest`),
      of(2, 'z2own*own', `${z2own} * own`),
      of(2, 'own + z2next*shortest', `own + ${z2next} * shortestNext`),
      third,
      of(3, 'zone 2', 'zone2', 'atLeast', 1),
      ...([2, 3] as const)
        .filter((zone) => trOn.includes(`zone${zone}`))
        .map((zone) => of(zone, 'own + trLimit*transformer', `own + ${trLimit} * transformer`, 'atMost', 2)),
    ],
  };
}

function zonesOf(studies: Studies, end: LineEnd, rule: RuleCase) {
  const figures = aheadOf(studies, end, { merged: rule.merge });
  return { figures, reaches: zoneReaches(bookOf(rule, figures.longestNext.value !== null), figures).slice(0, 3) };
}

function byRule(inputs: Inputs, expected: unknown, open: Open): Pair[] {
  const { network, relay, rule } = inputs as unknown as { network: string; relay: RelayCase; rule: RuleCase };
  const { figures, reaches } = zonesOf(open(network), endOf(relay), rule);
  const both = ({ re, im }: Complex) => [re, im];
  const one = (name: string) => {
    const { value, elements } = figures[name];
    return value === null ? null : { ohm: both(value), elements: [...elements], element: elements[0] };
  };
  const secondary = toSecondary(relay.ct, relay.vt);
  return pairsOf(expected, {
    ownNearestOhm: both(figures.ownNearest.value!),
    ownFarthestOhm: both(figures.own.value!),
    shortestNext: one('shortestNext'),
    longestNext: one('longestNext'),
    transformer: one('transformer'),
    zones: reaches.map(({ zone, reach }) => ({
      zone,
      reachPrimaryOhm: reach!.value,
      reachSecondaryOhm: reach!.value * secondary,
      decided: reach!.by.rule.title,
      elements: [...reach!.elements],
    })),
  });
}

function timeDistance(inputs: Inputs, expected: unknown, open: Open): Pair[] {
  const {
    network,
    route: lines,
    rule,
    zoneTimesS,
    relays,
  } = inputs as unknown as {
    network: string;
    route: string[];
    rule: RuleCase;
    zoneTimesS: number[];
    relays: Pick<RelayCase, 'line' | 'end'>[];
  };
  const studies = open(network);
  const route = routeOf(studies.max.assembly, lines.map(elementId))!;
  return pairsOf(expected, {
    relays: relays.map((relay) => {
      const end = endOf(relay);
      const leg = route.legs.findIndex((each) => each.end.line === end.line);
      const zones = zonesOf(studies, end, rule).reaches.map(({ zone, reach }, k) => ({
        zone,
        reachOhm: reach!.value,
        timeS: zoneTimesS[k],
      }));
      return { relay, steps: stepsAlong(route, leg, zones) };
    }),
    routeKm: route.lengthKm,
  });
}

function apparentReach(inputs: Inputs, expected: unknown, open: Open): Pair[] {
  const given = inputs as unknown as {
    network: string;
    relay: Pick<RelayCase, 'line' | 'end'>;
    reachPrimaryOhm: number;
    lineAngleDegrees: number;
    faultKind: FaultKind;
    odd: LoopPhase | null;
    faultOnLine: string;
    k0: readonly [number, number] | null;
    condition: ConditionCase;
  };
  const studies = open(given.network);
  const study = studies.iec60909(stateOf(given.condition));
  const relay = endOf(given.relay);
  const line = elementId(given.faultOnLine);
  const [re, im] = given.k0 ?? [0, 0];
  const compensation: Compensation = { form: 'factor', k0: { re, im } };
  const phase = phaseOf(given.odd);
  const loop = given.faultKind === '1ph' ? (['L1E', 'L2E', 'L3E'] as const)[phase] : 'L1L2';
  const none = { re: 0, im: 0 };
  const fault = { kind: given.faultKind, odd: phase, phaseOhm: none, earthOhm: none };
  const { reachPrimaryOhm: reach } = given;
  const reactance = reach * Math.sin((given.lineAngleDegrees * Math.PI) / 180);
  const { from, before } = nearEnd(studies, relay, line);
  const at = (beyond: (z: Complex) => number) => {
    const found = zoneEnd(line, from, (place) => apparent(study, relay, place, fault, loop, compensation), beyond);
    if (!found) return { percentOfLine: null, where: 'whole line inside the zone' };
    const near = from === 0 ? found.fraction : 1 - found.fraction;
    if (near < 1e-9) return { percentOfLine: null, where: 'whole line outside the zone' };
    return { percentFromFirstEnd: 100 * found.fraction, apparentOhm: [found.impedance.re, found.impedance.im] };
  };
  const own = lineOhm(studies.max.assembly, line)!;
  const share = shareAt(before, own, reach);
  const ends = { magnitude: at((z) => magnitude(z) - reach), reactance: at(({ im: x }) => x - reactance) };
  return pairsOf(expected, {
    ends,
    idealPercentFromFirstEnd: share === null ? null : 100 * (from === 0 ? share : 1 - share),
    ideal: share === null ? 'beyond the line' : 'on the line',
  });
}

/** The terminal of a line that lies nearer to a relay, and the impedance up to there. */
function nearEnd(studies: Studies, relay: LineEnd, line: LineEnd['line']): { from: 0 | 1; before: Complex } {
  const { assembly } = studies.max;
  const { topology, network } = assembly;
  const own = circuitAt(network, relay);
  const paths = pathsFrom(assembly, own, relay);
  const zero = { re: 0, im: 0 };
  if (own.lines.includes(line)) {
    const path = paths.find(({ legs }) => legs.some((leg) => leg.line === line))!;
    const k = path.legs.findIndex((leg) => leg.line === line);
    const before = path.legs.slice(0, k).reduce((sum, leg) => {
      const z = lineOhm(assembly, leg.line)!;
      return { re: sum.re + z.re, im: sum.im + z.im };
    }, zero);
    return { from: path.legs[k].terminal as 0 | 1, before };
  }
  for (const { to, ohm } of paths)
    for (const from of [0, 1] as const)
      if (topology.nodeAt(line, from) === topology.nodeAt(to.line, to.terminal)) return { from, before: ohm };
  throw new Error(`${line} does not follow ${relay.line}`);
}

export const reachKinds: Readonly<Record<string, NetworkKind>> = {
  'reach by rule': byRule,
  'time-distance': timeDistance,
  'apparent reach': apparentReach,
};
