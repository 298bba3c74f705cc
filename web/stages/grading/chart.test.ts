import { busPlace, plainSetup } from '../faults/state';
import { queriesOf } from '../faults/queries';
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { readProject } from '@mesura/core/formats/project/project';
import { maximumSources } from '@mesura/core/model/condition';
import { elementId } from '@mesura/core/model/fields';
import { find, networkOf, ofKind } from '@mesura/core/model/network';
import { withFunction, type DeviceElement } from '@mesura/core/protection/device';
import type { OvercurrentFunction } from '@mesura/core/protection/overcurrent/schema';
import { sheetContent } from '@mesura/core/sheets/sheet';
import { Studies } from '@mesura/core/studies/studies';
import { sheetScene } from '../../plots/sheetChart';
import { svgOf } from '../../plots/svg';
import { rowsOf } from '@mesura/core/faults/answers/packed';
import { CoreService } from '../../workers/coreService';
import { chartCurves, flagsOf, judgePairs, LastAnswers, proposalsFor } from '@mesura/core/grading/chart/curves';

const read = readProject(
  readFileSync(new URL('../../../core/reference/projects/version-1.json', import.meta.url), 'utf8'),
);
if (!read.ok) throw new Error('the demo does not load');
const network = networkOf(read.project.elements);
const chart = ofKind(network, 'gradingChart')[0];
const service = new CoreService();
service.load(read.project.elements);
const basis = service.gradingBasis(chart.id)!;
const incomer = find(network, 'relay', elementId('bra-q21-relay'))!;
const faster = (timeMultiplier: number) =>
  withFunction(incomer, { ...(incomer.functions[0] as OvercurrentFunction), timeMultiplier });
const slower = faster(0.12);

describe('the chart', () => {
  it('draws a curve for each device, ended at the largest current it sees', () => {
    const curves = chartCurves(network, chart, basis, new Map());
    expect(curves.map((curve) => curve.device.id)).toEqual(chart.relays);
    for (const curve of curves) {
      const most = Math.max(
        ...basis.devices
          .find((each) => each.id === curve.device.id)!
          .figures.closeIn.map((figure) => figure.seen.phaseA),
      );
      expect(curve.points.at(-1)!.currentA).toBeCloseTo(most * curve.factor, 3);
      expect(curve.ghost).toEqual([]);
    }
  });

  it('keeps the stored curve as a ghost behind an edited one', () => {
    const [stored] = chartCurves(network, { ...chart, relays: [incomer.id] }, basis, new Map());
    const [edited] = chartCurves(network, { ...chart, relays: [incomer.id] }, basis, new Map([[incomer.id, slower]]));
    expect(edited).toMatchObject({ isEdited: true, ghost: stored.points });
    expect(edited.points[20].timeS / edited.ghost[20].timeS).toBeCloseTo(0.12 / 0.07, 6);
  });

  it('computes again only what an edit touches, and gets the same as from nothing', () => {
    const last = {
      curves: new LastAnswers<ReturnType<typeof chartCurves>[number] | null>(),
      pairs: new LastAnswers<ReturnType<typeof judgePairs>[number]>(),
    };
    const before = {
      curves: chartCurves(network, chart, basis, new Map(), last.curves),
      pairs: judgePairs(network, chart, basis, new Map(), last.pairs),
    };
    const edited = new Map([[incomer.id, slower]]);
    const after = {
      curves: chartCurves(network, chart, basis, edited, last.curves),
      pairs: judgePairs(network, chart, basis, edited, last.pairs),
    };
    // Without the curves' own functions, which are made anew each time.
    const plain = (value: unknown) => JSON.parse(JSON.stringify(value)) as unknown;
    expect(plain(after.curves)).toEqual(plain(chartCurves(network, chart, basis, edited)));
    expect(after.pairs).toEqual(judgePairs(network, chart, basis, edited));
    expect(after.curves.filter((curve, k) => curve !== before.curves[k]).map((curve) => curve.device.id)).toEqual([
      incomer.id,
    ]);
    expect(after.pairs.map((pair, k) => pair === before.pairs[k])).toEqual([true, false, false, true, true]);
    // Back to the stored settings, and the stored verdicts.
    expect(judgePairs(network, chart, basis, new Map(), last.pairs)).toEqual(before.pairs);
  });

  it('turns from short to holding when the upstream curve is raised, and then proposes nothing', () => {
    const verdicts = (edited: Map<typeof incomer.id, DeviceElement>) =>
      judgePairs(network, chart, basis, edited).map((pair) => pair.margin.verdict);
    expect(verdicts(new Map())).toEqual(['holds', 'short', 'holds', 'holds', 'holds']);
    expect(proposalsFor(network, chart, basis, new Map())[1]).toMatchObject({
      device: incomer.id,
      field: 'timeMultiplier',
      from: 0.07,
      to: 0.09,
    });
    const raised = faster(0.09);
    expect(verdicts(new Map([[incomer.id, raised]]))).toEqual(['holds', 'holds', 'holds', 'holds', 'holds']);
    expect(proposalsFor(network, chart, basis, new Map([[incomer.id, raised]]))).toEqual([
      null,
      null,
      null,
      null,
      null,
    ]);
  });

  it('flags the largest close-in and the smallest far-end current', () => {
    const [curve] = chartCurves(network, { ...chart, relays: [incomer.id] }, basis, new Map());
    const flags = flagsOf(curve, chart, basis);
    expect(flags.map((flag) => flag.label)).toEqual(['max BRA Q21', 'min BRA Q21']);
    expect(flags[0].currentA).toBeGreaterThan(flags[1].currentA);
  });
});

