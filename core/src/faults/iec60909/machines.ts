/** What each source feeds into a fault, at its own terminals: the basis of breaking and steady currents. */
import { magnitude, multiply, scale, type Complex } from '../../linear/complex';
import { nameOf, type Element } from '../../model/element';
import type { ElementId } from '../../model/fields';
import { admittance, valueAt } from '../../assembly/sequenceNetwork';
import { ratedMvaOf } from '../../sequence/asynchronousMotor';
import { solutionOf, withRaised, type Fault } from './study';

export interface SourceShare {
  readonly element: ElementId;
  readonly name: string;
  readonly kind: Element['kind'];
  /** Positive-sequence current out of the source at its own level, amperes; phase position of the part's first node. */
  readonly current: Complex;
  /** Drop at its subtransient reactance, j·X″·I, volts phase to neutral (IEC 60909-0, 9.1.3). */
  readonly drop: Complex;
  /** Its own level over that of the fault. */
  readonly levelRatio: number;
  /** Rated current in amperes; null for a network feeder. */
  readonly ratedA: number | null;
  readonly node: number;
}

const isMotor = (kind: Element['kind']) =>
  kind === 'asynchronousMotor' || kind === 'staticDrive' || kind === 'doublyFedMachine';

/** Sources that die away within the first periods and take no part in the steady current. */
export const diesAway = isMotor;

/** Shares of all sources behind an impedance during a three-phase fault; converters are not among them. */
export function sourceShares(fault: Fault): SourceShare[] {
  const { assembly } = fault.study;
  const { positive, network, level } = assembly;
  const { change } = withRaised(solutionOf(fault), fault.raised());
  return positive.shunts.flatMap((shunt): SourceShare[] => {
    if (shunt.role !== 'source' || assembly.part[shunt.node] !== assembly.part[fault.node]) return [];
    const element = network.elements.get(shunt.element)!;
    const voltage = valueAt(change.positive, shunt.node);
    const current = scale(multiply(voltage, admittance(positive.weight(shunt))), -1);
    return [
      {
        element: shunt.element,
        name: nameOf(element),
        kind: element.kind,
        current,
        drop: multiply({ re: 0, im: shunt.xOhm }, current),
        levelRatio: level[shunt.node] / level[fault.node],
        ratedA: ratedCurrent(element),
        node: shunt.node,
      },
    ];
  });
}

function ratedCurrent(element: Element): number | null {
  const amperes = (mva: number, kv: number) => (mva * 1000) / (Math.sqrt(3) * kv);
  switch (element.kind) {
    case 'synchronousMachine':
    case 'doublyFedMachine':
    case 'staticDrive':
      return amperes(element.ratedMva, element.ratedKv);
    case 'powerStationUnit':
      return amperes(element.generator.ratedMva, element.generator.ratedKv);
    case 'asynchronousMotor':
      return amperes(ratedMvaOf(element) * element.count, element.ratedKv);
    default:
      return null;
  }
}

/** I″k over rated current at the machine's terminals. */
export const loadingOf = (share: SourceShare): number =>
  share.ratedA === null ? 0 : magnitude(share.current) / share.ratedA;
