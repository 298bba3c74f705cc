/**
 * The network as a trial goes through it: what devices see, and who is supplied, with some switches opened and faults on. A link that has molten in some phases stands
 * as a conductor broken there.
 */
import { magnitude, zero, type Complex } from '../linear/complex';
import type { FaultCondition, Phase } from '../faults/kinds';
import { faultAtPlace, iec60909Study, type Iec60909Study } from '../faults/iec60909/study';
import type { Disturbance, DisturbanceResult, Place } from '../faults/solution/solve';
import { newElement } from '../model/defaults';
import type { Element } from '../model/element';
import type { Connection } from '../model/switching';
import type { ElementId } from '../model/fields';
import { networkOf, ofKind, type Network } from '../model/network';
import type { Problem } from '../model/problem';
import { conditionOf, networkIn, together, type State } from '../model/state';
import { faultCaseOf, type Alterations } from '../model/condition';
import type { Device } from '../protection/device';
import type { DeviceSeen, SeenCurrents, ThreePhasors } from '../protection/family';
import { glanceOf, SeenByAll, watchOf, type DeviceWatch } from '../protection/seen';
import { toComponents, toPhases } from '../sequence/components';
import type { FaultCase } from '../sequence/stamp';
import { View, type Glance } from '../studies/seen';
import { lookTogether } from '../studies/seenTogether';
import type { Studies } from '../studies/studies';
import { motorKinds, Supply, type FedBy, type Supplied } from './supply';

/** Switches in another position than in the state that the trial began in. */
export interface Scene {
  readonly open: ReadonlySet<ElementId>;
  /** Closed with some phases open. */
  readonly partly: ReadonlyMap<ElementId, readonly Phase[]>;
  /** Motors feed nothing any more. */
  readonly motorsOut?: boolean;
  /** How often the reactances of generators have passed to their next value. */
  readonly decay?: number;
  /** None: the fault is gone. */
  readonly faults: readonly Disturbance[];
}

export interface Sight {
  /** By the order of the devices; null where the current is not determined. */
  seen(device: number): DeviceSeen | null;
  /** No phase current of the device is above this, in amperes. */
  mostA(device: number): number;
  /** Currents into the faults by phase, in amperes, in the order of the faults; of a broken conductor those through it. */
  readonly faultA: readonly (readonly [number, number, number])[];
  /** Largest of them into a shunt fault. */
  readonly largestA: number;
  /** Whether anything but motors feeds it. */
  readonly fed: boolean;
  /** Positive-sequence impedance that a single fault at one place sees, in ohms. */
  readonly z1?: Complex;
  /** Busbars and switches at which there is a fault: the light of an arc falls there. */
  readonly light?: ReadonlySet<ElementId>;
  /** Of an arc: the current that a bolted fault would draw, in amperes. */
  readonly boltedA?: number;
}

export class GridProblem extends Error {
  constructor(readonly problems: readonly Problem[]) {
    super(problems.map(({ message }) => message).join('; '));
  }
}

/** Smallest current that feeds a fault, in amperes. */
const leastA = 1e-3;
/** Ohms of what stands for a link with phases open. */
const joiningOhm = 1e-4;
/** Of the current that would flow with all phases closed: what is below is rounding. */
const roundingShare = 1e-5;
/** Assemblies kept for the states of one grid: fewer of large networks, by their nodes. */
const mostKept = 60;
const nodesKept = 100_000;

export class Grid {
  private readonly kept = new Map<string, Iec60909Study>();
  private readonly views = new Map<string, View>();
  readonly supply: Supply;
  private readonly watching: DeviceWatch;
  private readonly nothing: readonly DeviceSeen[];

  constructor(
    private readonly studies: Studies,
    private readonly state: State,
    readonly devices: readonly Device[],
  ) {
    this.watching = watchOf(
      devices,
      devices.map(() => true),
    );
    this.supply = new Supply(networkIn(studies.network, state));
    this.nothing = devices.map(({ inputs }) =>
      Object.fromEntries(inputs.map(({ id }) => [id, { phaseA: 0, residualA: 0, negativeA: 0 }])),
    );
  }

  /** The network with these switches opened on top of the state. */
  get network(): Network {
    return this.supply.network;
  }

  private get mostKept(): number {
    const { length } = this.studies.iec60909(this.state).assembly.topology.nodes;
    return Math.min(mostKept, Math.max(4, Math.round(nodesKept / length)));
  }

  /** Throws a {@link GridProblem} where the fault cannot be computed. */
  look(scene: Scene): Sight {
    const shunts = scene.faults.filter((each) => each.type === 'shunt');
    const fedBy = shunts.map(({ place }) => this.supply.at(scene.open, place));
    const isFed = (by: FedBy) => by === 'source' || (by === 'motors' && !scene.motorsOut);
    if (!fedBy.some(isFed)) return this.still(scene);
    const own = fedBy.some((each) => each === 'source');
    const sight =
      scene.partly.size === 0 && scene.faults.length === 1 && shunts.length === 1
        ? this.one(scene, shunts[0].place, shunts[0], !own)
        : this.several(scene, !own);
    const light = new Set(shunts.flatMap(({ place }) => (place.at === 'terminal' ? [place.element] : [])));
    return { ...sight, light, fed: own && sight.largestA > leastA };
  }

