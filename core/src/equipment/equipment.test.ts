import { describe, expect, it } from 'vitest';
import { newElement, type PlaceableKind } from '../model/defaults';
import { elementSchema, type Element } from '../model/element';
import { elementId } from '../model/fields';
import { libraryKinds } from '../model/library';
import { find, networkOf, validateNetwork } from '../model/network';
import { Studies } from '../studies/studies';
import { demoNetwork } from '../test/demo';
import { findings } from '../checks/run';
import type { LibraryEntry } from './entry';
import { demandsAt, fitsOf } from './fit';
import { shippedLibrary } from './shipped';
import { entriesFor, entryFrom, entryNamed, overridesOf, withEntry } from './use';

const network = demoNetwork();
const studies = new Studies(network);
const id = elementId;

describe('the library that ships', () => {
  it('has several hundred types of every kind, each with an identifier, a title and a source of its own', () => {
    expect(shippedLibrary.length).toBeGreaterThan(300);
    expect(new Set(shippedLibrary.map((entry) => entry.id)).size).toBe(shippedLibrary.length);
    expect(new Set(shippedLibrary.map((entry) => entry.title)).size).toBe(shippedLibrary.length);
    expect(new Set(shippedLibrary.map((entry) => entry.for))).toEqual(new Set(libraryKinds));
    for (const { source, title } of shippedLibrary) expect([title, source.length > 5]).toEqual([title, true]);
  });
  it('gives elements that their schemas take, without anything assumed of what the type says', () => {
    for (const entry of shippedLibrary) {
      const element = newElement(entry.for as PlaceableKind, id('x'), 'X', {
        assumed: Object.keys(entry.data),
      } as never);
      const made = withEntry(element as Element, entry);
      expect([entry.id, made === null]).toEqual([entry.id, false]);
      expect(elementSchema.parse(made)).toEqual(made);
      expect(made).toMatchObject({ name: 'X', entry: entry.id });
      expect('assumed' in made!).toBe(false);
      expect(overridesOf(made!, entry)).toEqual([]);
    }
  });
  it('resistance falls and capacity rises with the section; uk and losses go with the rating', () => {
    const byTitle = (pattern: RegExp) =>
      shippedLibrary.filter(({ title }) => pattern.test(title)).map(({ data }) => data);
    const cables = byTitle(/^XLPE cable 11 kV.*Al$/);
    for (let k = 1; k < cables.length; k++) {
      expect(cables[k].r1OhmPerKm as number).toBeLessThan(cables[k - 1].r1OhmPerKm as number);
      expect(cables[k].x1OhmPerKm as number).toBeLessThanOrEqual(cables[k - 1].x1OhmPerKm as number);
      expect(cables[k].ratedA as number).toBeGreaterThan(cables[k - 1].ratedA as number);
    }
    expect(byTitle(/^1.6 MVA, 11/)[0]).toMatchObject({ ukPercent: 6, vectorGroup: 'Dyn11' });
    for (const { ukPercent, uRPercent } of byTitle(/MVA|kVA/).filter((data) => 'uRPercent' in data))
      expect(uRPercent as number).toBeLessThan(ukPercent as number);
  });
});

