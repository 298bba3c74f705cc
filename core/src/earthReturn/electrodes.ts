/** Earthing of stations: typed, or the resistance that a formula gives for a grid, a rod, a ring or a wire; soil in one layer or two. */
import type { Complex } from '../linear/complex';
import type { Electrode, Soil, StationEarthing } from '../model/earthing';
import { formula, quantityOf, Trace } from '../working/trace';
import { ring, rod, rodInTwoLayers, schwarz, sverak, wennerOhmM, wire, type SchwarzDepth } from './grids';

/** Impedance of a station's earthing, Ω. */
export function earthingImpedance(given: StationEarthing, trace = new Trace()): Complex {
  const re = given.electrode ? electrodeOhm(given.electrode, trace) : given.rOhm;
  return { re, im: given.xOhm };
}

/** Radius of the disc of the same area. */
const radiusOf = (areaM2: number): number => Math.sqrt(areaM2 / Math.PI);

/**
 * Resistance to remote earth in Ω. Two layers: a rod in the upper one by its images, through both by the resistivities in parallel along it; what lies flat by the resistivity that a line of four probes
 * with a spacing of its radius would show.
 */
export function electrodeOhm(electrode: Electrode, trace = new Trace()): number {
  const q = quantityOf;
  switch (electrode.kind) {
    case 'grid': {
      const { lengthM, widthM, depthM, conductorM, rods, rodM } = electrode;
      const areaM2 = lengthM * widthM;
      trace.section('Grid');
      const soil = apparent(electrode.soil, radiusOf(areaM2), trace);
      const rho = q('ρ', soil, 'Ω·m');
      const area = trace.step('A', formula`${q('l', lengthM, 'm')} · ${q('b', widthM, 'm')}`, areaM2, 'm²');
      const wires = conductorM + rods * rodM;
      const length = trace.step(
        'LT',
        formula`${q('LC', conductorM, 'm')} + ${q('nR', rods)} · ${q('LR', rodM, 'm')}`,
        wires,
        'm',
      );
      const plain = sverak(soil, wires, areaM2, depthM);
      const depth = q('h', depthM, 'm');
      const bySverak = trace.step(
        'RG',
        formula`${rho} · (1 / ${length} + 1 / √(20 · ${area}) · (1 + 1 / (1 + ${depth} · √(20 / ${area}))))`,
        plain,
        'Ω',
        'IEEE 80, 14.2 (as remembered)',
      );
      if (electrode.formula === 'sverak') return bySverak.value;
      const found = schwarz({
        depth: schwarzDepth(depthM / Math.sqrt(areaM2)),
        soilOhmM: soil,
        areaM2,
        depthM,
        lengthToWidth: Math.max(lengthM, widthM) / Math.min(lengthM, widthM),
        conductorM,
        conductorRadiusM: electrode.wireMm / 2000,
        rods,
        rodM,
        rodRadiusM: electrode.rodMm / 2000,
      });
      if (rods === 0) return trace.step('RG', formula`${q('R1', found.r1, 'Ω')}`, found.r1, 'Ω', schwarzClause).value;
      const [r1, r2, rm] = [q('R1', found.r1, 'Ω'), q('R2', found.r2, 'Ω'), q('Rm', found.rm, 'Ω')];
      return trace.step(
        'RG',
        formula`(${r1} · ${r2} - ${rm}^2) / (${r1} + ${r2} - 2 · ${rm})`,
        found.ohm,
        'Ω',
        schwarzClause,
        'Grid alone R1, rods alone R2, between them Rm',
      ).value;
    }
    case 'rod': {
      const { rodM, rodMm, soil } = electrode;
      trace.section('Rod');
      const radiusM = rodMm / 2000;
      if (soil.lowerOhmM !== null && soil.thicknessM !== null && rodM <= soil.thicknessM)
        return trace.step(
          'R',
          formula`${q('R', rodInTwoLayers(layers(soil)!, rodM, radiusM), 'Ω')}`,
          rodInTwoLayers(layers(soil)!, rodM, radiusM),
          'Ω',
          'G. F. Tagg 1964 (as remembered)',
          'Wholly in the upper layer, by its images',
        ).value;
      const rho = alongRod(soil, rodM, trace);
      const [l, a] = [q('l', rodM, 'm'), q('a', radiusM, 'm')];
      return trace.step(
        'R',
        formula`${q('ρ', rho, 'Ω·m')} / (2 · π · ${l}) · (ln(4 · ${l} / ${a}) - 1)`,
        rod(rho, rodM, radiusM),
        'Ω',
        'H. B. Dwight 1936; IEC 60364-5-54, annex D',
      ).value;
    }
    case 'ring': {
      const { diameterM, wireMm, depthM } = electrode;
      trace.section('Ring');
      const rho = apparent(electrode.soil, diameterM / 2, trace);
      const [dia, d, h] = [q('D', diameterM, 'm'), q('d', wireMm / 1000, 'm'), q('h', depthM, 'm')];
      return trace.step(
        'R',
        formula`${q('ρ', rho, 'Ω·m')} / (2 · π^2 · ${dia}) · (ln(8 · ${dia} / ${d}) + ln(4 · ${dia} / (2 · ${h})))`,
        ring(rho, diameterM, wireMm / 1000, depthM),
        'Ω',
        'H. B. Dwight 1936',
      ).value;
    }
    case 'wire': {
      const { lengthM, wireMm, depthM } = electrode;
      trace.section('Wire');
      const rho = apparent(electrode.soil, lengthM / 2, trace);
      return trace.step(
        'R',
        formula`${q('R', wire(rho, lengthM / 2, wireMm / 2000, depthM), 'Ω')}`,
        wire(rho, lengthM / 2, wireMm / 2000, depthM),
        'Ω',
        'H. B. Dwight 1936',
        `Straight, ${lengthM} m, in ${Number(rho.toPrecision(4))} Ω·m`,
      ).value;
    }
  }
}

