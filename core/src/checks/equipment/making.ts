/** The first peak: making current of breakers and earthing switches, close and latch, dynamic current of current transformers, peak withstand of the rest. */
import { americanDuties } from '../../duty/american';
import { endFaults, largestOf } from '../../duty/ends';
import { worstOf, type DutyFault } from '../../duty/through';
import { faultAt } from '../../faults/iec60909/study';
import type { ElementOf } from '../../model/element';
import { ofKind, settingsOf } from '../../model/network';
import { nextBreakingKa } from '../../model/standardSizes';
import { closeAndLatchFactor } from '../../ratings/american';
import { makingFactor } from '../../ratings/highVoltage';
import { makingRatio } from '../../ratings/lowVoltage';
import { formula, quantityOf, type Trace } from '../../working/trace';
import { checkRule, type Check, type Context, type Deciding, type Subject } from '../check';
import { decidedBy, faultsThrough } from './breaking';
import { ratedCheck, type NextRating, type Rated } from './rating';
import { breakerClassOf, isAmerican, makingRating, standardOf, standardTitles } from './standards';

type Switch = ElementOf<'switch'>;
type Device = Switch | ElementOf<'currentTransformer'> | ElementOf<'seriesReactor'> | ElementOf<'earthingSwitch'>;

/** Peak withstand over short-time withstand where it is not given (IEC 62271-1, 5.7; IEC 61869-2, 5.204). */
const peakRatio = (frequencyHz: number): number => (frequencyHz > 55 ? 2.6 : 2.5);

const kilo = (ampere: number): number => ampere / 1000;

export const makingRule = checkRule<Device>({
  id: 'equipment.making',
  title: 'Making and peak withstand',
  clause: 'IEC 62271-100, 5.103; IEC 60947-2; IEEE C37.010',
  advice: {
    'rating.making': 'Select a higher making current, or lower the fault level.',
    'rating.peak': 'Select a higher peak withstand current, or lower the fault level.',
  },
  subjects: ({ network }) =>
    [
      ...ofKind(network, 'switch').filter(({ type }) => type !== 'fuse'),
      ...ofKind(network, 'currentTransformer'),
      ...ofKind(network, 'seriesReactor'),
      ...ofKind(network, 'earthingSwitch'),
    ]
      .filter(isRated)
      .map((device): Subject<Device> => ({ key: device.id, value: device, on: [device] })),
  test(context, device, trace): Check[] {
    switch (device.kind) {
      case 'switch':
        return device.type === 'breaker' || device.type === 'recloser'
          ? breaker(context, device, trace)
          : withstanding(context, device, device.makingKa, device.shortTimeKa, 'makingKa', trace);
      case 'currentTransformer':
        return withstanding(context, device, device.dynamicKa, device.shortTimeKa, 'dynamicKa', trace);
      case 'seriesReactor':
        return inSeries(context, device, trace);
      case 'earthingSwitch':
        return ontoFault(context, device, trace);
    }
  },
});

function isRated(device: Device): boolean {
  switch (device.kind) {
    case 'switch':
      return device.makingKa !== null || device.shortTimeKa !== null || device.breakingKa !== null;
    case 'currentTransformer':
      return device.dynamicKa !== null || device.shortTimeKa !== null;
    case 'seriesReactor':
      return device.peakKa !== null;
    case 'earthingSwitch':
      return device.makingKa !== null;
  }
}

