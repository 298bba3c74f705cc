/**
 * Fault duties after IEEE C37.010 and C37.13: first-cycle, interrupting and 30-cycle networks with their machine multipliers, X and R reduced apart, no
 * voltage factor.
 */
import { magnitude, type Complex } from '../../linear/complex';
import type { ElementId } from '../../model/fields';
import { nameOf } from '../../model/element';
import type { Network } from '../../model/network';
import type { Problem } from '../../model/problem';
import { assemble, type Assembly } from '../../assembly/assemble';
import { withOutage } from '../../assembly/outage';
import {
  buildSequenceNetwork,
  drivingPoint,
  unitInjection,
  valueAt,
  type SequenceNetwork,
} from '../../assembly/sequenceNetwork';
import { mu } from '../iec60909/breaking';
import { gapProblem } from '../solution/solve';
import {
  asymmetry,
  exactPeak,
  halfCyclePeak,
  localFactor,
  lowVoltageFactors,
  remoteFactor,
  type BreakerClass,
} from './factors';

export const c37Networks = ['firstCycle', 'interrupting', 'thirtyCycle'] as const;
export type C37Network = (typeof c37Networks)[number];

export const c37Kinds = ['3ph', '2ph', '1ph'] as const;
export type C37Kind = (typeof c37Kinds)[number];

/** One network with its reactances and resistances apart. */
export interface SplitNetwork {
  readonly assembly: Assembly;
  readonly reactances: Record<'positive' | 'negative' | 'zero', SequenceNetwork>;
  readonly resistances: Record<'positive' | 'negative' | 'zero', SequenceNetwork>;
}

export interface C37Options {
  /** Voltage before the fault over nominal. */
  readonly prefaultPercent?: number;
  /** E/X, or E over the impedance of the complex network. */
  readonly current?: 'E/X' | 'E/Z';
}

export interface C37Study {
  readonly options: Required<C37Options>;
  readonly networks: Readonly<Record<C37Network, SplitNetwork>>;
}

/** The standards know no voltage factor. */
const noFactor = () => 1;

export function c37Study(network: Network, options: C37Options = {}): C37Study {
  const { prefaultPercent = 100, current = 'E/X' } = options;
  const make = (basis: C37Network) =>
    split(assemble(network, { faultCase: 'max', basis, voltageFactor: noFactor, charging: 'never' }));
  return {
    options: { prefaultPercent, current },
    networks: {
      firstCycle: make('firstCycle'),
      interrupting: make('interrupting'),
      thirtyCycle: make('thirtyCycle'),
    },
  };
}

export function c37Outage(study: C37Study, element: ElementId): C37Study {
  const out = (network: SplitNetwork) => split(withOutage(network.assembly, element));
  const { firstCycle, interrupting, thirtyCycle } = study.networks;
  return {
    ...study,
    networks: { firstCycle: out(firstCycle), interrupting: out(interrupting), thirtyCycle: out(thirtyCycle) },
  };
}

function split(assembly: Assembly): SplitNetwork {
  const { positive, negative, zero } = assembly;
  const only = (part: 'x' | 'r', network: SequenceNetwork): SequenceNetwork => {
    const strip = <T extends { rOhm: number; xOhm: number }>(z: T): T =>
      part === 'x' ? { ...z, rOhm: 0 } : { ...z, xOhm: 0 };
    return buildSequenceNetwork({
      ...network,
      series: network.series.map(strip),
      shunts: network.shunts.map(strip),
      couplings: network.couplings.map((c) => ({
        ...c,
        z: part === 'x' ? { re: 0, im: c.z.im } : { re: c.z.re, im: 0 },
      })),
    });
  };
  const both = (part: 'x' | 'r') => {
    const forward = only(part, positive);
    return {
      positive: forward,
      negative: negative === positive ? forward : only(part, negative),
      zero: only(part, zero),
    };
  };
  return { assembly, reactances: both('x'), resistances: both('r') };
}

