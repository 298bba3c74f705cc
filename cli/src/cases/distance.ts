/** Cases of distance protection with networks of their own: what a relay sees, its loops, zones that they lie in. */
import { emfPrefault } from '@mesura/core/faults/superposition/emfs';
import type { FaultCondition, FaultKind, Phase } from '@mesura/core/faults/kinds';
import { terminalPlace } from '@mesura/core/faults/iec60909/study';
import type { Place } from '@mesura/core/faults/solution/solve';
import { angle, magnitude, polar, rotate, scale, type Complex } from '@mesura/core/linear/complex';
import { minimumSources } from '@mesura/core/model/condition';
import { elementId, type ElementId } from '@mesura/core/model/fields';
import type { State } from '@mesura/core/model/state';
import {
  mho,
  offsetMho,
  polarisingOf,
  quadrilateral,
  type CircleMembership,
  type Polarisation,
  type Quadrilateral,
} from '@mesura/core/protection/distance/characteristics';
import {
  loopsOf,
  toSecondary,
  type Compensation,
  type Loop,
  type LoopName,
} from '@mesura/core/protection/distance/loops';
import type { ThreePhasors } from '@mesura/core/protection/family';
import { seenAtEnds, seenOverLoad, type EndSeen, type LineEnd } from '@mesura/core/reach/seen';
import type { Studies } from '@mesura/core/studies/studies';
import type { Figure, Inputs, Pair } from './case';

/** A project beside the file of a case, with its studies. */
export type Open = (path: string) => Studies;
/** Cases whose figures have tolerances of their own. */
export type NetworkKind = (inputs: Inputs, expected: unknown, open: Open) => Pair[];

type Pairwise = readonly [number, number];

export interface ConditionCase {
  readonly open: readonly string[];
  readonly outOfService: readonly string[];
  readonly earthedBothEnds: readonly string[];
}

export interface RelayCase {
  readonly line: string;
  readonly end: 1 | 2;
  readonly ct: { readonly primaryA: number; readonly secondaryA: number };
  readonly vt: { readonly primaryKv: number; readonly secondaryV: number };
}

interface SeenCase {
  readonly network: string;
  readonly relay: RelayCase;
  readonly fault: {
    readonly kind: FaultKind;
    readonly odd: LoopPhase | null;
    readonly place: { readonly line?: string; readonly percentFromFirstEnd?: number; readonly bus?: string };
    readonly phaseROhm: number;
    readonly earthROhm: number;
  };
  readonly condition: ConditionCase;
  readonly prefault: {
    readonly emf?: Readonly<Record<string, { readonly perUnitOfUnOverSqrt3: number; readonly degrees: number }>>;
  };
  readonly k0: Pairwise;
  readonly mutual?: { readonly k0m: Pairwise; readonly parallelLine: string };
  readonly separateFactors?: { readonly kr: number; readonly kx: number };
  readonly zone?: {
    readonly loop: LoopName;
    readonly ZrOhm: Pairwise;
    readonly offsetRatio: number;
    readonly quadrilateral: {
      readonly XrOhm: number;
      readonly RrOhm: number;
      readonly RlOhm: number;
      readonly lineAngleDegrees: number;
      readonly tiltDegrees: number;
      readonly dirMinDegrees: number;
      readonly dirMaxDegrees: number;
    };
  };
}

export type LoopPhase = 'L1' | 'L2' | 'L3';
const complexOf = ([re, im]: Pairwise): Complex => ({ re, im });
export const phaseOf = (name: LoopPhase | null): Phase => (name === null ? 0 : ((Number(name[1]) - 1) as Phase));
/** Below this primary current a loop has no impedance here. */
const leastA = 1;

export const stateOf = ({ open, outOfService, earthedBothEnds }: ConditionCase): State => ({
  condition: minimumSources.id,
  alterations: {
    open: open as ElementId[],
    out: outOfService as ElementId[],
    earthed: earthedBothEnds as ElementId[],
  },
});

/** Inside a line, or at one of its ends. */
export function placeAt(line: string, percent: number): Place {
  if (percent <= 0 || percent >= 100) return terminalPlace(elementId(line), percent <= 0 ? 0 : 1);
  return { at: 'line', element: elementId(line), fraction: percent / 100 };
}

