/**
 * Breaking: breakers by IEC 62271-100 with the d.c. component, IEC 60947-2 with Icu and Ics, IEEE C37.010 and C37.13; fuses and contactors by what they break,
 * fuses by their minimum breaking current too.
 */
import { breakingDuties, dutyFaults, worstOf, type DutyFault } from '../../duty/through';
import { americanDuties, type AmericanDuty } from '../../duty/american';
import { deviceFigures } from '../../grading/figures';
import { usualOpeningS } from '../../protection/device';
import { terminalPlace } from '../../faults/iec60909/study';
import { largestPhase } from '../../faults/solution/contributions';
import type { ElementOf } from '../../model/element';
import type { Partner } from '../../model/library';
import { ofKind, settingsOf, type Network } from '../../model/network';
import { partnerOf } from '../../model/partners';
import { toPhases } from '../../sequence/components';
import { look } from '../../studies/seen';
import { nextBreakingKa } from '../../model/standardSizes';
import { deviceFrom } from '../../protection/device';
import {
  closeAndLatchFactor,
  lowVoltageFactor,
  mouldedFactor,
  mouldedTestPowerFactor,
  totalInterrupting,
} from '../../ratings/american';
import { dcDuty, makingFactor, networkTimeConstantMs } from '../../ratings/highVoltage';
import { makingRatio } from '../../ratings/lowVoltage';
import { formula, quantityOf, type Trace } from '../../working/trace';
import { checkRule, digits, type Check, type Context, type Deciding, type Subject } from '../check';
import { ratedCheck, ratingVerdict, type NextRating } from './rating';
import { breakerClassOf, isAmerican, standardOf, standardTitles, type Standard } from './standards';

type Switch = ElementOf<'switch'>;

const breaks = ({ type, breakingKa }: Switch): boolean =>
  breakingKa !== null && type !== 'disconnector' && type !== 'link';

const kilo = (ampere: number): number => ampere / 1000;
export const decidedBy = ({ condition, kind }: DutyFault): Deciding => ({ condition, kind });

/** Faults through a device, as the project wants them counted. */
export const faultsThrough = ({ studies, conditions, network }: Context, id: Switch['id']): DutyFault[] =>
  dutyFaults(studies, conditions, id, settingsOf(network).ratingLimits.duty);

/** The largest initial current through a device, in every condition; null where none flows. */
export function largestBreaking(context: Context, device: Switch): { kA: number; condition: Switch['id'] } | null {
  const worst = worstOf(faultsThrough(context, device.id), ({ ikA }) => ikA);
  return worst ? { kA: kilo(worst.ikA), condition: worst.condition } : null;
}

/** From the fault until contacts part. */
export const partingS = ({ openingTimeS }: Switch, relayMs: number): number =>
  (openingTimeS ?? usualOpeningS) + relayMs / 1000;

export const breakingRule = checkRule<Switch>({
  id: 'equipment.breaking',
  title: 'Breaking',
  clause: 'IEC 62271-100; IEC 60947-2; IEEE C37.010, C37.13',
  advice: {
    'rating.breaking': 'Select a higher breaking capacity, or lower the fault level.',
    'rating.dc': 'Select a breaker of a longer rated time constant or a higher breaking current, or trip later.',
    'rating.service': 'After such a fault the breaker must be examined: select a higher service breaking capacity.',
    'rating.minimumBreaking': 'Select a full-range fuse, or protect the low currents otherwise.',
  },
  subjects: ({ network }) =>
    ofKind(network, 'switch')
      .filter(breaks)
      .map((device): Subject<Switch> => ({
        key: device.id,
        value: device,
        on: [device, ...partnersAbove(network, device).flatMap(({ above, partner }) => [above, partner.backupKa])],
      })),
  test(context, device, trace): Check[] {
    const faults = faultsThrough(context, device.id);
    if (faults.length === 0) return [];
    trace.section(device.name, device.id);
    const standard = standardOf(device, faults[0].fault.nominalKv);
    if (device.type === 'fuse')
      return [
        ...plainly(context, device, faults, 'IEC 60282-1; IEC 60269-1', trace),
        ...leastOf(context, device, trace),
      ];
    if (device.type === 'contactor') return plainly(context, device, faults, 'IEC 60947-4-1', trace);
    if (isAmerican(standard)) return american(context, device, faults, standard, trace);
    return standard === 'iec60947'
      ? lowVoltage(context, device, faults, trace)
      : highVoltage(context, device, faults, trace);
  },
});

const common = (device: Switch) => ({
  rule: 'equipment.breaking',
  code: 'rating.breaking',
  subject: device.id,
  name: device.name,
  title: 'Breaking capacity',
  says: 'breaking capacity',
  field: 'breakingKa',
  unit: 'kA',
});

