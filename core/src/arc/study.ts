/**
 * Arc energy at every busbar, and on the line side of what feeds it, in every condition: bolted and arcing current, how long the arc burns by the protection as it is set, energy and boundary,
 * with full and reduced arcing current.
 */
import { faultAtPlace } from '../faults/iec60909/study';
import { solidFault } from '../faults/kinds';
import type { Place } from '../faults/solution/solve';
import type { Bus } from '../model/switching';
import type { Condition } from '../model/condition';
import type { ElementId } from '../model/fields';
import { find, nameIn, ofKind, settingsOf, type Network } from '../model/network';
import type { State } from '../model/state';
import { devicesOf, type Device } from '../protection/device';
import type { Studies } from '../studies/studies';
import { Grid, GridProblem } from '../trials/grid';
import { actorsOf, type Actor } from '../trials/play';
import { pilotsOf, type Pilot } from '../trials/signals';
import { openingIn } from '../trials/trial';
import { arcAt, courseOf, type CourseSetup, type Opening } from './course';
import { isBoxed } from './coefficients';
import { decayStages, type DecayStage } from './decay';
import { arcPlace, type ArcPlace } from './equipment';
import { arcModel, judgedArc, type ArcMethod, type ArcModel, type JudgedStage } from './judge';

/** A place that is judged: a busbar, or the line side of a switch that feeds it. */
export interface ArcSpot {
  readonly key: string;
  readonly bus: ElementId;
  /** The switch whose line side it is; null: the busbar itself. */
  readonly lineSideOf: ElementId | null;
  readonly place: Place;
}

/** One of the two arcing currents. */
export interface ArcCase {
  readonly arcingKa: number;
  readonly burnsS: number;
  /** Not cleared within the longest time. */
  readonly limited: boolean;
  readonly energy: number;
  readonly boundaryMm: number;
  readonly stages: readonly JudgedStage[];
  readonly openings: readonly Opening[];
  readonly governing: Opening | null;
}

/** By one method, in one condition. */
export interface ArcResult {
  readonly condition: ElementId;
  readonly boltedKa: number;
  readonly method: ArcMethod;
  readonly confirmed: boolean;
  readonly remarks: readonly string[];
  /** Of account in the 2002 edition alone. */
  readonly earthed: boolean;
  readonly full: ArcCase;
  /** Null where the method knows none. */
  readonly reduced: ArcCase | null;
  readonly decides: 'full' | 'reduced';
}

export interface ArcRow {
  readonly spot: ArcSpot;
  readonly at: ArcPlace;
  readonly longestS: number;
  /** In the order of the conditions; those without current are left out. */
  readonly results: readonly ArcResult[];
  /** The worst of them; null where nothing feeds an arc. */
  readonly worst: ArcResult | null;
  /** By the other edition, its worst; null where it was not asked for. */
  readonly other: ArcResult | null;
  /** What could not be computed. */
  readonly problems: readonly string[];
}

export interface ArcOptions {
  /** The other edition beside. */
  readonly compare: boolean;
  /** Busbars; null: all. */
  readonly only: readonly ElementId[] | null;
  /** With the maintenance settings of all devices on; tables only. */
  readonly maintenance?: boolean;
}

export const decidingCase = ({ full, reduced, decides }: ArcResult): ArcCase =>
  decides === 'reduced' ? reduced! : full;

/** "BRA 0.4", "BRA 0.4, line side of BRA Q51". */
export const spotName = (network: Network, { bus, lineSideOf }: Pick<ArcSpot, 'bus' | 'lineSideOf'>): string =>
  lineSideOf === null ? nameIn(network, bus) : `${nameIn(network, bus)}, line side of ${nameIn(network, lineSideOf)}`;

/** Yields the share that is done. */
export const arcStudy = (
  studies: Studies,
  conditions: readonly Condition[],
  options: ArcOptions = { compare: false, only: null },
): Generator<number, ArcRow[]> => new ArcKeeper().run(studies, conditions, options);

/** What a row was made of, beside the currents. */
interface KeptRow {
  readonly row: ArcRow;
  readonly on: readonly unknown[];
  /** Of every arc that was played for it, by device: {@link Played.unaskedA}. */
  readonly unasked: readonly Float32Array[];
}

interface Before {
  readonly studies: Studies;
  readonly key: string;
  readonly devices: readonly Device[];
  readonly actors: readonly Actor[];
  readonly packages: readonly unknown[];
  readonly decay: readonly DecayStage[];
  readonly grids: readonly (readonly Grid[])[];
  readonly rows: ReadonlyMap<string, KeptRow>;
  readonly spots: ReadonlyMap<Bus, readonly ArcSpot[]>;
}

/** Keeps what it has found: as long as no current changes, only arcs that a changed device sees are played anew. */
export class ArcKeeper {
  private before: Before | null = null;

