/** Stations of the demo, and of anything: parts without a line in between. */
import { describe, expect, it } from 'vitest';
import { demoNetwork } from '../test/demo';
import { mesh, meshElements } from '../test/meshNetwork';
import { elementId } from './fields';
import { networkOf, ofKind, withElements } from './network';
import { stationOf, stationsOf } from './stations';

const demo = demoNetwork();
const id = elementId;

describe('stations', () => {
  it('of the demo are those that their buses are named by', () => {
    const names = stationsOf(demo).map(({ name }) => name);
    expect(names).toEqual([...names].sort());
    for (const name of ['BRA', 'FER', 'PEN', 'CAU', 'TOL', 'MAR', 'GAL', 'SKE']) expect(names).toContain(name);
    // Two places that are not one name.
    expect(names).toEqual(expect.arrayContaining(['Rural 1', 'Rural 2', 'QUE', 'QUE tee']));
    expect(new Set(names).size).toBe(names.length);
    // One station over four voltages, its board divided by open couplers.
    const bra = stationsOf(demo).find(({ name }) => name === 'BRA')!;
    for (const each of ['bra-33', 'bra-11-a', 'bra-11-b', 'bra-0-4', 'bra-t1', 'bra-q21', 'bra-q21-relay'])
      expect(bra.elements).toContain(each);
    expect(stationOf(demo, id('fer-q33-relay'))!.name).toBe('FER');
    expect(stationOf(demo, id('fer-bra-1'))).toBeUndefined();
  });
  it('share nothing, and every bus lies in one', () => {
    for (const network of [demo, networkOf(meshElements(mesh(40)))]) {
      const all = stationsOf(network).flatMap(({ elements }) => [...elements]);
      expect(new Set(all).size).toBe(all.length);
      for (const bus of ofKind(network, 'bus')) expect(all).toContain(bus.id);
      for (const line of ofKind(network, 'line')) expect(all).not.toContain(line.id);
    }
  });
  it('do not depend on the order of the elements, nor on switches', () => {
    const plain = (network: typeof demo) =>
      stationsOf(network).map(({ name, elements }) => [name, [...elements].sort()]);
    expect(plain(networkOf([...demo.elements.values()].reverse()))).toEqual(plain(demo));
    const opened = ofKind(demo, 'switch').map((each) => ({ ...each, closed: false }));
    expect(plain(withElements(demo, opened))).toEqual(plain(demo));
  });
});
