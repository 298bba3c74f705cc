import { describe, expect, it } from 'vitest';
import { ibKa, ik1Ka, ik3Ka, ikSteadyKa, ip3Ka, printed } from '../../test/tr60909';

describe('IEC TR 60909-4, clause 6', () => {
  it.each(Object.entries(printed.ik3Ka))('three-phase at bus %s: %d kA as printed', (bus, kiloamperes) =>
    expect(ik3Ka(bus)).toBeCloseTo(kiloamperes, 4),
  );
  it.each(Object.entries(printed.ik1Ka))('single-phase-earth at bus %s: %d kA as printed', (bus, kiloamperes) =>
    expect(ik1Ka(bus)).toBeCloseTo(kiloamperes, 4),
  );
  it.each(Object.entries(printed.ip3By20HzKa_secondSolver))(
    'peak at bus %s by the 20 Hz method: %d kA',
    (bus, kiloamperes) => expect(ip3Ka(bus)).toBeCloseTo(kiloamperes, 3),
  );
  it.each(Object.entries(printed.ib01sKa))(
    'breaking current at bus %s after 0.1 s: %d kA as printed',
    (bus, kiloamperes) => expect(ibKa(bus)).toBeCloseTo(kiloamperes, 3),
  );
  it.each(Object.entries(printed.ikSteadyKa))('steady current at bus %s: %d kA as printed', (bus, kiloamperes) =>
    expect(ikSteadyKa(bus)).toBeCloseTo(kiloamperes, 3),
  );
});
