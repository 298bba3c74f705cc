/** `mesura outages`: every single outage of the load flow, with what it overloads and where voltages leave their band. */
import { outages, outageVerdict, type Outage } from '@mesura/core/flow/outages';
import type { ElementId } from '@mesura/core/model/fields';
import { nameIn } from '@mesura/core/model/network';
import type { Condition } from '@mesura/core/model/condition';
import { finished } from '@mesura/core/working/steps';
import { networkFor, notes, plainFormat, type Command, studiesOf } from '../command';
import { conditionsAsked, oneOf, studyQuery } from '../options';
import { tableOf, type Column } from '../output';
import { studySummaries } from '../words';

interface Row {
  readonly outage: Outage;
  readonly condition: Condition;
  readonly name: (id: ElementId) => string;
}

const columns: Column<Row>[] = [
  { head: 'out', name: 'out', value: ({ outage }) => outage.name },
  {
    head: 'heaviest',
    name: 'heaviest',
    value: ({ outage: { heaviest }, name }) => (heaviest ? name(heaviest.element) : ''),
  },
  { head: 'A', name: 'ampere', value: ({ outage }) => outage.heaviest?.ampere ?? null },
  { head: '% allowed', name: 'percent_allowed', value: ({ outage }) => outage.heaviest?.percent ?? null },
  { head: 'overloads', name: 'overloads', value: ({ outage }) => outage.overloads.length },
  {
    head: 'lowest at',
    name: 'lowest_at',
    value: ({ outage: { lowest }, name }) => (lowest ? name(lowest.bus) : ''),
  },
  { head: '% Un', name: 'lowest_percent', value: ({ outage }) => outage.lowest?.percent ?? null },
  { head: 'highest %', name: 'highest_percent', value: ({ outage }) => outage.highest?.percent ?? null },
  { head: 'out of band', name: 'out_of_band', value: ({ outage }) => outage.beyondBand.length },
  { head: 'lost MW', name: 'lost_mw', value: ({ outage }) => outage.lostMw },
  {
    head: 'verdict',
    name: 'verdict',
    value: ({ outage }) => outageVerdict(outage),
  },
];

export const outagesCommand: Command = {
  name: 'outages',
  takes: 'FILE',
  summary: studySummaries.outages,
  /** Exit code 3 where an outage overloads, leaves a band or a bus without supply; 1 where the load flow itself does not converge. */
  run(call) {
    const { values } = call;
    const format = plainFormat(values);
    const [show] = (values.show ?? ['all']).map((what) => oneOf('--show', what, ['all', 'failed']));
    const network = networkFor(call, 'outages');
    const studies = studiesOf(network);
    const asked = conditionsAsked(network, values).map((condition) => {
      const flow = studies.flow(studyQuery(network, values, condition));
      return { condition, flow, outages: flow.converged ? finished(outages(flow)) : null };
    });
    const problems = asked.flatMap(({ flow }) => flow.problems.filter(({ severity }) => severity === 'error'));
    const rows = asked.flatMap(({ condition, outages: found }) =>
      (found ?? []).map((outage): Row => ({ outage, condition, name: (id) => nameIn(network, id) })),
    );
    const failed = rows.filter(({ outage }) => !outage.secure).length;
    const code = problems.length > 0 ? 1 : failed > 0 ? 3 : 0;
    const output =
      format === 'json'
        ? `${JSON.stringify({ command: 'outages', secure: code === 0, outages: rows.map(jsonOf) }, null, 2)}\n`
        : tableOf(
            withCondition(asked.length),
            show === 'failed' ? rows.filter(({ outage }) => !outage.secure) : rows,
            format,
          );
    const summary = format === 'json' ? '' : `${rows.length} outages, ${failed} not met\n`;
    return { code, output, errors: `${notes(problems)}${summary}` };
  },
};

const withCondition = (count: number): Column<Row>[] => {
  const [first, ...rest] = columns;
  return count > 1
    ? [first, { head: 'condition', name: 'condition', value: ({ condition }) => condition.name }, ...rest]
    : columns;
};

const jsonOf = ({ outage, condition, name }: Row) => {
  const { element, heaviest, overloads, lowest, highest, beyondBand, unsupplied, limited, problems, ...rest } = outage;
  const overload = (each: NonNullable<typeof heaviest>) => ({
    ...each,
    element: name(each.element),
    id: each.element,
    terminal: each.terminal + 1,
  });
  const voltage = (each: NonNullable<typeof lowest>) => ({ bus: name(each.bus), id: each.bus, percent: each.percent });
  return {
    ...rest,
    id: element,
    condition: condition.name,
    heaviest: heaviest && overload(heaviest),
    overloads: overloads.map(overload),
    lowest: lowest && voltage(lowest),
    highest: highest && voltage(highest),
    beyondBand: beyondBand.map(voltage),
    unsupplied: unsupplied.map(name),
    limited: limited.map(name),
    problems: problems.map(({ message }) => message),
  };
};
