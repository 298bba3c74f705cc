/** A family in a folder of its own, registered once, is everywhere: stored, on a chart, graded by its band, checked, on a sheet. */
import { describe, expect, it } from 'vitest';
import { checked } from '../checks/run';
import { pairMargin, pairStates } from '../grading/margin';
import { applyChanges } from '../model/changes';
import { elementSchema } from '../model/element';
import { elementId, type ElementId } from '../model/fields';
import { find, ofKind } from '../model/network';
import { sheetContent } from '../sheets/sheet';
import { Studies } from '../studies/studies';
import { demoNetwork } from '../test/demo';
import '../test/toy';
import { curvePoints, curvesOf } from './curve';
import { deviceOf } from './device';
import { allFamilies, familyOf, registerFamily } from './registry';

const network = demoNetwork();
const relay = find(network, 'relay', elementId('bra-q32-relay'))!;
const toy = { family: 'toy', id: 'toy-1', enabled: true, input: relay.inputs[0].id, circuits: [], level: 120 };
const stored = elementSchema.parse({ ...relay, functions: [toy] }) as typeof relay;
const applied = applyChanges(network, [{ op: 'update', element: stored }]);
if (!applied.ok) throw new Error(applied.problems[0].message);
const changed = applied.network;
const studies = new Studies(changed);

describe('a family in one folder with one registration', () => {
  it('is stored by its schema, and refused where it does not fit', () => {
    expect(stored.functions).toEqual([toy]);
    expect(elementSchema.safeParse({ ...relay, functions: [{ ...toy, level: 0 }] }).success).toBe(false);
    expect(elementSchema.safeParse({ ...relay, functions: [{ ...toy, family: 'nobody' }] }).success).toBe(false);
  });
  it('stands on a chart, with both edges of its band', () => {
    const curves = curvesOf(deviceOf(changed, relay.id)!);
    const [late, early] = (['latest', 'earliest'] as const).map((edge) => curvePoints(curves, 'phase', 2000, 20, edge));
    expect(late[0].currentA).toBeGreaterThan(120);
    for (const [k, point] of late.entries()) {
      expect(point.timeS).toBeCloseTo(1.1 * (120 / point.currentA) ** 2, 6);
      expect(early[k].timeS).toBeCloseTo(0.9 * (120 / point.currentA) ** 2, 6);
    }
  });
  it('grades by its band: latest below against earliest above', () => {
    const chart = ofKind(changed, 'gradingChart').find(({ mode }) => mode === 'phase')!;
    const pair = chart.pairs.find(({ upstream }) => upstream === relay.id)!;
    const states = pairStates(
      studies,
      deviceOf(changed, pair.downstream)!,
      deviceOf(changed, relay.id)!,
      'phase',
      studies.conditions,
    );
    const { decisive } = pairMargin(changed, states, pair, 'phase');
    expect(decisive!.upstreamBy).toBe('T');
    expect(decisive!.upstreamS).toBeCloseTo(0.9 * (120 / decisive!.upstreamA) ** 2, 9);
  });
  it('is verified: its settings against its steps, its pickup against the smallest fault', () => {
    const { checks } = checked(studies);
    const own = checks.filter(({ subject }) => subject === relay.id);
    expect(own.find(({ rule }) => rule === 'settings.steps')).toMatchObject({
      verdict: 'short',
      value: 120,
      bound: 100,
      title: 'T level available',
    });
    expect(own.find(({ rule }) => rule === 'settings.sensitivity')!.value).toBeGreaterThan(1.5);
  });
  it('has its row on the setting sheet, and its curve in the sheet’s chart', () => {
    const sheet = sheetContent(studies, relay.id)!;
    expect(sheet.functions).toMatchObject([{ code: 'T', curve: 'toy', primaryA: 120 }]);
    expect(sheet.chart[0].curves.find(({ own }) => own)!.points.length).toBeGreaterThan(10);
  });
  it('is registered once, and unknown ones are a fault of the program', () => {
    expect(allFamilies().map(({ id }) => id)).toEqual(
      expect.arrayContaining(['overcurrent', 'fuse', 'release', 'reclosing', 'overload', 'toy']),
    );
    expect(() => registerFamily(familyOf(relay.functions[0]), elementSchema)).toThrow('there is a family');
    expect(() => familyOf({ family: 'nobody' } as never)).toThrow('no family "nobody"');
    expect('x' as ElementId).toBe('x');
  });
});
