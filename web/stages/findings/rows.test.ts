import { describe, expect, it } from 'vitest';
import { checked } from '@mesura/core/checks/run';
import { find, withElements } from '@mesura/core/model/network';
import { elementId } from '@mesura/core/model/fields';
import type { OvercurrentFunction } from '@mesura/core/protection/overcurrent/schema';
import { Studies } from '@mesura/core/studies/studies';
import { demoNetwork } from '@mesura/core/test/demo';
import { rowsFor } from './rows';

const network = demoNetwork();
const { checks } = checked(new Studies(network));
const plain = { shown: 'all' as const, filter: '', kept: null };

describe('rows of the checks', () => {
  it('not met first, each with its margin and the condition that decided', () => {
    const rows = rowsFor(checks, network, plain);
    expect(rows).toHaveLength(checks.length);
    const unmet = rows.filter(({ verdict }) => verdict === 'not met');
    expect(rows.slice(0, unmet.length)).toEqual(unmet);
    // A board short of its fault current, a conductor too thin, and two margins of the grading.
    expect(unmet.map(({ subject, condition }) => `${subject.slice(0, 13)}: ${condition}`)).toEqual([
      'BRA F51: Maximum sources',
      'BRA F51: Maximum sources',
      'FER-PEN: Maximum sources',
      'Brackwater lo: Night, coupler open',
      'Brackwater 11: Night, coupler open',
    ]);
    expect(rowsFor(checks, network, { ...plain, shown: 'failed' })).toEqual(
      rows.filter(({ verdict }) => ['not met', 'warning'].includes(verdict)),
    );
    expect(rows[0].margin).toBeCloseTo(rows[0].check.value! - rows[0].check.bound!, 12);
  });
  it('filtered by all words typed, in any of their columns', () => {
    const rows = rowsFor(checks, network, { ...plain, filter: 'bra q21 Margin' });
    expect(rows.length).toBeGreaterThan(1);
    for (const { check, subject } of rows)
      for (const word of [/bra/i, /q21/i, /margin/i]) expect(`${subject} ${check.title}`).toMatch(word);
    expect(rowsFor(checks, network, { ...plain, filter: 'nothing like it' })).toEqual([]);
  });
  it('changed ones against a kept run: worse before better', () => {
    const relay = find(network, 'relay', elementId('bra-q21-relay'))!;
    const [first, ...rest] = relay.functions as OvercurrentFunction[];
    const raised = withElements(network, [{ ...relay, functions: [{ ...first, timeMultiplier: 0.2 }, ...rest] }]);
    const after = checked(new Studies(raised)).checks;
    const rows = rowsFor(after, raised, { ...plain, shown: 'changed', kept: checks });
    expect(rows[0].change).toBe('worse');
    expect(new Set(rows.slice(1).map(({ change }) => change))).toEqual(new Set(['better']));
    expect(rows[0].check.title).toContain('BRA Q21 relay → BRA Q11 relay');
    expect(
      rows.find(({ check }) => check.title.includes('BRA Q32 relay → BRA Q21 relay, phase'))!.before!.verdict,
    ).toBe('short');
    expect(rowsFor(checks, network, { ...plain, shown: 'changed', kept: checks })).toEqual([]);
  });
});
