/** Scripts: what they may say, what their mistakes are told as, and that nothing leads out of their world. */
import { describe, expect, it } from 'vitest';
import { runScript, type ScriptHost, type ScriptLimits } from './sandbox';
import { scriptWords } from './words';

const asked: string[] = [];
const host: ScriptHost = {
  name: 'Island',
  now: () => performance.now(),
  elements: (kind) => [{ id: 'a', kind: kind ?? 'bus', name: 'A' }],
  element: (name) => (name === 'A' ? { id: 'a', kind: 'bus', name: 'A' } : null),
  conditions: () => [{ id: 'maximum', name: 'Maximum sources' }],
  change: (change) => void asked.push(JSON.stringify(change)),
  set: (field, value) => void asked.push(`${field}=${value}`),
  notes: () => ['assumed'],
  study: (name, options, form) => {
    if (name === 'broken') throw new Error('no bus is called "X"');
    return form === 'csv'
      ? [
          ['place', 'ik_A'],
          ['A', 100],
          ['B', null],
        ]
      : { command: name, options };
  },
  progress: (share) => void asked.push(`progress ${share}`),
};
const play = (text: string, limits?: ScriptLimits) => runScript(text, host, limits);
const said = async (text: string) => {
  const { said: all, failure } = await play(text);
  expect(failure).toBeNull();
  return all.map((each) => (each.what === 'text' ? each.text : each.what));
};

describe('a script', () => {
  it('reads, changes, asks, and says what it found', async () => {
    const {
      said: all,
      files,
      failure,
    } = await play(`
      interface Found { place: string; ik_A: number | null }
      const rows = project.table('faults', { at: ['A'] }) as unknown as Found[];
      print(project.name, project.elements('line')[0].kind, project.element('B'), rows.length);
      table(rows.map(({ place, ik_A }) => ({ place, kA: ik_A! / 1000 })), 'Currents');
      plot({ title: 'T', x: 's', y: 'A', logX: true, series: [{ name: 'p', points: [[1, 2], [3, 4]] }] });
      files.text('a.txt', 'x');
      files.csv('b.csv', [{ a: 1, b: 'p, "q"' }, { c: '=1+1', a: null }]);
      files.workbook('c.xlsx', [{ name: 'S', rows: [{ a: 1 }, { b: true }] }]);
      project.set('A.nominalKv', 11);
      project.update({ ...project.element('A'), name: 'B' });
      project.remove('a');
      console.log(project.study('flow', { start: 'M' }).options.start, project.notes());
      progress(0.5);
    `);
    expect(failure).toBeNull();
    expect(all).toEqual([
      { what: 'text', text: 'Island line null 2' },
      {
        what: 'table',
        title: 'Currents',
        columns: ['place', 'kA'],
        rows: [
          ['A', 0.1],
          ['B', 0],
        ],
      },
      {
        what: 'plot',
        plot: {
          title: 'T',
          x: 's',
          y: 'A',
          logX: true,
          logY: false,
          series: [
            {
              name: 'p',
              points: [
                [1, 2],
                [3, 4],
              ],
            },
          ],
        },
      },
      { what: 'text', text: 'M ["assumed"]' },
    ]);
    expect(files).toEqual([
      { name: 'a.txt', text: 'x' },
      // What a spreadsheet would take for a formula is text.
      { name: 'b.csv', text: 'a,b,c\r\n1,"p, ""q""",\r\n,,\'=1+1\r\n' },
      {
        name: 'c.xlsx',
        sheets: [
          {
            name: 'S',
            columns: ['a', 'b'],
            rows: [
              [1, null],
              [null, true],
            ],
          },
        ],
      },
    ]);
    expect(asked.splice(0)).toEqual([
      'A.nominalKv=11',
      '{"op":"update","element":{"id":"a","kind":"bus","name":"B"}}',
      '{"op":"remove","id":"a"}',
      'progress 0.5',
    ]);
  });
  it('finds every word that is documented, and no other object of ours', async () => {
    const names = scriptWords.map(({ name }) => name);
    const [found] = await said(`print(${JSON.stringify(names)}.filter((name) => eval(name) === undefined))`);
    expect(found).toBe('[]');
    const [own] = await said(
      'print(Object.keys(globalThis).filter((name) => Object.getOwnPropertyDescriptor(globalThis, name).enumerable))',
    );
    const roots = new Set([...names.map((name) => name.split('.')[0]), 'console']);
    expect(JSON.parse(own)).toEqual([...roots].sort((p, q) => JSON.parse(own).indexOf(p) - JSON.parse(own).indexOf(q)));
  });
  it('is told its mistakes with the line', async () => {
    for (const [text, message, line] of [
      ['\n\nprint(nothing)', /nothing. is not defined/, 3],
      ['const a = 1;\nproject.study("broken")', /no bus is called "X"/, 2],
      ['\nlet x: number = ;', /Unexpected token/, 2],
      ['throw "x"', /x/, null],
      ['throw null', /null/, null],
      ['import fs from "fs"; print(fs)', /expecting/, 1],
      ['table(5)', /the rows must be a list/, 1],
      ['table([5])', /a table is a list of rows/, 1],
      ['plot({ series: [{ name: "a", points: [["a", 1]] }] })', /a point is two numbers/, 1],
      ['files.text("../x.txt", "")', /is no name of a file/, 1],
      ['files.text("x.json", "")', /is no name of a file/, 1],
      ['files.text(".txt", "")', /is no name of a file/, 1],
      ['files.text("a\\u0000.txt", "")', /is no name of a file/, 1],
      ['files.text("a/b.txt", "")', /is no name of a file/, 1],
    ] as const) {
      const { failure } = await play(text);
      expect(failure?.message, text).toMatch(message);
      if (line !== null) expect(failure?.line, text).toBe(line);
    }
    // What was said before stays.
    expect((await play('print(1); nothing()')).said).toHaveLength(1);
  });
});

