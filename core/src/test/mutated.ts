/** Files made hostile in ways that files are: cut off, bytes turned, numbers beyond all bounds, things named twice or nowhere, markup nested and doubled. The same seed gives the same file. */
import type { Random } from './everyKind';

const numbers = [
  '1e400',
  '-1e400',
  'NaN',
  '',
  '-1',
  '0',
  '1e-320',
  '99999999999999999999',
  '0x10',
  '1,5',
  '½',
  'Infinity',
  "'; DROP TABLE x",
  '=1+1',
  '\u0000',
  '\ud800',
];
const inserts = [
  '<',
  '>',
  '&',
  '&a;',
  '&#0;',
  '<!DOCTYPE x [<!ENTITY a "b">]>',
  '<!--',
  ']]>',
  '<![CDATA[',
  '"',
  '\r',
  '\t\t',
  '-999',
  '\u202e',
  '\ufeff',
  '<a><a><a><a>',
  '{"a":',
  '[[[[[[[[',
  ';;;;',
  'rdf:ID="_x"',
  '=cmd|x',
];

type Change = (text: string, random: Random) => string;
const at = (text: string, random: Random): number => Math.floor(random() * (text.length + 1));
const pick = <T>(list: readonly T[], random: Random): T => list[Math.floor(random() * list.length)];

/** Somewhere in the text that a pattern fits, put something else; the text itself where it fits nowhere. */
const replaced =
  (pattern: RegExp, by: (found: string, random: Random) => string): Change =>
  (text, random) => {
    const start = at(text, random);
    const found = new RegExp(pattern.source, 'g');
    found.lastIndex = start;
    const match = found.exec(text) ?? new RegExp(pattern.source).exec(text);
    return match ? text.slice(0, match.index) + by(match[0], random) + text.slice(match.index + match[0].length) : text;
  };

const changes: readonly Change[] = [
  (text, random) => text.slice(0, at(text, random)),
  (text, random) => text.slice(at(text, random)),
  (text, random) => {
    const [p, q] = [at(text, random), at(text, random)].sort((a, b) => a - b);
    return text.slice(0, p) + text.slice(q);
  },
  (text, random) => {
    const p = at(text, random);
    const part = text.slice(p, p + Math.floor(random() * 2000));
    return text.slice(0, p) + part.repeat(1 + Math.floor(random() * 3)) + text.slice(p);
  },
  (text, random) => {
    const p = at(text, random);
    return text.slice(0, p) + String.fromCharCode(Math.floor(random() * 256)) + text.slice(p + 1);
  },
  (text, random) => {
    const p = at(text, random);
    return text.slice(0, p) + pick(inserts, random) + text.slice(p);
  },
  replaced(/-?\d+(?:\.\d+)?/, (_, random) => pick(numbers, random)),
  replaced(/-?\d+\.\d+/, (found, random) => String(Number(found) * 10 ** Math.floor(random() * 40 - 20))),
  replaced(/"[^"\n]{1,60}"/, (_, random) => `"${pick(inserts, random)}"`),
  // Leads elsewhere: the name of one thing where another stands.
  (text, random) => {
    const names = text.match(/"[#_A-Za-z][^"\n]{1,40}"/g) ?? [];
    return names.length < 2 ? text : replaced(/"[#_A-Za-z][^"\n]{1,40}"/, () => pick(names, random))(text, random);
  },
  (text, random) => {
    const lines = text.split('\n');
    const [p, q] = [Math.floor(random() * lines.length), Math.floor(random() * lines.length)];
    [lines[p], lines[q]] = [lines[q], lines[p]];
    return lines.join('\n');
  },
  (text, random) => {
    const lines = text.split('\n');
    lines.splice(Math.floor(random() * lines.length), 1 + Math.floor(random() * 5));
    return lines.join('\n');
  },
  (text, random) => {
    const lines = text.split('\n');
    const p = Math.floor(random() * lines.length);
    lines.splice(p, 0, ...lines.slice(p, p + 1 + Math.floor(random() * 20)));
    return lines.join('\n');
  },
];

/** A text with one to four of these changes. */
export function mutated(text: string, random: Random): string {
  let now = text;
  for (let k = 1 + Math.floor(random() ** 2 * 4); k > 0; k--) now = pick(changes, random)(now, random);
  return now;
}

/** Bytes with some turned, cut or repeated: of bundles and workbooks. */
export function mutatedBytes(bytes: Uint8Array, random: Random): Uint8Array {
  let now = bytes.slice();
  for (let k = 1 + Math.floor(random() * 4); k > 0; k--) {
    const p = Math.floor(random() * now.length);
    const what = random();
    if (what < 0.6) now[p] = Math.floor(random() * 256);
    else if (what < 0.75) now = now.slice(0, p);
    else if (what < 0.9)
      now = Uint8Array.from([...now.subarray(0, p), ...now.subarray(p, p + 200), ...now.subarray(p)]);
    else now = Uint8Array.from([...now.subarray(0, p), ...now.subarray(p + Math.floor(random() * 500))]);
  }
  return now;
}
