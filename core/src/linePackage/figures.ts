/** The figures that the rules and margins of a line package name, at one end: from its fault runs, from what stands around it, from the load flow. */
import { needsZeroSequence } from '../faults/kinds';
import { nodeVoltage } from '../flow/figures';
import { magnitude } from '../linear/complex';
import type { Condition } from '../model/condition';
import type { ElementId } from '../model/fields';
import type { LinePackage } from '../model/linePackage';
import { find, settingsOf } from '../model/network';
import type { ReachFigure } from '../reach/figures';
import type { ReachRow } from '../reach/plan';
import type { LineEnd } from '../reach/seen';
import type { Studies } from '../studies/studies';
import { ohmsOf, type PackageRun } from './runs';

/** A figure and, where it comes from a fault run, which one. */
export interface PackageFigure extends ReachFigure {
  readonly run: PackageRun | null;
  /** Where it comes from otherwise. */
  readonly from: string;
}
export type PackageFigures = Readonly<Record<string, PackageFigure>>;

/** Formula of the time after which an arc in air does not come again, cycles of 60 Hz: 10.5 + U/34.5 kV. */
export const deionisationS = (kv: number): number => (10.5 + kv / 34.5) / 60;
export const deionisationSource = 'IEEE C37.104 (as remembered)';

type Of = (run: PackageRun) => number | null;
const isThreePhase = ({ kind }: PackageRun) => kind === '3ph';
const wanted = (run: PackageRun) => run.largestPhaseA >= 1;

function extreme(runs: readonly PackageRun[], of: Of, isLarger: boolean): { value: number; run: PackageRun } | null {
  let found: { value: number; run: PackageRun } | null = null;
  for (const run of runs) {
    const value = of(run);
    if (value === null) continue;
    if (!found || (isLarger ? value > found.value : value < found.value)) found = { value, run };
  }
  return found;
}

export interface Around {
  readonly pack: LinePackage;
  readonly rows: readonly ReachRow[];
  readonly conditions: readonly Condition[];
}

export function figuresOf(
  studies: Studies,
  row: ReachRow,
  runs: readonly PackageRun[],
  { pack, rows, conditions }: Around,
): PackageFigures {
  const k0 = row.k0 ?? { re: 0, im: 0 };
  const remote = runs.filter(({ place }) => place === 'remoteBus');
  const outside = runs.filter(({ place }) => place === 'remoteBus' || place === 'behind');
  const close = runs.filter(({ place }) => place === 'closeIn');
  const inside = runs.filter((run) => run.place !== 'behind' && wanted(run));
  const earth = (list: readonly PackageRun[]) => list.filter(({ kind }) => needsZeroSequence(kind));
  const phase: Of = ({ largestPhaseA }) => largestPhaseA;
  const residual: Of = ({ residualA }) => residualA;
  // A fault is seen by the loop that sees it best.
  const best =
    (isEarth: boolean): Of =>
    (run) => {
      const ohms = ohmsOf(run, k0, isEarth);
      return ohms.length > 0 ? Math.min(...ohms) : null;
    };
  const weak = remote.filter(({ outAt }) => outAt === 'own');
  const of = (name: string, found: ReturnType<typeof extreme>): PackageFigure => ({
    name,
    value: found && { re: found.value, im: 0 },
    elements: found?.run.out ? [found.run.out] : [],
    run: found?.run ?? null,
    from: '',
  });
  const plain = (name: string, value: number | null, from: string, elements: readonly ElementId[] = []) => ({
    name,
    value: value === null ? null : { re: value, im: 0 },
    elements,
    run: null,
    from,
  });
  const line = find(studies.network, 'line', row.end.line)!;
  const emergencyA =
    (line.emergencyA ?? line.ratedA) === null ? null : (line.emergencyA ?? line.ratedA)! * line.circuits;
  const input = row.relay?.device.inputs[0];
  const ahead = rowsAhead(studies, rows, row);
  const lookingBack = rowsLookingBack(studies, rows, row);
  const delayOfZone2 = ({ zones, relay }: ReachRow): number[] => {
    const set = relay?.fn?.zones.find(({ name, enabled }) => name === '2' && enabled)?.delayS;
    const asked = zones[1].delay?.value;
    return set !== undefined ? [set] : asked !== undefined ? [asked] : [];
  };
  const least = (list: readonly number[]) => (list.length > 0 ? Math.min(...list) : null);
  const most = (list: readonly number[]) => (list.length > 0 ? Math.max(...list) : null);
  const ownOhm = row.figures.own.value ? magnitude(row.figures.own.value) : null;
  const nextZone1 = least(
    ahead.flatMap(({ relay, zones }) => {
      const set = relay?.fn?.zones.find(({ name, enabled }) => name === '1' && enabled);
      return set && relay?.secondary ? [set.reachOhm / relay.secondary] : (zones[0].reach?.value ?? []);
    }),
  );
  const next = row.figures.longestNext.value;
  const all: PackageFigure[] = [
    of('outsideLargest', extreme(outside, phase, true)),
    of('outsideLargestEarth', extreme(earth(outside), residual, true)),
    of('closeLargest3ph', extreme(close.filter(isThreePhase), phase, true)),
    of('remoteLargest3ph', extreme(remote.filter(isThreePhase), phase, true)),
    of('closeSmallest', extreme(close, phase, false)),
    of('closeSmallestEarth', extreme(earth(close), residual, false)),
    of('insideSmallest', extreme(inside, phase, false)),
    of('insideSmallestEarth', extreme(earth(inside), residual, false)),
    of('nearSeenLeast', extreme(remote.filter(wanted), best(false), false)),
    of('nearSeenLeastEarth', extreme(earth(remote.filter(wanted)), best(true), false)),
    of('farSeenMost', extreme(remote.filter(wanted), best(false), true)),
    of('farSeenMostEarth', extreme(earth(remote.filter(wanted)), best(true), true)),
    of(
      'weakVoltage',
      extreme(weak, ({ smallestV }) => smallestV, true),
    ),
    plain('emergencyLoad', emergencyA, 'emergency rating of the line, else its rated current', [line.id]),
    plain('ctPrimary', input?.rating.primaryA ?? null, 'current transformer'),
    plain('nominalVoltage', (row.nominalKv * 1000) / Math.sqrt(3), 'voltage level'),
    plain('breakerTime', row.relay?.device.openingS ?? null, 'slowest breaker that the relay opens'),
    plain('relayReset', pack.relayResetS, 'typed in the package'),
    plain('channelTime', pack.channelTimeS, 'typed in the package'),
    plain('margin', settingsOf(studies.network).wantedMarginS, 'project settings'),
    plain('othersZone2', least(lookingBack.flatMap(delayOfZone2)), 'zone 2 of relays that look at the own busbar'),
    plain('farZone2', most(ahead.flatMap(delayOfZone2)), 'zone 2 of the lines that follow'),
    plain(
      'nextZone1',
      ownOhm !== null && nextZone1 !== null ? ownOhm + nextZone1 : null,
      'the line and zone 1 of the next',
    ),
    plain(
      'beyond',
      ownOhm !== null && next ? ownOhm + magnitude(next) : ownOhm,
      'the line and the longest that follows',
    ),
    {
      ...plain('openAngle', null, 'load flow with the line out'),
      ...openAngle(studies, row, conditions),
    },
    plain('deionisation', deionisationS(row.nominalKv), deionisationSource),
    {
      ...row.figures.arcResistance,
      name: 'arc',
      run: null,
      from: 'half of an arc between phases (Warrington, as remembered)',
    },
    { ...row.figures.own, run: null, from: 'line data' },
    { ...row.figures.load, run: null, from: 'emergency rating at 0.85 of the nominal voltage' },
    { ...row.figures.faultResistance, run: null, from: 'usual at this voltage' },
  ];
  return Object.fromEntries(all.map((each) => [each.name, each]));
}

