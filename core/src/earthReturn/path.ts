/** Paths of return as stored, laid out span by span: towers with their wires, cables with their sheaths. */
import type { Complex } from '../linear/complex';
import type { Tower } from '../model/branches';
import type { AddedWire, CableSheath, ReturnPath, ReturnStretch } from '../model/earthing';
import { bundled } from '../sequence/lineConstants';
import { seededNumbers } from '../working/random';
import { wire as wireOhm } from './grids';
import type { ReturnConductor } from './impedance';
import type { EarthStretch } from './system';
import type { HeatedWire } from './heat';

/** A line laid out; towers are counted from its beginning. */
export interface LaidLine {
  readonly stretches: readonly EarthStretch[];
  readonly openAtStart: readonly string[];
  readonly openAtEnd: readonly string[];
  /** Of every position from the beginning on, both ends among them, in metres. */
  readonly distancesM: readonly number[];
  /** Which positions are towers, and which are joints of a cable. */
  readonly isTower: readonly boolean[];
  /** Wires by name, as they heat. */
  readonly heated: ReadonlyMap<string, HeatedWire>;
  /** What was assumed or does not fit. */
  readonly remarks: readonly string[];
  /** Towers are counted from terminal 1. */
  readonly isReversed: boolean;
}

/** Taken where a stretch says nothing of its soil. */
const usualSoilOhmM = 100;
/** Rounding of lengths that are typed. */
const closeKm = 0.02;

/**
 * From terminal 0 to terminal 1, or the other way round. `circuits`: those on the towers whose phases carry current, in the order of the currents (three each).
 */
export function laid(
  path: ReturnPath,
  lengthKm: number,
  circuits: readonly number[],
  towerNamed: (id: string | null) => Tower | undefined,
  reversed = false,
): LaidLine {
  const remarks: string[] = [];
  const lengths = lengthsOf(path.stretches, lengthKm, remarks);
  const several = path.stretches.filter(({ kind }) => kind === 'cable').length > 1;
  const heated = new Map<string, HeatedWire>();
  const open = { from: new Set(path.openFrom), to: new Set(path.openTo) };
  const made = path.stretches.map((stretch, k) => {
    const tower = towerNamed(stretch.tower);
    if (stretch.kind === 'cable' && stretch.sheath) {
      const cable = cableStretch(stretch, stretch.sheath, lengths[k], circuits, several ? ` ${k + 1}` : '', heated);
      // Sheaths that are bonded at one end stand open at the other.
      if (stretch.sheath.bonding === 'from' && k === path.stretches.length - 1)
        cable.sheaths.forEach((name) => open.to.add(name));
      if (stretch.sheath.bonding === 'to' && k === 0) cable.sheaths.forEach((name) => open.from.add(name));
      return cable.parts;
    }
    return [overheadStretch(stretch, tower, lengths[k], circuits, heated)];
  });
  const parts = made.flatMap((list, k) =>
    list.map((part) => ({ ...part, isTower: path.stretches[k].kind === 'overhead' })),
  );
  insulate(parts, path);
  const ordered = reversed ? turned(parts) : parts;
  let at = 0;
  const distancesM = [0];
  const isTower = [false];
  for (const { spansM, isTower: own } of ordered)
    for (const spanM of spansM) {
      distancesM.push((at += spanM));
      isTower.push(own);
    }
  return {
    stretches: ordered.map(({ isTower: _, ...stretch }) => stretch),
    openAtStart: [...(reversed ? open.to : open.from)],
    openAtEnd: [...(reversed ? open.from : open.to)],
    distancesM,
    isTower,
    heated,
    remarks,
    isReversed: reversed,
  };
}

/** Names of the wires that a path returns current along: what may be open at an end. */
export const wiresOf = (path: ReturnPath, towerNamed: (id: string | null) => Tower | undefined): readonly string[] => [
  ...laid(path, 1, [], towerNamed).heated.keys(),
];

interface Part extends EarthStretch {
  readonly spansM: number[];
  readonly footings: (Complex | null)[];
  readonly insulated: string[][];
  /** Sheaths that are joined to nothing where the part begins. */
  readonly openAtBeginning?: readonly string[];
}

