/** Cases of differential protection and current transformers: points in the plane, compensation, high impedance, dimensioning, saturation. */
import { angle, magnitude, subtract, type Complex } from '@mesura/core/linear/complex';
import { elementId } from '@mesura/core/model/fields';
import { terminalPlace } from '@mesura/core/faults/iec60909/study';
import type { FaultKind } from '@mesura/core/faults/kinds';
import type { Place } from '@mesura/core/faults/solution/solve';
import { parseVectorGroup, parseVectorGroup3, type Winding } from '@mesura/core/model/vectorgroup';
import {
  operating,
  pointOf,
  restraints,
  thresholdAt,
  type Characteristic,
} from '@mesura/core/protection/differential/characteristic';
import { applied, sideCurrentA, turning } from '@mesura/core/protection/differential/compensation';
import { stabilised } from '@mesura/core/protection/differential/highImpedance';
import type { ThreePhasors } from '@mesura/core/protection/family';
import { wrapped } from '@mesura/core/protection/overcurrent/direction';
import {
  directPart,
  effectiveAlf,
  kneeByXOverR,
  kneeOfPx,
  ktd,
  ktdTwice,
  ktf,
  limitingV,
  neededV,
  ratedBurdenOhm,
  timeOfLargest,
  worstInception,
} from '@mesura/core/ratings/ctAdequacy';
import { offsetCurrent, rmsByPeriod, saturated } from '@mesura/core/ratings/ctSaturation';
import { seenAtEnds } from '@mesura/core/reach/seen';
import { toComponents } from '@mesura/core/sequence/components';
import { pairsOf, type Inputs, type Pair } from './case';
import { endOf, phaseOf, placeAt, stateOf, type ConditionCase, type LoopPhase, type NetworkKind } from './distance';

type Pairwise = readonly [number, number];
type Three = readonly [Pairwise, Pairwise, Pairwise];

interface CharacteristicCase {
  readonly Imin: number;
  readonly K1: number;
  readonly B: number;
  readonly K2: number;
}

const complexOf = ([re, im]: Pairwise): Complex => ({ re, im });
const pairOf = ({ re, im }: Complex): [number, number] => [re, im];
const threeOf = (three: Three): ThreePhasors => three.map(complexOf) as unknown as ThreePhasors;
const over = (three: ThreePhasors, base: number): ThreePhasors =>
  three.map(({ re, im }) => ({ re: re / base, im: im / base })) as unknown as ThreePhasors;

const characteristicOf = ({ Imin, K1, B, K2 }: CharacteristicCase): Characteristic => ({
  pickup: Imin,
  slope1: K1,
  knee: B,
  slope2: K2,
});

/** Points of every phase under each definition of the restraint. */
function planes(
  phases: readonly (readonly Complex[])[],
  characteristics: Readonly<Record<string, CharacteristicCase>>,
) {
  return {
    IopPerUnit: phases.map(operating),
    restraint: Object.fromEntries(
      restraints
        .filter((by) => by in characteristics)
        .map((by) => {
          const points = phases.map((each) => pointOf(each, by, characteristicOf(characteristics[by])));
          return [
            by,
            {
              IresPerUnit: points.map((each) => each.restraining),
              thresholdPerUnit: points.map((each) => each.threshold),
              marginPerUnit: points.map((each) => each.operating / each.threshold - 1),
              tripPhases: points.map(({ trips }) => trips),
              trip: points.some(({ trips }) => trips),
            },
          ];
        }),
    ),
  };
}

const byPhase = (sides: readonly ThreePhasors[]) => [0, 1, 2].map((phase) => sides.map((three) => three[phase]));

/** "1e-4 relative, currents 0.5 A", "0.5 %", "saturation 0.1 ms, rms 0.1 %": what a figure may be off by. */
function allowedBy(tolerance: string, figure: string, expected: number): number {
  const relative = /([\d.e-]+) relative/.exec(tolerance);
  const percent = /(?:^|rms )([\d.]+) %/.exec(tolerance);
  const ampere = /([\d.]+) A(?:,|$)/.exec(tolerance);
  const ms = /saturation ([\d.]+) ms/.exec(tolerance);
  if (ms && /Ms$/.test(figure)) return Number(ms[1]);
  const size = Math.abs(expected);
  const ofValue = (relative ? Number(relative[1]) : 0) * size + (percent ? Number(percent[1]) / 100 : 0) * size;
  return Math.max(ofValue, ampere && /A(\.|$)/.test(figure) ? Number(ampere[1]) : 0, 1e-6);
}

