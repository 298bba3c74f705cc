/** Search over all faults of a network with 100 devices on about 500 busbars. */
import { maximumSources } from '../../core/src/model/condition';
import { networkOf, ofKind } from '../../core/src/model/network';
import { devicesOf } from '../../core/src/protection/device';
import { Studies } from '../../core/src/studies/studies';
import { search, usualSearch } from '../../core/src/trials/search';
import { runTrial } from '../../core/src/trials/trial';
import { newTrial, newTrialFault } from '../../core/src/model/trial';
import { elementId } from '../../core/src/model/fields';
import { trialNetwork } from '../trialNetwork';
import { say, time } from './measure';

export function trials(): void {
  const network = networkOf(trialNetwork());
  const buses = ofKind(network, 'bus').length;
  const group = `trials: ${devicesOf(network).length} devices on ${buses} busbars`;
  let found = { played: 0, groups: 0, longest: 0 };
  const searched = time(
    () => new Studies(network),
    (studies) => {
      let [before, longest] = [performance.now(), 0];
      const steps = search(studies, [maximumSources], usualSearch);
      for (let step = steps.next(); ; step = steps.next()) {
        const now = performance.now();
        longest = Math.max(longest, now - before);
        before = now;
        if (step.done) {
          found = { played: step.value.played, groups: step.value.groups.length, longest };
          return;
        }
      }
    },
    { warmUp: 0, least: 2 },
  );
  say({
    group,
    what: `search, ${found.played} faults, every busbar and line tenth, 4 kinds`,
    unit: 'ms',
    ...searched,
    reach: 20_000,
  });
  console.error(`${group}: ${found.groups} groups, longest step ${found.longest.toFixed(0)} ms`);
  const trial = newTrial(elementId('t'), 't', [newTrialFault({ element: elementId('fl-3-4'), fraction: 0.4 })]);
  const studies = new Studies(network);
  runTrial(studies, trial);
  say({
    group,
    what: 'one trial played again',
    unit: 'ms',
    ...time(
      () => studies,
      (s) => runTrial(s, trial),
      { warmUp: 1, least: 5 },
    ),
  });
}
