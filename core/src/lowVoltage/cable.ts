/** A cable of a circuit as bare figures: its impedances as the engine has them, and what it carries where it lies. */
import {
  adiabaticK,
  ambientFactor,
  groupingFactor,
  protectiveSection,
  resistanceAt20,
  soilFactor,
  tableCurrent,
  typicalReactance,
  type CableInsulation,
  type CableMetal,
  type Sure,
} from '../circuits/ampacity';
import { scale, subtract, type Complex } from '../linear/complex';
import type { Line } from '../model/branches';
import type { Laying, LayingMethod } from '../model/circuit';
import type { ElementId } from '../model/fields';

/** Rise of resistance per kelvin as IEC 60909-0 has it, and of the metal in service. */
const perKelvinInFaults = 0.004;
const perKelvin = { Cu: 0.00393, Al: 0.00403 } as const;
const serviceC = { PVC: 70, XLPE: 90 } as const;

export interface CableCase {
  readonly element: ElementId;
  readonly name: string;
  readonly lengthM: number;
  readonly parallel: number;
  readonly sectionMm2: number | null;
  /** Null: none that the tables know. */
  readonly metal: CableMetal | null;
  readonly insulation: CableInsulation | null;
  /** Of the whole length, all in parallel, Ω at 20 °C. */
  readonly phase: Complex;
  /** Of the protective conductor; null where the zero sequence is not given. */
  readonly pe: Complex | null;
  readonly peMm2: number | null;
  /** At the end of a fault, °C: for the smallest currents. */
  readonly endC: number;
  readonly laying: Laying | null;
  /** Typed, of one. */
  readonly ratedA: number | null;
}

const metalOf = { copper: 'Cu', aluminium: 'Al', steel: null } as const;
const insulationOf = { pvc: 'PVC', xlpe: 'XLPE', epr: 'XLPE', none: null, paper: null } as const;

const madeOf = new WeakMap<Line, CableCase>();

export function cableCase(line: Line): CableCase {
  let made = madeOf.get(line);
  if (!made) madeOf.set(line, (made = fromLine(line)));
  return made;
}

function fromLine(line: Line): CableCase {
  const km = line.lengthKm / line.circuits;
  const phase = { re: line.r1OhmPerKm * km, im: line.x1OhmPerKm * km };
  const zero =
    line.r0OhmPerKm === null || line.x0OhmPerKm === null
      ? null
      : { re: line.r0OhmPerKm * km, im: line.x0OhmPerKm * km };
  return {
    element: line.id,
    name: line.name,
    lengthM: 1000 * line.lengthKm,
    parallel: line.circuits,
    sectionMm2: line.sectionMm2,
    metal: metalOf[line.metal],
    insulation: insulationOf[line.insulation],
    phase,
    // Z0 = Z1 + 3·ZPE of a cable whose protective conductor brings the current back.
    pe: zero && scale(subtract(zero, phase), 1 / 3),
    peMm2: line.laying?.peMm2 ?? (line.sectionMm2 === null ? null : protectiveSection(line.sectionMm2)),
    endC: line.endTemperatureC,
    laying: line.laying ?? null,
    ratedA: line.ratedA,
  };
}

export type Heat = 'cold' | 'hot' | 'service';

/** Resistance at 20 °C for the largest currents, at the end of a fault for the smallest, as in service for voltages. */
export function atHeat({ re, im }: Complex, { endC, metal, insulation }: CableCase, heat: Heat): Complex {
  const rise =
    heat === 'cold'
      ? 0
      : heat === 'hot'
        ? perKelvinInFaults * (endC - 20)
        : perKelvin[metal ?? 'Cu'] * (serviceC[insulation ?? 'PVC'] - 20);
  return { re: re * (1 + rise), im };
}

/** What a cable may carry, all in parallel together. */
export interface Capacity {
  /** Null where nothing tells. */
  readonly ampere: number | null;
  readonly by: 'table' | 'typed' | 'unknown';
  readonly sure: Sure | null;
  /** Of the place that decides. */
  readonly method: LayingMethod | null;
  readonly isInside: boolean;
  readonly tableA: number | null;
  readonly ambient: number;
  readonly grouping: number;
  readonly soil: number;
}

const unknownCapacity: Capacity = {
  ampere: null,
  by: 'unknown',
  sure: null,
  method: null,
  isInside: false,
  tableA: null,
  ambient: 1,
  grouping: 1,
  soil: 1,
};

const carried = { 2: new WeakMap<CableCase, Capacity>(), 3: new WeakMap<CableCase, Capacity>() } as const;

