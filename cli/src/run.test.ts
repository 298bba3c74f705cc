import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { XMLParser } from 'fast-xml-parser';
import { demoText } from '@mesura/core/test/demo';
import { commands } from './commands';
import { optionTypes } from './options';
import { perform, run } from './run';
import type { Element } from '@mesura/core/model/element';
import { withDistanceRelay } from '@mesura/core/test/distance';

const demo = (path: string) => {
  if (path !== 'demo.json') throw new Error('no such file');
  return demoText();
};
const faults = (...args: string[]) => run(['faults', 'demo.json', ...args], demo);

describe('mesura faults', () => {
  it('prints a table with every bus', () => {
    const { code, output } = faults();
    expect(code).toBe(0);
    expect(output.split('\n')[0]).toMatch(/^place +kV +kind +condition +Ik" kA +ip kA +X\/R/);
    expect(output.trim().split('\n')).toHaveLength(24);
    expect(output).toMatch(/^BRA 11 A +11 +3ph +Maximum sources +15 /m);
  });
  it('prints CSV for one bus by name or identifier', () => {
    const byName = faults('--at', 'BRA 11 A', '--format', 'csv');
    expect(byName.output).toBe(faults('--at', 'bra-11-a', '--format', 'csv').output);
    expect(byName.output.trim().split('\r\n')).toHaveLength(2);
  });
  it('prints JSON whose contributions add up to the fault current', () => {
    const { output } = faults('--format', 'json', '--kind', 'all', '--case', 'min');
    const { faults: list } = JSON.parse(output) as {
      faults: {
        kind: string;
        ikA: number;
        phasesA: Record<string, { re: number; im: number }>;
        contributions: { phasesA: Record<string, { re: number; im: number }> }[];
        ipA: number;
        xOverR: number;
      }[];
    };
    expect(list).toHaveLength(92);
    for (const fault of list)
      for (const phase of ['l1', 'l2', 'l3'])
        for (const part of ['re', 'im'] as const)
          expect(fault.contributions.reduce((sum, share) => sum + share.phasesA[phase][part], 0)).toBeCloseTo(
            fault.phasesA[phase][part],
            4,
          );
  });
  it('takes every place, method and duration', () => {
    expect(faults('--along', 'CAU-FER 1:40', '--end', 'CAU-FER 2:2').output).toMatch(
      /CAU-FER 1 at 40 % .*\nCAU-FER 2, end 2 open /,
    );
    expect(faults('--breaking', '0.1', '--duration', '1').output.split('\n')[0]).toMatch(
      /Ib kA +idc kA +Ib by +Ik kA +Ith kA +I²t/,
    );
    expect(faults('--method', 'c37').output.split('\n')[0]).toMatch(/sym kA +X\/R +asym kA +peak kA .* MF +duty kA/);
    expect(faults('--method', 'superposition', '--kind', '1ph', '--odd', 'L2').code).toBe(0);
    const level = (...args: string[]) =>
      (
        JSON.parse(faults('--at', 'BRA 11 A', '--format', 'json', ...args).output) as { faults: { ikA: number }[] }
      ).faults.map(({ ikA }) => ikA);
    expect(level('--outage', 'BRA T1')[0]).toBeLessThan(0.8 * level()[0]);
    expect(level('--out', 'BRA T1')[0]).toBeCloseTo(level('--outage', 'BRA T1')[0], 3);
    expect(level('--open', 'BRA Q30')[0]).toBeLessThan(level()[0]);
    expect(level('--phase-r', '1')[0]).toBeLessThan(level()[0]);
    expect(level('--outage', 'BRA T1', '--outage', 'BRA T2')).toHaveLength(2);
  });
  it('shows branches, buses, contributions and the working of a place', () => {
    const shown = faults(
      '--at',
      'FER 132',
      '--show',
      'branches',
      '--show',
      'buses',
      '--show',
      'working',
      '--kind',
      '1ph',
    ).output;
    expect(shown).toMatch(/CAU-FER 1 +1 +CAU 132/);
    expect(shown).toMatch(/BRA 11 A +11/);
    expect(shown).toMatch(/Ik″1 = .* kA {3}\[IEC 60909-0, 7\.5\]/);
    expect(faults('--at', 'FER 132', '--show', 'contributions', '--format', 'csv').output).toMatch(
      /^element,terminal,at,/,
    );
  });
  it('solves several faults at once', () => {
    const { output, code } = faults('--fault', '1ph/L1@BRA 33', '--fault', '1ph/L2@FER-PEN:30%', '--format', 'json');
    expect(code).toBe(0);
    const answer = JSON.parse(output) as { faults: { phasesA: { residual: { abs: number } } }[]; buses: unknown[] };
    expect(answer.faults).toHaveLength(2);
    expect(answer.faults[0].phasesA.residual.abs).toBeGreaterThan(1000);
    expect(answer.buses).toHaveLength(23);
    expect(faults('--method', 'superposition', '--break', 'FER-PEN:1/L1').output).toMatch(
      /^element.*\nbreak FER-PEN:1\/L1/,
    );
  });
  it('finds the most and the least that branches around a fault carry, as single questions do', () => {
    const around = (...more: string[]) =>
      run(['around', 'demo.json', '--at', 'BRA 11 A', '--kind', 'all', ...more], demo);
    interface Extreme {
      currentA: number;
      kind: string;
      without: string;
    }
    const rows = (JSON.parse(around('--branches', '4', '--format', 'json').output) as { branches: unknown })
      .branches as {
      element: string;
      id: string;
      terminal: number;
      most: Extreme;
      least: Extreme;
    }[];
    expect(rows).toHaveLength(4);
    const t1 = rows.find((row) => row.element === 'BRA T1')!;
    expect(t1.terminal).toBe(1);
    for (const { currentA: ampere, kind, without } of [t1.most, t1.least]) {
      const outage = without ? ['--outage', without] : [];
      const args = ['--at', 'BRA 11 A', '--kind', kind, ...outage, '--show', 'branches', '--format', 'json'];
      const { faults: list } = JSON.parse(faults(...args).output) as {
        faults: { branches: { element: string; terminal: number; phasesA: Record<string, { abs: number }> }[] }[];
      };
      const branch = list[0].branches.find((each) => each.element === 'BRA T1' && each.terminal === 1)!;
      const largest = Math.max(...(['l1', 'l2', 'l3'] as const).map((phase) => branch.phasesA[phase].abs));
      expect(Math.abs(ampere / largest - 1), `${kind} without ${without}`).toBeLessThan(1e-9);
    }
    expect(t1.most.currentA).toBeGreaterThan(t1.least.currentA);
    expect(t1.most.without).toBe('BRA T2');
    expect(around('--outages', 'off').output).not.toContain('BRA T2\n');
    expect(around('--format', 'csv').output.split('\r\n')[0]).toContain('most_A,most_kind,most_without,least_A');
    for (const wrong of [
      ['--method', 'c37'],
      ['--phase-r', '1'],
      ['--odd', 'L2'],
      ['--branches', '0'],
      ['--outages', 'maybe'],
    ])
      expect(around(...wrong).code, wrong.join(' ')).toBe(2);
    expect(around('--end', 'CAU-FER 1:1').code).toBe(2);
  });
  it('runs the load flow', () => {
    const flow = run(['flow', 'demo.json'], demo);
    expect(flow.code).toBe(0);
    expect(flow.output).toMatch(/^CAU 132 +132 +132 +100 +0$/m);
    expect(run(['flow', 'demo.json', '--show', 'sources'], demo).output).toMatch(/^GAL wind +power +15 /m);
    expect(run(['flow', 'demo.json', '--show', 'branches'], demo).output).toMatch(/^CAU-FER 1 +2 +FER 132 +-/m);
    expect(run(['flow', 'demo.json', '--show', 'losses'], demo).output).toMatch(/^CAU-FER 1 +0\.0/m);
    expect(run(['flow', 'demo.json', '--show', 'sources', '--format', 'csv'], demo).output).toMatch(
      /Mainland,angle and voltage/,
    );
    const json = JSON.parse(run(['flow', 'demo.json', '--format', 'json'], demo).output) as {
      converged: boolean;
      balance: Record<string, number>;
    };
    expect(json.converged).toBe(true);
    const { sourceMw, loadMw, lossMw } = json.balance;
    expect(sourceMw - loadMw - lossMw).toBeCloseTo(0, 6);
    expect(lossMw).toBeGreaterThan(0);
    const fixed = run(['flow', 'demo.json', '--format', 'json', '--control', 'off'], demo).output;
    expect(Object.keys((JSON.parse(fixed) as { taps: object }).taps)).toHaveLength(0);
    expect(fixed).not.toBe(run(['flow', 'demo.json', '--format', 'json'], demo).output);
  });
  it('takes negative numbers after an option', () => {
    const plain = faults('--at', 'BRA 11 A', '--phase-x=-0.05', '--format', 'csv');
    expect(plain.code).toBe(0);
    expect(faults('--at', 'BRA 11 A', '--phase-x', '-0.05', '--format', 'csv').output).toBe(plain.output);
    expect(plain.output).not.toBe(faults('--at', 'BRA 11 A', '--format', 'csv').output);
  });
  it('speaks of the earthing only where an earth fault is asked for', () => {
    const of = (kind: string) => faults('--kind', kind).errors;
    const floating = (kind: string) =>
      run(['faults', 'x', '--kind', kind], () =>
        readFileSync(new URL('../../core/reference/audit1/d2-floating.json', import.meta.url), 'utf8'),
      ).errors;
    expect(floating('1ph')).toMatch(/no neutral is earthed/);
    expect(floating('3ph')).not.toMatch(/no neutral is earthed/);
    expect(of('3ph')).not.toMatch(/earth/);
  });
  it('gives the factors of IEEE C37.13 where there is low voltage', () => {
    expect(faults('--method', 'c37', '--at', 'BRA 0.4', '--format', 'csv').output.split('\r\n')[0]).toContain(
      'lv_factor_unfused,lv_factor_fused',
    );
    expect(faults('--method', 'c37', '--at', 'BRA 11 A').output).not.toContain('LV MF');
  });
  it('names what a condition has put in', () => {
    const { output } = faults('--at', 'FER 132', '--kind', '1ph', '--earthed', 'CAU-FER 2', '--show', 'branches');
    expect(output).toMatch(/^earth of CAU-FER 2, end 1 /m);
    expect(output).not.toContain('~');
  });
  it('answers in JSON alike: an object, ids, full digits, terminals from 1', () => {
    const json = (...args: string[]) =>
      JSON.parse(run([...args, '--format', 'json'], demo).output) as Record<string, unknown>;
    for (const command of ['faults', 'around', 'flow', 'matrix']) {
      const answer = json(command, 'demo.json');
      expect(answer.command).toBe(command);
      expect(answer.case).toBe('max');
    }
    const flow = json('flow', 'demo.json') as {
      branches: { id: string; terminal: number }[];
      buses: { angleDeg: number }[];
    };
    expect(Math.min(...flow.branches.map(({ terminal }) => terminal))).toBe(1);
    expect(flow.branches.every(({ id }) => id.length > 0)).toBe(true);
    expect(flow.buses.some(({ angleDeg }) => String(angleDeg).length > 10)).toBe(true);
    const { nodes, entries } = json('matrix', 'demo.json') as {
      nodes: { node: number; terminals: { id: string; terminal: number }[] }[];
      entries: unknown[];
    };
    expect(nodes[0].node).toBe(1);
    expect(nodes[0].terminals.every(({ terminal }) => terminal >= 1)).toBe(true);
    expect(entries.length).toBeGreaterThan(nodes.length);
  });
  it('shows several tables of a load flow', () => {
    const { output } = run(['flow', 'demo.json', '--show', 'branches', '--show', 'sources'], demo);
    expect(output).toMatch(/^element +terminal/m);
    expect(output).toMatch(/^source +holds/m);
  });
  it('writes the sequence matrices', () => {
    const { output } = run(['matrix', 'demo.json', '--sequence', 'zero'], demo);
    const lines = output.trimEnd().split('\n');
    expect(lines[0]).toBe('%%MatrixMarket matrix coordinate complex general');
    const [rows, columns, entries] = lines
      .find((line) => /^\d/.test(line))!
      .split(' ')
      .map(Number);
    expect(rows).toBe(columns);
    expect(lines.filter((line) => /^\d/.test(line))).toHaveLength(entries + 1);
    expect(lines).toContainEqual(expect.stringMatching(/^% \d+: FER 132$/));
  });
  it.each([
    [['faults'], 2, /mesura faults FILE/],
    [['nonsense', 'demo.json'], 2, /mesura faults +FILE/],
    [['faults', 'demo.json', '--kind', '4ph'], 2, /--kind must be one of/],
    [['faults', 'demo.json', '--case', 'most'], 2, /--case must be/],
    [['faults', 'demo.json', '--format', 'xml'], 2, /--format must be/],
    [['faults', 'demo.json', '--method', 'guess'], 2, /--method must be one of iec60909/],
    [['faults', 'demo.json', '--along', 'CAU-FER 1:140'], 2, /inside the line/],
    [['faults', 'demo.json', '--along', 'Nowhere:40'], 1, /no line is called "Nowhere"/],
    [['faults', 'demo.json', '--end', 'CAU-FER 1:3'], 2, /end 1 or 2/],
    [['faults', 'demo.json', '--outage', 'Nobody'], 1, /no element is called "Nobody"/],
    [['faults', 'demo.json', '--fault', 'nonsense'], 2, /--fault must be KIND/],
    [['faults', 'demo.json', '--break', 'FER-PEN'], 2, /--break must be/],
    [['faults', 'demo.json', '--phase-r', 'much'], 2, /--phase-r must be a number/],
    [['flow', 'demo.json', '--show', 'buttons'], 2, /--show must be one of/],
    [['matrix', 'demo.json', '--sequence', 'fourth'], 2, /--sequence must be/],
    [['matrix', 'demo.json', '--method', 'c37'], 2, /for a matrix/],
    [['faults', 'demo.json', '--frobnicate'], 2, /there is no option --frobnicate\nmesura --help/],
    [
      ['faults', 'demo.json', '--knd', '3ph'],
      2,
      /there is no option --knd; --kind is meant, perhaps\n +--kind 3ph\|2ph/,
    ],
    [['faults', 'demo.json', '--kind', '4ph'], 2, /--kind must be one of .*\n +--kind 3ph\|2ph.*default 3ph\)\n$/],
    [['faults', 'demo.json', '--phase-x', 'much'], 2, /--phase-x must be a number.*\n +--phase-r, --phase-x OHM/],
    [['faults', 'demo.json', '--breaking'], 2, /--breaking needs a value\n +--breaking S/],
    [['faults', 'demo.json', 'other.json'], 2, /faults takes one project file, not 2/],
    [['around', 'demo.json', '--show', 'buses'], 2, /around takes no --show/],
    [['matrix', 'demo.json', '--show', 'buses'], 2, /matrix takes no --show/],
    [['faults', 'gone.json'], 1, /gone\.json cannot be read: no such file/],
    [['faults', 'demo.json', '--at', 'Atlantis'], 1, /no bus is called "Atlantis"; there are: .*BRA 33/],
  ])('%j fails with %i', (args, code, message) => {
    const outcome = run(args, demo);
    expect(outcome.code).toBe(code);
    expect(outcome.errors).toMatch(message);
    expect(outcome.output).toBe('');
  });
  it('tells what is wrong in a file, and where', () => {
    const outcome = run(['faults', 'x'], () => demoText().replace('"ukPercent":12.4', '"ukPercent":"much"'));
    expect(outcome.code).toBe(1);
    expect(outcome.errors).toMatch(/x: elements\.\d+\.ukPercent: must be a number \(FER T1\)/);
  });
});

