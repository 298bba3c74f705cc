/**
 * `npm test`: everything, from nothing. Each step counts as a test of its own; test runners add theirs. Ends with one line
 * "N passed, N failed". `npm test -- unit` (or e2e, lint …) runs only the steps named.
 */
import { spawn, spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { prepareDatabase, startApp } from './lib/app.mjs';
import { bundleJobs, ensureBuild } from './lib/build.mjs';
import { startMariadb } from './lib/mariadb.mjs';
import { freePort } from './lib/ports.mjs';
import { ensureDebianPackages, ensureNodePackages, guarded, root } from './lib/system.mjs';

const only = new Set(process.argv.slice(2));
let passed = 0;
let failed = 0;
let scratch = '';
const stops = [];

guarded(async () => {
  ensureDebianPackages({
    mariadbd: 'mariadb-server',
    'mariadb-install-db': 'mariadb-server',
    chromium: 'chromium',
    pdftotext: 'poppler-utils',
  });
  ensureNodePackages();
  scratch = mkdtempSync(join(tmpdir(), 'mesura-test-'));
  // Debian's database user must be able to enter.
  spawnSync('chmod', ['755', scratch]);
  for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => void cleanUp().then(() => process.exit(1)));
  try {
    await Promise.all([
      step('format', () => npmRun('format:check')),
      step('lint', () => npmRun('lint')),
      step('types', () => npmRun('typecheck')),
      step('generated', () =>
        command(process.execPath, [join(root, 'node_modules/tsx/dist/cli.mjs'), 'scripts/generate.ts', '--check']),
      ),
    ]);
    await runner('unit', () => vitest(['core', 'web']));
    await runner('database', async () => {
      const database = await scratchDatabase('unit');
      // Inside the project, where it finds the packages that are not bundled.
      mkdirSync(join(root, '.data'), { recursive: true });
      const jobs = join(root, `.data/jobs-${process.pid}.mjs`);
      stops.push(() => rmSync(jobs, { force: true }));
      bundleJobs(jobs);
      return vitest(['database'], {
        // Tests look behind the tables, too; what the application's own user may do is a test of its own.
        MESURA_DATABASE_URL: database.ownerUrl,
        MESURA_TEST_APPLICATION_URL: database.url,
        MESURA_TEST_DATABASE_DIR: database.dir,
        MESURA_JOBS: jobs,
      });
    });
    await step('build', () => {
      ensureBuild();
      return true;
    });
    await runner('e2e', endToEnd);
    await runner('campaign', shortCampaign);
  } finally {
    await cleanUp();
  }
  console.log(`\n${passed} passed, ${failed} failed`);
  process.exit(failed > 0 || passed === 0 ? 1 : 0);
});

function wanted(name) {
  return only.size === 0 || only.has(name);
}

async function step(name, act) {
  if (!wanted(name)) return;
  const started = Date.now();
  let ok = false;
  try {
    ok = await act();
  } catch (error) {
    console.error(error.message);
  }
  if (ok) passed++;
  else failed++;
  console.log(`${ok ? '✓' : '✗'} ${name} (${((Date.now() - started) / 1000).toFixed(1)} s)`);
}

/** A step whose runner reports counts of its own; none at all is a failure. */
async function runner(name, act) {
  if (!wanted(name)) return;
  const started = Date.now();
  let counts = { passed: 0, failed: 1 };
  try {
    counts = await act();
    if (counts.passed + counts.failed === 0) counts.failed = 1;
  } catch (error) {
    console.error(error.message);
  }
  passed += counts.passed;
  failed += counts.failed;
  console.log(
    `${counts.failed === 0 ? '✓' : '✗'} ${name}: ${counts.passed} passed, ${counts.failed} failed (${((Date.now() - started) / 1000).toFixed(1)} s)`,
  );
}

function command(program, args, env = {}, heard = () => {}) {
  return new Promise((resolve) => {
    const child = spawn(program, args, {
      cwd: root,
      env: { ...process.env, ...env },
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    const said = [];
    child.stdout.on('data', (data) => {
      said.push(data);
      heard(String(data));
    });
    child.stderr.on('data', (data) => said.push(data));
    child.on('error', (error) => said.push(Buffer.from(error.message)));
    child.on('close', (status) => {
      if (status !== 0) console.error(String(Buffer.concat(said)).trim());
      resolve(status === 0);
    });
  });
}

function npmRun(script) {
  return command('npm', ['run', '-s', script]);
}

async function vitest(projects, env = {}) {
  const report = join(scratch, `vitest-${projects.join('-')}.json`);
  const args = [
    join(root, 'node_modules/vitest/vitest.mjs'),
    'run',
    '--reporter=json',
    `--outputFile=${report}`,
    '--reporter=default',
    ...projects.flatMap((name) => ['--project', name]),
  ];
  await command(process.execPath, args, env);
  const { numPassedTests, numFailedTests, numFailedTestSuites, success } = JSON.parse(readFileSync(report, 'utf8'));
  return {
    passed: numPassedTests,
    failed: Math.max(
      numFailedTests,
      success ? 0 : Math.max(1, numFailedTestSuites && !numFailedTests ? 1 : numFailedTests),
    ),
  };
}

async function scratchDatabase(name) {
  const dir = join(scratch, name);
  const database = await startMariadb(dir);
  // A test may have killed and restarted it: whatever runs in this folder at the end is ended.
  stops.push(async () => (await startMariadb(dir)).stop());
  return { ...database, dir };
}

/** A short form of each part of `npm run campaign`. */
async function shortCampaign() {
  let said = '';
  await command(process.execPath, ['scripts/campaign/run.mjs', '--short'], {}, (text) => (said += text));
  const [, passed, failed] = /campaign: (\d+) passed, (\d+) failed/.exec(said) ?? [null, 0, 1];
  return { passed: Number(passed), failed: Number(failed) };
}

async function endToEnd() {
  const database = await scratchDatabase('e2e');
  prepareDatabase(database);
  const app = await startApp({ port: await freePort(), databaseUrl: database.url, quiet: true });
  stops.push(app.stop);
  const report = join(scratch, 'playwright.json');
  await command(process.execPath, [join(root, 'node_modules/@playwright/test/cli.js'), 'test'], {
    MESURA_URL: app.url,
    PLAYWRIGHT_JSON_OUTPUT_NAME: report,
  });
  const { stats } = JSON.parse(readFileSync(report, 'utf8'));
  return { passed: stats.expected, failed: stats.unexpected + stats.flaky };
}

async function cleanUp() {
  for (const stop of stops.splice(0).reverse()) await stop();
  if (scratch) rmSync(scratch, { recursive: true, force: true });
}
