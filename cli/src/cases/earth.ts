/** Cases of currents that return through earth: stations, lines with shield wires, sheaths and towers, each method by itself. */
import { returnImpedances, type EarthReturnMethod, type ReturnConductor } from '@mesura/core/earthReturn/impedance';
import {
  solveEarth,
  splitFactors,
  type EarthAnswer,
  type EarthLine,
  type EarthStretch,
  type EarthSystem,
} from '@mesura/core/earthReturn/system';
import { magnitude, polar, zero, type Complex } from '@mesura/core/linear/complex';
import { entry } from '@mesura/core/linear/dense';
import { pairsOf, type Pair, type ReferenceCase } from './case';

type Both = readonly [number, number];

interface Given {
  readonly frequency_Hz: number;
  readonly hub: GivenStation & {
    readonly local_current_A?: { readonly magnitude: number; readonly angle_deg: number };
  };
  readonly stations: readonly GivenStation[];
  readonly lines: readonly GivenLine[];
  readonly fault: { readonly at: 'hub' } | { readonly at: 'tower'; readonly line: string; readonly tower: number };
}

interface GivenStation {
  readonly name: string;
  readonly z_ohm: Both | null;
}

interface GivenLine {
  readonly name: string;
  readonly source_station: string;
  readonly current_A: number;
  readonly angle_deg: number;
  readonly disconnected_at_hub?: readonly string[];
  readonly disconnected_at_source?: readonly string[];
  readonly stretches: readonly {
    readonly spans: number;
    readonly span_m: number | readonly number[];
    readonly soil_ohm_m: number;
    readonly footing_ohm: Footing | readonly Footing[];
    readonly conductors: readonly {
      readonly name: string;
      readonly role: string;
      readonly x_m: number;
      readonly h_m: number;
      readonly r_ohm_per_km: number;
      readonly gmr_m: number;
      readonly share?: number;
      readonly around?: string;
      readonly bonded_at_towers?: boolean;
    }[];
  }[];
}

type Footing = number | Both | null;

const complexOf = (value: Both): Complex => ({ re: value[0], im: value[1] });
const both = ({ re, im }: Complex): Both => [re, im];
const footingOf = (value: Footing): Complex | null =>
  value === null ? null : typeof value === 'number' ? { re: value, im: 0 } : complexOf(value);
const each = <T>(value: T | readonly T[], count: number): readonly T[] =>
  Array.isArray(value) ? (value as readonly T[]) : Array.from({ length: count }, () => value as T);

export const conductorsOf = (list: GivenLine['stretches'][number]['conductors']): ReturnConductor[] =>
  list.map(({ name, role, x_m, h_m, r_ohm_per_km, gmr_m, share = 0, around, bonded_at_towers = true }) => ({
    name,
    role: role === 'phase' ? 'phase' : 'return',
    xM: x_m,
    hM: h_m,
    rOhmPerKm: r_ohm_per_km,
    gmrM: gmr_m,
    share,
    around: around ?? null,
    bonded: bonded_at_towers,
  }));

/** A pair of footings is a list of two, not a complex one: where a list is as long as the spans it goes tower by tower. */
const footingsOf = (given: Footing | readonly Footing[], spans: number): readonly (Complex | null)[] =>
  Array.isArray(given) && (given.length === spans || given.some((value) => value === null || Array.isArray(value)))
    ? (given as readonly Footing[]).map(footingOf)
    : each(footingOf(given as Footing), spans);

function systemOf({ frequency_Hz, hub, stations, lines, fault }: Given): EarthSystem {
  const station = ({ name, z_ohm }: GivenStation) => ({ name, earthing: z_ohm && complexOf(z_ohm) });
  const local = hub.local_current_A;
  return {
    frequencyHz: frequency_Hz,
    hub: station(hub),
    localCurrent: local ? polar(local.magnitude, (local.angle_deg * Math.PI) / 180) : zero,
    stations: stations.map(station),
    lines: lines.map((line): EarthLine => ({
      name: line.name,
      source: line.source_station,
      current: polar(line.current_A, (line.angle_deg * Math.PI) / 180),
      openAtHub: line.disconnected_at_hub ?? [],
      openAtSource: line.disconnected_at_source ?? [],
      stretches: line.stretches.map(({ spans, span_m, soil_ohm_m, footing_ohm, conductors }): EarthStretch => ({
        spansM: each(span_m, spans),
        soilOhmM: soil_ohm_m,
        footings: footingsOf(footing_ohm, spans),
        conductors: conductorsOf(conductors),
      })),
    })),
    fault: fault.at === 'hub' ? null : { line: fault.line, tower: fault.tower },
  };
}

