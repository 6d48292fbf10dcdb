import { api, begin } from './begin';
import { expect, test } from './stack';
import { Coordinator } from './steps';

interface Mail {
  receivedAt: number;
}

test('people are written to at the minute that their row gives, and a tick sends', async ({ page, stack }) => {
  const people = [
    'ana@vines.example,2026-11-03 10:07,no',
    'bo@vines.example,2026-11-03 11:21,no',
    'cy@vines.example,,no',
  ];
  for (const row of people) await stack.simulator('PUT', `/people/${row.split(',')[0]}`, { persona: 'silent' });
  const start = await begin(stack, people, 'email,send on,ready');
  const coordinator = new Coordinator(page, stack);
  const gotAt = async (address: string) =>
    (await stack.simulator<Mail[]>('GET', `/people/${address}/inbox`)).map((m) =>
      new Date(m.receivedAt).toISOString().slice(0, 16),
    );

  await test.step('the brief says who, and the minute is kept', async () => {
    const id = await start('Vineyards', '2026-11-02');
    await page.goto(`${stack.address}/campaigns/${id}`);
    await expect(page.getByText('2 people get the first message')).toBeVisible();
    await coordinator.moveOn('Forward 1 day');
    await coordinator.moveOn('Forward 1 day');
    expect(await gotAt('ana@vines.example')).toEqual(['2026-11-03T10:07']);
    expect(await gotAt('bo@vines.example')).toEqual(['2026-11-03T11:21']);
  });

  await test.step('a tick in the list writes to its person within the minute', async () => {
    const call = api(stack);
    const [list] = await call<{ id: number }[]>('GET', '/lists', undefined);
    const filter = { key: 'ready', kind: 'blank', blank: false };
    const { id: segmentId } = await call<{ id: number }>('POST', `/lists/${list?.id}/segments`, {
      ...{ name: 'Ready', query: { search: '', filters: [filter], sort: [] } },
    });
    await start('By tick', '2026-11-04', undefined, { segmentId, enrolNew: true });
    await coordinator.moveOn('Forward 1 day');
    await page.goto(`${stack.address}/people/${list?.id}`);
    await page.getByText('cy@vines.example').click();
    for (let i = 0; i < 3; i++) await page.keyboard.press('ArrowRight');
    await page.keyboard.press(' ');
    await expect(page.getByRole('button', { name: 'Undo' })).toHaveAttribute('title', /1 change of ready/);
    await coordinator.moveOn('Forward 1 hour');
    expect(await gotAt('cy@vines.example')).toHaveLength(2);
    await coordinator.moveOn('Forward 1 day');
    expect((await gotAt('cy@vines.example'))[0]).toMatch(/^2026-11-05T/);
  });
});
