import { readFile } from 'node:fs/promises';
import { expect, test } from './stack';
import { Coordinator } from './steps';

/** How many behave how, and how many messages each such person is to get. */
const BEHAVIOUR: Record<string, { people: number; gets: number; ends: string }> = {
  silent: { people: 9, gets: 2, ends: 'done' },
  reader: { people: 8, gets: 2, ends: 'done' },
  greylisted: { people: 2, gets: 2, ends: 'done' },
  away: { people: 2, gets: 2, ends: 'done' },
  keen: { people: 4, gets: 1, ends: 'replied' },
  decliner: { people: 3, gets: 1, ends: 'replied' },
  curious: { people: 1, gets: 2, ends: 'replied' },
  asks_out: { people: 2, gets: 1, ends: 'unsubscribed' },
  leaves_by_link: { people: 2, gets: 1, ends: 'unsubscribed' },
  leaves_one_click: { people: 2, gets: 1, ends: 'unsubscribed' },
  complains: { people: 1, gets: 1, ends: 'unsubscribed' },
  unknown: { people: 2, gets: 0, ends: 'bounced' },
  bounces_later: { people: 2, gets: 1, ends: 'bounced' },
  // Sent again twice.
  full_later: { people: 1, gets: 3, ends: 'bounced' },
  inline: { people: 1, gets: 1, ends: 'replied' },
  foreigner: { people: 1, gets: 1, ends: 'replied' },
  left: { people: 1, gets: 1, ends: 'stopped' },
  // Whose it is cannot be known: several have had its subject.
  elsewhere: { people: 1, gets: 2, ends: 'done' },
};
const PEOPLE = Object.entries(BEHAVIOUR).flatMap(([persona, { people }]) =>
  Array.from({ length: people }, (_, i) => ({
    address: `${persona.replaceAll('_', '-')}${i}@${persona.replaceAll('_', '')}-vines.example`,
    given: `Given${i}`,
    company: i === 0 ? '' : `${persona} Estate`,
    persona,
  })),
);
const QUOTA = 6;

interface Mail {
  from: string;
  subject: string;
  receivedAt: number;
  text: string;
  messageId: string;
  references: string[];
}

/** What receivers find about the senders' domain, by type and name. */
const RECORDS = {
  'TXT tidewaterkelp.example': 'v=spf1 mx -all',
  'TXT default._domainkey.tidewaterkelp.example': 'v=DKIM1; k=rsa; p=MIGfMA0GCSqGSIb3DQEBAQUAA4GNADCBiQKBgQ',
  'TXT _dmarc.tidewaterkelp.example': 'v=DMARC1; p=reject',
};

