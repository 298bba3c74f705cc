/** Values set for a study alone. */
import { describe, expect, it } from 'vitest';
import { nameOf } from '../model/element';
import { ofKind } from '../model/network';
import { demoNetwork } from '../test/demo';
import { gridOf, inCase, SettingRefusal, settingsOf } from './values';

const demo = demoNetwork();
const named = (name: string) =>
  [...demo.elements.values()].find((element) => 'name' in element && nameOf(element) === name)!;
const valuesIn = (...texts: string[]) => settingsOf(demo, texts).map(({ values }) => values);

describe('what is written', () => {
  it('names an element, however it is called, a field of it, and lists or ranges of values', () => {
    expect(valuesIn('FER-PEN.lengthKm=1,2.5', 'FER-PEN.lengthKm=1..2:0.25', 'fer-pen.lengthKm=3..1:-1')).toEqual([
      ['1', '2.5'],
      ['1', '1.25', '1.5', '1.75', '2'],
      ['3', '2', '1'],
    ]);
    // The name of a busbar with a dot in it.
    const [setting] = settingsOf(demo, ['BRA 0.4.nominalKv=0.4']);
    expect([setting.element, setting.path]).toEqual([named('BRA 0.4').id, ['nominalKv']]);
  });
  it('is refused in words', () => {
    for (const [text, why] of [
      ['FER-PEN.lengthKm', /ELEMENT\.FIELD=VALUE/],
      ['Nobody.lengthKm=1', /no element is called/],
      ['FER-PEN.colour=red', /no such field; there are .*lengthKm/],
      ['FER-PEN.lengthKm=-2', /must be/],
      ['FER-PEN.lengthKm=far', /not a number/],
      ['FER-PEN.lengthKm=1..2:0', /no range/],
      ['FER-PEN.lengthKm=2..1:1', /no range/],
      ['FER-PEN.lengthKm=1..9000:1', /more than 1000/],
    ] as const)
      expect(() => settingsOf(demo, [text]), text).toThrow(why);
    const long = settingsOf(demo, ['FER-PEN.lengthKm=1..500:1', 'FER-BRA 1.lengthKm=1..500:1']);
    expect(() => gridOf(long)).toThrow(SettingRefusal);
  });
});

describe('a grid', () => {
  it('has every combination, and leaves everything else as it is', () => {
    const settings = settingsOf(demo, ['FER-PEN.lengthKm=1,2', 'FER T1.ukPercent=9,10,11']);
    const cases = gridOf(settings);
    expect(cases.map(({ values }) => values.map(({ value }) => value).join())).toEqual([
      '1,9',
      '1,10',
      '1,11',
      '2,9',
      '2,10',
      '2,11',
    ]);
    const changed = inCase(demo, cases[4]);
    expect(changed.elements.get(named('FER-PEN').id)).toMatchObject({ lengthKm: 2 });
    expect(changed.elements.get(named('FER T1').id)).toMatchObject({ ukPercent: 10 });
    const same = [...demo.elements].filter(([id, element]) => changed.elements.get(id) !== element);
    expect(same.map(([id]) => id).sort()).toEqual([named('FER-PEN').id, named('FER T1').id].sort());
  });
  it('reaches nested fields, switches, and settings of functions by their code', () => {
    const relay = ofKind(demo, 'relay').find(({ functions }) =>
      functions.some((fn) => 'code' in fn && fn.code === '51'),
    )!;
    const settings = settingsOf(demo, [
      `${relay.name}.functions.51.pickup=1.7`,
      'Mainland.max.ikKa=25',
      'BRA Q21.closed=no',
    ]);
    const after = inCase(demo, gridOf(settings)[0]);
    const fn = (after.elements.get(relay.id) as typeof relay).functions.find(
      (each) => 'code' in each && each.code === '51',
    );
    expect(fn).toMatchObject({ pickup: 1.7 });
    expect(after.elements.get(named('Mainland').id)).toMatchObject({ max: { ikKa: 25 } });
    expect(after.elements.get(named('BRA Q21').id)).toMatchObject({ closed: false });
  });
});
