/** Earth faults of all stations over the conditions: what goes into the grid, how far potentials rise, whether people and wires bear it for as long as it lasts. */
import { lastingOf, type Lasting } from './lasting';
import { add, magnitude, subtract, zero, type Complex } from '../linear/complex';
import type { Condition } from '../model/condition';
import type { EarthSettings, EarthStudy } from '../model/earthing';
import type { ElementId } from '../model/fields';
import { find, nameIn, ofKind, settingsOf, type Network } from '../model/network';
import { stationOf, stationsOf } from '../model/stations';
import type { Studies } from '../studies/studies';
import { closedForm } from './closedForm';
import { freeCase } from './free';
import {
  earthCase,
  earthingOf,
  isAdrift,
  isPassing,
  type EarthCase,
  type EarthCaseResult,
  type EarthFaultKind,
  type EarthPlace,
} from './fromNetwork';
import { decrement, permissibleTouchV, tolerable } from './grids';
import { borneA } from './heat';
import { EarthProblem, solveEarth, splitFactors, type EarthAnswer, type EarthLine } from './system';

/** What people may bear at a station. */
export interface TouchLimit {
  readonly seconds: number;
  /** Permissible or tolerable touch voltage, V. */
  readonly touchV: number;
  /** Of IEEE 80 alone. */
  readonly stepV: number | null;
  /** Rise of potential up to which nothing more needs to be shown. */
  readonly metV: number;
  /** And up to which the measures that the standard names are enough; null: none. */
  readonly measuresV: number | null;
  readonly source: string;
}

export type TouchVerdict = 'met' | 'measures' | 'prove';

export interface WireHeat {
  readonly line: string;
  readonly wire: string;
  readonly ampere: number;
  readonly borneA: number;
}

export interface EarthFigures {
  /** Into the fault, and what the lines bring of it. */
  readonly faultA: number;
  readonly linesA: number;
  readonly gridA: number;
  /** Share of the current of the lines that goes into the grid. */
  readonly split: number;
  readonly decrement: number | null;
  readonly riseV: number;
  readonly stations: readonly {
    readonly key: string;
    readonly name: string;
    readonly riseV: number;
    readonly fromEarthA: number;
    readonly byWiresA: number;
  }[];
  /** The tower with the highest potential. */
  readonly worstTower: { readonly line: string; readonly tower: number; readonly volts: number } | null;
  /** The largest voltage between an open end of a wire and the station that it ends at. */
  readonly openEnd: { readonly line: string; readonly wire: string; readonly volts: number } | null;
  readonly touch: TouchLimit;
  readonly verdict: TouchVerdict;
  /** The wire that is loaded most of what it bears; null where no section is known. */
  readonly hottest: WireHeat | null;
}

export interface EarthRow {
  readonly key: string;
  readonly station: string;
  readonly stationName: string;
  readonly bus: ElementId;
  readonly condition: ElementId;
  readonly time: Lasting;
  readonly figures: EarthFigures | null;
  readonly problem: string | null;
}

export interface EarthTable {
  readonly rows: readonly EarthRow[];
  /** Stations whose lines bring something and whose earthing is not given. */
  readonly without: readonly { readonly station: string; readonly name: string; readonly bus: ElementId }[];
  readonly remarks: readonly string[];
}

/** What people bear for so long. */
export function touchLimit(settings: EarthSettings, seconds: number, surface: EarthCase['surface']): TouchLimit {
  if (settings.touch === 'en50522') {
    const touchV = permissibleTouchV(seconds);
    return {
      seconds,
      touchV,
      stepV: null,
      metV: 2 * touchV,
      measuresV: 4 * touchV,
      source: 'EN 50522, 5.4.2 and Table B.3 (as remembered)',
    };
  }
  const found = tolerable(surface.soilOhmM, surface.ohmM, surface.thicknessM, seconds);
  const [touchV, stepV] =
    settings.touch === 'ieee50' ? [found.touch50V, found.step50V] : [found.touch70V, found.step70V];
  return { seconds, touchV, stepV, metV: touchV, measuresV: null, source: 'IEEE 80, 8.3 and 8.4 (as remembered)' };
}

export const verdictOf = (riseV: number, { metV, measuresV }: TouchLimit): TouchVerdict =>
  riseV <= metV ? 'met' : measuresV !== null && riseV <= measuresV ? 'measures' : 'prove';

export const verdictTitles: Readonly<Record<TouchVerdict, string>> = {
  met: 'met',
  measures: 'with the measures of the standard',
  prove: 'touch voltages to be shown',
};