const withTolerance = (pairs: readonly Pair[], tolerance: string): Pair[] =>
  pairs.map((pair) =>
    typeof pair.expected === 'number' ? { ...pair, allowed: allowedBy(tolerance, pair.figure, pair.expected) } : pair,
  );

interface EndCase {
  readonly line: string;
  readonly end: 1 | 2;
  readonly ct: { readonly primaryA: number; readonly secondaryA: number };
  readonly IprimaryA: Three;
  readonly IsecondaryA: Three;
}

interface LineCase {
  readonly network: string;
  readonly ends: readonly EndCase[];
  readonly IbaseA: number;
  readonly fault: {
    readonly kind: FaultKind;
    readonly odd: LoopPhase | null;
    readonly place: { readonly line?: string; readonly percentFromFirstEnd?: number; readonly bus?: string };
    readonly phaseROhm: number;
    readonly earthROhm: number;
  };
  readonly condition: ConditionCase;
  readonly characteristics: Readonly<Record<string, CharacteristicCase>>;
}

/** The currents of all ends by the network, and the points that they make. */
const line: NetworkKind = (inputs, expected, open) => {
  const given = inputs as unknown as LineCase;
  const { fault } = given;
  const studies = open(given.network);
  const { line: at, percentFromFirstEnd, bus } = fault.place;
  const place: Place = bus === undefined ? placeAt(at!, percentFromFirstEnd!) : terminalPlace(elementId(bus));
  const [found] = seenAtEnds(
    studies.iec60909(stateOf(given.condition)),
    place,
    [
      {
        kind: fault.kind,
        odd: phaseOf(fault.odd),
        phaseOhm: { re: fault.phaseROhm, im: 0 },
        earthOhm: { re: fault.earthROhm, im: 0 },
      },
    ],
    given.ends.map(endOf),
  );
  if (!found.ok) throw new Error(found.problems.map(({ message }) => message).join('; '));
  const currents = found.ends.map((end) => end!.currents);
  const sides = currents.map((three) => over(three, given.IbaseA));
  const sums = [0, 1, 2].map((phase) =>
    currents.reduce((sum, three) => ({ re: sum.re + three[phase].re, im: sum.im + three[phase].im }), { re: 0, im: 0 }),
  ) as [Complex, Complex, Complex];
  const { negative, zero } = toComponents(...sums);
  const computed = {
    ...planes(byPhase(sides), given.characteristics),
    threeI0DifferentialA: 3 * magnitude(zero),
    I2DifferentialA: magnitude(negative),
  };
  const seen = given.ends.flatMap((end, k) =>
    [0, 1, 2].flatMap((phase): Pair[] => {
      const wanted = magnitude(complexOf(end.IprimaryA[phase]));
      const primary = magnitude(currents[k][phase]);
      const secondary = (primary * end.ct.secondaryA) / end.ct.primaryA;
      return [
        { figure: `end ${k + 1} L${phase + 1} A`, expected: wanted, computed: primary, allowed: 0.5 },
        {
          figure: `end ${k + 1} L${phase + 1} secondary`,
          expected: magnitude(complexOf(end.IsecondaryA[phase])),
          computed: secondary,
          allowed: (0.5 * end.ct.secondaryA) / end.ct.primaryA,
        },
      ];
    }),
  );
  return [...seen, ...withTolerance(pairsOf(expected, computed), '1e-4 relative, currents 0.5 A')];
};

export const differentialNetworkKinds: Readonly<Record<string, NetworkKind>> = {
  '87L, 2 ends': line,
  '87L, 3 ends': line,
};

const isStar = (winding: Winding) => winding !== 'D';