/** What stretches without a length share is what the others leave. */
function lengthsOf(stretches: readonly ReturnStretch[], lengthKm: number, remarks: string[]): number[] {
  const given = stretches.map((stretch) =>
    stretch.spansM ? stretch.spansM.reduce((sum, each) => sum + each, 0) / 1000 : stretch.lengthKm,
  );
  const known = given.reduce<number>((sum, each) => sum + (each ?? 0), 0);
  const free = given.filter((each) => each === null).length;
  const left = lengthKm - known;
  if (free === 0 && Math.abs(left) > closeKm * lengthKm)
    remarks.push(`its stretches are ${short(known)} km together, the line ${short(lengthKm)} km: the stretches count`);
  if (free > 0 && left <= 0)
    remarks.push(`its stretches are longer than the line: ${short(known)} of ${short(lengthKm)} km`);
  return given.map((each) => each ?? Math.max(left, 0.001) / free);
}

const short = (value: number): string => String(Number(value.toPrecision(4)));

function spansOf({ spanM, spansM }: ReturnStretch, lengthKm: number): number[] {
  if (spansM) return [...spansM];
  const count = Math.max(1, Math.round((1000 * lengthKm) / spanM));
  return Array.from({ length: count }, () => (1000 * lengthKm) / count);
}

/** Footings of the towers at the far ends of spans: typed one by one, scattered about a median, or all alike. */
function footingsOf({ footingOhm, footingsOhm, spread, seed }: ReturnStretch, count: number): (number | null)[] {
  const next = seededNumbers(seed);
  return Array.from({ length: count }, (_, k) => {
    // Drawn for every tower, so that one that is typed shifts no other.
    const normal = Math.sqrt(-2 * Math.log(1 - next())) * Math.cos(2 * Math.PI * next());
    if (footingsOhm && k < footingsOhm.length) return footingsOhm[k];
    if (footingOhm === null) return null;
    return spread === null ? footingOhm : footingOhm * spread ** normal;
  });
}

const resistance = (ohm: number | null): Complex | null => (ohm === null ? null : { re: ohm, im: 0 });

/** Of several in parallel. */
function together(ohms: readonly (number | null)[]): number | null {
  const sum = ohms.reduce<number>((total, ohm) => total + (ohm === null ? 0 : 1 / ohm), 0);
  return sum === 0 ? null : 1 / sum;
}

const phaseName = (circuit: number, first: number, phase: number): string =>
  `${circuit === first ? '' : `${circuit}`}L${phase}`;

function overheadStretch(
  stretch: ReturnStretch,
  tower: Tower | undefined,
  lengthKm: number,
  circuits: readonly number[],
  heated: Map<string, HeatedWire>,
): Part {
  const spansM = spansOf(stretch, lengthKm);
  const soilOhmM = stretch.soilOhmM ?? tower?.earthResistivityOhmM ?? usualSoilOhmM;
  const first = circuits[0];
  const phases = circuits.flatMap((circuit) =>
    [1, 2, 3].flatMap((phase): ReturnConductor[] => {
      const own = tower?.conductors.find((each) => each.circuit === circuit && each.phase === phase);
      if (!own) return [];
      return [
        {
          name: phaseName(circuit, first, phase),
          role: 'phase',
          xM: own.xM,
          hM: own.heightM,
          rOhmPerKm: own.rOhmPerKm / own.bundle,
          gmrM: bundled(own.gmrMm / 1000, own),
          share: circuit === first && phase === 1 ? 1 : 0,
          around: null,
          bonded: true,
        },
      ];
    }),
  );
  const shields = (tower?.conductors ?? []).filter(({ circuit }) => circuit === 0);
  const wires = shields.map((own, k): ReturnConductor => {
    const name = shields.length === 1 ? 'shield wire' : `shield wire ${k + 1}`;
    heated.set(name, { name, sectionMm2: own.sectionMm2, metal: own.metal, kind: 'bare' });
    return {
      name,
      role: 'return',
      xM: own.xM,
      hM: own.heightM,
      rOhmPerKm: own.rOhmPerKm / own.bundle,
      gmrM: bundled(own.gmrMm / 1000, own),
      share: 0,
      around: null,
      bonded: true,
    };
  });
  const added = addedWires(stretch.wires, heated);
  const apart = [
    ...(stretch.insulated ? wires.map(({ name }) => name) : []),
    ...stretch.wires.filter(({ lies }) => lies === 'insulated').map(({ name }) => name),
  ];
  return {
    spansM,
    soilOhmM,
    footings: withLeaks(footingsOf(stretch, spansM.length), stretch, soilOhmM, spansM),
    insulated: spansM.map((_, k) => (k < spansM.length - 1 ? [...apart] : [])),
    conductors: shared(tower, `${circuits.join()} ${JSON.stringify(stretch.wires)}`, [...phases, ...wires, ...added]),
  };
}

