/** The terminal program as a function: arguments in, text and exit code out. Exit codes: 0 done, 1 bad input or nothing computed, 2 wrong usage. */
import { assemble, type Assembly } from '@mesura/core/assembly/assemble';
import { FaultEngine, type FaultDetail, type FaultQuery } from '@mesura/core/studies/engine';
import type { Disturbance } from '@mesura/core/faults/solve';
import { needsZeroSequence } from '@mesura/core/faults/kinds';
import { voltageFactor } from '@mesura/core/faults/iec60909/voltageFactor';
import { nodeLabel } from '@mesura/core/faults/names';
import { entriesOf, matrixMarket } from '@mesura/core/formats/matrixMarket';
import { readProject } from '@mesura/core/formats/project';
import { nameOf } from '@mesura/core/model/element';
import { faultCaseOf } from '@mesura/core/model/condition';
import { networkIn } from '@mesura/core/model/state';
import { networkOf, ofKind, settingsOf, type Network } from '@mesura/core/model/network';
import type { Problem } from '@mesura/core/model/problem';
import { argumentsOf, withHelp } from './arguments';
import { aroundOutput } from './around';
import { casesOutput } from './cases';
import { flowOutput } from './flow';
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
} from './options';
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
} from './output';
import { usage } from './usage';

export interface Outcome {
  code: 0 | 1 | 2;
  output: string;
  errors: string;
}

const fail = (code: 1 | 2, errors: string): Outcome => ({ code, output: '', errors: `${errors}\n` });

export function run(args: readonly string[], read: (path: string) => string): Outcome {
  try {
    const { values, positionals } = argumentsOf(args);
    if (values.help) return { code: 0, output: usage, errors: '' };
    const [command, path] = positionals;
    if (!commands.includes(command)) throw new Refusal(2, notACommand(command));
    if (command === 'cases') return casesOutput(positionals.slice(1), values, read, (inner) => run(inner, read));
    if (positionals.length !== 2)
      throw new Refusal(
        2,
        `${command} takes one project file, not ${positionals.length - 1}: mesura ${command} FILE [options]`,
      );
    if (command === 'around' || command === 'matrix') noShow(command, values);
    const format = oneOf('--format', values.format, ['table', 'csv', 'json']);
    const network = networkFrom(path, read);
    if (command === 'matrix') return matrix(network, values, format);
    if (command === 'around') return { code: 0, output: aroundOutput(network, values, format), errors: '' };
    if (command === 'flow') {
      const { converged, output, problems } = flowOutput(network, values, format);
      return { code: converged ? 0 : 1, output, errors: notes(problems) };
    }
    return values.fault?.length || values.break?.length
      ? simultaneous(network, values, format)
      : faults(network, values, format);
  } catch (error) {
    if (error instanceof Refusal) return fail(error.code, error.code === 2 ? withHelp(error.message) : error.message);
    throw error;
  }
}

const commands = ['faults', 'around', 'flow', 'matrix', 'cases'];

const notACommand = (command: string | undefined) =>
  `${command === undefined ? 'a command is missing' : `there is no command "${command}"`}; there are\n${usage.split('\n\n')[0]}`;

function noShow(command: string, { show }: Values): void {
  if (show?.length) throw new Refusal(2, `${command} knows no --show`);
}

function networkFrom(path: string, read: (path: string) => string): Network {
  let text: string;
  try {
    text = read(path);
  } catch (error) {
    throw new Refusal(1, `${path} cannot be read: ${(error as Error).message}`);
  }
  const project = readProject(text);
  if (!project.ok) throw new Refusal(1, project.problems.map((problem) => `${path}: ${problem.message}`).join('\n'));
  return networkOf(project.project.elements);
}

const notes = (problems: readonly Problem[]) =>
  [...new Set(problems.map(({ message }) => message))].map((message) => `note: ${message}\n`).join('');

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
  const engine = new FaultEngine(network);
  const conditions = conditionsAsked(network, values);
  const { method } = studyQuery(network, values, conditions[0]);
  const queries = faultQueries(values);
  const places = placesOf(network, values);
  const show = (values.show ?? []).map((what) =>
    oneOf('--show', what, ['branches', 'buses', 'working', 'contributions']),
  );
  const problems: Problem[] = [];
  const states = conditions.flatMap((condition) => outagesOf(network, values).map((outage) => ({ condition, outage })));
  const asked: Asked[] = states.flatMap(({ condition, outage }) => {
    const own = { ...studyQuery(network, values, condition), outage };
    problems.push(...engine.problems(own));
    const name = outage === null ? null : nameOf(network.elements.get(outage)!);
    return queries.flatMap((query: FaultQuery) =>
      engine.rows(own, query, places).map((row): Asked => ({
        row: { ...row, condition: condition.name, outage: name },
        detail: () => engine.detail(own, query, row.place),
      })),
    );
  });
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
  const engine = new FaultEngine(network);
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

/** Nodes from 1, each with the elements whose terminals (from 1) meet there. */
const jsonNodes = (assembly: Assembly) =>
  Array.from({ length: assembly.nodeCount }, (_, k) => ({
    node: k + 1,
    name: nodeLabel(assembly, k),
    terminals: (assembly.topology.nodes[k]?.terminals ?? []).map((key) => {
      const at = key.lastIndexOf(':');
      return { id: key.slice(0, at), terminal: Number(key.slice(at + 1)) + 1 };
    }),
  }));

function matrix(network: Network, values: Values, format: Format): Outcome {
  const condition = oneCondition(network, values, 'matrix');
  const query = studyQuery(network, values, condition);
  if (query.method === 'c37') throw new Refusal(2, '--method must be one of iec60909, superposition for a matrix');
  const sequence = oneOf('--sequence', values.sequence, ['positive', 'negative', 'zero']);
  const assembly = assemble(networkIn(network, query), {
    faultCase: faultCaseOf(condition),
    basis: query.method === 'superposition' ? 'operating' : 'iec60909',
    voltageFactor: voltageFactor(settingsOf(network).lowVoltageTolerancePercent),
    charging: query.charging,
  });
  const comments = [
    `${sequence} sequence, admittances in siemens, ${condition.name}; parts without a path to the reference stand as they are`,
    ...Array.from({ length: assembly.nodeCount }, (_, k) => `${k + 1}: ${nodeLabel(assembly, k)}`),
  ];
  const admittances = assembly[sequence].matrix(false);
  const output =
    format === 'json'
      ? `${JSON.stringify({ command: 'matrix', sequence, case: faultCaseOf(condition), condition: condition.name, nodes: jsonNodes(assembly), entries: entriesOf(admittances) }, null, 2)}\n`
      : matrixMarket(admittances, comments);
  return { code: 0, output, errors: notes(assembly.problems) };
}

export { usage };
