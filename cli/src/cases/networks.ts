/** Reference cases that describe a network of their own: the test network of IEC TR 60909-4, radial networks, a line fed from both ends, thermal currents. */
import { breakerClasses } from '@mesura/core/faults/c37/factors';
import { c37Fault, c37Study } from '@mesura/core/faults/c37/study';
import { breakingCurrent } from '@mesura/core/faults/iec60909/breaking';
import { contributions } from '@mesura/core/faults/iec60909/contributions';
import { steadyCurrent } from '@mesura/core/faults/iec60909/steady';
import { faultAt, faultAtPlace, iec60909Study, type Fault, type FaultResult } from '@mesura/core/faults/iec60909/study';
import { thermalCurrent } from '@mesura/core/faults/iec60909/thermal';
import { solidFault, type FaultKind } from '@mesura/core/faults/kinds';
import { magnitude } from '@mesura/core/linear/complex';
import { elementId } from '@mesura/core/model/fields';
import type { Network } from '@mesura/core/model/network';
import {
  fromReference,
  twoSidedLine,
  twoSources,
  type ReferenceNetwork,
  type TwoSidedLine,
  type TwoSources,
} from '@mesura/core/test/network';
import { tr60909Network } from '@mesura/core/test/tr60909';
import type { Pair } from './case';

type Raw = Record<string, unknown>;

const found = (result: FaultResult): Fault => {
  if (!result.ok) throw new Error(result.problems.map(({ message }) => message).join('; '));
  return result.fault;
};

/** Figures of a case whose form says what it is; null for any other. */
export function networkCase(given: object): Pair[] | null {
  const each = given as Raw;
  const network = typeof each.network === 'object' ? (each.network as Raw | null) : null;
  if (network && 'trafos3' in network) return wholeNetwork(each);
  if (network && 'feeders' in network && typeof each.expected === 'object') return smallNetwork(each);
  if ('expected_by_percent_from_A' in each) return alongLine(each as unknown as TwoSidedLine);
  if (each.calc === 'sepxr') return reducedApart(each as never);
  if (Array.isArray(each.expected) && (each.expected as Raw[])[0]?.Tk_s !== undefined) return thermal(each);
  return null;
}

/** X, R, X/R and E/X in per unit. */
function reducedApart({ inputs, expected }: { inputs: TwoSources & { E_pu: number }; expected: number[] }): Pair[] {
  const result = c37Fault(
    c37Study(twoSources(inputs), { prefaultPercent: 100 * inputs.E_pu }),
    elementId('B'),
    0,
    '3ph',
    breakerClasses[1],
  );
  if (!result.ok) throw new Error(result.problems.map(({ message }) => message).join('; '));
  const { xOhm, rOhm, xOverR, symmetricalA } = result.fault.firstCycle;
  const computed = [xOhm, rOhm, xOverR, (symmetricalA * Math.sqrt(3)) / 10000];
  return ['X', 'R', 'X/R', 'E/X'].map((figure, k) => ({ figure, expected: expected[k], computed: computed[k] }));
}

/** Figures of the printed tables by their names in the file. */
function wholeNetwork({ network, expected }: Raw): Pair[] {
  const study = iec60909Study(tr60909Network(network as never), 'max');
  const at = (bus: string, kind: FaultKind) => found(faultAt(study, elementId(`B${bus}`), 0, kind));
  const columns: Record<string, (bus: string) => number> = {
    ik3Ka: (bus) => at(bus, '3ph').ikA,
    ik1Ka: (bus) => at(bus, '1ph').ikA,
    ib01sKa: (bus) => breakingCurrent(at(bus, '3ph'), 0.1).ibA,
    ikSteadyKa: (bus) => steadyCurrent(at(bus, '3ph')).maxA,
    ip3By20HzKa_secondSolver: (bus) => at(bus, '3ph').ipA,
  };
  return Object.entries(columns).flatMap(([name, computed]) =>
    Object.entries(((expected as Raw)[name] ?? {}) as Record<string, number>).map(([bus, value]) => ({
      figure: `${name} ${bus}`,
      expected: value,
      computed: computed(bus) / 1000,
    })),
  );
}

function smallNetwork({ network, expected, fault_bus }: Raw): Pair[] {
  const model: Network = fromReference(network as ReferenceNetwork);
  const study = iec60909Study(model, 'max');
  const fault = (bus: string, kind: FaultKind) => found(faultAt(study, elementId(bus), 0, kind));
  const at = (fault_bus as string | undefined) ?? '';
  return Object.entries(expected as Record<string, unknown>).flatMap(([name, value]): Pair[] => {
    const named = /^Ik([123])(?:_(\w+))?_kA$/.exec(name);
    const bus = named?.[2] ?? at;
    if (typeof value !== 'number' || (!bus && !named)) return [];
    const kilo = (ampere: number) => [{ figure: name, expected: value, computed: ampere / 1000 }];
    if (named && bus) return kilo(fault(bus, ({ 1: '1ph', 2: '2ph', 3: '3ph' } as const)[named[1] as '1']).ikA);
    if (name === 'IkE2E_kA') return kilo(fault(at, '2phE').earthA);
    if (name === 'Ik2E_L2_kA') return kilo(magnitude(fault(at, '2phE').phases.l2));
    if (name === 'Ik2E_L3_kA') return kilo(magnitude(fault(at, '2phE').phases.l3));
    if (name === 'ip3_kA') return kilo(fault(at, '3ph').ipA);
    if (name.startsWith('kappa')) return [{ figure: name, expected: value, computed: fault(at, '3ph').kappa }];
    return [];
  });
}

function alongLine(line: TwoSidedLine): Pair[] {
  const study = iec60909Study(twoSidedLine(line), 'max');
  return Object.entries(line.expected_by_percent_from_A).flatMap(([percent, expected]) => {
    const fraction = Math.min(Math.max(Number(percent) / 100, 1e-9), 1 - 1e-9);
    const fault = found(faultAtPlace(study, { at: 'line', element: elementId('L'), fraction }, solidFault('3ph')));
    const [fromA, fromB] = contributions(fault);
    const figure = (name: keyof typeof expected, ampere: number) => ({
      figure: `${name} at ${percent} %`,
      expected: expected[name],
      computed: ampere / 1000,
    });
    return [figure('Ik3_kA', fault.ikA), figure('I_from_A_kA', fromA.currentA), figure('I_from_B_kA', fromB.currentA)];
  });
}

function thermal({ expected, f_Hz }: Raw): Pair[] {
  return (expected as Record<string, number>[]).flatMap(({ kappa, Tk_s, Ik3_kA, n, m, Ith_kA }) => {
    const own = thermalCurrent(Ik3_kA * 1000, kappa, n ?? 1, (f_Hz as number) ?? 50, Tk_s);
    const where = `κ ${kappa}, ${Tk_s} s`;
    return [
      { figure: `m, ${where}`, expected: m, computed: own.m },
      { figure: `Ith kA, ${where}`, expected: Ith_kA, computed: own.ithA / 1000 },
    ];
  });
}
