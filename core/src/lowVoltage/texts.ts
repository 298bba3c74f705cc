/** What criteria are called, by which clause they are asked, and why one cannot simply be told. */
import type { Criterion, Reason } from './judge';

export interface CriterionText {
  readonly title: string;
  /** For heads of tables. */
  readonly short: string;
  /** What is wrong where it is not met. */
  readonly missed: string;
  readonly clause: string;
  readonly machineClause?: string;
  /** Figures of the clause are only remembered. */
  readonly isRemembered: boolean;
}

export const criterionTexts: Readonly<Record<Criterion, CriterionText>> = {
  load: {
    title: 'Design current and device',
    short: 'Ib ≤ In',
    missed: 'it is smaller than the design current',
    clause: 'IEC 60364-4-43, 433.1',
    machineClause: 'IEC 60204-1, 7.3',
    isRemembered: false,
  },
  overload: {
    title: 'Cable against overload',
    short: 'In ≤ Iz',
    missed: 'the cable is not guarded against overload',
    clause: 'IEC 60364-4-43, 433.1; IEC 60364-5-52, annex B',
    machineClause: 'IEC 60204-1, 7.2 and 12.4',
    isRemembered: true,
  },
  drop: {
    title: 'Voltage drop',
    short: 'Voltage drop',
    missed: 'the voltage drops too far',
    clause: 'IEC 60364-5-52, 525 and annex G',
    machineClause: 'IEC 60204-1, 12.5',
    isRemembered: true,
  },
  startDrop: {
    title: 'Voltage drop while the motor starts',
    short: 'Start drop',
    missed: 'the voltage drops too far while the motor starts',
    clause: 'limit of the project',
    isRemembered: false,
  },
  start: {
    title: 'Device lets the motor start',
    short: 'Start',
    missed: 'it may trip while the motor starts',
    clause: 'band of the device',
    isRemembered: false,
  },
  disconnection: {
    title: 'Disconnection in time',
    short: 'Cut-off time',
    missed: 'a fault at the load is not cut off in time',
    clause: 'IEC 60364-4-41, 411.3.2, 411.4 to 411.6',
    machineClause: 'IEC 60204-1, 6.3.3 and annex A',
    isRemembered: true,
  },
  touch: {
    title: 'Touch voltage that may stay',
    short: 'RA · IΔn',
    missed: 'the touch voltage may stay too high',
    clause: 'IEC 60364-4-41, 411.5.3',
    isRemembered: true,
  },
  breaking: {
    title: 'Breaking capacity',
    short: 'Icn',
    missed: 'it does not break the current',
    clause: 'IEC 60364-4-43, 434.5.1',
    machineClause: 'IEC 60204-1, 7.2.9',
    isRemembered: false,
  },
  heat: {
    title: 'Conductors in a short circuit',
    short: 'Heat',
    missed: 'the conductors get too hot in a short circuit',
    clause: 'IEC 60364-4-43, 434.5.2',
    machineClause: 'IEC 60204-1, annex D.4',
    isRemembered: false,
  },
  heatPe: {
    title: 'Protective conductor',
    short: 'PE',
    missed: 'the protective conductor gets too hot',
    clause: 'IEC 60364-5-54, 543.1',
    machineClause: 'IEC 60204-1, 8.2.2',
    isRemembered: false,
  },
};

export const clauseOf = (criterion: Criterion, rules: 'building' | 'machine'): string => {
  const { clause, machineClause } = criterionTexts[criterion];
  return rules === 'machine' ? (machineClause ?? clause) : clause;
};

export const reasonTexts: Readonly<Record<Reason, string>> = {
  noDevice: 'no protective device on the way',
  noOverload: 'nothing guards the cable against overload',
  noCapacity: 'what the cable carries is not known: give section and laying, or a rated current',
  noSupply: 'not supplied in any condition',
  noZeroSequence: 'R0 and X0 of a cable are not given: choose the cable by its section',
  noEarth: 'no current flows to earth: the star point is not earthed',
  noBreaking: 'the breaking capacity is not given',
  noSection: 'section, conductor or insulation is not given',
  neverEnds: 'no device certainly ends this current',
  boundOfStandard: 'let-through energy of the data sheet is not given; the longest time of the standard is taken',
  mayTrip: 'the device may trip before the motor has started',
};
