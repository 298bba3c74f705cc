/**
 * Heat of a short circuit until it is cleared: switching devices, current transformers, reactors and earthing switches by their short-time withstand current,
 * lines by IEC 60949 and IEC 60865-1, transformers by IEC 60076-5, neutral impedances by their rated current.
 */
import { clearingOf, type Clearing } from '../../duty/clearing';
import { endFaults, largestOf } from '../../duty/ends';
import { worstOf } from '../../duty/through';
import { faultAt, terminalPlace } from '../../faults/iec60909/study';
import { thermalCurrent } from '../../faults/iec60909/thermal';
import { magnitude } from '../../linear/complex';
import { nameOf, type ElementOf } from '../../model/element';
import type { ElementId, Neutral } from '../../model/fields';
import { ofKind, settingsOf } from '../../model/network';
import { nextBreakingKa } from '../../model/standardSizes';
import { bareDensity, cableShortCircuit } from '../../ratings/conductors';
import { lineWithstand } from '../../ratings/lineWithstand';
import { withstandOver } from '../../ratings/thermal';
import { addComponents } from '../../sequence/components';
import { formula, quantityOf, type Trace } from '../../working/trace';
import { checkRule, digits, type Check, type Context, type Deciding, type DutyFigures, type Subject } from '../check';
import { faultsThrough } from './breaking';
import { clearedByText, ratedCheck } from './rating';

type Rated = ElementOf<
  'switch' | 'currentTransformer' | 'seriesReactor' | 'earthingSwitch' | 'line' | 'transformer' | 'earthingTransformer'
>;

/** A current that heats, and for how long. */
interface Heating {
  readonly ikA: number;
  readonly kappa: number;
  readonly clearing: Clearing;
  readonly deciding: Deciding;
  readonly xOverR: number | null;
  readonly whole: boolean;
}

const kilo = (ampere: number): number => ampere / 1000;

export const shortTimeRule = checkRule<Rated>({
  id: 'equipment.shortTime',
  title: 'Short-time withstand',
  clause: 'IEC 62271-1, 5.6; IEC 60909-0, 11; IEC 60949; IEC 60076-5',
  advice: {
    'rating.shortTime': 'Select a higher short-time withstand current, clear faster, or lower the fault level.',
    'rating.conductor': 'Select a larger cross-section, or clear faster.',
    'rating.transformer': 'Clear faults behind the transformer faster.',
    'rating.neutral': 'Clear earth faults faster, or select a higher rated current.',
  },
  subjects: ({ network }) =>
    [
      ...ofKind(network, 'switch').filter(({ shortTimeKa, type }) => shortTimeKa !== null && type !== 'fuse'),
      ...ofKind(network, 'currentTransformer').filter(({ shortTimeKa }) => shortTimeKa !== null),
      ...ofKind(network, 'seriesReactor').filter(({ shortTimeKa }) => shortTimeKa !== null),
      ...ofKind(network, 'earthingSwitch').filter(({ shortTimeKa }) => shortTimeKa !== null),
      ...ofKind(network, 'line').filter(({ sectionMm2 }) => sectionMm2 !== null),
      ...ofKind(network, 'transformer'),
      ...ofKind(network, 'earthingTransformer'),
    ].map((element): Subject<Rated> => ({ key: element.id, value: element, on: [element, protectionOf(network)] })),
  test(context, element, trace): Check[] {
    switch (element.kind) {
      case 'switch':
      case 'currentTransformer':
        return carried(context, element, through(context, element.id), trace);
      case 'seriesReactor':
        return carried(context, element, throughEnds(context, element), trace);
      case 'earthingSwitch':
        return carried(context, element, atPlace(context, element.id), trace);
      case 'line':
        return conductor(context, element, trace);
      case 'transformer':
        return [...windings(context, element, trace), ...neutrals(context, element, trace)];
      case 'earthingTransformer':
        return neutrals(context, element, trace);
    }
  },
});

/** Settings decide how long a fault lasts: one object while no device has changed. */
const protections = new WeakMap<object, { devices: readonly unknown[]; token: object }>();
let last: { devices: readonly unknown[]; token: object } | null = null;
function protectionOf(network: Context['network']): object {
  const known = protections.get(network);
  if (known) return known.token;
  const devices = [
    ...ofKind(network, 'relay'),
    ...ofKind(network, 'switch').filter(({ functions }) => functions.length > 0),
  ];
  const same = last && last.devices.length === devices.length && last.devices.every((each, k) => each === devices[k]);
  const entry = same ? last! : { devices, token: {} };
  last = entry;
  protections.set(network, entry);
  return entry.token;
}