/** Of a two-winding transformer; `reference`: the side that stays as it is. */
function transformer(given: Inputs): unknown {
  const { ratedMva, hvKv, lvKv, vectorGroup, reference, zeroSequenceRemovedOnStar, IhvA, IlvA, characteristics } =
    given as unknown as {
      ratedMva: number;
      hvKv: number;
      lvKv: number;
      vectorGroup: string;
      reference: 'hv' | 'delta';
      zeroSequenceRemovedOnStar: boolean;
      IhvA: Three;
      IlvA: Three;
      characteristics: Readonly<Record<string, CharacteristicCase>>;
    };
  const { hv, lv, clock } = parseVectorGroup(vectorGroup)!;
  const zeroOf = (winding: Winding) => (isStar(winding) && zeroSequenceRemovedOnStar ? 'removed' : 'kept');
  const turns =
    reference === 'hv' ? ([0, clock] as const) : isStar(hv) ? ([-clock, 0] as const) : ([0, clock] as const);
  const matrices = [turning(30 * turns[0], zeroOf(hv)), turning(30 * turns[1], zeroOf(lv))];
  const rated = [sideCurrentA(ratedMva, hvKv), sideCurrentA(ratedMva, lvKv)];
  const sides = [threeOf(IhvA), threeOf(IlvA)].map((three, k) => applied(matrices[k], over(three, rated[k])));
  return {
    ratedCurrentA: rated,
    matrixHv: matrices[0],
    matrixLv: matrices[1],
    compensatedHvPerUnit: sides[0].map(pairOf),
    compensatedLvPerUnit: sides[1].map(pairOf),
    ...planes(byPhase(sides), characteristics),
  };
}

function threeWindings(given: Inputs): unknown {
  const { referenceMva, ratedKv, vectorGroup, IhvA, ImvA, ItertiaryA, characteristics } = given as unknown as {
    referenceMva: number;
    ratedKv: readonly number[];
    vectorGroup: string;
    IhvA: Three;
    ImvA: Three;
    ItertiaryA: Three;
    characteristics: Readonly<Record<string, CharacteristicCase>>;
  };
  const { windings, clocks } = parseVectorGroup3(vectorGroup)!;
  const rated = ratedKv.map((kv) => sideCurrentA(referenceMva, kv));
  const currents = [IhvA, ImvA, ItertiaryA].map((three, k) => over(threeOf(three), rated[k]));
  const sides = currents.map((three, k) =>
    applied(turning(30 * clocks[k], isStar(windings[k]) ? 'removed' : 'kept'), three),
  );
  const kept = currents.map((three, k) => applied(turning(30 * clocks[k], 'kept'), three));
  return {
    ratedCurrentA: rated,
    compensatedPerUnit: sides.map((three) => three.map(pairOf)),
    IopWithoutZeroSequenceRemovalPerUnit: byPhase(kept).map(operating),
    ...planes(byPhase(sides), characteristics),
  };
}

function restrictedEarthFault(given: Inputs): unknown {
  const { IphasesPerUnit, INPerUnit, characteristic } = given as unknown as {
    IphasesPerUnit: Three;
    INPerUnit: Pairwise;
    characteristic: CharacteristicCase;
  };
  const phases = threeOf(IphasesPerUnit);
  const residual = phases.reduce((sum, each) => ({ re: sum.re + each.re, im: sum.im + each.im }), { re: 0, im: 0 });
  const neutral = complexOf(INPerUnit);
  const point = pointOf([residual, neutral], 'max', characteristicOf(characteristic));
  // Of the star point's current against that of the lines; none where the lines carry nothing.
  const degrees = wrapped(((angle(neutral) - angle(residual)) * 180) / Math.PI);
  return {
    threeI0PerUnit: pairOf(residual),
    IopPerUnit: point.operating,
    IresPerUnit: point.restraining,
    thresholdPerUnit: point.threshold,
    marginPerUnit: point.operating / point.threshold - 1,
    trip: point.trips,
    directionDegrees: magnitude(residual) === 0 ? null : Math.abs(degrees + 180) < 1e-9 ? 180 : degrees,
  };
}

function charging(given: Record<string, number>): unknown {
  const { nominalKv, b1UsPerKm, lengthKm, IbaseA } = given;
  const chargingA = (b1UsPerKm * 1e-6 * lengthKm * nominalKv * 1000) / Math.sqrt(3);
  return {
    IcA: chargingA,
    differentialUncompensatedA: chargingA,
    differentialCompensatedA: 0,
    IopPerUnit: chargingA / IbaseA,
    pickupForTwiceChargingPerUnit: (2 * chargingA) / IbaseA,
  };
}

