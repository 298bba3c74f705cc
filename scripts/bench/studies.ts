/** Whole studies of generated meshes, from the model to the results. */
import { FaultEngine } from '../../core/src/studies/engine';
import { iec60909Study, terminalPlace } from '../../core/src/faults/iec60909/study';
import { voltageFactor } from '../../core/src/faults/iec60909/voltageFactor';
import { faultKinds, solidFault } from '../../core/src/faults/kinds';
import { maximumSources } from '../../core/src/model/condition';
import type { PackedRows } from '../../core/src/faults/answers/packed';
import type { Place } from '../../core/src/faults/solution/solve';
import { sweep } from '../../core/src/faults/answers/sweep';
import { contingencies, outages } from '../../core/src/flow/outages';
import { loadFlow } from '../../core/src/flow/loadFlow';
import { peakFrequencyRatio } from '../../core/src/faults/iec60909/peak';
import type { Element } from '../../core/src/model/element';
import { networkOf, ofKind } from '../../core/src/model/network';
import { forgetAnalyses } from '../../core/src/assembly/stamping';
import { loadedMesh, mesh, meshElements } from '../../core/src/test/meshNetwork';
import { say, time } from './measure';

const study = { method: 'iec60909', condition: maximumSources.id } as const;

function drain(steps: Generator<number, PackedRows>): PackedRows {
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
}

/** Three-phase and single-phase faults with their peaks at every bus. */
function allBuses(elements: Element[]): PackedRows[] {
  const engine = new FaultEngine(networkOf(elements));
  return (['3ph', '1ph'] as const).map((kind) => drain(engine.table(study, solidFault(kind))));
}

const reaches: Readonly<Record<number, number>> = { 10_000: 500, 100_000: 6000 };

export function studies(sizes: readonly number[]): void {
  for (const n of sizes) {
    const reach = reaches[n];
    const group = `all buses, ${n}`;
    const effort = n === 100_000 ? { warmUp: 1, forMs: 0, least: 3 } : { warmUp: 5, forMs: 1500, least: 7 };
    // As a project file brings it; analysed anew in each run.
    const elements = JSON.parse(JSON.stringify(meshElements(mesh(n)))) as Element[];
    const next = () => {
      forgetAnalyses();
      return elements;
    };
    const whole = time(next, allBuses, effort);
    say({
      group,
      what: 'Ik" and ip, three-phase and single-phase, from the model',
      unit: 'ms',
      ...whole,
      ...(reach && { reach }),
    });
    if (n === 100_000) {
      say({ group, what: 'memory of the process', unit: 'MB', median: process.memoryUsage.rss() / 1e6, runs: 1 });
      say({
        group,
        what: 'most memory of the process',
        unit: 'MB',
        median: process.resourceUsage().maxRSS / 1e3,
        runs: 1,
        reach: 1500,
      });
    }
    const algebra = time(
      () => iec60909Study(networkOf(next()), 'max').assembly,
      ({ positive, zero, atFrequency }) => {
        for (const network of [positive, zero, atFrequency(peakFrequencyRatio)]) network.inverse()!.diagonal();
      },
      effort,
    );
    say({
      group,
      what: 'of it: stamping, factors and selected inverses',
      unit: 'ms',
      ...algebra,
      ...(n === 10_000 && { reach: 150 }),
    });
    const made = time(next, (elements) => iec60909Study(networkOf(elements), 'max'), effort);
    say({ group, what: 'of it: model to networks, ordered and analysed', unit: 'ms', ...made });
  }
}

export function flows(): void {
  const elements = JSON.parse(JSON.stringify(loadedMesh(mesh(10_000), 0.1))) as Element[];
  const flow = time(
    () => {
      forgetAnalyses();
      return networkOf(elements);
    },
    (network) => {
      if (!loadFlow(network, { voltageFactor: voltageFactor(10) }).converged) throw new Error('no convergence');
    },
    { warmUp: 3, forMs: 1500 },
  );
  say({ group: 'load flow, 10000', what: 'from a flat start, from the model', unit: 'ms', ...flow, reach: 500 });
  const loaded = networkOf(loadedMesh(mesh(500)));
  const whole = loadFlow(loaded, { voltageFactor: voltageFactor(10) });
  const single = time(
    () => whole,
    (all) => {
      const steps = outages(all);
      for (;;) {
        const step = steps.next();
        if (!step.done) continue;
        if (step.value.some(({ converged }) => !converged)) throw new Error('no convergence');
        return;
      }
    },
    { warmUp: 2, forMs: 1500 },
  );
  say({
    group: 'load flow, 500',
    what: `all single outages (${contingencies(whole).length})`,
    unit: 'ms',
    ...single,
    reach: 2000,
  });
}

export function sweeps(): void {
  const network = networkOf(meshElements(mesh(500)));
  const places: Place[] = [
    ...ofKind(network, 'bus').map((bus) => terminalPlace(bus.id)),
    ...ofKind(network, 'line').map((line, k): Place => ({
      at: 'line',
      element: line.id,
      fraction: 0.1 + 0.08 * (k % 10),
    })),
  ];
  let count = 0;
  let solved = 0;
  const swept = time(
    () => iec60909Study(network, 'max'),
    (made) => {
      solved = 0;
      count = sweep(made, { places, kinds: faultKinds, branches: 10 }, ({ ok }) => {
        if (ok) solved++;
      });
    },
    { warmUp: 2, forMs: 3000, least: 5 },
  );
  const rate = (ms: number) => (solved / ms) * 1000;
  say({
    group: 'sweep, 500 buses',
    what: `fault solutions with ten branch currents a second (${solved} of ${count} asked)`,
    unit: '1/s',
    median: rate(swept.median),
    range: [rate(swept.range[1]), rate(swept.range[0])],
    runs: swept.runs,
    reach: 20_000,
  });
}
