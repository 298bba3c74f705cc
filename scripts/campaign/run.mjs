/**
 * `npm run campaign [-- PART …] [--short] [--keep]`: what nobody waits for in a test. Kills, first starts, hostile requests, a frozen database, a full disk, large
 * histories, backups. Fails when anything that must be nought is not. `--keep` writes the figures into docs/reliability.md.
 */
import { readFileSync, writeFileSync } from 'node:fs';
import { cpus, totalmem } from 'node:os';
import { join } from 'node:path';
import { ensureBuild } from '../lib/build.mjs';
import { ensureDebianPackages, ensureNodePackages, guarded, isRoot, root } from '../lib/system.mjs';

const arguments_ = process.argv.slice(2);
const short = arguments_.includes('--short');
const keep = arguments_.includes('--keep');
const asked = arguments_.filter((each) => !each.startsWith('--'));

/** Of each part: how it is run at length and in short, and what must be nought, or at most so much. */
const parts = {
  kills: {
    run: async (say) => (await import('./kills.mjs')).kills({ count: short ? 5 : 210, say }),
    nought: ['lost', 'torn', 'gaps', 'startFailures', 'orphans', 'slowStops'],
  },
  concurrency: {
    run: async (say) => (await import('./concurrency.mjs')).concurrency({ clients: 8, rounds: short ? 4 : 40, say }),
    nought: ['startFailures', 'lostUpdates', 'madeTwice', 'disjointRefused', 'wrongElements'],
  },
  live: {
    run: async (say) => (await import('./live.mjs')).live({ count: short ? 6 : 200, pages: short ? 2 : 20, say }),
    nought: ['startFailures', 'behind'],
    atLeast: { kills: 1 },
    // Times depend on the machine: figures of the long form only.
    atMost: short ? {} : { slowestMs: 1000 },
  },
  hostile: {
    run: async (say) => (await import('./hostile.mjs')).hostile({ count: short ? 500 : 12_000, say }),
    nought: ['answersOf500', 'unhealthy', 'startFailures'],
  },
  first: {
    run: async (say) => (await import('./first.mjs')).firstStarts({ count: short ? 1 : 24, say }),
    nought: ['startFailures', 'withoutDemo'],
  },
  starter: {
    run: async (say) => (await import('./ways.mjs')).starterKilled({ count: short ? 1 : 20, say }),
    nought: ['startFailures', 'orphans'],
  },
  frozen: {
    run: async (say) => (await import('./kills.mjs')).frozen({ say }),
    nought: ['startFailures'],
    atMost: { slowestMs: 5000 },
    atLeast: { thawed: 1 },
  },
  users: {
    run: async (say) => (await import('./ways.mjs')).otherUsers({ say }),
    nought: ['open', 'startFailures'],
    root: true,
  },
  backup: {
    run: async (say) => (await import('./ways.mjs')).backupAndRestore({ say }),
    nought: ['missing', 'startFailures'],
    atLeast: { backups: 1, restores: 1 },
  },
  large: {
    run: async (say) =>
      (await import('./large.mjs')).large(
        short ? { buses: 600, moves: 4, moved: 1200, say } : { buses: 5000, moves: 115, moved: 10_000, say },
      ),
    nought: ['startFailures', 'refused'],
    // Times depend on the machine: figures of the long form only.
    atMost: short ? {} : { editMedianMs: 60, longestPauseOfServerMs: 200 },
  },
  full: {
    run: async (say) => (await import('./full.mjs')).fullDisk({ say }),
    nought: ['lost', 'startFailures', 'answersOf500'],
    atLeast: { worksAgain: 1, healthWhenFull: 507 },
    root: true,
    long: true,
  },
};

guarded(async () => {
  ensureDebianPackages({ mariadbd: 'mariadb-server' });
  ensureNodePackages();
  ensureBuild();
  const unknown = asked.filter((name) => !(name in parts));
  if (unknown.length > 0) {
    console.error(`There is no part ${unknown.join(', ')}; there are ${Object.keys(parts).join(', ')}.`);
    process.exit(2);
  }
  const names = (asked.length > 0 ? asked : Object.keys(parts))
    .filter((name) => isRoot || !parts[name].root)
    .filter((name) => !short || !parts[name].long);
  let failed = 0;
  const results = {};
  for (const name of names) {
    const { run, nought, atMost = {}, atLeast = {} } = parts[name];
    const since = Date.now();
    const figures = await run((message) => !short && console.log(`  ${name}: ${message}`));
    const wrong = [
      ...nought.filter((key) => figures[key] !== 0).map((key) => `${key} ${figures[key]}`),
      ...Object.entries(atMost)
        .filter(([key, most]) => !(figures[key] <= most))
        .map(([key, most]) => `${key} ${figures[key]} above ${most}`),
      ...Object.entries(atLeast)
        .filter(([key, least]) => !(figures[key] >= least))
        .map(([key, least]) => `${key} ${figures[key]} below ${least}`),
    ];
    if (wrong.length > 0) failed++;
    results[name] = figures;
    console.log(
      `${wrong.length === 0 ? '✓' : '✗'} ${name} (${Math.round((Date.now() - since) / 1000)} s): ${JSON.stringify(figures)}${wrong.length > 0 ? `  WRONG: ${wrong.join(', ')}` : ''}`,
    );
  }
  if (keep && !short) document(results);
  console.log(`campaign: ${names.length - failed} passed, ${failed} failed`);
  process.exit(failed > 0 ? 1 : 0);
});

/** Puts the figures of the parts that ran into the document; those of others stay. */
function document(results) {
  const file = join(root, 'docs/reliability.md');
  const text = readFileSync(file, 'utf8');
  const machine = `${new Date().toISOString().slice(0, 10)}, ${cpus().length} cores, ${Math.round(totalmem() / 1e9)} GB, Node ${process.version}`;
  let changed = text;
  for (const [name, figures] of Object.entries(results)) {
    const rows = Object.entries(figures).map(
      ([key, value]) => `| ${key} | ${typeof value === 'object' ? JSON.stringify(value) : value} |`,
    );
    const table = ['| figure | measured |', '| --- | --- |', ...rows].join('\n');
    const block = new RegExp(`(<!-- ${name} -->\\n)[\\s\\S]*?(\\n<!-- /${name} -->)`);
    changed = changed.replace(block, (_, start, end) => `${start}\n_${machine}_\n\n${table}\n${end}`);
  }
  writeFileSync(file, changed);
}
