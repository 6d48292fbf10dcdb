import { begin } from './begin';
import { expect, test } from './stack';
import { Coordinator } from './steps';

interface Mail {
  subject: string;
  text: string;
}

const PEOPLE = Array.from({ length: 20 }, (_, i) => `p${i}@vines${i}.example`);

test('a campaign is changed while it runs: what it does is said first, undone, made, and kept to', async ({
  page,
  stack,
}) => {
  for (const address of PEOPLE) await stack.simulator('PUT', `/people/${address}`, { persona: 'silent' });
  const start = await begin(stack, PEOPLE);
  const id = await start('Vineyards', '2026-11-02');
  const coordinator = new Coordinator(page, stack);
  const subjects = async (address: string) =>
    (await stack.simulator<Mail[]>('GET', `/people/${address}/inbox`)).map((m) => m.text.split('\n')[0]).reverse();
  await page.goto(`${stack.address}/campaigns/${id}`);

  await test.step('its start can be taken back before anything has left', async () => {
    await expect(page.getByText('It was started.')).toBeVisible();
    await page.getByRole('button', { name: 'Undo this change' }).click();
    await page.getByRole('button', { name: /^Start: 20 people/ }).click();
    await page.getByLabel('These people may be written to').check();
    await page
      .getByRole('dialog')
      .getByRole('button', { name: /^Start/ })
      .click();
    await expect(page.getByText('20 waiting')).toBeVisible();
    await coordinator.moveOn('Forward 1 day');
    await expect(page.getByText(/10 in progress/)).toBeVisible();
    await expect(page.getByText('It was started.')).toBeHidden();
  });

  await test.step('a wait is made longer, and that is undone', async () => {
    await page.getByRole('button', { name: '2 working days' }).click();
    await page.getByLabel('Working days without a reply').fill('5');
    await page.getByLabel('Working days without a reply').press('Tab');
    const sheet = page.getByRole('region', { name: 'If you apply this' });
    await expect(sheet).toContainText('Follow-up 1 leaves 5 working days after the message before it, instead of 2.');
    await expect(sheet).toContainText(/Vineyards ends on \w+ \d+ November, instead of/);
    await sheet.getByRole('button', { name: 'Apply' }).click();
    await expect(page.getByRole('button', { name: '5 working days' })).toBeVisible();
    await page.getByRole('button', { name: 'Undo this change' }).click();
    await expect(page.getByRole('button', { name: '2 working days' })).toBeVisible();
  });

  await test.step('a message is added, and one person ends; the rest is kept to', async () => {
    await page.getByRole('button', { name: '2 working days' }).click();
    await page.getByRole('button', { name: 'Add a follow-up' }).click();
    await expect(page.getByText('A step has no message.')).toBeVisible();
    await page.getByLabel('Follow-up 2', { exact: true }).selectOption('One last note');
    const sheet = page.getByRole('region', { name: 'If you apply this' });
    await expect(sheet).toContainText('Follow-up 2 is new: “One last note”');
    await expect(sheet).toContainText('20 messages more are to come.');
    await sheet.getByRole('button', { name: 'Apply' }).click();
    await expect(page.getByText('Nothing has left since.')).toBeVisible();
    await page.getByRole('button', { name: 'Close', exact: true }).click();
    await page.getByRole('searchbox', { name: 'Search recipients' }).fill('p19@');
    await page.getByRole('checkbox', { name: 'Tick p19@vines19.example' }).check();
    await page.getByRole('button', { name: 'End for them' }).click();
    await expect(page.getByText('The campaign was ended for p19@vines19.example.').first()).toBeVisible();
    for (let week = 0; week < 3; week++) await coordinator.moveOn('Forward 1 week');
    await expect(page.getByText('finished', { exact: true })).toBeVisible();
    for (const address of PEOPLE.slice(0, 19))
      expect(await subjects(address), address).toEqual(['Kelp', 'A reminder', 'One last note']);
    expect((await subjects('p19@vines19.example')).length).toBeLessThan(2);
  });
});
