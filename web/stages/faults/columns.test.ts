import { describe, expect, it } from 'vitest';
import { FaultEngine, methods } from '@mesura/core/studies/engine';
import { networkOf } from '@mesura/core/model/network';
import { demoNetwork } from '@mesura/core/test/demo';
import { busPlace, plainSetup, samePlace, type FaultSetup } from './state';
import { maximumSources, minimumSources } from '@mesura/core/model/condition';
import { elementId } from '@mesura/core/model/fields';
import { figureColumns } from './columns';
import { queriesOf } from './queries';
import { currentSymbol } from './useFaults';

const engine = new FaultEngine(demoNetwork());
const rowsOf = (setup: FaultSetup) => {
  const { study, fault } = queriesOf(setup, maximumSources.id);
  return engine.rows(study, fault);
};

describe('columns of the fault table', () => {
  it.each(methods)('%s: every column has its figure, in the unit of its head', (method) => {
    for (const durations of [false, true]) {
      const setup: FaultSetup = { ...plainSetup, method, durations };
      const columns = figureColumns(setup);
      expect(new Set(columns.map(({ id }) => id)).size).toBe(columns.length);
      for (const row of rowsOf(setup))
        for (const column of columns) {
          const value = column.value(row);
          expect(value, `${method} ${row.name} ${column.head}`).not.toBeNull();
          expect(Number.isFinite(value)).toBe(true);
          if (column.head.endsWith('kA')) expect(value!).toBeLessThan(120);
        }
    }
  });
  it('earth faults show 3I0 in place of the power', () => {
    const heads = figureColumns({ ...plainSetup, kind: '1ph' }).map(({ head }) => head);
    expect(heads).toContain('3I0 kA');
    expect(heads).not.toContain('Sk″ MVA');
  });
  it('a refused row has no figures', () => {
    const { study, fault } = queriesOf(plainSetup, maximumSources.id);
    const [row] = new FaultEngine(networkOf([])).rows(study, fault, [busPlace(elementId('nobody'))]);
    for (const column of figureColumns(plainSetup)) expect(column.value(row)).toBeNull();
  });
});

describe('the setup as questions', () => {
  it('durations, impedances and the breaker go along only where they count', () => {
    const { study, fault } = queriesOf({ ...plainSetup, phaseR: 2, earthX: 3, breakingS: 0.05 }, minimumSources.id);
    expect(study).toMatchObject({ method: 'iec60909', condition: 'minimum', outage: null });
    expect(fault).toMatchObject({
      phaseOhm: { re: 2, im: 0 },
      earthOhm: { re: 0, im: 3 },
      breakingS: null,
      durationS: null,
    });
    expect(queriesOf({ ...plainSetup, durations: true }, maximumSources.id).fault).toMatchObject({
      breakingS: 0.1,
      durationS: 1,
    });
  });
  it('names and places', () => {
    expect(methods.map(currentSymbol)).toEqual(['Ik″', 'Isym', 'I']);
    expect(samePlace(busPlace(elementId('a')), busPlace(elementId('a')))).toBe(true);
    expect(samePlace(busPlace(elementId('a')), { at: 'line', element: elementId('a'), fraction: 0.5 })).toBe(false);
    expect(samePlace(null, null)).toBe(true);
  });
});
