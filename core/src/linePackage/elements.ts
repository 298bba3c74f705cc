/**
 * The elements of a line's protection at each end: what the rules ask of them, what a person has put in their place, and both margins, of sensitivity and of
 * security, in percent of the figure that they are held against.
 */
import { magnitude } from '../linear/complex';
import type { LinePackage, LineScheme } from '../model/linePackage';
import type { Rule, Rulebook, RuleBound, RuleSubject } from '../model/rulebook';
import { find } from '../model/network';
import type { ReachRow } from '../reach/plan';
import { decided, reachDemands, type Decided, type Reaches } from '../reach/zones';
import type { LineEnd } from '../reach/seen';
import type { Studies } from '../studies/studies';
import type { PackageFigure, PackageFigures } from './figures';

/** A value lies above or below a figure by so much of it. */
export interface Margin {
  readonly percent: number;
  readonly side: 'above' | 'below';
  readonly figure: PackageFigure;
  readonly bound: number;
}

/** In percent: above, value/bound − 1; below, bound/value − 1. */
export const marginOf = (value: number, bound: number, side: Margin['side']): number =>
  100 * (side === 'above' ? value / bound - 1 : bound / value - 1);

type Against = readonly [figure: string, side: Margin['side']];

export interface ElementKind {
  readonly id: string;
  /** IEEE C37.2. */
  readonly code: string;
  readonly title: string;
  readonly unit: 'Ω' | 's' | 'A' | 'V' | '°';
  readonly sensitivity: Against | null;
  readonly security: Against | null;
  /** Which schemes have it; none named: all. */
  readonly schemes?: readonly LineScheme[];
  /** Of no use when it does not see what it is there for. */
  readonly optional?: true;
  readonly overheadOnly?: true;
  readonly find: (of: Finding) => Decided | null;
}

interface Finding {
  readonly book: Rulebook;
  readonly row: ReachRow;
  readonly figures: PackageFigures;
}

const byRule =
  (subject: RuleSubject, bound: RuleBound): ElementKind['find'] =>
  ({ book, figures }) =>
    decided(reachDemands(book, subject, bound, figures));

const byZone =
  (zone: number, of: Exclude<keyof Reaches, 'zone'>): ElementKind['find'] =>
  ({ row }) =>
    row.zones.find((each) => each.zone === zone)?.[of] ?? null;

const overreaching: readonly LineScheme[] = ['permissiveOverreach', 'blocking', 'unblocking'];
const echoing: readonly LineScheme[] = ['permissiveOverreach', 'unblocking'];

function zoneKinds(zone: 1 | 2 | 3): ElementKind[] {
  const title = `Zone ${zone}`;
  const reachOf: Record<
    1 | 2 | 3,
    { phase: [Against | null, Against | null]; earth: [Against | null, Against | null] }
  > = {
    1: {
      phase: [
        ['overlap', 'above'],
        ['nearSeenLeast', 'below'],
      ],
      earth: [
        ['overlapEarth', 'above'],
        ['nearSeenLeastEarth', 'below'],
      ],
    },
    2: {
      phase: [
        ['farSeenMost', 'above'],
        ['nextZone1', 'below'],
      ],
      earth: [
        ['farSeenMostEarth', 'above'],
        ['nextZone1', 'below'],
      ],
    },
    3: { phase: [['beyond', 'above'], null], earth: [['beyond', 'above'], null] },
  };
  const { phase, earth } = reachOf[zone];
  const common = { code: '21', unit: 'Ω' } as const;
  return [
    {
      ...common,
      id: `z${zone}`,
      title: `${title}, reach`,
      sensitivity: phase[0],
      security: phase[1],
      find: byZone(zone, 'reach'),
    },
    {
      ...common,
      id: `z${zone}e`,
      title: `${title}, reach of earth loops`,
      sensitivity: earth[0],
      security: earth[1],
      find: byZone(zone, 'reachEarth'),
    },
    {
      ...common,
      id: `z${zone}r`,
      title: `${title}, resistance`,
      sensitivity: ['arc', 'above'],
      security: ['load', 'below'],
      find: byZone(zone, 'resistance'),
    },
    {
      ...common,
      id: `z${zone}re`,
      title: `${title}, resistance of earth loops`,
      sensitivity: ['faultResistance', 'above'],
      security: ['load', 'below'],
      find: byZone(zone, 'resistanceEarth'),
    },
    {
      ...common,
      id: `z${zone}t`,
      unit: 's',
      title: `${title}, delay`,
      sensitivity: null,
      security: zone === 1 ? null : zone === 2 ? ['clearing', 'above'] : ['farZone2Cleared', 'above'],
      find: byZone(zone, 'delay'),
    },
  ];
}

