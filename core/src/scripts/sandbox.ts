/**
 * Scripts of users, in an interpreter of their own: nothing of the program is within their reach but what the host hands over as text, and time, memory and output
 * are bounded. TypeScript is read as JavaScript with its types left out.
 */
import variant from '@jitl/quickjs-singlefile-mjs-release-sync';
import { newQuickJSWASMModuleFromVariant, type QuickJSContext, type QuickJSWASMModule } from 'quickjs-emscripten-core';
import { transform } from 'sucrase';
import { prelude } from './prelude';

export type Value = string | number | boolean | null;
export type Row = Readonly<Record<string, Value>>;

export interface ScriptPlot {
  readonly title: string;
  readonly x: string;
  readonly y: string;
  readonly logX: boolean;
  readonly logY: boolean;
  readonly series: readonly { readonly name: string; readonly points: readonly (readonly [number, number])[] }[];
}

/** What a script has said, in its order. */
export type Said =
  | { readonly what: 'text'; readonly text: string }
  | {
      readonly what: 'table';
      readonly title: string;
      readonly columns: readonly string[];
      readonly rows: readonly (readonly Value[])[];
    }
  | { readonly what: 'plot'; readonly plot: ScriptPlot };

export interface ScriptSheet {
  readonly name: string;
  readonly columns: readonly string[];
  readonly rows: readonly (readonly Value[])[];
}

export type ScriptFile =
  { readonly name: string; readonly text: string } | { readonly name: string; readonly sheets: readonly ScriptSheet[] };

/** What the script asks of the project. Plain data in and out; an `Error` is told to the script in words. */
export interface ScriptHost {
  readonly name: string;
  /** Milliseconds, from whenever. */
  now(): number;
  elements(kind: string | null): unknown;
  element(nameOrId: string): unknown;
  conditions(): unknown;
  change(change: unknown): void;
  set(field: string, value: string): void;
  /** What the last study remarked. */
  notes(): readonly string[];
  study(name: string, options: Readonly<Record<string, unknown>>, form: 'json' | 'csv'): unknown;
  /** From 0 to 1. */
  progress(share: number): void;
}

export interface ScriptLimits {
  readonly seconds: number;
  readonly megabytes: number;
}
export const usualLimits: ScriptLimits = { seconds: 300, megabytes: 256 };

/** Of all that is said and written. */
const mostSaid = 20_000;
const mostCells = 2_000_000;
const mostFiles = 100;
const mostLetters = 50_000_000;

export interface ScriptResult {
  readonly said: readonly Said[];
  readonly files: readonly ScriptFile[];
  /** Why it broke off, with the line; null where it ran to its end. */
  readonly failure: { readonly message: string; readonly line: number | null } | null;
}

const endless = 'It calls itself without end, or is nested too deep.';

function until({ now }: ScriptHost, seconds: number): () => boolean {
  const end = now() + seconds * 1000;
  return () => now() > end;
}

let loaded: Promise<QuickJSWASMModule> | null = null;

/**
 * Runs a script to its end. Never throws for what the script does. The time is looked at between steps: a single step of the interpreter over a huge list may take
 * longer, so that who runs scripts of others does it in a thread that can be ended.
 */
export async function runScript(
  text: string,
  host: ScriptHost,
  limits: ScriptLimits = usualLimits,
): Promise<ScriptResult> {
  const script = withoutTypes(text);
  if (!script.ok) return { said: [], files: [], failure: script.failure };
  const quickJs = await (loaded ??= newQuickJSWASMModuleFromVariant(variant));
  const runtime = quickJs.newRuntime();
  runtime.setMemoryLimit(limits.megabytes * 1e6);
  runtime.setMaxStackSize(128 * 1024);
  runtime.setInterruptHandler(until(host, limits.seconds));
  const context = runtime.newContext();
  const outcome = new Output();
  let failure: ScriptResult['failure'];
  try {
    offer(context, callsOf(host, outcome));
    failure = evaluated(context, prelude, 'prelude', limits) ?? evaluated(context, script.code, 'script', limits);
  } catch (error) {
    // Deep nesting may exhaust the stack of the program around the interpreter before its own.
    const isDeep = error instanceof RangeError;
    failure = { message: isDeep ? endless : `The interpreter gave up: ${(error as Error).message}`, line: null };
    loaded = null;
  }
  try {
    context.dispose();
    runtime.dispose();
  } catch {
    // Broken off in the middle it cannot tidy up, and is not used again.
    loaded = null;
  }
  return { said: outcome.said, files: outcome.files, failure };
}

