/** `mesura grading`: who must clear before whom, and by how much they do. */
import { faultKindTitles } from '@mesura/core/faults/kinds';
import { marginWords, networkPairs, type NetworkPair } from '@mesura/core/grading/network';
import { nameOf } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import { conditionOf } from '@mesura/core/model/state';
import { finished } from '@mesura/core/working/steps';
import { networkFor, plainFormat, type Command, studiesOf } from '../command';
import { conditionsAsked, oneOf } from '../options';
import { tableOf, type Column } from '../output';
import { studySummaries } from '../words';

interface Row extends NetworkPair {
  readonly conditionName: (id: ElementId) => string;
  readonly elementName: (id: ElementId) => string;
}

const columns: Column<Row>[] = [
  { head: 'faults', name: 'faults', value: ({ mode }) => mode },
  { head: 'downstream', name: 'downstream', value: ({ downstream }) => downstream.name },
  { head: 'upstream', name: 'upstream', value: ({ upstream }) => upstream.name },
  { head: 'at A', name: 'downstream_a', value: ({ margin }) => margin.decisive?.downstreamA ?? null },
  { head: 'clears s', name: 'downstream_s', value: ({ margin }) => margin.decisive?.downstreamS ?? null },
  { head: 'operates s', name: 'upstream_s', value: ({ margin }) => margin.decisive?.upstreamS ?? null },
  { head: 'margin s', name: 'margin_s', value: ({ margin }) => margin.decisive?.marginS ?? null },
  { head: 'required s', name: 'required_s', value: ({ margin }) => margin.wantedS },
  {
    head: 'verdict',
    name: 'verdict',
    value: ({ margin, ruling }) => (ruling?.graded === false ? 'left out' : margin.verdict),
  },
  {
    head: 'decided in',
    name: 'condition',
    value: ({ margin: { decisive }, conditionName }) =>
      decisive ? `${conditionName(decisive.condition)}, ${faultKindTitles[decisive.kind]}` : '',
  },
];

export const gradingCommand: Command = {
  name: 'grading',
  takes: 'FILE',
  summary: studySummaries.grading,
  /** All conditions unless some are named. Exit code 3 where a margin is not met. */
  run(call) {
    const { values } = call;
    const format = plainFormat(values);
    const [show] = (values.show ?? ['all']).map((what) => oneOf('--show', what, ['all', 'failed']));
    const network = networkFor(call, 'grading');
    const studies = studiesOf(network);
    const conditions = values.condition || values.case ? conditionsAsked(network, values) : studies.conditions;
    const rows = finished(networkPairs(studies, conditions)).map((pair): Row => ({
      ...pair,
      conditionName: (id) => conditionOf(network, id)?.name ?? id,
      elementName: (id) => nameOf(network.elements.get(id)!),
    }));
    const isFailed = ({ margin, ruling }: Row) =>
      ruling?.graded !== false && (margin.verdict === 'short' || margin.verdict === 'blind');
    const failed = rows.filter(isFailed).length;
    const shown = show === 'failed' ? rows.filter(isFailed) : rows;
    const output =
      format === 'json'
        ? `${JSON.stringify({ command: 'grading', holds: failed === 0, pairs: shown.map(jsonOf) }, null, 2)}\n`
        : tableOf(columns, shown, format);
    const errors = format === 'table' ? `${rows.length} pairs, ${failed} not met\n` : '';
    return { code: failed > 0 ? 3 : 0, output, errors };
  },
};

const jsonOf = ({
  mode,
  downstream,
  upstream,
  charts,
  conditions,
  margin,
  ruling,
  conditionName,
  elementName,
}: Row) => {
  const { decisive, energy, wantedS, verdict, upstreamFirstBelowA, selectiveUpToA, listedUpToA } = margin;
  return {
    faults: mode,
    downstream: { id: downstream.id, name: downstream.name },
    upstream: { id: upstream.id, name: upstream.name },
    charts: charts.map(elementName),
    follows: conditions.map(conditionName),
    verdict,
    byHand: ruling && { graded: ruling.graded, reason: ruling.reason },
    says: marginWords(margin),
    requiredS: wantedS,
    decisive: decisive && { ...decisive, condition: conditionName(decisive.condition) },
    energy: energy && { ...energy, condition: conditionName(energy.condition) },
    upstreamFirstBelowA,
    selectiveUpToA,
    listedUpToA,
  };
};
