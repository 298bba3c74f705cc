/** Batches and scripts in the terminal, on the demonstration project; the worked examples against studies asked one by one. */
import { describe, expect, it } from 'vitest';
import { newBatch } from '@mesura/core/model/batch';
import { elementId } from '@mesura/core/model/fields';
import { demoText } from '@mesura/core/test/demo';
import { readXlsx } from '@mesura/core/formats/tables/xlsx';
import { scriptExamples } from '@mesura/core/scripts/examples';
import type { Outcome } from './command';
import { perform, run } from './run';

interface ProjectText {
  elements: Record<string, unknown>[];
}
const demo = () => JSON.parse(demoText()) as ProjectText;

const batch = {
  ...newBatch(elementId('weekly'), 'Weekly'),
  runs: [
    { study: 'faults', options: { at: ['bra-11-a'], condition: ['maximum', 'minimum'], kind: 'all' } },
    { study: 'faults', options: { at: 'BRA 11 A', phaseR: '0.5', set: ['BRA T1.ukPercent=8,10'] } },
    { study: 'curve', options: { device: 'BRA Q32 relay', to: '3000' } },
    { study: 'ratings', options: {} },
  ],
};
const withBatch = (runs: readonly object[] = batch.runs, change?: (project: ProjectText) => void): string => {
  const project = demo();
  project.elements.push({ ...batch, runs });
  change?.(project);
  return JSON.stringify(project);
};
const asked = (text: string, args: readonly string[], files: Record<string, string> = {}): Promise<Outcome> =>
  perform(
    args,
    (path) => {
      if (path === 'demo.json') return text;
      if (path in files) return files[path];
      throw new Error('no such file');
    },
    () => new Uint8Array(),
  );

interface Answer {
  batch: string;
  runs: { run: string; study: string; code: number; notes: string[] }[];
  table: { columns: string[]; rows: (string | number | null)[][] };
  changes: { changes: { what: string; cells: { column: string; percent: number }[] }[]; same: number };
}

