/** Reaches, coverage and line packages of a meshed network with a distance relay at each of 100 line ends. */
import { maximumSources } from '../../core/src/model/condition';
import { newLinePackage } from '../../core/src/model/linePackage';
import { elementId } from '../../core/src/model/fields';
import { networkOf, ofKind, withElements } from '../../core/src/model/network';
import { forgetAnalyses } from '../../core/src/assembly/stamping';
import { packageBasis, packageResult } from '../../core/src/linePackage/package';
import { circuitsOf } from '../../core/src/reach/circuits';
import { CoverageKeeper, coveringEnds, usualCoverage } from '../../core/src/reach/coverage';
import { neighboursOf } from '../../core/src/reach/neighbours';
import { reachPlan } from '../../core/src/reach/plan';
import { Studies } from '../../core/src/studies/studies';
import { finished } from '../../core/src/working/steps';
import { reachNetwork } from '../reachNetwork';
import { say, time } from './measure';

export function reach(): void {
  const group = '100 line ends with distance protection';
  const elements = reachNetwork(50);
  const network = networkOf(elements);
  const planned = time(
    () => {
      forgetAnalyses();
      return new Studies(networkOf(elements));
    },
    (studies) => finished(reachPlan(studies, { merged: false, fromKv: 50 })),
    { warmUp: 1, least: 3 },
  );
  say({ group, what: 'reaches of all ends by rule, from the model', unit: 'ms', ...planned });

  const play = (studies: Studies, keeper: CoverageKeeper): number => {
    const relays = coveringEnds(finished(reachPlan(studies, { merged: false, fromKv: 50 })));
    return circuitsOf(studies.network).reduce((sum, circuit) => {
      const outages = neighboursOf(studies, circuit);
      const steps = keeper.of(studies, [maximumSources], circuit, relays, { ...usualCoverage, outages });
      return sum + finished(steps).length;
    }, 0);
  };
  let count = 0;
  const covered = time(
    () => {
      forgetAnalyses();
      return new Studies(networkOf(elements));
    },
    (studies) => (count = play(studies, new CoverageKeeper())),
    { warmUp: 1, least: 3 },
  );
  const what = 'coverage: 21 places, 4 kinds, each neighbour out in turn, from the model';
  say({ group, what, unit: 'ms', ...covered, reach: 15_000 });
  say({ group, what: 'faults played for it', unit: '', median: count, runs: 1 });

  const keeper = new CoverageKeeper();
  const first = new Studies(network);
  play(first, keeper);
  const [relay] = ofKind(network, 'relay');
  let turn = 0;
  const again = time(
    () => {
      const functions = relay.functions.map((fn) =>
        fn.family === 'distance' ? { ...fn, tiltDeg: -3 - (turn++ % 5) * 0.1 } : fn,
      );
      const next = withElements(network, [{ ...relay, functions }]);
      return new Studies(next, { studies: first, changed: [relay.id] });
    },
    (studies) => play(studies, keeper),
    { warmUp: 1, least: 3 },
  );
  say({ group, what: 'coverage again after one setting', unit: 'ms', ...again });

  const [line] = ofKind(network, 'line');
  const pack = { ...newLinePackage(elementId('pack'), 'Package', line.id), scheme: 'permissiveOverreach' as const };
  const packed = time(
    () => {
      forgetAnalyses();
      return new Studies(networkOf(elements));
    },
    (studies) => packageResult(studies, pack, finished(packageBasis(studies, pack))),
    { warmUp: 1, least: 3 },
  );
  say({ group, what: 'line package of one line, from the model', unit: 'ms', ...packed });
}