const heatOf = ({ ikA, kappa, clearing }: Heating, frequencyHz: number): number =>
  thermalCurrent(ikA, kappa, 1, frequencyHz, clearing.timeS).ithA;

/** The steady current that heats as much as a breaker that limits it lets through; Infinity where none does. */
const limitedA = ({ clearing: { limitA2s, timeS } }: Heating): number =>
  limitA2s === undefined ? Infinity : Math.sqrt(limitA2s / timeS);

/** Through a device in the run of a feeder. */
function through(context: Context, device: ElementId): Heating[] {
  return faultsThrough(context, device).map(({ study, side, kind, condition, ikA, kappa, rOverX, whole }) => ({
    ikA,
    kappa,
    clearing: clearingOf(context.network, study, { element: device, terminal: 0 }, terminalPlace(device, side), kind),
    deciding: { condition, kind },
    xOverR: 1 / rOverX,
    whole,
  }));
}

/** The whole current at a terminal. */
function atPlace(context: Context, element: ElementId): Heating[] {
  const { studies, conditions } = context;
  return conditions.flatMap(({ id: condition }) => {
    const study = studies.iec60909({ condition });
    return (['3ph', '1ph'] as const).flatMap((kind): Heating[] => {
      const result = faultAt(study, element, 0, kind);
      if (!result.ok) return [];
      const { ikA, kappa, rOverX } = result.fault;
      const clearing = clearingOf(context.network, study, { element, terminal: 0 }, terminalPlace(element, 0), kind);
      return [{ ikA, kappa, clearing, deciding: { condition, kind }, xOverR: 1 / rOverX, whole: true }];
    });
  });
}

/** Through an element with impedance, for a fault at its other end. */
function throughEnds(context: Context, { id }: { readonly id: ElementId }): Heating[] {
  return endFaults(context.studies, context.conditions, id, [0, 1]).flatMap(
    ({ study, condition, kind, fault, into, at }): Heating[] => {
      const near = 1 - at;
      const current = into[near];
      if (!current) return [];
      return [
        {
          ikA: largestOf(current),
          kappa: fault.kappa,
          clearing: clearingOf(context.network, study, { element: id, terminal: near }, terminalPlace(id, at), kind),
          deciding: { condition, kind },
          xOverR: 1 / fault.rOverX,
          whole: false,
        },
      ];
    },
  );
}

function carried(
  context: Context,
  element: ElementOf<'switch' | 'currentTransformer' | 'seriesReactor' | 'earthingSwitch'>,
  heatings: readonly Heating[],
  trace: Trace,
): Check[] {
  const { network } = context;
  const { frequencyHz } = settingsOf(network);
  const { shortTimeKa, shortTimeS } = element;
  const worst = worstOf(
    heatings,
    (each) => heatOf(each, frequencyHz) / withstandOver(1, shortTimeS, each.clearing.timeS),
  );
  if (!worst || shortTimeKa === null) return [];
  trace.section(element.name, element.id);
  const { timeS } = worst.clearing;
  const duty = thermalStep(worst, frequencyHz, trace);
  const rating = withstandOver(shortTimeKa, shortTimeS, timeS);
  if (timeS > shortTimeS)
    trace.step(
      'Ik over t',
      formula`${quantityOf('Ik', shortTimeKa, 'kA')} · √(${quantityOf('tk', shortTimeS, 's')} / ${quantityOf('t', timeS, 's')})`,
      rating,
      'kA',
      'IEC 62271-1, 5.6',
    );
  return [
    withTimeOf(
      worst,
      ratedCheck(
        network,
        {
          ...common(element, 'rating.shortTime', 'shortTimeKa'),
          title: element.kind === 'currentTransformer' ? 'Short-time thermal current' : 'Short-time withstand current',
          says: element.kind === 'currentTransformer' ? 'short-time thermal current' : 'short-time withstand current',
          unit: 'kA',
          rating,
          duty,
          deciding: worst.deciding,
          over: ` over ${digits(timeS)} s${clearedByText(network, worst.clearing)}`,
          next: (kA) => {
            const value = nextBreakingKa(kA / withstandOver(1, shortTimeS, timeS));
            return { value, unit: 'kA' };
          },
          figures: thermalFigures(worst, {
            standard:
              element.kind === 'currentTransformer'
                ? 'IEC 61869-2'
                : element.kind === 'seriesReactor'
                  ? 'IEC 60076-6'
                  : 'IEC 62271-1',
            rating: element.kind === 'currentTransformer' ? 'Ith rated' : 'Ik',
            symbol: 'Ith',
          }),
        },
        trace,
      ),
    ),
  ];
}

