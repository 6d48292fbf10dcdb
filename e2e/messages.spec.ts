import { expect, test } from './stack';
import { Coordinator, drag } from './steps';

const PEOPLE = [
  'email;given name;company;acres',
  'lea@holm.example;Lea;Holm Vines;34',
  'bruno@salt.example;BRUNO2;Salt Estate GmbH;12',
  'info@ridge.example;;Ridge Cellars;',
  'ilse@meer.example;Ilse;Meer Vines;7',
].join('\n');

test('a message is written, set in a layout, read for those who are at risk, and tried out', async ({
  page,
  stack,
}) => {
  test.setTimeout(240_000);
  const ines = new Coordinator(page, stack);
  const me = 'ines.private@tidewaterkelp.example';
  await stack.simulator('PUT', `/people/${encodeURIComponent(me)}`, { persona: 'silent' });
  await page.goto(stack.address);
  await ines.paste(PEOPLE);
  await ines.takeList('Vineyards', 4);
  await ines.connect('ines', 'Ines Aldrich', 40);
  await ines.go('Messages');
  await page.getByRole('link', { name: 'New message' }).click();
  await expect(page).toHaveURL(/messages\/\d+/);
  const body = page.getByRole('textbox', { name: 'Message', exact: true });
  const proof = page.getByRole('region', { name: 'Proof' });
  const letter = () => proof.frameLocator('iframe').locator('body');

  await test.step('with the picker, by keyboard; its greeting falls back whole', async () => {
    await page.getByLabel('Name', { exact: true }).fill('Spring trial');
    await page.getByRole('textbox', { name: 'Subject' }).click();
    await page.keyboard.type('Kelp for {{comp');
    await expect(page.getByRole('listbox', { name: 'Fields' })).toContainText('Holm Vines');
    await page.keyboard.press('Enter');
    await page.keyboard.type('?');
    await body.click();
    await page.keyboard.press('Control+Home');
    await page.keyboard.press('ArrowDown');
    await page.keyboard.type('With {{acr');
    await page.keyboard.press('Tab');
    await page.keyboard.type(' acres you might ');
    await page.keyboard.press('Control+b');
    await page.keyboard.type('try it');
    await page.keyboard.press('Control+b');
    await page.keyboard.press('Enter');
    await page.keyboard.type('{{ personal line | default: "" }}');
    await expect(proof).toContainText('Kelp for Holm Vines?');
    await expect(letter()).toContainText('Hello Lea,');
    await expect(letter()).toContainText('With 34 acres you might try it');
    await expect(letter().locator('b')).toHaveText('try it');
  });

  await test.step('a fallback is given where the chip stands', async () => {
    await body.getByText('acres', { exact: true }).click();
    await page.getByLabel('Fallback').fill('a few');
    await page.keyboard.press('Enter');
    await expect(body.getByText('a few')).toBeVisible();
  });

  await test.step('the risky ones are shown first, each with its reason', async () => {
    const worth = page.getByRole('region', { name: 'Worth reading first' });
    await worth.getByRole('button', { name: /Bruno2.*has digits/ }).click();
    await expect(proof).toContainText('Proof for bruno@salt.example');
    await worth.getByRole('button', { name: /info@ridge/ }).click();
    await expect(letter()).toContainText('Hello,');
    await expect(letter()).toContainText('With a few acres');
  });

  await test.step('a layout takes the text in, and as a letter it is the same text again', async () => {
    const before = await body.innerText();
    await page.getByRole('button', { name: 'Layout', exact: true }).click();
    await expect(page.getByRole('button', { name: /^Header with name or logo/ })).toBeVisible();
    expect(await body.innerText()).toBe(before);
    await page.getByRole('button', { name: 'Add a block' }).click();
    await page.getByRole('menuitem', { name: 'Button' }).click();
    const link = page.getByRole('textbox', { name: 'Link of the button' });
    await link.click();
    await expect(link).toBeFocused();
    await page.keyboard.type('tidewaterkelp.example/trial');
    await expect(link).toHaveText('tidewaterkelp.example/trial');
    // Read beside the letter's frame: that is loaded anew at every letter typed, and a look into it can get lost.
    await expect(proof.locator('.links li').filter({ hasText: 'Tell me more' })).toContainText(
      'https://tidewaterkelp.example/trial',
    );
    await page.getByRole('button', { name: /^Button/ }).press('Alt+ArrowUp');
    await page.getByRole('button', { name: 'Plain letter' }).click();
    expect(await body.innerText()).toBe(before);
    await page.getByRole('button', { name: 'Layout', exact: true }).click();
    await expect(page.getByRole('button', { name: /^Button.*trial/ })).toBeVisible();
    // By mouse: the button block is dragged above the head.
    const handles = page.getByTitle('Drag to another place');
    const blocks = page.locator('.block .name b');
    const order = await blocks.allInnerTexts();
    const from = order.indexOf('Button');
    await drag(page, handles.nth(from), handles.first());
    const dragged = ['Button', ...order.filter((_, at) => at !== from)];
    await expect(blocks).toHaveText(dragged);
    await page.getByRole('button', { name: 'Undo', exact: true }).click();
    await expect(blocks).toHaveText(order);
    await page.getByRole('button', { name: 'Undo', exact: true }).click();
    await expect(page.getByRole('button', { name: /^Button.*trial/ })).toBeHidden();
    await page.getByRole('button', { name: 'Redo', exact: true }).click();
    await expect(page.getByRole('status').filter({ hasText: 'saved' })).toBeVisible();
  });

  await test.step('personal lines are written one after the other by keyboard', async () => {
    await page.getByRole('link', { name: 'Write the personal lines' }).click();
    await expect(page.getByText('0 of 4 lines of Vineyards have been decided')).toBeVisible();
    const line = page.getByRole('textbox', { name: 'Personal line' });
    await expect(page.getByText('lea@holm.example')).toBeVisible();
    await line.pressSequentially('I read that Holm is replanting.');
    await expect(page.getByRole('region', { name: 'Proof' }).frameLocator('iframe').locator('body')).toContainText(
      'I read that Holm is replanting.',
    );
    await line.press('Control+Enter');
    await expect(page.getByText('bruno@salt.example')).toBeVisible();
    await expect(line).toBeFocused();
    await line.press('Control+Shift+Backspace');
    await expect(page.getByText('2 of 4 lines of Vineyards have been decided')).toBeVisible();
    await page.getByRole('button', { name: /^approved 1/ }).click();
    await expect(page.getByText('lea@holm.example')).toBeVisible();
    await page.getByRole('link', { name: 'Back to the message' }).click();
  });

  await test.step('a test email arrives as it was proofed, in HTML and as plain text', async () => {
    await expect(letter()).toContainText('I read that Holm is replanting.');
    await page.getByRole('button', { name: 'Send me a test' }).click();
    await page.getByLabel('To', { exact: true }).fill(me);
    await page.getByRole('button', { name: 'Send the test' }).click();
    await expect(page.getByText(`The test was sent from ines@tidewaterkelp.example to ${me}.`)).toBeVisible();
    await ines.go('Simulated inboxes');
    await page
      .getByLabel(/search/i)
      .first()
      .fill('ines.private');
    await page.getByRole('button', { name: new RegExp(me) }).click();
    const mail = page.getByRole('article');
    await expect(mail).toContainText('[Test] Kelp for Holm Vines?');
    await expect(mail.frameLocator('iframe').locator('body')).toContainText('I read that Holm is replanting.');
    await expect(mail.frameLocator('iframe').getByRole('link', { name: 'Tell me more' })).toBeVisible();
    await mail.getByRole('button', { name: 'Show as plain text' }).click();
    await expect(mail.locator('pre')).toContainText('Tell me more: https://tidewaterkelp.example/trial');
  });
});
