import { readFile } from 'node:fs/promises';
import { api, begin } from './begin';
import { expect, test } from './stack';
import { Coordinator } from './steps';

interface Mail {
  text: string;
}

/** Who does what, and how many messages each gets where the follow-up is for those who have followed a link. */
const PEOPLE: Record<string, { persona: string; gets: number }> = {
  'ana@vines.example': { persona: 'clicker', gets: 2 },
  'bo@vines.example': { persona: 'clicker', gets: 2 },
  'cy@vines.example': { persona: 'scanned', gets: 1 },
  'di@coves.example': { persona: 'silent', gets: 1 },
  'ed@coves.example': { persona: 'keen', gets: 1 },
};

test('a follow-up to those who have followed a link, and what became of it', async ({ page, stack }) => {
  for (const [address, { persona }] of Object.entries(PEOPLE))
    await stack.simulator('PUT', `/people/${address}`, { persona });
  const start = await begin(stack, Object.keys(PEOPLE));
  const call = api(stack);
  const message = async (name: string) => {
    const body = `${name}: [soil](https://tidewaterkelp.example/soil) or [prices](https://tidewaterkelp.example/prices)?\n\n{{ unsubscribe_link }}`;
    return call<{ id: number }>('POST', '/messages', { name, content: { subject: name, body } });
  };
  const ids = [(await message('Kelp by the sack')).id, (await message('You looked')).id];
  const steps = ids.map((messageId, i) => ({ messageId, others: [], delay: i * 3, tolerance: 2 }));
  const id = await start('Vineyards', '2026-11-03', undefined, { steps });
  const coordinator = new Coordinator(page, stack);

  await test.step('is chosen while the campaign runs, and refused where clicks are not counted', async () => {
    await page.goto(`${stack.address}/campaigns/${id}`);
    await page.getByRole('button', { name: 'You looked' }).click();
    await page.getByLabel('Of those, to').selectOption({ label: 'whoever followed a link' });
    await expect(page.getByText('clicks are counted in none of the messages before it')).toBeVisible();
    await page.getByRole('button', { name: 'Neither opens nor clicks are counted.' }).click();
    await page.getByLabel('Count clicks on links').selectOption('all');
    await page.getByLabel('Count opens').selectOption('all');
    const places = page.getByLabel('Keep the country that a click comes from');
    await places.focus();
    await page.keyboard.press('Space');
    await expect(
      page.getByText('Opens and clicks are counted in every message. Of a click the country is kept too.').last(),
    ).toBeVisible();
    await page.getByRole('button', { name: 'Apply' }).click();
    await expect(page.getByRole('button', { name: 'and have followed a link' })).toBeVisible();
  });

  await test.step('goes to them alone; a program that follows every link is none of them', async () => {
    for (let i = 0; i < 10; i++) await coordinator.moveOn('Forward 1 day');
    for (const [address, { gets }] of Object.entries(PEOPLE)) {
      const mails = await stack.simulator<Mail[]>('GET', `/people/${address}/inbox`);
      expect(mails, address).toHaveLength(gets);
    }
    await page.goto(`${stack.address}/campaigns/${id}`);
    await expect(page.getByText('finished', { exact: true })).toBeVisible();
  });

  await test.step('the results say so, by mouse and by keyboard', async () => {
    await coordinator.go('Results');
    await expect(page.getByText('1 of 5 people reached replied')).toBeVisible();
    await page.getByRole('link', { name: 'Vineyards' }).click();
    await expect(page.getByRole('img', { name: /5 written to, 5 reached, 1 replied/ })).toBeVisible();
    const rate = page.getByLabel('Compare by');
    await rate.selectOption({ label: 'opened' });
    await expect(page.getByText('The messages of 1 person were looked at by programs only')).toBeVisible();
    await rate.focus();
    await page.keyboard.press('ArrowUp');
    await expect(rate).toHaveValue('clicked');
    const company = page.getByRole('button', { name: 'by company' });
    await company.focus();
    await page.keyboard.press('Enter');
    await expect(company).toHaveAttribute('aria-pressed', 'true');
    await expect(page.getByRole('row', { name: /vines\.example 3 2 · 67 %/ })).toBeVisible();
    // Those of the demo and of tests live on this machine, which is in no country.
    await page.getByRole('button', { name: 'by country' }).click();
    await expect(page.getByRole('row', { name: /no link followed, or not known 5 2 · 40 %/ })).toBeVisible();
    await rate.selectOption({ label: 'bounced' });
    await expect(page.getByRole('columnheader', { name: 'Written to', exact: true })).toBeVisible();
    await company.click();
    await rate.selectOption({ label: 'followed a link' });
  });

  await test.step('pictures and numbers can be taken away', async () => {
    const taken = async (name: string, at = 0) => {
      const button = page.getByRole('button', { name }).nth(at);
      const [download] = await Promise.all([page.waitForEvent('download'), button.click()]);
      return readFile(await download.path());
    };
    const svg = (await taken('Save as SVG')).toString();
    expect(svg).toContain('5 written to');
    const wrongAt = await page.evaluate(
      (text) => new DOMParser().parseFromString(text, 'image/svg+xml').querySelector('parsererror')?.textContent ?? '',
      svg,
    );
    expect(wrongAt).toBe('');
    expect((await taken('Save as PNG')).subarray(1, 4).toString()).toBe('PNG');
    expect((await taken('Save as SVG', 1)).toString()).toContain('vines.example');
    const numbers = (await taken('Save as CSV', 1)).toString().replace('\ufeff', '').trim().split('\r\n');
    expect(numbers[0]).toMatch(
      /^company,reached,written to,replied,interested,meetings,followed a link,opened,unsubscribed,reported as spam,bounced,/,
    );
    expect(numbers.find((l) => l.startsWith('vines.example'))).toMatch(
      /^vines\.example,3,3,0,0,0,2,\d,0,0,0,0,0,67,21,94$/,
    );
  });

  await test.step('figures are opened and saved by keyboard', async () => {
    await page.getByText('In figures').first().focus();
    await page.keyboard.press('Enter');
    await expect(page.getByRole('row', { name: /^reached 5 5 100/ })).toBeVisible();
    await page.keyboard.press('Tab');
    const [download] = await Promise.all([page.waitForEvent('download'), page.keyboard.press('Enter')]);
    expect(download.suggestedFilename()).toMatch(/people\.csv$/);
  });

  await test.step('a picture becomes as narrow as its window', async () => {
    await page.setViewportSize({ width: 390, height: 800 });
    const widest = () =>
      page.locator('.place svg').evaluateAll((all) => Math.max(...all.map((svg) => svg.getBoundingClientRect().right)));
    await expect.poll(widest, { timeout: 60_000 }).toBeLessThanOrEqual(390);
  });
});