export interface C37Duty {
  readonly xOhm: number;
  readonly rOhm: number;
  /** Of the separate networks. */
  readonly xOverR: number;
  readonly z: Complex;
  /** Symmetrical rms amperes: the largest phase. */
  readonly symmetricalA: number;
}

export interface C37Fault {
  readonly node: number;
  readonly kind: C37Kind;
  readonly nominalKv: number;
  /** Phase-to-neutral volts before the fault. */
  readonly sourceV: number;
  readonly firstCycle: C37Duty & {
    /** Total rms half a cycle after the fault, and first peak: close-and-latch duty. */
    readonly asymmetricalA: number;
    readonly peakA: number;
    readonly exactPeakA: number;
    /** Low-voltage factors; null above 1 kV. */
    readonly lowVoltage: { readonly unfused: number; readonly fused: number } | null;
  };
  readonly interrupting: C37Duty & {
    /** Share of the current that comes from remote sources, whose a.c. component does not decay. */
    readonly remoteShare: number;
    /** What is left of the local sources' current at contact parting. */
    readonly localRemaining: number;
    readonly remoteFactor: number;
    readonly localFactor: number;
    /** Between the two by the remote share, at least 1. */
    readonly factor: number;
    /** Symmetrical current times factor: to be compared with the breaker's symmetrical rating. */
    readonly dutyA: number;
  };
  readonly thirtyCycle: C37Duty;
}

export type C37FaultResult = { ok: true; fault: C37Fault } | { ok: false; problems: Problem[] };

/** A fault at a terminal of an element. Problems: no supply, missing zero-sequence data. */
export function c37Fault(
  study: C37Study,
  element: ElementId,
  terminal: number,
  kind: C37Kind,
  breaker: Pick<BreakerClass, 'partingCycles' | 's'>,
): C37FaultResult {
  const { assembly } = study.networks.firstCycle;
  const { topology, supplied, network } = assembly;
  const place = network.elements.get(element);
  const name = place ? nameOf(place) : element;
  const refuse = (code: string, message: string): C37FaultResult => ({
    ok: false,
    problems: [{ severity: 'warning', code, message, element }],
  });
  const node = topology.nodeAt(element, terminal);
  if (node === undefined) return refuse('fault.place', `${name} has no terminal ${terminal}`);
  if (!supplied[node]) return refuse('supply.none', `${name} is connected to no source`);
  const nominalKv = topology.nodes[node].nominalKv;
  if (nominalKv === null) return refuse('level.unknown', `the voltage at ${name} is not known`);
  if (kind === '1ph') {
    const missing = assembly.zero.gapsAt(node).map((gap) => gapProblem(assembly, gap));
    if (missing.length > 0) return { ok: false, problems: missing };
  }
  const sourceV = ((nominalKv * 1000) / Math.sqrt(3)) * (study.options.prefaultPercent / 100);
  const duties = c37Networks.map((each) => dutyAt(study, each, node, kind, sourceV));
  const [first, interrupting, thirty] = duties;
  if (!first || !interrupting || !thirty)
    return refuse('network.singular', `the impedance at ${name} cannot be found: check the data around it`);
  const { remoteShare, localRemaining } = decrement(study, node, breaker.partingCycles);
  const remote = remoteFactor(interrupting.xOverR, breaker);
  const local = localFactor(interrupting.xOverR, breaker, localRemaining);
  const factor = Math.max(local + remoteShare * (remote - local), 1);
  return {
    ok: true,
    fault: {
      node,
      kind,
      nominalKv,
      sourceV,
      firstCycle: {
        ...first,
        asymmetricalA: first.symmetricalA * asymmetry(first.xOverR, 0.5),
        peakA: first.symmetricalA * halfCyclePeak(first.xOverR),
        exactPeakA: first.symmetricalA * exactPeak(first.xOverR),
        lowVoltage: nominalKv <= 1 ? lowVoltageFactors(first.xOverR) : null,
      },
      interrupting: {
        ...interrupting,
        remoteShare,
        localRemaining,
        remoteFactor: remote,
        localFactor: local,
        factor,
        dutyA: interrupting.symmetricalA * factor,
      },
      thirtyCycle: thirty,
    },
  };
}