test('from a list to an answered follow-up, through the interface', async ({ page, stack }) => {
  const ines = new Coordinator(page, stack);
  /** Whoever is answered by hand. */
  let answered = '';
  for (const p of PEOPLE) await stack.simulator('PUT', `/people/${p.address}`, { persona: p.persona });
  for (const [of, record] of Object.entries(RECORDS))
    await stack.simulator('PUT', `/records/${encodeURIComponent(of)}`, { records: [record] });
  await page.goto(stack.address);
  await expect(page.getByText('Nothing has been sent from here yet.')).toBeVisible();

  await test.step('import a list: header guessed, bad and double rows set aside', async () => {
    const rows = PEOPLE.map((p) => `${p.address};${p.given};${p.company}`);
    await ines.paste(
      ['Courriel;Prénom;Domaine', ...rows, 'not-an-address;Bo;', `${PEOPLE[0]?.address};Again;`].join('\n'),
    );
    await expect(page.getByLabel('What the column Courriel is')).toHaveValue('address');
    await expect(page.getByLabel('What the column Prénom is')).toHaveValue('given_name');
    await page.getByRole('button', { name: 'Show 2 set aside' }).click();
    await expect(page.getByText('“not-an-address” has no @ sign')).toBeVisible();
    await expect(page.getByText(`${PEOPLE[0]?.address} is already in line 2`)).toBeVisible();
    await page.getByRole('button', { name: 'Back to the sheet' }).click();
    await ines.takeList('North-coast vineyards', PEOPLE.length);
    await expect(page.getByRole('row')).not.toHaveCount(0);
  });

  await test.step('connect three mailboxes, one with a wrong password first', async () => {
    await stack.simulator('POST', '/accounts', { address: 'ines@tidewaterkelp.example', password: 'other' });
    await ines.go('Mailboxes');
    await page.getByRole('link', { name: 'Connect a mailbox' }).click();
    await ines.fillMailbox('ines', 'Ines Aldrich', QUOTA, 'wrong');
    await expect(page.getByText('The user name or password is wrong')).toBeVisible();
    await ines.connect('ines', 'Ines Aldrich', QUOTA);
    await ines.connect('tomas', 'Tomas Reyl', QUOTA);
    await ines.connect('hello', 'Tidewater Kelp', QUOTA);
    await expect(page.getByText('Messages are sent from 3 mailboxes.')).toBeVisible();
  });

  await test.step('write a message with fields and fallbacks, and see it as anybody will', async () => {
    await ines.writeMessage('Kelp for your vines?', 'Kelp for {{ company | default: "your vines" }}?', 'Hello ');
    const body = page.getByRole('textbox', { name: 'Message' });
    await body.press('Control+End');
    await body.pressSequentially('{{giv');
    await expect(page.getByRole('listbox', { name: 'Fields' })).toContainText('given name');
    await body.press('Enter');
    await body.pressSequentially(',\nkelp for {{ company }}?\n{{ signature }}\n');
    await page.getByRole('button', { name: 'Link' }).click();
    await page.getByLabel('Address').fill('{{ unsubscribe_link }}');
    await page.getByLabel('Text', { exact: true }).fill('Leave this list');
    await page.getByRole('button', { name: 'Insert the link' }).click();
    const proof = page.getByRole('region', { name: 'Proof' });
    await expect(proof).toContainText('Blank and without a fallback: company');
    await page.getByLabel('company', { exact: true }).fill('your vineyard');
    await page.getByLabel('company', { exact: true }).blur();
    await expect(proof).not.toContainText('Blank');
    await expect(proof).toContainText('Kelp for your vines?');
    await page.getByRole('button', { name: 'Plain', exact: true }).click();
    await expect(proof.locator('pre')).toContainText('Hello Given0,\n\nkelp for your vineyard?');
    await page.getByRole('button', { name: 'Next recipient' }).click();
    await expect(proof).toContainText('Kelp for silent Estate?');
    await expect(page.getByText(/^Proofs read /)).toBeVisible();
    await ines.writeMessage(
      'A short reminder',
      'Re',
      'Hello {{ given_name | default: "there" }}, the offer stands. {{ unsubscribe_link }}',
    );
    await expect(page.getByText('No proof of this message has been read yet.')).toBeVisible();
    await page.getByRole('button', { name: 'Next recipient' }).click();
    await expect(page.getByText(/^Proofs read /)).toBeVisible();
  });

  await test.step('a brief: whom, what, from where, when', async () => {
    await ines.newCampaign('Vineyards, spring trial');
    await page.getByLabel(/^List/).selectOption({ label: `North-coast vineyards (${PEOPLE.length})` });
    await page.getByRole('button', { name: 'no message yet' }).click();
    await page.getByRole('button', { name: 'Add the first message' }).click();
    await page.getByLabel('First message', { exact: true }).selectOption('Kelp for your vines?');
    await page.getByRole('button', { name: 'Add a follow-up' }).click();
    await page.getByLabel('Follow-up 1', { exact: true }).selectOption('A short reminder');
    await page.getByRole('button', { name: '3 mailboxes' }).click();
    for (const name of ['ines', 'tomas', 'hello']) await page.getByLabel(`${name}@tidewaterkelp.example`).check();
    await expect(page.getByRole('heading', { name: 'Plan if nobody replies' })).toBeVisible();
    await expect(page.getByText('then, 3 working days later, to those who have not replied,')).toBeVisible();
    await expect(page.getByText('nothing', { exact: true })).toBeVisible();
    await page.getByRole('button', { name: 'See who gets what, and when' }).click();
    await page.getByLabel('Search recipients').fill('keen0@');
    const row = page.getByRole('row', { name: /keen0@/ });
    await expect(row).toContainText(/(ines|tomas|hello)@/);
    await expect(row.getByRole('cell').nth(3)).toContainText(/\w{3} \d+ Nov \d\d:\d\d/);
  });

  await test.step('start it after the numbers were repeated', async () => {
    await page.getByRole('button', { name: `Start: ${PEOPLE.length} people` }).click();
    const question = page.getByRole('dialog');
    await expect(question).toContainText(
      `${PEOPLE.length} people of North-coast vineyards get up to 2 messages each, ${2 * PEOPLE.length} in all`,
    );
    await expect(question.getByRole('button', { name: /^Start/ })).toBeDisabled();
    await question.getByLabel('These people may be written to').check();
    await question.getByRole('button', { name: /^Start/ }).click();
    await expect(page.getByText(`${PEOPLE.length} waiting`)).toBeVisible();
  });

  await test.step('time goes on: everyone’s state is live', async () => {
    await ines.moveOn('Forward 1 day');
    await expect(page.getByText(/\d+ in progress/)).toBeVisible();
    await ines.moveOn('Forward 1 week');
    await ines.moveOn('Forward 1 week');
    await ines.moveOn('Forward 1 week');
    await expect(page.getByText('finished', { exact: true })).toBeVisible();
    const count = (state: string) => PEOPLE.filter((p) => BEHAVIOUR[p.persona]?.ends === state).length;
    for (const state of ['replied', 'done', 'bounced', 'unsubscribed', 'stopped'])
      await expect(page.getByText(`${count(state)} ${state}`)).toBeVisible();
  });

  await test.step('the answers wait, each with its thread; an outcome is set by key', async () => {
    await ines.go('Replies');
    await expect(page.getByRole('button', { name: 'To decide 10' })).toBeVisible();
    await expect(page.getByText(/No follow-up will be sent|They had already had every message/)).toBeVisible();
    const first = page.url();
    await page.keyboard.press('i');
    await expect(page.getByRole('button', { name: 'To decide 9' })).toBeVisible();
    await expect(page).not.toHaveURL(first);
    await page.keyboard.press('r');
    const box = page.getByRole('textbox', { name: 'Answer' });
    await expect(box).toBeFocused();
    await box.fill('Thank you. How many sacks?');
    await page.keyboard.press('Control+Enter');
    await expect(page.getByText(/The answer to .* leaves in ten seconds/)).toBeVisible();
    await page.getByRole('button', { name: 'Take back', exact: true }).click();
    await page.getByRole('button', { name: /^Go on with the answer/ }).click();
    await expect(box).toHaveValue('Thank you. How many sacks?');
    answered = / to (\S+)/.exec((await page.getByText(/From \S+ to \S+/).textContent()) ?? '')?.[1] ?? '';
    await page.getByRole('button', { name: 'Send', exact: true }).click();
    const thread = page.getByLabel('Thread');
    await expect(thread.getByText('It leaves in a moment.')).toBeVisible();
    await expect(thread.getByText('It leaves in a moment.')).toBeHidden();
    const got = await stack.simulator<Mail[]>('GET', `/people/${answered}/inbox`);
    expect(got[0]?.text).toMatch(/^Thank you\. How many sacks\?\n\n-- \n[^]*wrote:\n> /);
    await page.getByRole('button', { name: 'Left or moved 1' }).click();
    await expect(
      page.getByText('They name Robin Vale, head of purchasing, robin.vale@left-vines.example.'),
    ).toBeVisible();
    await page.getByRole('button', { name: 'Bounces 5' }).click();
    await page.getByLabel('Search').fill('Over quota');
    await expect(page.getByRole('button', { name: 'Bounces 3' })).toBeVisible();
    await page
      .getByRole('button', { name: /full-later0@/ })
      .first()
      .click();
    await expect(page.getByText('The server said: 552 5.2.2 Over quota')).toBeVisible();
    await page.getByLabel('Search').fill('');
    await page.getByRole('button', { name: 'From nobody known 2' }).click();
    await page.getByRole('button', { name: 'Not for us' }).click();
    await expect(page.getByRole('button', { name: 'From nobody known 1' })).toBeVisible();
    await ines.go('People');
    await page.getByRole('link', { name: /Suppression list/ }).click();
    await expect(page.getByRole('row', { name: /hard bounce/ })).toHaveCount(
      PEOPLE.filter((p) => p.persona === 'unknown' || p.persona === 'bounces_later').length,
    );
  });

  await test.step('the rows are saved with what became of each', async () => {
    await ines.go('Campaigns');
    await page.getByRole('link', { name: 'Vineyards, spring trial' }).click();
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('link', { name: 'Export rows with outcomes', exact: true }).click(),
    ]);
    const csv = (await readFile(await download.path(), 'utf8')).replace('\ufeff', '').trim().split('\r\n');
    expect(csv[0]).toBe(
      'Courriel,given name,company,state,reason,mailbox,sent,follow-up 1 sent,replied,outcome,opens,first opened,last opened,clicks,links followed',
    );
    expect(csv).toHaveLength(PEOPLE.length + 1);
    for (const p of PEOPLE) {
      const row = csv.find((l) => l.startsWith(`${p.address},`));
      expect(row?.split(',')[3], row).toBe(BEHAVIOUR[p.persona]?.ends);
    }
    expect(csv.filter((l) => l.split(',')[9] === 'interested')).toHaveLength(1);
  });

  await test.step('the simulator, asked what it received, agrees', async () => {
    const perDay = new Map<string, number>();
    for (const p of PEOPLE) {
      const mails = (await stack.simulator<Mail[]>('GET', `/people/${p.address}/inbox`)).reverse();
      const [first, second] = mails;
      expect(mails, p.address).toHaveLength((BEHAVIOUR[p.persona]?.gets ?? -1) + (p.address === answered ? 1 : 0));
      if (first) {
        expect(first.subject).toBe(`Kelp for ${p.company || 'your vines'}?`);
        expect(first.text).toContain(`Hello ${p.given},`);
      }
      if (first && second) {
        const isFollowUp = p.persona !== 'full_later';
        expect(second.subject).toBe(isFollowUp ? `Re: ${first.subject}` : first.subject);
        if (p.address === answered) expect(second.references[0]).toBe(first.messageId);
        else expect(second.references).toEqual(isFollowUp ? [first.messageId] : []);
        expect(second.from).toBe(first.from);
      }
      for (const m of mails) {
        // Written by hand, an answer leaves at once.
        if (p.address === answered && m === mails.at(-1)) continue;
        const at = new Date(m.receivedAt);
        const day = `${m.from} ${at.toISOString().slice(0, 10)}`;
        perDay.set(day, (perDay.get(day) ?? 0) + 1);
        expect(at.getUTCHours() * 60 + at.getUTCMinutes()).toBeGreaterThanOrEqual(540);
        expect(at.getUTCHours() * 60 + at.getUTCMinutes()).toBeLessThan(990);
        expect([0, 6]).not.toContain(at.getUTCDay());
      }
    }
    expect(Math.max(...perDay.values())).toBeLessThanOrEqual(QUOTA);
  });
});
