/** A stored trial made ready for the network, played, and judged. */
import type { Disturbance, Place } from '../faults/solution/solve';
import { longestFaultS } from './limits';
import type { Phase } from '../faults/kinds';
import type { ElementId } from '../model/fields';
import { find, type Network } from '../model/network';
import type { Problem } from '../model/problem';
import { conditionOf } from '../model/state';
import type { Trial, TrialFault } from '../model/trial';
import { clearsAfter, devicesOf, type Device } from '../protection/device';
import type { Studies } from '../studies/studies';
import type { Failures, FaultStage } from './event';
import { Grid, GridProblem } from './grid';
import { actorsOf, play, type Played } from './play';
import { pilotsOf } from './signals';
import type { Supply } from './supply';
import { judged, neededAround, type Judged } from './verdict';

export const placeOf = ({
  element,
  terminal,
  fraction,
}: Pick<TrialFault, 'element' | 'terminal' | 'fraction'>): Place =>
  fraction === null ? { at: 'terminal', element, terminal: terminal ?? 0 } : { at: 'line', element, fraction };

export const disturbanceOf = (fault: TrialFault): Disturbance =>
  fault.type === 'open'
    ? { type: 'open', element: fault.element, terminal: fault.terminal ?? 0, phases: [fault.odd as Phase] }
    : {
        type: 'shunt',
        place: placeOf(fault),
        kind: fault.kind,
        odd: fault.odd as Phase,
        phaseOhm: { re: fault.phaseOhm, im: 0 },
        earthOhm: { re: fault.earthOhm, im: 0 },
      };

export const stagesOfTrial = ({ faults, then }: Pick<Trial, 'faults' | 'then'>): FaultStage[] => [
  { atS: 0, faults: faults.map(disturbanceOf) },
  ...[...then]
    .sort((p, q) => p.atS - q.atS)
    .map(({ atS, faults: later }) => ({ atS, faults: later.map(disturbanceOf) })),
];

/** Nothing is played beyond, in seconds. */
export const longestTrialS = 3600;

export interface TrialResult {
  readonly trial: Trial;
  readonly played: Played;
  readonly judged: Judged;
  readonly devices: readonly Device[];
  /** Of the state that it began in. */
  readonly supply: Supply;
}

export type Ran =
  { readonly ok: true; readonly result: TrialResult } | { readonly ok: false; readonly problems: readonly Problem[] };

export const openingIn =
  (network: Network) =>
  (element: ElementId): number => {
    const breaker = find(network, 'switch', element);
    return breaker?.type === 'fuse' ? 0 : clearsAfter(breaker?.openingTimeS ?? null);
  };

/** Problems: a condition that is gone, a place that is not there, no supply, data that are missing. */
export function runTrial(studies: Studies, trial: Trial, detail = true): Ran {
  const { network } = studies;
  if (!conditionOf(network, trial.condition)) {
    const message = `the condition of ${trial.name} is not in the project any more: choose another one`;
    return { ok: false, problems: [{ severity: 'error', code: 'trial.condition', message, element: trial.id }] };
  }
  const nowhere = trial.faults.find(({ element }) => !network.elements.has(element));
  if (nowhere) {
    const message = `${trial.name}: the place of the fault, ${nowhere.element}, is not in the project`;
    return { ok: false, problems: [{ severity: 'error', code: 'fault.place', message }] };
  }
  const devices = devicesOf(network);
  const grid = new Grid(studies, { condition: trial.condition, outage: trial.outage }, devices);
  const failures: Failures = trial;
  try {
    const played = play({
      actors: actorsOf(devices, failures),
      stand: grid,
      openingS: openingIn(network),
      faults: stagesOfTrial(trial),
      goneAfterDeadS: trial.goneAfterDeadS,
      motorsFeedS: trial.motorsFeedS,
      failures,
      pilots: pilotsOf(studies),
      untilS: longestTrialS,
      detail,
    });
    const outcome = judgedBy(grid, devices, trial, played, network);
    return { ok: true, result: { trial, played, devices, supply: grid.supply, judged: outcome } };
  } catch (error) {
    if (error instanceof GridProblem) return { ok: false, problems: error.problems };
    throw error;
  }
}

export const hasFailures = ({ stuck, dead, silent }: Failures): boolean =>
  stuck.length + dead.length + silent.length > 0;

function judgedBy(grid: Grid, devices: readonly Device[], trial: Trial, played: Played, network: Network): Judged {
  const shunts = trial.faults.filter(({ type }) => type === 'shunt');
  const places = shunts.map(placeOf);
  const wanted = {
    opens: trial.opens ?? neededAround(grid.supply, devices, places, trial),
    withinS: trial.withinS ?? withinOf(network, grid, places, hasFailures(trial)),
  };
  const scene = { open: new Set(played.open), partly: new Map(played.partly), faults: [] };
  return judged(played, devices, grid.supply, grid.supplied(scene), wanted, places);
}

/** By the rulebook, for the voltage at the place. */
export function withinOf(network: Network, grid: Grid, places: readonly Place[], byBackup: boolean): number {
  const kv = Math.max(0, ...places.map((place) => grid.nominalKv(place)));
  return longestFaultS(network, kv, byBackup);
}