const common = (element: Rated, code: string, field: string) => ({
  id: `shortTime ${element.id}`,
  rule: 'equipment.shortTime',
  code,
  subject: element.id,
  name: nameOf(element),
  field,
});

const thermalFigures = (
  { clearing, xOverR, whole }: Heating,
  names: Pick<DutyFigures, 'standard' | 'rating' | 'symbol'>,
) => ({ table: 'thermal' as const, ...names, xOverR, whole, timeS: clearing.timeS, clearedBy: clearing.device });

/** Ith in kA, written out. */
function thermalStep({ ikA, kappa, clearing }: Heating, frequencyHz: number, trace: Trace): number {
  const { m, n, ithA } = thermalCurrent(ikA, kappa, 1, frequencyHz, clearing.timeS);
  trace.step(
    'Ith',
    formula`${quantityOf('Ik″', kilo(ikA), 'kA')} · √(${quantityOf('m', m)} + ${quantityOf('n', n)})`,
    kilo(ithA),
    'kA',
    'IEC 60909-0, 11',
    `κ ${digits(kappa)}, ${digits(clearing.timeS)} s`,
  );
  return kilo(ithA);
}

/** A fault just inside at either end heats the first metres by all that the bus behind gives; one at the far end heats the whole length. */
function lineHeatings(context: Context, line: ElementOf<'line'>): (Heating & { readonly nominalKv: number })[] {
  return endFaults(context.studies, context.conditions, line.id, [0, 1]).flatMap(
    ({ study, condition, kind, fault, into, at }) => {
      const here = into[at];
      const far = into[1 - at];
      const heating = (ikA: number, terminal: number) => ({
        nominalKv: fault.nominalKv,
        ikA,
        kappa: fault.kappa,
        clearing: clearingOf(context.network, study, { element: line.id, terminal }, terminalPlace(line.id, at), kind),
        deciding: { condition, kind },
        xOverR: 1 / fault.rOverX,
        whole: false,
      });
      return [
        // What the fault draws less what the line itself brings.
        ...(here ? [heating(Math.min(largestOf(addComponents(fault.components, here)), fault.ikA), at)] : []),
        ...(far ? [heating(largestOf(far) / line.circuits, 1 - at)] : []),
      ];
    },
  );
}

