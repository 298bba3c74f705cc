/**
 * What flows through a device towards what it protects and the other way, for faults all around it: whether a direction is needed, and at which angle. In a ring or
 * between parallel paths a pickup may have no room between the two.
 */
import type { Iec60909Study } from '../faults/iec60909/study';
import { terminalPlace } from '../faults/iec60909/study';
import type { FaultKind } from '../faults/kinds';
import type { Place } from '../faults/solution/solve';
import { angle, scale } from '../linear/complex';
import type { Measured } from '../model/chart';
import type { Condition } from '../model/condition';
import type { ElementId } from '../model/fields';
import { quantityOfMode } from '../protection/curve';
import { currentOf, devicesOf, mainInput, timeCurrents, type Device } from '../protection/device';
import { closeInPlace, farEnds } from '../protection/zone';
import { figuresOf } from '../protection/seen';
import { turned } from '../sequence/components';
import { loadRanges } from '../studies/loads';
import { look } from '../studies/seen';
import type { Studies } from '../studies/studies';
import { neighboursFrom } from './chain';
import { kindsFor, nothingA, placeName } from './figures';

/** One current through a device, and the fault that it flows for. */
export interface DirectedCurrent {
  readonly ampere: number;
  readonly kind: FaultKind;
  readonly condition: ElementId;
  readonly place: ElementId;
  readonly placeName: string;
  /** By how much the current lags the driving voltage of the fault, in degrees. */
  readonly lagDeg: number;
}

export interface DirectedRange {
  readonly least: DirectedCurrent;
  readonly most: DirectedCurrent;
}

export type DirectionNeed = 'none' | 'pickup' | 'direction';

export interface Directions {
  readonly device: Device;
  readonly mode: Exclude<Measured, 'negative'>;
  /** Towards the protected side: faults in what the device protects. */
  readonly forward: DirectedRange | null;
  /** Away from it: faults behind. */
  readonly reverse: DirectedRange | null;
  /** Largest load, in amperes; null where the load flow knows none. */
  readonly loadA: number | null;
  /** Lowest pickup that heeds no direction; null where every function of the quantity does. */
  readonly pickupA: number | null;
  readonly directional: boolean;
  /**
   * `none`: nothing flows backward that a pickup by load and smallest fault would see. `pickup`: the lowest pickup sees backward currents, a higher one still sees the
   * smallest fault ahead. `direction`: no pickup lies above the largest current backward and below the smallest ahead.
   */
  readonly needs: DirectionNeed;
  /** Characteristic angle that suits a polarisation by the voltage between the other phases, in degrees; null without currents ahead. */
  readonly angleDeg: number | null;
}

/** A pickup should lie so far above what must not be seen, and so far below what must. */
const clear = 1.2;

/** Directions of every device that opens something, one of each quantity asked. Yields the share that is done. */
export function* directions(
  studies: Studies,
  conditions: readonly Condition[],
  modes: readonly Directions['mode'][] = ['phase', 'earth'],
): Generator<number, readonly Directions[]> {
  const { network } = studies;
  const devices = devicesOf(network).filter((device) => device.inputs.length > 0 && device.opens.length > 0);
  const around = new Map<ElementId, Set<ElementId>>();
  for (const { downstream, upstream } of neighboursFrom(studies, conditions))
    around.set(downstream, (around.get(downstream) ?? new Set()).add(upstream));
  const byId = new Map(devices.map((device) => [device.id, device]));
  const loads = loadRanges(studies, conditions);
  const result: Directions[] = [];
  for (const [k, device] of devices.entries()) {
    yield k / devices.length;
    const near = [...(around.get(device.id) ?? [])].flatMap((id) => byId.get(id) ?? []);
    for (const mode of modes) {
      const functions = timeCurrents(device).filter(({ quantity }) => quantity === quantityOfMode[mode]);
      if (functions.length === 0) continue;
      const seen = conditions.flatMap((condition) => currentsIn(studies, condition, device, near, mode));
      const ahead = seen.filter((each) => each.ahead);
      // The smallest that it must see lies in what it protects itself.
      const forward = rangeOf(
        ahead,
        ahead.filter(({ own }) => own),
      );
      const reverse = rangeOf(seen.filter((each) => !each.ahead));
      const plain = functions.filter(({ measure }) => !measure).map(({ pickupA }) => pickupA);
      const pickupA = plain.length > 0 ? Math.min(...plain) : null;
      result.push({
        device,
        mode,
        forward,
        reverse,
        loadA: (mode === 'phase' && loads.get(`${mainInput(device)!.through}:through`)?.largest.ampere) || null,
        pickupA,
        directional: functions.some(({ measure }) => measure !== undefined),
        needs: directionRoom(
          reverse?.most.ampere ?? 0,
          forward?.least.ampere ?? 0,
          pickupA ?? Math.min(...functions.map((fn) => fn.pickupA)),
        ),
        angleDeg: forward && mode === 'phase' ? angleFor(forward) : null,
      });
    }
  }
  return result;
}