/** Dust of the solution is nothing. */
const clean = (ampere: number): number => (ampere < 1e-6 ? 0 : ampere);

const hasWires = ({ stretches }: EarthLine): boolean =>
  stretches.some(({ conductors }) => conductors.some(({ role }) => role === 'return'));

/** Figures of an answer; seconds: as long as the fault lasts. */
export function figuresOf(network: Network, found: EarthCase, answer: EarthAnswer, seconds: number): EarthFigures {
  const settings = settingsOf(network).earthReturn;
  const { system, names, laid } = found;
  const riseV = magnitude(answer.potentials[system.hub.name]);
  const touch = touchLimit(settings, seconds, found.surface);
  let worstTower: EarthFigures['worstTower'] = null;
  let openEnd: EarthFigures['openEnd'] = null;
  let hottest: WireHeat | null = null;
  answer.lines.forEach(({ name, towers, spans, loose }, k) => {
    const { isTower, distancesM, heated } = laid[name];
    for (const { tower, potential } of towers) {
      const volts = magnitude(potential);
      if (isTower[tower] && volts > (worstTower?.volts ?? 0)) worstTower = { line: name, tower, volts };
    }
    const last = distancesM.length - 1;
    const line = system.lines[k];
    for (const { position, wire, potential, floats } of loose) {
      if (floats || (position > 0 && position < last)) continue;
      const station = answer.potentials[position === 0 ? (line.from ?? system.hub.name) : line.source];
      const volts = magnitude({ re: potential.re - station.re, im: potential.im - station.im });
      if (volts > (openEnd?.volts ?? 0)) openEnd = { line: name, wire, volts };
    }
    const most = new Map<string, number>();
    for (const span of spans)
      for (const wire in span) most.set(wire, Math.max(most.get(wire) ?? 0, magnitude(span[wire])));
    for (const [wire, ampere] of most) {
      const own = heated.get(wire);
      const borne = own ? borneA(own, seconds) : null;
      if (borne !== null && (!hottest || ampere / borne > hottest.ampere / hottest.borneA))
        hottest = { line: name, wire, ampere, borneA: borne };
    }
  });
  return {
    faultA: magnitude(answer.total),
    linesA: magnitude(answer.remote),
    gridA: magnitude(answer.gridCurrent),
    split: system.fault ? splitFactors(answer).total : splitFactors(answer).remote,
    decrement: found.xOverR === null ? null : decrement(found.xOverR, system.frequencyHz, seconds).factor,
    riseV,
    stations: system.stations
      .filter((station) => !isAdrift(system, station.name))
      .map(({ name }) => ({
        key: name,
        name: names[name],
        riseV: magnitude(answer.potentials[name]),
        fromEarthA: clean(magnitude(answer.returned[name].fromEarth)),
        byWiresA: clean(magnitude(answer.returned[name].byWires)),
      })),
    worstTower,
    openEnd,
    touch,
    verdict: verdictOf(riseV, touch),
    hottest,
  };
}

/** One busbar of every part of a station that is joined without impedance, where lines end. */
export function faultBuses(network: Network): readonly { readonly station: string; readonly bus: ElementId }[] {
  const isLine = (id: ElementId) => network.elements.get(id)?.kind === 'line';
  const withLines = new Set(
    ofKind(network, 'connection').flatMap(({ from, to }) => [
      ...(isLine(from.element) ? [to.element] : []),
      ...(isLine(to.element) ? [from.element] : []),
    ]),
  );
  const found: { station: string; bus: ElementId }[] = [];
  for (const station of stationsOf(network)) {
    if (![...station.elements].some((id) => withLines.has(id))) continue;
    const levels = new Map<number, ElementId>();
    for (const id of [...station.elements].sort()) {
      const bus = find(network, 'bus', id);
      if (bus && bus.system === 'ac' && !levels.has(bus.nominalKv)) levels.set(bus.nominalKv, id);
    }
    for (const [, bus] of [...levels].sort((p, q) => q[0] - p[0])) found.push({ station: station.id, bus });
  }
  return found;
}

/** Below this a fault is none that rises potentials: of an isolated or compensated network. Amperes. */
const leastFaultA = 1;

const broughtA = ({ system }: EarthCase): number =>
  magnitude(system.lines.reduce((sum, { from, current }) => (from === undefined ? add(sum, current) : sum), zero));

