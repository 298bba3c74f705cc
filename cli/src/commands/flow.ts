/** `mesura flow`: buses, branches and sources of a load flow. */
import { loadFlow, nodeVoltage, type LoadFlow } from '@mesura/core/flow/loadFlow';
import { voltageFactor } from '@mesura/core/faults/iec60909/voltageFactor';
import { magnitude, multiply, scale, type Complex } from '@mesura/core/linear/complex';
import { nameOf } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import { faultCaseOf, type Condition } from '@mesura/core/model/condition';
import { networkIn } from '@mesura/core/model/state';
import { ofKind, settingsOf, type Network } from '@mesura/core/model/network';
import { conditionsAsked, oneOf, studyQuery, type Values } from '../options';
import { networkFor, notes, plainFormat, type Command } from '../command';
import { tableOf, type Column, type Format } from '../output';

interface BusRow {
  name: string;
  id: ElementId;
  nominalKv: number;
  kv: number;
  percent: number;
  angleDeg: number;
}
interface BranchRow {
  name: string;
  id: ElementId;
  terminal: number;
  at: string;
  mw: number;
  mvar: number;
  ampere: number;
}
interface SourceRow {
  name: string;
  id: ElementId;
  role: string;
  mw: number;
  mvar: number;
  atLimit: string;
}

const busColumns: Column<BusRow>[] = [
  { head: 'bus', name: 'bus', value: (row) => row.name },
  { head: 'Un kV', name: 'nominal_kV', value: (row) => row.nominalKv },
  { head: 'U kV', name: 'u_kV', value: (row) => row.kv },
  { head: '%', name: 'percent', value: (row) => row.percent },
  { head: '°', name: 'angle_deg', value: (row) => Number(row.angleDeg.toFixed(4)) },
];
const branchColumns: Column<BranchRow>[] = [
  { head: 'element', name: 'element', value: (row) => row.name },
  { head: 'terminal', name: 'terminal', value: (row) => String(row.terminal + 1) },
  { head: 'at', name: 'at', value: (row) => row.at },
  { head: 'MW', name: 'mw', value: (row) => row.mw },
  { head: 'Mvar', name: 'mvar', value: (row) => row.mvar },
  { head: 'A', name: 'ampere', value: (row) => row.ampere },
];
const sourceColumns: Column<SourceRow>[] = [
  { head: 'source', name: 'source', value: (row) => row.name },
  { head: 'role', name: 'role', value: (row) => row.role },
  { head: 'MW', name: 'mw', value: (row) => row.mw },
  { head: 'Mvar', name: 'mvar', value: (row) => row.mvar },
  { head: 'limit', name: 'limit', value: (row) => row.atLimit },
];

export const flowCommand: Command = {
  name: 'flow',
  takes: 'FILE',
  summary: 'load flow',
  run(call) {
    const format = plainFormat(call.values);
    const network = networkFor(call, 'flow');
    const asked = conditionsAsked(network, call.values);
    const flows = asked.map((condition) => flowOf(network, call.values, condition));
    const code = flows.every(({ flow }) => flow.converged) ? 0 : 1;
    const problems = flows.flatMap(({ flow }) => [...flow.assembly.problems, ...flow.problems]);
    return { code, output: flowOutput(flows, call.values, format), errors: notes(problems) };
  },
};

interface Asked {
  readonly condition: Condition;
  readonly flow: LoadFlow;
  readonly rows: Rows;
}

function flowOf(network: Network, values: Values, condition: Condition): Asked {
  const conditioned = networkIn(network, studyQuery(network, values, condition));
  const flow = loadFlow(conditioned, {
    faultCase: faultCaseOf(condition),
    control: oneOf('--control', values.control, ['on', 'off']) === 'on',
    voltageFactor: voltageFactor(settingsOf(network).lowVoltageTolerancePercent),
  });
  return { condition, flow, rows: { buses: busRows(flow), branches: branchRows(flow), sources: sourceRows(flow) } };
}

/** One condition answers with its tables; several with all rows of a table, each with its condition. */
function flowOutput(asked: readonly Asked[], values: Values, format: Format): string {
  const show = values.show?.length
    ? values.show.map((what) => oneOf('--show', what, ['buses', 'branches', 'sources']))
    : (['buses'] as const);
  if (format === 'json') {
    const answers = asked.map(({ condition, flow, rows }) => jsonFlow(flow, condition, rows));
    const answer = answers.length === 1 ? answers[0] : { command: 'flow', conditions: answers };
    return `${JSON.stringify(answer, null, 2)}\n`;
  }
  return [...new Set(show)].map((what) => tables[what](asked, format)).join('\n');
}

interface Rows {
  readonly buses: readonly BusRow[];
  readonly branches: readonly BranchRow[];
  readonly sources: readonly SourceRow[];
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
};

const jsonFlow = (flow: LoadFlow, condition: Condition, { buses, branches, sources }: Rows) => ({
  command: 'flow',
  case: faultCaseOf(condition),
  condition: condition.name,
  converged: flow.converged,
  iterations: flow.iterations,
  taps: [...flow.taps].map(([id, position]) => ({
    element: nameOf(flow.assembly.network.elements.get(id)!),
    id,
    position,
  })),
  buses: buses.map(({ name, ...row }) => ({ bus: name, ...row })),
  branches: branches.map(({ name, terminal, ...row }) => ({ element: name, ...row, terminal: terminal + 1 })),
  sources: sources.map(({ name, ...row }) => ({ element: name, ...row })),
});

function busRows(flow: LoadFlow): BusRow[] {
  return ofKind(flow.assembly.network, 'bus')
    .map((bus) => {
      const { kv, angleRad } = nodeVoltage(flow, flow.assembly.topology.nodeAt(bus.id, 0)!);
      return {
        name: bus.name,
        id: bus.id,
        nominalKv: bus.nominalKv,
        kv,
        percent: (100 * kv) / bus.nominalKv,
        angleDeg: kv === 0 ? 0 : (angleRad * 180) / Math.PI,
      };
    })
    .sort((p, q) => q.nominalKv - p.nominalKv || p.name.localeCompare(q.name, 'en', { numeric: true }));
}

function branchRows({ assembly, currents, voltages }: LoadFlow): BranchRow[] {
  return [...currents].map(([key, current]) => {
    const at = key.lastIndexOf(':');
    const id = key.slice(0, at) as ElementId;
    const node = assembly.topology.nodes[assembly.topology.nodeOf.get(key)!];
    const v: Complex = { re: voltages.re[node.index], im: voltages.im[node.index] };
    const s = scale(multiply(v, { re: current.re, im: -current.im }), 3e-6);
    return {
      name: nameOf(assembly.network.elements.get(id)!),
      id,
      terminal: Number(key.slice(at + 1)),
      at: node.buses[0]?.name ?? '',
      mw: s.re,
      mvar: s.im,
      ampere: magnitude(current),
    };
  });
}

const sourceRows = ({ holders, assembly }: LoadFlow): SourceRow[] =>
  holders.map(({ element, role, mva, atLimit }) => ({
    name: nameOf(assembly.network.elements.get(element)!),
    id: element,
    role: role === 'slack' ? 'holds angle and voltage' : 'holds voltage',
    mw: mva.re,
    mvar: mva.im,
    atLimit: atLimit ?? '',
  }));