/** Currents into a nominal π between two voltages, and what is left of them when each end takes out half of the charging. */
function chargingWithLoad(given: Inputs): unknown {
  const { UendkV, b1TotalUS, z1TotalOhm } = given as unknown as {
    UendkV: readonly Pairwise[];
    b1TotalUS: number;
    z1TotalOhm: Pairwise;
  };
  const [u1, u2] = UendkV.map(([re, im]): Complex => ({ re: re * 1000, im: im * 1000 }));
  const drop = subtract(u1, u2);
  const [r, x] = z1TotalOhm;
  const size = r * r + x * x;
  const through: Complex = { re: (drop.re * r + drop.im * x) / size, im: (drop.im * r - drop.re * x) / size };
  const half = (u: Complex): Complex => ({ re: -(b1TotalUS / 2e6) * u.im, im: (b1TotalUS / 2e6) * u.re });
  const ends = [
    { re: through.re + half(u1).re, im: through.im + half(u1).im },
    { re: -through.re + half(u2).re, im: -through.im + half(u2).im },
  ];
  const compensated = ends.map((each, k) => subtract(each, half(k === 0 ? u1 : u2)));
  return {
    IendA: ends.map(pairOf),
    differentialUncompensatedA: operating(ends),
    differentialCompensatedA: operating(compensated),
    compensatedIendA: compensated.map(pairOf),
  };
}

function highImpedance(given: Inputs): unknown {
  const { ct, ...plain } = given as unknown as {
    ct: { primaryA: number; secondaryA: number };
  } & Record<string, number>;
  const found = stabilised({
    throughFaultA: plain.throughFaultA,
    ...ct,
    windingOhm: plain.RctOhm,
    leadOhm: plain.RleadOhm,
    relayA: plain.relayCurrentA,
    relayOhm: plain.RrelayOhm,
    ctCount: plain.ctsInParallel,
    magnetisingA: plain.magnetisingCurrentAtVsA,
    varistorA: plain.varistorCurrentA,
    kneeV: plain.kneePointV,
  });
  return {
    stabilisingV: found.stabilisingV,
    stabilisingResistorOhm: found.resistorOhm,
    requiredKneeV: found.requiredKneeV,
    kneeHolds: found.kneeHolds,
    primaryOperatingA: found.operatingA,
    unlimitedVoltageV: found.unlimitedV,
    peakV: found.peakV,
    varistorNeeded: found.varistorNeeded,
  };
}

function accuracyLimit({ ALF, SnVA, IsnA, IpnA, RctOhm, RbOhm, faultA }: Record<string, number>): unknown {
  const rated = ratedBurdenOhm(SnVA, IsnA);
  const multiple = faultA / IpnA;
  const [has, needs] = [limitingV(ALF, IsnA, RctOhm, rated), neededV(multiple, IsnA, RctOhm, RbOhm)];
  return {
    RbnOhm: rated,
    effectiveALF: effectiveAlf(ALF, RctOhm, rated, RbOhm),
    EalfV: has,
    EneededSymmetricalV: needs,
    Kssc: multiple,
    holdsSymmetrical: has >= needs,
    largestTransientFactor: has / needs,
  };
}

function dimensioning({ TpS, TsS, accuracyTimeS, frequencyHz }: Record<string, number>): unknown {
  const constants = { tpS: TpS, tsS: TsS, frequencyHz };
  const worst = worstInception(constants, accuracyTimeS);
  const largest = timeOfLargest(constants);
  return {
    KtfAtTime: ktf(constants, accuracyTimeS),
    KtfWorstInceptionAtTime: worst.factor,
    worstInceptionDegrees: (worst.rad * 180) / Math.PI,
    KtdEnvelopeAtTime: ktd(constants, accuracyTimeS),
    timeOfLargestS: largest,
    KtdLargest: ktd(constants, largest),
    KtdNoSecondaryDecay: directPart({ ...constants, tsS: Infinity }, accuracyTimeS) + 1,
  };
}

function saturation(given: Inputs): unknown {
  const { ct, magnetising, ...plain } = given as unknown as {
    ct: { primaryA: number; secondaryA: number };
    magnetising: readonly { imA: number; psiWb: number }[];
  } & Record<string, number>;
  const { frequencyHz } = plain;
  const stepS = 1 / frequencyHz / 2000;
  const current = offsetCurrent({
    symmetricalA: plain.symmetricalPrimaryA,
    tpS: plain.TpS,
    inceptionRad: (plain.inceptionDegrees * Math.PI) / 180,
    frequencyHz,
  });
  const core = { ratio: ct.primaryA / ct.secondaryA, loopOhm: plain.RctOhm + plain.RbOhm, magnetising };
  const found = saturated(core, current, 5 / frequencyHz, { remanenceWb: plain.remanenceWb, stepS });
  const kneeWb = magnetising[0].psiWb;
  return {
    saturationMs: found.saturationS === null ? null : 1000 * found.saturationS,
    secondaryRmsA: rmsByPeriod(found.secondaryA, stepS, frequencyHz),
    unsaturatedRmsA: rmsByPeriod(found.idealA, stepS, frequencyHz),
    kneeWb,
    kneeVoltageRmsV: (2 * Math.PI * frequencyHz * kneeWb) / Math.SQRT2,
  };
}