  /** Yields the share that is done. */
  *run(studies: Studies, conditions: readonly Condition[], { compare, only }: ArcOptions): Generator<number, ArcRow[]> {
    const { network } = studies;
    const buses = ofKind(network, 'bus').filter(({ id, arc }) => !arc?.leftOut && (only === null || only.includes(id)));
    const devices = devicesOf(network);
    const actors = actorsOf(devices);
    const packages = ofKind(network, 'linePackage');
    const { transientAfterS, steadyAfterS } = settingsOf(network).arc;
    const key = JSON.stringify([conditions, compare, transientAfterS, steadyAfterS]);
    const earlier = this.goesOn(studies, key, devices, packages) ? this.before : null;
    const pilots = pilotsOf(studies);
    const decay = earlier?.decay ?? decayStages(studies);
    const grids =
      earlier?.grids ??
      conditions.map(({ id: condition }) =>
        [studies, ...decay.map((stage) => stage.studies)].map((each) => new Grid(each, { condition }, devices)),
      );
    const decayAtS = decay.map(({ atS }) => atS);
    const states = grids.map(
      (own, k) => new ArcState(studies, { condition: conditions[k].id }, own, decayAtS, actors, pilots),
    );
    const changed = earlier ? changedDevices(earlier, devices, actors) : [];
    const { arc } = settingsOf(network);
    const rows = new Map<string, KeptRow>();
    const spots = new Map<Bus, readonly ArcSpot[]>();
    for (const [k, bus] of buses.entries()) {
      const on = [bus.arc, bus.nominalKv, arc.edition, arc.longestS, arc.motorsFeedS];
      const own = earlier?.spots.get(bus) ?? spotsIn(states, bus);
      spots.set(bus, own);
      for (const spot of own) {
        const known = earlier?.rows.get(spot.key);
        if (known && known.on.every((each, n) => each === on[n]) && !isSeen(known, changed)) {
          rows.set(spot.key, known);
          continue;
        }
        yield k / buses.length;
        rows.set(spot.key, { ...rowOf(network, spot, bus, states, compare), on });
      }
    }
    this.before = { studies, key, devices, actors, packages, decay, grids, rows, spots };
    return [...rows.values()].map(({ row }) => row);
  }

  private goesOn(studies: Studies, key: string, devices: readonly Device[], packages: readonly unknown[]): boolean {
    const { before } = this;
    return (
      before !== null &&
      before.studies.sharesCurrentsWith(studies) &&
      before.key === key &&
      before.packages.length === packages.length &&
      before.packages.every((each, k) => each === packages[k]) &&
      before.devices.length === devices.length &&
      // What a device measures and opens is part of what is kept.
      before.devices.every((each, k) => each.element === devices[k].element || isSamePlace(each, devices[k]))
    );
  }
}

const spotsIn = (states: readonly ArcState[], bus: Bus): ArcSpot[] => [
  ...new Map(states.flatMap((state) => state.spotsOf(bus)).map((spot) => [spot.key, spot])).values(),
];

const isSamePlace = (p: Device, q: Device): boolean =>
  JSON.stringify([p.id, p.inputs, p.voltageAt, p.opens]) === JSON.stringify([q.id, q.inputs, q.voltageAt, q.opens]);

/** Devices with other settings, and the current below which neither the old ones nor the new ones pick up. */
const changedDevices = (before: Before, devices: readonly Device[], actors: readonly Actor[]) =>
  devices.flatMap(({ element }, k) => {
    if (element === before.devices[k].element) return [];
    const [was, is] = [before.actors[k].leastA, actors[k].leastA];
    return [{ at: k, leastA: was === null || is === null ? 0 : Math.min(was, is) }];
  });

const isSeen = ({ unasked }: KeptRow, changed: ReturnType<typeof changedDevices>): boolean =>
  changed.some(({ at, leastA }) => unasked.some((each) => each[at] > leastA));

function rowOf(
  network: Network,
  spot: ArcSpot,
  bus: Bus,
  states: readonly ArcState[],
  compare: boolean,
): Omit<KeptRow, 'on'> {
  const { arc } = settingsOf(network);
  const at = arcPlace(bus.arc, bus.nominalKv);
  const longestS = bus.arc?.longestS ?? arc.longestS;
  const problems = new Set<string>();
  const unasked: Float32Array[] = [];
  const by = (edition: '2018' | '2002') =>
    states.flatMap((state): ArcResult[] => {
      try {
        const found = state.result(spot, at, edition, longestS, arc.motorsFeedS);
        if (!found) return [];
        unasked.push(...found.unasked);
        return [found.result];
      } catch (error) {
        if (!(error instanceof GridProblem)) throw error;
        error.problems.forEach(({ message }) => problems.add(message));
        return [];
      }
    });
  const results = by(arc.edition);
  const other = compare ? by(arc.edition === '2018' ? '2002' : '2018') : [];
  const row = { spot, at, longestS, results, worst: worstOf(results), other: worstOf(other), problems: [...problems] };
  return { row, unasked };
}

const worstOf = (results: readonly ArcResult[]): ArcResult | null =>
  results.reduce<ArcResult | null>((p, q) => (p && decidingCase(p).energy >= decidingCase(q).energy ? p : q), null);

