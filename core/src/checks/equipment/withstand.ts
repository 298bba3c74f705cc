/** Rated peak and short-time withstand currents of boards against the largest fault at their busbars: IEC 62271-1, 5.6 to 5.8; IEC 61439-1, 9.3. */
import { thermalCurrent } from '../../faults/iec60909/thermal';
import { faultAt } from '../../faults/iec60909/study';
import type { ElementOf } from '../../model/element';
import type { ElementId } from '../../model/fields';
import { settingsOf, ofKind } from '../../model/network';
import { nextBreakingKa, nextPeakKa } from '../../model/standardSizes';
import { checkRule, type Check, type Context, type Deciding, type Subject } from '../check';
import { ratedCheck } from './rating';

type Bus = ElementOf<'bus'>;

/** A fault at the busbars, plain data. */
export interface BoardFault {
  readonly deciding: Deciding;
  readonly ikA: number;
  readonly ipA: number;
  readonly kappa: number;
  readonly rOverX: number;
}

/** Three-phase and single-phase faults at a bus in every condition. */
export const faultsAtBus = ({ studies, conditions }: Context, bus: ElementId): BoardFault[] =>
  conditions.flatMap(({ id: condition }) =>
    (['3ph', '1ph'] as const).flatMap((kind) => {
      const result = faultAt(studies.iec60909({ condition }), bus, 0, kind);
      if (!result.ok) return [];
      const { ikA, ipA, kappa, rOverX } = result.fault;
      return [{ deciding: { condition, kind }, ikA, ipA, kappa, rOverX }];
    }),
  );

export interface Withstood {
  readonly kA: number;
  readonly rOverX: number;
  /** Over Ik″. */
  readonly factor: number;
  readonly deciding: Deciding;
}

const largest = (faults: readonly BoardFault[], ampere: (fault: BoardFault) => number): Withstood =>
  faults
    .map((fault) => ({
      kA: ampere(fault) / 1000,
      deciding: fault.deciding,
      rOverX: fault.rOverX,
      factor: ampere(fault) / fault.ikA,
    }))
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
      { kA, deciding, rOverX, factor }: Withstood,
      next: (value: number) => number,
      timeS: number | null,
    ): Check[] => {
      if (rated === null) return [];
      return [
        ratedCheck(
          context.network,
          {
            id: `${what.id} ${bus.id}`,
            rule: 'equipment.withstand',
            code: `rating.${what.id}`,
            subject: bus.id,
            name: bus.name,
            title: what.title,
            says: what.says,
            field: what.id === 'peak' ? 'peakKa' : 'shortTimeKa',
            unit: 'kA',
            rating: rated,
            duty: kA,
            deciding,
            over: what.over,
            next: (duty) => ({ value: next(duty), unit: 'kA' }),
            figures: {
              table: what.id === 'peak' ? 'making' : 'thermal',
              standard: bus.nominalKv <= 1 ? 'IEC 61439-1' : 'IEC 62271-1',
              rating: what.rating,
              symbol: what.duty,
              whole: true,
              xOverR: 1 / rOverX,
              factor: timeS === null ? factor : null,
              timeS,
            },
          },
          trace,
        ),
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
        null,
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
        bus.shortTimeS,
      ),
    ];
  },
});
