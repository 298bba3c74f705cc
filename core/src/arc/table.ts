/** All places of an arc study in one table, alternating and direct current alike. */
import type { Condition } from '../model/condition';
import { directPart } from '../model/directPart';
import type { ElementId } from '../model/fields';
import { nameIn, settingsOf, type Network } from '../model/network';
import { conditionOf } from '../model/state';
import { inMaintenance } from '../protection/device';
import { Studies } from '../studies/studies';
import type { Section } from '../working/trace';
import { caloriesOf } from './clothing';
import type { DirectMethod } from './directCurrent';
import {
  decidingDirect,
  directArcStudy,
  directArcWorking,
  directConfirmed,
  directMethodTitles,
  type DirectArcCase,
  type DirectArcResult,
  type DirectArcRow,
} from './directStudy';
import { methodTitles } from './judge';
import {
  ArcKeeper,
  decidingCase,
  governingDevice,
  spotName,
  type ArcOptions,
  type ArcResult,
  type ArcRow,
} from './study';
import { arcWorking } from './working';

export interface ArcTable {
  readonly ac: readonly ArcRow[];
  readonly dc: readonly DirectArcRow[];
}

/** Yields the share that is done. */
export function* arcTable(
  studies: Studies,
  conditions: readonly Condition[],
  options: ArcOptions,
  keeper = new ArcKeeper(),
): Generator<number, ArcTable> {
  if (options.maintenance) {
    const whole = inMaintenance(studies.whole);
    const changed = [...whole.elements].flatMap(([id, element]) =>
      studies.whole.elements.get(id) === element ? [] : [id],
    );
    // No current depends on how a device is set.
    if (changed.length > 0)
      return yield* arcTable(
        new Studies(whole, { studies, changed }),
        conditions,
        { ...options, maintenance: false },
        keeper,
      );
  }
  const share = directPart(studies.whole).ids.size > 0 ? 0.7 : 1;
  const ac = yield* scaled(keeper.run(studies, conditions, options), 0, share);
  const dc = yield* scaled(directArcStudy(studies.whole, conditions, options.only), share, 1);
  return { ac, dc };
}

function* scaled<T>(steps: Generator<number, T>, from: number, to: number): Generator<number, T> {
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
    yield from + (to - from) * step.value;
  }
}

/** One figure of a place: of one condition, as it decides there. */
export interface ArcFigures {
  readonly condition: ElementId;
  readonly conditionName: string;
  readonly boltedKa: number;
  readonly arcingKa: number;
  readonly burnsS: number;
  readonly limited: boolean;
  /** J/cm². */
  readonly energy: number;
  readonly cal: number;
  readonly boundaryMm: number;
  /** "full", "reduced", or the method of direct current. */
  readonly decides: string;
  readonly method: string;
  readonly confirmed: boolean;
  /** Beyond the range of the empirical models. */
  readonly outside: boolean;
  readonly clearedBy: { readonly device: ElementId; readonly name: string; readonly code: string } | null;
  readonly remarks: readonly string[];
}

export interface ArcLine {
  readonly key: string;
  readonly name: string;
  readonly system: 'ac' | 'dc';
  readonly bus: ElementId;
  readonly lineSideOf: ElementId | null;
  readonly voltageKv: number;
  readonly gapMm: number;
  readonly distanceMm: number;
  readonly longestS: number;
  readonly worst: ArcFigures | null;
  /** Of the other edition of IEEE 1584, in cal/cm². */
  readonly otherCal: number | null;
  readonly all: readonly ArcFigures[];
  readonly problems: readonly string[];
  readonly row: { readonly system: 'ac'; readonly row: ArcRow } | { readonly system: 'dc'; readonly row: DirectArcRow };
}

const shortMethods: Readonly<Record<DirectMethod, string>> = {
  maxpower: 'largest power',
  stokes: 'Stokes',
  paukert: 'Paukert',
};
export const directMethodName = (method: DirectMethod): string => shortMethods[method];

/** All places, in the order that they were found: alternating current first. */
export const arcLines = (network: Network, { ac, dc }: ArcTable): ArcLine[] => [
  ...ac.map((row) => alternatingLine(network, row)),
  ...dc.map((row) => directLine(network, row)),
];