/** The next standard breaking current; what of the other ratings goes with it. */
const nextWith =
  (more: (kA: number) => NextRating['with']) =>
  (duty: number): NextRating => {
    const value = nextBreakingKa(duty);
    return { value, unit: 'kA', with: more(value) };
  };

function plainly(
  { network }: Context,
  device: Switch,
  faults: readonly DutyFault[],
  standard: string,
  trace: Trace,
): Check[] {
  const worst = worstOf(faults, ({ ikA }) => ikA)!;
  return [
    ratedCheck(
      network,
      {
        ...common(device),
        id: `breaking ${device.id}`,
        rating: device.breakingKa!,
        duty: kilo(worst.ikA),
        deciding: decidedBy(worst),
        next: nextWith(() => []),
        figures: {
          table: 'breaking',
          standard,
          rating: 'I',
          symbol: 'Ik″',
          whole: worst.whole,
          xOverR: 1 / worst.rOverX,
        },
      },
      trace,
    ),
  ];
}

function highVoltage(context: Context, device: Switch, faults: readonly DutyFault[], trace: Trace): Check[] {
  const { network } = context;
  const rated = device.breakingKa!;
  const { relayMs } = settingsOf(network).ratingLimits;
  const timeS = partingS(device, relayMs);
  const { frequencyHz } = settingsOf(network);
  const { symmetrical: worst, total: byTotal } = breakingDuties(faults, timeS)!;
  const breaking = ratedCheck(
    network,
    {
      ...common(device),
      id: `breaking ${device.id}`,
      rating: rated,
      duty: kilo(worst.ibA),
      deciding: decidedBy(worst),
      clause: 'IEC 62271-100, 5.101',
      next: nextWith((kA) => [
        { path: 'makingKa', says: 'making', value: makingFactor(frequencyHz, device.timeConstantMs) * kA },
        { path: 'shortTimeKa', says: 'short-time', value: kA },
      ]),
      figures: {
        table: 'breaking',
        standard: standardTitles.iec62271,
        rating: 'Isc',
        symbol: 'Ib',
        whole: worst.whole,
        xOverR: 1 / worst.rOverX,
        dcPercent: 100 * worst.dcShare,
        timeS,
        ...(device.openingTimeS === null && { assumed: `opening time ${usualOpeningS} s` }),
      },
    },
    trace,
  );
  // The total current decides; where only the percentage is beyond the rated one, at less than the rated current, it is told as such.
  const xOverR = (2 * Math.PI * frequencyHz * timeS) / -Math.log(Math.max(byTotal.dcShare, 1e-12));
  const dc = dcDuty({
    partingMs: 1000 * timeS,
    timeConstantMs: device.timeConstantMs,
    xOverR,
    frequencyHz,
    breaking: kilo(byTotal.ibA),
    rated,
  });
  const [duty, total] = [quantityOf('Ib', kilo(byTotal.ibA), 'kA'), quantityOf('idc/îac', dc.duty)];
  trace.step('Itotal', formula`${duty} · √(1 + 2 · ${total}^2)`, dc.dutyAsymmetric, 'kA', 'IEC 62271-100, 5.101');
  trace.step(
    'Itotal rated',
    formula`${quantityOf('Isc', rated, 'kA')} · √(1 + 2 · ${quantityOf('rated idc/îac', dc.rated)}^2)`,
    dc.ratedAsymmetric,
    'kA',
    'IEC 62271-100, 5.102',
  );
  const utilisationPercent = (100 * dc.dutyAsymmetric) / dc.ratedAsymmetric;
  const byCurrent = ratingVerdict(network, utilisationPercent);
  const beyond = dc.duty > dc.rated;
  const verdict = byCurrent === 'holds' && beyond && utilisationPercent > 80 ? 'doubtful' : byCurrent;
  const percent = (share: number) => `${digits(100 * share)} %`;
  const tau = digits(networkTimeConstantMs(xOverR, frequencyHz));
  return [
    breaking,
    {
      id: `dc ${device.id}`,
      rule: 'equipment.breaking',
      code: 'rating.dc',
      subject: device.id,
      title: 'Breaking with d.c.',
      value: dc.ratedAsymmetric,
      bound: dc.dutyAsymmetric,
      unit: 'kA',
      sense: 'atLeast',
      deciding: decidedBy(byTotal),
      verdict,
      severity: verdict === 'short' ? 'error' : 'warning',
      message:
        `${device.name}: total breaking current ${digits(dc.dutyAsymmetric)} kA is ${dc.dutyAsymmetric > dc.ratedAsymmetric ? '' : 'not '}above ${digits(dc.ratedAsymmetric)} kA; ` +
        `d.c. component ${percent(dc.duty)} (time constant ${tau} ms), rated ${percent(dc.rated)} (${device.timeConstantMs} ms), ${digits(1000 * timeS)} ms after the fault`,
      field: 'timeConstantMs',
      duty: {
        table: 'breaking',
        standard: standardTitles.iec62271,
        rating: 'Isc with d.c.',
        symbol: '√(Ib² + idc²)',
        utilisationPercent,
        xOverR,
        dcPercent: 100 * dc.duty,
        factor: dc.dutyAsymmetric / kilo(byTotal.ibA),
        timeS,
        clearedBy: null,
        whole: byTotal.whole,
        assumed: null,
      },
    },
  ];
}

