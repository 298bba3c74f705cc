/**
 * Ratings of the demo's switchgear, boards, current transformers and lines, by level. On purpose: BRA F51 breaks less than it must, BRA Q37 and the 11 kV board
 * are marginal, and Quern Mill's board is not known.
 */
import type { Element, ElementOf } from '../core/src/model/element';
import { networkOf } from '../core/src/model/network';
import { buildTopology } from '../core/src/model/topology';

interface Level {
  readonly breaker: Partial<ElementOf<'switch'>>;
  readonly board: Partial<ElementOf<'bus'>>;
  readonly ctKa: number;
}

const gear = (ratedKv: number, ratedA: number, kA: number, makingKa: number, seconds: number): Level => ({
  breaker: { ratedKv, ratedA, breakingKa: kA, makingKa, shortTimeKa: kA, shortTimeS: seconds },
  board: { ratedKv, ratedA, peakKa: makingKa, shortTimeKa: kA, shortTimeS: seconds },
  ctKa: kA,
});

const levels: readonly (readonly [fromKv: number, level: Level])[] = [
  [100, gear(145, 2000, 31.5, 80, 3)],
  [20, gear(36, 1250, 16, 40, 3)],
  [
    5,
    { ...gear(12, 1250, 20, 50, 3), board: { ratedKv: 12, ratedA: 1250, peakKa: 40, shortTimeKa: 16, shortTimeS: 1 } },
  ],
  [1, gear(7.2, 1250, 16, 40, 3)],
  [
    0,
    {
      breaker: {
        ratedKv: 0.69,
        ratedA: 2500,
        breakingKa: 50,
        serviceBreakingKa: 50,
        makingKa: 105,
        shortTimeKa: 50,
        shortTimeS: 1,
      },
      board: { ratedKv: 0.69, ratedA: 3200, peakKa: 105, shortTimeKa: 50, shortTimeS: 1 },
      ctKa: 50,
    },
  ],
];

const own: Readonly<Record<string, Partial<ElementOf<'switch'>>>> = {
  'BRA F51': { ratedA: 400, breakingKa: 25, serviceBreakingKa: 25, makingKa: null, shortTimeKa: null },
  'BRA F53': { ratedA: 400, breakingKa: 50, serviceBreakingKa: 50, makingKa: null, shortTimeKa: null },
  'BRA Q37': { breakingKa: 16, makingKa: 40, shortTimeKa: 16, note: 'From the first board of the works.' },
  'PEN R1': { ratedKv: 15.5, ratedA: 200, breakingKa: 12.5, makingKa: 31.5, shortTimeKa: 12.5, shortTimeS: 1 },
  'PEN F1': { ratedKv: 15.5, breakingKa: 8 },
  'PEN F2': { ratedKv: 15.5, breakingKa: 8 },
};
const unknownBoards = ['QUE 11', 'QUE tee', 'Rural 1', 'Rural 2'];

/** Conductors by resistance at 20 °C. */
const conductors: readonly (readonly [ohmPerKm: number, of: Partial<ElementOf<'line'>>])[] = [
  [0.118, { sectionMm2: 243, metal: 'aluminium', insulation: 'none', emergencyA: 780 }],
  [0.272, { sectionMm2: 106, metal: 'aluminium', insulation: 'none' }],
  [0.0991, { sectionMm2: 400, metal: 'aluminium', insulation: 'xlpe' }],
  [0.54, { sectionMm2: 53, metal: 'aluminium', insulation: 'none' }],
  [7.41, { sectionMm2: 2.5, metal: 'copper', insulation: 'xlpe' }],
];

export function rated(elements: readonly Element[]): Element[] {
  const topology = buildTopology(networkOf(elements));
  const levelAt = (id: Element['id']): Level => {
    const kv = topology.nodes[topology.nodeAt(id, 0)!].nominalKv ?? 0;
    return levels.find(([from]) => kv >= from)![1];
  };
  return elements.map((element): Element => {
    switch (element.kind) {
      case 'switch': {
        if (element.type === 'fuse') {
          const low = levelAt(element.id).breaker.ratedKv === 0.69;
          return { ...element, ratedKv: low ? 0.69 : 12, breakingKa: low ? 120 : 63, ...own[element.name] };
        }
        return { ...element, ...levelAt(element.id).breaker, ...own[element.name] };
      }
      case 'bus':
        return unknownBoards.includes(element.name) ? element : { ...element, ...levelAt(element.id).board };
      case 'currentTransformer':
        return {
          ...element,
          shortTimeKa: levelAt(element.id).ctKa,
          shortTimeS: 1,
          // A digital relay close by is far less than the rated burden.
          ...(['BRA CT11', 'BRA CT12', 'BRA CT31'].includes(element.name) && {
            ratedVa: 10,
            windingOhm: 2.5,
            burdenOhm: 3,
          }),
        };
      case 'line': {
        const known = conductors.find(([ohmPerKm]) => ohmPerKm === element.r1OhmPerKm);
        return known ? { ...element, ...known[1] } : element;
      }
      case 'earthingTransformer':
        return {
          ...element,
          shortTimeA: 1000,
          shortTimeS: 10,
          neutral: { ...element.neutral, ratedA: 1000, ratedS: 10 },
        };
      case 'transformer': {
        const resistor = element.lvNeutral.earthing === 'resistor';
        return resistor ? { ...element, lvNeutral: { ...element.lvNeutral, ratedA: 1000, ratedS: 10 } } : element;
      }
      case 'asynchronousMotor':
        return element.ratedMw > 1
          ? { ...element, inertiaKgM2: 160, startPowerFactor: 0.16, startTorque: 0.7, pullOutTorque: 2.2 }
          : element;
      case 'synchronousMachine':
        return { ...element, td2S: 0.03, td1S: 0.5, taS: 0.08 };
      default:
        return element;
    }
  });
}