/** What tells the largest current backward from the smallest ahead, all in amperes. */
export function directionRoom(behindA: number, aheadA: number, pickupA: number): DirectionNeed {
  if (behindA * clear <= pickupA) return 'none';
  return behindA <= largestBehind(aheadA, pickupA) ? 'pickup' : 'direction';
}

/** Up to so much backward the pickup, or a higher one, leaves room on both sides. */
export const largestBehind = (aheadA: number, pickupA: number): number =>
  Math.max(pickupA / clear, aheadA / clear ** 2);

/** Quadrature connection: the voltage between the other two phases lags by 90°, so the current of a fault lies ahead of it by 90° less its lag. To 5°. */
function angleFor({ least, most }: DirectedRange): number {
  const mean = (least.lagDeg + most.lagDeg) / 2;
  return Math.round((90 - mean) / 5) * 5;
}

interface Sided extends DirectedCurrent {
  readonly ahead: boolean;
  readonly own: boolean;
}

/** Of `least` the smallest, of all the largest. */
function rangeOf(all: readonly Sided[], least = all): DirectedRange | null {
  if (all.length === 0 || least.length === 0) return null;
  return {
    least: least.reduce((p, q) => (q.ampere < p.ampere ? q : p)),
    most: all.reduce((p, q) => (q.ampere > p.ampere ? q : p)),
  };
}

interface Around {
  readonly place: Place;
  /** In what the device itself protects. */
  readonly own: boolean;
}

/** Places around a device: beyond it, at the far ends of what it protects, behind it, and in what its neighbours protect. */
function placesAround(study: Iec60909Study, device: Device, near: readonly Device[]): Around[] {
  const { through, towards } = mainInput(device)!;
  const zoneOf = (each: Device): Place[] => [
    ...[closeInPlace(each)].filter((place) => place !== null),
    ...farEnds(study, each).map(({ element, terminal }) => terminalPlace(element, terminal)),
  ];
  return [
    ...zoneOf(device).map((place) => ({ place, own: true })),
    ...[terminalPlace(through, 1 - towards), ...near.flatMap(zoneOf)].map((place) => ({ place, own: false })),
  ];
}

function currentsIn(
  studies: Studies,
  { id: condition }: Condition,
  device: Device,
  near: readonly Device[],
  mode: Directions['mode'],
): Sided[] {
  const study = studies.iec60909({ condition });
  const { through, towards } = mainInput(device)!;
  const kinds = kindsFor(mode);
  const { topology, lag } = study.assembly;
  const node = topology.nodeAt(through, 0);
  if (node === undefined) return [];
  return placesAround(study, device, near).flatMap(({ place, own }) =>
    look(study, place, kinds, { through: [through] }).flatMap((looked, k): Sided[] => {
      if (!looked.ok) return [];
      const { fault } = looked.seen;
      const components = looked.seen.through[0];
      // A fault inside a power-station unit stands in a network of its own.
      if (!components || fault.study !== study) return [];
      const ampere = currentOf(figuresOf(components), quantityOfMode[mode]);
      if (ampere <= nothingA) return [];
      // In the phase position of the fault, so that the groups of transformers in between do not count.
      const at = turned(components, lag[fault.node] - lag[node]);
      const along = mode === 'phase' ? at.positive : at.zero;
      const drawn = mode === 'phase' ? fault.components.positive : fault.components.zero;
      const current = towards === 1 ? along : scale(along, -1);
      // A fault draws its current: what flows ahead has the phase position of what the fault carries.
      const ahead = current.re * drawn.re + current.im * drawn.im > 0;
      const lagDeg = (-angle(current) * 180) / Math.PI;
      const { element } = place;
      return [{ ampere, kind: kinds[k], condition, place: element, placeName: placeName(fault), lagDeg, ahead, own }];
    }),
  );
}
