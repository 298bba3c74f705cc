/** The terminal program as a function: arguments in, text and exit code out. Exit codes: 0 done, 1 bad input or nothing computed, 2 wrong usage. */
import { parseArgs } from 'node:util';
import { contributions } from '@mesura/core/faults/iec60909/contributions';
import { faultKinds, type FaultKind } from '@mesura/core/faults/kinds';
import { faultAt, iec60909Study, type Iec60909Study } from '@mesura/core/faults/iec60909/study';
import { faultRow, faultTable, type FaultRow } from '@mesura/core/faults/report';
import { csv } from '@mesura/core/formats/csv';
import { readProject } from '@mesura/core/formats/project';
import { networkOf, ofKind, type Network } from '@mesura/core/model/network';
import type { FaultCase } from '@mesura/core/sequence/stamp';
import { csvRows, jsonFaults, textTable } from './output';

export interface Outcome {
  code: 0 | 1 | 2;
  output: string;
  errors: string;
}

export const usage = `mesura faults FILE [--kind 3ph|2ph|2phE|1ph|all] [--case max|min] [--at BUS|all] [--format table|csv|json]

  FILE       Mesura project file, or - for standard input
  --kind     kind of fault (default 3ph)
  --case     maximum or minimum currents (default max)
  --at       name or identifier of a bus; may be repeated (default all)
  --format   table (default), csv or json
`;

const fail = (code: 1 | 2, errors: string): Outcome => ({ code, output: '', errors: `${errors}\n` });

export function run(args: readonly string[], read: (path: string) => string): Outcome {
  let parsed;
  try {
    parsed = parseArgs({
      args: [...args],
      allowPositionals: true,
      options: {
        kind: { type: 'string', default: '3ph' },
        case: { type: 'string', default: 'max' },
        at: { type: 'string', multiple: true, default: ['all'] },
        format: { type: 'string', default: 'table' },
        help: { type: 'boolean', short: 'h' },
      },
    });
  } catch (error) {
    return fail(2, `${(error as Error).message}\n\n${usage}`);
  }
  const { values, positionals } = parsed;
  if (values.help) return { code: 0, output: usage, errors: '' };
  if (positionals[0] !== 'faults' || positionals.length !== 2) return fail(2, usage);
  const wrong =
    notOneOf('--kind', values.kind, [...faultKinds, 'all']) ??
    notOneOf('--case', values.case, ['max', 'min']) ??
    notOneOf('--format', values.format, ['table', 'csv', 'json']);
  if (wrong) return fail(2, wrong);

  let text: string;
  try {
    text = read(positionals[1]);
  } catch (error) {
    return fail(1, `${positionals[1]} cannot be read: ${(error as Error).message}`);
  }
  const project = readProject(text);
  if (!project.ok)
    return fail(1, project.problems.map((problem) => `${positionals[1]}: ${problem.message}`).join('\n'));
  const network = networkOf(project.project.elements);
  const kinds = values.kind === 'all' ? faultKinds : [values.kind as FaultKind];
  return faults(network, kinds, values.case as FaultCase, values.at, values.format);
}

const notOneOf = (option: string, value: string, allowed: readonly string[]): string | null =>
  allowed.includes(value) ? null : `${option} must be one of ${allowed.join(', ')}, not "${value}"`;

function faults(
  network: Network,
  kinds: readonly FaultKind[],
  faultCase: FaultCase,
  at: readonly string[],
  format: string,
): Outcome {
  const buses = ofKind(network, 'bus');
  const wanted = at.includes('all')
    ? null
    : at.map((name) => [name, buses.find((bus) => bus.id === name || bus.name === name)] as const);
  const unknown = wanted?.filter(([, bus]) => !bus).map(([name]) => name) ?? [];
  if (unknown.length > 0)
    return fail(
      1,
      `no bus is called ${unknown.map((name) => `"${name}"`).join(', ')}; there are: ${buses.map((bus) => bus.name).join(', ')}`,
    );
  if (buses.length === 0) return fail(1, 'the project has no bus');

  const study = iec60909Study(network, faultCase);
  const rows = kinds.flatMap((kind) =>
    wanted ? wanted.map(([, bus]) => faultRow(study, bus!, kind)) : faultTable(study, kind),
  );
  const messages = [
    ...new Set([...study.assembly.problems, ...rows.flatMap((row) => row.problems)].map((problem) => problem.message)),
  ];
  const errors = messages.map((message) => `note: ${message}\n`).join('');
  const output =
    format === 'json'
      ? `${JSON.stringify(
          jsonFaults(rows, (row) => sharesOf(study, row)),
          null,
          2,
        )}\n`
      : format === 'csv'
        ? csv(csvRows(rows))
        : textTable(rows);
  return { code: rows.some((row) => row.result) ? 0 : 1, output, errors };
}

function sharesOf(study: Iec60909Study, row: FaultRow) {
  const result = faultAt(study, row.bus, 0, row.kind);
  return result.ok ? contributions(result.fault) : [];
}