/** `loaded`: conductors that carry current. Cables in parallel count as circuits side by side. */
export function capacityOf(cable: CableCase, loaded: 2 | 3): Capacity {
  let capacity = carried[loaded].get(cable);
  if (!capacity) carried[loaded].set(cable, (capacity = capacityFound(cable, loaded)));
  return capacity;
}

function capacityFound(cable: CableCase, loaded: 2 | 3): Capacity {
  const { laying, sectionMm2, metal, insulation, parallel, ratedA } = cable;
  const typed: Capacity =
    ratedA === null ? unknownCapacity : { ...unknownCapacity, ampere: ratedA * parallel, by: 'typed' };
  if (!laying || sectionMm2 === null || !metal || !insulation) return typed;
  const at = (method: LayingMethod, celsius: number, together: number, isInside: boolean): Capacity | null => {
    const table = tableCurrent(metal, insulation, loaded, method, sectionMm2);
    const side = together + parallel - 1;
    const grouping =
      side === 1 ? 1 : groupingFactor(method, side, isInside ? 'bunched' : laying.bunching, laying.clearance);
    if (!table || grouping === null) return null;
    const ambient = ambientFactor(insulation, method, celsius);
    const soil = soilFactor(method, laying.soil);
    return {
      ampere: table.ampere * ambient * grouping * soil * parallel,
      by: 'table',
      sure: table.sure,
      method,
      isInside,
      tableA: table.ampere,
      ambient,
      grouping,
      soil,
    };
  };
  const outside = at(laying.method, laying.ambientC, laying.together, false);
  if (!outside) return typed;
  if (laying.insideMethod === 'none') return outside;
  const inside = at(laying.insideMethod, laying.insideC, laying.insideTogether, true);
  return inside && inside.ampere! < outside.ampere! ? inside : outside;
}

/** k²·S² of a conductor in A²s; null where its material is not known. `which`: of the phases or of the protective conductor. */
export function heatBorneA2s(cable: CableCase, which: 'phase' | 'pe'): number | null {
  const section = which === 'phase' ? cable.sectionMm2 : cable.peMm2;
  if (section === null || !cable.metal || !cable.insulation) return null;
  return (adiabaticK(cable.metal, cable.insulation, section) * section * cable.parallel) ** 2;
}

/** Values of a line that go with a cable of the tables; null where the section is not made. */
export function cableValues(
  metal: CableMetal,
  insulation: CableInsulation,
  sectionMm2: number,
  peMm2: number | null = null,
): Partial<Line> | null {
  const pe = peMm2 ?? protectiveSection(sectionMm2);
  const [r, rPe] = [resistanceAt20(metal, sectionMm2), resistanceAt20(metal, pe)];
  if (r === null || rPe === null) return null;
  const x = typicalReactance(sectionMm2);
  const rounded = (value: number) => Number(value.toPrecision(6));
  return {
    type: 'cable',
    data: 'perLength',
    r1OhmPerKm: r,
    x1OhmPerKm: x,
    r0OhmPerKm: rounded(r + 3 * rPe),
    x0OhmPerKm: rounded(4 * x),
    sectionMm2,
    metal: metal === 'Cu' ? 'copper' : 'aluminium',
    insulation: insulation === 'PVC' ? 'pvc' : 'xlpe',
    endTemperatureC: insulation === 'PVC' ? (sectionMm2 > 300 ? 140 : 160) : 250,
  };
}

/** The same cable with another section and what goes with it; null where that is not made. */
export function withSectionOf(cable: CableCase, sectionMm2: number): CableCase | null {
  const { metal, insulation, lengthM, parallel } = cable;
  if (!metal || !insulation) return null;
  const values = cableValues(metal, insulation, sectionMm2);
  if (!values) return null;
  const km = lengthM / 1000 / parallel;
  const phase = { re: values.r1OhmPerKm! * km, im: values.x1OhmPerKm! * km };
  const zero = { re: values.r0OhmPerKm! * km, im: values.x0OhmPerKm! * km };
  return {
    ...cable,
    sectionMm2,
    phase,
    pe: scale(subtract(zero, phase), 1 / 3),
    peMm2: protectiveSection(sectionMm2),
    endC: values.endTemperatureC!,
    ratedA: null,
  };
}

/** The same cable, so many metres long. */
export const withLength = (cable: CableCase, lengthM: number): CableCase => ({
  ...cable,
  lengthM,
  phase: scale(cable.phase, lengthM / cable.lengthM),
  pe: cable.pe && scale(cable.pe, lengthM / cable.lengthM),
});