function withoutTypes(
  text: string,
): { ok: true; code: string } | { ok: false; failure: NonNullable<ScriptResult['failure']> } {
  try {
    return { ok: true, code: transform(text, { transforms: ['typescript'], disableESTransforms: true }).code };
  } catch (error) {
    const { message } = error as Error;
    const line = /\((\d+):\d+\)/.exec(message)?.[1];
    return {
      ok: false,
      failure: {
        message: message.replace(/\s*\(\d+:\d+\)$/, '').replace(/^Error transforming.*?: /, ''),
        line: line ? Number(line) : null,
      },
    };
  }
}

type Calls = Readonly<Record<string, (...args: never[]) => unknown>>;

/** One function takes all calls, as text and back: no object of the program ever stands in the script's world. */
function offer(context: QuickJSContext, calls: Calls): void {
  const call = context.newFunction('call', (nameHandle, argsHandle) => {
    const answer = (reply: object) => context.newString(JSON.stringify(reply));
    try {
      const name = context.getString(nameHandle);
      const args = JSON.parse(context.getString(argsHandle)) as never[];
      if (!Object.hasOwn(calls, name) || !Array.isArray(args)) throw new Error('there is no such call');
      return answer({ value: calls[name](...args) ?? null });
    } catch (error) {
      return answer({ error: (error as Error).message });
    }
  });
  context.setProp(context.global, 'hostCall', call);
  call.dispose();
}

function evaluated(context: QuickJSContext, code: string, file: string, limits: ScriptLimits): ScriptResult['failure'] {
  const result = context.evalCode(code, file, { type: 'global', strict: false });
  if (!result.error) {
    result.value.dispose();
    return null;
  }
  const dumped = context.dump(result.error) as unknown;
  result.error.dispose();
  return failureOf(dumped, limits);
}

function failureOf(dumped: unknown, { seconds, megabytes }: ScriptLimits): NonNullable<ScriptResult['failure']> {
  const {
    name = '',
    message,
    stack = '',
  } = (typeof dumped === 'object' && dumped !== null ? dumped : {}) as Record<string, string>;
  const line = /script:(\d+)/.exec(String(stack))?.[1];
  const at = line === undefined ? null : Number(line);
  if (message === 'interrupted') return { message: `It took longer than ${seconds} s.`, line: at };
  if (message === 'out of memory') return { message: `It needs more than ${megabytes} MB.`, line: at };
  if (message === 'stack overflow') return { message: endless, line: at };
  const told = message === undefined ? String(dumped) : String(message);
  return { message: name && name !== 'Error' ? `${name}: ${told}` : told, line: at };
}

/** What a script says and writes, within bounds. */
class Output {
  readonly said: Said[] = [];
  readonly files: ScriptFile[] = [];
  private cells = 0;
  private letters = 0;

  say(said: Said): void {
    if (this.said.length >= mostSaid) throw new Error(`more than ${mostSaid} lines, tables and plots`);
    this.said.push(said);
  }

  write(file: ScriptFile): void {
    if (!/^[\p{L}\p{N}_()+,-][\p{L}\p{N} ._()+,-]{0,115}\.(txt|csv|md|svg|xlsx)$/u.test(file.name))
      throw new Error(`"${file.name}" is no name of a file: a plain name with .txt, .csv, .md, .svg or .xlsx`);
    if (this.files.length >= mostFiles) throw new Error(`more than ${mostFiles} files`);
    this.files.push(file);
  }

  counted(text: string): string {
    this.letters += text.length;
    if (this.letters > mostLetters) throw new Error('more text than anybody reads');
    return text;
  }

