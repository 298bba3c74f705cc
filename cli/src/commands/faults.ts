/** `mesura faults`: fault currents, one place after another or several faults at once. */
import { watchedPart } from '@mesura/core/working/steps';
import type { FaultDetail, FaultQuery } from '@mesura/core/studies/engine';
import type { Disturbance } from '@mesura/core/faults/solution/solve';
import { needsZeroSequence } from '@mesura/core/faults/kinds';
import { nameOf } from '@mesura/core/model/element';
import { faultCaseOf } from '@mesura/core/model/condition';
import { ofKind, type Network } from '@mesura/core/model/network';
import type { Problem } from '@mesura/core/model/problem';
import { networkFor, notes, plainFormat, type Command, type Outcome, engineOf } from '../command';
import {
  conditionsAsked,
  disturbancesOf,
  faultQueries,
  oneCondition,
  oneOf,
  outagesOf,
  placesOf,
  Refusal,
  studyQuery,
  type Values,
} from '../options';
import {
  branchColumns,
  busColumns,
  faultColumns,
  jsonBranches,
  jsonBuses,
  jsonFault,
  jsonPhases,
  tableOf,
  workingText,
  type AskedRow,
  type Format,
} from '../output';
import { studySummaries } from '../words';

export const faultsCommand: Command = {
  name: 'faults',
  takes: 'FILE',
  summary: studySummaries.faults,
  run(call) {
    const { values } = call;
    const format = plainFormat(values);
    const network = networkFor(call, 'faults');
    return values.fault?.length || values.break?.length
      ? simultaneous(network, values, format)
      : faults(network, values, format);
  },
};

/** What is said about the earthing concerns earth faults only. */
const concerns = (queries: readonly FaultQuery[]) => {
  const earth = queries.some(({ kind }) => needsZeroSequence(kind));
  return ({ code }: Problem) => earth || (code !== 'earthing.none' && code !== 'coupling.data');
};

interface Asked {
  row: AskedRow;
  detail: () => FaultDetail;
}

function faults(network: Network, values: Values, format: Format): Outcome {
  if (ofKind(network, 'bus').length === 0) throw new Refusal(1, 'the project has no bus');
  const engine = engineOf(network);
  const conditions = conditionsAsked(network, values);
  const { method } = studyQuery(network, values, conditions[0]);
  const queries = faultQueries(values);
  const places = placesOf(network, values);
  const show = (values.show ?? []).map((what) =>
    oneOf('--show', what, ['branches', 'buses', 'working', 'contributions']),
  );
  const problems: Problem[] = [];
  const states = conditions.flatMap((condition) => outagesOf(network, values).map((outage) => ({ condition, outage })));
  const askedIn = ({ condition, outage }: (typeof states)[number]): Asked[] => {
    const own = { ...studyQuery(network, values, condition), outage };
    problems.push(...engine.problems(own));
    const name = outage === null ? null : nameOf(network.elements.get(outage)!);
    return queries.flatMap((query: FaultQuery) =>
      engine.rows(own, query, places).map((row): Asked => ({
        row: { ...row, condition: condition.name, outage: name },
        detail: () => engine.detail(own, query, row.place),
      })),
    );
  };
  const asked = states.flatMap((state, k) => watchedPart(k, states.length, () => askedIn(state)));
  const rows = asked.map(({ row }) => row);
  const output =
    format === 'json'
      ? `${JSON.stringify(
          {
            command: 'faults',
            method,
            case: faultCaseOf(conditions[0]),
            conditions: conditions.map(({ name }) => name),
            faults: asked.map(({ row, detail }) => jsonFault(row, row.result && detail(), show)),
          },
          null,
          2,
        )}\n`
      : show.length > 0
        ? asked.map((each) => detailText(each, show, format)).join('\n')
        : tableOf(faultColumns(method, rows), rows, format);
  return {
    code: rows.some((row) => row.result) ? 0 : 1,
    output,
    errors: notes([...problems.filter(concerns(queries)), ...rows.flatMap((row) => row.problems)]),
  };
}

function detailText({ row, detail }: Asked, show: readonly string[], format: 'table' | 'csv'): string {
  const head = `${row.name}, ${row.kind}, ${row.condition}${row.outage ? `, without ${row.outage}` : ''}`;
  if (!row.result) return `${head}: ${row.problems.map(({ message }) => message).join('; ')}\n`;
  const { branches, buses, working, contributions } = detail();
  const named = contributions.map((share) => ({ ...share, end: '' }));
  return show
    .map((what) => {
      if (what === 'working')
        return working ? workingText(working.title, working.sections) : `${head}: no working for this place\n`;
      const table =
        what === 'buses'
          ? tableOf(busColumns, buses, format)
          : tableOf(branchColumns, what === 'branches' ? branches : named, format);
      return format === 'csv' ? table : `${head}, ${what}\n${table}`;
    })
    .join('\n');
}

function simultaneous(network: Network, values: Values, format: Format): Outcome {
  const engine = engineOf(network);
  const condition = oneCondition(network, values, 'faults with --fault or --break');
  const study = studyQuery(network, values, condition);
  const disturbances = disturbancesOf(network, values);
  const [outage] = outagesOf(network, values);
  const solved = engine.simultaneous({ ...study, outage }, disturbances);
  if (!solved.ok) throw new Refusal(1, solved.problems.map(({ message }) => message).join('\n'));
  const { results, branches, buses } = solved.answer;
  const labels = [...(values.fault ?? []), ...(values.break ?? []).map((text) => `break ${text}`)];
  const output =
    format === 'json'
      ? `${JSON.stringify(
          {
            command: 'faults',
            method: study.method,
            case: faultCaseOf(condition),
            condition: condition.name,
            faults: results.map((result, k) => ({
              fault: labels[k],
              ...placeOf(disturbances[k]),
              phasesA: jsonPhases(result.phases),
              phasesV: jsonPhases(result.voltagePhases),
            })),
            branches: jsonBranches(branches),
            buses: jsonBuses(buses),
          },
          null,
          2,
        )}\n`
      : [
          tableOf(
            branchColumns,
            results.map(({ phases, current }, k) => ({
              element: '' as never,
              terminal: 0,
              name: labels[k],
              end: '',
              components: current,
              phases,
            })),
            format,
          ),
          tableOf(busColumns, buses, format),
          tableOf(branchColumns, branches, format),
        ].join('\n');
  return { code: 0, output, errors: '' };
}

/** Where a disturbance is, by id; terminals from 1. */
const placeOf = (disturbance: Disturbance) => {
  if (disturbance.type === 'open') return { id: disturbance.element, terminal: disturbance.terminal + 1 };
  const { place } = disturbance;
  return place.at === 'line' ? { id: place.element, fraction: place.fraction } : { id: place.element };
};
