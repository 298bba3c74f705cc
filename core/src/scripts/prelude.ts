/** What stands in a script's world before it begins: the objects of `words`, made of one call that takes and gives text. */
export const prelude = `(() => {
  'use strict';
  const { parse, stringify } = JSON;
  const hostCall = globalThis.hostCall;
  delete globalThis.hostCall;
  const ask = (name, ...args) => {
    const reply = parse(hostCall(name, stringify(args, (_, value) => (value === undefined ? null : value))));
    if ('error' in reply) throw new Error(reply.error);
    return reply.value;
  };
  const shown = (value) => {
    if (typeof value === 'string') return value;
    if (typeof value === 'function') return '[function]';
    try { return stringify(value) ?? String(value); } catch { return String(value); }
  };
  const rowsOf = (csv) => {
    const [head, ...rows] = csv;
    return rows.map((row) => Object.fromEntries(head.map((name, k) => [name, row[k] ?? null])));
  };
  const quoted = (value) => {
    const text = value === null || value === undefined ? '' : shown(value);
    // No cell begins as a formula would.
    const safe = typeof value === 'string' && /^[=+\\-@\\t\\r]/.test(text) ? "'" + text : text;
    return /[",\\n\\r]/.test(safe) ? '"' + safe.replaceAll('"', '""') + '"' : safe;
  };
  const print = (...values) => void ask('print', values.map(shown).join(' '));
  const world = {
    project: {
      get name() { return ask('name'); },
      elements: (kind) => ask('elements', kind ?? null),
      element: (nameOrId) => ask('element', nameOrId),
      conditions: () => ask('conditions'),
      set: (field, value) => void ask('set', field, String(value)),
      update: (element) => void ask('change', { op: 'update', element }),
      add: (element) => void ask('change', { op: 'add', element }),
      remove: (id) => void ask('change', { op: 'remove', id }),
      study: (name, options) => ask('study', name, options ?? {}, 'json'),
      table: (name, options) => rowsOf(ask('study', name, options ?? {}, 'csv')),
      notes: () => ask('notes'),
    },
    files: {
      text: (name, text) => void ask('text', name, text),
      csv: (name, rows) => {
        const names = [...new Set(rows.flatMap((row) => Object.keys(row)))];
        const lines = [names, ...rows.map((row) => names.map((key) => row[key]))];
        ask('text', name, lines.map((line) => line.map(quoted).join(',') + '\\r\\n').join(''));
      },
      workbook: (name, sheets) => void ask('workbook', name, sheets),
    },
    print,
    table: (rows, title) => void ask('table', rows, title ?? ''),
    plot: (plot) => void ask('plot', plot),
    progress: (share) => void ask('progress', share),
    console: { log: print, info: print, warn: print, error: print },
  };
  for (const [name, value] of Object.entries(world)) {
    if (typeof value === 'object') Object.freeze(value);
    Object.defineProperty(globalThis, name, { value, writable: false, configurable: false, enumerable: true });
  }
})();`;
