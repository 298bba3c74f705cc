/** What the parts of a line package are called. */
import { faultKindTitles } from '../faults/kinds';
import type { LineScheme } from '../model/linePackage';
import { nameOf } from '../model/element';
import type { ElementId } from '../model/fields';
import { conditionOf } from '../model/state';
import type { Network } from '../model/network';
import { namesByName, namesFor } from '../rules/names';
import type { PackageFigure } from './figures';
import type { PackageRun, RunPlace } from './runs';

export const schemeTitles: Readonly<Record<LineScheme, string>> = {
  stepped: 'stepped distance',
  permissiveUnderreach: 'permissive underreach',
  permissiveOverreach: 'permissive overreach',
  blocking: 'blocking',
  unblocking: 'unblocking',
  differential: 'line differential',
};

/** What a scheme asks of the signal, and what it does without one. */
export const schemeNotes: Readonly<Record<LineScheme, string>> = {
  stepped: 'Each end by itself: zone 1 at once, the rest of the line after the delay of zone 2.',
  permissiveUnderreach: 'Zone 1 sends; the far end trips at once when it receives and sees the fault in zone 2.',
  permissiveOverreach:
    'The overreaching zone sends; an end trips at once when it receives and sees the fault ahead itself. A weak end echoes.',
  blocking:
    'The reverse zone sends; the overreaching zone trips unless it receives, after the time that the signal takes.',
  unblocking:
    'As permissive overreach; for a short time after the signal is lost, an end trips without it. A weak end echoes.',
  differential:
    'The ends compare their currents: those settings stand in the Differential stage. What stands here is its backup.',
};

export const runPlaceTitles: Readonly<Record<RunPlace, string>> = {
  closeIn: 'close in',
  remoteBus: 'at the far busbar',
  lineEndOpen: 'at the far end, breaker there open',
  behind: 'at the own busbar',
};

const elementName = (network: Network, id: ElementId): string => {
  const element = network.elements.get(id);
  return element ? nameOf(element) : id;
};

/** "Minimum sources, FER-MAR out". */
export const stateText = (network: Network, { condition, out }: Pick<PackageRun, 'condition' | 'out'>): string =>
  [conditionOf(network, condition)?.name ?? condition, ...(out ? [`${elementName(network, out)} out`] : [])].join(', ');

/** "two-phase at the far busbar, Minimum sources, FER-MAR out". */
export const runText = (network: Network, run: PackageRun): string =>
  `${faultKindTitles[run.kind]} ${runPlaceTitles[run.place]}, ${stateText(network, run)}`;

/** Where a figure comes from. */
export function fromText(network: Network, { run, from, elements }: PackageFigure): string {
  if (run) return runText(network, run);
  const of = elements.map((id) => elementName(network, id)).join(' + ');
  return [from, of].filter(Boolean).join(': ');
}

const known = namesByName(namesFor('lineInstant'));
const own: Readonly<Record<string, string>> = {
  overlap: 'What zone 1 of the far end leaves of the line',
  overlapEarth: 'What zone 1 of the far end leaves of the line, earth loops',
  nearSeenLeast: 'Smallest impedance seen for a fault at a far busbar, phase loops',
  nearSeenLeastEarth: 'Smallest impedance seen for a fault at a far busbar, earth loops',
  farSeenMostEarth: 'Largest impedance seen for a fault at a far end, earth loops',
  nextZone1: 'The line and the shortest zone 1 that follows',
  beyond: 'The line and the longest that follows',
  arc: 'Half of an arc between phases',
  load: 'Smallest impedance of a load',
  faultResistance: 'Resistance of an earth fault',
  clearing: 'The zone 1 that it looks into has cleared',
  farZone2: 'Longest zone 2 of the lines that follow',
  farZone2Cleared: 'Zone 2 of the lines that follow has cleared',
  reverseReachOfFar: 'The line and what the far end sees behind it',
  farOverreach: 'How far the far end sees beyond this busbar',
  unbalance: 'Unbalance of the load and of current transformers',
  ctError: 'Error of the current transformers',
  lowestVoltage: 'Lowest voltage in operation',
  zone2Cleared: 'Zone 2 of this end has cleared',
  othersAllow: 'Zone 2 of others, less a breaker',
  breakerOpen: 'A sound breaker has opened, the measurement has fallen back',
  closeLargest3ph: 'Largest three-phase current close in',
  remoteLargest3ph: 'Largest three-phase current at a far busbar',
};
const units: Readonly<Record<string, string>> = {
  overlap: 'ohm',
  overlapEarth: 'ohm',
  nearSeenLeast: 'ohm',
  nearSeenLeastEarth: 'ohm',
  farSeenMostEarth: 'ohm',
  nextZone1: 'ohm',
  beyond: 'ohm',
  arc: 'ohm',
  load: 'ohm',
  faultResistance: 'ohm',
  clearing: 's',
  farZone2: 's',
  farZone2Cleared: 's',
  reverseReachOfFar: 'ohm',
  farOverreach: 'ohm',
  unbalance: 'A',
  ctError: 'A',
  lowestVoltage: 'V',
  zone2Cleared: 's',
  othersAllow: 's',
  breakerOpen: 's',
  closeLargest3ph: 'A',
  remoteLargest3ph: 'A',
};

export const figureTitle = (name: string): string => own[name] ?? known.get(name)?.title ?? name;
/** As it is shown. */
export const figureUnit = (name: string): string => {
  const unit = units[name] ?? known.get(name)?.unit ?? '';
  return unit === 'ohm' ? 'Ω' : unit === 'deg' ? '°' : unit;
};
