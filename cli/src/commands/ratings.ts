/** `mesura ratings`: duties against ratings over conditions, in three summaries, and what is not known. */
import {
  ratingRules,
  ratingsOf,
  ratingTables,
  ratingTableTitles,
  unknownRatings,
  type RatingCheck,
  type UnknownRating,
} from '@mesura/core/checks/ratings';
import { Checker } from '@mesura/core/checks/run';
import { verdictTitles } from '@mesura/core/checks/check';
import { faultKindTitles } from '@mesura/core/faults/kinds';
import { nameOf } from '@mesura/core/model/element';
import type { Network } from '@mesura/core/model/network';
import { conditionOf } from '@mesura/core/model/state';
import { finished } from '@mesura/core/working/steps';
import { networkFor, plainFormat, type Command, studiesOf } from '../command';
import { conditionsAsked, oneOf } from '../options';
import { tableOf, type Column } from '../output';
import { studySummaries } from '../words';

interface Row extends RatingCheck {
  readonly name: string;
  readonly condition: string;
  readonly fault: string;
}

const columns: Column<Row>[] = [
  { head: 'element', name: 'element', value: (row) => row.name },
  { head: 'check', name: 'check', value: (row) => row.title },
  { head: 'standard', name: 'standard', value: (row) => row.duty.standard },
  { head: 'rating', name: 'rating', value: (row) => row.value },
  { head: 'duty', name: 'duty', value: (row) => row.bound },
  { head: 'unit', name: 'unit', value: (row) => row.unit },
  { head: 'X/R', name: 'x_over_r', value: (row) => row.duty.xOverR },
  { head: 'd.c. %', name: 'dc_percent', value: (row) => row.duty.dcPercent },
  { head: 'factor', name: 'factor', value: (row) => row.duty.factor },
  { head: 't s', name: 'time_s', value: (row) => row.duty.timeS },
  { head: 'used %', name: 'utilisation_percent', value: (row) => row.duty.utilisationPercent },
  { head: 'condition', name: 'condition', value: (row) => row.condition },
  { head: 'fault', name: 'fault', value: (row) => row.fault },
  { head: 'assumed', name: 'assumed', value: (row) => row.duty.assumed ?? '' },
  { head: 'verdict', name: 'verdict', value: (row) => verdictTitles[row.verdict] },
];

const unknownColumns: Column<UnknownRating>[] = [
  { head: 'element', name: 'element', value: (row) => row.name },
  { head: 'kind', name: 'kind', value: (row) => row.kind },
  { head: 'not known', name: 'not_known', value: (row) => row.missing.join(', ') },
];

export const ratingsCommand: Command = {
  name: 'ratings',
  takes: 'FILE',
  summary: studySummaries.ratings,
  /** Exit code 3 where a rating is not met. */
  run(call) {
    const { values } = call;
    const format = plainFormat(values);
    const network = networkFor(call, 'ratings');
    const asked = values.condition?.length || values.case ? conditionsAsked(network, values) : undefined;
    const studies = studiesOf(network);
    const { checks } = finished(new Checker(ratingRules).run(studies, asked));
    const unknown = unknownRatings(network);
    const short = checks.filter(({ verdict }) => verdict === 'short').length;
    const marginal = checks.filter(({ verdict }) => verdict === 'doubtful').length;
    const tables = [...ratingTables, 'unknown'] as const;
    const show = values.show?.length ? values.show.map((what) => oneOf('--show', what, tables)) : tables;
    const rowsOf = (table: (typeof ratingTables)[number]) =>
      ratingsOf(checks, table).map((check) => rowOf(network, check));
    const summary = `${checks.length} ratings: ${short} not met, ${marginal} marginal; of ${unknown.length} elements a rating is not known\n`;
    if (format === 'json') {
      const answer = {
        command: 'ratings',
        conditions: (asked ?? studies.conditions).map(({ name }) => name),
        holds: short === 0,
        ...Object.fromEntries(ratingTables.map((table) => [table, rowsOf(table).map(jsonOf)])),
        unknown: unknown.map(({ element, name, ...rest }) => ({ element: name, id: element, ...rest })),
      };
      return { code: short > 0 ? 3 : 0, output: `${JSON.stringify(answer, null, 2)}\n`, errors: '' };
    }
    const texts = show.map((what) =>
      what === 'unknown'
        ? `${format === 'table' ? 'Not known\n' : ''}${tableOf(unknownColumns, unknown, format)}`
        : `${format === 'table' ? `${ratingTableTitles[what]}\n` : ''}${tableOf(columns, rowsOf(what), format)}`,
    );
    return { code: short > 0 ? 3 : 0, output: texts.join('\n'), errors: summary };
  },
};

const rowOf = (network: Network, check: RatingCheck): Row => ({
  ...check,
  name: nameOf(network.elements.get(check.subject)!),
  condition: check.deciding ? (conditionOf(network, check.deciding.condition)?.name ?? '') : '',
  fault: check.deciding?.kind ? faultKindTitles[check.deciding.kind] : '',
});

const jsonOf = ({
  name,
  subject,
  title,
  value,
  bound,
  unit,
  verdict,
  condition,
  fault,
  message,
  proposal,
  duty,
}: Row) => ({
  element: name,
  id: subject,
  check: title,
  rating: value,
  duty: bound,
  unit,
  verdict: verdictTitles[verdict],
  condition,
  fault,
  message,
  ...(proposal && { proposal: proposal.text }),
  figures: duty,
});
