/** Reaches of the zones at the ends of lines, by the rulebook, beside what is stored. */
import { angle, magnitude, type Complex } from '../linear/complex';
import { minimumSources } from '../model/condition';
import type { ElementId } from '../model/fields';
import { find, settingsOf, type Network } from '../model/network';
import { stationOf } from '../model/stations';
import { solidFault } from '../faults/kinds';
import { terminalPlace } from '../faults/iec60909/study';
import { devicesOf, type Device } from '../protection/device';
import type { DistanceFunction } from '../protection/distance/schema';
import { residualFactor, toSecondary } from '../protection/distance/loops';
import { snap } from '../protection/settings/range';
import { curvesOf, operatingTime } from '../protection/curve';
import { seenBy } from '../protection/seen';
import { closeInPlace, farEnds } from '../protection/zone';
import { bookOf } from '../rules/book';
import type { Studies } from '../studies/studies';
import { circuitsOf, lineOhm, lineZeroOhm, type Circuit } from './circuits';
import { aheadOf, type ReachFigure, type ReachFigures, type ReachOptions } from './figures';
import { loadOhm } from './loadability';
import { earthFaultOhm, phaseSpacingM, warringtonOhm } from './resistance';
import { farthestPath } from './runs';
import { seenAtEnds, type LineEnd } from './seen';
import { zoneReaches, type Reaches, type ZoneNumber } from './zones';

/** The relay that looks into a line from an end, with its distance function; null where it has none. */
export interface EndRelay {
  readonly device: Device;
  readonly fn: DistanceFunction | null;
  /** Secondary ohms of a primary one; null without a voltage transformer. */
  readonly secondary: number | null;
}

export interface ReachRow {
  readonly end: LineEnd;
  readonly lineName: string;
  /** Of the station at the end; the name of the line where there is none. */
  readonly stationName: string;
  readonly station: ElementId | null;
  readonly nominalKv: number;
  readonly circuit: Circuit;
  readonly relay: EndRelay | null;
  readonly figures: ReachFigures;
  readonly zones: readonly Reaches[];
  /** Of the line up to its farthest end. */
  readonly lineAngleDeg: number;
  /** Of its first stretch; null where the zero sequence is not known. */
  readonly k0: Complex | null;
}

/** Relays by the ends that they look in from. */
function relaysAt(studies: Studies): ReadonlyMap<string, EndRelay> {
  const found = new Map<string, EndRelay>();
  for (const device of devicesOf(studies.network)) {
    if (device.kind !== 'relay' || device.inputs.length === 0) continue;
    const fn = device.functions.find((each): each is DistanceFunction => each.family === 'distance') ?? null;
    for (const { element, terminal } of farEnds(studies.max, device)) {
      if (studies.network.elements.get(element)?.kind !== 'line') continue;
      const key = `${element}:${1 - terminal}`;
      // One that measures impedances comes before one that does not.
      if (found.get(key)?.fn && !fn) continue;
      const { voltageAt, inputs } = device;
      const secondary = voltageAt
        ? toSecondary(inputs[0].rating, { primaryKv: voltageAt.ratedKv, secondaryV: voltageAt.secondaryV })
        : null;
      found.set(key, { device, fn, secondary });
    }
  }
  return found;
}

/** All ends of lines from this voltage on, one row each; in kV. */
export function* reachPlan(
  studies: Studies,
  options: ReachOptions & { readonly fromKv: number },
): Generator<number, readonly ReachRow[]> {
  const { network } = studies;
  const { topology } = studies.max.assembly;
  const relays = relaysAt(studies);
  const book = bookOf(network);
  const circuits = circuitsOf(network);
  const rows: ReachRow[] = [];
  for (const [k, circuit] of circuits.entries()) {
    yield k / circuits.length;
    for (const end of circuit.ends) {
      const node = topology.nodeAt(end.line, end.terminal);
      const nominalKv = node === undefined ? null : topology.nodes[node].nominalKv;
      const relay = relays.get(`${end.line}:${end.terminal}`) ?? null;
      if (nominalKv === null || (nominalKv < options.fromKv && !relay?.fn)) continue;
      rows.push(rowOf(studies, book, circuit, end, nominalKv, relay, options));
    }
  }
  return rows.sort((p, q) => (p.stationName < q.stationName ? -1 : p.stationName > q.stationName ? 1 : 0));
}

