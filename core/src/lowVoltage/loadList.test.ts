/** Load lists as they come from spreadsheets, and cells as they are typed. */
import { describe, expect, it } from 'vitest';
import { applyChanges } from '../model/changes';
import { elementId as id, type ElementId } from '../model/fields';
import { find, withElements, type Network } from '../model/network';
import { Studies } from '../studies/studies';
import { demoNetwork } from '../test/demo';
import { evaluate } from '../test/followed';
import { finished } from '../working/steps';
import { cellText, scheduleCells, typedCell, type ScheduleCell, type ScheduleParts } from './cells';
import { listPlan, matched, readList } from './loadList';
import { caseOfKey, circuitTable } from './study';
import { circuitWorking } from './working';

const demo = demoNetwork();
const board = id('bra-0-4');
let count = 0;
const newId = () => id(`new-${++count}`);

const text = [
  'Circuit\tMotor kW\tkW\tA\tcos phi\tPhase\tLength m\tSection mm²\tDevice\tRemarks',
  'Backwash pump\t5,5\t\t\t0.83\t3\t60\t4\tgG 25\tnorth wall',
  'Hall lights\t\t1.2\t\t1\tL2\t35\t\t\t',
  'Sockets east\t\t\t14\t0.95\tL3\t28\t2.5\tC16 + 30 mA\t',
].join('\n');

const planned = (of: string, network: Network = demo) => {
  const list = readList(of);
  const columns = matched(list.heads);
  return { list, columns, plan: listPlan(network, board, list, columns, newId) };
};
const applied = (network: Network, plan: ReturnType<typeof planned>['plan']): Network => {
  const done = applyChanges(network, plan.changes);
  if (!done.ok) throw new Error(done.problems[0].message);
  return done.network;
};

describe('a load list', () => {
  it('is read with its head, columns found by their words, one left that nobody knows', () => {
    const { list, columns } = planned(text);
    expect(list.rows).toHaveLength(3);
    expect(columns).toEqual([
      ...['name', 'motorKw', 'kw', 'ampere', 'powerFactor', 'phases', 'length', 'section', 'device'],
      null,
    ]);
    // What the user matched is remembered by the head; what they left stays left.
    expect(matched(['Remarks', 'kW'], { remarks: 'method', kw: '' })).toEqual(['method', null]);
    expect(readList('1;2;3\n4;5;6').heads).toEqual(['Column 1', 'Column 2', 'Column 3']);
  });
  it('becomes circuits on the board in one batch, with what it says', () => {
    const { plan } = planned(text);
    expect(plan.problems).toEqual([]);
    const network = applied(demo, plan);
    const studies = new Studies(network);
    const { rows } = finished(circuitTable(studies, studies.conditions, board));
    const added = plan.keys.map((key) => rows.find((row) => row.key === key)!);
    expect(added.map(({ board: of }) => of)).toEqual([board, board, board]);
    // 5.5 kW / (√3 · 400 V · 0.88 · 0.83); 1.2 kW / 230.9 V; as typed.
    expect(added[0].designA).toBeCloseTo(5500 / (Math.sqrt(3) * 400 * 0.88 * 0.83), 6);
    expect(added[1].phasesA[1]).toBeCloseTo(1200 / (400 / Math.sqrt(3)), 6);
    expect(added[1].phasesA[0]).toBe(0);
    expect(added[2].designA).toBeCloseTo(14, 6);
    expect(added.map(({ cables }) => [cables[0].lengthM, cables[0].sectionMm2])).toEqual([
      [60, 4],
      [35, 2.5],
      [28, 2.5],
    ]);
    expect(find(network, 'switch', plan.keys[0])).toMatchObject({ type: 'fuse', functions: [{ linkA: 25 }] });
    expect(find(network, 'switch', plan.keys[2])!.functions).toMatchObject([
      { family: 'miniature', type: 'C', ratedA: 16 },
      { family: 'residual', ratedResidualA: 0.03 },
    ]);
    // Undone in one step.
    const inverse = applyChanges(demo, plan.changes);
    if (!inverse.ok) throw new Error();
    const back = applyChanges(inverse.network, inverse.inverse);
    expect(back.ok && [...back.network.elements.values()]).toEqual([...demo.elements.values()]);
  });
  it('names what it cannot read, with row and column, and takes the rest', () => {
    const { plan } = planned(
      [
        'name,kW,length,section,device',
        'A,2,20,2.5,C16',
        'B,two,20,2.5,C16',
        'C,2,20,3,C16',
        'D,2,20,2.5,X99',
        'E,,20,2.5,C16',
        'F,2,-5,2.5,C16',
        'G,1e400,20,2.5,C16',
      ].join('\n'),
    );
    expect(plan.keys.map((key) => key !== null)).toEqual([true, false, false, false, false, false, false]);
    expect(plan.problems.map(({ row, column }) => [row, column])).toEqual([
      [2, 'kW'],
      [3, 'section'],
      [4, 'device'],
      [5, ''],
      [6, 'length'],
      [7, 'kW'],
    ]);
    expect(applied(demo, plan).elements.size).toBeGreaterThan(demo.elements.size);
  });
  it('forty rows stand beside each other, each on a place of its own', () => {
    const rows = Array.from({ length: 40 }, (_, k) => `Pump ${k},${1 + (k % 5)},${10 + k}`);
    const { plan } = planned(['name,motor kW,length', ...rows].join('\n'));
    const network = applied(demo, plan);
    const at = plan.keys.map((key) => find(network, 'switch', key)!.x);
    expect(new Set(at).size).toBe(40);
  });
});

