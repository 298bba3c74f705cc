/** Rated peak and short-time withstand currents of boards against the largest fault at their busbars: IEC 62271-1, 5.6 to 5.8; IEC 61439-1, 9.3. */
import { thermalCurrent } from '../../faults/iec60909/thermal';
import { faultAt } from '../../faults/iec60909/study';
import type { ElementOf } from '../../model/element';
import type { ElementId } from '../../model/fields';
import { settingsOf, ofKind } from '../../model/network';
import { nextBreakingKa, nextPeakKa } from '../../model/standardSizes';
import { formula, given, quantityOf } from '../../working/trace';
import { checkRule, digits, type Check, type Context, type Deciding, type Subject } from '../check';

type Bus = ElementOf<'bus'>;

/** A fault at the busbars, plain data. */
export interface BoardFault {
  readonly deciding: Deciding;
  readonly ikA: number;
  readonly ipA: number;
  readonly kappa: number;
}

/** Three-phase and single-phase faults at a bus in every condition. */
export const faultsAtBus = ({ studies, conditions }: Context, bus: ElementId): BoardFault[] =>
  conditions.flatMap(({ id: condition }) =>
    (['3ph', '1ph'] as const).flatMap((kind) => {
      const result = faultAt(studies.iec60909({ condition }), bus, 0, kind);
      if (!result.ok) return [];
      const { ikA, ipA, kappa } = result.fault;
      return [{ deciding: { condition, kind }, ikA, ipA, kappa }];
    }),
  );

export interface Withstood {
  readonly kA: number;
  readonly deciding: Deciding;
}

const largest = (faults: readonly BoardFault[], ampere: (fault: BoardFault) => number): Withstood =>
  faults
    .map((fault) => ({ kA: ampere(fault) / 1000, deciding: fault.deciding }))
    .reduce((best, each) => (each.kA > best.kA ? each : best));

/** The largest ip, in kA; of one fault at least. */
export const largestPeak = (faults: readonly BoardFault[]): Withstood => largest(faults, ({ ipA }) => ipA);

/** The largest Ith over a duration, in kA, the a.c. component not falling (n = 1): no smaller than with it (IEC 60909-0, 11). */
export const largestThermal = (faults: readonly BoardFault[], frequencyHz: number, durationS: number): Withstood =>
  largest(faults, ({ ikA, kappa }) => thermalCurrent(ikA, kappa, 1, frequencyHz, durationS).ithA);

export const withstandRule = checkRule<Bus>({
  id: 'equipment.withstand',
  title: 'Board: peak and short-time withstand',
  clause: 'IEC 62271-1, 5.6 to 5.8',
  advice: {
    'rating.peak': 'Select a board of a higher peak withstand current, or lower the fault level.',
    'rating.shortTime': 'Select a board of a higher short-time withstand current, or lower the fault level.',
  },
  subjects: ({ network }) =>
    ofKind(network, 'bus')
      .filter(({ peakKa, shortTimeKa }) => peakKa !== null || shortTimeKa !== null)
      .map((bus): Subject<Bus> => ({ key: bus.id, value: bus, on: [bus] })),
  test(context, bus, trace): Check[] {
    const faults = faultsAtBus(context, bus.id);
    if (faults.length === 0) return [];
    trace.section(bus.name, bus.id);
    const compared = (
      what: { id: 'peak' | 'shortTime'; title: string; rating: string; duty: string; says: string; over: string },
      rated: number | null,
      { kA, deciding }: Withstood,
      next: (value: number) => number,
    ): Check[] => {
      if (rated === null) return [];
      const field = what.id === 'peak' ? 'peakKa' : 'shortTimeKa';
      const rating = given(what.rating, rated, 'kA', bus.id, field);
      trace.step('ΔI', formula`${rating} - ${quantityOf(what.duty, kA, 'kA')}`, rated - kA, 'kA');
      const holds = kA <= rated;
      const value = next(kA);
      return [
        {
          id: `${what.id} ${bus.id}`,
          rule: 'equipment.withstand',
          code: `rating.${what.id}`,
          subject: bus.id,
          title: what.title,
          value: rated,
          bound: kA,
          unit: 'kA',
          sense: 'atLeast',
          deciding,
          verdict: holds ? 'holds' : 'short',
          severity: 'error',
          message: `${bus.name}: ${what.says} ${rated} kA is ${holds ? 'not ' : ''}below ${what.duty} ${digits(kA)} kA${what.over}`,
          field,
          ...(!holds && { proposal: { path: field, value, text: `${value} kA` } }),
        },
      ];
    };
    return [
      ...compared(
        {
          id: 'peak',
          title: 'Peak withstand current',
          rating: 'Ip',
          duty: 'ip',
          says: 'rated peak withstand current',
          over: '',
        },
        bus.peakKa,
        largestPeak(faults),
        nextPeakKa,
      ),
      ...compared(
        {
          id: 'shortTime',
          title: 'Short-time withstand current',
          rating: 'Ik',
          duty: 'Ith',
          says: 'rated short-time withstand current',
          over: ` over ${bus.shortTimeS} s`,
        },
        bus.shortTimeKa,
        largestThermal(faults, settingsOf(context.network).frequencyHz, bus.shortTimeS),
        nextBreakingKa,
      ),
    ];
  },
});
