/** Systems of currents through earth for tests: random ones with everything in them, and a second way to solve them. */
import { add, inverse, multiply, scale, subtract, zero, type Complex } from '../linear/complex';
import { addTo, denseMatrix, denseSolve, entry } from '../linear/dense';
import { returnImpedances, type EarthReturnMethod, type ReturnConductor } from '../earthReturn/impedance';
import type { EarthLine, EarthStretch, EarthSystem } from '../earthReturn/system';
import { seededNumbers } from '../working/random';

export const real = (ohm: number): Complex => ({ re: ohm, im: 0 });

export const phase = (name: string, xM: number, hM: number, share: number): ReturnConductor => ({
  ...{ name, role: 'phase', xM, hM, share },
  ...{ rOhmPerKm: 0.1, gmrM: 0.012, around: null, bonded: true },
});
export const wire = (name: string, xM: number, hM: number, rOhmPerKm = 0.36, bonded = true): ReturnConductor => ({
  ...{ name, role: 'return', xM, hM, rOhmPerKm, bonded },
  ...{ gmrM: 0.007, share: 0, around: null },
});
export const phases = [phase('a', -4, 14, 1), phase('b', 4, 14, 0), phase('c', 3, 18, 0)];

/** Stations in a mesh, lines of one to three stretches with up to three wires, insulated here and there, open at ends; the fault anywhere. */
export function randomSystem(seed: number): EarthSystem {
  const next = seededNumbers(seed);
  const upTo = (n: number) => Math.floor(next() * n);
  const between = (low: number, high: number) => low + (high - low) * next();
  const complex = (size: number): Complex => ({ re: between(-size, size), im: between(-size, size) });
  const stations = Array.from({ length: 2 + upTo(3) }, (_, k) => ({
    name: `S${k}`,
    earthing: { re: between(0.1, 3), im: between(0, 0.5) },
  }));
  const stretch = (isBonded: boolean): EarthStretch => {
    const spans = 1 + upTo(5);
    const wires = [wire('w1', -3, 22), wire('w2', 3, 23, 0.5), wire('w3', 1, -0.8, 0.3, isBonded)].slice(0, upTo(4));
    // A tower without a footing of its own is earthed by its wires, or it is no place for a fault.
    const bare = Array.from({ length: spans }, () => wires.length > 0 && next() < 0.15);
    return {
      spansM: Array.from({ length: spans }, () => between(80, 400)),
      soilOhmM: between(20, 1500),
      footings: bare.map((isBare) => (isBare ? null : { re: between(2, 60), im: between(0, 2) })),
      conductors: [...phases, ...wires],
      insulated: bare.map((isBare) => wires.flatMap(({ name }) => (!isBare && next() < 0.15 ? [name] : []))),
    };
  };
  const lines = Array.from({ length: 1 + upTo(5) }, (_, k): EarthLine => {
    const [source, from] = [stations[upTo(stations.length)].name, stations[upTo(stations.length)].name];
    const isBonded = next() < 0.7;
    const own = Array.from({ length: 1 + upTo(3) }, () => stretch(isBonded));
    const isFar = k > 0 && next() < 0.4 && from !== source;
    const currents = [complex(3000), complex(400), complex(400)];
    return {
      name: `L${k}`,
      ...(isFar && { from }),
      source,
      current: currents.reduce(add, zero),
      ...(next() < 0.5 && { phases: currents }),
      stretches: own,
      openAtHub: next() < 0.25 ? ['w1'] : [],
      openAtSource: next() < 0.25 ? ['w2'] : [],
    };
  });
  const towers = lines[0].stretches.reduce((sum, { spansM }) => sum + spansM.length, 0) - 1;
  const isOnLine = towers > 0 && next() < 0.5;
  return {
    frequencyHz: 50,
    hub: { name: 'H', earthing: real(between(0.1, 2)) },
    localCurrent: isOnLine ? complex(800) : zero,
    stations,
    lines,
    fault: isOnLine ? { line: 'L0', tower: 1 + upTo(towers) } : null,
  };
}

export interface NodalAnswer {
  /** By "station", "line tower", "line position wire". */
  readonly volts: ReadonlyMap<string, Complex>;
  /** By "line span wire". */
  readonly ampere: ReadonlyMap<string, Complex>;
}