const methods: Readonly<Record<string, EarthReturnMethod>> = {
  carson_two_term: 'twoTerm',
  carson_series: 'series',
  complex_depth: 'complexDepth',
};

interface Wanted {
  readonly total_fault_current_A: Both;
  readonly positions?: readonly { readonly line: string; readonly tower: number }[];
  readonly impedance_ohm_per_km?: readonly { readonly line: string; readonly stretch: number }[];
  readonly line_ends?: readonly { readonly line: string }[];
  readonly earth_potential_rise_V: Readonly<Record<string, number>>;
}

/** Figures in the form of the expectation. */
function figures(given: Given, wanted: Wanted, answer: EarthAnswer, method: EarthReturnMethod): unknown {
  const lineAt = (name: string) => answer.lines.find((line) => line.name === name)!;
  const wires = (currents: Readonly<Record<string, Complex>>) =>
    Object.fromEntries(Object.entries(currents).map(([wire, current]) => [wire, both(current)]));
  const { remote, total } = splitFactors(answer);
  return {
    total_fault_current_A: both(answer.total),
    grid_current_A: both(answer.gridCurrent),
    grid_current_abs_A: magnitude(answer.gridCurrent),
    split_factor_remote: remote,
    split_factor_total: total,
    earth_potential_rise_V: Object.fromEntries(
      Object.entries(answer.potentials).map(([name, potential]) => [name, magnitude(potential)]),
    ),
    potential_V: Object.fromEntries(
      Object.entries(answer.potentials).map(([name, potential]) => [name, both(potential)]),
    ),
    return_current_A: Object.fromEntries(
      Object.entries(answer.returned).map(([name, { fromEarth, byWires }]) => [
        name,
        { from_earth: both(fromEarth), by_wires: both(byWires) },
      ]),
    ),
    impedance_ohm_per_km: wanted.impedance_ohm_per_km?.map(({ line, stretch }) => {
      const { conductors, soil_ohm_m } = given.lines.find(({ name }) => name === line)!.stretches[stretch - 1];
      const own = conductorsOf(conductors);
      const z = returnImpedances(own, given.frequency_Hz, soil_ohm_m, method);
      return {
        line,
        stretch,
        order: own.map(({ name }) => name),
        matrix: own.map((_, i) => own.map((_each, j) => both(entry(z, i, j)))),
      };
    }),
    positions: wanted.positions?.map(({ line, tower }) => {
      const { towers, spans } = lineAt(line);
      const { potential, current } = towers[tower - 1];
      return {
        name: `${line}/T${tower}`,
        line,
        tower,
        potential_V: both(potential),
        tower_current_A: both(current),
        wire_current_before_A: wires(spans[tower - 1]),
        wire_current_behind_A: wires(spans[tower]),
      };
    }),
    line_ends: wanted.line_ends?.map(({ line }) => {
      const { spans } = lineAt(line);
      return { line, first_span_A: wires(spans[0]), last_span_A: wires(spans.at(-1)!) };
    }),
  };
}

const relative = 1e-6;
/** Currents and potentials that have died out are held to this part of the largest. */
const floorShare = 1e-3;

/** Null for a case of another form. */
export function earthPairs({ inputs, expected }: ReferenceCase): Pair[] | null {
  const given = inputs as Partial<Given> | undefined;
  if (!given?.hub || !given.lines || !given.stations) return null;
  const system = systemOf(given as Given);
  return Object.entries(expected as Record<string, Wanted>).flatMap(([name, wanted]) => {
    const method = methods[name];
    if (!method) return [{ figure: name, expected: null, computed: undefined }];
    const answer = solveEarth(system, method);
    const currentFloor = floorShare * Math.hypot(...wanted.total_fault_current_A);
    const potentialFloor = floorShare * Math.max(...Object.values(wanted.earth_potential_rise_V));
    const pairs = pairsOf(wanted, figures(given as Given, wanted, answer, method), name);
    return pairs.map((pair, k): Pair => {
      if (typeof pair.expected !== 'number' || /impedance|split_factor|tower$|stretch$/.test(pair.figure)) return pair;
      // Both parts of a complex figure by its magnitude.
      const stem = pair.figure.replace(/\.[01]$/, '');
      const parts =
        stem === pair.figure
          ? [pair.expected]
          : [pairs[k - 1], pair, pairs[k + 1]].flatMap((one) =>
              one && one.figure.replace(/\.[01]$/, '') === stem ? [one.expected as number] : [],
            );
      const floor = /_V/.test(pair.figure) ? potentialFloor : currentFloor;
      return { ...pair, allowed: relative * Math.max(Math.hypot(...parts), floor) };
    });
  });
}