function conductor(context: Context, line: ElementOf<'line'>, trace: Trace): Check[] {
  const { network } = context;
  const { frequencyHz } = settingsOf(network);
  const section = line.sectionMm2!;
  const bare = line.insulation === 'none';
  const heatings = lineHeatings(context, line);
  const nominalKv = heatings[0]?.nominalKv;
  const { initialC, finalC, allowedA } = lineWithstand(line, nominalKv)!;
  const worst = worstOf(
    heatings,
    (each) => Math.min(heatOf(each, frequencyHz), limitedA(each)) / allowedA(each.clearing.timeS),
  );
  if (!worst) return [];
  trace.section(line.name, line.id);
  const whole = thermalStep(worst, frequencyHz, trace);
  const limited = kilo(limitedA(worst));
  if (limited < whole)
    trace.step(
      'Ith',
      formula`√(${quantityOf('I²t', worst.clearing.limitA2s!, 'A²s')} / ${quantityOf('t', worst.clearing.timeS, 's')}) / 1000`,
      limited,
      'kA',
      'data sheet',
      'what the breaker lets through at most',
    );
  const duty = Math.min(whole, limited);
  const { timeS } = worst.clearing;
  const allowed = allowedA(timeS);
  const [s, t] = [quantityOf('S', section, 'mm²'), quantityOf('t', timeS, 's')];
  if (line.insulation === 'none')
    trace.step(
      'Iz',
      formula`${quantityOf('Sthr', bareDensity(line.metal, initialC, finalC), 'A/mm²')} · ${s} · √(1 / ${t}) / 1000`,
      kilo(allowed),
      'kA',
      'IEC 60865-1, clause 8 (constants as remembered)',
      `${initialC} °C to ${finalC} °C`,
    );
  else {
    const { adiabaticA, loss } = cableShortCircuit(
      line.metal,
      line.insulation,
      section,
      initialC,
      finalC,
      timeS,
      nominalKv,
    );
    const density = (adiabaticA * Math.sqrt(timeS)) / section;
    const adiabatic = trace.step(
      'Iadiabatic',
      formula`${quantityOf('k', density, 'A/mm²')} · ${s} / √(${t}) / 1000`,
      kilo(adiabaticA),
      'kA',
      'IEC 60949, 4 (constants as remembered)',
      `${initialC} °C to ${finalC} °C`,
    );
    if (loss)
      trace.step(
        'Iz',
        formula`${quantityOf('ε', loss.epsilon)} · ${adiabatic}`,
        kilo(allowed),
        'kA',
        'IEC 60949, 3 (constants as remembered)',
      );
  }
  return [
    withTimeOf(
      worst,
      ratedCheck(
        network,
        {
          ...common(line, 'rating.conductor', 'sectionMm2'),
          title: 'Heating by a short circuit',
          says: (allowed, heats) => `${section} mm² carries ${allowed} for ${digits(timeS)} s; Ith is ${heats}`,
          unit: 'kA',
          rating: kilo(allowed),
          duty,
          deciding: worst.deciding,
          over: clearedByText(network, worst.clearing),
          figures: thermalFigures(worst, { standard: bare ? 'IEC 60865-1' : 'IEC 60949', rating: 'Iz', symbol: 'Ith' }),
          next: () => {
            const needed = (section * duty) / kilo(allowed);
            const value = standardSections.find((each) => each >= needed) ?? Math.ceil(needed);
            return { value, unit: 'mm²', choose: 'select its type: impedance and rated current change with it' };
          },
        },
        trace,
      ),
    ),
  ];
}

/** Cross-sections of IEC 60228, in mm². */
const standardSections = [
  1.5, 2.5, 4, 6, 10, 16, 25, 35, 50, 70, 95, 120, 150, 185, 240, 300, 400, 500, 630, 800, 1000, 1200, 1600, 2000,
];

/** How long the current of a fault behind it may last: the heat that 1/uk times the rated current gives over the rated duration. */
function windings(context: Context, transformer: ElementOf<'transformer'>, trace: Trace): Check[] {
  const { network, studies, conditions } = context;
  const { ratedMva, ukPercent, withstandS, hvKv, lvKv } = transformer;
  const found = endFaults(studies, conditions, transformer.id, [0, 1]).flatMap(
    ({ study, condition, kind, into, at, fault }) => {
      const near = 1 - at;
      const current = into[near];
      if (!current) return [];
      const ratedA = (ratedMva * 1000) / (Math.sqrt(3) * (near === 0 ? hvKv : lvKv));
      const ikA = largestOf(current);
      // Less than the load is no short circuit.
      if (ikA < ratedA) return [];
      const place = terminalPlace(transformer.id, at);
      const clearing = clearingOf(context.network, study, { element: transformer.id, terminal: near }, place, kind);
      const allowedS = withstandS * (((100 / ukPercent) * ratedA) / ikA) ** 2;
      const heating = { ikA, kappa: fault.kappa, clearing, deciding: { condition, kind }, xOverR: 1 / fault.rOverX };
      return [{ ...heating, whole: false, ratedA, allowedS }];
    },
  );
  const worst = worstOf(found, ({ clearing, allowedS }) => clearing.timeS / allowedS);
  if (!worst) return [];
  trace.section(transformer.name, transformer.id);
  const { ikA, allowedS, ratedA, clearing } = worst;
  const most = formula`100 / ${quantityOf('uk', ukPercent, '%')} · ${quantityOf('Ir', ratedA, 'A')} / 1000`;
  const through = trace.step('Iw', most, ((100 / ukPercent) * ratedA) / 1000, 'kA', 'IEC 60076-5, 4.1');
  trace.step(
    't allowed',
    formula`${quantityOf('tk', withstandS, 's')} · (${through} / ${quantityOf('Ik″', kilo(ikA), 'kA')})^2`,
    allowedS,
    's',
    'IEC 60076-5, 4.1',
  );
  return [
    withTimeOf(
      worst,
      ratedCheck(
        network,
        {
          ...common(transformer, 'rating.transformer', 'withstandS'),
          title: 'Short circuit behind the transformer',
          says: (allowed, flows) => `withstands ${digits(kilo(ikA))} kA for ${allowed}; it flows for ${flows}`,
          unit: 's',
          rating: allowedS,
          duty: clearing.timeS,
          deciding: worst.deciding,
          over: clearedByText(network, clearing),
          figures: thermalFigures(worst, { standard: 'IEC 60076-5', rating: 't allowed', symbol: 't' }),
        },
        trace,
      ),
    ),
  ];
}