const nodeOf = ({ max: { assembly } }: Studies, { line, terminal }: LineEnd) =>
  assembly.topology.nodeAt(line, terminal);

/** Line ends at the far busbars of an end that look on from there. */
export function rowsAhead(studies: Studies, rows: readonly ReachRow[], row: ReachRow): ReachRow[] {
  const home = nodeOf(studies, row.end);
  const far = row.circuit.ends.map((end) => nodeOf(studies, end)).filter((node) => node !== home);
  return rows.filter(({ circuit, end }) => circuit.id !== row.circuit.id && far.includes(nodeOf(studies, end)));
}

/** Line ends that see the own busbar as a far one. */
function rowsLookingBack(studies: Studies, rows: readonly ReachRow[], row: ReachRow): ReachRow[] {
  const home = nodeOf(studies, row.end);
  return rows.filter(
    ({ circuit, end }) =>
      circuit.id !== row.circuit.id &&
      nodeOf(studies, end) !== home &&
      circuit.ends.some((each) => nodeOf(studies, each) === home),
  );
}

/** Largest angle across the open line over the conditions whose load flow has an answer. */
function openAngle(
  studies: Studies,
  { end, circuit }: ReachRow,
  conditions: readonly Condition[],
): Pick<PackageFigure, 'value' | 'elements'> {
  const home = busOf(studies, end);
  const others = circuit.ends.map((each) => busOf(studies, each)).filter((bus) => bus !== home);
  const angles = conditions.flatMap(({ id: condition }) => {
    const flow = studies.flow({ condition, outage: end.line });
    if (!flow.converged) return [];
    // The line is gone from this network: its ends are found by the busbars there.
    const angleAt = (bus: ElementId | null) => {
      const node = bus === null ? undefined : flow.assembly.topology.nodeAt(bus, 0);
      const at = node === undefined ? null : nodeVoltage(flow, node);
      return at && at.kv > 0 ? at.angleRad : null;
    };
    const own = angleAt(home);
    return others.flatMap((bus) => {
      const other = angleAt(bus);
      if (own === null || other === null) return [];
      return [Math.abs(Math.atan2(Math.sin(own - other), Math.cos(own - other)))];
    });
  });
  const most = angles.length > 0 ? Math.max(...angles) : null;
  return { value: most === null ? null : { re: (most * 180) / Math.PI, im: 0 }, elements: [end.line] };
}

function busOf(studies: Studies, end: LineEnd): ElementId | null {
  const node = nodeOf(studies, end);
  return node === undefined ? null : (studies.max.assembly.topology.nodes[node].buses[0]?.id ?? null);
}

const typed = new Set([
  'emergencyLoad',
  'ctPrimary',
  'nominalVoltage',
  'breakerTime',
  'relayReset',
  'channelTime',
  'margin',
  'own',
  'ownNearest',
  'shortestNext',
  'longestNext',
  'transformer',
  'behind',
  'faultResistance',
]);
/** Typed by a person, or data of the network. */
export const isTyped = (name: string): boolean => typed.has(name);