describe('the sandbox', () => {
  const quick = { seconds: 1, megabytes: 24 };
  it('holds nothing that leads out', async () => {
    const absent = [
      'process',
      'require',
      'module',
      'fetch',
      'XMLHttpRequest',
      'WebSocket',
      'Worker',
      'importScripts',
      'postMessage',
      'window',
      'self',
      'document',
      'navigator',
      'localStorage',
      'indexedDB',
      'Deno',
      'Bun',
      'Buffer',
      'WebAssembly',
      'setTimeout',
      'setInterval',
      'queueMicrotask',
      'std',
      'os',
      'hostCall',
      '__loadScript',
      'scriptArgs',
    ];
    const [found] = await said(
      `print(${JSON.stringify(absent)}.filter((name) => typeof globalThis[name] !== 'undefined'))`,
    );
    expect(found).toBe('[]');
    for (const way of [
      '(function () { return this })()',
      'Function("return this")()',
      'print.constructor("return this")()',
      '(async () => {}).constructor("return globalThis")()',
      '[].constructor.constructor("return this")()',
      'Reflect.getPrototypeOf(project).constructor.constructor("return this")()',
      'new Proxy({}, {}).constructor.constructor("return this")()',
    ]) {
      const [answer] = await said(
        `const world = ${way}; print(typeof (world?.process), typeof (world?.fetch), world === globalThis || world === undefined || typeof world)`,
      );
      expect(answer, way).toMatch(/^undefined undefined (true|object)$/);
    }
    for (const way of [
      'import("fs")',
      'import("node:fs").then((fs) => print("out"))',
      'import("https://example.org/x.js")',
    ])
      expect((await play(`${way}`)).said, way).toEqual([]);
  });
  it('cannot put anything in the way of others: what it spoils is its own', async () => {
    await play(`
      Object.prototype.polluted = 1;
      Array.prototype.map = () => { throw 1 };
      JSON.parse = () => ({});
      project.elements = () => 1;
    `);
    expect(({} as { polluted?: number }).polluted).toBeUndefined();
    expect([1].map((x) => x)).toEqual([1]);
    const [answer] = await said('print(({}).polluted, [1].map((x) => x + 1), project.elements().length)');
    expect(answer).toBe('undefined [2] 1');
    const { failure } = await play('"use strict"; print = 1');
    expect(failure?.message).toMatch(/read-only/);
  });
  it('takes only what is data from the script, whatever it pretends to be', async () => {
    for (const text of [
      'project.update({ toJSON() { return { op: "x" } } })',
      'project.update(new Proxy({}, { get() { return 1 } }))',
      'const a = {}; a.a = a; project.update(a)',
      'project.study({ toString() { return "faults" } })',
      'project.study("__proto__")',
      'project.study("constructor")',
      'print(Symbol("x"))',
      'print(10n)',
      'table([{ a: { toJSON() { return 1 } } }])',
      'project.set({ toString: null }, 1)',
    ]) {
      const { failure } = await play(text, quick);
      expect(failure === null || typeof failure.message === 'string', text).toBe(true);
    }
    asked.splice(0);
  });
  it('ends what does not end, and what grows without end', async () => {
    for (const [text, why] of [
      ['for (;;) {}', /longer than 1 s/],
      ['while (true) { try { for (;;) {} } catch {} }', /longer than 1 s/],
      ['/(a+)+$/.test("a".repeat(40) + "b")', /longer than 1 s/],
      ['eval("(".repeat(1e5))', /nested too deep/],
      ['let a = []; for (let k = 0; k < 1e5; k++) a = [a]; print(a)', /nested too deep/],
      ['const a = []; for (;;) a.push(new Array(10000).fill(1))', /more than 24 MB|longer/],
      ['let s = "x"; for (;;) s += s', /(more than 24 MB|string too long|invalid string length)/i],
      ['(function f() { f() })()', /calls itself|stack/],
      ['const f = () => [1].map(f); f()', /calls itself|stack/],
      ['for (;;) print("x")', /more than 20000|longer/],
      ['for (;;) files.text("a.txt", "x")', /more than 100 files/],
      [
        'for (let k = 0; ; k++) table(Array.from({ length: 1000 }, () => ({ a: 1, b: 2 })))',
        /more than \d+ cells|longer|MB/,
      ],
      ['const p = () => Promise.resolve().then(p); p(); for (;;) {}', /longer than 1 s/],
      ['new ArrayBuffer(1e9)', /(more than 24 MB|invalid)/],
      ['Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0)', /./],
    ] as const) {
      const { failure } = await play(text, quick);
      expect(failure?.message, text).toMatch(why);
    }
    // The next one runs as if nothing had been.
    expect(await said('print(1 + 1)')).toEqual(['2']);
  }, 120_000);
});
