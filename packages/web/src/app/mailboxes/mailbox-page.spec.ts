import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { Router } from '@angular/router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { MailboxView } from '@baton/contract';
import { LiveServer, SHELL, settle, textOf } from '../testing/live-server';
import { keepSavedFiles, rowsOfCsv } from '../testing/saved-files';
import { stubDrawing } from '../testing/undrawn';
import { MailboxPage } from './mailbox-page';

const wren: MailboxView = {
  id: 5,
  address: 'wren@tidewaterkelp.example',
  senderName: 'Wren Okafor',
  signature: 'Wren',
  smtp: { host: '127.0.0.1', port: 4325, security: 'none' },
  imap: { host: '127.0.0.1', port: 4343, security: 'none' },
  username: 'wren@tidewaterkelp.example',
  grantId: null,
  zone: 'Europe/Dublin',
  windows: [
    [[540, 960]],
    [
      [540, 720],
      [780, 960],
    ],
    [],
    [[540, 960]],
    [],
    [],
    [],
  ],
  dailyQuota: 40,
  ramp: { first: 10, add: 4, every: 1 },
  providerLimit24h: 200,
  paceSeconds: 90,
  keepsSent: true,
  failing: null,
  archiveFolder: '',
  archiveProblem: null,
  restMoved: null,
  byHandToday: 0,
  held: false,
  restUntil: null,
  restReason: null,
  problem: null,
  quotaToday: 18,
  sentToday: 4,
  plannedToday: 14,
  lastReadAt: null,
  replyTo: '',
  daysOff: [],
  health: { sent: 120, bounces: 3, refusals: 0, complaints: 0, replies: 9 },
  mostSent: 14,
  learntLimit24h: null,
  climbed: 2,
  sharesWith: [],
};

let server: LiveServer;
let fixture: ComponentFixture<MailboxPage>;
const host = () => fixture.nativeElement as HTMLElement;
const box = (name: string) => host().querySelector(`[formControlName=${name}]`) as HTMLInputElement;
beforeEach(() => {
  stubDrawing();
  TestBed.configureTestingModule({ providers: LiveServer.providers() });
  server = new LiveServer();
  fixture = TestBed.createComponent(MailboxPage);
});

afterEach(() => {
  vi.unstubAllGlobals();
  vi.restoreAllMocks();
});

async function show(id: string, mailbox = wren): Promise<void> {
  fixture.componentRef.setInput('mailboxId', id);
  await settle(fixture);
  server.answer('/api/shell', SHELL);
  server.answer('/api/mailboxes', [mailbox]);
  await settle(fixture);
}

async function fill(name: string, value: string): Promise<void> {
  box(name).value = value;
  box(name).dispatchEvent(new Event('input'));
  box(name).dispatchEvent(new Event('blur'));
  await settle(fixture);
}

async function submit(): Promise<void> {
  (host().querySelector('button[type=submit]') as HTMLButtonElement).click();
  await settle(fixture);
}