function lowVoltage(context: Context, device: Switch, faults: readonly DutyFault[], trace: Trace): Check[] {
  const { network } = context;
  const worst = worstOf(faults, ({ ikA }) => ikA)!;
  const figures = {
    table: 'breaking' as const,
    standard: standardTitles.iec60947,
    symbol: 'Ik″',
    whole: worst.whole,
    xOverR: 1 / worst.rOverX,
  };
  const ultimate = ratedCheck(
    network,
    {
      ...common(device),
      id: `breaking ${device.id}`,
      rating: device.breakingKa!,
      duty: kilo(worst.ikA),
      deciding: decidedBy(worst),
      clause: 'IEC 60947-2, 5.2',
      next: nextWith((kA) => [{ path: 'makingKa', says: 'making', value: makingRatio(kA).n * kA }]),
      figures: { ...figures, rating: 'Icu' },
    },
    trace,
  );
  const backed = ultimate.verdict === 'short' ? backedUp(context, device, faults) : null;
  if (backed) {
    const { above, togetherKa } = backed;
    return [
      ratedCheck(
        network,
        {
          ...common(device),
          id: `breaking ${device.id}`,
          says: `breaking capacity together with ${above.name}`,
          rating: togetherKa,
          duty: kilo(worst.ikA),
          deciding: decidedBy(worst),
          clause: 'IEC 60947-2, Annex A',
          figures: { ...figures, rating: `Icu with ${above.name}`, assumed: 'listed for the two types' },
        },
        trace,
      ),
    ];
  }
  if (device.serviceBreakingKa === null) return [ultimate];
  const service = ratedCheck(
    network,
    {
      ...common(device),
      id: `service ${device.id}`,
      code: 'rating.service',
      title: 'Service breaking capacity',
      says: 'service breaking capacity',
      field: 'serviceBreakingKa',
      rating: device.serviceBreakingKa,
      duty: kilo(worst.ikA),
      deciding: decidedBy(worst),
      clause: 'IEC 60947-2, 5.2',
      figures: { ...figures, rating: 'Ics' },
    },
    trace,
  );
  // Beyond Ics it breaks once, up to Icu: a warning, not a failure.
  const { proposal: _, ...warned } = service;
  return [ultimate, service.verdict === 'short' ? { ...warned, verdict: 'doubtful', severity: 'warning' } : service];
}

interface Above {
  readonly above: Switch;
  readonly partner: Partner;
}

/** Switches of types with which this one's type is listed. */
const partnersAbove = (network: Network, device: Switch): Above[] =>
  device.entry === undefined
    ? []
    : ofKind(network, 'switch').flatMap((above) => {
        const partner = above.id === device.id ? null : partnerOf(network, device.id, above.id);
        return partner ? [{ above, partner }] : [];
      });

/** Least share of what flows through the lower device that must flow through the one above for the two to break it together. */
const throughBoth = 0.95;

/**
 * The one above with which a device breaks every current that is beyond its own capacity, after what is listed for the two types; null
 * where there is none. It must carry what the lower one does: what comes another way it does not limit.
 */
export function backedUp(
  { network }: Pick<Context, 'network'>,
  device: Switch,
  faults: readonly DutyFault[],
): { above: Switch; togetherKa: number } | null {
  const beyond = faults.filter(({ ikA }) => kilo(ikA) > device.breakingKa!);
  for (const { above, partner } of partnersAbove(network, device)) {
    const togetherKa = partner.backupKa;
    if (togetherKa === null) continue;
    const isBacked = beyond.every(({ ikA, kind, side, study }) => {
      const [looked] = look(study, terminalPlace(device.id, side), [kind], { through: [above.id] });
      const through = looked.ok ? looked.seen.through[0] : null;
      return through !== null && largestPhase(toPhases(through)) >= throughBoth * ikA && kilo(ikA) <= togetherKa;
    });
    if (beyond.length > 0 && isBacked) return { above, togetherKa };
  }
  return null;
}