/** In the order in which they are found: later ones lean on those before, also on those of the other ends. */
export const elementKinds: readonly ElementKind[] = [
  ...zoneKinds(1),
  ...zoneKinds(2),
  ...zoneKinds(3),
  {
    id: 'pilot',
    code: '21',
    title: 'Overreaching zone, reach',
    unit: 'Ω',
    schemes: overreaching,
    sensitivity: ['farSeenMost', 'above'],
    security: ['reverseReachOfFar', 'below'],
    find: byRule('linePilot', 'reach'),
  },
  {
    id: 'pilotWait',
    code: '21',
    title: 'Overreaching zone, waits for the blocking signal',
    unit: 's',
    schemes: ['blocking'],
    sensitivity: null,
    security: ['channelTime', 'above'],
    find: byRule('linePilot', 'delay'),
  },
  {
    id: 'reverse',
    code: '21',
    title: 'Reverse zone, reach',
    unit: 'Ω',
    schemes: overreaching,
    sensitivity: ['farOverreach', 'above'],
    security: null,
    find: byRule('lineReverse', 'reach'),
  },
  {
    id: 'pilotEarth',
    code: '67N',
    title: 'Earth direction for the signal, pickup',
    unit: 'A',
    schemes: overreaching,
    sensitivity: ['insideSmallestEarth', 'below'],
    security: ['unbalance', 'above'],
    find: byRule('linePilotEarth', 'pickup'),
  },
  {
    id: 'reverseEarth',
    code: '67N',
    title: 'Earth direction backward, pickup',
    unit: 'A',
    schemes: overreaching,
    sensitivity: ['farPilotEarth', 'below'],
    // It sends, and trips nothing: it has to know a direction.
    security: ['ctError', 'above'],
    find: byRule('lineReverseEarth', 'pickup'),
  },
  {
    id: 'weak',
    code: '27',
    title: 'Weak end echoes below this voltage',
    unit: 'V',
    schemes: echoing,
    sensitivity: ['weakVoltage', 'above'],
    security: ['lowestVoltage', 'below'],
    find: byRule('lineWeak', 'voltage'),
  },
  {
    id: 'instant',
    code: '50',
    title: 'Phase overcurrent without delay, pickup',
    unit: 'A',
    optional: true,
    sensitivity: ['closeSmallest', 'below'],
    security: ['outsideLargest', 'above'],
    find: byRule('lineInstant', 'pickup'),
  },
  {
    id: 'instantEarth',
    code: '50N',
    title: 'Earth overcurrent without delay, pickup',
    unit: 'A',
    optional: true,
    sensitivity: ['closeSmallestEarth', 'below'],
    security: ['outsideLargestEarth', 'above'],
    find: byRule('lineInstantEarth', 'pickup'),
  },
  {
    id: 'earth',
    code: '67N',
    title: 'Earth backup ahead, pickup',
    unit: 'A',
    sensitivity: ['insideSmallestEarth', 'below'],
    security: ['unbalance', 'above'],
    find: byRule('lineEarth', 'pickup'),
  },
  {
    id: 'earthDelay',
    code: '67N',
    title: 'Earth backup ahead, delay',
    unit: 's',
    sensitivity: null,
    security: ['zone2Cleared', 'above'],
    find: byRule('lineEarth', 'delay'),
  },
  {
    id: 'failure',
    code: '50BF',
    title: 'Breaker failure, pickup',
    unit: 'A',
    sensitivity: ['insideSmallest', 'below'],
    security: null,
    find: byRule('lineBreakerFailure', 'pickup'),
  },
  {
    id: 'failureDelay',
    code: '50BF',
    title: 'Breaker failure, delay',
    unit: 's',
    sensitivity: ['othersAllow', 'below'],
    security: ['breakerOpen', 'above'],
    find: byRule('lineBreakerFailure', 'delay'),
  },
  {
    id: 'synchro',
    code: '25',
    title: 'Synchrocheck, largest angle',
    unit: '°',
    sensitivity: ['openAngle', 'above'],
    security: null,
    find: byRule('lineSynchrocheck', 'angle'),
  },
  {
    id: 'reclose',
    code: '79',
    title: 'Autoreclosing, dead time',
    unit: 's',
    overheadOnly: true,
    sensitivity: null,
    security: ['deionisation', 'above'],
    find: byRule('lineReclosing', 'delay'),
  },
];