function rowOf(
  studies: Studies,
  book: ReturnType<typeof bookOf>,
  circuit: Circuit,
  end: LineEnd,
  nominalKv: number,
  relay: EndRelay | null,
  options: ReachOptions,
): ReachRow {
  const { network } = studies;
  const { assembly } = studies.max;
  const figures = { ...aheadOf(studies, end, options), ...others(studies, circuit, end, nominalKv) };
  const own = figures.own.value;
  const [z1, z0] = [lineOhm(assembly, end.line), lineZeroOhm(assembly, end.line)];
  const line = find(network, 'line', end.line)!;
  const bus = busAt(studies, end);
  const station = bus ? stationOf(network, bus) : undefined;
  return {
    end,
    lineName: line.name,
    stationName: station?.name ?? line.name,
    station: station?.id ?? null,
    nominalKv,
    circuit,
    relay,
    figures,
    zones: zoneReaches(book, figures),
    lineAngleDeg: own ? (angle(own) * 180) / Math.PI : 75,
    k0: z1 && z0 ? residualFactor(z1, z0) : null,
  };
}

const busAt = ({ max: { assembly } }: Studies, { line, terminal }: LineEnd): ElementId | null => {
  const node = assembly.topology.nodeAt(line, terminal);
  return node === undefined ? null : (assembly.topology.nodes[node].buses[0]?.id ?? null);
};

/** Load, arcs, margins: what does not lie ahead as an impedance. */
function others(studies: Studies, circuit: Circuit, end: LineEnd, nominalKv: number): ReachFigures {
  const real = (name: string, value: number | null, elements: readonly ElementId[] = []): ReachFigure => ({
    name,
    value: value === null ? null : { re: value, im: 0 },
    elements,
  });
  const carried = circuit.lines.flatMap((id) => {
    const { ratedA, emergencyA, circuits } = find(studies.network, 'line', id)!;
    const ampere = emergencyA ?? ratedA;
    return ampere === null ? [] : [{ id, ampere: ampere * circuits }];
  });
  // Of a teed line the leg at the relay carries its load.
  const own = carried.find(({ id }) => id === end.line);
  const smallestA = smallestFaultA(studies, end);
  const all = [
    real('load', own ? loadOhm(nominalKv, own.ampere) : null, own ? [own.id] : []),
    real('faultResistance', earthFaultOhm(nominalKv)),
    real('arcResistance', smallestA ? warringtonOhm(phaseSpacingM(nominalKv), smallestA) / 2 : null),
    real('margin', settingsOf(studies.network).wantedMarginS),
    overcurrentAhead(studies, circuit, end),
  ];
  return Object.fromEntries(all.map((each) => [each.name, each]));
}

/** The slowest overcurrent device at the far busbars, for a three-phase fault right behind it, until its breaker has opened. */
function overcurrentAhead(studies: Studies, circuit: Circuit, end: LineEnd): ReachFigure {
  const { topology } = studies.max.assembly;
  const nodeOf = ({ line, terminal }: LineEnd) => topology.nodeAt(line, terminal);
  const home = nodeOf(end);
  const far = new Set(circuit.ends.map(nodeOf).filter((node) => node !== home));
  let slowest: { timeS: number; device: ElementId } | null = null;
  for (const device of overcurrentAt(studies, far)) {
    if (farEnds(studies.max, device).some(({ element }) => circuit.lines.includes(element))) continue;
    const timeS = behindItself(studies, device);
    if (timeS !== null && timeS > (slowest?.timeS ?? -1)) slowest = { timeS, device: device.id };
  }
  return {
    name: 'overcurrentAhead',
    value: slowest && { re: slowest.timeS, im: 0 },
    elements: slowest ? [slowest.device] : [],
  };
}

