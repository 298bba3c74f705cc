import { describe, expect, it } from 'vitest';
import { elementId } from '../model/fields';
import { networkOf } from '../model/network';
import { demoNetwork } from '../test/demo';
import { everyKind } from '../test/everyKind';
import { expectFollowed } from '../test/followed';
import { FaultEngine, methods, type FaultQuery, type PlaceQuery, type StudyQuery } from './engine';
import { maximumSources } from '../model/condition';
import { faultKinds, solidFault } from '../faults/kinds';

const engine = new FaultEngine(demoNetwork());
const study = (over: Partial<StudyQuery> = {}): StudyQuery => ({
  method: 'iec60909',
  condition: maximumSources.id,
  ...over,
});
const bus = (id: string): PlaceQuery => ({ at: 'terminal', element: elementId(id), terminal: 0 });
const level = (query: StudyQuery, fault: FaultQuery, place: PlaceQuery) => engine.row(query, fault, place).result?.ikA;

describe('one question for all methods', () => {
  it('every method answers for every bus of the demo and every kind it knows, with figures everywhere', () => {
    for (const method of methods)
      for (const kind of faultKinds) {
        const rows = engine.rows(study({ method }), solidFault(kind));
        expect(rows).toHaveLength(22);
        for (const row of rows) {
          if (method === 'c37' && kind === '2phE') {
            expect(row.problems).toMatchObject([{ code: 'fault.method' }]);
            continue;
          }
          expect(row.result!.ikA, `${method} ${kind} ${row.name}`).toBeGreaterThan(0);
        }
        const detail = engine.detail(study({ method }), solidFault(kind), bus('bra-11-a'));
        if (method === 'c37' && kind === '2phE') expect(detail.branches).toEqual([]);
        else {
          expect(detail.buses).toHaveLength(22);
          expect(detail.branches.length).toBeGreaterThan(60);
          expect(detail.contributions.length).toBeGreaterThan(4);
          expect(detail.working!.sections.length).toBeGreaterThan(3);
          expectFollowed(detail.working!.sections, `${method} ${kind}`);
        }
      }
  });

  it('an outage as an update is the outage in the condition; conditions open and earth', () => {
    const fault = solidFault('1ph');
    const place = bus('fer-132');
    const out = elementId('cau-fer-2');
    const updated = level(study({ outage: out }), fault, place)!;
    expect(level(study({ alterations: { out: [out] } }), fault, place)).toBeCloseTo(updated, 4);
    const earthed = level(study({ alterations: { earthed: [out] } }), fault, place)!;
    // The dead circuit, earthed at both ends, lowers the zero sequence of the live one.
    expect(earthed).toBeGreaterThan(updated * 1.01);
    const open = study({ alterations: { open: [elementId('bra-q30')] } });
    expect(level(open, solidFault('3ph'), bus('bra-11-a'))).toBeLessThan(
      level(study(), solidFault('3ph'), bus('bra-11-a'))!,
    );
  });

  it('places along lines and at open ends', () => {
    const line = elementId('cau-fer-1');
    const at = (fraction: number) => level(study(), solidFault('3ph'), { at: 'line', element: line, fraction })!;
    expect(at(0.001)).toBeCloseTo(level(study(), solidFault('3ph'), bus('cau-132'))!, -2);
    expect(at(0.999)).toBeCloseTo(level(study(), solidFault('3ph'), bus('fer-132'))!, -2);
    const open = level(study(), solidFault('3ph'), { at: 'openEnd', element: line, terminal: 1 })!;
    expect(open).toBeLessThan(level(study(), solidFault('3ph'), bus('fer-132'))!);
    expect(
      engine.row(study({ outage: line }), solidFault('3ph'), { at: 'line', element: line, fraction: 0.5 }),
    ).toMatchObject({
      result: null,
      problems: [{ code: 'fault.place', element: line }],
    });
    expect(
      engine.row(study({ method: 'c37' }), solidFault('3ph'), { at: 'line', element: line, fraction: 0.5 }).result,
    ).toBeNull();
  });

  it('durations come only when asked for', () => {
    const plain = engine.row(study(), solidFault('3ph'), bus('bra-11-a')).result!;
    expect([plain.ibA, plain.steady, plain.ithA]).toEqual([null, null, null]);
    const asked = engine.row(study(), { ...solidFault('3ph'), breakingS: 0.1, durationS: 1 }, bus('bra-11-a')).result!;
    expect(asked.ibA!).toBeLessThan(asked.ikA);
    expect(asked.steady!.maxA).toBeLessThan(asked.ibA!);
    expect(asked.ithA!).toBeGreaterThan(0.8 * asked.ikA);
    expect(asked.jouleIntegral).toBeCloseTo(asked.ithA! ** 2, 3);
  });

  it('a broken conductor needs the load flow to show; C37 knows one fault at a time', () => {
    const broken = [{ type: 'open' as const, element: elementId('cau-fer-1'), terminal: 0, phases: [0] as const }];
    const still = engine.simultaneous(study(), broken);
    if (!still.ok) throw new Error(still.problems[0].message);
    const negative = (answer: typeof still.answer) =>
      Math.max(...answer.buses.map(({ components }) => Math.hypot(components.negative.re, components.negative.im)));
    // Only the wind farm's current is there to be disturbed.
    const loaded = engine.simultaneous(study({ method: 'superposition' }), broken);
    if (!loaded.ok) throw new Error(loaded.problems[0].message);
    expect(negative(loaded.answer)).toBeGreaterThan(10);
    expect(engine.simultaneous(study({ method: 'c37' }), broken)).toMatchObject({
      ok: false,
      problems: [{ code: 'fault.method' }],
    });
  });

  it('one fault among possible several leaves the voltages of the single one, converters included', () => {
    const place = { at: 'terminal', element: elementId('gal-33'), terminal: 0 } as const;
    for (const kind of faultKinds) {
      const fault = solidFault(kind);
      const single = engine.detail(study(), fault, place).buses;
      const several = engine.simultaneous(study(), [{ type: 'shunt', place, ...fault }]);
      if (!several.ok) throw new Error(several.problems[0].message);
      several.answer.buses.forEach(({ name, components }, k) => {
        for (const sequence of ['positive', 'negative', 'zero'] as const) {
          const { re, im } = single[k].components[sequence];
          const scaleV = single[k].nominalKv * 1000;
          expect(components[sequence].re / scaleV, `${kind} ${name} ${sequence}`).toBeCloseTo(re / scaleV, 8);
          expect(components[sequence].im / scaleV, `${kind} ${name} ${sequence}`).toBeCloseTo(im / scaleV, 8);
        }
      });
    }
  });

  it('a load flow that does not converge is said in every row', () => {
    const network = networkOf(
      [...demoNetwork().elements.values()].map((element) =>
        element.kind === 'load' ? { ...element, ratedMva: element.ratedMva * 100 } : element,
      ),
    );
    const rows = new FaultEngine(network).rows(study({ method: 'superposition' }), solidFault('3ph'));
    expect(rows.every((row) => row.result === null && row.problems[0].code === 'flow.diverged')).toBe(true);
  });

  it('a fault at the generator of a unit takes its own corrections', () => {
    const { network } = everyKind(7);
    const own = new FaultEngine(network).detail(study(), solidFault('3ph'), bus('AUX'));
    const symbols = own.working!.sections.flatMap((section) => section.steps.map((step) => step.result.symbol));
    expect(symbols).toContain('KG,SO');
    expect(symbols).not.toContain('KSO');
  });
});