export interface PackageElement {
  readonly kind: Omit<ElementKind, 'find'>;
  readonly end: LineEnd;
  /** By the rules; null: they name something that is not known. */
  readonly decided: Decided | null;
  readonly proposed: number | null;
  readonly value: number | null;
  /** Reason of a person who has put in another value. */
  readonly override: { readonly reason: string } | null;
  readonly isUsed: boolean;
  readonly sensitivity: Margin | null;
  readonly security: Margin | null;
  /** In the relay's own terms. */
  readonly secondary: number | null;
  readonly secondaryUnit: string;
}

export interface PackageEnd {
  readonly row: ReachRow;
  readonly figures: PackageFigures;
}

/** Values of a person come first; those of the rules after. */
export function elementsOf(
  studies: Studies,
  book: Rulebook,
  pack: LinePackage,
  ends: readonly PackageEnd[],
): PackageElement[] {
  const found = new Map<string, PackageElement>();
  const keyOf = (id: string, { row }: PackageEnd) => `${id} ${row.end.line}:${row.end.terminal}`;
  const valueAt = (id: string, end: PackageEnd): number | null => found.get(keyOf(id, end))?.value ?? null;
  // Twice: what is found first leans on what is found after it at the other ends.
  for (const kind of [...elementKinds, ...elementKinds]) {
    if (kind.schemes && !kind.schemes.includes(pack.scheme)) continue;
    for (const end of ends) {
      const { row } = end;
      if (kind.overheadOnly && find(studies.network, 'line', row.end.line)?.type !== 'overhead') continue;
      const others = ends.filter((each) => each !== end);
      const figures = { ...end.figures, ...leaning(end, others, valueAt) };
      found.set(keyOf(kind.id, end), elementOf(kind, pack, row, figures, book));
    }
  }
  const order = new Map(elementKinds.map(({ id }, k) => [id, k]));
  return [...found.values()].sort(
    (p, q) =>
      ends.findIndex(({ row }) => row.end === p.end) - ends.findIndex(({ row }) => row.end === q.end) ||
      order.get(p.kind.id)! - order.get(q.kind.id)!,
  );
}

/** Figures that come from the values of other elements, here and at the other ends. */
function leaning(
  end: PackageEnd,
  others: readonly PackageEnd[],
  valueAt: (id: string, of: PackageEnd) => number | null,
): PackageFigures {
  const own = end.figures.own.value ? magnitude(end.figures.own.value) : null;
  const numberOf = (name: string) => {
    const value = end.figures[name]?.value;
    return value ? magnitude(value) : null;
  };
  const sum = (...list: (number | null)[]) => (list.includes(null) ? null : list.reduce<number>((p, q) => p + q!, 0));
  const least = (list: (number | null)[]) => {
    const known = list.flatMap((each) => each ?? []);
    return known.length > 0 ? Math.min(...known) : null;
  };
  const most = (list: (number | null)[]) => {
    const known = list.flatMap((each) => each ?? []);
    return known.length > 0 ? Math.max(...known) : null;
  };
  const farPilot = most(others.map((each) => valueAt('pilot', each)));
  const farReverse = least(others.map((each) => valueAt('reverse', each)));
  const ctPrimary = numberOf('ctPrimary');
  const emergency = numberOf('emergencyLoad');
  const other = (id: string) => (own === null ? null : sum(own, neg(least(others.map((each) => valueAt(id, each))))));
  const open = sum(numberOf('breakerTime'), numberOf('relayReset'));
  const values: readonly (readonly [name: string, value: number | null, from: string])[] = [
    ['overlap', positive(other('z1')), 'what zone 1 of the far end leaves of the line'],
    ['overlapEarth', positive(other('z1e')), 'what zone 1 of the far end leaves of the line, earth loops'],
    ['farPilotReach', farPilot, 'overreaching zone at the far end'],
    ['farPilotEarth', least(others.map((each) => valueAt('pilotEarth', each))), 'earth direction at the far end'],
    [
      'farOverreach',
      farPilot === null || own === null ? null : positive(farPilot - own),
      'how far the far end sees beyond this busbar',
    ],
    [
      'reverseReachOfFar',
      farReverse === null || own === null ? null : own + farReverse,
      'the line and what the far end sees behind it',
    ],
    ['zone2Delay', valueAt('z2t', end), 'zone 2 of this end'],
    ['zone2Cleared', sum(valueAt('z2t', end), open), 'zone 2 of this end has cleared'],
    ['clearing', open === null ? null : open + relayTime, 'zone 1 that it looks into has cleared'],
    ['farZone2Cleared', sum(numberOf('farZone2'), open), 'zone 2 of the lines that follow has cleared'],
    ['breakerOpen', open, 'a sound breaker has opened, the measurement has fallen back'],
    ['othersAllow', sum(numberOf('othersZone2'), neg(numberOf('breakerTime'))), 'zone 2 of others, less a breaker'],
    [
      'unbalance',
      ctPrimary === null ? null : Math.max(0.03 * ctPrimary, 0.08 * (emergency ?? 0)),
      'unbalance: 8 % of the emergency load, 3 % of the current transformers at least',
    ],
    ['ctError', valueOf(ctPrimary, 0.03), '3 % of the current transformers'],
    ['lowestVoltage', valueOf(numberOf('nominalVoltage'), 0.85), '0.85 of the nominal voltage'],
  ];
  return Object.fromEntries(
    values.map(([name, value, from]) => [
      name,
      { name, value: value === null ? null : { re: value, im: 0 }, elements: [], run: null, from },
    ]),
  );
}