export const endOf = ({ line, end }: Pick<RelayCase, 'line' | 'end'>): LineEnd => ({
  line: elementId(line),
  terminal: end - 1,
});

function seen(given: SeenCase, studies: Studies, ends: readonly LineEnd[]): readonly EndSeen[] {
  const { fault, condition, prefault } = given;
  const study = studies.iec60909(stateOf(condition));
  const { line, percentFromFirstEnd, bus } = fault.place;
  const place = bus === undefined ? placeAt(line!, percentFromFirstEnd!) : terminalPlace(elementId(bus));
  const of: FaultCondition = {
    kind: fault.kind,
    odd: phaseOf(fault.odd),
    phaseOhm: { re: fault.phaseROhm, im: 0 },
    earthOhm: { re: fault.earthROhm, im: 0 },
  };
  const { assembly } = study;
  const emfs = Object.entries(prefault.emf ?? {}).map(([id, { perUnitOfUnOverSqrt3, degrees }]) => {
    const node = assembly.topology.nodeAt(elementId(id), 0)!;
    const volts = (assembly.topology.nodes[node].nominalKv! * 1000) / Math.sqrt(3);
    return [elementId(id), polar(perUnitOfUnOverSqrt3 * volts, (degrees * Math.PI) / 180)] as const;
  });
  const found =
    emfs.length > 0
      ? seenOverLoad(assembly, emfPrefault(assembly, new Map(emfs)), place, of, ends)
      : seenAtEnds(study, place, [of], ends)[0];
  if (!found.ok) throw new Error(found.problems.map(({ message }) => message).join('; '));
  const all = found.ends.map((each) => each!);
  if (emfs.length > 0) return all;
  // Without load the voltage before the fault is what angles count from.
  const turn = -angle(all[0].before[0]);
  const turnedAll = (three: ThreePhasors) => three.map((each) => rotate(each, turn)) as unknown as ThreePhasors;
  return all.map(({ currents, voltages, before }) => ({
    currents: turnedAll(currents),
    voltages: turnedAll(voltages),
    before: turnedAll(before),
  }));
}

const residualOf = ([p, q, r]: ThreePhasors): Complex => ({ re: p.re + q.re + r.re, im: p.im + q.im + r.im });

/** Pairs of a complex figure or of a list of them, with what it may be off by. */
function phasorPairs(
  figure: string,
  expected: unknown,
  computed: readonly Complex[] | Complex | undefined,
  allowed: number,
): Pair[] {
  const list = (Array.isArray(computed) ? computed : [computed]) as Complex[];
  const wanted = (typeof (expected as number[])[0] === 'number' ? [expected] : expected) as Pairwise[];
  return wanted.flatMap(([re, im], k) => [
    { figure: `${figure}${wanted.length > 1 ? `.${k + 1}` : ''}.re`, expected: re, computed: list[k]?.re, allowed },
    { figure: `${figure}${wanted.length > 1 ? `.${k + 1}` : ''}.im`, expected: im, computed: list[k]?.im, allowed },
  ]);
}

const largest = (list: readonly Complex[]): number => Math.max(...list.map(magnitude));

