/**
 * The current that a device in the run of a feeder must make, break or carry: what flows through it for a fault on either side, which is what the other side
 * feeds; the whole current at the place where a ring of closed switches leaves it open, or where the project asks for it.
 */
import {
  terminalRow,
  unitInjection,
  valueAt,
  weigh,
  type NodeValues,
  type SequenceNetwork,
} from '../assembly/sequenceNetwork';
import { breakingCurrent, dcComponent, dcFrequencyRatio } from '../faults/iec60909/breaking';
import { peakFactor, peakFrequencyRatio } from '../faults/iec60909/peak';
import { terminalPlace, type Fault, type Iec60909Study } from '../faults/iec60909/study';
import { solidFault, type FaultKind } from '../faults/kinds';
import { largestPhase } from '../faults/solution/contributions';
import { add, divide, magnitude, zero, type Complex } from '../linear/complex';
import type { Condition } from '../model/condition';
import type { ElementId } from '../model/fields';
import { toPhases } from '../sequence/components';
import { cutAt, type Cut } from '../studies/cut';
import { lookAt } from '../studies/seen';
import type { Studies } from '../studies/studies';

/** Kinds of fault whose current may be the largest. */
export const dutyKinds = ['3ph', '2phE', '1ph'] as const satisfies readonly FaultKind[];

export interface DutyFault {
  readonly condition: ElementId;
  readonly kind: FaultKind;
  /** Terminal of the device at which the fault sits. */
  readonly side: 0 | 1;
  /** Whether the whole current of the place is taken. */
  readonly whole: boolean;
  /** Largest phase, amperes, and that of the place. */
  readonly ikA: number;
  readonly totalA: number;
  readonly rOverX: number;
  readonly kappa: number;
  readonly ipA: number;
  readonly fault: Fault;
  readonly study: Iec60909Study;
}

/** Faults on both sides of a device in some conditions. Nothing where it is open or without supply. */
export function dutyFaults(
  studies: Studies,
  conditions: readonly Condition[],
  device: ElementId,
  duty: 'through' | 'total',
): DutyFault[] {
  return studies.remembered(`duty ${device} ${duty} ${JSON.stringify(conditions)}`, () =>
    conditions.flatMap(({ id }) => {
      const study = studies.iec60909({ condition: id });
      return ([0, 1] as const).flatMap((side) => sideOf(study, id, device, side, duty));
    }),
  );
}

function sideOf(
  study: Iec60909Study,
  condition: ElementId,
  device: ElementId,
  side: 0 | 1,
  duty: 'through' | 'total',
): DutyFault[] {
  const { network, topology } = study.assembly;
  const cut = duty === 'through' ? cutAt(network, topology, device) : null;
  const looked = lookAt(study, terminalPlace(device, side), dutyKinds.map(solidFault), {
    through: cut ? [device] : [],
  });
  let shared: number | null | undefined;
  return looked.flatMap((each, k): DutyFault[] => {
    if (!each.ok) return [];
    const { fault, through } = each.seen;
    const part = cut && through[0] ? Math.min(largestPhase(toPhases(through[0])), fault.ikA) : null;
    const whole = part === null;
    const ikA = part ?? fault.ikA;
    // A fault inside a power-station unit stands in a network of its own.
    if (cut && !whole && fault.study === study && shared === undefined)
      shared = partialRatio(study, cut, side, peakFrequencyRatio, 'fictitious');
    const rOverX = (whole || fault.study !== study ? null : shared) ?? fault.rOverX;
    const kappa = whole ? fault.kappa : study.options.peak === 'equivalentFrequency' ? peakFactor(rOverX) : fault.kappa;
    return [
      {
        condition,
        kind: dutyKinds[k],
        side,
        whole,
        ikA,
        totalA: fault.ikA,
        rOverX,
        kappa,
        ipA: whole ? fault.ipA : Math.min(kappa * Math.SQRT2 * ikA, fault.ipA),
        fault,
        study,
      },
    ];
  });
}

/**
 * R/X of one side by the equivalent frequency: the impedance behind its share of the current at a fraction of rated frequency (IEC 60909-0, 8.1.1, method c,
 * applied to the share). Null where the share is nought.
 */
function partialRatio(
  { assembly }: Iec60909Study,
  cut: Cut,
  faultSide: 0 | 1,
  ratio: number,
  resistances: 'fictitious' | 'own',
): number | null {
  const network = assembly.atFrequency(ratio, resistances);
  const values = voltagesFor(network, cut.node);
  // An ampere put in flows off through both sides: what goes into the side away from the fault is its share.
  const listed = cut.carrying.reduce(
    (sum, { element, terminal }) => add(sum, currentInto(network, element, terminal, values)),
    zero,
  );
  const away = faultSide === 1 ? 0 : 1;
  const share: Complex = cut.side === away ? listed : { re: 1 - listed.re, im: -listed.im };
  if (magnitude(share) < 1e-6) return null;
  const z = divide(valueAt(values, cut.node), share);
  return z.im > 0 && z.re >= 0 ? (z.re / z.im) * ratio : null;
}

