/** The list of all settings, and many changed at once. */
import { describe, expect, it } from 'vitest';
import { elementId } from '../model/fields';
import { find } from '../model/network';
import { stationsOf } from '../model/stations';
import { isSettable } from '../protection/settings/range';
import type { OvercurrentFunction } from '../protection/overcurrent/schema';
import { demoNetwork } from '../test/demo';
import { changedAll, pasted, withBulk } from './bulk';
import { everySetting, foundSettings, settingRows, type SettingFilter } from './list';
import { originOf, overridden, type OriginState } from './origin';
import { withElements } from '../model/network';

const network = demoNetwork();
const rows = settingRows(network);

const found = (words: string, origin: OriginState | null = null, over: Partial<SettingFilter> = {}) =>
  foundSettings(network, rows, { ...everySetting, words, origin, ...over });

describe('the list of all settings', () => {
  it('has every value in use once, with what it means in primary amperes', () => {
    expect(new Set(rows.map(({ key }) => key)).size).toBe(rows.length);
    const [pickup] = found('fer q33 51 pick');
    expect(pickup).toMatchObject({ code: '51', state: 'typed', origin: null });
    expect(pickup.primaryA).toBeCloseTo(0.6 * 400, 9);
    // 51 is no beginning of 51N's word only: both are found, the phase function first.
    expect(found('fer q33 51 pick').map(({ code }) => code)).toEqual(['51', '51N']);
    expect(found('fuse').every(({ device }) => device.kind === 'fuse')).toBe(true);
    expect(found('', 'proposed')).toEqual([]);
    expect(found('nothing of this kind')).toEqual([]);
    const fer = found('', null, { station: stationsOf(network).find(({ name }) => name === 'FER')!.id });
    expect(new Set(fer.map(({ device }) => device.name))).toEqual(
      new Set(['Q01', 'Q02', 'Q03', 'Q21', 'Q31', 'Q32', 'Q33', 'T1', 'T2'].map((bay) => `FER ${bay} relay`)),
    );
    expect(found('', null, { station: elementId('nowhere') })).toEqual([]);
    const one = new Set([elementId('pen-r1')]);
    expect(new Set(found('', null, { devices: one }).map(({ device }) => device.id))).toEqual(one);
  });
});

describe('all of them changed', () => {
  const times = found('BRA 51 time');
  it('by a factor: on the steps of each device, what lies beyond is told', () => {
    const { changes, problems } = changedAll(times, 'factor', 1.37);
    expect(changes.length).toBe(times.length);
    for (const { row, to } of changes) {
      expect(isSettable(row.setting.range!, to)).toBe(true);
      expect(Math.abs(to - row.setting.value * 1.37)).toBeLessThanOrEqual(row.setting.range!.step / 2 + 1e-9);
    }
    expect(problems).toEqual([]);
    const beyond = changedAll(times, 'factor', 40);
    expect(beyond.problems.length).toBeGreaterThan(0);
    expect(beyond.problems.length + beyond.changes.length).toBe(times.length);
  });
  it('to a value: what is there already is no change', () => {
    expect(changedAll(times, 'value', 0.16).changes.map(({ row }) => row.device.id)).not.toContain('bra-q11-relay');
    expect(changedAll(times, 'factor', 1).changes).toEqual([]);
  });
  it('stores each device once; a reason stays, and against a proposal it is kept beside it', () => {
    const { changes } = changedAll(found('BRA Q21'), 'factor', 1.2);
    const [element] = withBulk(changes, '', '2026-11-30');
    expect(withBulk(changes, '', '2026-11-30')).toHaveLength(1);
    const [first] = element.functions as OvercurrentFunction[];
    expect([first.pickup, first.timeMultiplier, first.origins]).toEqual([1.32, 0.08, undefined]);
    const [reasoned] = withBulk(changes, 'study of 2026', '2026-11-30');
    expect(originOf(reasoned.functions[0], 'pickup')).toMatchObject({
      value: 1.32,
      proposed: 1.1,
      reason: 'study of 2026',
    });
  });
});

describe('pasted from a spreadsheet', () => {
  it('takes lines by device, function and setting, in whatever order, with a head or without', () => {
    const text =
      'Device\tFunction\tSetting\tValue\nBRA Q21 relay\t51\tTime multiplier\t0.09\r\nfer q33 relay;51;pickup;0,75\n\nPEN F2\t25 A K\tRated current\t30\n';
    const { changes, problems } = pasted(rows, text);
    expect(problems).toEqual([]);
    expect(changes.map(({ row, to }) => [row.device.id, row.setting.field, to])).toEqual([
      ['bra-q21-relay', 'timeMultiplier', 0.09],
      ['fer-q33-relay', 'pickup', 0.75],
      ['pen-f2', 'linkA', 30],
    ]);
  });
  it('tells each line that it cannot take, with its number', () => {
    const text = [
      'BRA Q99 relay\t51\tPickup\t1',
      'BRA Q21 relay\t87\tPickup\t1',
      'BRA Q21 relay\t51\tPickup\tlots',
      'BRA Q21 relay\t51\tTime multiplier\t0.093',
      'BRA Q21 relay\t51',
      'BRA Q21 relay\t51\tPickup\t1.2',
      'BRA Q21 relay\t51\tPickup\t1.3',
      'PEN F2\t25 A K\tRated current\t33',
    ].join('\n');
    const { changes, problems } = pasted(rows, text);
    expect(problems.map(({ line }) => line)).toEqual([1, 2, 3, 4, 5, 7, 8]);
    expect(problems.map(({ message }) => message).join('\n')).toMatch(
      /no device "BRA Q99 relay"[\s\S]*has no 87 Pickup[\s\S]*not a number[\s\S]*nearest 0.09[\s\S]*needs device[\s\S]*stands twice[\s\S]*nearest 30/i,
    );
    expect(changes.map(({ to }) => to)).toEqual([1.2]);
  });
  it('keeps what was proposed beside what is pasted', () => {
    const relay = find(network, 'relay', elementId('bra-q21-relay'))!;
    const before = overridden(relay, relay.functions[0].id, 'pickup', 1.2, 'first', '2026-01-01');
    const now = settingRows(withElements(network, [before]));
    const { changes } = pasted(now, 'BRA Q21 relay\t51\tPickup\t1.3');
    const [element] = withBulk(changes, 'second', '2026-02-02');
    expect(originOf(element.functions[0], 'pickup')).toMatchObject({ value: 1.3, proposed: 1.1, reason: 'second' });
  });
});
