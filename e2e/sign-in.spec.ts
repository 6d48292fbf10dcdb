import type { Page } from '@playwright/test';
import { expect, test } from './stack';
import { Coordinator } from './steps';

const WREN = 'wren@tidewaterkelp.example';

/** The provider's page that a press opens, and what is decided there. */
async function decide(page: Page, press: () => Promise<void>, decision: 'Allow' | 'Refuse'): Promise<string> {
  const opened = page.waitForEvent('popup');
  await press();
  const provider = await opened;
  await expect(provider.getByText('Baton asks to send and to read mail for you.')).toBeVisible();
  await expect(provider.getByRole('combobox', { name: 'Account' })).toHaveValue(WREN);
  await provider.getByRole('button', { name: decision }).click();
  const heading = provider.getByRole('heading', { level: 1 });
  await expect(heading).toHaveText(/igned in/);
  const words = `${await heading.textContent()}: ${await provider.getByRole('paragraph').first().textContent()}`;
  await provider.close();
  return words;
}

test('a mailbox signs in at its provider: refused, allowed, revoked and allowed again', async ({ page, stack }) => {
  const ines = new Coordinator(page, stack);
  await stack.simulator('POST', '/accounts', { address: WREN, password: 'nobody knows it' });
  await page.goto(stack.address);
  await ines.go('Mailboxes');
  await page.getByRole('link', { name: 'Connect a mailbox' }).click();
  await ines.fillMailboxForm('wren', 'Wren Okafor', 40);
  await page.getByRole('combobox', { name: 'Sign in' }).selectOption('at the provider (OAuth 2.0)');

  // The mail server knows where one signs in.
  await page.getByRole('button', { name: 'Find' }).click();
  await expect(page.getByText('describes its sign-in; the endpoints are filled in.')).toBeVisible();
  await expect(page.getByLabel('Sign-in address')).toHaveValue(stack.issuer);
  await page.getByLabel('Name of the provider').fill('Kelp mail');
  await page.getByLabel('Client ID').fill('baton');
  await page.getByRole('button', { name: 'Save provider' }).click();

  const signIn = () => page.getByRole('button', { name: 'Sign in', exact: true }).click();
  expect(await decide(page, signIn, 'Refuse')).toContain('Not signed in: Access was refused at the provider.');
  await expect(page.getByText('Access was refused at the provider.')).toBeVisible();
  await page.getByRole('button', { name: 'Test and connect' }).click();
  await expect(page.getByText('failed', { exact: true })).toBeVisible();
  expect(await decide(page, signIn, 'Allow')).toContain(`Signed in as ${WREN}: Baton may use this mailbox.`);
  await expect(page.getByText(`Signed in as ${WREN}`)).toBeVisible();
  await page.getByRole('button', { name: 'Test and connect' }).click();
  await expect(page.getByRole('link', { name: WREN })).toBeVisible();

  // The provider takes the access back; the next reading finds that out.
  await stack.simulator('POST', `/accounts/${WREN}/revoke`);
  await ines.moveOn('Forward 1 day');
  await ines.go('Today');
  await expect(page.getByText(`${WREN} cannot sign in`)).toBeVisible();
  const again = () => page.getByRole('button', { name: 'Sign in again' }).click();
  expect(await decide(page, again, 'Allow')).toContain(`Signed in as ${WREN}`);
  await expect(page.getByText(`${WREN} cannot sign in`)).toBeHidden();
});