interface EarthedNeutral {
  readonly terminal: number;
  readonly neutral: Neutral;
  readonly ratedA: number | null;
  readonly ratedS: number;
  readonly field: string;
  readonly what: string;
}

function earthedNeutrals(element: ElementOf<'transformer' | 'earthingTransformer'>): EarthedNeutral[] {
  const impedance = (terminal: number, neutral: Neutral, name: string): EarthedNeutral => ({
    terminal,
    neutral,
    ratedA: neutral.ratedA,
    ratedS: neutral.ratedS,
    field: `${name}.ratedA`,
    what: 'neutral impedance',
  });
  if (element.kind === 'transformer')
    return [impedance(0, element.hvNeutral, 'hvNeutral'), impedance(1, element.lvNeutral, 'lvNeutral')];
  const { neutral, shortTimeA, shortTimeS } = element;
  const itself = { terminal: 0, neutral, ratedA: shortTimeA, ratedS: shortTimeS, field: 'shortTimeA', what: 'neutral' };
  return [itself, impedance(0, neutral, 'neutral')];
}

/** How long the neutral current of an earth fault at the terminals may flow through what earths the neutral. */
function neutrals(context: Context, element: ElementOf<'transformer' | 'earthingTransformer'>, trace: Trace): Check[] {
  const { studies, conditions, network } = context;
  return earthedNeutrals(element).flatMap(({ terminal, neutral, ratedA, ratedS, field, what }): Check[] => {
    if (ratedA === null || neutral.earthing === 'isolated' || neutral.earthing === 'solid') return [];
    const found = endFaults(studies, conditions, element.id, [terminal]).flatMap(
      ({ study, condition, kind, into, fault }) => {
        const current = into[terminal];
        const ikA = current ? 3 * magnitude(current.zero) : 0;
        if (kind === '3ph' || ikA < 1) return [];
        const place = terminalPlace(element.id, terminal);
        const clearing = clearingOf(context.network, study, { element: element.id, terminal }, place, kind);
        const allowedS = ratedS * (ratedA / ikA) ** 2;
        const heating = { ikA, kappa: fault.kappa, clearing, deciding: { condition, kind }, xOverR: null };
        return [{ ...heating, whole: false, allowedS }];
      },
    );
    const worst = worstOf(found, ({ clearing, allowedS }) => clearing.timeS / allowedS);
    if (!worst) return [];
    trace.section(`${element.name}, ${what}`, element.id);
    trace.step(
      't allowed',
      formula`${quantityOf('tr', ratedS, 's')} · (${quantityOf('Ir', ratedA, 'A')} / ${quantityOf('3·I0', worst.ikA, 'A')})^2`,
      worst.allowedS,
      's',
      'IEC 60076-6',
    );
    return [
      withTimeOf(
        worst,
        ratedCheck(
          network,
          {
            ...common(element, 'rating.neutral', field),
            id: `neutral ${element.id} ${field}`,
            title: `Earth-fault current of the ${what}`,
            says: (allowed, flows) => `${what} carries ${digits(worst.ikA)} A for ${allowed}; it flows for ${flows}`,
            unit: 's',
            rating: worst.allowedS,
            duty: worst.clearing.timeS,
            deciding: worst.deciding,
            over: clearedByText(network, worst.clearing),
            figures: thermalFigures(worst, { standard: 'IEC 60076-6', rating: 't allowed', symbol: 't' }),
          },
          trace,
        ),
      ),
    ];
  });
}

/** Where nobody knows when the fault is cleared, the time of the project is a guess: short by it is a warning. */
function withTimeOf({ clearing }: Heating, check: Check): Check {
  if (clearing.known || check.verdict !== 'short') return check;
  const { proposal: _, ...rest } = check;
  return { ...rest, verdict: 'doubtful', severity: 'warning' };
}
