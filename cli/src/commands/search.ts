/** `mesura search`: all faults of a network, each played and judged; what goes wrong by its cause, the worst first. */
import { conditionOf } from '@mesura/core/model/state';
import { faultKinds, type FaultKind } from '@mesura/core/faults/kinds';
import type { Place } from '@mesura/core/faults/solution/solve';
import { nameOf } from '@mesura/core/model/element';
import { placeIn } from '@mesura/core/faults/names';
import type { ElementId } from '@mesura/core/model/fields';
import { nameIn, ofKind } from '@mesura/core/model/network';
import { failing, search, usualSearch, type Failing, type SearchGroup } from '@mesura/core/trials/search';
import { foundTitles } from '@mesura/core/trials/words';
import { finished } from '@mesura/core/working/steps';
import { networkFor, plainFormat, type Command, studiesOf } from '../command';
import { conditionsAsked, numberOf, oneOf, outagesOf, Refusal } from '../options';
import { tableOf, type Column } from '../output';
import { studySummaries } from '../words';

/** Exit code 3 where something is found. */
export const searchCommand: Command = {
  name: 'search',
  takes: 'FILE',
  summary: studySummaries.search,
  run(call) {
    const { values } = call;
    const format = plainFormat(values);
    const network = networkFor(call, 'search');
    const studies = studiesOf(network);
    const conditions = values.condition || values.case ? conditionsAsked(network, values) : studies.conditions;
    const fails = (values.fails ?? []).flatMap((word): readonly Failing[] =>
      word === 'all' ? failing : [oneOf('--fails', word, failing)],
    );
    const kinds: readonly FaultKind[] =
      values.kind === undefined || values.kind === '3ph' || values.kind === 'all'
        ? faultKinds
        : [oneOf('--kind', values.kind, faultKinds)];
    const only =
      values.line === undefined
        ? null
        : [...network.elements.values()].flatMap((each) =>
            (each.kind === 'line' || each.kind === 'bus') && (each.id === values.line || nameOf(each) === values.line)
              ? [each.id]
              : [],
          );
    if (only?.length === 0) throw new Refusal(1, `no line or busbar is called "${values.line}"`);
    const everything = ofKind(network, 'line').map(({ id }) => id);
    const outages = values.outage?.includes('lines') ? [null, ...everything] : outagesOf(network, values);
    const found = finished(
      search(studies, conditions, {
        ...usualSearch,
        kinds,
        alongLines: numberOf('--places', values.places ?? '9', 0, 99),
        resistances: (values.resistance ?? ['0']).map((text) => numberOf('--resistance', text, 0, 1e4)),
        outages,
        failing: fails,
        only,
      }),
    );
    const name = (id: ElementId) => nameIn(network, id);
    const names = (list: readonly ElementId[]) => list.map(name);
    const placeText = (place: Place) => placeIn(network, place);
    const failedIn = ({ faults: [{ failures }] }: SearchGroup) =>
      names([...failures.stuck, ...failures.dead, ...failures.silent]);
    const columns: Column<SearchGroup>[] = [
      { head: 'found', name: 'found', value: ({ found: each }) => foundTitles[each] },
      { head: 'faults', name: 'faults', value: ({ faults }) => faults.length },
      { head: 'failed', name: 'failed', value: (group) => failedIn(group).join(', ') },
      { head: 'opened without need', name: 'extra', value: ({ extra }) => names(extra).join(', ') },
      { head: 'not opened', name: 'missing', value: ({ missing }) => names(missing).join(', ') },
      { head: 'worst place', name: 'place', value: ({ faults }) => placeText(faults[0].place) },
      { head: 'kind', name: 'kind', value: ({ faults }) => faults[0].kind },
      {
        head: 'condition',
        name: 'condition',
        value: ({ faults }) => conditionOf(network, faults[0].condition)?.name ?? '',
      },
      { head: 'cleared s', name: 'cleared_s', value: ({ faults }) => faults[0].clearedS },
      { head: 'lost MVA', name: 'lost_mva', value: ({ faults }) => faults[0].lostVa / 1e6 },
      { head: 'harm', name: 'harm', value: ({ harm }) => harm },
    ];
    const output =
      format === 'json'
        ? `${JSON.stringify(
            {
              command: 'search',
              played: found.played,
              counts: found.counts,
              problems: found.problems,
              groups: found.groups.map((group) => ({
                found: group.found,
                failing: group.failing,
                failed: failedIn(group),
                extra: names(group.extra),
                missing: names(group.missing),
                harm: group.harm,
                faults: group.faults.map((each) => ({
                  place: placeText(each.place),
                  kind: each.kind,
                  resistance: each.resistance,
                  condition: conditionOf(network, each.condition)?.name ?? each.condition,
                  outage: each.outage && name(each.outage),
                  clearedS: each.clearedS,
                  withinS: each.withinS,
                  lostMva: each.lostVa / 1e6,
                  energyA2s: each.energyA2s,
                })),
              })),
            },
            null,
            2,
          )}\n`
        : tableOf(columns, found.groups, format);
    const errors =
      format === 'table'
        ? `${found.played} faults played, ${found.groups.reduce((sum, { faults }) => sum + faults.length, 0)} not as they should be\n`
        : '';
    return { code: found.groups.length > 0 ? 3 : 0, output, errors };
  },
};
