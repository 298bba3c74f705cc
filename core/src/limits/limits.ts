/** The lines of an element: damage, load, inrush, start. Elements that have none give none. */
import { startingMotor, impedanceAt, runUp } from '../flow/motor';
import { acAt } from '../faults/course/machine';
import { magnitude } from '../linear/complex';
import { nameOf, type Element, type ElementOf } from '../model/element';
import type { ElementId } from '../model/fields';
import { settingsOf, type Network } from '../model/network';
import type { CurvePair } from '../protection/pointCurve';
import { lineWithstand } from '../ratings/lineWithstand';
import { timesRated } from '../ratings/transformers';
import { arcLimits } from './arc';
import type { LimitCurve } from './limit';
import { lineOverWinding } from './windings';
import { categoryOf, damageCurve, iecWithstand, inrushPoints } from './transformer';

/** Lines of one element; `nominalKv`: of the node that it stands at. */
export function limitsOf(network: Network, element: Element, nominalKv: number | null): readonly LimitCurve[] {
  switch (element.kind) {
    case 'transformer':
      return transformerLimits(element);
    case 'line':
      return lineLimits(element, nominalKv);
    case 'asynchronousMotor':
      return motorLimits(element, settingsOf(network).frequencyHz);
    case 'synchronousMachine':
      return [decrementOf(element)];
    case 'bus':
      return element.arc?.leftOut ? [] : arcLimits(element, settingsOf(network).arc);
    default:
      return [];
  }
}

/** Kinds of element that may have lines. */
export const limitedKinds = ['transformer', 'line', 'asynchronousMotor', 'synchronousMachine', 'bus'] as const;

/** The lines that an element has, at whatever voltage: their names, titles and sources, not their currents. */
export const linesOf = (network: Network, element: Element): readonly Omit<LimitCurve, 'points' | 'kv'>[] =>
  limitsOf(network, element, 1);

const times = (points: readonly CurvePair[], factor: number): CurvePair[] =>
  points.map(([multiple, timeS]) => [multiple * factor, timeS]);

function transformerLimits(transformer: ElementOf<'transformer'>): readonly LimitCurve[] {
  const { id, ratedMva, hvKv, ukPercent } = transformer;
  const ratedA = (ratedMva * 1000) / (Math.sqrt(3) * hvKv);
  const uk = ukPercent / 100;
  const category = categoryOf(ratedMva * 1000);
  const of = { element: id, kv: hvKv };
  const name = nameOf(transformer);
  return [
    {
      ...of,
      line: 'withstand',
      title: `${name} withstand`,
      kind: 'damage',
      points: times(iecWithstand(timesRated(ukPercent, ratedMva, Infinity)), ratedA),
      source: 'IEC 60076-5, 4.1.3',
      mark: '',
    },
    {
      ...of,
      line: 'category',
      title: `${name} category ${category}`,
      kind: 'damage',
      points: times(damageCurve(category, uk), ratedA),
      source: `IEEE C57.109, category ${category}, frequent faults`,
      mark: 'remembered',
    },
    ...earthFaultLine(transformer, ratedA),
    {
      ...of,
      line: 'inrush',
      title: `${name} inrush`,
      kind: 'inrush',
      points: times(inrushPoints, ratedA),
      source: 'convention: 12 × In for 0.1 s, 25 × In for 0.01 s',
      mark: 'typical',
    },
    {
      ...of,
      line: 'load',
      title: `${name} Ir`,
      kind: 'load',
      points: vertical(ratedA),
      source: 'rated current',
      mark: '',
    },
    ...loadLines(id, name, hvKv),
  ];
}

/** The load that flows: a chart puts in the currents, which are no matter of the element alone. */
const loadLines = (element: ElementId, name: string, kv: number): LimitCurve[] => {
  const of = {
    element,
    kind: 'load' as const,
    kv,
    points: [],
    source: 'load flow, largest over the conditions',
    mark: '' as const,
  };
  return [
    { ...of, line: 'loadNow', title: `${name} largest load` },
    { ...of, line: 'loadGrown', title: `${name} load with growth` },
  ];
};

/** What the withstand is for a device in the line when an earth fault lies behind a delta winding: the line carries less than the winding does. */
function earthFaultLine(transformer: ElementOf<'transformer'>, ratedA: number): LimitCurve[] {
  if (!/^Dyn?\d/.test(transformer.vectorGroup) || transformer.lvNeutral.earthing === 'isolated') return [];
  const share = lineOverWinding('D', 'Y', '1ph');
  const { id, hvKv, ukPercent, ratedMva } = transformer;
  return [
    {
      line: 'withstandEarth',
      element: id,
      title: `${nameOf(transformer)} withstand, earth fault behind`,
      kind: 'damage',
      kv: hvKv,
      points: times(iecWithstand(timesRated(ukPercent, ratedMva, Infinity)), ratedA * share),
      source: 'IEC 60076-5, 4.1.3; line over winding 1/√3',
      mark: '',
    },
  ];
}

/** A current that flows on and on. */
const vertical = (currentA: number): CurvePair[] => [
  [currentA, 1e4],
  [currentA, 1],
];