/** Steps that values are proposed on; reaches come onto those of the relay when they are taken. */
export const steps: Readonly<Record<ElementKind['unit'], number | null>> = { A: 1, s: 0.01, '°': 1, V: 100, Ω: null };
/** What lies within this of a step lies on it. */
export const stepSlack = 1e-9;

/** To the side on which the rule still holds. */
function onStep(value: number, unit: ElementKind['unit'], sense: Rule['sense']): number {
  const step = steps[unit];
  if (step === null) return value;
  const count = value / step;
  return (sense === 'atLeast' ? Math.ceil(count - stepSlack) : Math.floor(count + stepSlack)) * step;
}

/** Own time of a zone 1, in seconds; usual. */
const relayTime = 0.03;
const neg = (value: number | null) => (value === null ? null : -value);
const positive = (value: number | null) => (value !== null && value > 0 ? value : null);
const valueOf = (value: number | null, factor: number) => (value === null ? null : value * factor);

function elementOf(
  { find: findDecided, ...kind }: ElementKind,
  pack: LinePackage,
  row: ReachRow,
  figures: PackageFigures,
  book: Rulebook,
): PackageElement {
  const decision = findDecided({ book, row, figures });
  const own = pack.overrides.find(
    ({ line, terminal, element }) => line === row.end.line && terminal === row.end.terminal && element === kind.id,
  );
  const proposed = decision && onStep(decision.value, kind.unit, decision.by.rule.sense);
  const value = own ? own.value : proposed;
  const margin = (against: Against | null): Margin | null => {
    if (!against) return null;
    const figure = figures[against[0]];
    if (!figure?.value || value === null || value <= 0) return null;
    const bound = magnitude(figure.value);
    if (bound === 0) return null;
    return { side: against[1], figure, bound, percent: marginOf(value, bound, against[1]) };
  };
  const [sensitivity, security] = [margin(kind.sensitivity), margin(kind.security)];
  return {
    kind,
    end: row.end,
    decided: decision,
    proposed,
    value,
    override: own ? { reason: own.reason } : null,
    isUsed: value !== null && !(kind.optional && !own && (sensitivity?.percent ?? -1) < 0),
    sensitivity,
    security,
    ...inRelayTerms(value, kind.unit, row),
  };
}

/** Amperes, ohms and volts on the secondary side of the transformers at the end; others as they are. */
function inRelayTerms(
  value: number | null,
  unit: ElementKind['unit'],
  { relay }: ReachRow,
): Pick<PackageElement, 'secondary' | 'secondaryUnit'> {
  const input = relay?.device.inputs[0]?.rating;
  const vt = relay?.device.voltageAt;
  const told = (secondary: number | null) => ({ secondary, secondaryUnit: unit });
  if (value === null) return told(null);
  switch (unit) {
    case 'A':
      return told(input ? (value * input.secondaryA) / input.primaryA : null);
    case 'Ω':
      return told(relay && relay.secondary !== null ? value * relay.secondary : null);
    case 'V':
      return told(vt ? (value * vt.secondaryV) / (vt.ratedKv * 1000) : null);
    default:
      return told(value);
  }
}