/** Every wire of every span as an unknown current beside all potentials, in one dense matrix: no elimination, no admittances of coupled wires. */
export function nodal(system: EarthSystem, method: EarthReturnMethod): NodalAnswer {
  const keys = new Map<string, number>();
  const node = (key: string): number => {
    if (!keys.has(key)) keys.set(key, keys.size);
    return keys.get(key)!;
  };
  const shunts: [number, Complex][] = [];
  const injected: [number, Complex][] = [];
  for (const { name, earthing } of [system.hub, ...system.stations])
    shunts.push([node(name), earthing ? inverse(earthing) : real(1e-13)]);
  const branches: { key: string; from: number; to: number; group: number; z: Complex[]; e: Complex }[] = [];
  const ofHub = system.lines.filter(({ from }) => from === undefined);
  const remote = ofHub.reduce((sum, { current }) => add(sum, current), zero);
  const total = system.fault ? add(remote, system.localCurrent) : remote;
  if (system.fault) injected.push([node(system.hub.name), scale(system.localCurrent, -1)]);
  else injected.push([node(system.hub.name), total]);
  for (const line of system.lines) {
    const start = line.from ?? system.hub.name;
    injected.push([node(line.source), scale(line.current, -1)]);
    if (line.from !== undefined) injected.push([node(line.from), line.current]);
    const count = line.stretches.reduce((sum, { spansM }) => sum + spansM.length, 0);
    const isFaulted = system.fault?.line === line.name;
    let k = 0;
    // What is said of the tower before the span in hand.
    let apartBefore: readonly string[] = [];
    for (const { conductors, spansM, footings, insulated, soilOhmM } of line.stretches)
      for (const [n, lengthM] of spansM.entries()) {
        const z = returnImpedances(conductors, system.frequencyHz, soilOhmM, method);
        const km = lengthM / 1000;
        const apart = insulated?.[n] ?? [];
        const place = (position: number, { name, bonded }: ReturnConductor, list: readonly string[]): number => {
          if (position === 0) return node(line.openAtHub.includes(name) ? `${line.name} 0 ${name}` : start);
          if (position === count)
            return node(line.openAtSource.includes(name) ? `${line.name} ${count} ${name}` : line.source);
          return node(bonded && !list.includes(name) ? `${line.name} ${position}` : `${line.name} ${position} ${name}`);
        };
        const before = isFaulted && k < system.fault!.tower;
        const group = branches.length;
        const wires = conductors.flatMap(({ role }, i) => (role === 'return' ? [i] : []));
        for (const i of wires) {
          let e = zero;
          conductors
            .filter(({ role }) => role === 'phase')
            .forEach((each, p) => {
              const along = before
                ? scale(subtract(total, line.current), each.share)
                : scale(line.phases ? line.phases[p] : scale(line.current, each.share), -1);
              e = add(e, scale(multiply(entry(z, i, conductors.indexOf(each)), along), km));
            });
          branches.push({
            key: `${line.name} ${k} ${conductors[i].name}`,
            from: place(k, conductors[i], apartBefore),
            to: place(k + 1, conductors[i], apart),
            group,
            z: wires.map((j) => scale(entry(z, i, j), km)),
            e,
          });
        }
        k++;
        apartBefore = apart;
        if (k < count) {
          const tower = node(`${line.name} ${k}`);
          const footing = footings[n];
          if (footing) shunts.push([tower, inverse(footing)]);
          if (isFaulted && k === system.fault!.tower) injected.push([tower, total]);
        }
      }
  }
  const nodes = keys.size;
  const m = denseMatrix(nodes + branches.length);
  const right = denseMatrix(nodes + branches.length, 1);
  for (let k = 0; k < nodes; k++) addTo(m, k, k, real(1e-13));
  for (const [k, y] of shunts) addTo(m, k, k, y);
  for (const [k, ampere] of injected) addTo(right, k, 0, ampere);
  branches.forEach(({ from, to, group, z, e }, b) => {
    const row = nodes + b;
    addTo(m, from, row, real(1));
    addTo(m, to, row, real(-1));
    addTo(m, row, from, real(1));
    addTo(m, row, to, real(-1));
    z.forEach((each, j) => addTo(m, row, nodes + group + j, scale(each, -1)));
    addTo(right, row, 0, e);
  });
  const x = denseSolve(m, right, 1e-18);
  if (!x) throw new Error('the dense system cannot be solved');
  return {
    volts: new Map([...keys].map(([key, k]) => [key, entry(x, k, 0)])),
    ampere: new Map(branches.map(({ key }, b) => [key, entry(x, nodes + b, 0)])),
  };
}
