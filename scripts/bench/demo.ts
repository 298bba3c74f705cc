/** What the desk asks for while one works: the demo, and feeders in a mesh with radial branches. */
import { readFileSync } from 'node:fs';
import { faultAt, faultFlows, iec60909Study, outageStudy } from '../../core/src/faults/iec60909/study';
import { voltageFactor } from '../../core/src/faults/iec60909/voltageFactor';
import { faultWorking } from '../../core/src/faults/iec60909/working';
import { loadFlow } from '../../core/src/flow/loadFlow';
import { readProject } from '../../core/src/formats/project/project';
import { pairMargin, pairStates } from '../../core/src/grading/margin';
import { elementId } from '../../core/src/model/fields';
import { networkOf, ofKind } from '../../core/src/model/network';
import { buildTopology } from '../../core/src/model/topology';
import { curvePoints, curvesOf } from '../../core/src/protection/curve';
import { deviceOf } from '../../core/src/protection/device';
import { Studies } from '../../core/src/studies/studies';
import { faultTable } from '../../core/src/test/faultTable';
import { bigNetwork } from '../bigNetwork';
import { bench } from './measure';

export function demo(): void {
  const read = readProject(readFileSync('demo/sorrel-island.json', 'utf8'));
  if (!read.ok) throw new Error(read.problems[0].message);
  const island = networkOf(read.project.elements);
  for (const [name, network, bus] of [
    ['demo', island, 'bra-0-4'],
    ['500 buses', networkOf(bigNetwork(500)), 'b499'],
    ['2000 buses', networkOf(bigNetwork(2000)), 'b1999'],
  ] as const) {
    bench(name, 'topology', () => void buildTopology(network));
    bench(name, 'model to networks', () => void iec60909Study(network, 'max'));
    bench(
      name,
      'three-phase fault at every bus, from nothing',
      () => void faultTable(iec60909Study(network, 'max'), '3ph'),
    );
    const study = iec60909Study(network, 'max');
    const result = faultAt(study, elementId(bus), 0, '1ph');
    if (!result.ok) throw new Error(result.problems[0].message);
    bench(name, 'currents everywhere for one fault', () => void faultFlows(result.fault));
    const out = ofKind(network, 'line')[0].id;
    bench(name, 'one line out, as an update', () => void outageStudy(study, out));
    bench(name, 'load flow from a flat start', () => void loadFlow(network, { voltageFactor: voltageFactor(10) }));
    bench(name, 'working of one fault', () => void faultWorking(result.fault));
  }

  const chart = ofKind(island, 'gradingChart')[0];
  const statesIn = (studies: Studies) =>
    chart.pairs.map(({ downstream, upstream }) =>
      pairStates(studies, deviceOf(island, downstream)!, deviceOf(island, upstream)!, 'phase', studies.conditions),
    );
  bench('demo', 'states of five pairs, from nothing', () => void statesIn(new Studies(island)));
  const states = statesIn(new Studies(island));
  bench('demo', 'one step of a drag (six curves, five margins)', () => {
    for (const id of chart.relays) curvePoints(curvesOf(deviceOf(island, id)!), 'phase', 20000);
    chart.pairs.forEach((pair, k) => pairMargin(island, states[k], pair, 'phase'));
  });
}