/** Yields the share that is done. Places at which nothing returns over any line are left out. */
export function* earthStudy(
  studies: Studies,
  conditions: readonly Condition[],
  kind: EarthFaultKind = '1ph',
): Generator<number, EarthTable> {
  const { network } = studies;
  const places = faultBuses(network);
  const remarks = new Set<string>();
  const rows: EarthRow[] = [];
  const without: EarthTable['without'][number][] = [];
  let done = 0;
  for (const { station, bus } of places) {
    const own = stationOf(network, bus)!;
    if (!earthingOf(network, own)) {
      if (!isPassing(network, { station: own }) && !without.some((each) => each.station === station))
        without.push({ station, name: own.name, bus });
      done += conditions.length;
      continue;
    }
    for (const { id: condition } of conditions) {
      yield done++ / (places.length * conditions.length);
      const place: EarthPlace = { at: 'bus', bus };
      const found = earthCase(studies, condition, place, kind);
      if (!found.ok) {
        // Of a level whose lines bring nothing there is nothing to say.
        if (!found.isNothing)
          rows.push({
            ...rowKey(station, own.name, bus, condition),
            time: noTime,
            figures: null,
            problem: found.problem,
          });
        continue;
      }
      if (broughtA(found.case) < leastFaultA) continue;
      const { time, figures, remarks: told, problem } = judged(studies, condition, kind, found.case);
      for (const remark of told) remarks.add(remark);
      rows.push({ ...rowKey(station, own.name, bus, condition), time, figures, problem });
    }
  }
  return { rows, without, remarks: [...remarks] };
}

const noTime: Lasting = { timeS: 0, device: null, by: 'project' };
const rowKey = (station: string, stationName: string, bus: ElementId, condition: ElementId) => ({
  key: `${bus} ${condition}`,
  station,
  stationName,
  bus,
  condition,
});

interface Judged {
  readonly answer: EarthAnswer | null;
  readonly figures: EarthFigures | null;
  readonly time: Lasting;
  readonly remarks: readonly string[];
  readonly problem: string | null;
}

function judged(studies: Studies, condition: ElementId, kind: EarthFaultKind, found: EarthCase): Judged {
  const time = lastingOf(studies, condition, found.place, kind);
  return { ...solved(studies.network, found, time.timeS), time };
}

function solved(network: Network, found: EarthCase, seconds: number): Omit<Judged, 'time'> {
  try {
    const answer = solveEarth(found.system, settingsOf(network).earthReturn.method);
    return { answer, figures: figuresOf(network, found, answer, seconds), remarks: found.remarks, problem: null };
  } catch (error) {
    if (!(error instanceof EarthProblem)) throw error;
    return { answer: null, figures: null, remarks: found.remarks, problem: error.message };
  }
}

/** What is looked into: a place of the network in a condition, or a study of its own with a fault in its station or at a tower. */
export type EarthQuery =
  | {
      readonly of: 'network';
      readonly condition: ElementId;
      readonly place: EarthPlace;
      readonly kind: EarthFaultKind;
    }
  | {
      readonly of: 'study';
      readonly study: ElementId;
      readonly fault: { readonly line: string; readonly tower: number } | null;
    };

/** What is tried: other earthings of stations in ohms, footings of lines by a factor. */
export interface EarthTrial {
  readonly stations: Readonly<Record<string, number>>;
  readonly footings: Readonly<Record<string, number>>;
}
export const noTrial: EarthTrial = { stations: {}, footings: {} };

/** Along a line from its beginning to its end; both stations are positions too. Volts, amperes, degrees. */
export interface EarthProfile {
  readonly line: string;
  readonly name: string;
  readonly from: string;
  readonly to: string;
  readonly km: readonly number[];
  readonly isTower: readonly boolean[];
  readonly volts: readonly number[];
  readonly degrees: readonly number[];
  /** Down into earth; null at the stations. */
  readonly towerA: readonly (number | null)[];
  readonly footingOhm: readonly (number | null)[];
  readonly wires: readonly {
    readonly name: string;
    /** Of each span; null where the wire is not. */
    readonly ampere: readonly (number | null)[];
    readonly degrees: readonly (number | null)[];
    readonly borneA: number | null;
  }[];
  /** Of the phases together, of each span. */
  readonly phaseA: number;
}

