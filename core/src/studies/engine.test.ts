import { describe, expect, it } from 'vitest';
import { elementId } from '../model/fields';
import type { ElementOf } from '../model/element';
import { networkOf, withElements } from '../model/network';
import { demoNetwork } from '../test/demo';
import { everyKind } from '../test/everyKind';
import { Builder } from '../test/network';
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
        expect(rows).toHaveLength(23);
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
          expect(detail.buses).toHaveLength(23);
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

  it('buses come highest voltage first, then by name, with numbers in names as numbers', () => {
    const b = new Builder();
    for (const [id, nominalKv] of Object.entries({ B10: 20, C: 0.4, B9: 20, A: 0.4, Top: 110 }))
      b.add('bus', id, { nominalKv });
    const order = new FaultEngine(b.network()).buses().map(({ element }) => element);
    expect(order).toEqual(['Top', 'B9', 'B10', 'A', 'C']);
  });

  it('places are called by what stands there', () => {
    const line = elementId('cau-fer-1');
    const names = [
      bus('fer-132'),
      { at: 'terminal', element: line, terminal: 1 },
      { at: 'line', element: line, fraction: 0.123456 },
      { at: 'openEnd', element: line, terminal: 0 },
    ] as PlaceQuery[];
    const { name } = engine.network.elements.get(line) as { name: string };
    expect(engine.rows(study(), solidFault('3ph'), names).map((row) => row.name)).toEqual([
      'FER 132',
      `${name}, terminal 2`,
      `${name} at 12.35 %`,
      `${name}, end 1 open`,
    ]);
    expect(engine.row(study(), solidFault('3ph'), names[0]).nominalKv).toBe(132);
  });

  it('a condition that does not exist is refused wherever it is asked for', () => {
    const unknown = study({ condition: elementId('nowhere') });
    const refusal = [{ code: 'condition.unknown' }];
    expect(engine.problems(unknown)).toMatchObject(refusal);
    expect(engine.simultaneous(unknown, [])).toMatchObject({ ok: false, problems: refusal });
    const detail = engine.detail(unknown, solidFault('3ph'), bus('fer-132'));
    expect(detail).toEqual({
      row: expect.objectContaining({ result: null, problems: [expect.objectContaining(refusal[0])] }) as unknown,
      contributions: [],
      flows: [],
      branches: [],
      buses: [],
      working: null,
    });
  });

  it('what is out of service has no fault inside it; its terminals still name a place', () => {
    const line = elementId('cau-fer-1');
    const out = study({ outage: line });
    expect(engine.row(out, solidFault('3ph'), { at: 'openEnd', element: line, terminal: 0 }).problems).toMatchObject([
      { code: 'fault.place', element: line },
    ]);
    expect(engine.row(study(), solidFault('3ph'), { at: 'openEnd', element: line, terminal: 0 }).problems).toEqual([]);
    expect(
      engine.row(out, solidFault('3ph'), { at: 'terminal', element: line, terminal: 0 }).result!.ikA,
    ).toBeGreaterThan(0);
  });

  it('problems of a study: of the data, and of its load flow', () => {
    for (const method of methods) expect(engine.problems(study({ method }))).toEqual([]);
    const heavy = networkOf(
      [...demoNetwork().elements.values()].map((element) =>
        element.kind === 'load' ? { ...element, ratedMva: element.ratedMva * 100 } : element,
      ),
    );
    const overloaded = new FaultEngine(heavy);
    expect(overloaded.problems(study({ method: 'superposition' })).map(({ code }) => code)).toContain('flow.diverged');
    expect(overloaded.problems(study())).toEqual([]);
    expect(overloaded.problems(study({ method: 'c37' }))).toEqual([]);
    const loose = new Builder();
    loose.add('bus', 'A', { nominalKv: 20 });
    const dead = new FaultEngine(loose.network());
    for (const method of ['iec60909', 'c37'] as const) {
      expect(
        dead.problems(study({ method })).map(({ code }) => code),
        method,
      ).toContain('supply.none');
    }
  });

  it('a study by C37 is made with what was asked for: prefault voltage, E/X or E/Z', () => {
    const at = (over: Partial<StudyQuery>) =>
      level(study({ method: 'c37', ...over }), solidFault('3ph'), bus('bra-11-a'))!;
    expect(at({ prefaultPercent: 105 }) / at({})).toBeCloseTo(1.05, 9);
    expect(at({ current: 'E/Z' })).toBeLessThan(at({ current: 'E/X' }));
  });

  it('currents of branches go into them: what flows into a line at one end comes out at the other', () => {
    const line = elementId('cau-fer-1');
    const { branches } = engine.detail(study(), solidFault('3ph'), bus('fer-132'));
    const ends = branches.filter(({ element }) => element === line);
    expect(ends.map(({ terminal, end }) => [terminal, end])).toEqual([
      [0, 'CAU 132'],
      [1, 'FER 132'],
    ]);
    const [near, far] = ends.map(({ components: { positive } }) => positive);
    expect(near.re + far.re).toBeCloseTo(0, 3);
    expect(near.im + far.im).toBeCloseTo(0, 3);
    // From the mainland into the line: R–L, so the current lags.
    expect(near.im).toBeLessThan(0);
    expect(near.re).toBeGreaterThan(0);
  });

  it('several faults at once: the voltage where each of them sits, by phase', () => {
    const place = { at: 'terminal', element: elementId('fer-132'), terminal: 0 } as const;
    const solved = engine.simultaneous(study(), [{ type: 'shunt', place, ...solidFault('1ph') }]);
    if (!solved.ok) throw new Error(solved.problems[0].message);
    const [{ voltagePhases }] = solved.answer.results;
    expect(Math.hypot(voltagePhases.l1.re, voltagePhases.l1.im)).toBeLessThan(1e-3);
    expect(Math.hypot(voltagePhases.l2.re, voltagePhases.l2.im)).toBeGreaterThan(60_000);
    for (const method of ['iec60909', 'superposition'] as const) {
      const nowhere = { at: 'terminal', element: elementId('nobody'), terminal: 0 } as const;
      expect(engine.simultaneous(study({ method }), [{ type: 'shunt', place: nowhere, ...solidFault('1ph') }]).ok).toBe(
        false,
      );
    }
  });

  it('a model with a changed value hands its studies on', () => {
    const network = demoNetwork();
    const before = new FaultEngine(network);
    before.row(study(), solidFault('3ph'), bus('bra-11-a'));
    const line = { ...(network.elements.get(elementId('cau-fer-1')) as ElementOf<'line'>), note: 'moved' };
    const after = new FaultEngine(withElements(network, [line]), { engine: before, changed: [line.id] });
    expect(after.studies.sharesCurrentsWith(before.studies)).toBe(true);
    expect(new FaultEngine(network).studies.sharesCurrentsWith(before.studies)).toBe(false);
  });
});
