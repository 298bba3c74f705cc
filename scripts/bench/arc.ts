/** Arc energy of all busbars of the made-up network, and again after one setting. */
import { ArcKeeper } from '../../core/src/arc/study';
import { elementId } from '../../core/src/model/fields';
import { find, networkOf, withElements } from '../../core/src/model/network';
import type { OvercurrentFunction } from '../../core/src/protection/overcurrent/schema';
import { Studies } from '../../core/src/studies/studies';
import { finished } from '../../core/src/working/steps';
import { protectedNetwork } from '../protectedNetwork';
import { say, time } from './measure';

export function arc(): void {
  let network = networkOf(protectedNetwork(375));
  const options = { compare: false, only: null };
  let rows = 0;
  const first = time(
    () => new Studies(network),
    (studies) => {
      rows = finished(new ArcKeeper().run(studies, studies.conditions, options)).length;
    },
    { warmUp: 0, least: 1 },
  );
  const group = `arc: ${rows} places, 375 relays`;
  say({ group, what: 'all arcs in three conditions, for the first time', unit: 'ms', ...first });
  const keeper = new ArcKeeper();
  let studies = new Studies(network);
  finished(keeper.run(studies, studies.conditions, options));
  const again = time(
    () => {
      const relay = find(network, 'relay', elementId('r130-relay'))!;
      const functions = (relay.functions as OvercurrentFunction[]).map((fn) => ({
        ...fn,
        timeMultiplier: fn.timeMultiplier + 0.01,
      }));
      network = withElements(network, [{ ...relay, functions }]);
      return (studies = new Studies(network, { studies, changed: [relay.id] }));
    },
    (next) => void finished(keeper.run(next, next.conditions, options)),
    { warmUp: 1, least: 5 },
  );
  say({ group, what: 'after one setting', unit: 'ms', ...again, reach: 300 });
}
