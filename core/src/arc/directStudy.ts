/** Arcs of direct current at the boards of a project, in every condition and by every method: where arc and network agree, how long it burns by the devices there, energy and boundary. */
import type { Condition } from '../model/condition';
import { directPart } from '../model/directPart';
import type { ArcEquipmentKind, ArcPlaceData } from '../model/arc';
import { usualArcPlace } from '../model/arc';
import type { ElementId } from '../model/fields';
import { nameIn, ofKind, settingsOf, type Network } from '../model/network';
import type { Bus } from '../model/switching';
import { directCourse, type Burning, type DirectInterval, type DirectOpening } from '../direct/clearing';
import { directNetwork, type DirectNetwork } from '../direct/network';
import { operating } from '../direct/currents';
import { solveDirect, type DirectSolution } from '../direct/solve';
import { formula, quantityOf, Trace, type Part, type Section } from '../working/trace';
import { caloriesOf } from './clothing';
import {
  boxes,
  directArc,
  directBoundary,
  directMethods,
  paukertVoltage,
  radiated,
  stokesVoltage,
  transitionA,
  type Box,
  type DirectMethod,
} from './directCurrent';
import { equipment } from './equipment';

export const directMethodTitles: Readonly<Record<DirectMethod, string>> = {
  maxpower: 'largest power (Doan 2010)',
  stokes: 'Stokes and Oppenlander 1991',
  paukert: 'Paukert 1993',
};

/** All are as remembered of the papers. */
export const directConfirmed = false;

export interface DirectArcPlace {
  readonly title: string;
  readonly nominalV: number;
  readonly gapMm: number;
  readonly distanceMm: number;
  /** Null: open air. */
  readonly box: Box | null;
  readonly assumed: readonly (keyof ArcPlaceData)[];
}

export interface DirectArcCase {
  readonly method: DirectMethod;
  /** At the beginning. */
  readonly currentA: number;
  readonly voltageV: number;
  readonly burnsS: number;
  readonly limited: boolean;
  readonly workJ: number;
  /** Stored in capacitors, counted in full. */
  readonly storedJ: number;
  /** J/cm². */
  readonly energy: number;
  readonly boundaryMm: number;
  readonly stages: readonly DirectInterval[];
  readonly openings: readonly DirectOpening[];
  readonly governing: DirectOpening | null;
}

export interface DirectArcResult {
  readonly condition: ElementId;
  readonly boltedA: number;
  /** Null where no arc can burn, or beyond the table of the method. */
  readonly cases: Readonly<Record<DirectMethod, DirectArcCase | null>>;
  readonly decides: DirectMethod | null;
}

export interface DirectArcRow {
  readonly key: ElementId;
  readonly bus: ElementId;
  readonly at: DirectArcPlace;
  readonly longestS: number;
  readonly results: readonly DirectArcResult[];
  readonly worst: DirectArcResult | null;
}

export const decidingDirect = (result: DirectArcResult): DirectArcCase | null =>
  result.decides && result.cases[result.decides];

const boxOfKind: Readonly<Record<Exclude<ArcEquipmentKind, 'byVoltage'>, Box | null>> = {
  switchgear15: boxes.mediumVoltageSwitchgear,
  switchgear5: boxes.mediumVoltageSwitchgear,
  lowVoltageSwitchgear: boxes.lowVoltageSwitchgear,
  controlCentre: boxes.panelboard,
  cableBox: boxes.panelboard,
  openAir: null,
};

/** Kinds of equipment that enclose an arc, and what is usual for them. */
export const boxKinds = ['controlCentre', 'lowVoltageSwitchgear', 'switchgear5', 'switchgear15', 'cableBox'] as const;
export const usualBox = (kind: (typeof boxKinds)[number]): Box => boxOfKind[kind]!;

/** Boards up to 250 V are taken for distribution boards. */
const usualKind = (volts: number): Exclude<ArcEquipmentKind, 'byVoltage'> =>
  volts <= 250 ? 'controlCentre' : volts <= 1500 ? 'lowVoltageSwitchgear' : 'switchgear5';

export function directArcPlace(network: Network, { arc, nominalKv }: Pick<Bus, 'arc' | 'nominalKv'>): DirectArcPlace {
  const given = arc ?? usualArcPlace;
  const kind = given.equipment === 'byVoltage' ? usualKind(1000 * nominalKv) : given.equipment;
  const usual = equipment[kind];
  const own = settingsOf(network).arc.boxes.find((each) => each.equipment === kind);
  return {
    title: usual.title,
    nominalV: 1000 * nominalKv,
    gapMm: given.gapMm ?? usual.gapMm,
    distanceMm: given.distanceMm ?? usual.distanceMm,
    box: own ? { aMm: own.aMm, k: own.k } : boxOfKind[kind],
    assumed: (['gapMm', 'distanceMm'] as const).filter((field) => given[field] === null),
  };
}

/** Below this nothing burns, whatever a formula says, in amperes. */
const leastA = 1e-3;

