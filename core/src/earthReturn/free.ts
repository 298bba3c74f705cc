/** A study without a network: what is typed, as a system; and a system of a network copied into one. */
import { polar, magnitude, type Complex } from '../linear/complex';
import { usualPath, type EarthStudy } from '../model/earthing';
import { find, settingsOf, type Network } from '../model/network';
import type { ElementId } from '../model/fields';
import type { Trace } from '../working/trace';
import { earthingImpedance } from './electrodes';
import { surfaceOf, type EarthCase, type EarthCaseResult } from './fromNetwork';
import { laid, type LaidLine } from './path';

/** Key of the faulted station. */
export const freeHub = 'hub';

const radians = (degrees: number): number => (degrees * Math.PI) / 180;

/** `fault`: a tower of a line, counted from the faulted station; null: in the station itself. */
export function freeCase(
  network: Network,
  study: EarthStudy,
  fault: { readonly line: string; readonly tower: number } | null,
  trace?: Trace,
): EarthCaseResult {
  const remarks: string[] = [];
  const laidLines: Record<string, LaidLine> = {};
  const names: Record<string, string> = { [freeHub]: study.hub.name };
  for (const { id, name } of study.stations) names[id] = name;
  if (study.lines.length === 0) return { ok: false, problem: `no line ends in ${study.hub.name}` };
  const lines = study.lines.map((line) => {
    const found = laid(line.path, line.lengthKm, [line.path.circuit], (id) =>
      find(network, 'tower', id as ElementId | null),
    );
    laidLines[line.id] = found;
    names[line.id] = line.name;
    for (const remark of found.remarks) remarks.push(`${line.name}: ${remark}`);
    if (found.heated.size === 0)
      remarks.push(`${line.name}: no shield wire or sheath is given, nothing returns along it`);
    return {
      name: line.id,
      source: line.station,
      current: polar(line.currentA, radians(line.degrees)),
      stretches: found.stretches,
      openAtHub: found.openAtStart,
      openAtSource: found.openAtEnd,
    };
  });
  const lost = study.lines.find(({ station }) => !study.stations.some(({ id }) => id === station));
  if (lost) return { ok: false, problem: `${lost.name} ends at no station: choose one` };
  for (const { name, earthing } of study.stations)
    if (!earthing) remarks.push(`the earthing of ${name} is not given: its towers alone earth it`);
  const faulted = fault && laidLines[fault.line];
  if (fault && (!faulted || fault.tower < 1 || fault.tower > faulted.distancesM.length - 2))
    return { ok: false, problem: `there is no tower ${fault.tower} on the faulted line` };
  return {
    ok: true,
    case: {
      system: {
        frequencyHz: settingsOf(network).frequencyHz,
        hub: { name: freeHub, earthing: earthingImpedance(study.hub.earthing, trace) },
        localCurrent: polar(study.local.currentA, radians(study.local.degrees)),
        stations: study.stations.map(({ id, earthing }) => ({
          name: id,
          earthing: earthing && earthingImpedance(earthing),
        })),
        lines,
        fault,
      },
      names,
      place: null,
      laid: laidLines,
      remarks,
      xOverR: study.xOverR,
      surface: surfaceOf(study.hub.earthing),
    },
  };
}

/** The same with typed currents, to go on from without the network; `paths` by line of the case. Lines beyond those of the faulted station are left out. */
export function copiedStudy(
  network: Network,
  { system, names, laid: laidLines, xOverR }: EarthCase,
  made: { readonly id: ElementId; readonly name: string; readonly durationS: number; readonly newId: () => ElementId },
): EarthStudy {
  const lines = system.lines.filter(({ from }) => from === undefined);
  const ids = new Map(lines.map(({ source }) => [source, made.newId()]));
  const impedance = (earthing: Complex | null) =>
    earthing && { rOhm: round(earthing.re), xOhm: round(earthing.im), electrode: null, surfaceOhmM: 0, surfaceM: 0 };
  const round = (value: number) => (Math.abs(value) < 1e-6 ? 0 : Number(value.toPrecision(6)));
  const current = (value: Complex) => {
    const currentA = round(magnitude(value));
    return { currentA, degrees: currentA === 0 ? 0 : round((Math.atan2(value.im, value.re) * 180) / Math.PI) };
  };
  return {
    kind: 'earthStudy',
    id: made.id,
    name: made.name,
    note: '',
    hub: { name: names[system.hub.name], earthing: impedance(system.hub.earthing)! },
    local: current(system.localCurrent),
    stations: [...ids].map(([key, id]) => ({
      id,
      name: names[key].slice(0, 80),
      earthing: impedance(system.stations.find(({ name }) => name === key)?.earthing ?? null),
    })),
    lines: lines.flatMap((line) => {
      const stored = find(network, 'line', line.name as ElementId);
      const { distancesM } = laidLines[line.name];
      const path = stored?.returnPath ?? usualPath;
      const isTurned = laidLines[line.name].isReversed;
      return [
        {
          id: made.newId(),
          name: names[line.name].slice(0, 80),
          station: ids.get(line.source)!,
          lengthKm: distancesM.at(-1)! / 1000,
          ...current(line.current),
          path: isTurned ? turnedPath(path) : path,
        },
      ];
    }),
    xOverR: xOverR === null ? null : round(xOverR),
    durationS: round(made.durationS),
  };
}

/** A path described from its other end; a scatter of footings keeps its kind, not its towers. */
export function turnedPath(path: EarthStudy['lines'][number]['path']): EarthStudy['lines'][number]['path'] {
  const bonding = { both: 'both', cross: 'cross', from: 'to', to: 'from' } as const;
  return {
    ...path,
    along: null,
    stretches: [...path.stretches].reverse().map((stretch) => ({
      ...stretch,
      spansM: stretch.spansM && [...stretch.spansM].reverse(),
      footingsOhm: stretch.footingsOhm && [...stretch.footingsOhm].reverse(),
      sheath: stretch.sheath && { ...stretch.sheath, bonding: bonding[stretch.sheath.bonding] },
    })),
    openFrom: path.openTo,
    openTo: path.openFrom,
  };
}