const durations = [0.1, 0.2, 0.5, 1, 2, 3, 5] as const;

function lineLimits(line: ElementOf<'line'>, nominalKv: number | null): readonly LimitCurve[] {
  const { id, insulation, circuits, ratedA } = line;
  if (nominalKv === null) return [];
  const name = nameOf(line);
  const curves: LimitCurve[] = [];
  const withstand = lineWithstand(line, nominalKv);
  if (withstand) {
    const points = durations.map((timeS): CurvePair => [withstand.allowedA(timeS) * circuits, timeS]);
    curves.push({
      line: 'conductor',
      element: id,
      title: `${name} conductor`,
      kind: 'damage',
      kv: nominalKv,
      points: points.reverse(),
      source: insulation === 'none' ? 'IEC 60865-1, clause 8' : 'IEC 60949, 3 and 4',
      // Its constants are: as in the check of the conductor.
      mark: 'remembered',
    });
    const [first] = curves;
    curves.push({
      ...first,
      line: 'reclosed',
      title: `${name} conductor, reclosed once`,
      // Nothing cools in the dead time: both faults heat together.
      points: first.points.map(([currentA, timeS]): CurvePair => [currentA, timeS / 2]),
      source: `${first.source}, heat of two faults of equal length`,
    });
  }
  if (ratedA !== null)
    curves.push({
      line: 'load',
      element: id,
      title: `${name} Ir`,
      kind: 'load',
      kv: nominalKv,
      points: vertical(ratedA * circuits),
      source: 'rated current',
      mark: '',
    });
  curves.push(...loadLines(id, name, nominalKv));
  return curves;
}

function motorLimits(motor: ElementOf<'asynchronousMotor'>, frequencyHz: number): readonly LimitCurve[] {
  const starting = startingMotor(motor, frequencyHz);
  const { ratedA, startingA, torque, load, inertiaKgM2, synchronousRpm, ratedSlip } = starting;
  if (inertiaKgM2 === null) return [];
  const run = runUp({ torque, load, inertiaKgM2, synchronousRpm, endSlip: ratedSlip * 1.05, factor: () => 1 });
  if (!run.runsUp) return [];
  const at = (slip: number) => startingA / magnitude(impedanceAt(starting, slip));
  const name = nameOf(motor);
  // Right to left in time: at each current the time until which it flows.
  const course = run.course.filter(({ timeS }) => timeS > 0);
  const points: CurvePair[] = [
    [ratedA, 1e3],
    [ratedA, run.timeS!],
    ...[...course].reverse().map(({ slip, timeS }): CurvePair => [Math.max(at(slip), ratedA), timeS]),
    [startingA, 0.02],
  ];
  return [
    {
      line: 'start',
      element: motor.id,
      title: `${name} start`,
      kind: 'start',
      kv: motor.ratedKv,
      points: monotone(points),
      source: `run-up at rated voltage${starting.assumed.length > 0 ? ', typical torques (IEC 60034-12)' : ''}`,
      mark: starting.assumed.length > 0 ? 'typical' : '',
    },
  ];
}

/** The outermost line: no later point lies to the left of an earlier one. */
function monotone(points: readonly CurvePair[]): CurvePair[] {
  let most = 0;
  return points.map(([current, timeS]) => [(most = Math.max(most, current)), timeS]);
}

/** What stands in for reactances and time constants that are not given: of generators of some MVA. */
const typicalMachine = { xd1OverXd2: 1.5, xd: 1.8, td2S: 0.03, td1S: 0.8 } as const;

/** What a machine feeds into a fault at its terminals, over the time that the fault has lasted: from I″ over I′ to I, its excitation left as it was at rated voltage. */
function decrementOf(machine: ElementOf<'synchronousMachine'>): LimitCurve {
  const { id, ratedMva, ratedKv, xd2Percent, xd1Percent, xdPercent, td2S, td1S } = machine;
  const ratedA = (ratedMva * 1000) / (Math.sqrt(3) * ratedKv);
  const xd2 = xd2Percent / 100;
  const data = {
    xd2,
    xd1: xd1Percent === null ? xd2 * typicalMachine.xd1OverXd2 : xd1Percent / 100,
    xd: xdPercent === null ? typicalMachine.xd : xdPercent / 100,
    xq2: xd2,
    td2S: td2S ?? typicalMachine.td2S,
    td1S: td1S ?? typicalMachine.td1S,
    taS: 1,
  };
  const given = xd1Percent !== null && xdPercent !== null && td2S !== null && td1S !== null;
  const points = Array.from({ length: 34 }, (_, k): CurvePair => {
    const timeS = 20 * 10 ** (-k / 10);
    return [ratedA * acAt(data, timeS), timeS];
  });
  return {
    line: 'decrement',
    element: id,
    title: `${nameOf(machine)} decrement`,
    kind: 'supply',
    kv: ratedKv,
    points,
    source: `three-phase fault at its terminals, IEC 60034-4${given ? '' : ', typical reactances and time constants'}`,
    mark: given ? '' : 'typical',
  };
}
