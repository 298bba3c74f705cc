/** A fault at the terminals of a unit's generator: what the machine gives and what comes through the unit transformer are told apart. */
import { describe, expect, it } from 'vitest';
import { add, magnitude, subtract } from '../../linear/complex';
import { elementId } from '../../model/fields';
import { everyKind } from '../../test/everyKind';
import { contributions } from '../iec60909/contributions';
import { faultAtPlace, iec60909Study, terminalPlace } from '../iec60909/study';
import { faultKinds, solidFault } from '../kinds';

describe('a fault at the generator of a power-station unit', () => {
  it('lists generator and transformer apart, which add up to the fault current', () => {
    for (let seed = 1; seed <= 8; seed++)
      for (const kind of faultKinds) {
        const study = iec60909Study(everyKind(seed).network, 'max');
        const result = faultAtPlace(study, terminalPlace(elementId('AUX')), solidFault(kind));
        if (!result.ok) throw new Error(result.problems[0].message);
        const { fault } = result;
        const shares = contributions(fault);
        const generator = shares.find(({ name }) => name === 'U, generator')!;
        const transformer = shares.find(({ name }) => name === 'U, transformer')!;
        const sum = shares.reduce((total, { components }) => add(total, components.positive), { re: 0, im: 0 });
        expect(magnitude(subtract(sum, fault.components.positive)) / (1 + fault.ikA)).toBeLessThan(1e-9);
        if (fault.ikA > 0) expect(transformer.currentA).toBeGreaterThan(0);
        if (kind !== '3ph') continue;
        // The generator alone: c·Un/√3 over its corrected impedance (6.7.3).
        const own = fault.study.assembly.positive.shunts.find(
          ({ element, terminal }) => element === 'U' && terminal === 1,
        )!;
        expect(generator.currentA).toBeCloseTo(fault.sourceV / Math.hypot(own.rOhm, own.xOhm), 6);
      }
  });
});
