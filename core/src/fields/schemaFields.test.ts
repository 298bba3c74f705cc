import { describe, expect, it } from 'vitest';
import { minimumSources } from '../model/condition';
import { newElement, type PlaceableKind } from '../model/defaults';
import { defaultSettings, elementSchema, kinds, type Element, type ElementKind } from '../model/element';
import { elementId } from '../model/fields';
import { fieldHelp, groupOrder, helpKey, helpKeys } from '../model/fieldHelp';
import { commonValue, confirmed, formSections, isShown, validate, valueAt, withValue } from './schemaFields';

const samples = (Object.keys(kinds) as ElementKind[])
  .filter(
    (kind) =>
      ![
        'connection',
        'libraryEntry',
        'gradingChart',
        'tower',
        'lineCoupling',
        'textNote',
        'panel',
        'chartPicture',
        'rulebook',
        'linePackage',
        'trial',
        'batch',
        'script',
        'earthStudy',
        'page',
      ].includes(kind),
  )
  .map((kind) => {
    if (kind === 'projectSettings') return defaultSettings;
    if (kind === 'condition') return { ...minimumSources, id: elementId('x'), name: 'X' };
    return newElement(kind as PlaceableKind, elementId('x'), 'X');
  }) as Element[];

describe('forms made from the schemas', () => {
  it.each(samples.map((element) => [element.kind, element] as const))(
    '%s: every field is there, titled, and takes its own value',
    (kind, element) => {
      const fields = formSections(kind).flatMap((section) => section.fields);
      expect(fields.length).toBeGreaterThan(0);
      expect(elementSchema.safeParse(element).success).toBe(true);
      for (const field of fields) {
        expect(field.meta.title).not.toBe('');
        const value = valueAt(element, field.path);
        expect(value, field.path.join('.')).not.toBeUndefined();
        expect(withValue(element, field.path, value)).toEqual(element);
        if (field.type === 'choice' || field.type === 'number choice') expect(field.options).toContain(value);
        if (field.type === 'quantity') expect(typeof value).toBe('number');
      }
    },
  );

  it('leave the original alone when a nested value changes', () => {
    const feeder = samples.find((element) => element.kind === 'networkFeeder')!;
    const before = JSON.stringify(feeder);
    expect(valueAt(withValue(feeder, ['max', 'ikKa'], 12), ['max', 'ikKa'])).toBe(12);
    expect(JSON.stringify(feeder)).toBe(before);
  });

  it('show a field only where it has a meaning', () => {
    const transformer = samples.find((element) => element.kind === 'transformer')!;
    const resistance = formSections('transformer')
      .flatMap((section) => section.fields)
      .find((field) => field.path.join('.') === 'lvNeutral.rOhm')!;
    expect(isShown(transformer, resistance)).toBe(false);
    expect(isShown(withValue(transformer, ['lvNeutral', 'earthing'], 'impedance'), resistance)).toBe(true);
  });

  it('say what is wrong with a value, or with what it makes of another', () => {
    const transformer = samples.find((element) => element.kind === 'transformer')!;
    expect(validate(transformer, ['ukPercent'])).toBeNull();
    expect(validate(withValue(transformer, ['ukPercent'], 0), ['ukPercent'])).toBe('must be above 0 %');
    expect(validate(withValue(transformer, ['ukPercent'], 0.5), ['ukPercent'])).toBe(
      'uRPercent: must not exceed the short-circuit voltage uk',
    );
    expect(validate(withValue(transformer, ['hvKv'], 0.1), ['hvKv'])).toMatch(
      /the HV voltage \(0.1 kV\) is below the LV voltage/,
    );
  });

  it('are grouped where they are many, in one order, no field twice', () => {
    for (const { kind } of samples) {
      const sections = formSections(kind);
      const paths = sections.flatMap(({ fields }) => fields.map(({ path }) => path.join('.')));
      expect(new Set(paths).size).toBe(paths.length);
      const named = sections.flatMap(({ title }) => (title !== null && groupOrder.includes(title) ? [title] : []));
      expect(named).toEqual(groupOrder.filter((title) => named.includes(title)));
    }
    expect(formSections('transformer').map(({ title }) => title)).toEqual(
      expect.arrayContaining(['Ratings', 'Impedance', 'Zero and negative sequence', 'HV neutral']),
    );
  });

  it('explain every field that is not plain text, and nothing that does not exist', () => {
    const used = new Set<string>();
    const unexplained: string[] = [];
    for (const kind of Object.keys(kinds) as ElementKind[])
      for (const field of formSections(kind).flatMap(({ fields }) => fields)) {
        const path = field.path.join('.');
        const key = helpKey(kind, path);
        if (key) used.add(key);
        else if (field.type !== 'text') unexplained.push(`${kind}.${path}`);
      }
    expect(unexplained).toEqual([]);
    expect(helpKeys.filter((key) => !used.has(key))).toEqual([]);
    expect(fieldHelp('powerStationUnit', 'generator.xd2Percent')).toBe(fieldHelp('synchronousMachine', 'xd2Percent'));
    expect(fieldHelp('networkFeeder', 'max.ikKa')).not.toBe(fieldHelp('networkFeeder', 'min.ikKa'));
  });

  it('take the mark of an assumed value away when it is confirmed or typed', () => {
    const line = {
      ...samples.find((element) => element.kind === 'line')!,
      assumed: ['lengthKm', 'r1OhmPerKm'],
    } as Element;
    expect(confirmed(line, ['lengthKm'])).toMatchObject({ assumed: ['r1OhmPerKm'] });
    expect('assumed' in confirmed(line, ['lengthKm', 'r1OhmPerKm'])).toBe(false);
    expect(confirmed(samples[0], ['x'])).toBe(samples[0]);
    expect(commonValue([line, withValue(line, ['lengthKm'], 9)], ['lengthKm'])).toBeUndefined();
    expect(commonValue([line, line], ['lengthKm'])).toBe(1);
  });
});