function breaker(context: Context, device: Switch, trace: Trace): Check[] {
  const faults = faultsThrough(context, device.id);
  if (faults.length === 0) return [];
  const { network, studies } = context;
  const { frequencyHz } = settingsOf(network);
  const standard = standardOf(device, faults[0].fault.nominalKv);
  const rating = makingRating(device, standard, frequencyHz);
  if (!rating) return [];
  trace.section(device.name, device.id);
  const next = (duty: number): NextRating => {
    const factor =
      standard === 'iec62271'
        ? makingFactor(frequencyHz, device.timeConstantMs)
        : isAmerican(standard)
          ? closeAndLatchFactor
          : null;
    // Low-voltage ratios follow the breaking capacity itself.
    const breaking = factor === null ? nextLowVoltage(duty) : nextBreakingKa((duty / factor) * (1 - 1e-9));
    const value = Number(((factor ?? makingRatio(breaking).n) * breaking).toPrecision(4));
    return { value, unit: 'kA', with: [{ path: 'breakingKa', says: 'breaking', value: breaking }] };
  };
  const rated = {
    id: `making ${device.id}`,
    rule: 'equipment.making',
    code: 'rating.making',
    subject: device.id,
    name: device.name,
    title: isAmerican(standard) ? 'Close and latch' : 'Making current',
    says: isAmerican(standard) ? 'close-and-latch rating' : 'making current',
    field: 'makingKa',
    unit: 'kA',
    rating: rating.kA,
    next,
  };
  if (isAmerican(standard)) {
    const worst = worstOf(americanDuties(studies, device.id, faults, breakerClassOf(device)), ({ peakKa }) => peakKa);
    if (!worst) return [];
    const { from, peakKa, xOverRFirst, firstCycleKa } = worst;
    return [
      ratedCheck(
        network,
        {
          ...rated,
          duty: peakKa,
          deciding: decidedBy(from),
          clause: rating.assumed ? 'IEEE C37.06 (factor as remembered)' : 'IEEE C37.010',
          figures: {
            table: 'making',
            standard: standardTitles[standard],
            rating: 'peak',
            symbol: 'Ipeak',
            whole: from.whole,
            xOverR: xOverRFirst,
            factor: peakKa / firstCycleKa,
            assumed: rating.assumed,
          },
        },
        trace,
      ),
    ];
  }
  const worst = worstOf(faults, ({ ipA }) => ipA)!;
  peakStep(worst, trace);
  return [
    ratedCheck(
      network,
      {
        ...rated,
        duty: kilo(worst.ipA),
        deciding: decidedBy(worst),
        clause: rating.assumed
          ? `${standard === 'iec62271' ? 'IEC 62271-100, 5.103' : 'IEC 60947-2, table 2'} (factor as remembered)`
          : standardTitles[standard],
        figures: {
          table: 'making',
          standard: standardTitles[standard],
          rating: standard === 'iec62271' ? 'ip' : 'Icm',
          symbol: 'ip',
          whole: worst.whole,
          xOverR: 1 / worst.rOverX,
          factor: worst.ipA / worst.ikA,
          assumed: rating.assumed,
        },
      },
      trace,
    ),
  ];
}

/** The next low-voltage breaking capacity whose making capacity reaches a peak. */
function nextLowVoltage(peakKa: number): number {
  for (let kA = nextBreakingKa(peakKa / 2.2); ; kA = nextBreakingKa(kA * 1.01))
    if (makingRatio(kA).n * kA >= peakKa) return kA;
}

function peakStep({ kappa, ikA, ipA }: DutyFault, trace: Trace): void {
  trace.step(
    'ip',
    formula`${quantityOf('κ', ipA / (Math.SQRT2 * ikA))} · √(2) · ${quantityOf('Ik″', kilo(ikA), 'kA')}`,
    kilo(ipA),
    'kA',
    'IEC 60909-0, 8.1.1',
    ipA < kappa * Math.SQRT2 * ikA * (1 - 1e-9) ? 'no more than at the place as a whole' : undefined,
  );
}

/** What only has to withstand the peak that flows through it. */
function withstanding(
  context: Context,
  device: Switch | ElementOf<'currentTransformer'>,
  peakKa: number | null,
  shortTimeKa: number | null,
  field: string,
  trace: Trace,
): Check[] {
  const faults = faultsThrough(context, device.id);
  const worst = worstOf(faults, ({ ipA }) => ipA);
  if (!worst) return [];
  const { network } = context;
  const ratio = peakRatio(settingsOf(network).frequencyHz);
  const rating = peakKa ?? (shortTimeKa === null ? null : ratio * shortTimeKa);
  if (rating === null) return [];
  trace.section(device.name, device.id);
  peakStep(worst, trace);
  const isCt = device.kind === 'currentTransformer';
  return [
    peakCheck(
      context,
      device,
      {
        title: isCt ? 'Dynamic current' : 'Peak withstand current',
        says: isCt ? 'rated dynamic current' : 'peak withstand current',
        field,
        rating,
        duty: kilo(worst.ipA),
        deciding: decidedBy(worst),
        figures: {
          table: 'making',
          standard: isCt ? 'IEC 61869-2' : 'IEC 62271-1',
          rating: isCt ? 'Idyn' : 'Ip',
          symbol: 'ip',
          whole: worst.whole,
          xOverR: 1 / worst.rOverX,
          factor: worst.ipA / worst.ikA,
          assumed: peakKa === null ? `${ratio} × ${isCt ? 'Ith' : 'Ik'}` : null,
        },
      },
      trace,
    ),
  ];
}

