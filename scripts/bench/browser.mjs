/** The worker of the desk in Chromium: one element of a 500-bus network changed, until the results of all buses are back in the page. */
import { createServer } from 'node:http';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { chromium } from '@playwright/test';
import { build } from 'esbuild';
import { root } from '../lib/system.mjs';

export async function browser(scratch) {
  const bundle = (entry, outfile) =>
    build({
      entryPoints: [join(root, entry)],
      outfile: join(scratch, outfile),
      bundle: true,
      format: 'esm',
      minify: true,
      logLevel: 'error',
    });
  await bundle('web/workers/core.worker.ts', 'worker.js');
  await bundle('scripts/bench/page.ts', 'page.js');
  const server = createServer((request, response) => {
    const name = request.url.slice(1);
    if (!name)
      return response.setHeader('content-type', 'text/html').end('<script type="module" src="/page.js"></script>');
    response
      .setHeader('content-type', 'text/javascript')
      .end(readFileSync(join(scratch, name === 'page.js' ? name : 'worker.js')));
  });
  await new Promise((resolve) => server.listen(0, '127.0.0.1', resolve));
  const chrome = await chromium.launch({ executablePath: '/usr/bin/chromium' });
  try {
    const page = await chrome.newPage();
    await page.goto(`http://127.0.0.1:${server.address().port}/`);
    await page.waitForFunction(() => globalThis.figures || globalThis.failure, null, { timeout: 300_000 });
    const failure = await page.evaluate(() => globalThis.failure);
    if (failure) throw new Error(failure);
    return await page.evaluate(() => globalThis.figures);
  } finally {
    await chrome.close();
    server.close();
  }
}
