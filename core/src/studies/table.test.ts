import { describe, expect, it } from 'vitest';
import { maximumSources, minimumSources } from '../model/condition';
import { elementId } from '../model/fields';
import { ofKind } from '../model/network';
import { demoNetwork } from '../test/demo';
import { everyKind } from '../test/everyKind';
import { FaultEngine, type PlaceQuery, type StudyQuery } from './engine';
import { faultKinds, solidFault } from '../faults/kinds';
import { RowPacker, rowsOf } from '../faults/answers/packed';
import { methods } from '../faults/answers/query';

const drained = <T>(steps: Generator<number, T>): { value: T; shares: number[] } => {
  const shares: number[] = [];
  for (;;) {
    const step = steps.next();
    if (step.done) return { value: step.value, shares };
    shares.push(step.value);
  }
};

describe('packed rows', () => {
  const network = demoNetwork();
  const engine = new FaultEngine(network);
  const line = ofKind(network, 'line')[0];
  const places: PlaceQuery[] = [
    ...engine.buses(),
    { at: 'line', element: line.id, fraction: 0.3 },
    { at: 'openEnd', element: line.id, terminal: 1 },
    { at: 'terminal', element: line.id, terminal: 1 },
    { at: 'terminal', element: elementId('nobody'), terminal: 0 },
  ];

  it('of solid three-phase faults come in dozens, to the last digit those that are made one by one', () => {
    const all = [network, ...[1, 2, 3, 4, 5].map((seed) => everyKind(seed).network)];
    let computed = 0;
    for (const each of all) {
      const own = new FaultEngine(each);
      const everywhere: PlaceQuery[] = [...each.elements.values()].flatMap((element) =>
        [0, 1, 2].map((terminal): PlaceQuery => ({ at: 'terminal', element: element.id, terminal })),
      );
      for (const condition of [maximumSources.id, minimumSources.id]) {
        const study: StudyQuery = { method: 'iec60909', condition };
        const { value } = drained(own.table(study, solidFault('3ph'), everywhere));
        const rows = own.rows(study, solidFault('3ph'), everywhere);
        expect(rowsOf(value)).toEqual(rows);
        computed += rows.filter(({ result }) => result).length;
      }
    }
    expect(computed).toBeGreaterThan(1000);
    const { shares } = drained(engine.table({ method: 'iec60909', condition: maximumSources.id }, solidFault('3ph')));
    expect(shares).toHaveLength(2 + Math.ceil((engine.buses().length - 1) / 16));
    expect(shares.at(-1)).toBe(1);
  });
  it('come out as they went in: every method, every kind, all sorts of places, refusals', () => {
    let refused = 0;
    let steady = 0;
    for (const method of methods)
      for (const kind of faultKinds) {
        const study: StudyQuery = { method, condition: maximumSources.id };
        const fault = { ...solidFault(kind), breakingS: 0.1, durationS: 1 };
        const { value, shares } = drained(engine.table(study, fault, places));
        const rows = engine.rows(study, fault, places);
        expect(rowsOf(value)).toEqual(rows);
        // What goes between threads is a copy of plain data.
        expect(rowsOf(structuredClone(value))).toEqual(rows);
        expect(shares).toHaveLength(places.length + 1);
        expect(shares.at(-1)).toBe(1);
        refused += rows.filter((row) => row.problems.length > 0).length;
        steady += rows.filter((row) => row.result?.steady).length;
      }
    expect(refused).toBeGreaterThan(0);
    expect(steady).toBeGreaterThan(0);
  });

  it('are all there or none', () => {
    expect(() => new RowPacker({ kind: '3ph', method: 'iec60909', faultCase: 'max' }, 1).done()).toThrow('0 of 1');
  });
});
