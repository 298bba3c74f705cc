/** `mesura verify`: all checks of a project over its conditions, as a test run of the settings. */
import { XMLBuilder } from 'fast-xml-parser';
import { marginOf, verdictTitles, type Check } from '@mesura/core/checks/check';
import { compareChecks, type Changed } from '@mesura/core/checks/compare';
import { checked, type Run } from '@mesura/core/checks/run';
import { faultKindTitles } from '@mesura/core/faults/kinds';
import type { Condition } from '@mesura/core/model/condition';
import { nameOf } from '@mesura/core/model/element';
import type { Network } from '@mesura/core/model/network';
import { conditionOf } from '@mesura/core/model/state';
import { networkFrom, wholeNetworkFor, type Command, studiesOf } from '../command';
import { conditionsAsked, oneOf } from '../options';
import { tableOf, type Column } from '../output';
import { studySummaries } from '../words';

export const verifyCommand: Command = {
  name: 'verify',
  takes: 'FILE',
  summary: studySummaries.verify,
  run(call) {
    const { values, read } = call;
    const format = oneOf('--format', values.format, ['table', 'csv', 'json', 'junit']);
    const [show] = (values.show ?? ['failed']).map((what) => oneOf('--show', what, ['all', 'failed']));
    const network = wholeNetworkFor(call, 'verify');
    const conditionsIn = (of: Network): readonly Condition[] =>
      values.condition?.length || values.case ? conditionsAsked(of, values) : studiesOf(of).conditions;
    const runOf = (of: Network) => checked(studiesOf(of), conditionsIn(of));
    const run = runOf(network);
    const changes =
      values.against === undefined ? null : compareChecks(runOf(networkFrom(values.against, read)).checks, run.checks);
    const rows = run.checks.map((check) => rowOf(network, check));
    const { failed, summary } = counted(run);
    const shown = format === 'table' && show === 'failed' ? rows.filter(({ holds }) => !holds) : rows;
    const output =
      format === 'json'
        ? `${JSON.stringify(asJson(network, conditionsIn(network), run, rows, changes), null, 2)}\n`
        : format === 'junit'
          ? junit(run, rows)
          : [tableOf(columns, shown, format), ...(changes && format === 'table' ? [changesTable(changes)] : [])].join(
              '\n',
            );
    const faults = run.faults
      .filter(({ severity }) => severity !== 'assumed')
      .map(({ message }) => `note: ${message}\n`);
    return { code: failed > 0 ? 3 : 0, output, errors: [...faults, `${summary}\n`].join('') };
  },
};

interface Row {
  readonly check: Check;
  readonly subject: string;
  readonly margin: number | null;
  readonly verdict: string;
  readonly holds: boolean;
  readonly condition: string;
  readonly fault: string;
}

function rowOf(network: Network, check: Check): Row {
  const { deciding } = check;
  return {
    check,
    subject: nameOf(network.elements.get(check.subject)!),
    margin: marginOf(check),
    verdict: verdictTitles[check.verdict],
    holds: check.verdict === 'holds' || check.verdict === 'notApplicable',
    condition: deciding ? (conditionOf(network, deciding.condition)?.name ?? '') : '',
    fault: deciding?.kind ? faultKindTitles[deciding.kind] : '',
  };
}

const columns: Column<Row>[] = [
  { head: 'subject', name: 'subject', value: (row) => row.subject },
  { head: 'check', name: 'check', value: (row) => row.check.title },
  { head: 'value', name: 'value', value: (row) => row.check.value },
  { head: 'bound', name: 'bound', value: (row) => row.check.bound },
  { head: 'unit', name: 'unit', value: (row) => row.check.unit },
  { head: 'margin', name: 'margin', value: (row) => row.margin },
  { head: 'condition', name: 'condition', value: (row) => row.condition },
  { head: 'fault', name: 'fault', value: (row) => row.fault },
  { head: 'verdict', name: 'verdict', value: (row) => row.verdict },
];

/** A fault in the data that makes results wrong counts as a check that is not met. */
function counted({ checks, faults }: Run) {
  const short = checks.filter(({ verdict }) => verdict === 'short').length;
  const doubtful = checks.filter(({ verdict }) => verdict === 'doubtful').length;
  const errors = faults.filter(({ severity }) => severity === 'error').length;
  return {
    failed: short + errors,
    summary: `${checks.length} checks: ${checks.length - short - doubtful} OK, ${short} not met, ${doubtful} warnings; ${errors} errors in the data`,
  };
}

const asJson = (
  network: Network,
  conditions: readonly Condition[],
  run: Run,
  rows: readonly Row[],
  changes: readonly Changed[] | null,
) => ({
  command: 'verify',
  conditions: conditions.map(({ name }) => name),
  holds: counted(run).failed === 0,
  checks: rows.map(({ check, subject, margin, condition, fault }) => ({
    id: check.id,
    rule: check.rule,
    subject,
    subjectId: check.subject,
    title: check.title,
    value: check.value,
    bound: check.bound,
    unit: check.unit,
    sense: check.sense,
    margin,
    verdict: check.verdict,
    condition: condition || null,
    fault: fault || null,
    message: check.message,
  })),
  faults: run.faults.map(({ severity, code, message, element }) => ({
    severity,
    code,
    message,
    element: element ? nameOf(network.elements.get(element)!) : null,
  })),
  ...(changes && { changes }),
});

const changesTable = (changes: readonly Changed[]): string =>
  changes.length === 0
    ? 'nothing got worse, nothing better\n'
    : tableOf<Changed>(
        [
          { head: 'change', name: 'change', value: ({ way }) => way },
          { head: 'check', name: 'check', value: ({ title }) => title },
          { head: 'before', name: 'before', value: ({ before }) => before?.value ?? null },
          { head: 'now', name: 'now', value: ({ after }) => after?.value ?? null },
          {
            head: 'verdict before',
            name: 'verdict_before',
            value: ({ before }) => (before ? verdictTitles[before.verdict] : ''),
          },
          {
            head: 'verdict now',
            name: 'verdict_now',
            value: ({ after }) => (after ? verdictTitles[after.verdict] : ''),
          },
        ],
        changes,
        'table',
      );

/** One suite a rule and one for the data; a check that is not met is a failure, a warning is told as output. */
function junit({ checks, faults }: Run, rows: readonly Row[]): string {
  const suites = [...new Set(checks.map(({ rule }) => rule))].map((rule) => {
    const own = rows.filter(({ check }) => check.rule === rule);
    return {
      '@name': rule,
      '@tests': own.length,
      '@failures': own.filter(({ check }) => check.verdict === 'short').length,
      testcase: own.map(({ check, subject }) => ({
        '@classname': subject,
        '@name': check.title,
        ...(check.verdict === 'short' && { failure: { '@message': check.message, '@type': check.code } }),
        ...(check.verdict === 'notApplicable' && { skipped: '' }),
        ...(check.verdict === 'doubtful' && { 'system-out': check.message }),
      })),
    };
  });
  const data = {
    '@name': 'data',
    '@tests': faults.length,
    '@failures': faults.filter(({ severity }) => severity === 'error').length,
    testcase: faults.map(({ severity, code, message }) => ({
      '@classname': code,
      '@name': message,
      ...(severity === 'error' && { failure: { '@message': message, '@type': code } }),
    })),
  };
  const builder = new XMLBuilder({
    ignoreAttributes: false,
    attributeNamePrefix: '@',
    format: true,
    suppressEmptyNode: true,
  });
  const xml = { '?xml': { '@version': '1.0', '@encoding': 'UTF-8' }, testsuites: { testsuite: [...suites, data] } };
  return builder.build(xml) as string;
}