function seenByRelay(inputs: Inputs, expected: unknown, open: Open): Pair[] {
  const given = inputs as unknown as SeenCase;
  const wanted = expected as Readonly<Record<string, unknown>>;
  const studies = open(given.network);
  const own = endOf(given.relay);
  const { topology } = studies.min.assembly;
  const node = topology.nodeAt(own.line, own.terminal);
  const parallel = given.mutual && {
    line: elementId(given.mutual.parallelLine),
    terminal: topology.nodeAt(elementId(given.mutual.parallelLine), 0) === node ? 0 : 1,
  };
  const [at, beside] = seen(given, studies, parallel ? [own, parallel] : [own]);
  const residual = beside && residualOf(beside.currents);
  const mutual = given.mutual && residual ? { k0m: complexOf(given.mutual.k0m), residual } : null;
  const factor: Compensation = { form: 'factor', k0: complexOf(given.k0) };
  const loops = loopsOf(at, factor, mutual);
  const secondary = toSecondary(given.relay.ct, given.relay.vt);
  const kilo = (list: readonly Complex[]) => list.map((each) => scale(each, 1e-3));
  const [u, i] = [kilo(at.voltages), kilo(at.currents)];
  // Where all voltages are nought, of what they were before.
  const mostKv = Math.max(largest(u), 1e-6 * largest(kilo(at.before)));
  const known = ({ measuredA, impedance }: Loop) => (measuredA < leastA ? null : impedance);
  const loopPairs = (figure: string, ohms: unknown, by: number): Pair[] =>
    loops.flatMap((loop) => {
      const want = (ohms as Record<string, { R: number; X: number } | null>)[loop.name];
      const z = known(loop);
      if (want === null || z === null)
        return [{ figure: `${figure}.${loop.name}`, expected: want as Figure, computed: z as Figure }];
      const allowed = Math.max(1e-4 * Math.hypot(want.R, want.X), 1e-4);
      return [
        { figure: `${figure}.${loop.name}.R`, expected: want.R, computed: z.re * by, allowed },
        { figure: `${figure}.${loop.name}.X`, expected: want.X, computed: z.im * by, allowed },
      ];
    });
  const faultLoop = loops.find(({ name }) => name === wanted.faultLoop);
  const pairs: Pair[] = [
    ...phasorPairs('UkV', wanted.UkV, u, 1e-4 * mostKv),
    ...phasorPairs('IkA', wanted.IkA, i, 1e-4 * largest(i)),
    ...phasorPairs('threeI0kA', wanted.threeI0kA, scale(residualOf(at.currents), 1e-3), 1e-4 * largest(i)),
    ...loopPairs('loopsPrimaryOhm', wanted.loopsPrimaryOhm, 1),
    ...loopPairs('loopsSecondaryOhm', wanted.loopsSecondaryOhm, secondary),
    {
      figure: 'undefinedLoops',
      expected: (wanted.undefinedLoops as string[]).join(),
      computed: loops
        .filter((loop) => known(loop) === null)
        .map(({ name }) => name)
        .join(),
    },
  ];
  if (wanted.threeI0ParallelkA)
    pairs.push(
      ...phasorPairs(
        'threeI0ParallelkA',
        wanted.threeI0ParallelkA,
        residual && scale(residual, 1e-3),
        1e-4 * largest(i),
      ),
    );
  if (wanted.UbeforekV)
    pairs.push(...phasorPairs('UbeforekV', wanted.UbeforekV, kilo(at.before), 1e-4 * largest(kilo(at.before))));
  if (wanted.truePositiveSequenceOhm && given.fault.place.line === given.relay.line) {
    const z = studies.min.assembly.positive.series.find(({ element }) => element === own.line)!;
    const share = given.fault.place.percentFromFirstEnd! / 100;
    const length = own.terminal === 0 ? share : 1 - share;
    pairs.push(
      ...phasorPairs(
        'truePositiveSequenceOhm',
        wanted.truePositiveSequenceOhm,
        { re: z.rOhm * length, im: z.xOhm * length },
        1e-4,
      ),
    );
  }
  const apart = wanted.separateFactorsPrimaryOhm as { loop: LoopName; R: number; X: number } | undefined;
  if (apart && given.separateFactors) {
    const z = loopsOf(at, { form: 'apart', ...given.separateFactors }, mutual).find(
      ({ name }) => name === apart.loop,
    )!.impedance!;
    const allowed = Math.max(1e-4 * Math.hypot(apart.R, apart.X), 1e-4);
    pairs.push(
      { figure: 'separateFactorsPrimaryOhm.R', expected: apart.R, computed: z.re, allowed },
      { figure: 'separateFactorsPrimaryOhm.X', expected: apart.X, computed: z.im, allowed },
    );
  }
  const zone = wanted.zone as ZoneExpected | undefined;
  if (zone && given.zone) {
    const loop = loops.find(({ name }) => name === given.zone!.loop)!;
    pairs.push(...zonePairs(given.zone, zone, loop));
  }
  return faultLoop || wanted.faultLoop === undefined || wanted.faultLoop === null
    ? pairs
    : [...pairs, { figure: 'faultLoop', expected: wanted.faultLoop as Figure, computed: undefined }];
}

interface CircleExpected {
  readonly operates: boolean | null;
  readonly marginPerUnit?: number;
  readonly marginDegrees?: number;
  readonly centreOhm?: Pairwise;
  readonly radiusOhm?: number;
  readonly polarisingKv?: Pairwise;
}

