/** `mesura trial`: a fault played until nothing more happens, with what ought to have happened. */
import { watchedPart } from '@mesura/core/working/steps';
import { nameOf } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import { nameIn, ofKind, type Network } from '@mesura/core/model/network';
import { newTrial, newTrialFault, type Trial } from '@mesura/core/model/trial';
import type { Disturbance } from '@mesura/core/faults/solution/solve';
import type { TrialEvent } from '@mesura/core/trials/event';
import { runTrial, type TrialResult } from '@mesura/core/trials/trial';
import { aboutOf, becauseText, eventText, verdictTitles } from '@mesura/core/trials/words';
import { networkFor, notes, plainFormat, type Command, studiesOf } from '../command';
import { conditionsAsked, disturbancesOf, elementNamed, numberOf, Refusal, type Values } from '../options';
import { tableOf, type Column } from '../output';
import { studySummaries } from '../words';

const failed = ['relay', 'switch'] as const;

const storedFault = (each: Disturbance): Trial['faults'][number] =>
  each.type === 'open'
    ? newTrialFault({ type: 'open', element: each.element, terminal: each.terminal, odd: each.phases[0] })
    : newTrialFault({
        element: each.place.element,
        terminal: each.place.at === 'terminal' ? each.place.terminal : null,
        fraction: each.place.at === 'line' ? each.place.fraction : null,
        kind: each.kind,
        odd: each.odd,
        phaseOhm: each.phaseOhm.re,
        earthOhm: each.earthOhm.re,
      });

/** What the options describe; stored trials of the project where none of them says anything of a fault. */
function trialsAsked(network: Network, values: Values): Trial[] {
  if (!values.fault?.length && !values.break?.length) {
    const stored = ofKind(network, 'trial').filter(
      ({ id, name }) => values.trial === undefined || [id, name].includes(values.trial as ElementId),
    );
    if (stored.length > 0) return stored;
    throw new Refusal(
      values.trial === undefined ? 2 : 1,
      values.trial === undefined
        ? 'trial takes a fault, such as --fault 3ph@BUS or --fault 1ph@LINE:40%, or a project with trials'
        : `no trial is called "${values.trial}"`,
    );
  }
  const conditions = conditionsAsked(network, values);
  const named = (names: readonly string[] = [], of: readonly ('relay' | 'switch' | 'linePackage')[], what: string) =>
    names.map((name) => elementNamed(network, name, of, what).id);
  const outages = values.outage ?? [];
  if (outages.length > 1) throw new Refusal(2, 'trial takes one --outage at a time');
  const faults = disturbancesOf(network, values).map(storedFault);
  return conditions.map((condition) => ({
    ...newTrial('asked' as ElementId, condition.name, faults),
    condition: condition.id,
    outage: outages.length > 0 ? anyNamed(network, outages[0]) : null,
    stuck: named(values.stuck, ['switch'], 'breaker'),
    dead: named(values.dead, failed, 'device'),
    silent: named(values.silent, ['linePackage', 'relay'], 'channel'),
    goneAfterDeadS: values.gone === undefined ? null : numberOf('--gone', values.gone, 0, 60),
    withinS: values.within === undefined ? null : numberOf('--within', values.within, 0.001, 600),
  }));
}

const anyNamed = (network: Network, name: string): ElementId => {
  const element = [...network.elements.values()].find((each) => each.id === name || nameOf(each) === name);
  if (!element) throw new Refusal(1, `nothing is called "${name}"`);
  return element.id;
};

interface Row {
  readonly trial: string;
  readonly event: TrialEvent;
  readonly about: string;
  readonly text: string;
  readonly because: string;
}

const columns: Column<Row>[] = [
  { head: 'trial', name: 'trial', value: ({ trial }) => trial },
  { head: 't s', name: 'time_s', value: ({ event }) => event.atS },
  { head: 'what', name: 'what', value: ({ about }) => about },
  { head: 'does', name: 'does', value: ({ text }) => text },
  { head: 'because', name: 'because', value: ({ because }) => because },
];

/** Exit code 3 where a trial does not come out as it should. Refusals: nothing of that name, no fault, a fault that cannot be computed. */
export const trialCommand: Command = {
  name: 'trial',
  takes: 'FILE',
  summary: studySummaries.trial,
  run(call) {
    const { values } = call;
    const format = plainFormat(values);
    const network = networkFor(call, 'trial');
    const studies = studiesOf(network);
    const trials = trialsAsked(network, values);
    const results: TrialResult[] = [];
    for (const [k, trial] of trials.entries()) {
      const ran = watchedPart(k, trials.length, () => runTrial(studies, trial));
      if (!ran.ok) throw new Refusal(1, notes(ran.problems).trim() || 'the fault cannot be computed');
      results.push(ran.result);
    }
    const name = (id: ElementId) => nameIn(network, id);
    const names = (list: readonly ElementId[]) => list.map(name);
    const wrong = results.filter(({ judged }) => judged.verdict !== 'selective').length;
    const rows = results.flatMap(({ trial, played }) =>
      played.events.map((event): Row => ({
        trial: trial.name,
        event,
        about: aboutOf(network, event),
        text: eventText(network, event),
        because: becauseText(network, played.events, event),
      })),
    );
    const output =
      format === 'json'
        ? `${JSON.stringify(
            {
              command: 'trial',
              trials: results.map(({ trial, played, judged }) => ({
                name: trial.name,
                verdict: judged.verdict,
                outcome: played.outcome,
                clearedS: played.clearedS,
                endS: played.endS,
                withinS: judged.wanted.withinS,
                wanted: names(judged.wanted.opens),
                opened: names(judged.opened),
                extra: names(judged.extra),
                missing: names(judged.missing),
                lostLoads: names(judged.lost),
                lostMva: judged.lostVa / 1e6,
                energyA2s: judged.energyA2s,
                events: played.events.map((event) => ({
                  timeS: event.atS,
                  about: aboutOf(network, event),
                  kind: event.kind,
                  text: eventText(network, event),
                  because: becauseText(network, played.events, event) || null,
                })),
                intervals: played.intervals.map(({ fromS, open, sight }) => ({
                  fromS,
                  open: names(open),
                  faultA: sight.faultA,
                })),
              })),
            },
            null,
            2,
          )}\n`
        : tableOf(columns, rows, format);
    const errors =
      format === 'table'
        ? results
            .map(({ trial, judged, played }) => {
              const cleared =
                played.clearedS === null ? '' : `, cleared after ${Number(played.clearedS.toPrecision(4))} s`;
              const opened = judged.opened.length > 0 ? `, opened: ${names(judged.opened).join(', ')}` : '';
              return `${trial.name}: ${verdictTitles[judged.verdict]}${cleared}${opened}; wanted: ${names(judged.wanted.opens).join(', ') || 'none'}\n`;
            })
            .join('')
        : '';
    return { code: wrong > 0 ? 3 : 0, output, errors };
  },
};
