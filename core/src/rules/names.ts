/** The quantities that rules may name, by what a rule is about. Their values are found in `proposals/figures`. */
import type { Name } from '../formulas/formula';
import type { RuleBound, RuleSubject } from '../model/rulebook';

const load: readonly Name[] = [
  { name: 'load', title: 'Largest load through the device, over the conditions', unit: 'A' },
  { name: 'emergencyLoad', title: 'What lies behind it may carry in an emergency', unit: 'A' },
  { name: 'rated', title: 'What lies behind it carries on and on', unit: 'A' },
];
const fault: readonly Name[] = [
  { name: 'smallestFault', title: 'Smallest fault at its far end, in the quantity that it measures', unit: 'A' },
  { name: 'throughFault', title: 'Largest fault at its far end', unit: 'A' },
  { name: 'largestFault', title: 'Largest fault right behind it', unit: 'A' },
  { name: 'backwardFault', title: 'Largest current backward, for a fault on its source side', unit: 'A' },
];
const plant: readonly Name[] = [
  { name: 'inrush', title: 'Inrush of transformers right behind it, for 0.1 s', unit: 'A' },
  { name: 'motorStart', title: 'Starting current of a motor right behind it', unit: 'A' },
  { name: 'startTime', title: 'Run-up time of that motor', unit: 's' },
  { name: 'ctPrimary', title: 'Rated primary current of its current transformer', unit: 'A' },
  { name: 'deviceRating', title: 'What the function takes as its rated current', unit: 'A' },
];
const direction: readonly Name[] = [
  { name: 'leastLead', title: 'Lead of a fault ahead before the polarising voltage, the smallest', unit: 'deg' },
  { name: 'mostLead', title: 'Lead of a fault ahead before the polarising voltage, the largest', unit: 'deg' },
];
const pair: readonly Name[] = [
  { name: 'lowerPickup', title: 'Lowest pickup of the lower device, as the upper one sees it', unit: 'A' },
  { name: 'projectMargin', title: 'Required grading margin of the project', unit: 's' },
  { name: 'breakerTime', title: 'Opening of the lower breaker; 0 where it clears by itself', unit: 's' },
  { name: 'lowerError', title: 'Fixed error of the lower relay', unit: 's' },
  { name: 'upperError', title: 'Fixed error of the upper relay', unit: 's' },
  { name: 'overshoot', title: 'Overshoot of the upper relay', unit: 's' },
];

/** Impedances are complex: sums are those of phasors, and the larger of two is that with the larger magnitude. */
const zone: readonly Name[] = [
  { name: 'own', title: 'The line itself, to its farthest end', unit: 'ohm' },
  { name: 'ownNearest', title: 'The line itself, to its nearest end', unit: 'ohm' },
  { name: 'shortestNext', title: 'Shortest of the lines that follow', unit: 'ohm' },
  { name: 'longestNext', title: 'Longest of the lines that follow', unit: 'ohm' },
  { name: 'transformer', title: 'Smallest transformer at the far end', unit: 'ohm' },
  { name: 'behind', title: 'Shortest of the lines behind', unit: 'ohm' },
  { name: 'zone1', title: 'Reach of zone 1', unit: 'ohm' },
  { name: 'zone2', title: 'Reach of zone 2', unit: 'ohm' },
  { name: 'zone3', title: 'Reach of zone 3', unit: 'ohm' },
  { name: 'load', title: 'Smallest impedance of a load: emergency rating at 0.85 of the nominal voltage', unit: 'ohm' },
  { name: 'faultResistance', title: 'Resistance of an earth fault at this voltage level', unit: 'ohm' },
  { name: 'arcResistance', title: 'Resistance of an arc between phases at this voltage level', unit: 'ohm' },
  { name: 'margin', title: 'Required grading margin of the project', unit: 's' },
  {
    name: 'overcurrentAhead',
    title: 'Slowest overcurrent device at the far busbars, for a fault right behind it, its breaker included',
    unit: 's',
  },
];

