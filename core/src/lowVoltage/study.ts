/** All circuits of the low-voltage boards of a network, judged over conditions: a row each. */
import { circuitsIn, type FoundCircuit } from '../circuits/find';
import type { Condition } from '../model/condition';
import type { ElementId } from '../model/fields';
import type { Studies } from '../studies/studies';
import { caseMaker, mainOf, type CircuitCase } from './case';
import type { Capacity } from './cable';
import { boardsOf, phaseAmperes } from './demand';
import { judged, type Judgement } from './judge';

/** As it goes to a screen: plain data. */
export interface CircuitRow extends Omit<Judgement, 'cleared' | 'guard' | 'capacities'> {
  /** First switch, or what is supplied where there is none. */
  readonly key: ElementId;
  readonly board: ElementId;
  readonly isFeeder: boolean;
  readonly isSinglePhase: boolean;
  readonly switches: readonly ElementId[];
  readonly ends: readonly ElementId[];
  readonly cables: readonly CableFigures[];
  /** Of the cable that is longest; null without one. */
  readonly main: number | null;
  readonly cleared: { readonly timeS: number | null; readonly device: ElementId | null; readonly code: string };
  readonly guard: {
    readonly device: ElementId;
    readonly name: string;
    readonly codes: readonly string[];
    readonly referenceA: number | null;
  } | null;
}

export interface CableFigures {
  readonly element: ElementId;
  readonly sectionMm2: number | null;
  readonly peMm2: number | null;
  readonly lengthM: number;
  readonly parallel: number;
  readonly designA: number;
  readonly capacity: Capacity;
}

export interface BoardFigures {
  readonly board: ElementId;
  /** Circuit that feeds it from another board. */
  readonly fedBy: ElementId | null;
  /** Amperes in L1, L2, L3, by its coincidence. */
  readonly phasesA: readonly [number, number, number];
  /** Furthest of the phases from their mean, over it; 0 where nothing flows. */
  readonly unbalance: number;
  readonly circuits: number;
}

export interface CircuitTable {
  readonly rows: readonly CircuitRow[];
  readonly boards: readonly BoardFigures[];
}

export const keyOf = ({ switches, ends }: FoundCircuit): ElementId => switches.at(0) ?? ends[0];

export function rowOf(given: CircuitCase): CircuitRow {
  const found = judged(given);
  const { cleared, guard, capacities } = found;
  const { circuit, cables, isSinglePhase } = given;
  const longest = mainOf(given);
  const shown = guard ?? given.guards.at(0) ?? null;
  // Written out: there are thousands, and a copy of the rest of an object is slow.
  return {
    designA: found.designA,
    phasesA: found.phasesA,
    cosPhi: found.cosPhi,
    upstreamPercent: found.upstreamPercent,
    ownPercent: found.ownPercent,
    startPercent: found.startPercent,
    boardMax: found.boardMax,
    boardEarth: found.boardEarth,
    endMax: found.endMax,
    endShort: found.endShort,
    endEarth: found.endEarth,
    loopOhm: found.loopOhm,
    requiredS: found.requiredS,
    operatingA: found.operatingA,
    checks: found.checks,
    verdict: found.verdict,
    binding: found.binding,
    key: keyOf(circuit),
    board: circuit.board,
    isFeeder: circuit.isFeeder,
    isSinglePhase,
    switches: circuit.switches,
    ends: circuit.ends,
    cables: cables.map(({ cable, designA }, k) => ({
      element: cable.element,
      sectionMm2: cable.sectionMm2,
      peMm2: cable.peMm2,
      lengthM: cable.lengthM,
      parallel: cable.parallel,
      designA,
      capacity: capacities[k],
    })),
    main: longest < 0 ? null : longest,
    cleared: {
      timeS: cleared && cleared.timeS < Infinity ? cleared.timeS : null,
      device: cleared?.by?.device ?? null,
      code: cleared?.fn?.code ?? '',
    },
    guard: shown && {
      device: shown.device,
      name: shown.name,
      codes: [...new Set(given.guards.flatMap(({ functions }) => functions.map(({ code }) => code)))],
      referenceA: shown.overload?.referenceA ?? null,
    },
  };
}

/** So many circuits are judged before others have their turn. */
const slice = 40;

/** `board`: of one alone. */
export function* circuitTable(
  studies: Studies,
  conditions: readonly Condition[],
  board: ElementId | null = null,
): Generator<number, CircuitTable> {
  const { network } = studies;
  const circuits = circuitsIn(network).filter((each) => board === null || each.board === board);
  const rows: CircuitRow[] = [];
  const cases = caseMaker(studies, conditions);
  for (let k = 0; k < circuits.length; k += slice) {
    rows.push(...circuits.slice(k, k + slice).map((circuit) => rowOf(cases(circuit))));
    yield Math.min(1, (k + slice) / circuits.length);
  }
  return { rows, boards: boardFigures(studies).filter((each) => board === null || each.board === board) };
}

/** Boards that have circuits. */
export function boardFigures({ network }: Studies): BoardFigures[] {
  const { circuits, fedBy, demandAt } = boardsOf(network);
  return [...circuits].map(([board, list]) => {
    const bus = network.elements.get(board);
    const u0 = bus?.kind === 'bus' ? (1000 * bus.nominalKv) / Math.sqrt(3) : 1;
    const phasesA = phaseAmperes(demandAt(board), u0);
    const mean = (phasesA[0] + phasesA[1] + phasesA[2]) / 3;
    const feeder = fedBy.get(board);
    return {
      board,
      fedBy: feeder ? keyOf(feeder) : null,
      phasesA,
      unbalance: mean === 0 ? 0 : Math.max(...phasesA.map((each) => Math.abs(each - mean))) / mean,
      circuits: list.length,
    };
  });
}

/** The circuit of a key, and the case that it makes; null where it is not there. */
export function caseOfKey(studies: Studies, conditions: readonly Condition[], key: ElementId): CircuitCase | null {
  const circuit = circuitsIn(studies.network).find((each) => keyOf(each) === key);
  return circuit ? caseMaker(studies, conditions)(circuit) : null;
}