/** Voltage that an arc of this current has; null where the method takes none. */
const arcVoltage = (method: DirectMethod, gapMm: number, amperes: number): number | null =>
  method === 'maxpower' ? null : method === 'stokes' ? stokesVoltage(gapMm, amperes) : paukertVoltage(gapMm, amperes);

/** Where the arc and the network agree; null where no arc can burn. The network is straight in pieces: on each it is a voltage behind a resistance. */
export function burningArc(
  network: DirectNetwork,
  node: number,
  method: DirectMethod,
  gapMm: number,
): DirectSolution | null {
  const fault: DirectNetwork = { ...network, draws: [] };
  const openV = solveDirect(fault).volts[node];
  if (!(openV > 1e-6)) return null;
  if (method === 'paukert' && paukertVoltage(gapMm, 1000) === null) return null;
  const at = (volts: number) => solveDirect(fault, { node, volts });
  const delta = 1e-4 * openV;
  let volts = openV / 2;
  for (let round = 0; round < 12; round++) {
    const [here, above] = [at(volts).heldA, at(volts + delta).heldA];
    const ohm = delta / (here - above);
    if (!(ohm > 0) || ohm > 1e6) break;
    const arc = directArc(method, volts + here * ohm, ohm, gapMm);
    if (!arc || arc.voltageV >= openV) break;
    if (Math.abs(arc.voltageV - volts) < 1e-7 * openV) return at(arc.voltageV);
    volts = arc.voltageV;
  }
  return searched(at, openV, method, gapMm);
}

/** The same from nought upwards: the stable arc is the one of the largest current. */
function searched(
  at: (volts: number) => DirectSolution,
  openV: number,
  method: DirectMethod,
  gapMm: number,
): DirectSolution | null {
  const steps = 64;
  if (method === 'maxpower') {
    const power = (volts: number) => volts * at(volts).heldA;
    let best = 1;
    for (let k = 1; k < steps; k++) if (power((k * openV) / steps) > power((best * openV) / steps)) best = k;
    let [low, high] = [((best - 1) * openV) / steps, ((best + 1) * openV) / steps];
    for (let k = 0; k < 60; k++) {
      const [p, q] = [low + (high - low) / 3, high - (high - low) / 3];
      if (power(p) < power(q)) low = p;
      else high = q;
    }
    return at((low + high) / 2);
  }
  const over = (volts: number): number => {
    const amperes = at(volts).heldA;
    return amperes > 1e-9 ? volts - arcVoltage(method, gapMm, amperes)! : -Infinity;
  };
  for (let k = 1; k < steps; k++) {
    if (over((k * openV) / steps) < 0) continue;
    let [low, high] = [((k - 1) * openV) / steps, (k * openV) / steps];
    for (let j = 0; j < 60; j++) {
      const middle = (low + high) / 2;
      if (over(middle) < 0) low = middle;
      else high = middle;
    }
    const found = at(high);
    return method === 'stokes' && found.heldA < transitionA(gapMm) ? null : found;
  }
  return null;
}

/** Yields the share that is done. */
export function* directArcStudy(
  whole: Network,
  conditions: readonly Condition[],
  only: readonly ElementId[] | null = null,
): Generator<number, DirectArcRow[]> {
  const { ids } = directPart(whole);
  const buses = ofKind(whole, 'bus').filter(
    ({ id, arc }) => ids.has(id) && !arc?.leftOut && (only === null || only.includes(id)),
  );
  if (buses.length === 0) return [];
  const { arc } = settingsOf(whole);
  const states = conditions.map(({ id: condition }) => ({ condition, network: directNetwork(whole, { condition }) }));
  const rows: DirectArcRow[] = [];
  for (const [k, bus] of buses.entries()) {
    const at = directArcPlace(whole, bus);
    const longestS = bus.arc?.longestS ?? arc.longestS;
    const results: DirectArcResult[] = [];
    for (const [n, { condition, network }] of states.entries()) {
      yield (k + n / states.length) / buses.length;
      const node = network.nodeAt(bus.id, 0);
      if (node === undefined) continue;
      const boltedA = solveDirect({ ...network, draws: [] }, { node, volts: 0 }).heldA;
      if (!(boltedA > 1e-3)) continue;
      const cases = Object.fromEntries(
        directMethods.map((method) => [method, caseOf(network, node, method, at, longestS, arc.motorsFeedS)]),
      ) as Record<DirectMethod, DirectArcCase | null>;
      results.push({ condition, boltedA, cases, decides: chosen(cases, arc.direct) });
    }
    const worst = results.reduce<DirectArcResult | null>(
      (p, q) => (p && (decidingDirect(p)?.energy ?? -1) >= (decidingDirect(q)?.energy ?? -1) ? p : q),
      null,
    );
    rows.push({ key: bus.id, bus: bus.id, at, longestS, results, worst });
  }
  return rows;
}