describe('mesura batch', () => {
  it('puts the answers of all runs into one table, each as the study gives it', async () => {
    const { code, output } = await asked(withBatch(), ['batch', 'demo.json', '--format', 'json']);
    // The ratings of the demonstration do not all hold.
    expect(code).toBe(3);
    const { runs, table } = JSON.parse(output) as Answer;
    expect(runs.map(({ run: name, code: own }) => [name, own])).toEqual([
      ['1 faults', 0],
      ['2 faults', 0],
      ['3 curve', 0],
      ['4 ratings', 3],
    ]);
    const of = (name: string) => table.rows.filter(([first]) => first === name);
    expect(of('1 faults')).toHaveLength(8);
    const single = run(
      [
        'faults',
        'demo.json',
        '--at',
        'BRA 11 A',
        '--phase-r',
        '0.5',
        '--set',
        'BRA T1.ukPercent=8,10',
        '--format',
        'csv',
      ],
      () => demoText(),
    );
    const ik = table.columns.indexOf('ik_A');
    const alone = single.output
      .trim()
      .split('\r\n')
      .slice(1)
      .map((line) => line.split(','));
    const head = single.output.split('\r\n')[0].split(',');
    expect(of('2 faults').map((row) => row[ik])).toEqual(alone.map((cells) => Number(cells[head.indexOf('ik_A')])));
    expect(of('3 curve').length).toBeGreaterThan(20);
  });

  it('goes on where a run cannot be computed, and says which and why', async () => {
    const runs = [
      { study: 'faults', options: { at: ['nowhere'] } },
      { study: 'nonsense', options: {} },
      { study: 'batch', options: { name: 'Weekly' } },
      { study: 'faults', options: { trial: 'x' } },
      { study: 'faults', options: { phaseR: 'much' } },
      { study: 'flow', options: {} },
    ];
    const { code, output, errors } = await asked(withBatch(runs), ['batch', 'demo.json', '--format', 'json']);
    expect(code).toBe(1);
    const answer = JSON.parse(output) as Answer;
    expect(answer.runs.map(({ code: own }) => own)).toEqual([1, 2, 2, 2, 2, 0]);
    for (const why of [
      /1 faults: no bus is called "nowhere"/,
      /2 nonsense: "nonsense" is no study/,
      /3 batch: /,
      /4 faults: faults takes no "trial"/,
      /5 faults: --phase-r cannot be "much"/,
    ])
      expect(errors).toMatch(why);
    expect(answer.table.rows.length).toBeGreaterThan(10);
  });

  it('runs scripts of the project, and puts their tables among the rest', async () => {
    const script = {
      kind: 'script',
      id: 'levels',
      name: 'Levels',
      note: '',
      text: "table(project.table('faults', { at: ['BRA 11 A'] }).map(({ place, ik_A }) => ({ place, kA: ik_A / 1000 })))",
    };
    const runs = [
      { study: 'faults', options: { at: ['BRA 11 A'] } },
      { study: 'script', options: { name: 'levels' } },
      { study: 'script', options: { name: 'nobody' } },
    ];
    const text = withBatch(runs, ({ elements }) => elements.push(script));
    const { runs: outcomes, table } = JSON.parse(
      (await asked(text, ['batch', 'demo.json', '--format', 'json'])).output,
    ) as Answer;
    expect(outcomes.map(({ code }) => code)).toEqual([0, 0, 1]);
    const at = (column: string) => table.columns.indexOf(column);
    const [faults, levels] = table.rows;
    expect(levels[at('place')]).toBe('BRA 11 A');
    expect(levels[at('kA')]).toBeCloseTo(Number(faults[at('ik_A')]) / 1000, 9);
  });

  it('tells what became other since an earlier state, in every form', async () => {
    const now = withBatch(batch.runs.slice(0, 1));
    const earlier = withBatch([], (project) => {
      const transformer = project.elements.find(({ name }) => name === 'BRA T1')!;
      transformer.ukPercent = Number(transformer.ukPercent) * 1.1;
    });
    const args = ['batch', 'demo.json', '--against', 'earlier.json', '--format'];
    const { changes } = JSON.parse((await asked(now, [...args, 'json'], { 'earlier.json': earlier })).output) as Answer;
    const changed = changes.changes.flatMap(({ cells }) => cells.filter(({ column }) => column === 'ik_A'));
    expect(changed.length).toBeGreaterThan(3);
    // A smaller impedance, more current.
    for (const { percent } of changed) expect(percent).toBeGreaterThan(0);
    expect((await asked(now, [...args, 'table'], { 'earlier.json': earlier })).output).toMatch(
      /^what +run .*column +before +after +percent/,
    );
    const book = await readXlsx((await asked(now, [...args, 'xlsx'], { 'earlier.json': earlier })).bytes!);
    expect(book.map(({ name }) => name)).toEqual(['Batch', 'Changes']);
    const same = JSON.parse((await asked(now, [...args, 'json'], { 'earlier.json': now })).output) as Answer;
    expect([same.changes.changes, same.changes.same]).toEqual([[], 8]);
  });

  it('is named where there are several, and refuses what is none', async () => {
    const two = withBatch(batch.runs, ({ elements }) =>
      elements.push({ ...batch, id: 'other', name: 'Other', runs: [] }),
    );
    expect(await asked(two, ['batch', 'demo.json'])).toMatchObject({
      code: 2,
      errors: expect.stringContaining('Weekly, Other') as string,
    });
    expect((await asked(two, ['batch', 'demo.json', '--name', 'Other'])).code).toBe(0);
    expect((await asked(two, ['batch', 'demo.json', '--name', 'X'])).code).toBe(1);
    expect((await asked(demoText(), ['batch', 'demo.json'])).errors).toMatch(/there are: none/);
    expect((await asked(two, ['batch', 'demo.json', '--name', 'Other', '--set', 'BRA T1.ukPercent=8'])).code).toBe(2);
  });
});

