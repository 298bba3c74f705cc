/** How rules are run, taken over, and told: with rules made up for it. */
import { describe, expect, it } from 'vitest';
import { elementId } from '../model/fields';
import { maximumSources } from '../model/condition';
import { find, withElements } from '../model/network';
import type { Problem } from '../model/problem';
import { demoNetwork } from '../test/demo';
import { Studies } from '../studies/studies';
import { checkRule, dataRule, digits, listed, verdictTitles, wholeNetwork, type Check, type Rule } from './check';
import { Checker, checked, findingsOf, workingOf } from './run';
import { ruleNamed, rules } from './rules';

const id = elementId;
const network = demoNetwork();
const studies = new Studies(network);

const made = (subject: string, over: Partial<Check> = {}): Check => ({
  id: `check ${subject}`,
  rule: 'made.up',
  code: 'made.short',
  subject: id(subject),
  title: 'Made up',
  value: 1,
  bound: 2,
  unit: '',
  sense: 'atLeast',
  deciding: null,
  verdict: 'short',
  severity: 'warning',
  message: `${subject} is short`,
  ...over,
});

/** One subject for each name, looking at the element of that name; counts what it tests. */
const counting = (names: readonly string[], tested: string[]): Rule =>
  checkRule<string>({
    id: 'made.up',
    title: 'Made up',
    advice: { 'made.short': 'Make it longer.' },
    subjects: ({ network: now }) => names.map((name) => ({ key: name, value: name, on: [now.elements.get(id(name))] })),
    test: (_, name) => {
      tested.push(name);
      return [made(name)];
    },
  });

function steps(checker: Checker, of: Studies, conditions = of.conditions) {
  const shares: number[] = [];
  const run = checker.run(of, conditions);
  for (;;) {
    const step = run.next();
    if (step.done) return { shares, run: step.value };
    shares.push(step.value);
  }
}

describe('a run of the rules', () => {
  const names = ['bra-t1', 'bra-t2', 'fer-t1'];
  it('tests every subject, says how far it is, and takes over what nothing touches', () => {
    const tested: string[] = [];
    const checker = new Checker([counting(names, tested)]);
    const first = steps(checker, studies);
    expect(first.shares).toEqual([0, 1 / 3, 2 / 3, 1]);
    expect(first.run.checks.map(({ subject }) => subject)).toEqual(names);
    expect(tested).toEqual(names);
    // The same again, and with an element moved that one of them looks at: only that one.
    expect(steps(checker, studies).shares).toEqual([0]);
    const t2 = find(network, 'transformer', id('bra-t2'))!;
    const moved = withElements(network, [{ ...t2, x: t2.x + 10 }]);
    const next = new Studies(moved, { studies, changed: [t2.id] });
    const second = steps(checker, next);
    expect(second.shares).toEqual([0, 2 / 3]);
    expect(tested.slice(3)).toEqual(['bra-t2']);
    expect(second.run.checks).toEqual(first.run.checks);
  });
  it('begins anew when the currents change, or the conditions', () => {
    const tested: string[] = [];
    const checker = new Checker([counting(names, tested)]);
    steps(checker, studies);
    steps(checker, studies, [maximumSources]);
    expect(tested).toHaveLength(6);
    const t2 = find(network, 'transformer', id('bra-t2'))!;
    const other = new Studies(withElements(network, [{ ...t2, ukPercent: 12 }]), { studies, changed: [t2.id] });
    steps(checker, other, [maximumSources]);
    expect(tested).toHaveLength(9);
  });
  it('begins anew for a subject that looks at more or less than before', () => {
    const tested: string[] = [];
    const on: unknown[][] = [[1], [1], [1, 2], [1]];
    const rule = checkRule<null>({
      id: 'made.up',
      title: '',
      advice: {},
      subjects: () => [{ key: 'x', value: null, on: on[0] }],
      test: () => (tested.push('x'), []),
    });
    const checker = new Checker([rule]);
    for (const expected of [1, 1, 2, 3]) {
      steps(checker, studies);
      expect(tested).toHaveLength(expected);
      on.shift();
    }
  });
  it('keeps apart what fails as a check and what is wrong in the data', () => {
    const wrong = (name: string): Problem => ({
      severity: 'error',
      code: 'data.odd',
      message: name,
      element: id(name),
    });
    const faulty = dataRule({
      id: 'made.data',
      title: '',
      advice: { 'data.odd': 'Even it out.' },
      subjects: wholeNetwork,
      faults: () => [wrong('bra-t1')],
    });
    const { run } = steps(new Checker([faulty, counting(['fer-t1'], [])]), studies);
    expect(run.faults).toEqual([wrong('bra-t1')]);
    expect(run.checks).toEqual([made('fer-t1')]);
    expect(wholeNetwork({ network, studies, conditions: [], memory: new Map() })).toEqual([
      { key: 'network', value: network, on: [network] },
    ]);
  });
});

