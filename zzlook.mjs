// args: out w h path acts…  acts: click:sel  key:K  type:text  wait:ms  fill:sel=text scroll:sel=px text:... (click by text)
import { chromium } from '@playwright/test';
const [out, w, h, path, ...acts] = process.argv.slice(2);
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking', '--disable-component-update', '--disable-sync'] });
const page = await browser.newPage({ viewport: { width: +w, height: +h } });
page.on('console', (m) => { if (m.type() === 'error') console.log('console:', m.text()); });
page.on('pageerror', (e) => console.log('pageerror:', e.message));
await page.goto('http://127.0.0.1:4310' + path);
await page.waitForTimeout(2500);
for (const a of acts) {
  const i = a.indexOf(':'); const k = a.slice(0, i), v = a.slice(i + 1);
  try {
    if (k === 'click') await page.locator(v).first().click({ timeout: 5000 });
    else if (k === 'text') await page.getByText(v, { exact: false }).first().click({ timeout: 5000 });
    else if (k === 'key') await page.keyboard.press(v);
    else if (k === 'type') await page.keyboard.type(v);
    else if (k === 'wait') await page.waitForTimeout(+v);
    else if (k === 'fill') { const [s, t] = v.split('='); await page.locator(s).first().fill(t); }
    else if (k === 'scroll') { const [s, t] = v.split('='); await page.locator(s).first().evaluate((e, y) => e.scrollTo(0, y), +t); }
    else if (k === 'log') console.log(await page.locator(v).first().innerText());
    else if (k === 'eval') console.log(await page.evaluate(v));
  } catch (e) { console.log('act failed', a, e.message.split('\n')[0]); }
  await page.waitForTimeout(400);
}
await page.screenshot({ path: out });
await browser.close();
