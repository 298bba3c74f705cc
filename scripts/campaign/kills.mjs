/** Kills of everything that runs, while clients write: application, database, starter, all at once; a database frozen; Ctrl-C with clients writing. */
import { Instance, pick, seeded, sleep } from './instance.mjs';
import { Writers } from './writers.mjs';

const victims = ['application', 'database', 'all', 'starter', 'database, then stop'];

/** `count` kills; figures with what must be nought. */
export async function kills({ count, seed = 1, say }) {
  const random = seeded(seed);
  const instance = await Instance.create();
  const figures = {
    kills: 0,
    acknowledged: 0,
    lost: 0,
    torn: 0,
    gaps: 0,
    startFailures: 0,
    orphans: 0,
    slowStops: 0,
    longestStopMs: 0,
    longestRecoveryMs: 0,
  };
  const started = async () => {
    const { ok, said } = await instance.start();
    if (!ok) {
      figures.startFailures++;
      say(`start failed: ${said.trim().slice(-300)}`);
    }
    return ok;
  };
  try {
    if (!(await started())) return figures;
    const writers = new Writers(instance, random);
    await writers.prepare();
    for (let k = 0; k < count; k++) {
      const victim = victims[k % victims.length];
      writers.begin();
      await sleep(150 + 700 * random());
      const { starter, application, database } = instance.pids();
      const since = performance.now();
      if (victim === 'application') instance.kill(application);
      if (victim === 'database' || victim === 'database, then stop') instance.kill(database);
      if (victim === 'starter') instance.kill(starter);
      if (victim === 'all')
        for (const pid of pick(random, [
          [starter, application, database],
          [database, application, starter],
        ]))
          instance.kill(pid);
      figures.kills++;
      if (victim === 'all' || victim === 'starter') {
        await sleep(50);
        if (!(await started())) break;
      } else if (victim === 'database, then stop') {
        await sleep(1200 * random());
        const { ms, left } = await instance.stop();
        figures.longestStopMs = Math.max(figures.longestStopMs, Math.round(ms));
        if (ms > 5000) figures.slowStops++;
        figures.orphans += left;
        if (!(await started())) break;
      } else if (!(await instance.healthy())) {
        figures.startFailures++;
        say(`not healthy again after ${victim} was killed`);
        await instance.killAll();
        if (!(await started())) break;
      }
      figures.longestRecoveryMs = Math.max(figures.longestRecoveryMs, Math.round(performance.now() - since));
      await sleep(100);
      await writers.end();
      if (k % 10 === 9 || k === count - 1) {
        Object.assign(figures, await writers.verify());
        say(`${k + 1} kills: ${figures.acknowledged} acknowledged, ${figures.lost} lost, ${figures.torn} torn`);
      }
    }
    writers.begin();
    await sleep(800);
    const last = instance.stop();
    const { ms, left } = await last;
    await writers.end();
    figures.longestStopMs = Math.max(figures.longestStopMs, Math.round(ms));
    if (ms > 5000) figures.slowStops++;
    figures.orphans += left;
    return figures;
  } finally {
    await instance.end();
  }
}

/** A database that is frozen and thawed: answers with 503 within five seconds, and all is well again. */
export async function frozen({ say }) {
  const instance = await Instance.create();
  const figures = { answers: {}, slowestMs: 0, thawed: 0, startFailures: 0 };
  try {
    const { ok, said } = await instance.start();
    if (!ok) return { ...figures, startFailures: 1, said };
    await instance.healthy();
    const { database } = instance.pids();
    process.kill(database, 'SIGSTOP');
    const paths = ['/api/health', '/api/projects', '/api/projects/aaaaaaaaaaaa', '/api/projects/aaaaaaaaaaaa/history'];
    const answers = await Promise.all(
      Array.from({ length: 24 }, (_, k) =>
        instance.request('GET', paths[k % paths.length], { timeout: 20_000, fresh: true }),
      ),
    );
    process.kill(database, 'SIGCONT');
    for (const { status, error, ms } of answers) {
      figures.answers[status || error] = (figures.answers[status || error] ?? 0) + 1;
      figures.slowestMs = Math.max(figures.slowestMs, Math.round(ms));
    }
    figures.thawed = (await instance.healthy(10_000)) ? 1 : 0;
    say(`frozen database: ${JSON.stringify(figures)}`);
    return figures;
  } finally {
    await instance.end();
  }
}