  /** Nominal voltage at a place, in kV; 0 where it is not known. */
  nominalKv(place: Place): number {
    const { topology } = this.studies.iec60909(this.state).assembly;
    const node = topology.nodeAt(place.element, place.at === 'line' ? 0 : place.terminal);
    return node === undefined ? 0 : (topology.nodes[node].nominalKv ?? 0);
  }

  supplied(scene: Scene): Supplied {
    return this.supply.of(scene.open, scene.partly);
  }

  private still({ faults }: Scene): Sight {
    return {
      seen: (k) => this.nothing[k],
      mostA: () => 0,
      faultA: faults.map(() => [0, 0, 0]),
      largestA: 0,
      fed: false,
    };
  }

  private one(scene: Scene, place: Place, condition: FaultCondition, motors: boolean): Sight {
    const study = motors ? this.byMotors(scene.open) : this.study(scene.open, scene.motorsOut);
    const found = faultAtPlace(study, place, condition);
    if (!found.ok) {
      if (found.problems.every(({ code }) => code === 'supply.none')) return this.still(scene);
      throw new GridProblem(found.problems);
    }
    const { fault } = found;
    const key = `${keyOf(scene.open)} ${placeKey(place)} ${motors} ${scene.motorsOut ?? false}`;
    let view = this.views.get(key);
    if (!view || view.study !== fault.study) {
      view = new View(fault.study, place, this.watching.watch);
      trimmed(this.views, 16).set(key, view);
    }
    const { l1, l2, l3 } = fault.phases;
    const faultA = [magnitude(l1), magnitude(l2), magnitude(l3)] as const;
    const all = this.dealtTo(view.glance(fault), fault.study);
    return {
      seen: (k) => all.of(k),
      mostA: (k) => all.mostA(k),
      faultA: [faultA],
      largestA: Math.max(...faultA),
      fed: true,
      z1: fault.z1,
    };
  }

  private several({ open, partly, faults, motorsOut }: Scene, motors: boolean): Sight {
    const alive = faults.filter((each) => each.type === 'open' || this.supply.at(open, each.place) !== 'nothing');
    const study =
      partly.size > 0
        ? this.joined(open, partly, motorsOut)
        : motors
          ? this.byMotors(open)
          : this.study(open, motorsOut);
    const broken = [...partly].map(([element, phases]): Disturbance => ({
      type: 'open',
      element: joiningId(element),
      terminal: 0,
      phases,
    }));
    const faultsNow = alive.map((each) => beyondJoints(each, partly));
    const looked = lookTogether(study, [...faultsNow, ...broken], this.watching.watch);
    if (!looked.ok) {
      if (looked.problems.every(({ code }) => code === 'supply.none')) return this.still({ open, partly, faults });
      throw new GridProblem(looked.problems);
    }
    const { seen, results } = looked;
    const all = this.dealtTo(glanceOf(seen), study);
    if (partly.size === 0)
      return {
        seen: (k) => all.of(k),
        mostA: (k) => all.mostA(k),
        ...this.drawn(faults, alive, results, 0),
        fed: true,
      };
    // What the joints leave of a current that does not flow is no more than rounding.
    const whole = this.look({ open, partly: new Map(), faults, motorsOut }).largestA;
    const roundingA = roundingShare * whole;
    return {
      seen: (k) => {
        const own = all.of(k);
        return own && withoutRounding(own, roundingA);
      },
      mostA: (k) => all.mostA(k),
      ...this.drawn(faults, alive, results, roundingA),
      fed: true,
    };
  }

  private dealtTo(glance: Glance, study: Iec60909Study): SeenByAll {
    return new SeenByAll(glance, this.devices, this.watching.slots, study.assembly.topology);
  }

  private drawn(
    faults: readonly Disturbance[],
    alive: readonly Disturbance[],
    results: readonly DisturbanceResult[],
    roundingA: number,
  ): Pick<Sight, 'faultA' | 'largestA'> {
    let next = 0;
    const size = (current: Complex) => (magnitude(current) > roundingA ? magnitude(current) : 0);
    const faultA = faults.map((each): [number, number, number] => {
      if (!alive.includes(each)) return [0, 0, 0];
      const { l1, l2, l3 } = toPhases(results[next++].current);
      return [size(l1), size(l2), size(l3)];
    });
    const largestA = Math.max(0, ...faults.flatMap((each, k) => (each.type === 'shunt' ? faultA[k] : [])));
    return { faultA, largestA };
  }

  /** What motors feed when they are cut off from everything else. */
  private byMotors(open: ReadonlySet<ElementId>): Iec60909Study {
    const key = `${keyOf(open)} by motors`;
    let study = this.kept.get(key);
    if (!study) {
      study = iec60909Study(networkIn(this.studies.network, this.opened(open)), this.faultCase, { motorsSupply: true });
      trimmed(this.kept, this.mostKept).set(key, study);
    }
    return study;
  }

