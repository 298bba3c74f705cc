/** `mesura flow`: buses, branches and sources of a load flow. */
import {
  flowFigures,
  type BranchFlow,
  type BusVoltage,
  type EndFlow,
  type FlowFigures,
  type SourceFlow,
} from '@mesura/core/flow/figures';
import { loadFlow, type LoadFlow, type LoadFlowOptions } from '@mesura/core/flow/loadFlow';
import { startMotor, type BusDip, type Start } from '@mesura/core/flow/start';
import { voltageFactor } from '@mesura/core/faults/iec60909/voltageFactor';
import { faultCaseOf, type Condition } from '@mesura/core/model/condition';
import { networkIn } from '@mesura/core/model/state';
import { settingsOf, type Network } from '@mesura/core/model/network';
import { conditionsAsked, elementNamed, numberOf, oneOf, scaledOf, studyQuery, type Values } from '../options';
import { networkFor, notes, plainFormat, type Command, type Outcome } from '../command';
import { tableOf, type Column, type Format } from '../output';
import { studySummaries } from '../words';

const busColumns: Column<BusVoltage>[] = [
  { head: 'bus', name: 'bus', value: (row) => row.name },
  { head: 'Un kV', name: 'nominal_kV', value: (row) => row.nominalKv },
  { head: 'U kV', name: 'u_kV', value: (row) => row.kv },
  { head: '%', name: 'percent', value: (row) => row.percent },
  { head: '°', name: 'angle_deg', value: (row) => Number(row.angleDeg.toFixed(4)) },
];
const branchColumns: Column<EndFlow>[] = [
  { head: 'element', name: 'element', value: (row) => row.name },
  { head: 'terminal', name: 'terminal', value: (row) => String(row.terminal + 1) },
  { head: 'at', name: 'at', value: (row) => row.at },
  { head: 'MW', name: 'mw', value: (row) => row.mw },
  { head: 'Mvar', name: 'mvar', value: (row) => row.mvar },
  { head: 'A', name: 'ampere', value: (row) => row.ampere },
  { head: '% of Ir', name: 'loading_percent', value: (row) => row.loadingPercent },
];
const sourceColumns: Column<SourceFlow>[] = [
  { head: 'source', name: 'source', value: (row) => row.name },
  { head: 'holds', name: 'holds', value: (row) => holds[row.holds] },
  { head: 'MW', name: 'mw', value: (row) => row.mw },
  { head: 'Mvar', name: 'mvar', value: (row) => row.mvar },
  { head: 'limit', name: 'limit', value: (row) => row.atLimit ?? '' },
];

const holds = { angleAndVoltage: 'angle and voltage', voltage: 'voltage', power: 'power' } as const;

const lossColumns: Column<BranchFlow>[] = [
  { head: 'element', name: 'element', value: (row) => row.name },
  { head: 'losses MW', name: 'loss_mw', value: (row) => row.lossMw },
  { head: 'Mvar', name: 'loss_mvar', value: (row) => row.lossMvar },
  { head: '% of Ir', name: 'loading_percent', value: (row) => row.loadingPercent },
];

export const flowCommand: Command = {
  name: 'flow',
  takes: 'FILE',
  summary: studySummaries.flow,
  run(call) {
    const format = plainFormat(call.values);
    const network = networkFor(call, 'flow');
    const asked = conditionsAsked(network, call.values);
    if (call.values.start !== undefined) return startOf(network, call.values, asked, format);
    const flows = asked.map((condition) => flowOf(network, call.values, condition));
    const code = flows.every(({ flow }) => flow.converged) ? 0 : 1;
    const problems = flows.flatMap(({ flow }) => [...flow.assembly.problems, ...flow.problems]);
    return { code, output: flowOutput(flows, call.values, format), errors: notes(problems) };
  },
};

interface Asked {
  readonly condition: Condition;
  readonly flow: LoadFlow;
  readonly figures: FlowFigures;
  readonly rows: Rows;
}

const flowOptions = (network: Network, values: Values, condition: Condition): LoadFlowOptions => ({
  faultCase: faultCaseOf(condition),
  control: oneOf('--control', values.control, ['on', 'off']) === 'on',
  voltageFactor: voltageFactor(settingsOf(network).lowVoltageTolerancePercent),
  scaled: scaledOf(network, values),
});

const dipColumns: Column<BusDip & { condition: string }>[] = [
  { head: 'bus', name: 'bus', value: (row) => row.name },
  { head: 'condition', name: 'condition', value: (row) => row.condition },
  { head: 'Un kV', name: 'nominal_kV', value: (row) => row.nominalKv },
  { head: 'before %', name: 'before_percent', value: (row) => row.beforePercent },
  { head: 'starting %', name: 'starting_percent', value: (row) => row.startPercent },
  { head: 'dip %', name: 'dip_percent', value: (row) => row.dipPercent },
];