function peakCheck(
  { network }: Context,
  device: Device,
  rated: Pick<Rated, 'title' | 'says' | 'field' | 'rating' | 'duty' | 'deciding' | 'figures'>,
  trace: Trace,
): Check {
  const ratio = peakRatio(settingsOf(network).frequencyHz);
  return ratedCheck(
    network,
    {
      id: `peak ${device.id}`,
      rule: 'equipment.making',
      code: 'rating.peak',
      subject: device.id,
      name: device.name,
      unit: 'kA',
      next: (duty) => {
        const shortTime = nextBreakingKa((duty / ratio) * (1 - 1e-9));
        const value = Number((ratio * shortTime).toPrecision(4));
        return { value, unit: 'kA', with: [{ path: 'shortTimeKa', says: 'short-time', value: shortTime }] };
      },
      ...rated,
    },
    trace,
  );
}

/** Largest peak of solid faults at a terminal. */
function peakAt({ studies, conditions }: Context, id: Device['id'], terminal: number) {
  return worstOf(
    conditions.flatMap(({ id: condition }) =>
      (['3ph', '1ph'] as const).flatMap((kind) => {
        const result = faultAt(studies.iec60909({ condition }), id, terminal, kind);
        return result.ok ? [{ fault: result.fault, deciding: { condition, kind } satisfies Deciding }] : [];
      }),
    ),
    ({ fault }) => fault.ipA,
  );
}

/** Through a reactor for a fault at either end. */
function inSeries(context: Context, device: ElementOf<'seriesReactor'>, trace: Trace): Check[] {
  const { studies, conditions } = context;
  const found = endFaults(studies, conditions, device.id, [0, 1]).flatMap(({ condition, kind, fault, into, at }) => {
    const current = into[1 - at];
    if (!current) return [];
    const ikA = largestOf(current);
    return [{ ikA, ipA: fault.kappa * Math.SQRT2 * ikA, fault, deciding: { condition, kind } satisfies Deciding }];
  });
  const worst = worstOf(found, ({ ipA }) => ipA);
  if (!worst || device.peakKa === null) return [];
  trace.section(device.name, device.id);
  const { fault, deciding, ipA, ikA } = worst;
  return [
    peakCheck(
      context,
      device,
      {
        title: 'Mechanical short-circuit current',
        says: 'mechanical short-circuit current',
        field: 'peakKa',
        rating: device.peakKa,
        duty: kilo(ipA),
        deciding,
        figures: {
          table: 'making',
          standard: 'IEC 60076-6',
          rating: 'ip',
          symbol: 'ip',
          whole: false,
          xOverR: 1 / fault.rOverX,
          factor: ipA / ikA,
        },
      },
      trace,
    ),
  ];
}

/** Closed onto a live circuit it makes the whole current of the place. */
function ontoFault(context: Context, device: ElementOf<'earthingSwitch'>, trace: Trace): Check[] {
  const worst = peakAt(context, device.id, 0);
  if (!worst || device.makingKa === null) return [];
  trace.section(device.name, device.id);
  const { fault, deciding } = worst;
  return [
    {
      ...peakCheck(
        context,
        device,
        {
          title: 'Making current',
          says: 'making current',
          field: 'makingKa',
          rating: device.makingKa,
          duty: kilo(fault.ipA),
          deciding,
          figures: {
            table: 'making',
            standard: 'IEC 62271-102',
            rating: 'ip',
            symbol: 'ip',
            whole: true,
            xOverR: 1 / fault.rOverX,
            factor: fault.ipA / fault.ikA,
          },
        },
        trace,
      ),
      code: 'rating.making',
    },
  ];
}