/** One state of the network, with what does not change from place to place. */
class ArcState {
  private readonly setup: Omit<CourseSetup, 'longestS' | 'motorsFeedS'>;
  private readonly mayOpen: ReadonlySet<ElementId>;
  /** At the beginning. */
  private readonly grid: Grid;

  constructor(
    private readonly studies: Studies,
    private readonly state: State,
    grids: readonly Grid[],
    decayAtS: readonly number[],
    actors: readonly Actor[],
    pilots: readonly Pilot[],
  ) {
    this.grid = grids[0];
    this.setup = { grids, decayAtS, actors, pilots, openingS: openingIn(studies.network) };
    this.mayOpen = new Set(actors.flatMap(({ device }) => device.opens));
  }

  /** The busbar, and the far side of each switch without impedance between that feeds it. */
  spotsOf({ id, arc, nominalKv }: Bus): ArcSpot[] {
    const place: Place = { at: 'terminal', element: id, terminal: 0 };
    const own: ArcSpot = { key: id, bus: id, lineSideOf: null, place };
    // Outdoors the two sides of a switch do not share an enclosure.
    if (!isBoxed(arcPlace(arc, nominalKv).electrodes)) return [own];
    const { supply } = this.grid;
    const { topology } = this.studies.iec60909(this.state).assembly;
    const node = topology.nodeAt(id, 0);
    const around = supply.around(place, this.mayOpen) ?? [];
    const open = new Set(around);
    const near = `${id}:0` as const;
    const others = ofKind(this.studies.network, 'bus').filter(
      (each) => each.id !== id && node !== undefined && topology.nodeAt(each.id, 0) === node,
    );
    const beyond = around.flatMap((element): ArcSpot[] => {
      if (node === undefined || topology.nodeAt(element, 0) !== node || topology.nodeAt(element, 1) !== node) return [];
      const terminal = supply.joins(open, near, `${element}:0`) ? 1 : 0;
      // Beyond a coupler lies another busbar, which is a place of its own.
      if (others.some((each) => supply.joins(open, `${each.id}:0`, `${element}:${terminal}`))) return [];
      return [{ key: `${id} ${element}`, bus: id, lineSideOf: element, place: { at: 'terminal', element, terminal } }];
    });
    return [own, ...beyond];
  }

  /** Null where nothing feeds an arc. Throws a {@link GridProblem} where the fault cannot be computed. */
  result(
    spot: ArcSpot,
    at: ArcPlace,
    edition: '2018' | '2002',
    longestS: number,
    motorsFeedS: number | null,
  ): { readonly result: ArcResult; readonly unasked: readonly Float32Array[] } | null {
    const bolted = this.grid.look({ open: new Set(), partly: new Map(), faults: [arcAt(spot.place)] });
    if (!bolted.fed) return null;
    const boltedKa = bolted.largestA / 1000;
    const earthed = edition === '2002' && this.isEarthed(spot.place);
    const model = arcModel(edition, at, boltedKa, earthed);
    const setup = { ...this.setup, longestS, motorsFeedS };
    const full = caseOf(setup, spot.place, at, model, false);
    const reduced = model.hasReduced ? caseOf(setup, spot.place, at, model, true) : null;
    const result: ArcResult = {
      condition: this.state.condition,
      boltedKa,
      method: model.method,
      confirmed: model.confirmed,
      remarks: model.remarks,
      earthed,
      full: full.own,
      reduced: reduced?.own ?? null,
      decides: reduced && reduced.own.energy > full.own.energy ? 'reduced' : 'full',
    };
    return { result, unasked: [full.unaskedA, ...(reduced ? [reduced.unaskedA] : [])] };
  }

  /** IEEE 1584-2002 tells earthed networks from those that are not, or through a high resistance: here by a tenth of the three-phase current. */
  private isEarthed(place: Place): boolean {
    const study = this.studies.iec60909(this.state);
    const [three, one] = (['3ph', '1ph'] as const).map((kind) => faultAtPlace(study, place, solidFault(kind)));
    return three.ok && one.ok && one.fault.ikA > 0.1 * three.fault.ikA;
  }
}

function caseOf(
  setup: CourseSetup,
  place: Place,
  at: ArcPlace,
  model: ArcModel,
  reduced: boolean,
): { readonly own: ArcCase; readonly unaskedA: Float32Array } {
  const course = courseOf(setup, place, (boltedKa) => model.arcingKa(boltedKa, reduced));
  const { stages, energy, boundaryMm } = judgedArc(model, at.distanceMm, course.stages, reduced);
  const own = {
    arcingKa: stages.at(0)?.arcingKa ?? 0,
    burnsS: course.burnsS,
    limited: course.limited,
    energy,
    boundaryMm,
    stages,
    openings: course.openings,
    governing: course.governing,
  };
  return { own, unaskedA: course.played.unaskedA };
}

/** The device whose opening ended the arc that decides. */
export const governingDevice = (network: Network, result: ArcResult): { name: string; code: string } | null => {
  const { governing } = decidingCase(result);
  if (!governing) return null;
  const device = find(network, 'relay', governing.device) ?? find(network, 'switch', governing.device);
  return device ? { name: device.name, code: governing.code } : null;
};
