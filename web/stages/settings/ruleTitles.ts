/** What rules are about, in words. */
import type { Measured } from '@mesura/core/model/chart';
import type { RuleBound, RuleSubject } from '@mesura/core/model/rulebook';

export const subjectTitles: Readonly<Record<RuleSubject, string>> = {
  phaseDelayed: 'Phase, delayed',
  phaseInstant: 'Phase, without delay',
  earthDelayed: 'Earth fault, delayed',
  earthInstant: 'Earth fault, without delay',
  negative: 'Negative sequence',
  thermal: 'Thermal',
  link: 'Fuses and overload releases',
  pair: 'Two devices',
  currentTransformer: 'Current transformers',
  zone1: 'Distance, zone 1',
  zone2: 'Distance, zone 2',
  zone3: 'Distance, zone 3',
  zone4: 'Distance, zone 4',
  zone5: 'Distance, zone 5',
  lineInstant: 'Line package, 50',
  lineInstantEarth: 'Line package, 50N',
  lineEarth: 'Line package, 67N',
  linePilot: 'Line package, overreaching zone',
  lineReverse: 'Line package, reverse zone',
  linePilotEarth: 'Line package, earth direction for the signal',
  lineReverseEarth: 'Line package, earth direction backward',
  lineWeak: 'Line package, weak end',
  lineBreakerFailure: 'Line package, breaker failure',
  lineSynchrocheck: 'Line package, synchrocheck',
  lineReclosing: 'Line package, autoreclosing',
  faultTime: 'Duration of a fault',
  faultTimeBackup: 'Duration of a fault, by backup',
};
export const boundTitles: Readonly<Record<RuleBound, { short: string; long: string; isWhole?: true }>> = {
  pickup: { short: 'pickup', long: 'Pickup' },
  time: { short: 'time', long: 'Time' },
  margin: { short: 'margin', long: 'Margin' },
  primary: { short: 'rated primary', long: 'Rated primary current' },
  angle: { short: 'angle', long: 'Characteristic angle' },
  directed: { short: 'directed below', long: 'Given a direction where the pickup lies below', isWhole: true },
  reach: { short: 'reach', long: 'Reach' },
  reachEarth: { short: 'reach, earth', long: 'Reach of earth loops' },
  resistance: { short: 'resistance', long: 'Resistance' },
  resistanceEarth: { short: 'resistance, earth', long: 'Resistance of earth loops' },
  delay: { short: 'delay', long: 'Delay' },
  voltage: { short: 'voltage', long: 'Voltage' },
  present: { short: 'there from', long: 'Added where what lies behind carries at least', isWhole: true },
};
const modes: Partial<Readonly<Record<RuleSubject, Measured>>> = {
  earthDelayed: 'earth',
  earthInstant: 'earth',
  negative: 'negative',
};
/** Which faults the figures of a device are found for. */
export const modeOf = (subject: RuleSubject): Measured => modes[subject] ?? 'phase';
