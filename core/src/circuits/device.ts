/** When a protective device of a low-voltage circuit has certainly cut off, and what it lets through: bounds of the product standards, and values of the maker where they are typed. */
import { peakFactor } from '../faults/iec60909/peak';
import { heatOfDc } from '../faults/iec60909/thermal';

/** gG fuse by its gates (IEC 60269-1, 2.1 of table 2): largest currents of 5 s and 0.1 s. */
export interface FuseDevice {
  readonly kind: 'gG';
  readonly ratedA: number;
  readonly max5sA: number;
  readonly max01sA: number;
}
/** Miniature circuit breaker, IEC 60898-1. */
export interface MiniatureDevice {
  readonly kind: 'mcb';
  readonly type: 'B' | 'C' | 'D';
  readonly ratedA: number;
  readonly letThroughA2s: number | null;
}
/** Circuit breaker with releases, IEC 60947-2. */
export interface BreakerDevice {
  readonly kind: 'breaker';
  readonly ratedA: number;
  readonly irA: number;
  /** At 6·Ir. */
  readonly longS: number;
  readonly shortTime: { readonly isdA: number; readonly tolerance: number; readonly clearS: number } | null;
  readonly instantaneous: { readonly iiA: number; readonly tolerance: number; readonly clearS: number } | null;
  readonly letThroughA2s: number | null;
}
export type CircuitDevice = FuseDevice | MiniatureDevice | BreakerDevice;

const certainTrip = { B: 5, C: 10, D: 20 } as const;
/** Bands of long-time releases end so much later, and begin certainly at so much above. */
const longTolerance = 1.2;
const longFrom = 1.3;

const fuseSlope = ({ max5sA, max01sA }: FuseDevice): number => Math.log(50) / Math.log(max01sA / max5sA);

/** Latest time of cut-off in s; null where it is not certain. */
export function cutOffS(device: CircuitDevice, ampere: number): number | null {
  switch (device.kind) {
    case 'gG':
      if (ampere < device.max5sA) return null;
      if (ampere >= device.max01sA) return 0.1;
      return 5 * (ampere / device.max5sA) ** -fuseSlope(device);
    case 'mcb':
      return ampere >= certainTrip[device.type] * device.ratedA ? 0.1 : null;
    case 'breaker': {
      const { irA, longS, shortTime, instantaneous } = device;
      if (instantaneous && ampere >= instantaneous.iiA * (1 + instantaneous.tolerance)) return instantaneous.clearS;
      if (shortTime && ampere >= shortTime.isdA * (1 + shortTime.tolerance)) return shortTime.clearS;
      return ampere >= longFrom * irA ? longTolerance * longS * ((6 * irA) / ampere) ** 2 : null;
    }
  }
}

/** Smallest current that is certainly cut off within so many seconds; null where none is. */
export function operatingA(device: CircuitDevice, seconds: number): number | null {
  switch (device.kind) {
    case 'gG':
      if (seconds < 0.1) return null;
      return seconds >= 5 ? device.max5sA : device.max5sA * (5 / seconds) ** (1 / fuseSlope(device));
    case 'mcb':
      return seconds >= 0.1 ? certainTrip[device.type] * device.ratedA : null;
    case 'breaker': {
      const { irA, longS, shortTime, instantaneous } = device;
      return Math.min(
        ...(instantaneous && instantaneous.clearS <= seconds
          ? [instantaneous.iiA * (1 + instantaneous.tolerance)]
          : []),
        ...(shortTime && shortTime.clearS <= seconds ? [shortTime.isdA * (1 + shortTime.tolerance)] : []),
        Math.max(longFrom * irA, 6 * irA * Math.sqrt((longTolerance * longS) / seconds)),
      );
    }
  }
}

/** Heat in A²s until the cut-off, with the offset of the current where that is early; null where the cut-off is not certain. */
export function letThroughA2s(
  device: CircuitDevice,
  ampere: number,
  offset: { readonly rOverX: number; readonly frequencyHz: number },
): number | null {
  const seconds = cutOffS(device, ampere);
  switch (device.kind) {
    case 'gG':
      if (seconds === null) return null;
      return ampere >= device.max01sA ? 0.1 * device.max01sA ** 2 : ampere ** 2 * seconds;
    case 'mcb':
      return seconds === null ? null : Math.min(0.1 * ampere ** 2, device.letThroughA2s ?? Infinity);
    case 'breaker': {
      if (seconds === null) return null;
      const m = seconds < 0.1 ? heatOfDc(peakFactor(offset.rOverX), offset.frequencyHz, seconds) : 0;
      const heat = ampere ** 2 * seconds * (1 + m);
      const atOnce = device.instantaneous !== null && seconds === device.instantaneous.clearS;
      return atOnce ? Math.min(heat, device.letThroughA2s ?? Infinity) : heat;
    }
  }
}

/** Current at which it protects against overload, and the conventional one at which it certainly trips (IEC 60364-4-43, 433.1). */
export function overloadOf(device: CircuitDevice): { readonly referenceA: number; readonly tripsA: number } {
  switch (device.kind) {
    case 'gG':
      return { referenceA: device.ratedA, tripsA: (device.ratedA < 16 ? 1.9 : 1.6) * device.ratedA };
    case 'mcb':
      return { referenceA: device.ratedA, tripsA: 1.45 * device.ratedA };
    case 'breaker':
      return { referenceA: device.irA, tripsA: 1.3 * device.irA };
  }
}

/** Residual-current device (IEC 61008-1, table 1, as remembered): longest time by the multiple of its rated residual current. */
export function residualS(ratedA: number, isSelective: boolean, ampere: number): number | null {
  const multiple = ampere / ratedA;
  if (multiple < 1) return null;
  const [one, two, five] = isSelective ? [0.5, 0.2, 0.15] : [0.3, 0.15, 0.04];
  return multiple >= 5 ? five : multiple >= 2 ? two : one;
}
