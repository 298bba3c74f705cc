/** A CIM bundle of ten thousand buses, as it comes from elsewhere: opened, read, checked against the model, made ready to be stored. */
import { cimOf } from '../../core/src/formats/cim/write';
import { bytesOf, opened } from '../../core/src/formats/open';
import { writeProject } from '../../core/src/formats/project/project';
import { finished, readingSteps, reported } from '../../core/src/formats/registry';
import { applyChanges } from '../../core/src/model/changes';
import { blankElements } from '../../core/src/model/defaults';
import { elementId } from '../../core/src/model/fields';
import { networkOf } from '../../core/src/model/network';
import { loadedMesh, mesh } from '../../core/src/test/meshNetwork';
import { say } from './measure';

export async function exchange(): Promise<void> {
  const buses = 10_000;
  const bytes = await bytesOf(cimOf(networkOf(loadedMesh(mesh(buses))), 'Mesh').content, 'zip');
  const times: number[] = [];
  let elements = 0;
  for (let run = 0; run < 3; run++) {
    const started = performance.now();
    const file = await opened('mesh.zip', bytes);
    if (!file.ok) throw new Error(file.message);
    const network = networkOf(blankElements());
    let made = 0;
    const into = { network, newId: () => elementId(`e${++made}`) };
    const report = await reported(finished(readingSteps(file.source, into))!, into);
    const applied = applyChanges(network, report.batch);
    if (!applied.ok) throw new Error(applied.problems[0].message);
    elements = applied.network.elements.size;
    writeProject({ name: 'Mesh', notes: '', elements: applied.network.elements.values() });
    times.push(performance.now() - started);
  }
  times.sort((p, q) => p - q);
  const group = 'exchange';
  const what = `CIM bundle of ${buses} buses (${elements} elements) read, checked, written as rows`;
  say({ group, what, unit: 'ms', median: times[1], runs: 3, range: [times[0], times[2]], reach: 20_000 });
  say({
    group,
    what: 'memory of the process while it is read',
    unit: 'MB',
    median: process.memoryUsage().rss / 1e6,
    runs: 1,
    reach: 1000,
  });
}