/** Factors of the sequences in the loop of a fault, and of the source. */
const loops = {
  '3ph': { positive: 1, negative: 0, zero: 0, source: 1 },
  '2ph': { positive: 1, negative: 1, zero: 0, source: Math.sqrt(3) },
  '1ph': { positive: 1, negative: 1, zero: 1, source: 3 },
} as const;

function dutyAt(study: C37Study, which: C37Network, node: number, kind: C37Kind, sourceV: number): C37Duty | null {
  const { assembly, reactances, resistances } = study.networks[which];
  const loop = loops[kind];
  let [xOhm, rOhm] = [0, 0];
  let z: Complex = { re: 0, im: 0 };
  for (const sequence of ['positive', 'negative', 'zero'] as const) {
    if (loop[sequence] === 0) continue;
    const [x, r, whole] = [reactances, resistances, assembly].map((set) => drivingPoint(set[sequence], node));
    // Without an earth path the loop is open: no current.
    if (!x || !r || !whole)
      return sequence === 'zero'
        ? { xOhm: Infinity, rOhm: Infinity, xOverR: 1, z: { re: Infinity, im: 0 }, symmetricalA: 0 }
        : null;
    xOhm += x.im;
    rOhm += r.re;
    z = { re: z.re + whole.re, im: z.im + whole.im };
  }
  const size = study.options.current === 'E/X' ? xOhm : magnitude(z);
  return { xOhm, rOhm, xOverR: xOhm / rOhm, z, symmetricalA: (loop.source * sourceV) / size };
}

/**
 * Remote and local: a generator counts as local while the reactance between it and the fault stays below 1.5 times its own X″d (C37.010);
 * feeders are remote, motors local. What is left of the local current is taken from the decay factor µ of IEC 60909-0 at contact
 * parting, since the standard's curves have no formula.
 */
function decrement(study: C37Study, node: number, partingCycles: number) {
  const { assembly } = study.networks.interrupting;
  const { positive, network, frequencyHz } = assembly;
  const column = positive.solve(unitInjection(node));
  const own = magnitude(valueAt(column, node));
  let [remote, local, remaining] = [0, 0, 0];
  for (const shunt of positive.shunts) {
    if (shunt.role !== 'source') continue;
    const z = Math.hypot(shunt.rOhm, shunt.xOhm);
    const voltage = magnitude(valueAt(column, shunt.node));
    // Share of the fault current, referred to the fault: the current into the machine for one ampere at the fault, times the levels' ratio.
    const share = (voltage / z) * (assembly.level[shunt.node] / assembly.level[node]);
    const element = network.elements.get(shunt.element)!;
    const generator = element.kind === 'synchronousMachine' || element.kind === 'powerStationUnit';
    // Voltage left at the machine over that behind it tells how far the fault is: external over total reactance.
    const drop = voltage / (own * (assembly.level[shunt.node] / assembly.level[node]));
    const outside = drop > 0 ? 1 / drop - 1 : Infinity;
    if (element.kind === 'networkFeeder' || (generator && outside > 1.5)) remote += share;
    else {
      const reactance = generator ? percentOf(element) / 100 : 0.2;
      const ratio = 1 / (reactance * (1 + outside));
      local += share;
      remaining += share * mu(ratio, partingCycles / frequencyHz);
    }
  }
  const total = remote + local;
  return { remoteShare: total > 0 ? remote / total : 1, localRemaining: local > 0 ? remaining / local : 1 };
}

const percentOf = (element: { kind: string }): number => {
  const machine = element as { xd2Percent?: number; generator?: { xd2Percent: number } };
  return machine.xd2Percent ?? machine.generator?.xd2Percent ?? 20;
};