describe('cells of the schedule', () => {
  const parts: ScheduleParts = { board, end: id('brine-dosing'), cable: id('dosing-cable'), device: id('bra-f51') };
  const after = (cell: ScheduleCell, typed: string, network = demo, of = parts) => {
    const read = typedCell(network, of, cell, typed);
    if (!read.ok) throw new Error(read.message);
    return withElements(network, [read.element]);
  };
  it('what stands in a cell, typed into it, changes nothing that counts', () => {
    const { plan } = planned(text);
    const network = applied(demo, plan);
    for (const key of plan.keys as ElementId[]) {
      const studies = new Studies(network);
      const row = finished(circuitTable(studies, studies.conditions, board)).rows.find((each) => each.key === key)!;
      const own = { board, end: row.ends[0], cable: row.cables[0].element, device: key };
      for (const cell of scheduleCells) {
        const shown = cellText(network, own, cell);
        const read = typedCell(network, own, cell, shown);
        expect(read, `${cell}: ${shown}`).toMatchObject({ ok: true });
        if (read.ok) expect(cellText(withElements(network, [read.element]), own, cell)).toBe(shown);
      }
    }
  });
  it('sections take their resistances along, in aluminium too, and those that are not made are refused', () => {
    const four = find(after('section', '4'), 'line', parts.cable)!;
    expect(four).toMatchObject({ sectionMm2: 4, r1OhmPerKm: 4.61, r0OhmPerKm: 18.44, ratedA: null });
    expect(find(after('section', '2 × 150 Al XLPE'), 'line', parts.cable)).toMatchObject({
      circuits: 2,
      sectionMm2: 150,
      metal: 'aluminium',
      insulation: 'xlpe',
      endTemperatureC: 250,
    });
    expect(typedCell(demo, parts, 'section', '3')).toMatchObject({ ok: false });
    expect(typedCell(demo, parts, 'section', '2.5 Al')).toMatchObject({ ok: false });
  });
  it('nonsense is refused in words', () => {
    for (const [cell, typed] of [
      ['size', 'many'],
      ['size', '5 kVA'],
      ['size', '-3 kW'],
      ['phases', 'L4'],
      ['demand', '0'],
      ['demand', '1e9'],
      ['device', 'C17'],
      ['method', 'Q'],
      ['length', '1e400'],
      ['name', ''],
    ] as const)
      expect(typedCell(demo, parts, cell, typed), `${cell} ${typed}`).toMatchObject({
        ok: false,
        message: expect.stringMatching(/\w{3,}/),
      });
  });
});

describe('the working', () => {
  it('follows: each right side gives its left side', () => {
    const network = applied(demo, planned(text).plan);
    const studies = new Studies(network);
    const { rows } = finished(circuitTable(studies, studies.conditions));
    let steps = 0;
    for (const { key } of rows)
      for (const section of circuitWorking(network, caseOfKey(studies, studies.conditions, key)!))
        for (const step of section.steps) {
          const value = step.result.value as number;
          expect(evaluate(step).re / value, `${section.title}: ${step.result.symbol}`).toBeCloseTo(1, 9);
          steps++;
        }
    expect(steps).toBeGreaterThan(40);
  });
});