/** The nearest of the three depths over the root of the area that coefficients are known for. */
const schwarzDepth = (ratio: number): SchwarzDepth =>
  ratio < 1 / 20 ? 'surface' : ratio < 2 / 15 ? 'sqrtA/10' : 'sqrtA/6';

const schwarzClause = 'IEEE 80, 14.3, S. J. Schwarz 1954 (as remembered)';

const layers = ({ upperOhmM, lowerOhmM, thicknessM }: Soil) =>
  lowerOhmM === null || thicknessM === null ? null : { upperOhmM, lowerOhmM, thicknessM };

/** Resistivity that something of this radius meets. */
function apparent(soil: Soil, radiusM: number, trace: Trace): number {
  const two = layers(soil);
  if (!two) return soil.upperOhmM;
  const found = wennerOhmM(two, radiusM);
  return trace.step(
    'ρ',
    formula`${quantityOf('ρa', found, 'Ω·m')}`,
    found,
    'Ω·m',
    'F. Wenner 1915',
    `Two layers, as four probes ${Number(radiusM.toPrecision(3))} m apart see them`,
  ).value;
}

/** Resistivity along a rod that goes through the upper layer: both layers conduct side by side. */
function alongRod(soil: Soil, rodM: number, trace: Trace): number {
  const two = layers(soil);
  if (!two) return soil.upperOhmM;
  const [upper, lower] = [Math.min(rodM, two.thicknessM), Math.max(0, rodM - two.thicknessM)];
  const rho = rodM / (upper / two.upperOhmM + lower / two.lowerOhmM);
  return trace.step(
    'ρ',
    formula`${quantityOf('l', rodM, 'm')} / (${quantityOf('l1', upper, 'm')} / ${quantityOf('ρ1', two.upperOhmM, 'Ω·m')} + ${quantityOf('l2', lower, 'm')} / ${quantityOf('ρ2', two.lowerOhmM, 'Ω·m')})`,
    rho,
    'Ω·m',
    'IEEE 80, 14.3 (as remembered)',
  ).value;
}