  private get motors(): ElementId[] {
    return motorKinds.flatMap((kind) => ofKind(this.network, kind).map(({ id }) => id));
  }

  private get faultCase(): FaultCase {
    return faultCaseOf(conditionOf(this.studies.network, this.state.condition)!);
  }

  private study(open: ReadonlySet<ElementId>, motorsOut = false): Iec60909Study {
    if (open.size === 0 && !motorsOut) return this.studies.iec60909(this.state);
    const key = `${keyOf(open)} ${motorsOut}`;
    const known = this.kept.get(key);
    const study = known ?? this.studies.passing(this.opened(open, motorsOut));
    // What is asked for again and again does not become the oldest.
    if (known) this.kept.delete(key);
    trimmed(this.kept, this.mostKept).set(key, study);
    return study;
  }

  private opened(open: ReadonlySet<ElementId>, motorsOut = false): State {
    const more: Alterations = { open: [...open], ...(motorsOut && { stopped: this.motors }) };
    return { ...this.state, alterations: this.state.alterations ? together(this.state.alterations, more) : more };
  }

  /** With links replaced by what a conductor can be broken at. */
  private joined(open: ReadonlySet<ElementId>, partly: Scene['partly'], motorsOut = false): Iec60909Study {
    const key = `${keyOf(open)} joined ${keyOf(new Set(partly.keys()))} ${motorsOut}`;
    let study = this.kept.get(key);
    if (!study) {
      const network = withJoints(networkIn(this.studies.network, this.opened(open, motorsOut)), [...partly.keys()]);
      study = iec60909Study(network, this.faultCase, { motorsSupply: true });
      trimmed(this.kept, this.mostKept).set(key, study);
    }
    return study;
  }
}

const keyOf = (ids: ReadonlySet<ElementId>): string => [...ids].sort().join(' ');
export const placeKey = (place: Place): string =>
  place.at === 'line' ? `${place.element}@${place.fraction}` : `${place.element}:${place.terminal}`;

/** The oldest entry leaves where there are too many. */
function trimmed<V>(map: Map<string, V>, most: number): Map<string, V> {
  if (map.size >= most) map.delete(map.keys().next().value!);
  return map;
}

const joiningId = (element: ElementId): ElementId => `${element}~joint` as ElementId;

/** With a reactor of next to no impedance on the lower side of each of these switches, at which a conductor can be broken. */
function withJoints(network: Network, switches: readonly ElementId[]): Network {
  const isLower = ({ element, terminal }: { element: ElementId; terminal: number }) =>
    terminal === 1 && switches.includes(element);
  const moved = (end: Connection['from']): Connection['from'] =>
    isLower(end) ? { element: joiningId(end.element), terminal: 1 } : end;
  const elements = [...network.elements.values()].map((element): Element =>
    element.kind === 'connection' ? { ...element, from: moved(element.from), to: moved(element.to) } : element,
  );
  return networkOf([
    ...elements,
    ...switches.flatMap((id): Element[] => {
      const joint = newElement('seriesReactor', joiningId(id), id, {
        ratedKv: 1,
        ratedA: 1000,
        // X = uk·Un/(√3·Ir).
        ukPercent: 100 * Math.sqrt(3) * joiningOhm,
        rOverX: 0,
        x0OverX1: 1,
      });
      const wire = `${id}~jointed` as ElementId;
      return [
        joint,
        { kind: 'connection', id: wire, from: { element: id, terminal: 1 }, to: { element: joint.id, terminal: 0 } },
      ];
    }),
  ]);
}

/** Phases that carry nothing but rounding carry nothing. */
function withoutRounding(seen: DeviceSeen, roundingA: number): DeviceSeen {
  const cleaned = (at: SeenCurrents): SeenCurrents => {
    const { vectors } = at;
    if (!vectors || vectors.currents.every((each) => magnitude(each) > roundingA)) return at;
    const currents = vectors.currents.map((each) =>
      magnitude(each) > roundingA ? each : zero,
    ) as unknown as ThreePhasors;
    const { negative, zero: homopolar } = toComponents(...(currents as [Complex, Complex, Complex]));
    return {
      ...at,
      phaseA: Math.max(...currents.map(magnitude)),
      residualA: 3 * magnitude(homopolar),
      negativeA: magnitude(negative),
      vectors: { ...vectors, currents },
    };
  };
  return Object.fromEntries(Object.entries(seen).map(([id, at]) => [id, cleaned(at)]));
}

/** Below a link the fault lies beyond the joint. */
const beyondJoints = (each: Disturbance, partly: Scene['partly']): Disturbance =>
  each.type === 'shunt' && each.place.at === 'terminal' && each.place.terminal === 1 && partly.has(each.place.element)
    ? { ...each, place: { ...each.place, element: joiningId(each.place.element) } }
    : each;