/** Exit code 3 where the motor does not run up; 1 where the network cannot carry its start. */
function startOf(network: Network, values: Values, asked: readonly Condition[], format: Format): Outcome {
  const motor = elementNamed(network, values.start!, ['asynchronousMotor'], 'motor');
  const reduction = numberOf('--reduction', values.reduction!, 0.01, 1);
  const starts = asked.map((condition) => {
    const conditioned = networkIn(network, studyQuery(network, values, condition));
    return {
      condition,
      result: startMotor(conditioned, motor.id, { ...flowOptions(network, values, condition), reduction }),
    };
  });
  const found = starts.flatMap(({ condition, result }) => (result.ok ? [{ condition, start: result.start }] : []));
  const problems = starts.flatMap(({ result }) => (result.ok ? [] : result.problems));
  const stalls = found.some(({ start }) => start.runUp && !start.runUp.runsUp);
  const code = problems.length > 0 ? 1 : stalls ? 3 : 0;
  if (format === 'json') {
    const answer = found.map(({ condition, start: { motor: data, buses, runUp, before: _, ...rest } }) => ({
      condition: condition.name,
      motor: motor.name,
      ...rest,
      ratedA: data.ratedA,
      assumed: data.assumed,
      buses: buses.map(({ name, bus, ...row }) => ({ bus: name, id: bus, ...row })),
      runUp: runUp && { ...runUp, course: undefined },
    }));
    return {
      code,
      output: `${JSON.stringify({ command: 'flow', starts: answer }, null, 2)}\n`,
      errors: notes(problems),
    };
  }
  const rows = found.flatMap(({ condition, start }) =>
    start.buses.map((bus) => ({ ...bus, condition: condition.name })),
  );
  const said = found.map(({ condition, start }) => `${condition.name}: ${startText(motor.name, start)}\n`).join('');
  return { code, output: tableOf(dipColumns, rows, format), errors: `${notes(problems)}${said}` };
}

function startText(name: string, { startingA, terminalPercent, torqueFactor, runUp, motor }: Start): string {
  const digits = (value: number) => Number(value.toPrecision(4));
  const ran =
    runUp === null
      ? 'no run-up time without a moment of inertia'
      : runUp.runsUp
        ? `runs up in ${digits(runUp.timeS!)} s`
        : runUp.stallSlip === 1
          ? 'does not start: its torque is below that of the load'
          : `stalls at ${digits((1 - runUp.stallSlip!) * 100)} % of synchronous speed`;
  const assumed = motor.assumed.length > 0 ? `; assumed: ${motor.assumed.join(', ')}` : '';
  return `${name} draws ${digits(startingA)} A at ${digits(terminalPercent)} % of its rated voltage, torque ${digits(100 * torqueFactor)} % of direct starting at rated voltage; ${ran}${assumed}`;
}

function flowOf(network: Network, values: Values, condition: Condition): Asked {
  const conditioned = networkIn(network, studyQuery(network, values, condition));
  const flow = loadFlow(conditioned, flowOptions(network, values, condition));
  const figures = flowFigures(flow);
  const { buses, sources, branches, loads } = figures;
  const ends = [...branches.flatMap((branch) => branch.ends), ...loads];
  return { condition, flow, figures, rows: { buses, branches: ends, sources, losses: branches } };
}

/** One condition answers with its tables; several with all rows of a table, each with its condition. */
function flowOutput(asked: readonly Asked[], values: Values, format: Format): string {
  const show = values.show?.length
    ? values.show.map((what) => oneOf('--show', what, ['buses', 'branches', 'sources', 'losses']))
    : (['buses'] as const);
  if (format === 'json') {
    const answers = asked.map(jsonFlow);
    const answer = answers.length === 1 ? answers[0] : { command: 'flow', conditions: answers };
    return `${JSON.stringify(answer, null, 2)}\n`;
  }
  return [...new Set(show)].map((what) => tables[what](asked, format)).join('\n');
}

interface Rows {
  readonly buses: readonly BusVoltage[];
  readonly branches: readonly EndFlow[];
  readonly sources: readonly SourceFlow[];
  readonly losses: readonly BranchFlow[];
}

const table =
  <K extends keyof Rows>(what: K, columns: Column<Rows[K][number]>[]) =>
  (asked: readonly Asked[], format: Exclude<Format, 'json'>): string => {
    const rows = asked.flatMap(({ condition, rows: own }) =>
      own[what].map((row) => ({ row: row as Rows[K][number], condition: condition.name })),
    );
    const [first, ...rest] = columns.map((column): Column<(typeof rows)[number]> => ({
      ...column,
      value: ({ row }) => column.value(row),
    }));
    const condition: typeof rest = [{ head: 'condition', name: 'condition', value: (each) => each.condition }];
    return tableOf([first, ...(asked.length > 1 ? condition : []), ...rest], rows, format);
  };

const tables = {
  buses: table('buses', busColumns),
  branches: table('branches', branchColumns),
  sources: table('sources', sourceColumns),
  losses: table('losses', lossColumns),
};

const jsonFlow = ({ flow, condition, figures, rows }: Asked) => ({
  command: 'flow',
  case: faultCaseOf(condition),
  condition: condition.name,
  converged: flow.converged,
  iterations: flow.iterations,
  taps: figures.taps.map(({ name, element, position }) => ({ element: name, id: element, position })),
  buses: rows.buses.map(({ name, bus, ...row }) => ({ bus: name, id: bus, ...row })),
  branches: rows.branches.map(({ name, element, terminal, ...row }) => ({
    element: name,
    id: element,
    ...row,
    terminal: terminal + 1,
  })),
  sources: rows.sources.map(({ name, element, terminal, ...row }) => ({
    element: name,
    id: element,
    ...row,
    terminal: terminal + 1,
  })),
  losses: rows.losses.map(({ name, element, lossMw, lossMvar, loadingPercent }) => ({
    element: name,
    id: element,
    lossMw,
    lossMvar,
    loadingPercent,
  })),
  balance: figures.balance,
});
