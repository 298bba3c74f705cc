/**
 * `npm run bench`: figures as lines of JSON, each group in a process of its own. `-- kernel sweeps` runs only these groups; `-- --keep "why"`
 * adds the figures that have something to reach to docs/performance-history.json. As the product is built: bundled, not through a loader.
 */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { cpus, tmpdir } from 'node:os';
import { join } from 'node:path';
import { build } from 'esbuild';
import { root } from '../lib/system.mjs';
import { browser } from './browser.mjs';

const all = [
  'kernel',
  'studies',
  'large',
  'flows',
  'sweeps',
  'demo',
  'checks',
  'conditions',
  'reach',
  'trials',
  'arc',
  'earth',
  'circuits',
  'exchange',
  'browser',
];
const args = process.argv.slice(2);
const keep = args.includes('--keep') ? args[args.indexOf('--keep') + 1] : null;
if (args.includes('--keep') && !keep) fail('--keep wants a word on why');
const named = args.filter((arg, k) => arg !== '--keep' && args[k - 1] !== '--keep');
const wrong = named.find((name) => !all.includes(name));
if (wrong) fail(`there is no group "${wrong}"; there are ${all.join(', ')}`);
const groups = named.length > 0 ? named : all;

const scratch = mkdtempSync(join(tmpdir(), 'mesura-bench-'));
const lines = [
  { group: 'machine', processor: cpus()[0].model, node: process.version, date: new Date().toISOString().slice(0, 10) },
];
console.log(JSON.stringify(lines[0]));
try {
  const outfile = join(scratch, 'bench.mjs');
  await build({
    entryPoints: [join(root, 'scripts/bench/index.ts')],
    outfile,
    bundle: true,
    platform: 'node',
    format: 'esm',
    logLevel: 'error',
  });
  for (const group of groups) {
    if (group === 'browser') {
      for (const line of await browser(scratch)) take(JSON.stringify(line));
      continue;
    }
    const { status, stdout, stderr } = spawnSync(process.execPath, [outfile, group], {
      cwd: root,
      encoding: 'utf8',
      maxBuffer: 1 << 26,
    });
    if (status !== 0) fail(`${group} failed:\n${stderr}`);
    for (const line of stdout.split('\n').filter(Boolean)) take(line);
  }
} finally {
  rmSync(scratch, { recursive: true, force: true });
}
if (keep) record(keep);

function take(text) {
  console.log(text);
  lines.push(JSON.parse(text));
}

/** Medians by name, only what has something to reach, so that the file stays small. */
function record(why) {
  const file = join(root, 'docs/performance-history.json');
  const history = JSON.parse(readFileSync(file, 'utf8'));
  const commit = spawnSync('git', ['rev-parse', '--short', 'HEAD'], { cwd: root, encoding: 'utf8' }).stdout.trim();
  const { processor, node, date } = lines[0];
  const figures = Object.fromEntries(
    lines.filter((line) => line.reach).map((line) => [`${line.group}: ${line.what}`, line.median]),
  );
  history.push({ date, commit, why, processor, node, figures });
  writeFileSync(file, `${JSON.stringify(history, null, 2)}\n`);
}

function fail(message) {
  console.error(message);
  process.exit(1);
}
