import { expect, test } from './stack';
import { Coordinator, drag } from './steps';

test('a list is worked like a sheet, by keyboard and clipboard', async ({ page, context, stack }) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  const ines = new Coordinator(page, stack);
  await page.goto(stack.address);
  const rows = Array.from(
    { length: 60 },
    (_, i) => `p${i}@grove${i % 7}.example;P${i};${i % 3 === 0 ? 'North' : 'South'};${i}`,
  );
  await ines.paste(['email;given name;region;acres', ...rows].join('\n'));
  await ines.takeList('Groves', 60);

  const cell = (name: string) => page.getByRole('gridcell', { name, exact: true });
  const grid = page.getByRole('grid', { name: 'People of this list' });
  await expect(page.getByText('60 people ·')).toBeVisible();

  await test.step('a cell is written, the next one too, and both are undone', async () => {
    await cell('P0').click();
    await page.keyboard.type('Ana');
    await page.keyboard.press('Enter');
    await page.keyboard.press('F2');
    await page.keyboard.type('Bo');
    await page.keyboard.press('Tab');
    await expect(cell('Ana')).toBeVisible();
    await expect(cell('Bo')).toBeVisible();
    await expect(page.getByRole('button', { name: 'Undo' })).toHaveAttribute('title', /1 change of given name/);
    await grid.press('Control+z');
    await grid.press('Control+z');
    await expect(cell('P0')).toBeVisible();
    await grid.press('Control+y');
    await expect(cell('Ana')).toBeVisible();
  });

  await test.step('cells go to the clipboard and come back from a spreadsheet', async () => {
    await cell('Ana').click();
    await page.keyboard.press('Shift+ArrowDown');
    await page.keyboard.press('Shift+ArrowRight');
    await page.keyboard.press('Control+c');
    expect(await page.evaluate(() => navigator.clipboard.readText())).toBe('Ana\tNorth\r\nP1\tSouth');
    await page.evaluate(() => navigator.clipboard.writeText('Cy\tEast\r\nDee\t"East\tend"\r\n'));
    await cell('P2').click();
    await page.keyboard.press('Control+v');
    await expect(cell('Cy')).toBeVisible();
    await expect(cell('Dee')).toBeVisible();
    await cell('Cy').click();
    for (let i = 0; i < 3; i++) await page.keyboard.press('Shift+ArrowDown');
    await page.keyboard.press('Control+d');
    await expect(cell('Cy')).toHaveCount(4);
  });

  await test.step('a column is filtered, and what is found is kept as a segment that stays live', async () => {
    await page.getByRole('button', { name: 'Column region' }).click();
    await page.getByRole('combobox', { name: 'region' }).selectOption('is one of');
    await page.getByRole('checkbox', { name: /^North/ }).check();
    await page.getByRole('button', { name: 'Filter' }).click();
    await expect(page.getByText('19 of 60')).toBeVisible();
    await page.getByRole('button', { name: 'Save as a segment' }).click();
    await page.getByRole('textbox', { name: 'Name of the segment' }).fill('Up north');
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await expect(page.getByRole('link', { name: 'Up north 19' })).toBeVisible();
    await cell('North').first().click();
    await page.keyboard.type('South');
    await page.keyboard.press('Enter');
    await expect(page.getByRole('link', { name: 'Up north 18' })).toBeVisible();
  });

  await test.step('buttons say whom they mean: those picked, or all that are found', async () => {
    await expect(page.getByRole('button', { name: 'Remove all 18 found' })).toBeVisible();
    await page.getByRole('checkbox', { name: 'Select row 2', exact: true }).click();
    await page.getByRole('checkbox', { name: 'Select row 4', exact: true }).click({ modifiers: ['Shift'] });
    await page.getByRole('button', { name: 'Tag 3' }).click();
    await page.getByRole('textbox', { name: 'Tag' }).fill('trial');
    await page.keyboard.press('Enter');
    await expect(page.getByText('Added “trial” to 3.')).toBeVisible();
    await page.getByRole('link', { name: 'Groves' }).click();
    await expect(page.getByText('60 people ·')).toBeVisible();
    await grid.press('Control+Home');
    await page.keyboard.press('Shift+Space');
    await page.getByRole('button', { name: 'Remove 1' }).click();
    await expect(page.getByText('59 people ·')).toBeVisible();
    await grid.press('Control+z');
    await expect(page.getByText('60 people ·')).toBeVisible();
  });

  await test.step('a column is computed as messages are', async () => {
    await page.getByRole('button', { name: 'This list' }).click();
    await page.getByRole('menuitem', { name: 'Add or show a column' }).click();
    await page.getByRole('textbox', { name: 'Name' }).fill('greeting');
    await page.getByRole('combobox', { name: 'Type' }).selectOption('Computed by a formula');
    await page.getByRole('textbox', { name: 'Formula' }).fill('Dear {{ given_name | upcase }}');
    await page.getByRole('button', { name: 'Add greeting' }).click();
    await expect(cell('Dear ANA')).toBeVisible();
  });

  await test.step('a column is dragged before another, and its press does not sort', async () => {
    const heads = grid.getByRole('columnheader').locator('.name > span');
    await expect(heads).toHaveText(['address', 'notes', 'given name', 'region', 'acres', 'tags', 'greeting']);
    await drag(page, heads.filter({ hasText: 'acres' }), heads.filter({ hasText: 'given name' }));
    await expect(heads).toHaveText(['address', 'notes', 'acres', 'given name', 'region', 'tags', 'greeting']);
    await expect(grid.locator('[aria-sort]')).toHaveCount(0);
    await heads.filter({ hasText: 'acres' }).click();
    await expect(grid.locator('[aria-sort=ascending]')).toHaveCount(1);
    await heads.filter({ hasText: 'acres' }).click();
    await heads.filter({ hasText: 'acres' }).click();
  });

  await test.step('a deleted list comes back', async () => {
    await page.getByRole('button', { name: 'This list' }).click();
    await page.getByRole('menuitem', { name: 'Delete the list' }).click();
    await page.getByText('Deleted (1)').click();
    await page.getByRole('button', { name: 'Restore' }).click();
    await expect(page.getByText('60 people ·')).toBeVisible();
  });
});
