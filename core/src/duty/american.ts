/**
 * Duties of IEEE C37.010 through a device: those of the place from the standard's own networks, times the share of the current that flows through the device
 * (as found for IEC 60909). X/R is that of the place, from the separate X and R networks.
 */
import { c37Fault, c37Kinds, type C37Kind } from '../faults/c37/study';
import type { BreakerClass } from '../faults/c37/factors';
import type { ElementId } from '../model/fields';
import type { Studies } from '../studies/studies';
import type { DutyFault } from './through';

export interface AmericanDuty {
  readonly from: DutyFault;
  /** Current through the device over that of the place. */
  readonly share: number;
  /** E/X of the interrupting and of the first-cycle network, through the device. */
  readonly symmetricalKa: number;
  readonly firstCycleKa: number;
  readonly xOverRInterrupting: number;
  readonly xOverRFirst: number;
  /** Multiplying factor for interrupting, at least 1. */
  readonly factor: number;
  /** Close and latch, a peak, by X/R. */
  readonly peakKa: number;
}

const isC37 = (kind: string): kind is C37Kind => (c37Kinds as readonly string[]).includes(kind);

export function americanDuties(
  studies: Studies,
  device: ElementId,
  faults: readonly DutyFault[],
  breaker: BreakerClass,
): AmericanDuty[] {
  return faults.flatMap((from): AmericanDuty[] => {
    const { kind, condition, side, ikA, totalA } = from;
    if (!isC37(kind) || totalA === 0) return [];
    const found = c37Fault(studies.c37({ condition }), device, side, kind, breaker);
    if (!found.ok) return [];
    const { firstCycle, interrupting } = found.fault;
    const share = ikA / totalA;
    const kilo = (ampere: number) => (share * ampere) / 1000;
    return [
      {
        from,
        share,
        symmetricalKa: kilo(interrupting.symmetricalA),
        firstCycleKa: kilo(firstCycle.symmetricalA),
        xOverRInterrupting: interrupting.xOverR,
        xOverRFirst: firstCycle.xOverR,
        factor: interrupting.factor,
        peakKa: kilo(firstCycle.exactPeakA),
      },
    ];
  });
}