describe('the worker', () => {
  it('answers after a change about the changed model only', async () => {
    const mine = new CoreService();
    const { study, fault } = queriesOf(plainSetup, maximumSources.id);
    const table = async () => rowsOf((await mine.faults(study, fault, [], 1, () => {})).rows);
    const level = async () => (await table()).find((row) => row.name === 'BRA 11 A')!.result!.ikA;
    mine.load(read.project.elements);
    const before = await level();
    const t1 = read.project.elements.find((element) => element.id === 'bra-t1')!;
    if (t1.kind !== 'transformer') throw new Error('no transformer');
    mine.change([{ ...t1, ukPercent: 20 }], []);
    const changed = await level();
    expect(changed).toBeLessThan(before);
    mine.change([t1], []);
    expect(await level()).toBe(before);
    expect(mine.faultDetail(study, fault, busPlace(elementId('bra-11-a'))).contributions.length).toBeGreaterThan(5);
    expect(mine.faultDetail(study, fault, busPlace(elementId('nobody')))).toMatchObject({
      row: { result: null, problems: [{ code: 'fault.place' }] },
      contributions: [],
    });
    expect(mine.gradingBasis(elementId('nobody'))).toBeNull();
    expect(await mine.sheet({ kind: 'device', id: 'bra-t1' }, 3, () => {})).toBeNull();
    mine.load([]);
    expect(await table()).toEqual([]);
    expect((await mine.checks(2, () => {})).findings).toEqual([]);
  });
});

describe('the chart of a sheet', () => {
  const [content] = sheetContent(new Studies(network), incomer.id)!.chart;
  it('is well-formed, with every curve named and no number that is none', () => {
    const svg = svgOf(sheetScene(content));
    expect(svg).not.toMatch(/NaN|Infinity|undefined/);
    for (const curve of content.curves) expect(svg).toContain(`>${curve.label}</text>`);
    expect(svg.match(/clip-path=/g)).toHaveLength(content.curves.length);
  });
  it('escapes what users typed', () => {
    const svg = svgOf(
      sheetScene({ ...content, curves: content.curves.map((curve) => ({ ...curve, label: '<script>"&' })) }),
    );
    expect(svg).toContain('&lt;script&gt;&quot;&amp;');
    expect(svg).not.toContain('<script>');
  });
});