export interface EarthDetail {
  readonly hub: string;
  readonly names: Readonly<Record<string, string>>;
  readonly fault: { readonly line: string; readonly tower: number } | null;
  readonly time: Lasting;
  readonly figures: EarthFigures;
  /** Lines of the faulted station. */
  readonly currents: readonly {
    readonly line: string;
    readonly ampere: number;
    readonly degrees: number;
    /** Part that returns in earth far from both ends, in closed form for the first stretch. */
    readonly reduction: number;
    /** The same in the middle of the line as it is; null with the fault on it. */
    readonly found: number | null;
    /** In the wires where the line begins. */
    readonly wiresA: number;
  }[];
  readonly profiles: readonly EarthProfile[];
  /** Earthing of each station, ohms; null: none. */
  readonly earthings: Readonly<Record<string, Complex | null>>;
  readonly remarks: readonly string[];
}

export type EarthDetailResult =
  { readonly ok: true; readonly detail: EarthDetail } | { readonly ok: false; readonly problem: string };

/** The case behind a question, and how long its fault lasts. */
export function caseOf(
  studies: Studies,
  query: EarthQuery,
): { readonly found: EarthCaseResult; readonly time: Lasting } {
  const { network } = studies;
  if (query.of === 'study') {
    const study: EarthStudy | undefined = find(network, 'earthStudy', query.study);
    if (!study) return { found: { ok: false, problem: 'the study is not in the project any more' }, time: noTime };
    return {
      found: freeCase(network, study, query.fault),
      time: { timeS: study.durationS, device: null, by: 'chosen' },
    };
  }
  const found = earthCase(studies, query.condition, query.place, query.kind);
  return {
    found,
    time: found.ok ? lastingOf(studies, query.condition, found.case.place, query.kind) : noTime,
  };
}

/** With what is tried in the place of what is stored. */
export function withTrial(found: EarthCase, trial: EarthTrial): EarthCase {
  const { system } = found;
  const station = <S extends { name: string; earthing: Complex | null }>(own: S): S =>
    own.name in trial.stations
      ? { ...own, earthing: { re: trial.stations[own.name], im: own.earthing?.im ?? 0 } }
      : own;
  return {
    ...found,
    system: {
      ...system,
      hub: station(system.hub),
      stations: system.stations.map(station),
      lines: system.lines.map((line) => {
        const factor = trial.footings[line.name];
        if (factor === undefined || factor === 1) return line;
        return {
          ...line,
          stretches: line.stretches.map((stretch) => ({
            ...stretch,
            footings: stretch.footings.map((each) => each && { re: factor * each.re, im: factor * each.im }),
          })),
        };
      }),
    },
  };
}

/** One fault with all profiles. */
export function earthDetail(
  network: Network,
  { found, time }: { readonly found: EarthCaseResult; readonly time: Lasting },
  trial: EarthTrial = noTrial,
): EarthDetailResult {
  if (!found.ok) return found;
  const own = withTrial(found.case, trial);
  const { answer, figures, problem } = solved(network, own, time.timeS);
  if (!answer || !figures) return { ok: false, problem: problem ?? '' };
  const { system, names } = own;
  return {
    ok: true,
    detail: {
      hub: system.hub.name,
      names,
      fault: system.fault,
      time,
      figures,
      currents: system.lines
        .filter(({ from }) => from === undefined)
        .map((line) => {
          const { spans } = answer.lines.find(({ name }) => name === line.name)!;
          const sum = (span: Readonly<Record<string, Complex>>) => Object.values(span).reduce(add, zero);
          const earth = subtract(line.current, sum(spans[Math.floor(spans.length / 2)]));
          const size = magnitude(line.current);
          return {
            line: line.name,
            ampere: size,
            degrees: degreesOf(line.current),
            reduction: magnitude(closedForm(own, line, settingsOf(network).earthReturn.method).reduction),
            found: system.fault?.line === line.name || size < leastFaultA ? null : magnitude(earth) / size,
            wiresA: magnitude(sum(spans[0])),
          };
        }),
      profiles: profilesOf(own, answer, time.timeS),
      earthings: Object.fromEntries([system.hub, ...system.stations].map(({ name, earthing }) => [name, earthing])),
      remarks: own.remarks,
    },
  };
}

const degreesOf = ({ re, im }: Complex): number => (Math.atan2(im, re) * 180) / Math.PI;