interface ZoneExpected {
  readonly ZOhm: Pairwise | null;
  readonly selfPolarised: CircleExpected;
  readonly crossPolarised: CircleExpected;
  readonly memoryPolarised: CircleExpected;
  readonly offset: CircleExpected;
  readonly quadrilateral: { readonly operates: boolean | null; readonly marginOhm?: number; readonly side?: string };
}

const shapeOf = (given: NonNullable<SeenCase['zone']>['quadrilateral']): Quadrilateral => ({
  reactance: given.XrOhm,
  resistance: given.RrOhm,
  left: given.RlOhm,
  lineAngleDeg: given.lineAngleDegrees,
  tiltDeg: given.tiltDegrees,
  fromDeg: given.dirMinDegrees,
  toDeg: given.dirMaxDegrees,
});

function zonePairs(given: NonNullable<SeenCase['zone']>, expected: ZoneExpected, loop: Loop): Pair[] {
  const reach = complexOf(given.ZrOhm);
  const circlePairs = (
    name: string,
    want: CircleExpected,
    found: CircleMembership | null,
    by?: Polarisation,
  ): Pair[] => {
    const figure = (part: string, value: Figure | undefined, computed: Figure | undefined, allowed?: number): Pair[] =>
      value === undefined ? [] : [{ figure: `zone.${name}.${part}`, expected: value, computed, allowed }];
    // A voltage of rounding errors polarises nothing.
    const polarising = by && polarisingOf(loop, by);
    const undecided = polarising !== undefined && (!polarising || magnitude(polarising) < 1e-3);
    const own = undecided ? null : found;
    return [
      ...figure('operates', want.operates, own ? own.operates : null),
      ...figure('marginPerUnit', want.marginPerUnit, own?.marginPerUnit ?? undefined, 1e-3),
      ...figure('marginDegrees', want.marginDegrees, own?.marginDeg, 0.05),
      ...figure('radiusOhm', want.radiusOhm, own?.radius, 1e-3 * Math.max(1, want.radiusOhm ?? 0)),
      ...(want.centreOhm
        ? phasorPairs(`zone.${name}.centreOhm`, want.centreOhm, own?.centre, 1e-3 * Math.max(1, want.radiusOhm ?? 0))
        : []),
      ...(want.polarisingKv && polarising
        ? phasorPairs(
            `zone.${name}.polarisingKv`,
            want.polarisingKv,
            scale(polarising, 1e-3),
            1e-4 * magnitude(complexOf(want.polarisingKv)) + 1e-4,
          )
        : []),
    ];
  };
  // A fault right at the relay lies on the corner of the directional sides.
  const isCorner = loop.impedance === null || magnitude(loop.impedance) < 1e-9;
  const quad = !isCorner && loop.impedance && quadrilateral(loop.impedance, shapeOf(given.quadrilateral));
  return [
    ...(expected.ZOhm
      ? phasorPairs(
          'zone.ZOhm',
          expected.ZOhm,
          loop.impedance ?? undefined,
          Math.max(1e-4, 1e-4 * magnitude(complexOf(expected.ZOhm))),
        )
      : []),
    ...circlePairs('selfPolarised', expected.selfPolarised, mho(loop, reach, 'self'), 'self'),
    ...circlePairs('crossPolarised', expected.crossPolarised, mho(loop, reach, 'cross'), 'cross'),
    ...circlePairs('memoryPolarised', expected.memoryPolarised, mho(loop, reach, 'memory'), 'memory'),
    ...circlePairs('offset', expected.offset, offsetMho(loop, reach, given.offsetRatio)),
    {
      figure: 'zone.quadrilateral.operates',
      expected: expected.quadrilateral.operates,
      computed: quad ? quad.operates : null,
    },
    ...(expected.quadrilateral.marginOhm === undefined
      ? []
      : [
          {
            figure: 'zone.quadrilateral.marginOhm',
            expected: expected.quadrilateral.marginOhm,
            computed: quad ? quad.margin : undefined,
            allowed: 1e-3,
          },
          {
            figure: 'zone.quadrilateral.side',
            expected: expected.quadrilateral.side!,
            computed: quad ? quad.side : undefined,
          },
        ]),
  ];
}

export const distanceKinds: Readonly<Record<string, NetworkKind>> = {
  'seen by a distance relay': seenByRelay,
  'seen by a distance relay, with zones': seenByRelay,
};
