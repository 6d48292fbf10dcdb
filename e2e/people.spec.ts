import { expect, test } from './stack';
import { Coordinator } from './steps';

test('a messy list becomes a clean one, and a person has a page', async ({ page, stack }) => {
  const ines = new Coordinator(page, stack);
  await page.goto(stack.address);
  await ines.paste(
    [
      'Growers of the coast;;',
      ';;',
      'Courriel;Contact;Domaine',
      'b.salt@coastcellars.example;BRUNO SALT;Salt & Daughters Ltd',
      'mina@coastcellars.example;Mina  Duarte;Quinta Duarte',
      'tam@coastcellars.example;Tam Osei;Coast Cellars',
      'lea@coastcelars.example;Lea Brandt;Brandt Wein GmbH',
      'karl.aster@;Karl Aster;Asterhof',
    ].join('\n'),
  );

  await test.step('what is put right is shown before and after, and can be left', async () => {
    await expect(page.getByText('header in row 3, 1 above it skipped')).toBeVisible();
    await expect(page.getByText('BRUNO SALT → Bruno Salt')).toBeVisible();
    const legal = page.getByRole('checkbox', { name: /Remove legal forms from companies/ });
    await expect(legal).not.toBeChecked();
    await legal.check();
    await expect(page.getByRole('cell', { name: 'Brandt Wein', exact: true })).toBeVisible();
  });

  await test.step('a bad row is mended by keyboard, a misspelt domain by one press', async () => {
    await page.getByRole('button', { name: 'Show 1 set aside' }).click();
    const address = page.getByLabel('Address in line 8');
    await address.fill('karl.aster@asterhof.example');
    await address.press('Enter');
    await page.getByRole('button', { name: 'Correct 1 misspelt domain' }).click();
    await expect(page.getByRole('cell', { name: 'lea@coastcellars.example' })).toBeVisible();
    const company = page.getByRole('cell', { name: 'Asterhof', exact: true });
    await company.focus();
    await page.keyboard.press('Enter');
    await page.keyboard.type('Aster Estate');
    await page.keyboard.press('Enter');
    await expect(page.getByRole('cell', { name: 'Aster Estate' })).toBeVisible();
    await ines.takeList('Coast growers', 5);
  });

  await test.step('a person’s page says where they stand, and everything about them can be erased', async () => {
    await page.getByRole('link', { name: 'Open karl.aster@asterhof.example' }).click();
    await expect(page.getByRole('heading', { name: 'Karl Aster', level: 1 })).toBeVisible();
    await expect(page.getByText('They are in no campaign yet.')).toBeVisible();
    await page.getByRole('button', { name: 'Erase' }).click();
    await page.getByRole('button', { name: 'Erase for good?' }).click();
    await expect(page.getByRole('gridcell', { name: 'b.salt@coastcellars.example' })).toBeVisible();
    await expect(page.getByRole('gridcell', { name: 'karl.aster@asterhof.example' })).toBeHidden();
  });
});