describe('findings of a run', () => {
  const advice = checkRule<null>({
    id: 'made.up',
    title: '',
    advice: { 'made.short': 'Make it longer.', 'made.many': 'Make them longer.' },
    many: { 'made.many': 'are too short' },
    subjects: () => [],
    test: () => [],
  });
  const findings = (checks: readonly Check[], faults: readonly Problem[] = []) =>
    findingsOf({ checks, faults }, network, [advice]);
  it('are the checks that are short or doubtful, with what to do about each', () => {
    const held = (['holds', 'notApplicable'] as const).map((verdict) => made('bra-t1', { verdict }));
    expect(findings(held)).toEqual([]);
    expect(findings([made('bra-t1', { verdict: 'doubtful' })])).toEqual([
      {
        severity: 'warning',
        code: 'made.short',
        message: 'bra-t1 is short',
        element: 'bra-t1',
        todo: 'Make it longer.',
      },
    ]);
    const proposal = { text: '3', takes: [{ path: 'x', value: 3 }] };
    expect(findings([made('bra-t1', { field: 'x', proposal })])).toMatchObject([{ field: 'x', proposal }]);
    const [plain] = findings([made('bra-t1')]);
    expect('field' in plain || 'proposal' in plain).toBe(false);
    expect('todo' in findings([made('bra-t1', { code: 'unheard.of' })])[0]).toBe(false);
  });
  it('keep the advice that they bring, and come by severity, errors first', () => {
    const faults: Problem[] = [
      { severity: 'assumed', code: 'x', message: 'third' },
      { severity: 'warning', code: 'made.short', message: 'second', todo: 'Its own.' },
      { severity: 'error', code: 'x', message: 'first' },
    ];
    const found = findings([made('bra-t1', { severity: 'error' })], faults);
    expect(found.map(({ message }) => message)).toEqual(['first', 'bra-t1 is short', 'second', 'third']);
    expect(found[2].todo).toBe('Its own.');
  });
  it('that say the same of more than three elements are one', () => {
    const names = ['bra-t1', 'bra-t2', 'fer-t1', 'fer-t2'];
    const many = (count: number, over: Partial<Problem> = {}) =>
      names.slice(0, count).map((name): Problem => ({
        severity: 'warning',
        code: 'made.many',
        message: name,
        element: id(name),
        field: 'x',
        ...over,
      }));
    expect(findings([], many(3))).toHaveLength(3);
    expect(findings([], many(4))).toEqual([
      {
        severity: 'warning',
        code: 'made.many',
        message: 'BRA T1, BRA T2, FER T1 and 1 more are too short',
        element: 'bra-t1',
        elements: names,
        field: 'x',
        todo: 'Make them longer.',
      },
    ]);
    const [last, ...rest] = many(4).reverse();
    expect(findings([], [...rest, { ...last, severity: 'error' }])).toMatchObject([{ severity: 'error' }]);
    // Not alike, or of nothing in particular: each for itself.
    expect(findings([], many(4, { code: 'made.short' }))).toHaveLength(4);
    expect(findings([], many(4, { element: undefined }))).toHaveLength(4);
    expect(findings([made('fer-t1')], many(4)).map(({ code }) => code)).toEqual(['made.short', 'made.many']);
  });
});

describe('the rules of the product', () => {
  it('each have an identifier of their own and something to say for every code, and are found by it', () => {
    expect(new Set(rules.map((rule) => rule.id)).size).toBe(rules.length);
    for (const rule of rules) {
      expect(ruleNamed(rule.id)).toBe(rule);
      expect(rule.title).not.toBe('');
      expect([rule.id, Object.keys(rule.advice).length > 0]).toEqual([rule.id, true]);
      for (const code of Object.keys(rule.many ?? {})) expect(rule.advice).toHaveProperty([code]);
    }
    expect(ruleNamed('nothing')).toBeUndefined();
  });
  it('give every check an identifier of its own, and a working for each that has figures to follow', () => {
    const { checks } = checked(studies);
    expect(new Set(checks.map((check) => check.id)).size).toBe(checks.length);
    for (const check of checks) {
      expect(ruleNamed(check.rule)).toBeDefined();
      expect(verdictTitles[check.verdict]).toBeTruthy();
    }
    const [pair] = checks.filter(({ rule }) => rule === 'grading.pairs');
    expect(workingOf(studies, studies.conditions, pair)).toMatchObject({ title: pair.title });
    expect(workingOf(studies, studies.conditions, { ...pair, id: 'pair of nobody' })).toBeNull();
    expect(workingOf(studies, studies.conditions, { ...pair, rule: 'nothing' })).toBeNull();
    expect(workingOf(studies, studies.conditions, { ...pair, rule: 'data.assumed' })).toBeNull();
  });
  it('write names and figures short', () => {
    expect(listed(['a', 'b', 'c', 'd'])).toBe('a, b, c, d');
    expect(listed(['a', 'b', 'c', 'd', 'e'])).toBe('a, b, c and 2 more');
    expect(digits(12.34567)).toBe(12.35);
  });
});
