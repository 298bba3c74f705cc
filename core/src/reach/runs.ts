/** The fault runs that the settings of a line's protection need: close in, at the far bus, at the far end with its breaker open, at the far bus with each outage. */
import { faultKinds, solidFault, type FaultKind } from '../faults/kinds';
import { terminalPlace } from '../faults/iec60909/study';
import type { Place } from '../faults/solution/solve';
import { add, angle, magnitude, type Complex } from '../linear/complex';
import type { ElementId } from '../model/fields';
import type { State } from '../model/state';
import type { ThreePhasors } from '../protection/family';
import { wrapped } from '../protection/overcurrent/direction';
import type { Studies } from '../studies/studies';
import { circuitAt, pathsFrom, type Path } from './circuits';
import { seenAtEnds, type EndSeen, type LineEnd } from './seen';

/** What the relay at an end sees of one fault. */
export interface Run {
  readonly kind: FaultKind;
  readonly currents: ThreePhasors;
  readonly voltages: ThreePhasors;
  readonly largestPhaseA: number;
  readonly residualA: number;
  /** Of 3I0 against 3U0; null without a residual current. */
  readonly residualDeg: number | null;
  /** Smallest voltage of a phase to earth, in volts. */
  readonly smallestV: number;
}

/** By this share of the line in front of the relay: the voltage is next to nothing, and the fault lies ahead. */
const closeShare = 1e-6;
/** Below this current no angle is told, in amperes. */
const leastA = 1e-3;

const sum = ([p, q, r]: ThreePhasors): Complex => add(add(p, q), r);

export function runOf({ currents, voltages }: EndSeen, kind: FaultKind): Run {
  const [residual, voltage] = [sum(currents), sum(voltages)];
  const degrees = ((angle(residual) - angle(voltage)) * 180) / Math.PI;
  return {
    kind,
    currents,
    voltages,
    largestPhaseA: Math.max(...currents.map(magnitude)),
    residualA: magnitude(residual),
    residualDeg: magnitude(residual) > leastA ? wrapped(degrees) : null,
    smallestV: Math.min(...voltages.map(magnitude)),
  };
}

/** All kinds of solid faults at a place, as the relay at an end sees them; kinds that cannot be computed are left out. */
export function runsAt(studies: Studies, state: State, place: Place, end: LineEnd): Run[] {
  const study = studies.iec60909(state);
  return seenAtEnds(study, place, faultKinds.map(solidFault), [end]).flatMap((seen, k) => {
    const own = seen.ok ? seen.ends[0] : null;
    return own ? [runOf(own, faultKinds[k])] : [];
  });
}

export interface PackageRuns {
  /** The way to the far end that is meant; of a tee the farthest. */
  readonly path: Path;
  readonly closeIn: readonly Run[];
  readonly remoteBus: readonly Run[];
  /** At the own busbar: what flows backward through the relay. */
  readonly behind: readonly Run[];
  readonly lineEndOpen: readonly Run[];
  readonly outages: readonly { readonly out: ElementId; readonly runs: readonly Run[] }[];
}

/** In one state, for the way to one far end. Yields the share that is done. */
export function* packageRuns(
  studies: Studies,
  state: State,
  end: LineEnd,
  path: Path,
  outages: readonly ElementId[],
): Generator<number, PackageRuns> {
  const far = path.to;
  const close: Place = {
    at: 'line',
    element: end.line,
    fraction: end.terminal === 0 ? closeShare : 1 - closeShare,
  };
  const bus = terminalPlace(far.line, far.terminal);
  const steps = 4 + outages.length;
  const closeIn = runsAt(studies, state, close, end);
  yield 1 / steps;
  const remoteBus = runsAt(studies, state, bus, end);
  yield 2 / steps;
  const behind = runsAt(studies, state, terminalPlace(end.line, end.terminal), end);
  yield 3 / steps;
  const open = { ...state, openEnd: { element: far.line, terminal: far.terminal } };
  const lineEndOpen = runsAt(studies, open, bus, end);
  const found: { out: ElementId; runs: Run[] }[] = [];
  for (const [k, out] of outages.entries()) {
    yield (4 + k) / steps;
    found.push({ out, runs: runsAt(studies, { ...state, outage: out }, bus, end) });
  }
  return { path, closeIn, remoteBus, behind, lineEndOpen, outages: found };
}

/** The farthest way from an end. */
export const farthestPath = (studies: Studies, end: LineEnd): Path | undefined =>
  [...pathsFrom(studies.max.assembly, circuitAt(studies.network, end), end)]
    .sort((p, q) => magnitude(q.ohm) - magnitude(p.ohm))
    .at(0);
