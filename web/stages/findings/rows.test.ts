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
    // A breaker short of its fault current, and margins of the grading in the condition that decided.
    const told = unmet.map(({ subject, condition }) => `${subject}: ${condition}`);
    for (const each of ['BRA F51: Maximum sources', 'Brackwater 11 kV, earth: Night, coupler open'])
      expect(told).toContain(each);
    expect(rowsFor(checks, network, { ...plain, shown: 'failed' })).toEqual(
      rows.filter(({ verdict }) => ['not met', 'warning'].includes(verdict)),
    );
    expect(rows[0].margin).toBeCloseTo(rows[0].check.value! - rows[0].check.bound!, 12);
  });
  it('filtered by all words typed, in any of their columns', () => {
    const rows = rowsFor(checks, network, { ...plain, filter: 'bra q21 Margin' });
    expect(rows.length).toBeGreaterThan(1);
    for (const { check, subject, condition } of rows)
      for (const word of [/bra/i, /q21/i, /margin/i]) expect(`${subject} ${check.title} ${condition}`).toMatch(word);
    expect(rowsFor(checks, network, { ...plain, filter: 'nothing like it' })).toEqual([]);
  });
  it('changed ones against a kept run: worse before better', () => {
    const relay = find(network, 'relay', elementId('bra-q21-relay'))!;
    const [first, ...rest] = relay.functions as OvercurrentFunction[];
    const raised = withElements(network, [{ ...relay, functions: [{ ...first, timeMultiplier: 0.2 }, ...rest] }]);
    const after = checked(new Studies(raised)).checks;
    const rows = rowsFor(after, raised, { ...plain, shown: 'changed', kept: checks });
    const changes = rows.map(({ change }) => change);
    expect(new Set(changes)).toEqual(new Set(['worse', 'better']));
    expect(changes).toEqual([...changes].sort((p, q) => (p === q ? 0 : p === 'worse' ? -1 : 1)));
    expect(rows[0].check.title).toContain('BRA Q21 relay →');
    expect(
      rows.find(({ check }) => check.title.includes('BRA Q32 relay → BRA Q21 relay, phase'))!.before!.verdict,
    ).toBe('short');
    expect(rowsFor(checks, network, { ...plain, shown: 'changed', kept: checks })).toEqual([]);
  });
});
