import { describe, expect, it } from 'vitest';
import { protectionCases } from '../test/reference';
import { cableShortCircuit, heatLossFrom, type Insulation, type Metal } from './conductors';

describe('heat that leaves a conductor during a short circuit (IEC 60949)', () => {
  const cases = protectionCases('xy60949') as unknown as {
    id: string;
    inputs: { material: string; sigma_i: number; rho_i_Km_W: number; F: number };
    expected: [number, number];
    tolerance: { abs: number };
  }[];
  it.each(cases)('$id: as printed, and from what the insulation is', ({ id, inputs, expected, tolerance }) => {
    const metal: Metal = inputs.material === 'Cu' ? 'copper' : 'aluminium';
    const { x, y } = heatLossFrom(metal, { heat: inputs.sigma_i, resistivity: inputs.rho_i_Km_W, contact: inputs.F });
    expect(Math.abs(x - expected[0])).toBeLessThanOrEqual(tolerance.abs);
    expect(Math.abs(y - expected[1])).toBeLessThanOrEqual(tolerance.abs);
    const insulation = id
      .split('-')[3]
      .replace(/[<>].*/, '')
      .toLowerCase() as Insulation;
    const used = cableShortCircuit(metal, insulation, 95, 70, 160, 1, id.includes('>3kV') ? 11 : 0.4);
    expect([used.loss!.x, used.loss!.y]).toEqual(expected);
    expect(used.permissibleA / used.adiabaticA).toBeCloseTo(
      Math.sqrt(1 + expected[0] * Math.sqrt(1 / 95) + expected[1] / 95),
      12,
    );
  });
  it('steel has no constants printed: nothing is counted on leaving it', () => {
    const { loss, adiabaticA, permissibleA } = cableShortCircuit('steel', 'xlpe', 50, 90, 250, 1);
    expect(loss).toBeNull();
    expect(permissibleA).toBe(adiabaticA);
  });
});
