/** `npm run bench`: how long the core takes, on the demo and on made-up networks. Medians; compare ratios within one run only. */
import { cpus } from 'node:os';
import { readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { faultAt, faultFlows, iec60909Study, outageStudy } from '../core/src/faults/iec60909/study';
import { voltageFactor } from '../core/src/faults/iec60909/voltageFactor';
import { faultWorking } from '../core/src/faults/iec60909/working';
import { faultTable } from '../core/src/test/faultTable';
import { loadFlow } from '../core/src/flow/loadFlow';
import { readProject } from '../core/src/formats/project';
import { pairMargin, pairStates } from '../core/src/grading/margin';
import { studyPair } from '../core/src/grading/seen';
import { graphOfMatrix } from '../core/src/linear/graph';
import { factor, solveInPlace } from '../core/src/linear/lu';
import { MatrixBuilder, type SparseMatrix } from '../core/src/linear/matrix';
import { minimumDegree } from '../core/src/linear/order';
import { elementId } from '../core/src/model/fields';
import { find, networkOf, ofKind } from '../core/src/model/network';
import { buildTopology } from '../core/src/model/topology';
import { relayCurve, primaryRelay } from '../core/src/protection/overcurrent/relay';
import { bigNetwork } from './bigNetwork';

/** Median of many runs, in milliseconds; runs for about half a second after a warm-up. */
function time(work: () => void): number {
  for (let k = 0; k < 3; k++) work();
  const runs: number[] = [];
  const until = performance.now() + 500;
  while (performance.now() < until || runs.length < 5) {
    const started = performance.now();
    work();
    runs.push(performance.now() - started);
  }
  return runs.sort((p, q) => p - q)[runs.length >> 1];
}

const rows: { what: string; milliseconds: string; ratio?: string }[] = [];
const bench = (what: string, work: () => void, against?: number): number => {
  const median = time(work);
  rows.push({ what, milliseconds: median.toPrecision(3), ...(against && { ratio: (median / against).toFixed(2) }) });
  return median;
};

/** A grid of n × n nodes: the pattern of a meshed network at its worst. */
function gridMatrix(n: number): SparseMatrix {
  const builder = new MatrixBuilder(n * n);
  const join = (i: number, j: number) => {
    builder.add(i, i, 1, -3);
    builder.add(j, j, 1, -3);
    builder.add(i, j, -1, 3);
    builder.add(j, i, -1, 3);
  };
  for (let r = 0; r < n; r++)
    for (let c = 0; c < n; c++) {
      if (c + 1 < n) join(r * n + c, r * n + c + 1);
      if (r + 1 < n) join(r * n + c, (r + 1) * n + c);
    }
  builder.add(0, 0, 1, -10);
  return builder.build();
}

for (const n of [10, 20, 40]) {
  const matrix = gridMatrix(n);
  const graph = graphOfMatrix(matrix.n, matrix.columnStart, matrix.row);
  const order = minimumDegree(graph);
  const natural = Int32Array.from({ length: n * n }, (_, k) => k);
  bench(`order a grid of ${n * n} nodes`, () => void minimumDegree(graph));
  const plain = bench(`factor it in natural order`, () => void factor(matrix, natural));
  bench(`factor it in minimum-degree order (ratio to natural)`, () => void factor(matrix, order), plain);
  const factored = factor(matrix, order);
  if (!factored.ok) throw new Error('singular');
  const re = new Float64Array(n * n);
  const im = new Float64Array(n * n);
  bench(`solve once`, () => {
    re.fill(0);
    im.fill(0);
    re[n] = 1;
    solveInPlace(factored.factors, re, im);
  });
}

const root = join(dirname(fileURLToPath(import.meta.url)), '..');
const read = readProject(readFileSync(join(root, 'demo/sorrel-island.json'), 'utf8'));
if (!read.ok) throw new Error(read.problems[0].message);
const demo = networkOf(read.project.elements);
for (const [name, network, bus] of [
  ['demo', demo, 'bra-0-4'],
  ['500 buses', networkOf(bigNetwork(500)), 'b499'],
  ['2000 buses', networkOf(bigNetwork(2000)), 'b1999'],
] as const) {
  bench(`${name}: topology`, () => void buildTopology(network));
  bench(`${name}: assemble and factor`, () => void iec60909Study(network, 'max'));
  bench(
    `${name}: three-phase fault at every bus, from nothing`,
    () => void faultTable(iec60909Study(network, 'max'), '3ph'),
  );
  const study = iec60909Study(network, 'max');
  const result = faultAt(study, elementId(bus), 0, '1ph');
  if (!result.ok) throw new Error(result.problems[0].message);
  bench(`${name}: currents everywhere for one fault`, () => void faultFlows(result.fault));
  const built = bench(`${name}: assemble and factor again, without one line`, () => void iec60909Study(network, 'max'));
  const out = ofKind(network, 'line')[0].id;
  bench(`${name}: the same as an update (ratio)`, () => void outageStudy(study, out), built);
  bench(`${name}: load flow from a flat start`, () => void loadFlow(network, { voltageFactor: voltageFactor(10) }));
  bench(`${name}: working of one fault`, () => void faultWorking(result.fault));
}

const studies = studyPair(demo);
const chart = ofKind(demo, 'gradingChart')[0];
const states = chart.pairs.map((pair) =>
  pairStates(studies, find(demo, 'relay', pair.downstream)!, find(demo, 'relay', pair.upstream)!, 'phase'),
);
bench('demo: states of five pairs', () => {
  for (const pair of chart.pairs)
    pairStates(studies, find(demo, 'relay', pair.downstream)!, find(demo, 'relay', pair.upstream)!, 'phase');
});
bench('demo: one step of a drag (six curves, five margins)', () => {
  for (const id of chart.relays) {
    const relay = find(demo, 'relay', id)!;
    relayCurve(primaryRelay(relay, find(demo, 'currentTransformer', relay.ct)!), 'phase', 20000);
  }
  chart.pairs.forEach((pair, k) => pairMargin(demo, states[k], pair, 'phase'));
});

console.log(`${cpus()[0].model}, Node ${process.version}`);
console.table(rows);
