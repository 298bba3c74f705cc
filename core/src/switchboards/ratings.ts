/** What the busbars of a board carry and have to withstand, over all sections and conditions, against what they are rated for; the next standard size where that is not enough or not known. */
import { faultsAtBus, largestPeak, largestThermal } from '../checks/equipment/withstand';
import type { Condition } from '../model/condition';
import type { ElementId } from '../model/fields';
import { find, settingsOf } from '../model/network';
import { nextBreakingKa, nextPeakKa, nextRatedCurrentA } from '../model/standardSizes';
import { loadRanges } from '../studies/loads';
import type { Studies } from '../studies/studies';
import { boardsOf, phaseAmperes } from '../lowVoltage/demand';
import { boardsIn } from './board';

export const boardQuantities = ['current', 'peak', 'shortTime'] as const;
export type BoardQuantity = (typeof boardQuantities)[number];

export interface BoardRating {
  readonly section: ElementId;
  readonly what: BoardQuantity;
  /** A, or kA. */
  readonly value: number | null;
  readonly rated: number | null;
  readonly unit: 'A' | 'kA';
  readonly condition: ElementId | null;
  readonly verdict: 'holds' | 'short' | 'unknown';
  /** Next standard size that is enough. */
  readonly next: number | null;
}

export interface BoardRow {
  readonly board: ElementId;
  readonly ratings: readonly BoardRating[];
  readonly verdict: BoardRating['verdict'];
}

/** Yields the share that is done. */
export function* boardTable(studies: Studies, conditions: readonly Condition[]): Generator<number, BoardRow[]> {
  const boards = boardsIn(studies.network);
  const rows: BoardRow[] = [];
  for (const board of boards) {
    const ratings = board.sections.flatMap((section) => sectionRatings(studies, conditions, section));
    const verdict = ratings.some((each) => each.verdict === 'short')
      ? 'short'
      : ratings.some((each) => each.verdict === 'unknown')
        ? 'unknown'
        : 'holds';
    rows.push({ board: board.id, ratings, verdict });
    yield rows.length / boards.length;
  }
  return rows;
}

function sectionRatings(studies: Studies, conditions: readonly Condition[], section: ElementId): BoardRating[] {
  const { network } = studies;
  const bus = find(network, 'bus', section)!;
  const load = loadRanges(studies, conditions).get(`${section}:through`)?.largest ?? null;
  // Of low voltage also what the circuits draw by their sizes and coincidence, where that is more.
  const u0 = (1000 * bus.nominalKv) / Math.sqrt(3);
  const hasCircuits = boardsOf(network).circuits.has(section);
  const byCircuits = hasCircuits ? Math.max(...phaseAmperes(boardsOf(network).demandAt(section), u0)) : 0;
  const isByCircuits = byCircuits > (load?.ampere ?? 0);
  const context = { network, studies, conditions, memory: new Map<string, unknown>() };
  const faults = faultsAtBus(context, section);
  const peak = faults.length > 0 ? largestPeak(faults) : null;
  const thermal = faults.length > 0 ? largestThermal(faults, settingsOf(network).frequencyHz, bus.shortTimeS) : null;
  const rating = (
    what: BoardQuantity,
    unit: 'A' | 'kA',
    value: number | null,
    rated: number | null,
    condition: ElementId | null,
    next: (value: number) => number,
  ): BoardRating => ({
    section,
    what,
    unit,
    value,
    rated,
    condition,
    verdict: value === null || rated === null ? 'unknown' : value <= rated * (1 + 1e-9) ? 'holds' : 'short',
    next: value === null || (rated !== null && value <= rated) ? null : next(value),
  });
  return [
    rating(
      'current',
      'A',
      isByCircuits ? byCircuits : (load?.ampere ?? null),
      bus.ratedA,
      isByCircuits ? null : (load?.condition ?? null),
      (value) => nextRatedCurrentA(value, 'other'),
    ),
    rating('peak', 'kA', peak?.kA ?? null, bus.peakKa, peak?.deciding.condition ?? null, nextPeakKa),
    rating(
      'shortTime',
      'kA',
      thermal?.kA ?? null,
      bus.shortTimeKa,
      thermal?.deciding.condition ?? null,
      nextBreakingKa,
    ),
  ];
}
