/** A differential function over faults inside and outside of what it protects, in all conditions: where they lie in its plane, what it sees at least, what it bears at most. */
import { faultKinds, resistiveFault, solidFault, type FaultKind } from '../faults/kinds';
import type { Place } from '../faults/solution/solve';
import type { Condition } from '../model/condition';
import type { ElementId } from '../model/fields';
import { find, type Network } from '../model/network';
import type { State } from '../model/state';
import type { Device } from '../protection/device';
import { highImpedanceA, nearestSides, pointsOf, sumA, type ElementPoint } from '../protection/differential/measured';
import type { DifferentialFunction } from '../protection/differential/schema';
import { inputOf } from '../protection/device';
import type { DeviceSeen } from '../protection/family';
import { seenUnder } from '../protection/seen';
import type { Studies } from '../studies/studies';
import { terminalTowards } from './fit';
import { regionOf, type Region } from './region';

/** A fault in the plane: the element that is nearest to its trip. */
export interface PlanePoint {
  /** `tapped`: behind a transformer that is tapped off inside, whose own protection has to clear it. */
  readonly where: 'inside' | 'outside' | 'tapped';
  readonly place: Place;
  readonly kind: FaultKind;
  readonly condition: ElementId;
  readonly outage: ElementId | null;
  /** Of the transformer inside, in percent; null: at its main position. */
  readonly tap: number | null;
  /** Largest current into the fault, in amperes. */
  readonly faultA: number;
  readonly points: readonly ElementPoint[];
  /** Operating over threshold, the largest of all elements. */
  readonly multiple: number;
  readonly trips: boolean;
  /** Inside: smallest fault of this kind that is still seen, in amperes; null where even the solid one is not. */
  readonly leastA: number | null;
}

export interface PlaneStudy {
  readonly region: Region;
  readonly points: readonly PlanePoint[];
  /** Of faults inside: the one that is seen worst. */
  readonly weakest: PlanePoint | null;
  /** Of faults outside: the one that is nearest to a trip. */
  readonly nearest: PlanePoint | null;
  /** Of faults outside: the one that draws most. */
  readonly largest: PlanePoint | null;
  /** Of faults behind tapped transformers: the one that is nearest to a trip, or furthest beyond it. */
  readonly tapped: PlanePoint | null;
}

const multipleOf = (points: readonly ElementPoint[]): number =>
  Math.max(0, ...points.map(({ operating, threshold }) => operating / threshold));

/** Where a high-impedance scheme stands: its sum over the current that it operates at. */
function sumPoint(fn: DifferentialFunction, device: Device, sides: Parameters<typeof sumA>[1]): ElementPoint {
  const { primaryA, secondaryA } = inputOf(device, fn.input).rating;
  const base = fn.sides.at(0)?.baseA ?? 1;
  const threshold = highImpedanceA(fn, primaryA / secondaryA, sides.length) / base;
  const operating = sumA(fn, sides);
  const characteristic = { pickup: threshold, slope1: 0, knee: 0, slope2: 0 };
  return {
    name: 'sum',
    element: 'phase',
    characteristic,
    operating,
    restraining: 0,
    threshold,
    trips: operating > threshold,
  };
}

/** Points of a function for what its device sees; null where a current is not known. */
export function elementPoints(
  fn: DifferentialFunction,
  device: Device,
  seen: DeviceSeen | null,
): readonly ElementPoint[] | null {
  const at = seen?.[inputOf(device, fn.input).id];
  const sides = at ? nearestSides(fn, at) : null;
  if (!sides) return null;
  return fn.scheme === 'highImpedance' ? [sumPoint(fn, device, sides)] : pointsOf(fn, sides);
}

