import { begin } from './begin';
import { expect, test } from './stack';
import { Coordinator, drag } from './steps';

const growers = (n: number) => Array.from({ length: n }, (_, i) => `p${i}@vines${i}.example`);

test('a what-if is tried and applied, a batch is held and released, a start is dragged', async ({ page, stack }) => {
  const start = await begin(stack, growers(30));
  await start('Vineyards', '2026-11-02');
  await start('Orchards', '2026-11-16');
  const ines = new Coordinator(page, stack);
  await page.goto(`${stack.address}/plan`);
  const sentence = page.locator('p.sentence');
  await expect(sentence).toContainText('2 campaigns are running');

  await test.step('a quota is raised: who ends when is said at once', async () => {
    await page.getByRole('button', { name: 'Try a change' }).click();
    await page.getByRole('menuitem', { name: 'A mailbox’s daily quota' }).click();
    const began = Date.now();
    await page.getByLabel('Messages a day').fill('30');
    await expect(sentence).toContainText(/Vineyards would finish on \w+day \d+ \w+ instead of/);
    test.info().annotations.push({ type: 'what-if', description: `${Date.now() - began} ms until it is said` });
    await page.getByRole('button', { name: 'Apply' }).click();
    await expect(page.getByText('Applied; the plan has been made again.')).toBeVisible();
    await expect(page.getByRole('rowheader', { name: /ines@/ })).toContainText('30 a day');
  });

  await test.step('tomorrow’s batch is held, stays while its hour passes, and is released', async () => {
    const cell = page.getByRole('button', { name: /^tomas@.*, Wed 4 Nov: [1-5] of 5/ });
    const heading = page.getByRole('heading', { name: 'Wednesday 4 November' });
    await page.getByRole('button', { name: 'A week' }).click();
    await cell.press('Enter');
    // The keyboard goes on in the batch and comes back to the cell; the board stays as it was.
    await expect(heading).toBeFocused();
    await expect(page.getByRole('button', { name: 'A week' })).toHaveAttribute('aria-pressed', 'true');
    await page.keyboard.press('Escape');
    await expect(heading).toBeHidden();
    await expect(cell).toBeFocused();
    await cell.press('Enter');
    await expect(heading).toBeVisible();
    await page.getByRole('button', { name: 'Hold this batch' }).click();
    await expect(page.getByText(/messages?: \d held\./)).toBeVisible();
    for (let day = 0; day < 3; day++) await ines.moveOn('Forward 1 day');
    await ines.go('Today');
    await expect(page.getByText(/messages? of \w+ \d+ Nov held/)).toBeVisible();
    await page.getByRole('link', { name: 'Review', exact: true }).first().click();
    await page.getByRole('button', { name: /^Release \d held/ }).click();
    await expect(page.getByRole('button', { name: /^Release/ })).toBeHidden();
  });

  await test.step('from afar a week is pressed, and its days are there', async () => {
    await page.getByRole('button', { name: 'Half a year' }).click();
    await page.getByRole('button', { name: /^tomas@.*, week of 16 Nov: \d+ of \d+/ }).press('Enter');
    await expect(page.getByRole('button', { name: 'A week' })).toHaveAttribute('aria-pressed', 'true');
    await expect(page.getByRole('button', { name: /^tomas@.*, Mon 16 Nov/ })).toBeFocused();
    await page.getByRole('button', { name: 'Now' }).click();
    await page.getByRole('button', { name: 'Three weeks' }).click();
  });

  await test.step('a start is dragged to another day, by mouse and by key', async () => {
    await page.getByRole('button', { name: 'Close' }).click();
    const flag = page.getByRole('button', { name: /^Orchards starts Mon 16 Nov/ });
    await drag(page, flag, page.getByRole('columnheader', { name: 'Thu 19 Nov' }));
    await expect(page.getByText('Orchards, start Mon 16 Nov → Thu 19 Nov')).toBeVisible();
    await expect(sentence).toContainText('Orchards would finish on');
    await page.getByRole('button', { name: 'Discard' }).click();
    await expect(sentence).not.toContainText('would');
    await flag.press('ArrowRight');
    await expect(page.getByText('Orchards, start Mon 16 Nov → Tue 17 Nov')).toBeVisible();
  });

  await test.step('a campaign is dragged before another, by mouse and by key', async () => {
    await page.getByRole('button', { name: 'Discard' }).click();
    await page.getByRole('button', { name: 'By campaign' }).click();
    const names = page.locator('bt-campaign-board tbody th a');
    await expect(names).toHaveText(['Vineyards', 'Orchards']);
    await drag(page, page.getByTitle('Drag to let it come before others').last(), names.first());
    await expect(page.getByText('Orchards, share of starts 1 : 1 → 2 : 1')).toBeVisible();
    await expect(names).toHaveText(['Orchards', 'Vineyards']);
    const later = page.getByRole('button', { name: 'Let Orchards come after the one below' });
    await later.press('Enter');
    await expect(page.getByText('Vineyards, share of starts 1 : 1 → 2 : 1')).toBeVisible();
    await expect(page.getByRole('button', { name: 'Let Orchards come before the one above' })).toBeFocused();
    await page.getByRole('button', { name: 'Discard' }).click();
    await page.getByRole('button', { name: 'By mailbox' }).click();
  });

  await test.step('one message is moved by hand, and the others stay', async () => {
    await page.getByRole('button', { name: /^ines@.*, Mon 16 Nov/ }).click();
    const messages = page.locator('bt-batch-panel li');
    await page.getByRole('button', { name: 'Move', exact: true }).first().click();
    const before = await messages.count();
    await page.getByLabel(/^Day for/).fill('20 Nov 2026');
    await page.getByLabel(/^Day for/).press('Enter');
    await expect(page.getByText('Moved to Friday 20 November; nothing else moved.')).toBeVisible();
    await expect(messages).toHaveCount(before - 1);
    // By mouse: onto the head of a day.
    await drag(page, messages.first(), page.getByRole('columnheader', { name: 'Thu 19 Nov' }));
    await expect(page.getByText('Moved to Thursday 19 November; nothing else moved.')).toBeVisible();
  });
});

test('the board after a mailbox began to rest', async ({ page, stack }) => {
  const people = growers(40);
  for (const address of people.slice(0, 12)) await stack.simulator('PUT', `/people/${address}`, { persona: 'unknown' });
  const start = await begin(stack, people);
  await start('Vineyards', '2026-11-02');
  await page.goto(`${stack.address}/plan`);
  const ines = new Coordinator(page, stack);
  await expect(page.getByRole('rowheader', { name: /ines@/ })).toContainText('5 a day');
  await ines.moveOn('Forward 1 day');
  await expect(page.getByRole('rowheader', { name: /rests until Thu 5 Nov/ }).first()).toBeVisible();
  await expect(page.getByRole('button', { name: /Wed 4 Nov: closed/ }).first()).toBeVisible();
  await ines.go('Mailboxes');
  await expect(page.getByText(/of its last \d+ messages bounced/).first()).toBeVisible();
});