describe('MailboxPage', () => {
  it('says whether the provider keeps copies, and since when nothing could be sent', async () => {
    const failing = { since: Date.parse('2026-11-24T09:30:00Z'), words: 'smtp.tidewaterkelp.example does not answer.' };
    await show('5', { ...wren, keepsSent: false, failing });
    expect(textOf(fixture)).toContain('Baton files one of each message in the Sent folder');
    expect(textOf(fixture)).toMatch(
      /Nothing could be sent since .*24 Nov.*: smtp.tidewaterkelp.example does not answer\./,
    );
  });

  it('guesses the usual servers from the address, and leaves what was typed', async () => {
    await show('new');
    await fill('smtpHost', 'mail.tidewaterkelp.example');
    await fill('address', 'ines@tidewaterkelp.example');
    const asked = server.http.expectOne((r) => r.url === '/api/mailboxes/servers');
    expect(asked.request.params.get('address')).toBe('ines@tidewaterkelp.example');
    const at = (host: string, port: number) => ({ host, port, security: 'starttls' });
    asked.flush({ smtp: at('out.example', 587), imap: at('imap.tidewaterkelp.example', 143), announced: true });
    await settle(fixture);
    expect(box('smtpHost').value).toBe('mail.tidewaterkelp.example');
    expect(box('imapHost').value).toBe('imap.tidewaterkelp.example');
    expect([box('imapPort').value, box('smtpPort').value]).toEqual(['143', '465']);
    expect(textOf(fixture)).toContain('Published by the domain.');
    expect(box('username').value).toBe('ines@tidewaterkelp.example');
    expect(box('zone').value).toBe('Europe/Dublin');
  });

  it('puts no guess into a field that somebody is about to fill in', async () => {
    await show('new');
    await fill('address', 'ines@tidewaterkelp.example');
    document.body.append(host());
    box('smtpHost').focus();
    const at = (host_: string) => ({ host: host_, port: 993, security: 'tls' });
    server.http
      .expectOne((r) => r.url === '/api/mailboxes/servers')
      .flush({ smtp: at('smtp.tidewaterkelp.example'), imap: at('imap.tidewaterkelp.example'), announced: false });
    await settle(fixture);
    expect([box('smtpHost').value, box('imapHost').value]).toEqual(['', 'imap.tidewaterkelp.example']);
  });

  it('asks for what is missing before it troubles any server', async () => {
    await show('new');
    await submit();
    expect(host().querySelector('[role=alert]')?.textContent).toContain('missing or out of range');
    const monday = host().querySelector<HTMLInputElement>('[aria-label="Hours on Mon"]')!;
    monday.value = '17:00–9:00';
    monday.dispatchEvent(new Event('input'));
    await submit();
    expect(host().querySelector('[role=alert]')?.textContent).toContain('Mon: “17:00–9:00” is not a sending window');
    monday.value = '8–12';
    monday.dispatchEvent(new Event('input'));
    await fill('daysOff', 'Christmas');
    await submit();
    expect(host().querySelector('[role=alert]')?.textContent).toContain('“Christmas” is not a date');
    server.http.expectNone((r) => r.method === 'POST');
  });

  it('shows a mailbox as it is, and keeps its password where none is typed', async () => {
    await show('5');
    const hours = ['Mon', 'Tue', 'Wed'].map(
      (d) => host().querySelector<HTMLInputElement>(`[aria-label="Hours on ${d}"]`)?.value,
    );
    expect(hours).toEqual(['9:00–16:00', '9:00–12:00, 13:00–16:00', '']);
    expect([box('address').value, box('rampFirst').value]).toEqual([wren.address, '10']);
    expect(box('password').value).toBe('');
    await fill('dailyQuota', '25');
    await submit();
    const put = server.http.expectOne('/api/mailboxes/5');
    expect(put.request.body).toMatchObject({
      dailyQuota: 25,
      password: '',
      windows: wren.windows,
      ramp: wren.ramp,
      smtp: wren.smtp,
    });
    const go = vi.spyOn(TestBed.inject(Router), 'navigate').mockResolvedValue(true);
    put.flush({ id: 5, test: { ok: true, steps: [] } });
    await settle(fixture);
    expect(go).toHaveBeenCalledWith(['/mailboxes']);
  });

  it('says what quota, hours and pace come to, while they are typed', async () => {
    await show('5');
    const words = () => host().querySelector('.pace')?.textContent.replace(/\s+/g, ' ').trim();
    expect(words()).toContain('40 a day means one message about every 9 to 11 minutes');
    await fill('paceSeconds', '900');
    expect(words()).toContain('The sending window has room for only 24 to 28 of 40 a day at 900 seconds apart.');
    await fill('dailyQuota', '0');
    expect(words()).toBe('With a quota of 0 nothing is sent.');
  });

  it('says what came of its messages and what receivers find, and suggests a ramp', async () => {
    await show('5');
    server.answer('/api/mailboxes/5/history', {
      days: [
        { day: '2026-11-02', units: 4, quota: 5, health: null },
        { day: '2026-11-03', units: 0, quota: null, health: null },
        {
          day: '2026-11-04',
          units: 8,
          quota: 16,
          health: { sent: 8, bounces: 1, refusals: 0, complaints: 0, replies: 2 },
        },
      ],
      events: [{ at: Date.parse('2026-11-01T09:00:00Z'), words: 'connected' }],
    });
    server.answer('/api/mailboxes/5/records', [
      { record: 'SPF', state: 'good', words: 'The domain says which servers may send for it.', found: 'v=spf1 -all' },
    ]);
    await settle(fixture);
    expect(textOf(fixture)).toContain('bounced3of 120 (95 % range 0.9 to 7.1 %)');
    expect(host().querySelector('bt-mailbox-history .place')?.getAttribute('aria-label')).toBe(
      '12 messages left, at most 8 on a day; 1 bounced, were refused or were reported as spam.',
    );
    const days = [...host().querySelectorAll('bt-mailbox-history tbody tr')].map((tr) =>
      [...tr.querySelectorAll('th, td')].map((cell) => cell.textContent.trim()),
    );
    expect(days).toEqual([
      ['Wed 4 Nov', '8', '16', '2', '1', '0', '0'],
      ['Mon 2 Nov', '4', '5', '', '', '', ''],
    ]);
    expect(textOf(fixture)).toContain('what hangs below the line bounced');
    const saved = keepSavedFiles();
    [...host().querySelectorAll('button')].find((b) => b.textContent?.trim() === 'Save as CSV')!.click();
    expect(await rowsOfCsv(saved.get('wren@tidewaterkelp.example, history.csv'))).toEqual([
      ['Day', 'Left', 'Quota', 'Replied to', 'Bounced', 'Refused', 'Reported as spam'],
      ['2026-11-02', '4', '5', '', '', '', ''],
      ['2026-11-03', '0', '', '', '', '', ''],
      ['2026-11-04', '8', '16', '2', '1', '0', '0'],
    ]);
    expect(host().querySelector('.events')?.textContent).toMatch(/Sun 1 Nov 09:00\s*connected/);
    expect(textOf(fixture)).toContain('SPFThe domain says which servers may send for it. v=spf1 -all');
    expect(host().querySelector('bt-ramp-curve')?.textContent).toContain(
      'From 10 to 40 a day in 8 sending days; 2 done',
    );
    host().querySelector<HTMLInputElement>('[aria-label="Age of the mailbox in days"]')!.value = '400';
    [...host().querySelectorAll('button')].find((b) => b.textContent?.trim() === 'Suggest')!.click();
    await settle(fixture);
    expect(textOf(fixture)).toContain('it is 400 days old and has sent at most 14 on a day');
    expect(box('rampFirst').value).toBe('20');
  });

  it('connects another address on the same connection, without its password', async () => {
    fixture.componentRef.setInput('like', '5');
    await show('new');
    expect([box('username').value, box('smtpPort').value, box('imapPort').value]).toEqual([
      wren.username,
      '4325',
      '4343',
    ]);
    expect(textOf(fixture)).toContain('Leave blank to use the password of wren@tidewaterkelp.example');
    await fill('address', 'sales@tidewaterkelp.example');
    await fill('senderName', 'Sales');
    await submit();
    const post = server.http.expectOne({ method: 'POST', url: '/api/mailboxes' });
    expect(post.request.body).toMatchObject({
      address: 'sales@tidewaterkelp.example',
      username: wren.username,
      password: '',
    });
  });

  it('names the step of the test that failed in the server’s words, and stays', async () => {
    await show('5');
    await submit();
    const steps = [
      { name: 'Sign in to send at 127.0.0.1:4325', ok: true, said: 'signed in' },
      { name: 'Sign in to read at 127.0.0.1:4343', ok: false, said: 'The user name or password is wrong' },
    ];
    server.http.expectOne('/api/mailboxes/5').flush({ id: null, test: { ok: false, steps } });
    await settle(fixture);
    expect(textOf(fixture)).toContain('passedSign in to send at 127.0.0.1:4325');
    expect(textOf(fixture)).toContain('failedSign in to read at 127.0.0.1:4343 The user name or password is wrong');
  });

  it('shows a certificate that is not trusted, and tests again once a person trusts it', async () => {
    await show('5');
    await submit();
    const untrusted = {
      ...{ server: 'smtp', host: '127.0.0.1', subject: 'kelp mail', issuer: 'kelp office', fingerprint: 'AB:CD' },
      ...{ validTo: Date.parse('2027-01-31T00:00:00Z'), pem: 'PEM' },
    };
    server.http.expectOne('/api/mailboxes/5').flush({ id: null, test: { ok: false, steps: [], untrusted } });
    await settle(fixture);
    expect(textOf(fixture)).toContain('AB:CD');
    expect(textOf(fixture)).toContain('kelp office');
    expect(textOf(fixture)).toContain('Sun 31 Jan 2027');
    const trust = [...(fixture.nativeElement as HTMLElement).querySelectorAll<HTMLElement>('.certificate button')];
    trust[0]?.click();
    await settle(fixture);
    const again = server.http.expectOne('/api/mailboxes/5');
    expect(again.request.body).toMatchObject({ smtp: { trusted: 'PEM' }, imap: { trusted: 'PEM' } });
    again.flush({ id: null, test: { ok: false, steps: [], untrusted: null } });
    await settle(fixture);
    await fill('smtpHost', 'smtp.other.example');
    await submit();
    const other = server.http.expectOne('/api/mailboxes/5');
    expect((other.request.body as { smtp: object }).smtp).not.toHaveProperty('trusted');
    other.flush({ id: null, test: { ok: false, steps: [], untrusted: null } });
  });

  it('asks for a sign-in at the provider instead of a password, and gives it anew in one press', async () => {
    await show('5', { ...wren, grantId: 8, problem: 'The provider has ended Baton’s access.' });
    expect(box('password')).toBeNull();
    expect(host().querySelector('.note')?.textContent).toContain('has ended Baton’s access');
    const page = { opener: null, location: { replace: vi.fn() }, close: vi.fn() };
    vi.spyOn(window, 'open').mockReturnValue(page as unknown as Window);
    host().querySelector<HTMLElement>('.note button')?.click();
    await settle(fixture);
    server.answer('/api/sign-in/grants/8', { id: 8, providerId: 3, username: wren.username });
    await settle(fixture);
    const post = server.http.expectOne('/api/sign-in/grants');
    expect(post.request.body).toEqual({ providerId: 3, username: wren.username, grantId: 8 });
    post.flush({ grantId: 8, url: 'https://sign-in.tidewaterkelp.example/a' });
    await settle(fixture);
    expect(page.location.replace).toHaveBeenCalledWith('https://sign-in.tidewaterkelp.example/a');
    await submit();
    const put = server.http.expectOne('/api/mailboxes/5');
    expect(put.request.body).toMatchObject({ grantId: 8, password: '' });
    put.flush({ id: null, test: { ok: false, steps: [], untrusted: null } });
  });

  it('does not test a mailbox for which nobody has signed in at the provider', async () => {
    await show('5');
    box('way').value = 'provider';
    box('way').dispatchEvent(new Event('change'));
    await settle(fixture);
    await submit();
    expect(host().querySelector('[role=alert]')?.textContent).toContain('Sign in at the provider first.');
  });

  it('proposes the limit that the provider has shown, until it is taken', async () => {
    await show('5', { ...wren, providerLimit24h: null, learntLimit24h: 180 });
    expect(textOf(fixture)).toContain('too much after 180 recipients in 24 hours');
    (fixture.nativeElement as HTMLElement).querySelector<HTMLElement>('.learnt button')?.click();
    await settle(fixture);
    expect(textOf(fixture)).not.toContain('too much after 180');
    await submit();
    const put = server.http.expectOne('/api/mailboxes/5');
    expect(put.request.body).toMatchObject({ providerLimit24h: 180 });
    put.flush({ id: null, test: { ok: false, steps: [], untrusted: null } });
  });

  it('does not write over what is being typed when something changes meanwhile', async () => {
    await show('5');
    await fill('senderName', 'Wren O.');
    server.tell('mailboxes');
    await settle(fixture);
    server.answer('/api/mailboxes', [{ ...wren, senderName: 'Somebody else' }]);
    await settle(fixture);
    expect(box('senderName').value).toBe('Wren O.');
  });
});