/** Yields the share that is done. */
export function* planeStudy(
  studies: Studies,
  conditions: readonly Condition[],
  device: Device,
  fn: DifferentialFunction,
  kinds: readonly FaultKind[] = faultKinds,
  outages: readonly (ElementId | null)[] = [null],
): Generator<number, PlaneStudy> {
  const region = regionOf(studies.network, device, fn);
  const places = [
    ...region.inside.map((place) => ({ place, where: 'inside' as const })),
    ...region.outside.map((place) => ({ place, where: 'outside' as const })),
    ...region.tapped.map((place) => ({ place, where: 'tapped' as const })),
  ];
  const states = conditions.flatMap(({ id: condition }): State[] => outages.map((outage) => ({ condition, outage })));
  const variants = variantsOf(studies.network, device, region, fn);
  const points: PlanePoint[] = [];
  for (const [s, state] of states.entries()) {
    const study = studies.iec60909(state);
    for (const [p, { place, where }] of places.entries()) {
      yield (s + p / places.length) / states.length;
      seenUnder(study, place, kinds.map(solidFault), [device]).forEach((seen, k) => {
        if (!seen) return;
        for (const { tap, fn: met } of variants) {
          const found = elementPoints(met, device, seen.devices[0]);
          if (!found) continue;
          const multiple = multipleOf(found);
          const faultA = seen.fault.ikA;
          const unrestrained =
            met.unrestrained !== null &&
            found.some(({ element, operating }) => element === 'phase' && operating > met.unrestrained!);
          const trips = multiple > 1 || unrestrained;
          points.push({
            where,
            place,
            kind: kinds[k],
            condition: state.condition,
            outage: state.outage ?? null,
            tap,
            faultA,
            points: found,
            multiple,
            trips,
            leastA: where === 'inside' && trips ? faultA * leastShare(found) : null,
          });
        }
      });
    }
  }
  const of = (where: PlanePoint['where']) => points.filter((each) => each.where === where && each.faultA > 1);
  const inside = of('inside');
  return {
    region,
    points,
    weakest: inside.length > 0 ? inside.reduce((p, q) => (q.multiple < p.multiple ? q : p)) : null,
    nearest: nearestOf(of('outside')),
    largest: of('outside').reduce<PlanePoint | null>((p, q) => (p && p.faultA >= q.faultA ? p : q), null),
    tapped: nearestOf(of('tapped')),
  };
}

interface Variant {
  /** In percent of the rated voltage of its side; null: at the main position. */
  readonly tap: number | null;
  readonly fn: DifferentialFunction;
}

/**
 * The function as it is, and as it meets a tap changer inside at both ends of its range: with more turns on a side less current flows there for the same ampere-turns, which is as if its
 * base were larger. IEC 60909-0 knows transformers at their main position alone.
 */
function variantsOf(network: Network, device: Device, { elements }: Region, fn: DifferentialFunction): Variant[] {
  const plain: Variant = { tap: null, fn };
  if (fn.code !== '87T') return [plain];
  return [
    plain,
    ...elements.flatMap((id): Variant[] => {
      const unit = find(network, 'transformer', id) ?? find(network, 'threeWindingTransformer', id);
      if (!unit || unit.tap.side === 'none') return [];
      const terminal = unit.tap.side === 'hv' ? 0 : unit.kind === 'transformer' ? 1 : 2;
      const range = unit.tap.steps * unit.tap.stepPercent;
      const isTapped = (input: string) => {
        const at = device.inputs.find((each) => each.id === input);
        return at !== undefined && terminalTowards(network, at.through, at.towards, id) === terminal;
      };
      return [-range, range].flatMap((tap): Variant[] =>
        tap === 0
          ? []
          : [
              {
                tap,
                fn: {
                  ...fn,
                  sides: fn.sides.map((side) =>
                    isTapped(side.input) ? { ...side, baseA: side.baseA * (1 + tap / 100) } : side,
                  ),
                },
              },
            ],
      );
    }),
  ];
}

const nearestOf = (list: readonly PlanePoint[]): PlanePoint | null =>
  list.reduce<PlanePoint | null>((p, q) => (p && p.multiple >= q.multiple ? p : q), null);

/**
 * Currents without load keep their shares when a fault draws less: all points move towards the origin along a ray. What is left is where the ray meets the pickup, for elements whose
 * slope it lies above.
 */
function leastShare(points: readonly ElementPoint[]): number {
  const shares = points.flatMap(({ operating, restraining, characteristic: { pickup, slope1, slope2 } }) => {
    const steepest = Math.max(slope1, slope2);
    // Above both slopes it stays above them all the way down.
    if (operating > steepest * restraining) return [pickup / operating];
    return operating > slope1 * restraining ? [pickup / operating] : [];
  });
  return shares.length > 0 ? Math.min(1, ...shares) : 1;
}

/** Largest resistance to earth, or between phases, at which a fault inside is still seen, in ohms; null where the solid one is not. By bisection to a thousandth. */
export function largestResistance(
  studies: Studies,
  state: State,
  device: Device,
  fn: DifferentialFunction,
  place: Place,
  kind: FaultKind,
): number | null {
  const study = studies.iec60909(state);
  const sees = (ohm: number): boolean => {
    const [seen] = seenUnder(study, place, [resistiveFault(kind, ohm)], [device]);
    const found = seen && elementPoints(fn, device, seen.devices[0]);
    return found ? multipleOf(found) > 1 : false;
  };
  if (!sees(0)) return null;
  let [low, high] = [0, 1];
  while (sees(high) && high < 1e5) [low, high] = [high, 2 * high];
  while (high - low > 1e-3 * high) {
    const middle = (low + high) / 2;
    if (sees(middle)) low = middle;
    else high = middle;
  }
  return low;
}
