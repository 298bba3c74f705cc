/** Rulebooks: what ships can be used, files between projects, what differs. */
import { describe, expect, it } from 'vitest';
import { elementId } from '../model/fields';
import { rulebookSchema, ruleSubjects, type Rulebook } from '../model/rulebook';
import { curvesOf } from '../protection/curve';
import { deviceOf } from '../protection/device';
import { demoNetwork } from '../test/demo';
import { settingsOf, withElements, type Network } from '../model/network';
import { bookOf, readyBook, rulesFor } from './book';
import { readRulebook, ruleDifferences, writeRulebook } from './exchange';
import { requiredMargin } from './margins';
import { namesFor } from './names';
import { plainPractice } from './plainPractice';

const id = elementId;
const own = (over: Partial<Rulebook> = {}): Rulebook => ({ ...plainPractice, id: id('own'), name: 'Own', ...over });
const changed = (rule: string, over: Partial<Rulebook['rules'][number]>): Rulebook =>
  own({ rules: plainPractice.rules.map((each) => (each.id === rule ? { ...each, ...over } : each)) });

describe('plain practice', () => {
  it('can be stored, every formula can be used, and every rule says why', () => {
    expect(rulebookSchema.parse(plainPractice)).toEqual(plainPractice);
    for (const { problems } of readyBook(plainPractice)) expect(problems).toEqual([]);
    for (const { reason, clause, remembered } of plainPractice.rules) {
      expect(reason.length).toBeGreaterThan(15);
      // Nobody here could look a clause up.
      expect(remembered).toBe(clause !== '');
    }
    expect(new Set(plainPractice.rules.map(({ subject }) => subject))).toEqual(new Set(ruleSubjects));
  });
  it('names each quantity once, without those that are units', () => {
    for (const subject of ruleSubjects) {
      const names = namesFor(subject).map(({ name }) => name);
      expect(new Set(names).size).toBe(names.length);
      expect(names.filter((name) => /^(A|kA|s|ms|V|kV|ohm|m|km|W)$/.test(name))).toEqual([]);
    }
  });
  it('is in use until a project has a book of its own, for devices of what lies behind them', () => {
    const network = demoNetwork();
    expect(bookOf(network)).toBe(plainPractice);
    const book = own();
    expect(bookOf(withElements(network, [book, { ...settingsOf(network), rulebook: book.id }]))).toBe(book);
    const ids = (behind: ('motor' | 'line')[]) =>
      rulesFor(plainPractice, 'phaseDelayed', new Set(behind)).map(({ rule }) => rule.id);
    expect(ids(['motor'])).toContain('passes-start');
    expect(ids(['line'])).not.toContain('passes-start');
  });
});

describe('a rule of the margin', () => {
  const network = demoNetwork();
  const using = (book: Rulebook): Network =>
    withElements(network, [book, { ...settingsOf(network), rulebook: book.id }]);
  const between = (below: string, above: string, formula: string) =>
    requiredMargin(
      using(changed('margin', { formula })),
      ...([below, above].map((each) => curvesOf(deviceOf(network, id(each))!)) as [never, never]),
    );
  it('knows the breaker, the errors and the overshoot of the two devices', () => {
    expect(between('bra-q32-relay', 'bra-q21-relay', 'projectMargin').marginS).toBe(0.3);
    // 60 ms and 15 ms of arc; errors of 10 ms each, 30 ms of overshoot.
    const built = between(
      'bra-q32-relay',
      'bra-q21-relay',
      'breakerTime + lowerError + upperError + overshoot + 0.1 s',
    );
    expect(built.marginS).toBeCloseTo(0.075 + 0.01 + 0.01 + 0.03 + 0.1, 9);
    expect(built.rule!.id).toBe('margin');
    expect(between('pen-f1', 'bra-q21-relay', 'breakerTime + 0.2 s').marginS).toBeCloseTo(0.2, 9);
  });
  it('that cannot be used leaves the margin of the project, and none goes below nothing', () => {
    expect(between('bra-q32-relay', 'bra-q21-relay', 'projectMargin +')).toEqual({ marginS: 0.3, rule: null });
    expect(between('bra-q32-relay', 'bra-q21-relay', '-1 s').marginS).toBe(0);
  });
});

describe('between projects', () => {
  it('a book goes out as a file and comes back as it was', () => {
    const book = changed('carries-load', { formula: '1.5 * load' });
    expect(readRulebook(writeRulebook(book), id('another'))).toEqual({ ok: true, book: { ...book, id: 'another' } });
  });
  it.each([
    ['no JSON', '{', 'cannot be read as JSON'],
    ['another file', '{"format":"something"}', 'no rulebook of Mesura'],
    ['another version', '{"format":"mesura-rulebook","version":9}', 'version 9'],
    ['no rules', '{"format":"mesura-rulebook","version":1,"name":"x"}', 'rules'],
    [
      'a formula that is none',
      writeRulebook(changed('carries-load', { formula: '1.5 * laod' })),
      'Carries the load, formula "1.5 * laod": there is no "laod"',
    ],
    ['a time without its current', writeRulebook(changed('passes-start', { at: null })), 'says at which current'],
    [
      'a rule twice',
      writeRulebook(own({ rules: [plainPractice.rules[0], plainPractice.rules[0]] })),
      'same identifier',
    ],
  ])('%s is refused', (_, text, message) => {
    const read = readRulebook(text, id('another'));
    expect(read.ok).toBe(false);
    expect(JSON.stringify(!read.ok && read.problems)).toContain(message.replaceAll('"', '\\"'));
  });
  it('says which rules differ, in which fields, and which only one of them has', () => {
    const [first, ...rest] = changed('sees-smallest', { importance: 3, formula: 'smallestFault / 2' }).rules;
    const after = own({ rules: [...rest, { ...first, id: 'new-one', title: 'New' }] });
    expect(
      ruleDifferences(plainPractice, after).map(({ id: of, fields, before, after: now }) => [
        of,
        fields.join(),
        before !== null,
        now !== null,
      ]),
    ).toEqual([
      ['sees-smallest', 'formula,importance', true, true],
      ['new-one', '', false, true],
      [first.id, '', true, false],
    ]);
    expect(ruleDifferences(plainPractice, own())).toEqual([]);
  });
});
