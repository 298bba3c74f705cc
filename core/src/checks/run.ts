/**
 * All checks of a project over its conditions, in steps that can be left off, and the findings they leave. What a change does not touch is taken over from the run
 * before: a test runs again when the currents, or something that it looks at, have changed.
 */
import type { Condition } from '../model/condition';
import { conditionsKey } from '../grading/figures';
import { nameOf } from '../model/element';
import type { Network } from '../model/network';
import type { Problem } from '../model/problem';
import type { Studies } from '../studies/studies';
import { finished } from '../working/steps';
import { SilentTrace, Trace, type Section } from '../working/trace';
import type { Check, Context, Rule } from './check';
import { ruleNamed, rules as allRules } from './rules';

export interface Run {
  readonly checks: readonly Check[];
  /** Faults in the data. */
  readonly faults: readonly Problem[];
}

interface Result {
  readonly on: readonly unknown[];
  readonly checks: readonly Check[];
  readonly faults: readonly Problem[];
}

const silent = new SilentTrace();

export class Checker {
  private kept = new Map<string, Result>();
  private readonly memory = new Map<string, unknown>();
  private before: { studies: Studies; conditions: string } | null = null;

  constructor(private readonly rules: readonly Rule[] = allRules) {}

  /** Yields the share that is done. */
  *run(studies: Studies, conditions: readonly Condition[] = studies.conditions): Generator<number, Run> {
    const key = conditionsKey(conditions);
    const goesOn = this.before?.conditions === key && this.before.studies.sharesCurrentsWith(studies);
    const earlier = goesOn ? this.kept : new Map<string, Result>();
    const context: Context = { network: studies.network, studies, conditions, memory: this.memory };
    for (const { prepare } of this.rules) if (prepare) yield* prepare(context);
    const tasks = this.rules.flatMap((rule) =>
      [...rule.subjects(context)].map((subject) => ({ rule, subject, key: `${rule.id} ${subject.key}` })),
    );
    const now = new Map<string, Result>();
    const run = { checks: [] as Check[], faults: [] as Problem[] };
    yield 0;
    for (const [k, { rule, subject, key: name }] of tasks.entries()) {
      const known = earlier.get(name);
      const same =
        known && known.on.length === subject.on.length && known.on.every((each, j) => each === subject.on[j]);
      let result = known;
      if (!same) {
        result = {
          on: subject.on,
          checks: 'test' in rule ? rule.test(context, subject.value, silent) : [],
          faults: 'faults' in rule ? rule.faults(context, subject.value) : [],
        };
        yield (k + 1) / tasks.length;
      }
      now.set(name, result!);
      run.checks.push(...result!.checks);
      run.faults.push(...result!.faults);
    }
    this.kept = now;
    this.before = { studies, conditions: key };
    return run;
  }
}

/** A whole run at once; of some rules only where they are named. */
export function checked(
  studies: Studies,
  conditions: readonly Condition[] = studies.conditions,
  only: readonly string[] | null = null,
): Run {
  const chosen = only === null ? allRules : allRules.filter(({ id }) => only.includes(id));
  return finished(new Checker(chosen).run(studies, conditions));
}

/** How a check came about; null when there is no such check any more. */
export function workingOf(
  studies: Studies,
  conditions: readonly Condition[],
  check: Pick<Check, 'id' | 'rule'>,
): { title: string; sections: readonly Section[]; clause?: string } | null {
  const rule = ruleNamed(check.rule);
  if (!rule || !('test' in rule)) return null;
  const context: Context = { network: studies.network, studies, conditions, memory: new Map() };
  if (rule.prepare) finished(rule.prepare(context));
  // Identifiers of checks name their subject: it is tried first, and of many nearly always the only one.
  const named = new Set(check.id.split(' '));
  const subjects = [...rule.subjects(context)];
  const likely = subjects.filter(({ key }) => named.has(key));
  for (const { value } of [...likely, ...subjects.filter(({ key }) => !named.has(key))]) {
    const trace = new Trace();
    const found = rule.test(context, value, trace).find(({ id }) => id === check.id);
    if (found) return { title: found.title, sections: trace.sections, clause: rule.clause };
  }
  return null;
}

/** The checks that do not hold, as findings, with what to do about each. */
const failed = ({ checks }: Run): Problem[] =>
  checks
    .filter(({ verdict }) => verdict === 'short' || verdict === 'doubtful')
    .map(({ severity, code, message, subject, field, proposal }) => ({
      severity,
      code,
      message,
      element: subject,
      ...(field !== undefined && { field }),
      ...(proposal && { proposal }),
    }));

/** The same about more elements than these is one finding. */
const mostAlike = 3;

/** Findings of a run, each with what to do about it: errors first, then warnings, then what was assumed. */
export function findingsOf(run: Run, network: Network, rules: readonly Rule[] = allRules): Problem[] {
  const order = { error: 0, warning: 1, assumed: 2 };
  const advice = new Map(rules.flatMap((rule) => Object.entries(rule.advice)));
  return gathered(
    [...run.faults, ...failed(run)],
    network,
    new Map(rules.flatMap(({ many = {} }) => Object.entries(many))),
  )
    .map((problem) => {
      const todo = problem.todo ?? advice.get(problem.code);
      return todo ? { ...problem, todo } : problem;
    })
    .sort((p, q) => order[p.severity] - order[q.severity]);
}

function gathered(problems: readonly Problem[], network: Network, alike: ReadonlyMap<string, string>): Problem[] {
  const byCode = new Map<string, Problem[]>();
  for (const problem of problems)
    if (alike.has(problem.code) && problem.element)
      byCode.set(problem.code, [...(byCode.get(problem.code) ?? []), problem]);
  const many = [...byCode].filter(([, list]) => list.length > mostAlike);
  const gone = new Set(many.flatMap(([, list]) => list));
  return [
    ...problems.filter((problem) => !gone.has(problem)),
    ...many.map(([code, list]): Problem => {
      const elements = list.map(({ element }) => element!);
      const names = elements.map((id) => nameOf(network.elements.get(id)!));
      const [first] = list;
      return {
        severity: list.some(({ severity }) => severity === 'error') ? 'error' : first.severity,
        code,
        message: `${names.slice(0, 3).join(', ')} and ${names.length - 3} more ${alike.get(code)}`,
        element: first.element,
        elements,
        field: first.field,
      };
    }),
  ];
}

/** All findings of a network in its conditions. */
export const findings = (studies: Studies): Problem[] => findingsOf(checked(studies), studies.network);
