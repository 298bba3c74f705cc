// throwaway
import { chromium } from '@playwright/test';
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium' });
const [, , script, w = '1280', h = '800'] = process.argv;
const page = await browser.newPage({ viewport: { width: +w, height: +h } });
page.on('console', (m) => ['error', 'warning'].includes(m.type()) && console.log('console', m.text().slice(0, 300)));
page.on('pageerror', (e) => console.log('pageerror', e.message.slice(0, 400)));
const { default: act } = await import(script);
try {
  await act(page, async (name) => {
    await page.waitForTimeout(350);
    await page.screenshot({ path: `/tmp/shots/${name}.png` });
  });
} catch (e) {
  console.log(e.message.slice(0, 600));
  await page.screenshot({ path: '/tmp/shots/failed.png' });
}
await browser.close();
