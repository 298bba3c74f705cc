/** SCL: stations and relays out and in again, settings laid on what is here, and what is wrong told by its place. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { applyChanges } from '../../model/changes';
import { blankElements } from '../../model/defaults';
import { nameOf } from '../../model/element';
import { elementId } from '../../model/fields';
import { networkOf, ofKind, withElements, type Network } from '../../model/network';
import type { Relay } from '../../model/protection';
import { buildTopology } from '../../model/topology';
import { familyNamed } from '../../protection/registry';
import type { DeviceFunction } from '../../protection/schemas';
import { readScl } from '../../sheets/scl';
import { demoNetwork } from '../../test/demo';
import { runs } from '../../test/runs';
import type { Into, Report } from '../format';
import { sourceOf } from '../open';
import { reportOn } from '../registry';
import { sclOf } from './write';

let made = 0;
const into = (network: Network): Into => ({ network, newId: () => elementId(`n${++made}`) });
const blank = () => networkOf(blankElements());
const report = async (text: string, network = blank()): Promise<Report> =>
  (await reportOn(sourceOf('a.scd', text), into(network)))!;
const written = (network: Network): string => sclOf(network, 'Sorrel Island').content as string;
const taken = (network: Network, { batch }: Pick<Report, 'batch'>): Network => {
  const applied = applyChanges(network, batch);
  if (!applied.ok) throw new Error(applied.problems[0].message);
  return applied.network;
};
const demo = demoNetwork();
const text = written(demo);

describe('a station', () => {
  it('comes back into a blank project with its equipment, joined as it was, and its relays with CTs and breakers', async () => {
    const told = await report(text);
    const again = taken(blank(), told);
    const names = (network: Network, kind: 'bus' | 'transformer' | 'currentTransformer' | 'relay') =>
      ofKind(network, kind).map(nameOf).sort();
    for (const kind of ['bus', 'transformer', 'currentTransformer', 'relay'] as const)
      expect(names(again, kind), kind).toEqual(names(demo, kind));
    // Busbars that hang together by closed switches and transformers' names do so again.
    const groups = (network: Network) => {
      const topology = buildTopology(network);
      return ofKind(network, 'switch')
        .filter(({ type }) => type === 'breaker')
        .map(({ id, name }) => {
          const buses = (terminal: number) =>
            topology.nodes[topology.nodeAt(id, terminal)!].buses.map((bus) => bus.name).sort();
          return [name, [buses(0), buses(1)].map(String).sort()] as const;
        });
    };
    const before = new Map(
      groups(
        networkOf(
          [...demo.elements.values()].map((each) => (each.kind === 'switch' ? { ...each, closed: true } : each)),
        ),
      ),
    );
    let compared = 0;
    for (const [name, buses] of groups(again)) {
      // Loads and feeders have no class of their own: what stands behind them is not told.
      if (!before.has(name)) continue;
      expect(buses, name).toEqual(before.get(name));
      compared++;
    }
    expect(compared).toBeGreaterThan(20);
    for (const relay of ofKind(again, 'relay')) {
      const here = ofKind(demo, 'relay').find(({ name }) => name === relay.name)!;
      const ct = (network: Network, of: Relay) =>
        of.inputs.flatMap(({ element }) =>
          element && network.elements.get(element)?.kind === 'currentTransformer'
            ? [nameOf(network.elements.get(element)!)]
            : [],
        )[0];
      if (ct(demo, here)) expect(ct(again, relay), relay.name).toBe(ct(demo, here));
    }
  });
  it('marks what it assumes: a ratio that no file told is not taken for one that was', async () => {
    const again = taken(blank(), await report(text));
    const [ct] = ofKind(again, 'currentTransformer');
    expect(ct).toMatchObject({ primaryA: 400, accuracy: '5P20', assumed: ['primaryA', 'secondaryA', 'accuracy'] });
    for (const line of ofKind(again, 'line')) expect(line.assumed).toContain('x1OhmPerKm');
    for (const unit of ofKind(again, 'transformer')) expect(unit.assumed).toContain('vectorGroup');
  });
  it('brings nothing but its identifiers into the project that it came from', async () => {
    const told = await report(text, demo);
    expect(told.entries!.filter(({ what, differences }) => what !== 'changed' || differences.length > 0)).toEqual([]);
    const linked = taken(demo, told);
    expect((await report(written(linked), linked)).entries).toEqual([]);
  });
});

describe('settings', () => {
  const relayWith = (functions: readonly DeviceFunction[]): Network => {
    const relay = ofKind(demo, 'relay').find(
      ({ inputs }) => inputs[0]?.type === 'current' && inputs[0].element !== null,
    )!;
    return withElements(demo, [{ ...relay, functions: functions.map((fn) => ({ ...fn, input: relay.inputs[0].id })) }]);
  };
  const id = (k: number) => elementId(`f${k}`);
  const figure = (min: number, max: number) =>
    fc.double({ min, max, noNaN: true }).map((value) => Number(value.toPrecision(6)));
  const overcurrent = fc.record({
    code: fc.constantFrom('51', '50', '51N', '50N', '67', '46'),
    characteristic: fc.constantFrom(
      'definite' as const,
      'iecA' as const,
      'iecB' as const,
      'iecC' as const,
      'ieeeE' as const,
      'longTime' as const,
    ),
    pickup: figure(0.05, 25),
    timeMultiplier: figure(0.01, 3),
    delayMs: fc.integer({ min: 0, max: 60_000 }),
    enabled: fc.boolean(),
  });
  const zone = fc.record({
    reachOhm: figure(0.1, 90),
    resistanceOhm: figure(0.1, 90),
    resistanceEarthOhm: figure(0.1, 90),
    delayMs: fc.integer({ min: 0, max: 5000 }),
    looks: fc.constantFrom('forward' as const, 'reverse' as const, 'both' as const),
    enabled: fc.boolean(),
  });

  it('of any relay are laid on what is here, whatever stood there before', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(overcurrent, { minLength: 1, maxLength: 6 }),
        fc.array(zone, { minLength: 1, maxLength: 3 }),
        figure(0.05, 2),
        async (list, zones, low) => {
          const functions = [
            ...list.map(({ delayMs, ...each }, k) => ({
              ...familyNamed('overcurrent').fresh(id(k), each.code, null),
              ...each,
              delayS: delayMs / 1000,
            })),
            {
              ...familyNamed('distance').fresh(id(10), '21', null),
              zones: zones.map(({ delayMs, ...each }, k) => ({
                ...familyNamed('distance').fresh(id(10), '21', null).zones[k],
                ...each,
                reachEarthOhm: each.reachOhm,
                delayS: delayMs / 1000,
                delayEarthS: delayMs / 1000,
              })),
            },
            { ...familyNamed('differential').fresh(id(11), '87L', null), pickup: low, unrestrained: 8 },
          ] as DeviceFunction[];
          const file = written(relayWith(functions));
          // The same functions with other values.
          const other = relayWith(
            functions.map((fn) => ({
              ...fn,
              ...(fn.family === 'overcurrent' && {
                pickup: 1,
                timeMultiplier: 1,
                delayS: 9,
                characteristic: 'definite' as const,
                enabled: true,
              }),
              ...(fn.family === 'distance' && {
                zones: fn.zones.map((each) => ({
                  ...each,
                  reachOhm: 1,
                  reachEarthOhm: 1,
                  resistanceOhm: 1,
                  delayS: 1,
                  delayEarthS: 2,
                  enabled: true,
                })),
              }),
              ...(fn.family === 'differential' && { pickup: 0.9, unrestrained: null }),
            })) as DeviceFunction[],
          );
          const after = taken(other, await report(file, other));
          const relayOf = (network: Network) =>
            ofKind(network, 'relay').find(
              ({ functions: own }) => own.length === functions.length && own.some(({ id: one }) => one === 'f10'),
            )!;
          const told = (fn: DeviceFunction): unknown =>
            fn.family === 'overcurrent' && /^50/.test(fn.code)
              ? // Of an instantaneous function no characteristic and no multiplier is told.
                { ...fn, characteristic: null, timeMultiplier: null, pickup: Number(fn.pickup.toPrecision(8)) }
              : fn.family === 'overcurrent'
                ? { ...fn, pickup: Number(fn.pickup.toPrecision(8)) }
                : fn;
          expect(relayOf(after).functions.map(told)).toEqual(relayOf(relayWith(functions)).functions.map(told));
        },
      ),
      { seed: 5, numRuns: runs(8) },
    );
  });
  it('that differ are told by function and field', async () => {
    const changed = text.replace(/(lnClass="PTOC"[^]*?<DOI name="TmMult">[^]*?<Val>)([\d.]+)/, '$10.77');
    expect(changed).not.toBe(text);
    const told = await report(changed, demo);
    const differing = told.entries!.filter(({ differences }) => differences.length > 0);
    expect(differing).toHaveLength(1);
    expect(differing[0].differences).toMatchObject([
      { field: expect.stringMatching(/^\d\d\w* timeMultiplier$/), after: '0.77' },
    ]);
  });
  it('are read by the comparison of sheets as well', () => {
    const read = readScl(text);
    expect(read.ok && read.devices.length).toBe(ofKind(demo, 'relay').length);
  });
});

describe('what is wrong in a file', () => {
  const told = async (changed: string) => {
    const { batch, problems } = await report(changed);
    return { count: batch.length, messages: problems.map(({ message }) => message).join('\n') };
  };
  it('stops the import with its place, or leaves a thing out with its place', async () => {
    expect(await told(text.slice(0, text.length / 2))).toMatchObject({
      count: 0,
      messages: expect.stringMatching(/line \d+, column \d+/),
    });
    expect(await told(text.replace('<SCL', '<!DOCTYPE a [<!ENTITY b "c">]><SCL'))).toMatchObject({
      count: 0,
      messages: expect.stringMatching(/document type/),
    });
    const nowhere = await told(text.replace(/(type="CBR"[^]*?connectivityNode=")[^"]*/, '$1a/b/c/d'));
    expect(nowhere.messages).toMatch(/node that is not in the file: a\/b\/c\/d \(line \d+\)/);
    expect(nowhere.count).toBeGreaterThan(100);
    expect((await told(text.replace(/(name="StrVal">[^]*?<Val>)[\d.]+/, '$11e400'))).messages).toMatch(
      /StrVal: "1e400" is no number/,
    );
    expect(
      (await told(text.replace(/<Voltage[^>]*>[\d.]+/, '<Voltage multiplier="k" unit="V">many'))).messages,
    ).toMatch(/tells no voltage/);
    expect(await told('<SCL><Header id="x"/></SCL>')).toMatchObject({
      count: 0,
      messages: expect.stringMatching(/neither a substation nor a relay/),
    });
  });
});