/** Of the protection of a line beside its zones: what its own fault runs have found at one end, and what stands around it. */
const linePackage: readonly Name[] = [
  { name: 'outsideLargest', title: 'Largest current for faults at the far busbar and at the own one', unit: 'A' },
  { name: 'outsideLargestEarth', title: 'The same, residual current', unit: 'A' },
  { name: 'closeSmallest', title: 'Smallest current for a fault close in', unit: 'A' },
  { name: 'closeSmallestEarth', title: 'The same, residual current of earth faults', unit: 'A' },
  { name: 'insideSmallest', title: 'Smallest current for a fault on the line, with the worst outage', unit: 'A' },
  { name: 'insideSmallestEarth', title: 'The same, residual current of earth faults', unit: 'A' },
  { name: 'emergencyLoad', title: 'What the line may carry in an emergency', unit: 'A' },
  { name: 'ctPrimary', title: 'Rated primary current of the current transformer', unit: 'A' },
  { name: 'own', title: 'The line itself, to its farthest end', unit: 'ohm' },
  { name: 'farSeenMost', title: 'Largest impedance seen for a fault at a far end, phase loops', unit: 'ohm' },
  { name: 'farPilotReach', title: 'Reach of the overreaching zone at the far end', unit: 'ohm' },
  { name: 'farPilotEarth', title: 'Pickup of the earth direction for the signal at the far end', unit: 'A' },
  { name: 'weakVoltage', title: 'Largest voltage of the faulted phase when little stands behind the end', unit: 'V' },
  { name: 'nominalVoltage', title: 'Nominal voltage, phase to earth', unit: 'V' },
  { name: 'zone2Delay', title: 'Delay of zone 2', unit: 's' },
  { name: 'othersZone2', title: 'Shortest delay of a zone 2 that looks at the own busbar', unit: 's' },
  { name: 'breakerTime', title: 'Opening time of the breaker', unit: 's' },
  { name: 'relayReset', title: 'Reset of the relay', unit: 's' },
  { name: 'channelTime', title: 'Time of the signal between the ends', unit: 's' },
  { name: 'margin', title: 'Required grading margin of the project', unit: 's' },
  { name: 'openAngle', title: 'Angle between the ends when the line is out, largest of the conditions', unit: 'deg' },
  { name: 'deionisation', title: 'Time after which an arc in air does not come again, by the voltage', unit: 's' },
];

/** How long a fault may last. */
const faultTime: readonly Name[] = [
  { name: 'voltage', title: 'Nominal voltage at the fault, between phases', unit: 'V' },
  { name: 'margin', title: 'Required grading margin of the project', unit: 's' },
];

const functionNames = [...load, ...fault, ...plant, ...direction];

const primaryNames = [...load, ...fault];

/** Rules about ends of lines, not about devices. */
export const isOfLineEnd = (subject: RuleSubject): boolean => /^(zone|line)/.test(subject);

export const namesFor = (subject: RuleSubject): readonly Name[] =>
  subject === 'pair'
    ? pair
    : subject === 'currentTransformer'
      ? primaryNames
      : subject.startsWith('zone')
        ? zone
        : subject.startsWith('line')
          ? linePackage
          : subject.startsWith('faultTime')
            ? faultTime
            : functionNames;

/** Unit of what a rule bounds. */
export const unitOf = (bound: RuleBound): string => units[bound];
const units: Readonly<Record<RuleBound, string>> = {
  pickup: 'A',
  time: 's',
  margin: 's',
  primary: 'A',
  angle: 'deg',
  directed: 'A',
  present: 'A',
  reach: 'ohm',
  reachEarth: 'ohm',
  resistance: 'ohm',
  resistanceEarth: 'ohm',
  delay: 's',
  voltage: 'V',
};

const lookup = new Map<readonly Name[], ReadonlyMap<string, Name>>();
export function namesByName(names: readonly Name[]): ReadonlyMap<string, Name> {
  let known = lookup.get(names);
  if (!known) lookup.set(names, (known = new Map(names.map((each) => [each.name, each]))));
  return known;
}
