/** Earth faults at stations of a network: currents of the lines, stations at their ends, what is told of missing data. */
import { describe, expect, it } from 'vitest';
import { faultAtPlace } from '../faults/iec60909/study';
import { solidFault } from '../faults/kinds';
import { magnitude } from '../linear/complex';
import { maximumSources } from '../model/condition';
import { elementId } from '../model/fields';
import { withElements } from '../model/network';
import { Studies } from '../studies/studies';
import { demoNetwork } from '../test/demo';
import { radialEarth as radial } from '../test/earthNetwork';
import { earthCase } from './fromNetwork';
import { solveEarth } from './system';

const id = elementId;

describe('an earth fault at a station', () => {
  it('brings over the only line the whole fault current, in the faulted phase', () => {
    const studies = new Studies(radial({ towers: true }));
    const found = earthCase(studies, maximumSources.id, { at: 'bus', bus: id('B_110') });
    if (!found.ok) throw new Error(found.problem);
    const fault = faultAtPlace(studies.max, { at: 'terminal', element: id('B_110'), terminal: 0 }, solidFault('1ph'));
    if (!fault.ok) throw new Error('no fault');
    const [line] = found.case.system.lines;
    expect(magnitude(line.current) / fault.fault.ikA).toBeCloseTo(1, 6);
    expect(magnitude(line.phases![0]) / fault.fault.ikA).toBeCloseTo(1, 6);
    expect(found.case.system.stations.map(({ name }) => found.case.names[name])).toEqual(['A']);
    expect(found.case.system.lines[0].stretches[0].spansM).toHaveLength(40);
    const { gridCurrent, remote } = solveEarth(found.case.system, 'series');
    expect(magnitude(gridCurrent)).toBeLessThan(magnitude(remote));
  });
  it('goes wholly into the grid where no wire returns it, and that is told', () => {
    const found = earthCase(new Studies(radial()), maximumSources.id, { at: 'bus', bus: id('B_110') });
    if (!found.ok) throw new Error(found.problem);
    expect(found.case.remarks).toEqual(['nothing returns along L: no shield wire or sheath is given']);
    const { gridCurrent, remote } = solveEarth(found.case.system, 'series');
    expect(magnitude(gridCurrent)).toBeCloseTo(magnitude(remote), 6);
  });
  it('needs the earthing of the station', () => {
    const network = radial();
    const { stationEarthing: _, ...bare } = network.elements.get(id('B_110')) as never as Record<string, unknown>;
    const found = earthCase(new Studies(withElements(network, [bare as never])), maximumSources.id, {
      at: 'bus',
      bus: id('B_110'),
    });
    expect(found).toMatchObject({ ok: false, problem: expect.stringContaining('the earthing of B is not given') });
  });
  it('of the demo: every line of the level, from its own station', () => {
    const found = earthCase(new Studies(demoNetwork()), maximumSources.id, { at: 'bus', bus: id('fer-132') });
    if (!found.ok) throw new Error(found.problem);
    const { names, system } = found.case;
    const ofStation = system.lines.filter(({ from }) => from === undefined);
    expect(ofStation.map(({ name, source }) => `${names[name]} ${names[source]}`).sort()).toEqual([
      'CAU-FER 1, CAU-FER 2 CAU',
      'FER-BRA 1 BRA',
      'FER-BRA 2 BRA',
      'FER-MAR MAR',
    ]);
    // Both circuits on their common towers, one shield wire between them.
    const double = ofStation.find(({ name }) => name === 'cau-fer-1')!;
    expect(double.phases).toHaveLength(6);
    expect(double.stretches[0].conductors.map(({ name }) => name)).toEqual([
      'L1',
      'L2',
      'L3',
      '2L1',
      '2L2',
      '2L3',
      'shield wire',
    ]);
    expect(found.case.xOverR).toBeGreaterThan(2);
  });
});