function american(
  context: Context,
  device: Switch,
  faults: readonly DutyFault[],
  standard: Standard,
  trace: Trace,
): Check[] {
  const { network, studies } = context;
  const rated = device.breakingKa!;
  const breaker = breakerClassOf(device);
  const high = standard === 'c37Symmetrical' || standard === 'c37Total';
  const duties = americanDuties(studies, device.id, faults, breaker).map((each) => ({
    ...each,
    ...dutyBy(standard, each, rated, breaker.partingCycles),
  }));
  const worst = worstOf(duties, ({ duty }) => duty);
  if (!worst) return [];
  const { from, share, duty, factor, current, xOverR } = worst;
  const through = trace.step(
    'I',
    formula`${quantityOf('share through the device', share)} · ${quantityOf(high ? 'E/X, interrupting' : 'E/X, first cycle', current / share, 'kA')}`,
    current,
    'kA',
    standardTitles[standard],
  );
  trace.step(
    'duty',
    formula`${quantityOf('MF', factor)} · ${through}`,
    duty,
    'kA',
    `${standardTitles[standard]} (factors as remembered)`,
  );
  return [
    ratedCheck(
      network,
      {
        ...common(device),
        id: `breaking ${device.id}`,
        title: 'Interrupting rating',
        says: 'interrupting rating',
        rating: rated,
        duty,
        deciding: decidedBy(from),
        clause: standardTitles[standard],
        next: nextWith((kA) =>
          high ? [{ path: 'makingKa', says: 'close and latch', value: closeAndLatchFactor * kA }] : [],
        ),
        figures: {
          table: 'breaking',
          standard: standardTitles[standard],
          rating: standard === 'c37Total' ? 'total rms' : 'symmetrical rms',
          symbol: 'duty',
          whole: from.whole,
          xOverR,
          factor,
          ...(high && { timeS: breaker.partingCycles / settingsOf(network).frequencyHz }),
        },
      },
      trace,
    ),
  ];
}

function dutyBy(
  standard: Standard,
  { symmetricalKa, firstCycleKa, xOverRInterrupting, xOverRFirst, factor }: AmericanDuty,
  rated: number,
  partingCycles: number,
): { duty: number; factor: number; current: number; xOverR: number } {
  if (standard === 'c37Symmetrical')
    return { duty: factor * symmetricalKa, factor, current: symmetricalKa, xOverR: xOverRInterrupting };
  if (standard === 'c37Total') {
    const duty = totalInterrupting(symmetricalKa, xOverRInterrupting, partingCycles);
    return { duty, factor: duty / symmetricalKa, current: symmetricalKa, xOverR: xOverRInterrupting };
  }
  const low =
    standard === 'mouldedCase'
      ? mouldedFactor(xOverRFirst, mouldedTestPowerFactor(rated)).factor
      : lowVoltageFactor(xOverRFirst, standard === 'c3713Fused');
  return { duty: firstCycleKa * low, factor: low, current: firstCycleKa, xOverR: xOverRFirst };
}

/** A back-up fuse must not be left alone with currents that it melts at but does not break. */
function leastOf({ network, studies, conditions }: Context, device: Switch, trace: Trace): Check[] {
  const { minimumBreakingA } = device;
  const own = minimumBreakingA === null ? null : deviceFrom(network, device);
  if (minimumBreakingA === null || !own) return [];
  const figures = deviceFigures(studies, own, conditions).farEnd.filter(({ seen }) => seen.phaseA > 1);
  if (figures.length === 0) return [];
  const least = figures.reduce((p, q) => (q.seen.phaseA < p.seen.phaseA ? q : p));
  const smallest = least.seen.phaseA;
  trace.step(
    'I/I3',
    formula`${quantityOf('Ik min', smallest, 'A')} / ${quantityOf('I3', minimumBreakingA, 'A')}`,
    smallest / minimumBreakingA,
    '',
    'IEC 60282-1, 4.9',
  );
  const holds = smallest >= minimumBreakingA;
  return [
    {
      id: `minimumBreaking ${device.id}`,
      rule: 'equipment.breaking',
      code: 'rating.minimumBreaking',
      subject: device.id,
      title: 'Minimum breaking current',
      value: smallest,
      bound: minimumBreakingA,
      unit: 'A',
      sense: 'atLeast',
      deciding: { condition: least.condition, kind: least.kind, place: least.place },
      verdict: holds ? 'holds' : 'short',
      severity: 'warning',
      message: `${device.name}: smallest fault current ${digits(smallest)} A at ${least.placeName} is ${holds ? 'not ' : ''}below the minimum breaking current ${minimumBreakingA} A`,
      field: 'minimumBreakingA',
    },
  ];
}