const sharedLists = new WeakMap<Tower, Map<string, readonly ReturnConductor[]>>();

/** Lines on the same kind of tower have one list of conductors, so that its impedances are found once for all of them. */
function shared(tower: Tower | undefined, key: string, list: readonly ReturnConductor[]): readonly ReturnConductor[] {
  if (!tower) return list;
  let known = sharedLists.get(tower);
  if (!known) sharedLists.set(tower, (known = new Map()));
  const before = known.get(key);
  if (!before) known.set(key, list);
  return before ?? list;
}

const addedWires = (list: readonly AddedWire[], heated: Map<string, HeatedWire>): ReturnConductor[] =>
  list.map(({ name, lies, xM, heightM, rOhmPerKm, gmrMm, sectionMm2, metal }) => {
    heated.set(name, { name, sectionMm2, metal, kind: lies === 'insulated' ? 'insulated' : 'bare' });
    return {
      name,
      role: 'return',
      xM,
      hM: heightM,
      rOhmPerKm,
      gmrM: gmrMm / 1000,
      share: 0,
      around: null,
      bonded: true,
    };
  });

/** A bare wire in the soil leaks along its whole length: half of each span at the towers at both its ends. */
function withLeaks(
  footings: readonly (number | null)[],
  { wires }: ReturnStretch,
  soilOhmM: number,
  spansM: readonly number[],
): (Complex | null)[] {
  const bare = wires.filter(({ lies, heightM }) => lies === 'bare' && heightM < 0);
  // Half a span, as H. B. Dwight has a straight buried wire of the whole of it; each by itself.
  const halves = spansM.map((spanM) =>
    together(bare.map(({ heightM, gmrMm }) => 2 * wireOhm(soilOhmM, spanM / 2, gmrMm / 1000, -heightM))),
  );
  return footings.map((footing, k) => resistance(together([footing, halves[k], halves[k + 1] ?? null])));
}

