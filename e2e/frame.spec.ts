import { expect, test } from './stack';
import { Coordinator } from './steps';

test('bad files get a sentence, and nothing of them is kept', async ({ page, stack }) => {
  const ines = new Coordinator(page, stack);
  await page.goto(`${stack.address}/people/import`);
  const give = (name: string, buffer: Buffer) =>
    page.locator('input[type=file]').setInputFiles({ name, mimeType: 'text/csv', buffer });
  const problem = page.getByRole('alert');
  await give('sheet.xlsx', Buffer.from([0x50, 0x4b, 3, 4, 0, 0, 0, 0]));
  await expect(problem).toContainText('This zip archive is not a workbook');
  await give('big.xlsx', Buffer.concat([Buffer.from('PK\x03\x04'), Buffer.alloc(40 * 1024 * 1024)]));
  await expect(problem).toContainText('workbooks, contact cards and JSON can have up to 32 MB');
  // Of a sheet with one bad row the others can be taken; it says why this one cannot.
  await give('open.csv', Buffer.from('email,note\na@x.example,"oops\nb@x.example,x'));
  await page.getByRole('button', { name: 'Show 1 set aside' }).click();
  await expect(page.getByText('A quotation mark that opens in this row is never closed')).toBeVisible();
  await page.getByRole('button', { name: 'Discard' }).click();
  await ines.paste('name,town\nAna,Carrow Bay');
  await expect(page.getByText('No column holds email addresses; the columns are name, town.')).toBeVisible();
  await expect(page.getByRole('button', { name: /^Import \d/ })).toBeDisabled();
  await ines.go('People');
  await expect(page.getByText('The people you write to are kept here.')).toBeVisible();
});

test('a message that does not parse is marked where, and is kept as it was typed', async ({ page, stack }) => {
  const ines = new Coordinator(page, stack);
  await page.goto(stack.address);
  await ines.paste('email,name\nana@x.example,Ana');
  await ines.takeList('Friends', 1);
  await ines.writeMessage('Broken', 'Hi', 'Hello {{ name }},\n\nall of {{ company');
  await expect(page.getByRole('alert')).toContainText('Message, line 3, column 8');
  await page.reload();
  await expect(page.getByRole('textbox', { name: 'Message' })).toHaveText('Hello name,all of {{ company');
  await page.getByRole('textbox', { name: 'Message' }).press('Control+End');
  await page.getByRole('textbox', { name: 'Message' }).pressSequentially('!');
  // Leaving at once loses nothing.
  await ines.go('Today');
  await ines.go('Messages');
  await expect(page.getByRole('textbox', { name: 'Message' })).toHaveText(/company!$/);
});

test('everything can be held at once, and the page says so until it is released', async ({ page, stack }) => {
  await page.goto(stack.address);
  await page.getByRole('button', { name: 'Hold all' }).click();
  await expect(page.getByText('Everything is held')).toBeVisible();
  await page.getByRole('button', { name: 'Release all' }).click();
  await expect(page.getByText('Everything is held')).toBeHidden();
});

test('the rail and a new campaign work by keyboard alone', async ({ page, stack }) => {
  await page.goto(stack.address);
  await expect(page.getByText('Nothing has been sent from here yet.')).toBeVisible();
  await page.keyboard.press('Tab');
  await expect(page.getByRole('link', { name: 'Skip to content' })).toBeFocused();
  const reach = async (name: string) => {
    for (let i = 0; i < 40; i++) {
      await page.keyboard.press('Tab');
      const focused = await page.evaluate(() => {
        const e = document.activeElement as HTMLElement | null;
        return e?.getAttribute('aria-label') ?? e?.textContent?.trim() ?? '';
      });
      if (focused.startsWith(name)) return;
    }
    throw new Error(`${name} cannot be reached by Tab`);
  };
  await reach('Campaigns');
  await page.keyboard.press('Enter');
  await page.getByLabel('New campaign').focus();
  await page.keyboard.type('By hand');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'By hand', level: 1 })).toBeVisible();
});

test('the focus is seen at every stop of the Tab key', async ({ page, stack }) => {
  await page.goto(stack.address);
  await new Coordinator(page, stack).connect('ines', 'Ines Aldrich', 20);
  for (const screen of ['today', 'people/suppressions', 'messages', 'campaigns', 'plan', 'mailboxes', 'inboxes']) {
    await page.goto(`${stack.address}/${screen}`);
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
    for (let stop = 0; stop < 24; stop++) {
      await page.keyboard.press('Tab');
      const unseen = await page.evaluate(() => {
        const focused = document.activeElement as HTMLElement;
        // A field of Material's shows it on its frame; past the last stop the page itself has the focus.
        const isShown = focused === document.body || focused.closest('.mat-focused, iframe') !== null;
        return isShown || getComputedStyle(focused).outlineStyle !== 'none' ? '' : focused.outerHTML.slice(0, 200);
      });
      expect(unseen, screen).toBe('');
    }
  }
});

for (const width of [390, 1280])
  test(`no screen is wider than the window at ${width} px`, async ({ page, stack }) => {
    await page.goto(stack.address);
    await new Coordinator(page, stack).connect('ines', 'Ines Aldrich', 20);
    await page.setViewportSize({ width, height: 800 });
    const narrow = ['today', 'replies', 'campaigns', 'plan', 'mailboxes', 'activity', 'settings'];
    const wide = ['people', 'messages', 'inboxes', 'people/import', 'mailboxes/new'];
    for (const screen of width > 1000 ? [...narrow, ...wide] : narrow) {
      await page.goto(`${stack.address}/${screen}`);
      await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
      if (screen === 'plan' || screen === 'mailboxes')
        await expect(page.getByRole('table').getByText('ines@').first()).toBeVisible();
      const over = await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth);
      expect(over, screen).toBeLessThanOrEqual(0);
    }
  });
