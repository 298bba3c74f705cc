/** Distance protection beside load and neighbours, against membership by brute force and single faults. */
import { describe, expect, it } from 'vitest';
import { solidFault } from '../faults/kinds';
import { polar } from '../linear/complex';
import { elementId as id } from '../model/fields';
import { find, withElements, type Network } from '../model/network';
import { deviceOf, withFunction } from '../protection/device';
import { tripOf } from '../protection/distance';
import { inZone } from '../protection/distance/measured';
import type { Loop } from '../protection/distance/loops';
import type { DistanceFunction } from '../protection/distance/schema';
import { seenUnder } from '../protection/seen';
import { placeOn } from '../reach/ends';
import { loadOhm } from '../reach/loadability';
import { Studies } from '../studies/studies';
import { demoNetwork } from '../test/demo';
import { expectFollowed } from '../test/followed';
import { finished } from '../working/steps';
import { Checker, workingOf } from './run';
import { distanceRule } from './settings/distance';

const demo = demoNetwork();
const fer = id('fer-q03-relay');
const relayOf = (network: Network) => find(network, 'relay', fer)!;
const own = relayOf(demo).functions[0] as DistanceFunction;
const put = (fn: DistanceFunction) => withElements(demo, [withFunction(relayOf(demo), fn)]);
const checksOf = (network: Network) =>
  finished(new Checker([distanceRule]).run(new Studies(network))).checks.filter(({ subject }) => subject === fer);
const checkOf = (network: Network, code: string) => checksOf(network).find((each) => each.code === code)!;
const zoned = (name: string, over: Partial<DistanceFunction['zones'][number]>): DistanceFunction => ({
  ...own,
  zones: own.zones.map((zone) => (zone.name === name ? { ...zone, ...over } : zone)),
});

describe('the load of the line', () => {
  it.each(['quadrilateral', 'mho', 'offsetMho'] as const)(
    '%s: is held against the farthest point at 30°',
    (characteristic) => {
      const fn: DistanceFunction = { ...own, characteristic, polarisation: 'self' };
      // By membership: the last impedance at 30° that some zone holds, in primary ohms.
      let most = 0;
      for (let ohm = 0.01; ohm < 200; ohm += 0.01) {
        const z = polar((ohm * 800) / 1200, Math.PI / 6);
        const loop: Loop = {
          name: 'L1L2',
          isEarth: false,
          voltage: z,
          current: { re: 1, im: 0 },
          measuredA: 1,
          impedance: z,
          cross: z,
          memory: z,
        };
        if (fn.zones.some((zone) => inZone(fn, zone, loop))) most = ohm;
      }
      const check = checkOf(put(fn), 'setting.zoneLoad');
      expect(check.value! * most).toBeGreaterThan(loadOhm(132, 780) * 0.998);
      expect(check.value! * most).toBeLessThan(loadOhm(132, 780) * 1.002);
      expect(check.verdict).toBe('holds');
    },
  );
  it('is told when a zone takes it in, and let be when it is cut out', () => {
    const wide = zoned('3', { reachOhm: 90, resistanceOhm: 90 });
    expect(checkOf(put(wide), 'setting.zoneLoad')).toMatchObject({ verdict: 'short', severity: 'error' });
    const cut = { ...wide, loadCut: { resistanceOhm: 20, angleDeg: 40 } };
    expect(checkOf(put(cut), 'setting.zoneLoad').verdict).toBe('holds');
    // A cut that does not reach 30° is of no help.
    expect(checkOf(put({ ...wide, loadCut: { resistanceOhm: 20, angleDeg: 20 } }), 'setting.zoneLoad').verdict).toBe(
      'short',
    );
  });
});

describe('zones of lines that follow', () => {
  it('are waited for: those that are reached into by the next zone, the others by their own', () => {
    const found = checksOf(demo).filter(({ code }) => code === 'setting.zoneTiming');
    expect(found.map(({ title, verdict }) => [title, verdict])).toEqual([
      ['Zone 2 waits for MAR Q02 relay', 'holds'],
      ['Zone 3 waits for MAR Q02 relay', 'holds'],
    ]);
    // Past the end of the next zone 1 the two zones 2 race.
    const [long] = checksOf(put(zoned('2', { reachOhm: 13 }))).filter(({ code }) => code === 'setting.zoneTiming');
    expect(long).toMatchObject({ verdict: 'short', value: 0 });
    expect(long.message).toMatch(/zone 2 of 19\.5 Ω reaches past zone 1 of MAR Q02 relay, which ends at 16\.87? Ω/);
    const later = zoned('2', { reachOhm: 13, delayS: 0.7 });
    expect(checksOf(put(later)).find(({ code }) => code === 'setting.zoneTiming')).toMatchObject({ verdict: 'holds' });
    const hasty = zoned('2', { delayS: 0.2 });
    expect(checksOf(put(hasty)).find(({ code }) => code === 'setting.zoneTiming')).toMatchObject({
      verdict: 'short',
      value: 0.2,
    });
  });
});

describe('resistive earth faults', () => {
  it('are seen up to what is told, and no further', () => {
    const check = checkOf(demo, 'setting.zoneResistance');
    const device = deviceOf(demo, fer)!;
    const study = new Studies(demo).iec60909({ condition: check.deciding!.condition });
    const sees = (ohm: number) => {
      const [seen] = seenUnder(
        study,
        placeOn(id('fer-mar'), 0.5),
        [{ ...solidFault('1ph'), earthOhm: { re: ohm, im: 0 } }],
        [device],
      );
      return tripOf(own, device.inputs[0].rating, seen!.devices[0]![device.inputs[0].id]).trip !== null;
    };
    expect(sees(check.value!)).toBe(true);
    expect(sees(check.value! + 0.05)).toBe(false);
    const narrow = { ...own, zones: own.zones.map((zone) => ({ ...zone, resistanceEarthOhm: 1 })) };
    expect(checkOf(put(narrow), 'setting.zoneResistance')).toMatchObject({ verdict: 'doubtful', severity: 'warning' });
  });
  it('all with a working that can be followed', () => {
    const studies = new Studies(demo);
    for (const check of checksOf(demo)) {
      const working = workingOf(studies, studies.conditions, check);
      expect(working).not.toBeNull();
      expectFollowed(working!.sections, check.id);
    }
  });
});