function alternatingLine(network: Network, row: ArcRow): ArcLine {
  const { spot, at, longestS, worst, other, results, problems } = row;
  return {
    key: spot.key,
    name: spotName(network, spot),
    system: 'ac',
    bus: spot.bus,
    lineSideOf: spot.lineSideOf,
    voltageKv: at.voltageKv,
    gapMm: at.gapMm,
    distanceMm: at.distanceMm,
    longestS,
    worst: worst && alternatingFigures(network, worst),
    otherCal: other && caloriesOf(decidingCase(other).energy),
    all: results.map((result) => alternatingFigures(network, result)),
    problems,
    row: { system: 'ac', row },
  };
}

function alternatingFigures(network: Network, result: ArcResult): ArcFigures {
  const own = decidingCase(result);
  const by = governingDevice(network, result);
  return {
    condition: result.condition,
    conditionName: conditionOf(network, result.condition)?.name ?? '',
    boltedKa: result.boltedKa,
    arcingKa: own.arcingKa,
    burnsS: own.burnsS,
    limited: own.limited,
    energy: own.energy,
    cal: caloriesOf(own.energy),
    boundaryMm: own.boundaryMm,
    decides: result.decides,
    method: methodTitles[result.method],
    confirmed: result.confirmed,
    outside: result.method === 'theoretical',
    clearedBy: by && own.governing && { device: own.governing.device, ...by },
    remarks: result.remarks,
  };
}

function directLine(network: Network, row: DirectArcRow): ArcLine {
  const { key, bus, at, longestS, results, worst } = row;
  const of = (result: DirectArcResult): ArcFigures[] => {
    const own = decidingDirect(result);
    return own ? [directFigures(network, result, own)] : [];
  };
  const all = results.flatMap(of);
  return {
    key,
    name: nameIn(network, bus),
    system: 'dc',
    bus,
    lineSideOf: null,
    voltageKv: at.nominalV / 1000,
    gapMm: at.gapMm,
    distanceMm: at.distanceMm,
    longestS,
    worst: worst ? (of(worst)[0] ?? null) : null,
    otherCal: null,
    all,
    problems: results.length > 0 && all.length === 0 ? ['No arc can burn here by the method that is chosen.'] : [],
    row: { system: 'dc', row },
  };
}

const directFigures = (network: Network, result: DirectArcResult, own: DirectArcCase): ArcFigures => ({
  condition: result.condition,
  conditionName: conditionOf(network, result.condition)?.name ?? '',
  boltedKa: result.boltedA / 1000,
  arcingKa: own.currentA / 1000,
  burnsS: own.burnsS,
  limited: own.limited,
  energy: own.energy,
  cal: caloriesOf(own.energy),
  boundaryMm: own.boundaryMm,
  decides: directMethodName(own.method),
  method: directMethodTitles[own.method],
  confirmed: directConfirmed,
  outside: false,
  clearedBy: own.governing && {
    device: own.governing.device,
    name: nameIn(network, own.governing.device),
    code: own.governing.code,
  },
  remarks: [],
});

/** "BRA Q32 relay, 51", "nothing within 2 s", "goes out by itself", "no current". */
export function clearedBy({ worst, longestS, problems }: ArcLine, of: ArcFigures | null = worst): string {
  if (!of) return problems.length > 0 ? 'no arc' : 'no current';
  if (of.clearedBy) return `${of.clearedBy.name}, ${of.clearedBy.code}`;
  return of.limited ? `nothing within ${longestS} s` : 'goes out by itself';
}

export const isOver = (network: Network, { worst }: ArcLine): boolean =>
  worst !== null && worst.cal > settingsOf(network).arc.limitCal;

/** How the energy that decides in a condition came about; of the worst where none is named. */
export function lineWorking(
  network: Network,
  { row, worst }: ArcLine,
  condition = worst?.condition,
): readonly Section[] {
  if (row.system === 'ac') {
    const result = row.row.results.find((each) => each.condition === condition);
    return result ? arcWorking(network, row.row, result, result.decides === 'reduced') : [];
  }
  const result = row.row.results.find((each) => each.condition === condition);
  const own = result && decidingDirect(result);
  return own ? directArcWorking(network, row.row, own) : [];
}