const standing = new WeakMap<Network, ReadonlyMap<number | undefined, readonly Device[]>>();

/** Devices with overcurrent functions at some nodes; found once for a model. */
function overcurrentAt({ network, max }: Studies, nodes: ReadonlySet<number | undefined>): Device[] {
  let all = standing.get(network);
  if (!all) {
    const found = new Map<number | undefined, Device[]>();
    for (const device of devicesOf(network)) {
      const [input] = device.inputs as readonly (Device['inputs'][number] | undefined)[];
      if (!input || curvesOf(device).functions.length === 0) continue;
      const node = max.assembly.topology.nodeAt(input.through, input.towards);
      found.set(node, [...(found.get(node) ?? []), device]);
    }
    standing.set(network, (all = found));
  }
  return [...nodes].flatMap((node) => all.get(node) ?? []);
}

/** Clearing of a three-phase fault right behind a device, with maximum sources; null where it does not trip. */
const behindItself = (studies: Studies, device: Device): number | null =>
  studies.remembered(`behind itself ${device.id} ${JSON.stringify(device.functions)}`, () => {
    const place = closeInPlace(device);
    const [seen] = place ? seenBy(studies.max, place, ['3ph'], [device]) : [null];
    const own = seen?.devices[0];
    const { timeS } = own ? operatingTime(curvesOf(device), own) : { timeS: Infinity };
    return timeS < Infinity ? timeS + device.openingS : null;
  });

/** Two-phase fault at the farthest end with minimum sources, as the end sees it; null where nothing flows. */
function smallestFaultA(studies: Studies, end: LineEnd): number | null {
  const path = farthestPath(studies, end);
  if (!path) return null;
  const study = studies.iec60909({ condition: minimumSources.id });
  const [seen] = seenAtEnds(study, terminalPlace(path.to.line, path.to.terminal), [solidFault('2ph')], [end]);
  const at = seen.ok ? seen.ends[0] : null;
  const most = at ? Math.max(...at.currents.map(magnitude)) : 0;
  return most > 1 ? most : null;
}

/** A reach in the ohms and on the steps of a relay. */
export const inRelay = (fn: DistanceFunction, primaryOhm: number, secondary: number): number =>
  snap(fn.ranges.ohm, primaryOhm * secondary);

/** The function with the reaches, resistances and delays of some zones as proposed; with them the angle of the line and k0. */
export function withReaches(
  { fn, secondary }: EndRelay,
  { zones, lineAngleDeg, k0 }: Pick<ReachRow, 'zones' | 'lineAngleDeg' | 'k0'>,
  only: ReadonlySet<ZoneNumber> | null = null,
): DistanceFunction | null {
  if (!fn || secondary === null) return null;
  const round = (value: number, digits: number) => Number(value.toFixed(digits));
  const changed = fn.zones.map((zone) => {
    const own = zones.find((each) => String(each.zone) === zone.name);
    if (!own || (only && !only.has(own.zone)) || !own.reach) return zone;
    const ohm = (value: number | undefined, before: number) =>
      value === undefined ? before : inRelay(fn, value, secondary);
    const delayS = own.delay ? snap(fn.ranges.delayS, own.delay.value) : zone.delayS;
    return {
      ...zone,
      reachOhm: ohm(own.reach.value, zone.reachOhm),
      reachEarthOhm: ohm(own.reachEarth?.value, zone.reachEarthOhm),
      resistanceOhm: ohm(own.resistance?.value, zone.resistanceOhm),
      resistanceEarthOhm: ohm(own.resistanceEarth?.value, zone.resistanceEarthOhm),
      delayS,
      delayEarthS: own.delay ? delayS : zone.delayEarthS,
    };
  });
  return {
    ...fn,
    zones: changed,
    lineAngleDeg: round(lineAngleDeg, 1),
    ...(k0 && { k0: round(magnitude(k0), 3), k0AngleDeg: round((angle(k0) * 180) / Math.PI, 1) }),
  };
}
