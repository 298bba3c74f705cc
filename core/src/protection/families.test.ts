/** What every family of functions brings, whatever it is: settings to read and to set, choices, names. */
import { describe, expect, it } from 'vitest';
import { elementId } from '../model/fields';
import { functionSchema } from './schemas';
import { familyNamed, familyOf } from './registry';
import { genericRelays } from './overcurrent/library';
import { functionCodes } from './overcurrent/schema';

const families = (
  [
    'overcurrent',
    'fuse',
    'release',
    'reclosing',
    'overload',
    'miniature',
    'thermal',
    'undercurrent',
    'breakerFailure',
    'light',
    'residual',
  ] as const
).map((id) => familyNamed(id));

describe('a family', () => {
  it.each(families.map((family) => [family.id, family] as const))(
    '%s makes functions of each variant that its schema takes, and changes them one setting at a time',
    (id, family) => {
      expect(family.hosts.length).toBeGreaterThan(0);
      expect(family.title).not.toBe('');
      for (const { value, label } of family.variants) {
        expect(label).not.toBe('');
        const made = family.fresh(elementId('f'), value, elementId('in'));
        expect(functionSchema.parse(made)).toEqual(made);
        expect(made).toMatchObject({ family: id, id: 'f', enabled: true, input: 'in', circuits: [] });
        expect(familyOf(made)).toBe(family);
        expect([family.code(made), family.name(made)]).not.toContain('');
        const settings = family.settings(made);
        expect(settings.length).toBeGreaterThan(0);
        for (const { field, title, value: now, role, range, sizes } of settings) {
          expect(title).not.toBe('');
          const valueIn = (fn: typeof made) =>
            field.split('.').reduce<unknown>((at, key) => (at as Record<string, unknown>)[key], fn);
          expect(valueIn(made)).toBe(now);
          const other = range ? range.min + range.step : (sizes?.[1] ?? (now || 1) * 1.5);
          const changed = family.withSetting(made, field, other);
          expect(valueIn(changed)).toBe(other);
          expect(family.withSetting(changed, field, now)).toEqual(made);
          expect(family.settings(changed).find((each) => each.field === field)!.value).toBe(other);
          expect(['pickup', 'time', 'other']).toContain(role);
        }
        for (const choice of family.choices?.(made) ?? []) {
          expect(choice.options.map((option) => option.value)).toContain(choice.value);
          if (choice.fixed) continue;
          for (const option of choice.options) {
            expect(option.label).not.toBe('');
            const changed = family.withChoice!(made, choice.field, option.value);
            expect(functionSchema.parse(changed)).toEqual(changed);
            expect(family.choices!(changed).find(({ field }) => field === choice.field)!.value).toBe(option.value);
          }
        }
      }
    },
  );

  it('overcurrent: its functions, high-set ones of definite time alone, ranges of the function beside it', () => {
    const family = familyNamed('overcurrent');
    expect(family.hosts).toEqual(['relay', 'recloser']);
    expect(family.variants.map(({ value }) => value)).toEqual([...functionCodes]);
    expect(family.variants[1].label).toBe('50 phase overcurrent, high-set');
    const [timed, high] = ['51', '50'].map((variant) => family.fresh(elementId('f'), variant, null));
    const chief = (fn: typeof timed) => family.settings(fn).filter(({ more }) => !more);
    expect(chief(timed).map(({ field, unit }) => [field, unit])).toEqual([
      ['pickup', '× In'],
      ['timeMultiplier', ''],
    ]);
    expect(chief(high).map(({ field, unit }) => [field, unit])).toEqual([
      ['pickup', '× In'],
      ['delayS', 's'],
    ]);
    const definite = family.withChoice!(timed, 'characteristic', 'definite');
    expect(family.settings(definite)[1].field).toBe('delayS');
    expect(family.choices!(timed)[0]).toMatchObject({ field: 'characteristic', fixed: false });
    expect(family.choices!({ ...high, characteristic: 'iecA' })[0]).toMatchObject({ value: 'definite', fixed: true });
    expect(family.fresh(elementId('f'), 'nothing like it', null).code).toBe('51');
    const own = { ...timed, ranges: genericRelays[1].ranges };
    expect(genericRelays[1].ranges).not.toEqual(genericRelays[0].ranges);
    expect(family.fresh(elementId('g'), '50', null, own).ranges).toBe(genericRelays[1].ranges);
    const fuse = familyNamed('fuse').fresh(elementId('h'), 'gG', null);
    expect(family.fresh(elementId('g'), '50', null, fuse).ranges).toBe(genericRelays[0].ranges);
    const rating = { primaryA: 400, secondaryA: 5 };
    expect(family.sheet!({ ...timed, pickup: 1.2, timeMultiplier: 0.3 }, rating)).toEqual({
      code: '51',
      curve: timed.characteristic,
      characteristic: expect.stringMatching(/inverse/),
      pickupIn: 1.2,
      primaryA: 480,
      secondaryA: 6,
      timeMultiplier: 0.3,
      delayS: null,
    });
    expect(family.sheet!({ ...high, pickup: 8, delayS: 0.05, characteristic: 'iecA' }, rating)).toMatchObject({
      curve: 'definite',
      characteristic: 'Definite time',
      timeMultiplier: null,
      delayS: 0.05,
    });
  });

  it('overcurrent: dragged on a chart the pickup follows the current, the time the hand, each to a step of the device', () => {
    const family = familyNamed('overcurrent');
    const rating = { primaryA: 400, secondaryA: 1 };
    const timed = {
      ...family.fresh(elementId('f'), '51', null),
      pickup: 1,
      timeMultiplier: 0.2,
      characteristic: 'iecB' as const,
    };
    const drag = family.dragged!;
    expect(drag(timed, rating, 'pickup', { currentA: 601, timeS: 1 })).toEqual({ ...timed, pickup: 1.5 });
    // IEC B at five times pickup: 13.5/4 s for a multiplier of one.
    expect(drag(timed, rating, 'time', { currentA: 2000, timeS: 1 }).timeMultiplier).toBeCloseTo(0.3, 9);
    // Left of the pickup there is no time: as at 1.02 of it.
    expect(drag(timed, rating, 'time', { currentA: 100, timeS: 202.5 }).timeMultiplier).toBe(
      drag(timed, rating, 'time', { currentA: 408, timeS: 202.5 }).timeMultiplier,
    );
    const high = { ...family.fresh(elementId('f'), '50', null), pickup: 5 };
    expect(drag(high, rating, 'time', { currentA: 3000, timeS: 0.1234 })).toEqual({ ...high, delayS: 0.12 });
  });

  it('a release has the settings of the parts in use, and no others', () => {
    const family = familyNamed('release');
    const made = family.fresh(elementId('f'), 'release', null);
    expect(made).toMatchObject({ ratedA: 400, ir: 1, trS: 8, isd: 6, tsdS: 0.1, ii: 10, ig: 0.4, tgS: 0.2 });
    const fields = (fn: typeof made) => family.settings(fn).map(({ field, unit }) => `${field} ${unit}`.trim());
    expect(fields(made)).toEqual(['ratedA A', 'ir × In', 'trS s', 'ii × In']);
    const all = family.withChoice!(made, 'parts', 'longTime+shortTime+instantaneous+earthFault');
    expect(all.parts).toEqual(['longTime', 'shortTime', 'instantaneous', 'earthFault']);
    expect(fields(all)).toEqual(['ratedA A', 'ir × In', 'trS s', 'isd × Ir', 'tsdS s', 'ii × In', 'ig × In', 'tgS s']);
    expect(family.settings(all).map(({ role }) => role)).toEqual([
      ...['pickup', 'pickup', 'time', 'pickup', 'time', 'pickup', 'pickup', 'time'],
    ]);
    expect(family.choices!(made).map(({ field }) => field)).toEqual(['parts']);
    expect(family.choices!(all).map(({ field }) => field)).toEqual(['parts', 'shortTime']);
    expect(family.choices!(all)[0].options.map(({ label }) => label)).toContain(
      'overload, short-time, instantaneous, earth fault',
    );
    expect(family.withChoice!(all, 'shortTime', 'i2t')).toEqual({ ...all, shortTime: 'i2t' });
    expect(family.hosts).toEqual(['breaker']);
  });

  it('fuses by class, overload by trip class, reclosing by its shots', () => {
    const fuse = familyNamed('fuse');
    expect(fuse.fresh(elementId('f'), 'aM', null).class).toBe('aM');
    expect(fuse.fresh(elementId('f'), 'nothing', null)).toMatchObject({ class: 'gG', linkA: 100 });
    expect(fuse.name({ ...fuse.fresh(elementId('f'), 'gG', null), class: 'expulsionK' })).toBe('Expulsion, type K');
    expect(fuse.hosts).toEqual(['fuse']);
    const overload = familyNamed('overload');
    const made = overload.fresh(elementId('f'), '49', null);
    expect(made).toMatchObject({ tripClass: '10', settingA: 10, phaseLoss: true });
    expect(overload.name({ ...made, tripClass: '20' })).toBe('Overload, class 20 (IEC 60947-4-1)');
    expect(overload.hosts).toEqual(['contactor', 'breaker']);
    const reclosing = familyNamed('reclosing');
    const again = reclosing.fresh(elementId('f'), '79', null);
    expect(again).toMatchObject({ shots: 4, fastShots: 2, deadTimesS: [1, 5, 15], reclaimS: 60 });
    expect(reclosing.name({ ...again, shots: 3, fastShots: 1 })).toBe('3 trips to lockout, 1 fast');
    expect(reclosing.settings(again).map(({ range }) => range)).toEqual([
      { min: 1, max: 6, step: 1 },
      { min: 0, max: 6, step: 1 },
      null,
    ]);
    expect(reclosing.hosts).toEqual(['recloser', 'relay']);
  });
});
