/** The production build, made only when something it depends on has changed. */
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { createRequire } from 'node:module';
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { Plain, root } from './system.mjs';

const ignored = new Set(['node_modules', '.next', 'test-results', 'playwright-report', 'next-env.d.ts']);
const stamp = join(root, 'web/.next/mesura-build');

function digest() {
  const hash = createHash('sha256').update(process.version);
  const walk = (path) => {
    for (const entry of readdirSync(join(root, path), { withFileTypes: true }).sort((p, q) =>
      p.name < q.name ? -1 : 1,
    )) {
      if (ignored.has(entry.name) || entry.name.endsWith('.tsbuildinfo') || entry.name.includes('.test.')) continue;
      const inside = `${path}/${entry.name}`;
      if (entry.isDirectory()) walk(inside);
      else hash.update(inside).update(readFileSync(join(root, inside)));
    }
  };
  walk('core');
  walk('cli');
  walk('web');
  return hash.update(readFileSync(join(root, 'package-lock.json'))).digest('hex');
}

/** What the server's threads run, in the build. */
export const jobs = join(root, 'web/.next/mesura-jobs.mjs');

/** The server that stands before the application, in the build. */
export const front = join(root, 'web/.next/mesura-front.mjs');

/** The core with its jobs as one file: threads load no TypeScript. */
export const bundleJobs = (outfile) => bundle('web/server/jobs/job.ts', outfile);

function bundle(entry, outfile) {
  // Not imported at the top: on a fresh machine the packages are installed later.
  createRequire(import.meta.url)('esbuild').buildSync({
    entryPoints: [join(root, entry)],
    // Packages that read files of their own, or are loaded only when needed, stay where they are.
    external: ['next', 'pdfmake', 'exceljs'],
    outfile,
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    logLevel: 'error',
  });
}

/** Builds when needed; true when it built. */
export function ensureBuild() {
  const wanted = digest();
  if (existsSync(jobs) && existsSync(front) && existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted)
    return false;
  console.log('Building …');
  const result = spawnSync(process.execPath, [join(root, 'node_modules/next/dist/bin/next'), 'build'], {
    cwd: join(root, 'web'),
    encoding: 'utf8',
    env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1' },
  });
  if (result.status !== 0) throw new Plain(`The build failed:\n${result.stdout}\n${result.stderr}`);
  bundleJobs(jobs);
  bundle('web/server/front/main.ts', front);
  writeFileSync(stamp, wanted);
  return true;
}
