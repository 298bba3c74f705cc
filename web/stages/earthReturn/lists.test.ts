import { describe, expect, it } from 'vitest';
import { wires } from '@mesura/core/equipment/library/wires';
import { listText, numbersOf, towersText } from './lists';
import { imperialUnit } from './units';

const read = (text: string, options = {}) => {
  const list = numbersOf(text, options);
  return list.ok ? list.values : list.message;
};

describe('lists of numbers', () => {
  it('are read however people separate them', () => {
    expect(read('14, 15,22')).toEqual([14, 15, 22]);
    expect(read('14; 15.5;22')).toEqual([14, 15.5, 22]);
    expect(read('14,5; 15,25')).toEqual([14.5, 15.25]);
    expect(read('14\n15\t16  17,5')).toEqual([14, 15, 16, 17.5]);
    expect(read('')).toEqual([]);
    expect(read('14, fifteen')).toBe('"fifteen" is not a number');
    expect(read('1.5', { whole: true })).toBe('"1.5" is not a number');
  });
  it('with ranges of towers', () => {
    const towers = { whole: true, ranges: true };
    expect(read('3, 7-9, 12', towers)).toEqual([3, 7, 8, 9, 12]);
    expect(read('9-7', towers)).toBe('"9-7" is no range');
    expect(read('1-999999', towers)).toBe('"1-999999" is no range');
    expect(towersText([9, 3, 7, 8, 12, 13])).toBe('3, 7-9, 12, 13');
    expect(read(towersText([1, 2, 3, 5, 6, 20]), towers)).toEqual([1, 2, 3, 5, 6, 20]);
  });
  it('come back as they were written', () => {
    const values = [310, 285.5, 0.25];
    expect(read(listText(values))).toEqual(values);
    expect(listText(null)).toBe('');
  });
});

describe('feet and miles', () => {
  it('are those of the yard of 0.9144 m', () => {
    expect(0.9144 * imperialUnit('m').factor).toBeCloseTo(3, 12);
    expect(imperialUnit('Ω/km').factor * imperialUnit('km').factor).toBeCloseTo(1, 12);
    expect(107.2 * imperialUnit('mm²').factor).toBeCloseTo(211.6, 1);
    expect(imperialUnit('Ω')).toEqual({ unit: 'Ω', factor: 1 });
  });
});

describe('wires of the library', () => {
  it('are what their metal and section make of them', () => {
    expect(new Set(wires.map(({ key }) => key)).size).toBe(wires.length);
    for (const { rOhmPerKm, sectionMm2, metal, gmrMm, radiusMm, title } of wires) {
      // Ω·mm²/km; steel strands carry the current of a fault with more than their resistance to direct current.
      const product = rOhmPerKm * sectionMm2;
      const [low, high] = { copper: [17, 20], aluminium: [26, 31], steel: [150, 210] }[metal];
      expect(product, title).toBeGreaterThan(low);
      expect(product, title).toBeLessThan(high);
      expect(gmrMm).toBeLessThan(radiusMm);
    }
  });
});
