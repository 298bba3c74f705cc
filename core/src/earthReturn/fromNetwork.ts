/** Earth-return systems of a network: a single-phase fault at a station, the lines that end there with the currents that they bring, the stations at their other ends. */
import { faultAtPlace, type Iec60909Study } from '../faults/iec60909/study';
import { solidFault } from '../faults/kinds';
import type { Place } from '../faults/solution/solve';
import type { Line } from '../model/branches';
import type { ElementId } from '../model/fields';
import { find, nameIn, ofKind, settingsOf, type Network } from '../model/network';
import { stationOf, stationsOf, type Station } from '../model/stations';
import { add, magnitude, scale, zero, type Complex } from '../linear/complex';
import { seenAtEnds } from '../reach/seen';
import type { Studies } from '../studies/studies';
import type { ReturnConductor } from './impedance';
import type { EarthLine, EarthStation, EarthStretch, EarthSystem } from './system';

/** Taken where a line says nothing of its towers, in metres. */
const usualSpanM = 300;

/** Residual current below which a line brings nothing, in amperes. */
const leastA = 0.1;

export interface StationFault {
  readonly system: EarthSystem;
  /** What was assumed or left out. */
  readonly remarks: readonly string[];
  /** Reactance over resistance of the fault, for the decrement factor; null where there is no resistance. */
  readonly xOverR: number | null;
}

export type StationFaultResult =
  { readonly ok: true; readonly fault: StationFault } | { readonly ok: false; readonly problem: string };

/** Earthing of a station: of the first of its busbars that has one; null where none is given. */
export function earthingOf(network: Network, station: Station): Complex | null {
  for (const id of [...station.elements].sort()) {
    const given = find(network, 'bus', id)?.stationEarthing;
    if (given) return { re: given.rOhm, im: given.xOhm };
  }
  return null;
}

/** A solid single-phase fault (L1) at a busbar in a condition; the condition must exist. */
export function stationFault(studies: Studies, condition: ElementId, bus: ElementId): StationFaultResult {
  const { network } = studies;
  const hub = stationOf(network, bus);
  if (!hub) return { ok: false, problem: `${nameIn(network, bus)} stands in no station` };
  const study = studies.iec60909({ condition });
  const ends = ofKind(network, 'line').flatMap((line) =>
    [0, 1].flatMap((terminal) => {
      const here = stationAt(network, line, terminal);
      return here?.id === hub.id ? [{ line: line.id, terminal }] : [];
    }),
  );
  const place: Place = { at: 'terminal', element: bus, terminal: 0 };
  const [seen] = seenAtEnds(study, place, [solidFault('1ph')], ends);
  if (!seen.ok) return { ok: false, problem: seen.problems.map(({ message }) => message).join('; ') };
  const remarks: string[] = [];
  const stations = new Map<ElementId, EarthStation>();
  const stationNamed = (station: Station): string => {
    const earthing = earthingOf(network, station);
    if (!earthing && !stations.has(station.id))
      remarks.push(`the earthing of ${station.name} is not given: its towers alone earth it`);
    stations.set(station.id, { name: station.name, earthing });
    return station.name;
  };
  const lines = ends.flatMap(({ line: id, terminal }, k): EarthLine[] => {
    const line = find(network, 'line', id)!;
    const far = stationAt(network, line, 1 - terminal);
    const at = seen.ends[k];
    if (!far || !at) return [];
    if (far.id === hub.id) {
      remarks.push(`${line.name} begins and ends in ${hub.name}: left out`);
      return [];
    }
    // From the source to the hub: out of the line.
    const phases = at.currents.map((current) => scale(current, -1));
    const current = phases.reduce(add, zero);
    // A line of another level, which brings nothing and returns nothing.
    if (magnitude(current) < leastA && !find(network, 'tower', line.returnPath?.tower ?? null)) return [];
    return [
      {
        name: line.name,
        source: stationNamed(far),
        current,
        phases,
        stretches: [stretchOf(network, line, remarks)],
        openAtHub: [],
        openAtSource: [],
      },
    ];
  });
  const earthing = earthingOf(network, hub);
  if (!earthing)
    return { ok: false, problem: `the earthing of ${hub.name} is not given: type it at one of its busbars` };
  if (lines.length === 0) return { ok: false, problem: `no line ends in ${hub.name} that brings a current` };
  return {
    ok: true,
    fault: {
      system: {
        frequencyHz: settingsOf(network).frequencyHz,
        hub: { name: hub.name, earthing },
        localCurrent: zero,
        stations: [...stations.values()],
        lines,
        fault: null,
      },
      remarks: [...new Set(remarks)],
      xOverR: xOverROf(study, place),
    },
  };
}

/** Station at an end of a line; undefined where it ends in the open. */
function stationAt(network: Network, { id }: Line, terminal: number): Station | undefined {
  for (const { from, to } of ofKind(network, 'connection'))
    for (const [own, other] of [
      [from, to],
      [to, from],
    ] as const)
      if (own.element === id && own.terminal === terminal)
        return stationsOf(network).find(({ elements }) => elements.has(other.element));
  return undefined;
}

function stretchOf(network: Network, line: Line, remarks: string[]): EarthStretch {
  const path = line.returnPath;
  const tower = path ? find(network, 'tower', path.tower) : undefined;
  if (!tower) remarks.push(`${line.name}: no tower with shield wires is given, nothing returns along it`);
  const spanM = path?.spanM ?? usualSpanM;
  const spans = Math.max(1, Math.round((1000 * line.lengthKm) / spanM));
  const footing = path?.footingOhm ?? null;
  const conductors = tower
    ? tower.conductors.flatMap((each, k): ReturnConductor[] => {
        const isPhase = each.circuit === line.towerCircuit && each.phase > 0;
        if (!isPhase && each.circuit !== 0) return [];
        return [
          {
            name: isPhase ? `L${each.phase}` : `shield wire ${k + 1}`,
            role: isPhase ? 'phase' : 'return',
            xM: each.xM,
            hM: each.heightM,
            rOhmPerKm: each.rOhmPerKm / each.bundle,
            gmrM: each.gmrMm / 1000,
            share: isPhase && each.phase === 1 ? 1 : 0,
            around: null,
            bonded: true,
          },
        ];
      })
    : [];
  const phase = (name: string) => Number(name.slice(1));
  const ordered = [
    ...conductors.filter(({ role }) => role === 'phase').sort((p, q) => phase(p.name) - phase(q.name)),
    ...conductors.filter(({ role }) => role === 'return'),
  ];
  return {
    // Spans of one length that make up the line.
    spansM: Array.from({ length: spans }, () => (1000 * line.lengthKm) / spans),
    soilOhmM: tower?.earthResistivityOhmM ?? 100,
    footings: Array.from({ length: spans }, () => (footing === null ? null : { re: footing, im: 0 })),
    conductors: ordered,
  };
}

/** Of the loop of a single-phase fault: Z1 + Z2 + Z0. */
function xOverROf(study: Iec60909Study, place: Place): number | null {
  const found = faultAtPlace(study, place, solidFault('1ph'));
  if (!found.ok) return null;
  const { rOverX } = found.fault;
  return rOverX !== null && rOverX > 0 ? 1 / rOverX : null;
}