function profilesOf({ system, names, laid }: EarthCase, answer: EarthAnswer, seconds: number): EarthProfile[] {
  return answer.lines.flatMap(({ name, towers, spans }, k): EarthProfile[] => {
    const line = system.lines[k];
    // Along a line without any wire there is nothing to follow.
    if (!hasWires(line) && system.fault?.line !== name) return [];
    const { distancesM, isTower, heated } = laid[name];
    const [from, to] = [line.from ?? system.hub.name, line.source];
    const potentials = [answer.potentials[from], ...towers.map(({ potential }) => potential), answer.potentials[to]];
    const footings = line.stretches.flatMap((stretch) => stretch.footings);
    const wires = [...new Set(spans.flatMap((span) => Object.keys(span)))];
    return [
      {
        line: name,
        name: names[name],
        from,
        to,
        km: distancesM.map((metres) => metres / 1000),
        isTower,
        volts: potentials.map(magnitude),
        degrees: potentials.map(degreesOf),
        towerA: [null, ...towers.map(({ current }) => magnitude(current)), null],
        footingOhm: [null, ...towers.map((_, t) => (footings[t] ? magnitude(footings[t]) : null)), null],
        wires: wires.map((wire) => {
          const own = heated.get(wire);
          return {
            name: wire,
            ampere: spans.map((span) => (wire in span ? magnitude(span[wire]) : null)),
            degrees: spans.map((span) => (wire in span ? degreesOf(span[wire]) : null)),
            borneA: own ? borneA(own, seconds) : null,
          };
        }),
        phaseA: magnitude(line.current),
      },
    ];
  });
}

/** Faults along a line, tower by tower, or as many of them as are shown. */
export interface AlongRow {
  readonly tower: number;
  readonly km: number;
  readonly faultA: number;
  /** Of the tower at which the fault is. */
  readonly towerV: number;
  readonly towerA: number;
  readonly hubV: number;
  readonly farV: number;
  /** Share of the fault current that enters the grids of both stations. */
  readonly hubSplit: number;
  readonly farSplit: number;
}

export type AlongAnswer =
  | { readonly ok: true; readonly rows: readonly AlongRow[]; readonly towers: number }
  | { readonly ok: false; readonly problem: string };

export const mostAlong = 60;

export type AlongQuery =
  | {
      readonly of: 'network';
      readonly condition: ElementId;
      readonly line: ElementId;
      readonly hubTerminal: 0 | 1;
      readonly kind: EarthFaultKind;
    }
  | { readonly of: 'study'; readonly study: ElementId; readonly line: string };

/** Yields the share that is done. */
export function* earthAlong(studies: Studies, query: AlongQuery): Generator<number, AlongAnswer> {
  const { network } = studies;
  const caseAt = (tower: number): EarthCaseResult => {
    if (query.of === 'study') {
      const study = find(network, 'earthStudy', query.study);
      return study
        ? freeCase(network, study, { line: query.line, tower })
        : { ok: false, problem: 'the study is not in the project any more' };
    }
    const { condition, line, hubTerminal, kind } = query;
    return earthCase(studies, condition, { at: 'tower', line, tower, hubTerminal }, kind);
  };
  const first = caseAt(1);
  if (!first.ok) return first;
  const key = first.case.system.fault!.line;
  const towers = first.case.laid[key].distancesM.length - 2;
  const every = Math.max(1, Math.ceil(towers / mostAlong));
  const asked = Array.from({ length: towers }, (_, k) => k + 1).filter(
    (tower) => (tower - 1) % every === 0 || tower === towers,
  );
  const { method } = settingsOf(network).earthReturn;
  const rows: AlongRow[] = [];
  for (const [n, tower] of asked.entries()) {
    yield n / asked.length;
    const found = caseAt(tower);
    if (!found.ok) return found;
    const { system, laid } = found.case;
    const at = system.fault!.tower;
    let answer: EarthAnswer;
    try {
      answer = solveEarth(system, method);
    } catch (error) {
      if (error instanceof EarthProblem) return { ok: false, problem: error.message };
      throw error;
    }
    const line = system.lines.find(({ name }) => name === key)!;
    const own = answer.lines.find(({ name }) => name === key)!.towers[at - 1];
    const total = magnitude(answer.total);
    rows.push({
      tower: at,
      km: laid[key].distancesM[at] / 1000,
      faultA: total,
      towerV: magnitude(own.potential),
      towerA: magnitude(own.current),
      hubV: magnitude(answer.potentials[system.hub.name]),
      farV: magnitude(answer.potentials[line.source]),
      hubSplit: magnitude(answer.gridCurrent) / total,
      farSplit: magnitude(answer.returned[line.source].fromEarth) / total,
    });
  }
  return { ok: true, rows: rows.sort((p, q) => p.tower - q.tower), towers };
}

/** What a place is called. */
export function placeName(network: Network, place: EarthPlace): string {
  return place.at === 'bus' ? nameIn(network, place.bus) : `tower ${place.tower} of ${nameIn(network, place.line)}`;
}