/** Sheaths of single cores by their phase, or one around all three. */
function cableStretch(
  stretch: ReturnStretch,
  sheath: CableSheath,
  lengthKm: number,
  circuits: readonly number[],
  suffix: string,
  heated: Map<string, HeatedWire>,
): { readonly parts: Part[]; readonly sheaths: readonly string[] } {
  const soilOhmM = stretch.soilOhmM ?? usualSoilOhmM;
  const single = sheath.formation !== 'threeCore';
  const places = single
    ? sheath.formation === 'flat'
      ? [-1, 0, 1].map((k) => ({ xM: k * sheath.spacingM, hM: -sheath.depthM }))
      : [0, 1, 2].map((k) => ({
          xM: (k - 1) * (sheath.spacingM / 2),
          hM: -sheath.depthM + (k === 1 ? (Math.sqrt(3) / 2) * sheath.spacingM : 0),
        }))
    : // Inside of the sheath it does not matter where a core lies; apart, so that each has a distance to the others.
      [-1, 0, 1].map((k) => ({ xM: (k * sheath.radiusMm) / 2000, hM: -sheath.depthM }));
  const first = circuits[0] ?? 1;
  const phases = places.map((place, k): ReturnConductor => ({
    name: phaseName(first, first, k + 1),
    role: 'phase',
    ...place,
    // Nothing depends on what a phase is made of: its current is given.
    rOhmPerKm: 0.1,
    gmrM: sheath.radiusMm / 4000,
    share: k === 0 ? 1 : 0,
    around: null,
    bonded: true,
  }));
  const sheaths = single ? [1, 2, 3].map((k) => `sheath ${k}${suffix}`) : [`sheath${suffix}`];
  for (const name of sheaths)
    heated.set(name, { name, sectionMm2: sheath.sectionMm2, metal: sheath.metal, kind: 'sheath' });
  /** In minor section `turn` each sheath lies around the next core. */
  const conductors = (turn: number): ReturnConductor[] => [
    ...phases,
    ...sheaths.map((name, k): ReturnConductor => {
      const core = single ? (k + turn) % 3 : 0;
      return {
        name,
        role: 'return',
        xM: single ? places[core].xM : 0,
        hM: single ? places[core].hM : -sheath.depthM,
        rOhmPerKm: sheath.rOhmPerKm,
        gmrM: sheath.radiusMm / 1000,
        share: 0,
        around: single ? phases[core].name : phases.map(({ name: each }) => each),
        bonded: true,
      };
    }),
    ...addedWires(stretch.wires, heated),
  ];
  const apart = stretch.wires.filter(({ lies }) => lies === 'insulated').map(({ name }) => name);
  if (sheath.bonding === 'cross' && single) {
    const majors = Math.max(1, Math.round((1000 * lengthKm) / sheath.majorM));
    const minorM = (1000 * lengthKm) / (3 * majors);
    const earths = footingsOf(stretch, majors);
    const turns = [0, 1, 2].map(conductors);
    const parts = Array.from({ length: 3 * majors }, (_, k): Part => {
      const isMajorEnd = k % 3 === 2;
      const spans = [minorM];
      return {
        spansM: spans,
        soilOhmM,
        footings: withLeaks([isMajorEnd ? earths[(k - 2) / 3] : null], stretch, soilOhmM, spans),
        insulated: [isMajorEnd ? [] : [...sheaths, ...apart]],
        conductors: turns[k % 3],
      };
    });
    return { parts, sheaths };
  }
  // With nothing beside it that meets the soil on its way, a cable is one span.
  const bare = stretch.wires.some(({ lies }) => lies !== 'insulated');
  const spansM = bare || stretch.spansM ? spansOf(stretch, lengthKm) : [1000 * lengthKm];
  const part: Part = {
    spansM,
    soilOhmM,
    footings: withLeaks(
      footingsOf(stretch, spansM.length).map((ohm, k) => (k === spansM.length - 1 ? ohm : null)),
      stretch,
      soilOhmM,
      spansM,
    ),
    insulated: spansM.map((_, k) =>
      k < spansM.length - 1 ? [...sheaths, ...apart] : sheath.bonding === 'from' ? [...sheaths] : [],
    ),
    conductors: conductors(0),
    ...(sheath.bonding === 'to' && { openAtBeginning: sheaths }),
  };
  return { parts: [part], sheaths };
}

/** Single towers that shield wires are not joined to, and sheaths that are open where a stretch begins. */
function insulate(parts: readonly Part[], { insulatedAt }: ReturnPath): void {
  const towers = parts.flatMap(({ insulated, conductors }) =>
    insulated.map((list) => ({ list, shields: conductors.filter(({ name }) => name.startsWith('shield wire')) })),
  );
  for (const tower of insulatedAt) {
    const at = towers.at(tower - 1);
    if (at && tower < towers.length) for (const { name } of at.shields) if (!at.list.includes(name)) at.list.push(name);
  }
  // Sheaths that are open where their stretch begins.
  parts.forEach(({ openAtBeginning }, k) => {
    if (k > 0 && openAtBeginning) parts[k - 1].insulated.at(-1)?.push(...openAtBeginning);
  });
}

/** The same towers from the other end. */
function turned<P extends Part>(parts: readonly P[]): P[] {
  // The tower at the far end of a span is the one before the next span, looked at from the other side.
  const footings = parts.flatMap((part) => part.footings);
  const insulated = parts.flatMap((part) => part.insulated);
  const count = footings.length;
  let at = 0;
  return [...parts].reverse().map((part) => {
    const from = at;
    at += part.spansM.length;
    const towerOf = (k: number) => count - 2 - (from + k);
    return {
      ...part,
      spansM: [...part.spansM].reverse(),
      footings: part.spansM.map((_, k) => (towerOf(k) >= 0 ? footings[towerOf(k)] : null)),
      insulated: part.spansM.map((_, k) => (towerOf(k) >= 0 ? insulated[towerOf(k)] : [])),
    };
  });
}
