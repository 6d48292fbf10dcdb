import type { Locator, Page } from '@playwright/test';
import { expect, type Stack } from './stack';

export const PASSWORD = 'a real password';

/** Drags one thing onto the upper edge of another with the mouse, in the small steps that a hand makes. */
export async function drag(page: Page, from: Locator, to: Locator): Promise<void> {
  await to.scrollIntoViewIfNeeded();
  await from.scrollIntoViewIfNeeded();
  await from.hover();
  await page.mouse.down();
  const end = await to.boundingBox();
  if (!end) throw new Error('The place to drag to is not on the screen.');
  await page.mouse.move(end.x + end.width / 2, end.y + end.height, { steps: 12 });
  await page.mouse.move(end.x + end.width / 2, end.y + 1, { steps: 6 });
  await page.mouse.up();
}

/** What a person does on the screens, a step each. */
export class Coordinator {
  constructor(
    readonly page: Page,
    readonly stack: Stack,
  ) {}

  async go(place: string): Promise<void> {
    await this.page.getByRole('navigation', { name: 'Main' }).getByRole('link', { name: place }).click();
  }

  /** Fills in the form of a new mailbox, but for how it signs in. */
  async fillMailboxForm(name: string, senderName: string, quota: number): Promise<void> {
    const { page, stack } = this;
    const address = `${name}@tidewaterkelp.example`;
    await page.getByLabel('Address').fill(address);
    await page.getByLabel('Sender name').fill(senderName);
    await page.getByLabel('Signature').fill(`${senderName}\nTidewater Kelp Works`);
    await page.getByLabel('User name').fill(address);
    await page.getByLabel('SMTP server').fill('127.0.0.1');
    await page.getByLabel('SMTP port').fill(String(stack.smtpPort));
    await page.getByLabel('SMTP security').selectOption('none');
    await page.getByLabel('IMAP server').fill('127.0.0.1');
    await page.getByLabel('IMAP port').fill(String(stack.imapPort));
    await page.getByLabel('IMAP security').selectOption('none');
    await page.getByLabel('Daily quota').fill(String(quota));
    await page.getByLabel('Minimum seconds between messages').fill('120');
  }

  /** Fills in the form of a new mailbox and presses the button under it. */
  async fillMailbox(name: string, senderName: string, quota: number, password: string): Promise<void> {
    await this.fillMailboxForm(name, senderName, quota);
    await this.page.getByLabel('Password or app password').fill(password);
    await this.page.getByRole('button', { name: 'Test and connect' }).click();
  }

  async connect(name: string, senderName: string, quota: number): Promise<void> {
    const address = `${name}@tidewaterkelp.example`;
    await this.stack.simulator('POST', '/accounts', { address, password: PASSWORD });
    await this.go('Mailboxes');
    await this.page.getByRole('link', { name: 'Connect a mailbox' }).click();
    await this.fillMailbox(name, senderName, quota, PASSWORD);
    await expect(this.page.getByRole('link', { name: address })).toBeVisible();
  }

  async paste(rows: string): Promise<void> {
    await this.go('People');
    await this.page.getByRole('link', { name: 'Import people' }).first().click();
    await this.page.getByLabel('Paste here').fill(rows);
    await this.page.getByRole('button', { name: 'Preview' }).click();
  }

  async takeList(name: string, people: number): Promise<void> {
    await this.page.getByLabel('Name of the list').fill(name);
    await this.page.getByRole('button', { name: `Import ${people} ${people === 1 ? 'person' : 'people'}` }).click();
    await expect(this.page.getByRole('heading', { name, level: 1 })).toBeVisible();
  }

  async writeMessage(name: string, subject: string, body: string): Promise<void> {
    const { page } = this;
    await this.go('Messages');
    await page.getByRole('link', { name: 'New message' }).click();
    await expect(page).toHaveURL(/messages\/\d+/);
    await page.getByLabel('Name', { exact: true }).fill(name);
    await this.pasteInto('Subject', subject);
    await this.pasteInto('Message', body);
    await expect(page.getByRole('status').filter({ hasText: 'saved' })).toBeVisible();
  }

  /** Replaces a text by what a clipboard holds, as it is pasted. */
  async pasteInto(label: string, text: string): Promise<void> {
    const box = this.page.getByRole('textbox', { name: label, exact: true });
    await box.click();
    await box.press('Control+a');
    await box.evaluate((element, pasted) => {
      const clipboardData = new DataTransfer();
      clipboardData.setData('text/plain', pasted);
      element.dispatchEvent(new ClipboardEvent('paste', { clipboardData, bubbles: true, cancelable: true }));
    }, text);
  }

  async newCampaign(name: string): Promise<void> {
    await this.go('Campaigns');
    await this.page.getByLabel('New campaign').fill(name);
    await this.page.getByRole('button', { name: 'Create' }).click();
    await expect(this.page.getByRole('heading', { name, level: 1 })).toBeVisible();
  }

  /** Moves the simulated clock by one of the clock's own choices and waits until it has arrived. */
  async moveOn(words: string): Promise<void> {
    const { page } = this;
    const clock = page.getByRole('button', { name: 'Simulated clock' });
    const before = await clock.textContent();
    await clock.click();
    await page.getByRole('menuitem', { name: words }).click();
    await expect(clock).not.toHaveText(before ?? '', { timeout: 60_000 });
    await expect(clock).not.toContainText('moving …', { timeout: 120_000 });
  }
}