describe('mesura grading and curve', () => {
  const demo = 'demo/sorrel-island.json';
  const ask = (...args: string[]) => run(args, (path) => readFileSync(path, 'utf8'));
  it('propose: one path, as little as possible; into a copy that then asks for nothing more', () => {
    const { code, output, errors, files } = ask(
      'propose',
      demo,
      '--path',
      'BRA F51',
      '--strategy',
      'least',
      '--write',
      'out.json',
    );
    expect(code).toBe(3);
    expect(output).toMatch(/BRA Q21 relay +51 +Time multiplier +0\.07 +0\.09 .*Margin between two devices/);
    expect(errors).toContain('1 of 22 values change, 5 conflicts, 0 of 92 margins not met');
    expect(errors).toMatch(
      /conflict: BRA Q21 relay, 51: tells ahead from behind .*\n {2}would hold with 67 of BRA Q21/,
    );
    expect(files!.map(({ path }) => path)).toEqual(['out.json']);
    const { elements } = JSON.parse(files![0].content as string) as {
      elements: { id: string; functions?: { timeMultiplier?: number; origins?: object[] }[] }[];
    };
    const [fn] = elements.find(({ id }) => id === 'bra-q21-relay')!.functions!;
    expect(fn).toMatchObject({
      timeMultiplier: 0.09,
      origins: [{ field: 'timeMultiplier', value: 0.09, book: 'Plain practice' }],
    });
    const json = JSON.parse(
      ask('propose', demo, '--device', 'FER Q33 relay, PEN Q11 relay', '--format', 'json').output,
    ) as {
      values: { device: string; by: { title: string; figures: { name: string; condition: string | null }[] }[] }[];
    };
    expect(new Set(json.values.map(({ device }) => device))).toEqual(new Set(['fer-q33-relay', 'pen-q11-relay']));
    expect(
      json.values
        .flatMap(({ by }) => by)
        .some(({ figures }) => figures.some(({ condition }) => condition === 'Maximum sources')),
    ).toBe(true);
    const pen = JSON.parse(ask('propose', demo, '--station', 'PEN', '--format', 'json').output) as typeof json;
    expect(new Set(pen.values.map(({ device }) => device))).toEqual(new Set(['pen-q11-relay', 'pen-r1']));
    expect(ask('propose', demo, '--station', 'Atlantis').errors).toContain(
      'no station is called "Atlantis"; there are: BRA',
    );
    expect(ask('propose', demo, '--device', 'nobody').errors).toContain('no device is called "nobody"');
    expect(ask('propose', demo, '--strategy', 'best').code).toBe(2);
    expect(ask('propose', demo, '--device', 'PEN R1', '--path', 'PEN R1').code).toBe(2);
  });
  it('reach: zones by the rulebook at the ends of a station, with what decided', () => {
    const { code, output } = ask('reach', demo, '--station', 'MAR');
    expect(code).toBe(0);
    expect(output).toMatch(
      /^MAR +FER-MAR .* 2 +18\.3\d+ .*Zone 2, into the shortest next line +FER-MAR, CAU-FER [12]$/m,
    );
    const { ends } = JSON.parse(ask('reach', demo, '--format', 'json', '--merged').output) as {
      ends: { line: string; zones: { zone: number; reach: { value: number; elements: string[] } }[] }[];
    };
    const own = ends.find(({ line }) => line === 'fer-mar')!;
    expect(own.zones.map(({ zone }) => zone)).toEqual([1, 2, 3]);
    expect(own.zones[0].reach.elements).toEqual(['fer-mar']);
    expect(ask('reach', demo, '--from', 'high').code).toBe(2);
    expect(ask('reach', demo, '--station', 'Atlantis').code).toBe(1);
  });
  it('coverage: refuses a network without distance protection, counts faults with it', () => {
    const project = JSON.parse(readFileSync(demo, 'utf8')) as { elements: Element[] };
    const gone = (kind: string) => ['relay', 'gradingChart'].includes(kind);
    const without = JSON.stringify({ ...project, elements: project.elements.filter(({ kind }) => !gone(kind)) });
    expect(run(['coverage', 'own'], () => without).errors).toContain(
      'no relay at the end of a line has distance protection',
    );
    const file = JSON.stringify({ ...project, elements: withDistanceRelay(project.elements) });
    const asked = (...args: string[]) => run(['coverage', 'own', ...args], () => file);
    const { code, output, errors } = asked('--condition', 'maximum', '--places', '5');
    expect(code).toBe(0);
    expect(output).toMatch(/^FER-MAR +3ph +\d/m);
    expect(errors).toContain('20 faults');
    const { counts, faults } = JSON.parse(
      asked('--condition', 'maximum', '--places', '5', '--resistance', '0', '--resistance', '50', '--format', 'json')
        .output,
    ) as { counts: Record<string, number>; faults: { resistance: number }[] };
    expect(faults).toHaveLength(40);
    expect(Object.values(counts).reduce((p, q) => p + q)).toBe(40);
    expect(asked('--line', 'CAU-FER 1').errors).toContain('no line "CAU-FER 1" has distance protection');
    expect(asked('--places', 'many').code).toBe(2);
  });
  it('tells currents ahead and backward, and ends with 3 where a direction is missing', () => {
    const { code, output, errors } = ask('directions', demo, '--faults', 'phase');
    expect(code).toBe(3);
    expect(output).toMatch(/^phase +BRA Q21 relay +[\d.]+ +[\d.]+ +1013\d .*needed$/m);
    expect(errors).toMatch(/ 3 without the direction that they need/);
    const { devices } = JSON.parse(ask('directions', demo, '--format', 'json', '--condition', 'minimum').output) as {
      devices: { device: { id: string }; faults: string; ahead: { most: { condition: string } } }[];
    };
    expect(new Set(devices.map(({ ahead }) => ahead?.most.condition))).toEqual(new Set(['Minimum sources']));
    expect(ask('directions', demo, '--show', 'all').code).toBe(2);
  });
  it('leaves out what was left out by hand, and says so', () => {
    const project = JSON.parse(readFileSync(demo, 'utf8')) as { elements: { kind: string; pairRulings?: object[] }[] };
    project.elements.find(({ kind }) => kind === 'projectSettings')!.pairRulings = [
      { downstream: 'bra-q37-relay', upstream: 'bra-q21-relay', graded: false, reason: 'fed by T2' },
    ];
    const file = JSON.stringify(project);
    const { output } = run(['grading', 'ruled', '--format', 'json'], (path) => (path === 'ruled' ? file : ''));
    const { pairs } = JSON.parse(output) as {
      pairs: { downstream: { id: string }; upstream: { id: string }; byHand: object }[];
    };
    const ruled = pairs.filter(({ byHand }) => byHand);
    expect(ruled.map(({ downstream, upstream }) => [downstream.id, upstream.id])).toEqual(
      Array(2).fill(['bra-q37-relay', 'bra-q21-relay']),
    );
    expect(ruled[0].byHand).toEqual({ graded: false, reason: 'fed by T2' });
  });
  it('gives every pair with its margin and the deciding condition, and ends with 3 where one is not met', () => {
    const { code, output, errors } = ask('grading', demo);
    expect(code).toBe(3);
    expect(output).toMatch(/phase +BRA Q32 relay +BRA Q21 relay +[\d.]+ +[\d.]+ +[\d.]+ +[\d.]+ +0\.3 +short/);
    expect(output).toMatch(/PEN F2 +PEN R1 /);
    expect(errors).toMatch(/^\d+ pairs, \d+ not met/);
    const { pairs } = JSON.parse(ask('grading', demo, '--format', 'json').output) as {
      pairs: {
        faults: string;
        downstream: { id: string };
        upstream: { id: string };
        charts: string[];
        follows: string[];
      }[];
    };
    const of = (down: string, up: string) =>
      pairs.find(
        ({ faults, downstream, upstream }) => faults === 'phase' && downstream.id === down && upstream.id === up,
      )!;
    expect(of('bra-q21-relay', 'bra-q11-relay').charts).toEqual(['Brackwater low voltage to Fernhill']);
    expect(of('pen-f2', 'pen-r1')).toMatchObject({
      charts: ['Pennywell recloser and spurs'],
      follows: expect.arrayContaining(['Maximum sources']),
    });
    expect(of('bra-q36-relay', 'bra-q22-relay').charts).toEqual([]);
    const failed = ask('grading', demo, '--show', 'failed').output;
    expect(
      failed
        .split('\n')
        .slice(1)
        .filter(Boolean)
        .every((line) => /short|blind/.test(line)),
    ).toBe(true);
    const one = ask('grading', demo, '--condition', 'Maximum sources');
    expect(one.output).not.toContain('Night');
    expect(ask('grading', demo, '--show', 'nothing').code).toBe(2);
  });
  it('gives the points of a curve with the edges of its band, and says what of it is only remembered', () => {
    const { code, output, errors } = ask('curve', demo, '--device', 'PEN F2');
    expect(code).toBe(0);
    expect(output).toMatch(/earliest/);
    expect(output).not.toMatch(/nominal/);
    expect(errors).toMatch(/IEEE C37.42.*as remembered/);
    const relay = ask(
      'curve',
      demo,
      '--device',
      'BRA Q32 relay',
      '--faults',
      'earth',
      '--to',
      '500',
      '--format',
      'csv',
    );
    expect(relay.output).toMatch(/,nominal,/);
    expect(ask('curve', demo).code).toBe(2);
    expect(ask('curve', demo, '--device', 'nobody').errors).toMatch(/no device is called "nobody"; there are: /);
    expect(ask('curve', demo, '--device', 'PEN F2', '--faults', 'earth').errors).toMatch(
      /has no curve for earth faults/,
    );
  });
});