  /** Rows by the names in them, in the order in which they turn up. */
  rows(rows: readonly unknown[]): Pick<ScriptSheet, 'columns' | 'rows'> {
    const columns: string[] = [];
    const known = new Set<string>();
    for (const row of rows)
      for (const name of Object.keys(objectIn(row)))
        if (!known.has(name)) {
          known.add(name);
          columns.push(name);
        }
    this.cells += columns.length * rows.length;
    if (this.cells > mostCells) throw new Error(`more than ${mostCells} cells`);
    const body = rows.map((row) => columns.map((name) => valueIn((row as Record<string, unknown>)[name])));
    return { columns, rows: body };
  }
}

const objectIn = (row: unknown): object => {
  if (typeof row === 'object' && row !== null && !Array.isArray(row)) return row;
  throw new Error('a table is a list of rows such as { place: "A", amperes: 100 }');
};

const valueIn = (value: unknown): Value =>
  value === undefined || value === null
    ? null
    : typeof value === 'string' || typeof value === 'number' || typeof value === 'boolean'
      ? value
      : JSON.stringify(value);

const textIn = (value: unknown, what: string): string => {
  if (typeof value === 'string') return value;
  throw new Error(`${what} must be a text`);
};
const listIn = (value: unknown, what: string): readonly unknown[] => {
  if (Array.isArray(value)) return value;
  throw new Error(`${what} must be a list`);
};

function callsOf(host: ScriptHost, output: Output): Calls {
  return {
    name: () => host.name,
    elements: (kind: unknown) => host.elements(kind === null ? null : textIn(kind, 'the kind')),
    element: (name: unknown) => host.element(textIn(name, 'the name')),
    conditions: () => host.conditions(),
    change: (change: unknown) => host.change(change),
    set: (field: unknown, value: unknown) => host.set(textIn(field, 'the field'), String(value)),
    study: (name: unknown, options: unknown, form: unknown) =>
      host.study(
        textIn(name, 'the study'),
        objectIn(options ?? {}) as Record<string, unknown>,
        form === 'csv' ? 'csv' : 'json',
      ),
    notes: () => host.notes(),
    progress: (share: unknown) => host.progress(Math.min(Math.max(Number(share) || 0, 0), 1)),
    print: (text: unknown) => output.say({ what: 'text', text: output.counted(textIn(text, 'a line')) }),
    table: (rows: unknown, title: unknown) =>
      output.say({ what: 'table', title: String(title ?? ''), ...output.rows(listIn(rows, 'the rows')) }),
    plot: (plot: unknown) => output.say({ what: 'plot', plot: plotIn(plot) }),
    text: (name: unknown, text: unknown) =>
      output.write({ name: textIn(name, 'the name'), text: output.counted(textIn(text, 'the text')) }),
    workbook: (name: unknown, sheets: unknown) =>
      output.write({
        name: textIn(name, 'the name'),
        sheets: listIn(sheets, 'the sheets').map((sheet) => {
          const { name: called, rows } = objectIn(sheet) as { name?: unknown; rows?: unknown };
          return { name: textIn(called, 'the name of a sheet'), ...output.rows(listIn(rows, 'the rows of a sheet')) };
        }),
      }),
  };
}

const mostPoints = 200_000;

function plotIn(plot: unknown): ScriptPlot {
  const { title = '', x = '', y = '', logX = false, logY = false, series } = objectIn(plot) as Record<string, unknown>;
  let points = 0;
  return {
    title: String(title),
    x: String(x),
    y: String(y),
    logX: logX === true,
    logY: logY === true,
    series: listIn(series, 'the series').map((each) => {
      const one = objectIn(each) as { name?: unknown; points?: unknown };
      const list = listIn(one.points, 'the points').map((point): [number, number] => {
        const [p, q] = listIn(point, 'a point');
        if (typeof p !== 'number' || typeof q !== 'number') throw new Error('a point is two numbers');
        return [p, q];
      });
      points += list.length;
      if (points > mostPoints) throw new Error(`more than ${mostPoints} points`);
      return { name: String(one.name ?? ''), points: list };
    }),
  };
}