/** Voltages for an ampere put in at a node: both sides of a device, and every kind of fault, ask for the same. */
function voltagesFor(network: SequenceNetwork, node: number): NodeValues {
  const known = lastAsked.get(network);
  if (known?.node === node) return known.values;
  const values = network.solve(unitInjection(node));
  lastAsked.set(network, { node, values });
  return values;
}

const lastAsked = new WeakMap<SequenceNetwork, { readonly node: number; readonly values: NodeValues }>();

const currentInto = (network: SequenceNetwork, element: ElementId, terminal: number, values: NodeValues): Complex =>
  weigh(terminalRow(network, element, terminal).sense, values);

export interface BreakingDuty extends DutyFault {
  /** Symmetrical breaking current at contact parting. */
  readonly ibA: number;
  /** Share of the d.c. component in the peak of the a.c. one at contact parting. */
  readonly dcShare: number;
  readonly idcA: number;
}

/**
 * What is left at contact parting, of the fault with the largest symmetrical current then and of the one with the largest total current: no more than flows at
 * first, and no more than the whole place breaks. Undefined of none.
 */
export function breakingDuties(
  faults: readonly DutyFault[],
  partingS: number,
): { readonly symmetrical: BreakingDuty; readonly total: BreakingDuty } | undefined {
  // The first bound is at hand, and most faults need no second look.
  const bounds = faults.map((fault) => ({ fault, idcA: dcAtParting(fault, partingS) }));
  const found = new Map<DutyFault, BreakingDuty>();
  const exact = ({ fault, idcA }: (typeof bounds)[number]): BreakingDuty => {
    let duty = found.get(fault);
    if (!duty) {
      const ibA = Math.min(fault.ikA, breakingCurrent(fault.fault, partingS).ibA);
      found.set(fault, (duty = { ...fault, ibA, idcA, dcShare: ibA === 0 ? 0 : idcA / (Math.SQRT2 * ibA) }));
    }
    return duty;
  };
  const largest = (bound: (each: (typeof bounds)[number]) => number, of: (duty: BreakingDuty) => number) => {
    let best: BreakingDuty | undefined;
    for (const each of descending(bounds, bound)) {
      if (best && bound(each) <= of(best) * (1 + 1e-9)) break;
      const duty = exact(each);
      if (!best || of(duty) > of(best) * (1 + 1e-9)) best = duty;
    }
    return best;
  };
  const symmetrical = largest(
    ({ fault }) => fault.ikA,
    ({ ibA }) => ibA,
  );
  const total = largest(({ fault, idcA }) => Math.hypot(fault.ikA, idcA), totalOf);
  return symmetrical && total && { symmetrical, total };
}

/** Those that are equal but for rounding keep their order. */
const descending = <T>(list: readonly T[], figure: (each: T) => number): T[] =>
  list
    .map((each) => ({ each, size: Number(figure(each).toPrecision(12)) }))
    .sort((p, q) => q.size - p.size)
    .map(({ each }) => each);

/** Total rms: √(Ib² + idc²). */
export const totalOf = ({ ibA, idcA }: BreakingDuty): number => Math.hypot(ibA, idcA);

/** The d.c. component at contact parting: √2·Ik″·e^(−2πf·t·R/X) with R/X of the share (IEC 60909-0, 8.2). */
function dcAtParting(duty: DutyFault, partingS: number): number {
  const { fault, study, whole, ikA, side } = duty;
  if (whole || fault.study !== study) return Math.min(dcComponent(fault, partingS), Math.SQRT2 * ikA);
  const { frequencyHz } = study.assembly;
  const cut = cutOf(duty);
  const rOverX = cut && partialRatio(study, cut, side, dcFrequencyRatio(frequencyHz * partingS), 'own');
  if (rOverX === null) return Math.min(dcComponent(fault, partingS), Math.SQRT2 * ikA);
  return Math.SQRT2 * ikA * Math.exp(-2 * Math.PI * frequencyHz * partingS * rOverX);
}

const cutOf = ({ study, fault }: DutyFault): Cut | null =>
  fault.place.at === 'terminal' ? cutAt(study.assembly.network, study.assembly.topology, fault.place.element) : null;

/** The one of these with the largest figure, of equal ones the first; undefined of none. */
export const worstOf = <T>(list: readonly T[], figure: (each: T) => number): T | undefined =>
  list.length === 0 ? undefined : list.reduce((best, each) => (figure(each) > figure(best) * (1 + 1e-9) ? each : best));