describe('mesura outages, ratings, flow with a start', () => {
  const demo = 'demo/sorrel-island.json';
  const read = (path: string) => readFileSync(path, 'utf8');
  const ask = (...args: string[]) => run(args, read);
  it('every single outage with its verdict, in any conditions', () => {
    const { code, output, errors } = ask('outages', demo);
    expect(code).toBe(3);
    expect(output).toMatch(/^CAU-FER 1 .* OK$/m);
    expect(output).toMatch(/^BRA TM1 .* 2\.856 {2}supply lost$/m);
    expect(errors).toMatch(/44 outages, 30 not met/);
    const failed = ask('outages', demo, '--show', 'failed').output.trim().split('\n');
    expect(failed).toHaveLength(31);
    const two = JSON.parse(
      ask('outages', demo, '--condition', 'maximum', '--condition', 'Night, coupler open', '--format', 'json').output,
    ) as {
      outages: { name: string; condition: string; lowest: { bus: string; percent: number } | null }[];
    };
    expect(new Set(two.outages.map(({ condition }) => condition))).toEqual(
      new Set(['Maximum sources', 'Night, coupler open']),
    );
    expect(two.outages.find(({ name }) => name === 'FER T1')!.lowest!.percent).toBeGreaterThan(95);
    expect(ask('outages', demo, '--show', 'some').code).toBe(2);
  });
  it('ratings in three summaries with what is not known; exit status 3 where one is not met', () => {
    const { code, output, errors } = ask('ratings', demo);
    expect(code).toBe(3);
    expect(output).toMatch(/^BRA F51 +Breaking capacity +IEC 60947-2 +25 +36\.67 .*not met$/m);
    expect(output).toMatch(/^QUE 11 +Bus +peak withstand current, short-time withstand current$/m);
    expect(errors).toMatch(/\d+ ratings: 3 not met, 7 marginal; of 6 elements a rating is not known/);
    const json = JSON.parse(ask('ratings', demo, '--format', 'json', '--condition', 'minimum').output);
    expect(json).toMatchObject({ command: 'ratings', conditions: ['Minimum sources'] });
    expect(json.making[0].figures.table).toBe('making');
    expect(ask('ratings', demo, '--show', 'unknown', '--format', 'csv').output).toMatch(/^element,kind,not_known/);
    expect(ask('ratings', demo, '--show', 'colours').code).toBe(2);
  });
  it('a motor that starts: dips at every bus, current, torque, run-up', () => {
    const { code, output, errors } = ask(
      'flow',
      demo,
      '--start',
      'BRA P1',
      '--condition',
      'minimum',
      '--condition',
      'maximum',
    );
    expect(code).toBe(0);
    expect(output).toMatch(/^BRA 11 A +Minimum sources +11 /m);
    expect(errors).toMatch(
      /Maximum sources: BRA P1 draws 689 A at 93\.4\d % of its rated voltage.*runs up in 2\.0\d+ s/,
    );
    const reduced = JSON.parse(
      ask('flow', demo, '--start', 'BRA P1', '--reduction', '0.4225', '--format', 'json').output,
    );
    expect(reduced.starts[0].startingA).toBeLessThan(350);
    expect(ask('flow', demo, '--start', 'Nobody').code).toBe(1);
    expect(ask('flow', demo, '--start', 'BRA P1', '--reduction', '3').code).toBe(2);
  });
  it('loads scaled for a what-if', () => {
    const kv = (...args: string[]) =>
      (
        JSON.parse(ask('flow', demo, '--control', 'off', '--format', 'json', ...args).output) as {
          buses: { bus: string; kv: number }[];
        }
      ).buses.find(({ bus }) => bus === 'TOL 33')!.kv;
    expect(kv('--scale', 'Tollgate town:150')).toBeLessThan(kv());
    expect(kv('--scale', 'Tollgate town:100')).toBe(kv());
    expect(ask('flow', demo, '--scale', 'Tollgate town:-5').code).toBe(2);
    expect(ask('flow', demo, '--scale', 'Nobody:50').code).toBe(1);
  });
});