describe('mesura script', () => {
  const play = (text: string, ...args: string[]) =>
    asked(demoText(), ['script', 'demo.json', '--run', 'x.ts', ...args], { 'x.ts': text });

  it('runs the worked examples, and they come to what the studies say', async () => {
    const [levels, resistance, settings] = scriptExamples;
    const first = await play(levels.text);
    expect([first.code, first.errors]).toEqual([0, '']);
    const [book] = await readXlsx(first.files![0].content as Uint8Array);
    const head = book.rows[0];
    // The busbar, ten states, the most and the least.
    expect(head).toHaveLength(13);
    const place = book.rows.find(([name]) => name === 'BRA 11 A')!;
    const ik = (...args: string[]) =>
      (
        JSON.parse(
          run(['faults', 'demo.json', '--at', 'BRA 11 A', '--format', 'json', ...args], () => demoText()).output,
        ) as { faults: { ikA: number }[] }
      ).faults[0].ikA / 1000;
    expect(Number(place[head.indexOf('Maximum sources, Ik" kA')])).toBeCloseTo(ik(), 9);
    expect(Number(place[head.indexOf('without BRA T1, Ik" kA')])).toBeCloseTo(ik('--out', 'BRA T1'), 9);

    const second = JSON.parse((await play(resistance.text, '--format', 'json')).output) as {
      said: { what: string; plot: { series: { points: [number, number][] }[] } }[];
      files: { name: string }[];
    };
    const { points } = second.said.find(({ what }) => what === 'plot')!.plot.series[0];
    expect(points).toHaveLength(26);
    for (let k = 1; k < points.length; k++) expect(points[k][1]).toBeLessThan(points[k - 1][1]);
    expect(points[5][1] / 1000).toBeCloseTo(ik('--kind', '1ph', '--earth-r', '10'), 9);
    expect(second.files.map(({ name }) => name)).toEqual(['resistance.csv']);

    const third = await play(settings.text);
    expect([third.code, third.errors]).toEqual([0, '']);
    const [sheet] = await readXlsx(third.files![0].content as Uint8Array);
    const pickup = sheet.rows.find((row) => row[0] === 'BRA Q32 relay' && row[1] === '50' && row[2] === 'Pickup')!;
    expect(pickup.slice(3, 7).map(String)).toEqual(['14', '× In', '2100', 'A']);
  });

  it('changes a copy, and keeps it where that is asked', async () => {
    const text = `
      project.set('BRA T1.ukPercent', 12.5);
      const bus = project.elements('bus').find(({ name }) => name === 'BRA 11 A');
      project.update({ ...bus, note: 'seen' });
      print(project.element('BRA T1').ukPercent, project.element('BRA 11 A').note);
    `;
    const told = await play(text);
    expect(told.output).toBe('12.5 seen\n');
    expect(told.errors).toMatch(/2 changes are not kept: add --write OUT/);
    const written = await play(text, '--write', 'out.json');
    expect(written.errors).toBe('');
    const { elements } = JSON.parse(
      written.files!.find(({ path }) => path === 'out.json')!.content as string,
    ) as ProjectText;
    expect(elements.find(({ name }) => name === 'BRA T1')!.ukPercent).toBe(12.5);
    expect(elements).toHaveLength(demo().elements.length);
  });

  it('says in words what does not go', async () => {
    for (const [text, why] of [
      ['project.study("nonsense")', /line 1: there is no study "nonsense"/],
      ['project.study("batch")', /line 1: there is no study "batch"/],
      ['project.study("faults", { nonsense: 1 })', /line 1: faults takes no "nonsense"/],
      ['\nproject.study("faults", { at: ["X"] })', /line 2: no bus is called "X"/],
      ['project.study("propose", { write: "/tmp/x" })', /takes no "write"/],
      ['project.study("verify", { against: "/etc/passwd" })', /takes no "against"/],
      ['project.set("BRA T1.nonsense", 1)', /there is no such field/],
      ['project.set("BRA T1.ukPercent", "1,2")', /is not one value/],
      ['project.remove("nobody")', /does not exist any more/],
      ['project.remove("settings")', /settings cannot be removed|does not exist/],
      ['project.add({ kind: "bus" })', /./],
      ['project.update({ ...project.elements("bus")[0], nominalKv: "x" })', /nominalKv|number/i],
    ] as const) {
      const { code, errors } = await play(text);
      expect([code, errors], text).toEqual([1, expect.stringMatching(why)]);
    }
    expect((await asked(demoText(), ['script', 'demo.json'])).code).toBe(2);
    expect((await asked(demoText(), ['script', 'demo.json', '--name', 'X'])).code).toBe(1);
    expect((await asked(demoText(), ['script', 'demo.json', '--run', 'none.ts'])).errors).toMatch(
      /none.ts cannot be read/,
    );
  });

  it('is kept in the project', async () => {
    const project = demo();
    project.elements.push({
      kind: 'script',
      id: 's1',
      name: 'Hello',
      note: '',
      text: 'table([{ a: 1, b: true }], "T")',
    });
    const csv = await asked(JSON.stringify(project), ['script', 'demo.json', '--name', 'Hello', '--format', 'csv']);
    expect(csv).toMatchObject({ code: 0, output: 'a,b\r\n1,true\r\n' });
  });
});