describe('elements of a type', () => {
  const entry = entryNamed(network, 'lib-cb-12-1250-25')!;
  const breaker = find(network, 'switch', id('bra-q21'))!;
  it('take its values and keep their own place, name and position', () => {
    const made = withEntry(breaker, entry)!;
    expect(made).toMatchObject({ id: breaker.id, closed: breaker.closed, x: breaker.x, ratedA: 1250, breakingKa: 25 });
    expect(overridesOf({ ...made, breakingKa: 31.5 }, entry)).toEqual([{ path: 'breakingKa', ofType: 25, here: 31.5 }]);
    expect(withEntry(find(network, 'line', id('fer-pen'))!, entry)).toBeNull();
  });
  it('can be made from an element, stored in the project, and found before those that ship', () => {
    const line = find(network, 'line', id('fer-pen'))!;
    const own = entryFrom(line, id('own-1'), 'Our 33 kV line');
    const stored = networkOf([...network.elements.values(), elementSchema.parse(own)]);
    expect(validateNetwork(stored)).toEqual([]);
    const [first] = entriesFor(stored, 'line');
    expect(first).toMatchObject({ id: 'own-1', own: true, title: 'Our 33 kV line' });
    expect(first.data).not.toHaveProperty('lengthKm');
    const other = find(network, 'line', id('pen-ske'))!;
    expect(withEntry(other, first)).toMatchObject({
      r1OhmPerKm: line.r1OhmPerKm,
      lengthKm: other.lengthKm,
      name: other.name,
    });
    expect(entryNamed(stored, 'nowhere')).toBeUndefined();
  });
});

describe('what fits at a place', () => {
  const place = demandsAt(studies, studies.conditions, id('bra-q21'))!;
  const verdict = (entry: LibraryEntry) => fitsOf(entry, place).map(({ what, fits }) => [what, fits]);
  const named = (key: string) => entryNamed(network, `lib-${key}`)!;
  it('the level, the current of what hangs on the run, and the largest fault over all conditions', () => {
    expect(place.nominalKv[0]).toBe(11);
    expect(place.service).toMatchObject({ of: 'BRA T1', ampere: expect.closeTo(12500 / Math.sqrt(3) / 11.5, 6) });
    expect(place.fault!.condition).toBe('maximum');
    expect(place.fault!.kA).toBeGreaterThan(14);
  });
  it('voltage, service current and fault current, each with the next size that would do', () => {
    expect(verdict(named('cb-12-1250-25'))).toEqual([
      ['voltage', true],
      ['service current', true],
      ['fault current', true],
    ]);
    const small = fitsOf(named('cb-7.2-630-16'), { ...place, fault: { kA: 17, condition: id('maximum') } });
    expect(small.map(({ what, fits, next }) => [what, fits, next])).toEqual([
      ['voltage', false, '12 kV'],
      ['service current', true, null],
      ['fault current', false, '20 kA'],
    ]);
    expect(fitsOf(named('lv-630-70'), place)[1]).toMatchObject({ what: 'service current', fits: true });
    expect(fitsOf(named('lv-400-50'), place)[1]).toMatchObject({ fits: false, next: '630 A' });
    expect(verdict(named('cb-145-1250-25'))).toContainEqual(['voltage', false]);
  });
  it('of transformers at both ends, of instrument transformers on the run', () => {
    const t1 = demandsAt(studies, studies.conditions, id('bra-t1'))!;
    expect(fitsOf(named('tr-12500-33-11.5'), t1).map(({ fits }) => fits)).toEqual([true, true]);
    expect(fitsOf(named('tr-25000-132-34.5'), t1).map(({ fits }) => fits)).toEqual([false, false]);
    const ct = demandsAt(studies, studies.conditions, id('bra-ct21'))!;
    expect(fitsOf(named('ct-500-1-5p20'), ct)).toMatchObject([{ fits: false, next: '750 A' }]);
    expect(fitsOf(named('ct-800-1-5p20'), ct)).toMatchObject([{ fits: true, next: null }]);
    expect(demandsAt(studies, studies.conditions, id('nowhere'))).toBeNull();
  });
  it('a breaker below the voltage of its network is a finding', () => {
    const low = withEntry(find(network, 'switch', id('bra-q21'))!, named('cb-7.2-1250-25'))!;
    const wrong = networkOf([...network.elements.values()].map((element) => (element.id === low.id ? low : element)));
    expect(findings(new Studies(wrong)).find(({ code }) => code === 'voltage.rated')).toMatchObject({
      severity: 'error',
      message: "BRA Q21: rated voltage 7.2 kV is below the network's 11 kV",
    });
  });
});