function points(given: Inputs): unknown {
  const { currentsPerUnit, characteristics } = given as unknown as {
    currentsPerUnit: readonly Pairwise[];
    characteristics: Readonly<Record<string, CharacteristicCase>>;
  };
  return planes([currentsPerUnit.map(complexOf)], characteristics);
}

/** Complex figures compare by their size and angle as pairs; everything by the tolerance of the case. */
type Computed = (inputs: Record<string, number>, given: Inputs) => unknown;

const byName: Readonly<Record<string, Computed>> = {
  '87L, percentage points': (_, given) => points(given),
  '87L, charging current': charging,
  '87L, charging current with load': (_, given) => chargingWithLoad(given),
  'restricted earth fault': (_, given) => restrictedEarthFault(given),
  'high-impedance scheme': (_, given) => highImpedance(given),
  'CT, accuracy limit factor': accuracyLimit,
  'CT, knee from X/R': ({ IsnA, IpnA, RctOhm, RbOhm, faultA, XoverR }) => {
    const secondaryA = (faultA * IsnA) / IpnA;
    return {
      kneeV: kneeByXOverR(XoverR, secondaryA, RctOhm, RbOhm),
      symmetricalV: neededV(faultA / IpnA, IsnA, RctOhm, RbOhm),
    };
  },
  'CT, class PX': ({ Kx, RctOhm, RbOhm, IsnA }) => ({ EkV: kneeOfPx(Kx, RctOhm, RbOhm, IsnA) }),
  'CT, transient dimensioning factor': dimensioning,
  'CT, transient dimensioning factor, C-O-C-O': ({ TpS, TsS, t1S, tfrS, t2S, frequencyHz }) => ({
    Ktd: ktdTwice({ tpS: TpS, tsS: TsS, frequencyHz }, t1S, tfrS, t2S),
  }),
  'CT saturation, stepped': (_, given) => saturation(given),
};

/** "87T Dyn11" and "87T YNyn0d5, three windings": a name for every vector group. Null for any other kind. */
export function differentialPairs(
  kind: string | undefined,
  given: Inputs | undefined,
  expected: unknown,
  tolerance: unknown,
): Pair[] | null {
  if (!kind || !given) return null;
  const computed: Computed | undefined =
    byName[kind] ??
    (/^87T .*three windings$/.test(kind)
      ? (_, of) => threeWindings(of)
      : /^87T \S+$/.test(kind)
        ? (_, of) => transformer(of)
        : undefined);
  if (!computed) return null;
  const pairs = pairsOf(expected, computed(given as Record<string, number>, given));
  return withTolerance(pairs, typeof tolerance === 'string' ? tolerance : '1e-6 relative');
}

/** Cases of the textbook kind: rated secondary currents, the matrix of Dyn11, one point of a slope. */
export const differentialFormulas: Readonly<Record<string, (inputs: Inputs) => number[]>> = {
  taps: (given) => {
    const { S_VA, V_HV, V_LV, ct_HV, ct_LV } = given as Record<string, number>;
    return [sideCurrentA(S_VA / 1e6, V_HV / 1000) / ct_HV, sideCurrentA(S_VA / 1e6, V_LV / 1000) / ct_LV];
  },
  dyn11: (given) => {
    const { lv_pu } = given as unknown as { lv_pu: Three };
    return applied(turning(30 * 11, 'removed'), threeOf(lv_pu)).flatMap(pairOf);
  },
  slope87: (given) => {
    const { I1_pu, I2_pu, pickup, slope1, breakpoint, slope2 } = given as unknown as {
      I1_pu: Pairwise;
      I2_pu: Pairwise;
    } & Record<string, number>;
    const polar = ([size, degrees]: Pairwise): Complex => ({
      re: size * Math.cos((degrees * Math.PI) / 180),
      im: size * Math.sin((degrees * Math.PI) / 180),
    });
    const characteristic = { pickup, slope1, knee: breakpoint, slope2 };
    const point = pointOf([polar(I1_pu), polar(I2_pu)], 'mean', characteristic);
    return [point.operating, point.restraining, thresholdAt(characteristic, point.restraining)];
  },
};
