/** `mesura package`: the protection of one line, with both margins of every element, its loadability and its fault runs. */
import { bytesOf } from '@mesura/core/formats/open';
import { elementIdSchema } from '@mesura/core/model/fields';
import { lineSchemes, loadCriteria, newLinePackage, type LinePackage } from '@mesura/core/model/linePackage';
import { find, ofKind, type Network } from '@mesura/core/model/network';
import type { PackageElement } from '@mesura/core/linePackage/elements';
import { packageBasis, packageResult } from '@mesura/core/linePackage/package';
import { fromText, stateText } from '@mesura/core/linePackage/words';
import { circuitAt } from '@mesura/core/reach/circuits';
import { reportOf } from '@mesura/core/reports/linePackage';
import { reportSheets } from '@mesura/core/reports/report';
import { finished } from '@mesura/core/working/steps';
import { done, networkFor, type Command, studiesOf } from '../command';
import { oneOf, Refusal, type Values } from '../options';
import { tableOf, type Column } from '../output';
import { studySummaries } from '../words';

interface Row {
  readonly element: PackageElement;
  readonly station: string;
  readonly from: (element: PackageElement, side: 'sensitivity' | 'security') => string;
}

const percent = (side: 'sensitivity' | 'security') => (row: Row) => row.element[side]?.percent ?? null;
const columns: Column<Row>[] = [
  { head: 'end', name: 'end', value: ({ station }) => station },
  { head: 'code', name: 'code', value: ({ element }) => element.kind.code },
  {
    head: 'element',
    name: 'element',
    value: ({ element: { kind, isUsed } }) => (isUsed ? kind.title : `${kind.title} (not used)`),
  },
  { head: 'value', name: 'value', value: ({ element }) => element.value },
  { head: 'unit', name: 'unit', value: ({ element }) => element.kind.unit },
  { head: 'secondary', name: 'secondary', value: ({ element }) => element.secondary },
  { head: 'sensitive %', name: 'sensitivity_percent', value: percent('sensitivity') },
  { head: 'against', name: 'sensitivity_against', value: (row) => row.from(row.element, 'sensitivity') },
  { head: 'secure %', name: 'security_percent', value: percent('security') },
  { head: 'against', name: 'security_against', value: (row) => row.from(row.element, 'security') },
];

/** The stored package of a line, else a new one; with what the arguments say. */
function packageOf(network: Network, values: Values): LinePackage {
  if (values.line === undefined) throw new Refusal(2, 'package takes a line: --line NAME');
  const line = ofKind(network, 'line').find(({ id, name }) => id === values.line || name === values.line);
  if (!line) throw new Refusal(1, `there is no line "${values.line}"`);
  const { lines } = circuitAt(network, { line: line.id });
  const stored = ofKind(network, 'linePackage').find((each) => lines.includes(each.line));
  const pack = stored ?? newLinePackage(elementIdSchema.parse('package'), line.name, line.id);
  return {
    ...pack,
    ...(values.scheme !== undefined && { scheme: oneOf('--scheme', values.scheme, lineSchemes) }),
    ...(values.criterion !== undefined && { criterion: oneOf('--criterion', values.criterion, loadCriteria) }),
  };
}

/** Exit code 3 where a statement does not hold. */
export const packageCommand: Command = {
  name: 'package',
  takes: 'FILE',
  summary: studySummaries.package,
  run(call) {
    const { values } = call;
    const format = oneOf('--format', values.format, ['table', 'csv', 'json', 'xlsx']);
    const network = networkFor(call, 'package');
    const studies = studiesOf(network);
    const pack = packageOf(network, values);
    const basis = finished(packageBasis(studies, pack));
    if (basis.ends.length === 0) throw new Refusal(1, `${find(network, 'line', pack.line)!.name} ends at no station`);
    const result = packageResult(studies, pack, basis);
    const short = result.statements.filter(({ holds }) => !holds);
    const code = short.length > 0 ? 3 : 0;
    if (format === 'xlsx') {
      const date = new Date().toISOString().slice(0, 10);
      const sheets = reportSheets(reportOf(studies, { pack, basis, result }, date));
      return bytesOf(sheets, 'xlsx').then((bytes) => ({ ...done(''), code, bytes }));
    }
    const stationOf = (end: PackageElement['end']) => basis.ends.find(({ row }) => row.end === end)!.row.stationName;
    const rows = result.elements.map((element): Row => ({
      element,
      station: stationOf(element.end),
      from: (of, side) => {
        const margin = of[side];
        return margin ? `${margin.side} ${fromText(network, margin.figure)}` : '';
      },
    }));
    const output =
      format === 'json'
        ? `${JSON.stringify(
            {
              command: 'package',
              line: pack.line,
              scheme: pack.scheme,
              criterion: pack.criterion,
              ends: basis.ends.map(({ row, runs }) => ({
                station: row.stationName,
                end: row.end,
                relay: row.relay?.device.id ?? null,
                runs: runs.map(({ kind, place, condition, out, largestPhaseA, residualA, residualDeg, smallestV }) => ({
                  kind,
                  place,
                  in: stateText(network, { condition, out }),
                  out,
                  largestPhaseA,
                  residualA,
                  residualDeg,
                  smallestV,
                })),
              })),
              elements: result.elements.map(({ kind, end, decided, override, ...rest }) => ({
                ...rest,
                id: kind.id,
                code: kind.code,
                title: kind.title,
                unit: kind.unit,
                end,
                rule: decided?.by.rule.id ?? null,
                override,
              })),
              loadability: result.loading,
              statements: result.statements,
              gone: result.gone,
            },
            null,
            2,
          )}\n`
        : tableOf(columns, rows, format);
    return {
      code,
      output,
      errors:
        format === 'table'
          ? `${result.statements.length} statements, ${short.length} do not hold\n${short
              .map(
                ({ end, title, marginPercent }) => `not: ${stationOf(end)}, ${title} (${marginPercent.toFixed(1)} %)\n`,
              )
              .join('')}`
          : '',
    };
  },
};