describe('mesura circuits and boards', () => {
  it('judges every circuit, and ends with 3 where one is short', () => {
    const { code, output } = run(['circuits', 'demo.json', '--at', 'BRA DB1'], demo);
    expect(code).toBe(3);
    expect(output.trim().split('\n')).toHaveLength(13);
    expect(output).toMatch(/^BRA DB1 +Flocculation pump +BRA F81 gG 20 A .* short +disconnection in time$/m);
    const json = JSON.parse(run(['circuits', 'demo.json', '--format', 'json', '--show', 'working'], demo).output);
    expect(json.boards.map(({ name }: { name: string }) => name)).toContain('BRA DB1');
    const pump = json.rows.find(({ name }: { name: string }) => name === 'Flocculation pump');
    expect(pump.checks.find(({ criterion }: { criterion: string }) => criterion === 'disconnection')).toMatchObject({
      verdict: 'short',
      limit: 0.4,
      remembered: true,
    });
    expect(pump.working.length).toBeGreaterThan(3);
    expect(run(['circuits', 'demo.json', '--at', 'BRA DB1', '--show', 'working'], demo).output).toMatch(/Zs = \|\(/);
  });
  it('proposes the section and the device, with the reasons', () => {
    const { code, output } = run(['circuits', 'demo.json', '--at', 'BRA DB1', '--propose', 'both'], demo);
    expect(code).toBe(0);
    expect(output).toMatch(
      /^Flocculation pump +2\.5, BRA F81 gG 20 A +4 +gG 20 A .*2\.5 mm²: a fault at the load is not cut/m,
    );
    expect(run(['circuits', 'demo.json', '--propose', 'copper'], demo).errors).toContain('--propose must be one of');
  });
  it('lists boards with their ratings, links and parts', () => {
    const { code, output } = run(['boards', 'demo.json'], demo);
    expect(code).toBe(0);
    expect(output).toMatch(/^BRA 11 +BRA 11 A +Peak current +36\.\d+ +40 +kA /m);
    expect(run(['boards', 'demo.json', '--show', 'links'], demo).output).toMatch(/^BRA 0\.4-2 +BRA WDB1 +BRA DB1$/m);
    const bill = run(['boards', 'demo.json', '--at', 'BRA DB1', '--show', 'bill', '--format', 'csv'], demo).output;
    expect(bill.split('\r\n')[0]).toBe('Board,Kind,Type,Number,Names');
    expect(bill).toContain('BRA F90, BRA F91');
    expect(run(['boards', 'demo.json', '--at', 'Atlantis'], demo).errors).toContain('there are: ');
  });
});

describe('mesura earth', () => {
  const earth = (...args: string[]) => run(['earth', 'demo.json', ...args], demo);
  it('gives what of an earth fault goes into the grid of each station, and whether it is borne', () => {
    const { code, output, errors } = earth('--at', 'FER 132', '--case', 'max');
    expect(code).toBe(3);
    expect(output).toMatch(/FER 132 +Maximum sources +4363 +1852 +0\.4244 .* touch voltages to be shown/);
    expect(errors).not.toContain('FER-BRA');
    const { rows } = JSON.parse(earth('--at', 'FER 132', '--case', 'max', '--format', 'json').output);
    const [{ figures, detail }] = rows;
    const ofStation = detail.profiles.filter(({ from }: { from: string }) => from === detail.hub);
    expect(ofStation.map(({ name }: { name: string }) => name).sort()).toEqual([
      'CAU-FER 1, CAU-FER 2',
      'FER-BRA 1',
      'FER-BRA 2',
      'FER-MAR',
    ]);
    expect(figures.riseV).toBeCloseTo(0.42 * figures.gridA, 6);
    expect(figures.stations.map(({ name }: { name: string }) => name)).toEqual(
      expect.arrayContaining(['CAU', 'MAR', 'BRA']),
    );
    // Shorter: more is borne.
    expect(earth('--at', 'FER 132', '--case', 'max', '--duration', '0.1').code).toBe(0);
  });
  it('puts the fault at the towers of a line, and computes a study of its own', () => {
    const { rows } = JSON.parse(earth('--along', 'FER-MAR', '--format', 'json').output);
    expect(rows.length).toBeGreaterThan(50);
    for (const row of rows) expect(row.towerV).toBeGreaterThan(row.hubV);
    const { output, errors } = earth('--study', 'Fernhill by hand', '--format', 'csv');
    expect(output.split('\n')[1]).toMatch(/^to Causeway,0,Fernhill,0,/);
    expect(errors).toMatch(/split factor 0\.\d+, grid/);
    expect(earth('--study', 'nobody').errors).toContain('there are: Fernhill by hand');
  });
  it('says what is missing', () => {
    const { code, errors } = earth('--at', 'PEN 33');
    expect(code).toBe(1);
    expect(errors).toMatch(/the earthing of .*PEN.* is not given/);
    expect(earth('--carson', 'by hand').code).toBe(2);
  });
});

describe('mesura direct', () => {
  const direct = (...args: string[]) => run(['direct', 'demo.json', ...args], demo);
  it('gives voltages and currents at boards and loads, and what clears them', () => {
    const { code, output, errors } = direct();
    // The charger goes on feeding the first board.
    expect(code).toBe(3);
    expect(output).toMatch(/FER DC 1 +110 .* nothing within 60 s/);
    expect(output).toMatch(/Protection 33 kV +110 .* FER Q92 C16 d\.c\./);
    expect(errors).toBe('7 places, 0 below their lowest voltage, 0 loads fall out, 1 not cleared\n');
    expect(direct('--show', 'working').output).toContain('IEC 61660-1 (as remembered), 2.3');
  });
  it('answers in JSON with every source, the current over time and the load', () => {
    const { rows, flows } = JSON.parse(direct('--format', 'json').output);
    const [board] = rows;
    const [{ partials, steadyA, currentA }] = board.faults;
    const sum = partials.reduce(
      (total: number, { factor, alone }: { factor: number; alone: { steadyA: number } }) =>
        total + factor * alone.steadyA,
      0,
    );
    expect(steadyA).toBeCloseTo(sum, 9);
    expect(currentA.at(-1).ampere).toBeCloseTo(steadyA, 0);
    expect(flows[0].rows.some(({ kind }: { kind: string }) => kind === 'cable')).toBe(true);
  });
});

describe('mesura arc', () => {
  const arc = (...args: string[]) => run(['arc', 'demo.json', '--condition', 'Night, coupler open', ...args], demo);
  it('gives the energy of places with who clears them; ends with 3 above the limit', () => {
    const { code, output, errors } = arc('--at', 'BRA 0.4');
    expect(code).toBe(3);
    expect(output).toMatch(/BRA 0\.4, line side of BRA F41 +ac +0\.4 .* reduced +1\.4.* BRA Q32 relay, 51 +42\.53 /);
    expect(errors).toBe('2 places, 1 above 40 cal/cm², 0 not cleared within the longest time\n');
    const shorter = arc('--at', 'BRA 0.4', '--longest', '0.5');
    expect(shorter.output).toContain('nothing within 0.5 s');
  });
  it('answers in JSON with stages and what opened; the other edition beside; the working', () => {
    const answer = JSON.parse(arc('--at', 'BRA 0.4', '--compare', '--format', 'json').output);
    const [, row] = answer.rows;
    expect(row).toMatchObject({ lineSideOf: 'bra-f41', distanceMm: 520, clearedBy: 'BRA Q32 relay, 51' });
    const { reduced } = row.worst;
    const sum = reduced.stages.reduce((total: number, { energy }: { energy: number }) => total + energy, 0);
    expect(reduced.energyJcm2).toBeCloseTo(sum, 9);
    expect(row.other.method).toBe('2002');
    expect(arc('--at', 'BRA 0.4', '--show', 'working').output).toContain('[IEEE 1584-2018, 4.6, (25)]');
    expect(arc('--at', 'BRA 0.4', '--edition', '2002', '--format', 'csv').output).toContain(
      'IEEE 1584-2002 (as remembered)',
    );
  });
  it('knows boards of direct current, each by every method', () => {
    const answer = JSON.parse(arc('--at', 'FER DC 1', '--format', 'json').output);
    const [row] = answer.rows;
    expect(row).toMatchObject({ place: 'FER DC 1', system: 'dc', nominalV: 110, gapMm: 13 });
    const { maxpower, stokes, paukert, decides } = row.worst;
    expect(Math.max(...[maxpower, stokes, paukert].map((each) => each.energyJcm2))).toBe(row.worst[decides].energyJcm2);
    expect(arc('--at', 'FER DC 2', '--show', 'working').output).toContain('as remembered');
  });
  it('takes maintenance settings where they are asked for', () => {
    expect(arc('--at', 'BRA 0.4', '--maintenance').code).toBe(3);
  });
  it('refuses what it does not know', () => {
    expect(arc('--at', 'nowhere').code).toBe(1);
    expect(arc('--edition', '1995').code).toBe(2);
    expect(arc('--longest', 'short').code).toBe(2);
  });
});

describe('mesura verify', () => {
  const demo = 'demo/sorrel-island.json';
  const read = (path: string) => readFileSync(path, 'utf8');
  const known = new Map<string, ReturnType<typeof run>>();
  const verify = (...args: string[]) => {
    const key = args.join(' ');
    if (!known.has(key)) known.set(key, run(['verify', demo, ...args], read));
    return known.get(key)!;
  };
  it('says what is not met, with the deciding condition, and ends with 3', () => {
    const { code, output, errors } = verify();
    expect(code).toBe(3);
    expect(output).toMatch(
      /Margin BRA Q32 relay → BRA Q21 relay, phase faults +0\.2234 +0\.3 +s .*Night, coupler open .*not met/,
    );
    const lines = output.trim().split('\n').slice(1);
    expect(lines.length).toBeGreaterThan(20);
    for (const line of lines) expect(line).toMatch(/(not met|warning)$/);
    const [, bad, doubtful] = /, (\d+) not met, (\d+) warnings; 0 errors in the data/.exec(errors)!;
    expect(Number(bad) + Number(doubtful)).toBe(lines.length);
    expect(verify('--show', 'all', '--condition', 'minimum').output.trim().split('\n').length).toBeGreaterThan(40);
  });
  it('answers in JSON with every figure, and for the conditions asked only', () => {
    const all = JSON.parse(verify('--format', 'json').output);
    expect(all).toMatchObject({
      command: 'verify',
      conditions: ['Maximum sources', 'Minimum sources', 'FER-BRA 1 out', 'Night, coupler open'],
      holds: false,
    });
    for (const { value, bound, margin, sense } of all.checks)
      if (value !== null) expect(margin).toBeCloseTo(sense === 'atLeast' ? value - bound : bound - value, 12);
    const least = JSON.parse(verify('--format', 'json', '--condition', 'minimum').output);
    expect(new Set(least.checks.map((each: { condition: string | null }) => each.condition))).toEqual(
      new Set(['Minimum sources', null]),
    );
    expect(verify('--condition', 'nowhere')).toMatchObject({ code: 1 });
    expect(verify('--condition', 'minimum', '--case', 'max')).toMatchObject({ code: 2 });
  });
  it('writes JUnit that counts what it holds', () => {
    const { output } = verify('--format', 'junit');
    const xml = new XMLParser({ ignoreAttributes: false, attributeNamePrefix: '@' }).parse(output);
    const suites = xml.testsuites.testsuite as { '@name': string; '@tests': string; '@failures': string }[];
    expect(suites.map((suite) => suite['@name'])).toEqual(expect.arrayContaining(['grading.pairs', 'data']));
    const [, bad] = /, (\d+) not met/.exec(verify().errors)!;
    expect(suites.reduce((sum, suite) => sum + Number(suite['@failures']), 0)).toBe(Number(bad));
    expect(suites.find((suite) => suite['@name'] === 'grading.pairs')!['@tests']).toBe('18');
  });
  it('compares with an earlier state: what got worse, what better', () => {
    const project = JSON.parse(read(demo)) as { elements: { id: string; functions?: { timeMultiplier: number }[] }[] };
    project.elements.find(({ id }) => id === 'bra-q21-relay')!.functions![0].timeMultiplier = 0.2;
    const earlier = JSON.stringify(project);
    const { output } = run(['verify', demo, '--against', 'earlier'], (path) =>
      path === 'earlier' ? earlier : read(path),
    );
    expect(output).toMatch(/worse +Margin BRA Q32 relay → BRA Q21 relay, phase faults/);
    expect(output).toMatch(/better +Margin BRA Q21 relay → BRA Q11 relay/);
    expect(verify('--condition', 'minimum', '--against', demo).output).toContain('nothing got worse, nothing better');
  });
});

describe('several conditions', () => {
  const all = ['--condition', 'Maximum sources', '--condition', 'Night, coupler open'];
  const asked = (...args: string[]) => run([args[0], 'demo.json', ...args.slice(1)], demo);
  it('flow: each row says its condition, and is what the condition alone gives', () => {
    const both = asked('flow', ...all, '--format', 'csv')
      .output.trim()
      .split('\r\n');
    const alone = asked('flow', '--condition', 'Night, coupler open', '--format', 'csv').output.trim().split('\r\n');
    expect(both).toHaveLength(2 * (alone.length - 1) + 1);
    const night = both.filter((line) => line.includes('"Night, coupler open"'));
    expect(night.map((line) => line.replace(',"Night, coupler open"', ''))).toEqual(alone.slice(1));
    const { conditions } = JSON.parse(asked('flow', ...all, '--format', 'json').output) as { conditions: object[] };
    expect(conditions).toMatchObject([{ condition: 'Maximum sources' }, { condition: 'Night, coupler open' }]);
  });
  it('around: the most and the least over them, and which decided', () => {
    type Row = {
      element: string;
      terminal: number;
      most: { currentA: number; condition: string };
      least: { currentA: number; condition: string };
    };
    const rowsOf = (...args: string[]) =>
      (JSON.parse(asked('around', '--at', 'BRA 11 A', '--format', 'json', ...args).output) as { branches: Row[] })
        .branches;
    const both = rowsOf(...all);
    const each = [rowsOf(...all.slice(0, 2)), rowsOf(...all.slice(2))];
    for (const row of both) {
      const same = each.map((rows) =>
        rows.find(({ element, terminal }) => element === row.element && terminal === row.terminal),
      );
      const present = same.filter((found) => found !== undefined);
      expect(row.most.currentA).toBe(Math.max(...present.map(({ most }) => most.currentA)));
      expect(row.least.currentA).toBe(Math.min(...present.map(({ least }) => least.currentA)));
      expect(present.map(({ most }) => most)).toContainEqual(row.most);
    }
    expect(new Set(both.map(({ most }) => most.condition)).size).toBeGreaterThan(1);
    expect(asked('around', '--at', 'BRA 11 A', ...all).output.split('\n')[0]).toMatch(/condition .*condition/);
  });
  it('matrix takes one', () => {
    expect(asked('matrix', ...all)).toMatchObject({ code: 2, errors: expect.stringContaining('one --condition') });
  });
});

describe('files in and out', () => {
  const bytes = new Map<string, Uint8Array>([['notes.txt', new TextEncoder().encode('just a letter')]]);
  const at = (path: string): Uint8Array => {
    const found = bytes.get(path);
    if (!found) throw new Error('no such file');
    return found;
  };
  const asked = (...args: string[]) => perform(args, demo, at);

  it('exports a workbook that changes nothing when it is imported again', async () => {
    const { code, bytes: book } = await asked('export', 'demo.json');
    expect(code).toBe(0);
    bytes.set('tables.xlsx', book!);
    const again = await asked('import', 'tables.xlsx', '--into', 'demo.json');
    expect(again).toMatchObject({ code: 1, errors: '' });
    expect(again.output.trim().split('\n')).toHaveLength(1);
  });
  it('gives the project with what was imported', async () => {
    bytes.set('length.csv', new TextEncoder().encode('Identifier,Length in km\nfer-pen,12.5\nnobody,1\n'));
    const { code, output, errors } = await asked('import', 'length.csv', '--into', 'demo.json', '--format', 'project');
    expect(code).toBe(0);
    expect(errors).toBe('note: Line 3: there is no element "nobody" in this project\n');
    const { elements } = JSON.parse(output) as { elements: { id: string; lengthKm?: number }[] };
    expect(elements.find(({ id }) => id === 'fer-pen')!.lengthKm).toBe(12.5);
    const told = await asked('import', 'length.csv', '--into', 'demo.json', '--format', 'json');
    expect(JSON.parse(told.output)).toMatchObject({ command: 'import', batch: [{ op: 'update' }] });
  });
  it('exports the project as it was read', async () => {
    const { bytes: file } = await asked('export', 'demo.json', '--as', 'project');
    expect(JSON.parse(new TextDecoder().decode(file))).toEqual(JSON.parse(demoText()));
  });
  it('makes a project of a bundle from elsewhere, and tells what a later one changes', async () => {
    const { bytes: bundle, errors } = await asked('export', 'demo.json', '--as', 'cim');
    expect(errors).toMatch(/^left out: current transformers/m);
    bytes.set('demo.zip', bundle!);
    const fresh = await asked('import', 'demo.zip', '--format', 'project');
    expect(JSON.parse(fresh.output)).toMatchObject({ format: 'mesura-project', name: 'Sorrel Island' });
    expect(fresh.errors).toBe('');
    const again = await asked('import', 'demo.zip', '--into', 'demo.json', '--format', 'csv');
    expect(again.output).toContain('changed,Asynchronous motor,BRA P4,Like motors,4,1,yes');
    const nothing = await asked('import', 'demo.zip', '--into', 'demo.json', '--take', 'new', '--format', 'json');
    const batch = (JSON.parse(nothing.output) as { batch: { element: { id: string; foreign?: unknown } }[] }).batch;
    expect(batch.every(({ element }) => element.foreign !== undefined && element.id !== 'bra-p4')).toBe(true);
    expect(await asked('import', 'demo.zip', '--take', 'all')).toMatchObject({ code: 2 });
  });
  it('writes no solved case of what does not solve', async () => {
    const { code, bytes: solved } = await asked('export', 'demo.json', '--as', 'powerFlow');
    expect([code, new TextDecoder().decode(solved).split('\r\n')[1]]).toEqual([
      0,
      expect.stringMatching(/^BUS DATA FOLLOWS/),
    ]);
    expect(
      await perform(
        ['export', 'x', '--as', 'powerFlow'],
        () => '{"format":"mesura-project","version":2,"name":"x","elements":[]}',
        at,
      ),
    ).toMatchObject({ code: 1 });
  });
  it('says what is wrong', async () => {
    expect(await asked('import', 'notes.txt', '--into', 'demo.json')).toMatchObject({
      code: 1,
      errors: expect.stringContaining('notes.txt is none of these'),
    });
    expect(await asked('import', 'gone.csv', '--into', 'demo.json')).toMatchObject({ code: 1 });
    expect(await asked('export', 'demo.json', '--as', 'paper')).toMatchObject({ code: 2 });
  });
});

describe('mesura formula', () => {
  it('lists formulas, tells what one takes, and computes', () => {
    expect(run(['formula'], demo).output).toContain('inverse-time');
    const described = run(['formula', 'inverse-time'], demo).output;
    expect(described).toContain('IEC 60255-151:2009, annex A');
    // The example that it prints is a command that works.
    const [, inputs] = /mesura formula inverse-time '(.*)'/.exec(described)!;
    const { code, output } = run(['formula', 'inverse-time', inputs, '--format', 'json'], demo);
    expect([code, (JSON.parse(output) as { outputs: { operatingS: number } }).outputs.operatingS]).toEqual([
      0,
      expect.closeTo(0.8911795873, 9),
    ]);
    expect(
      run(
        [
          'formula',
          'arc-theoretical',
          '{"voltageKv":33,"boltedKa":7.4,"timeS":0.244,"distanceMm":1010}',
          '--format',
          'csv',
        ],
        demo,
      ),
    ).toMatchObject({
      code: 0,
      errors: expect.stringContaining('as remembered'),
      output: expect.stringContaining('energy,Incident energy,125.11'),
    });
  });
  it('says what is wrong', () => {
    expect(run(['formula', 'inverse-tim'], demo)).toMatchObject({
      code: 1,
      errors: expect.stringContaining('inverse-time is meant'),
    });
    expect(run(['formula', 'peak-factor', '{"rOverX":'], demo)).toMatchObject({
      code: 1,
      errors: expect.stringContaining('no JSON'),
    });
    expect(run(['formula', 'peak-factor', '{"rOverX":0.1}'], demo)).toMatchObject({
      code: 1,
      errors: expect.stringContaining('ikKa'),
    });
    expect(run(['formula', 'peak-factor', '{}', 'x'], demo)).toMatchObject({ code: 2 });
  });
});

describe('values for a run alone', () => {
  it('make a grid of cases in one table, and leave the project as it is', () => {
    const grid = ['--set', 'FER-PEN.lengthKm=5,10', '--set', 'FER T1.ukPercent=9..11:1'];
    const { code, output } = run(
      ['faults', 'demo.json', '--at', 'PEN 33', '--columns', 'place,ik_A', '--format', 'csv', ...grid],
      demo,
    );
    expect(code).toBe(0);
    const rows = output
      .trim()
      .split('\r\n')
      .map((line) => line.split(','));
    expect(rows[0]).toEqual(['FER-PEN.lengthKm', 'FER T1.ukPercent', 'place', 'ik_A']);
    expect(rows.slice(1).map(([km, uk]) => `${km} ${uk}`)).toEqual(['5 9', '5 10', '5 11', '10 9', '10 10', '10 11']);
    // A longer line and a higher impedance: less current.
    const ik = rows.slice(1).map((row) => Number(row[3]));
    expect(ik[0]).toBeGreaterThan(ik[1]);
    expect(ik[0]).toBeGreaterThan(ik[3]);
    const plain = run(['faults', 'demo.json', '--at', 'PEN 33', '--format', 'json'], demo);
    const one = JSON.parse(
      run(['faults', 'demo.json', '--at', 'PEN 33', '--format', 'json', '--set', 'FER-PEN.lengthKm=11.2'], demo).output,
    ) as { cases: { set: object; answer: unknown }[] };
    expect(one.cases).toEqual([{ set: { 'FER-PEN.lengthKm': 11.2 }, code: 0, answer: JSON.parse(plain.output) }]);
    expect(run(['flow', 'demo.json', '--set', 'FER T1.ukPercent=9,12'], demo).output).toMatch(
      /^FER T1.ukPercent=9\n[^]*\nFER T1.ukPercent=12\n/,
    );
  });
  it('are refused in words', () => {
    const asked = (...args: string[]) => run(['faults', 'demo.json', ...args], demo);
    expect(asked('--set', 'Nobody.x=1')).toMatchObject({
      code: 2,
      errors: expect.stringMatching(/--set no element.*\n +--set ELEMENT/),
    });
    expect(asked('--columns', 'place,colour')).toMatchObject({
      code: 2,
      errors: expect.stringContaining('there is no column colour; there are place,'),
    });
    expect(run(['cases', 'demo.json', '--set', 'a.b=1'], demo)).toMatchObject({ code: 2 });
    expect(asked('--set', 'FER T1.ukPercent=9', '--kind', 'x')).toMatchObject({
      code: 2,
      errors: expect.stringContaining('--kind must be'),
    });
  });
});

describe('mesura completion', () => {
  it('knows every command and option', () => {
    const { output } = run(['completion', 'bash'], demo);
    // Each command with its own options.
    const ofFlow = /^ *flow\) options="([^"]*)"/m.exec(output)![1].split(' ');
    expect(ofFlow).toEqual(expect.arrayContaining(['--scale', '--condition', '--format']));
    expect(ofFlow).not.toContain('--strategy');
    for (const { name } of commands) expect(output).toMatch(new RegExp(`[" ]${name}[" ]`));
    for (const option of Object.keys(optionTypes)) expect(output).toContain(`--${option}`);
    for (const shell of ['zsh', 'fish']) expect(run(['completion', shell], demo).output).toContain('verify');
    expect(run(['completion', 'abacus'], demo)).toMatchObject({ code: 2 });
  });
});