function chosen(
  cases: Readonly<Record<DirectMethod, DirectArcCase | null>>,
  by: 'worst' | 'least' | DirectMethod,
): DirectMethod | null {
  const burning = directMethods.filter((method) => cases[method]);
  if (by !== 'worst' && by !== 'least') return burning.includes(by) ? by : null;
  return burning.reduce<DirectMethod | null>((p, q) => {
    if (p === null) return q;
    const [a, b] = [cases[p]!.energy, cases[q]!.energy];
    return (by === 'worst' ? b > a : b < a) ? q : p;
  }, null);
}

function caseOf(
  network: DirectNetwork,
  node: number,
  method: DirectMethod,
  { gapMm, distanceMm, box }: DirectArcPlace,
  longestS: number,
  motorsFeedS: number | null,
): DirectArcCase | null {
  const burning: Burning = (now) => {
    const found = burningArc(now, node, method, gapMm);
    return found && found.heldA > leastA ? found : null;
  };
  const { stages, openings, burnsS, limited, governing } = directCourse(network, node, burning, longestS, motorsFeedS);
  if (stages.length === 0) return null;
  const storedJ = storedEnergy(network);
  const workJ =
    stages.reduce((sum, { fromS, toS, volts, amperes }) => sum + volts * amperes * (toS - fromS), 0) + storedJ;
  return {
    method,
    currentA: stages[0].amperes,
    voltageV: stages[0].volts,
    burnsS,
    limited,
    workJ,
    storedJ,
    energy: radiated(workJ, distanceMm, box),
    boundaryMm: directBoundary(workJ, box),
    stages,
    openings,
    governing,
  };
}

/** ½·C·U² of every capacitor at its voltage in service, in J. */
function storedEnergy(network: DirectNetwork): number {
  const capacitors = ofKind(network.network, 'directCapacitor');
  if (capacitors.length === 0) return 0;
  const { volts } = solveDirect(operating(network));
  return capacitors.reduce(
    (sum, { id, capacitanceMf }) => sum + 0.5 * (capacitanceMf / 1000) * volts[network.nodeAt(id, 0)!] ** 2,
    0,
  );
}

/** How an energy came about. */
export function directArcWorking(whole: Network, row: DirectArcRow, own: DirectArcCase): Section[] {
  const trace = new Trace();
  const { gapMm, distanceMm, box } = row.at;
  trace.section(`${nameIn(whole, row.bus)}: ${directMethodTitles[own.method]} (as remembered)`, row.bus);
  const works = own.stages.map(({ fromS, toS, volts, amperes }, k) => {
    const n = k + 1;
    const current = quantityOf(`Iarc${n}`, amperes, 'A');
    const [from, to] = [fromS, toS].map((each) => String(Number(each.toFixed(4))));
    trace.section(`Stage ${n}: ${from} to ${to} s`);
    const voltage =
      own.method === 'stokes'
        ? trace.step(
            `Uarc${n}`,
            formula`(20 + 0.534 · ${quantityOf('G', gapMm, 'mm')}) · ${current}^0.12`,
            stokesVoltage(gapMm, amperes),
            'V',
            'Stokes, Oppenlander 1991 (as remembered)',
            'agrees with the network at this current',
          )
        : trace.step(
            `Uarc${n}`,
            formula`${quantityOf('U', volts, 'V')}`,
            volts,
            'V',
            undefined,
            own.method === 'maxpower'
              ? 'half of the voltage: the arc takes the largest power that the network can give'
              : 'c·I^n of the table at this gap; agrees with the network',
          );
    return trace.step(
      `W${n}`,
      formula`${voltage} · ${current} · (${quantityOf('t2', toS, 's')} - ${quantityOf('t1', fromS, 's')})`,
      volts * amperes * (toS - fromS),
      'J',
    );
  });
  trace.section('All stages');
  const stored = own.storedJ > 0 ? [quantityOf('Wcap', own.storedJ, 'J')] : [];
  const sum = trace.step(
    'W',
    [...works, ...stored].flatMap((each, k): Part[] => (k === 0 ? [each] : [' + ', each])),
    own.workJ,
    'J',
    undefined,
    own.governing
      ? `${nameIn(whole, own.governing.device)}, ${own.governing.code}, opened after ${own.governing.openedS.toFixed(4)} s`
      : own.limited
        ? `not cleared within ${row.longestS} s`
        : 'the arc goes out by itself',
  );
  const d = quantityOf('d', distanceMm, 'mm');
  const energy = box
    ? trace.step(
        'E',
        formula`100 · ${quantityOf('k', box.k)} · ${sum} / (${quantityOf('a', box.aMm, 'mm')}^2 + ${d}^2)`,
        own.energy,
        'J/cm²',
        'Wilkins 2004 (as remembered)',
      )
    : trace.step(
        'E',
        formula`100 · ${sum} / (4 · π · ${d}^2)`,
        own.energy,
        'J/cm²',
        undefined,
        'open air: over a sphere',
      );
  trace.step('E', formula`${energy} / 4.184`, caloriesOf(own.energy), 'cal/cm²');
  return trace.sections;
}
