import { TestBed, type ComponentFixture } from '@angular/core/testing';
import type { MailboxView } from '@baton/contract';
import { weekdayWindows } from '@baton/core';
import { beforeEach, describe, expect, it } from 'vitest';
import { LiveServer, SHELL, settle, textOf } from '../testing/live-server';
import { Mailboxes } from './mailboxes';

const server0 = { host: 'mail.tidewaterkelp.example', port: 465, security: 'tls' as const };
const mailbox = (over: Partial<MailboxView> = {}): MailboxView => ({
  ...{ id: 1, address: 'ines@tidewaterkelp.example', senderName: 'Ines Aldrich', signature: '', smtp: server0 },
  ...{
    imap: server0,
    username: 'ines',
    grantId: null,
    zone: 'Europe/Dublin',
    windows: weekdayWindows(540, 990),
    dailyQuota: 40,
  },
  ...{
    ramp: null,
    providerLimit24h: null,
    paceSeconds: 90,
    keepsSent: true,
    failing: null,
    archiveFolder: '',
    replyTo: '',
  },
  ...{ daysOff: [], held: false, restUntil: null, restReason: null, restMoved: null, problem: null, quotaToday: 40 },
  ...{ sentToday: 10, byHandToday: 0, archiveProblem: null, plannedToday: 26, lastReadAt: SHELL.clock.nowMs },
  ...{
    health: { sent: 221, bounces: 3, refusals: 0, complaints: 0, replies: 12 },
    mostSent: 40,
    climbed: 0,
    learntLimit24h: null,
  },
  ...{ sharesWith: [] },
  ...over,
});

let server: LiveServer;
let fixture: ComponentFixture<Mailboxes>;
const host = () => fixture.nativeElement as HTMLElement;
async function show(mailboxes: MailboxView[]): Promise<void> {
  server.answer('/api/mailboxes', mailboxes);
  server.answer('/api/shell', SHELL);
  await settle(fixture);
}
const row = () => host().querySelector('tbody tr')!;
const tag = () => row().querySelector('.tag')!;
const button = (words: string) => [...host().querySelectorAll('button')].find((b) => b.textContent?.trim() === words)!;

beforeEach(async () => {
  TestBed.configureTestingModule({ providers: LiveServer.providers() });
  server = new LiveServer();
  fixture = TestBed.createComponent(Mailboxes);
  await settle(fixture);
});

describe('the mailboxes', () => {
  it('say what to do where there is none', async () => {
    await show([]);
    expect(textOf(fixture)).toContain('Connect the first one; its password stays on this machine, encrypted.');
    expect(host().querySelector('table')).toBeNull();
  });

  it('are counted, and each says what it has sent and may send', async () => {
    await show([
      mailbox(),
      mailbox({ id: 2, address: 'tomas@tidewaterkelp.example', dailyQuota: 1500, quotaToday: 1500 }),
    ]);
    expect(textOf(fixture)).toContain('Messages are sent from 2 mailboxes.');
    const numbers = [...host().querySelectorAll('tbody tr')].map((r) =>
      [...r.querySelectorAll('td.num')].slice(0, 3).map((td) => td.textContent?.trim()),
    );
    expect(numbers).toEqual([
      ['10', '26', '40'],
      ['10', '26', '1,500'],
    ]);
    await show([mailbox()]);
  });

  it('are one where there is one', async () => {
    await show([mailbox()]);
    expect(textOf(fixture)).toContain('Messages are sent from 1 mailbox.');
  });

  it.each([
    [{}, 'sends', 'sea', ''],
    [{ byHandToday: 4 }, 'sends', 'sea', '4 of today’s sent by hand'],
    [{ quotaToday: 14 }, 'ramping', 'look', 'up to 40 a day'],
    [{ quotaToday: 14, byHandToday: 1 }, 'ramping', 'look', '1 of today’s sent by hand'],
    [
      { restUntil: '2026-11-25', restReason: 'too many hard bounces' },
      'rests until Wed 25 Nov',
      'bad',
      'too many hard bounces',
    ],
    [{ held: true, restUntil: '2026-11-25' }, 'held', 'bad', ''],
    [{ problem: 'The password is wrong.', held: true }, 'cannot sign in', 'bad', 'The password is wrong.'],
  ])('tell the state of %o', async (over, words, tone, detail) => {
    await show([mailbox(over)]);
    expect(tag().textContent).toBe(words);
    expect(tag().classList).toContain(tone);
    expect(row().querySelector('.detail')?.textContent?.trim()).toBe(detail);
  });

  it.each([
    [{ sent: 221, bounces: 3, refusals: 0, complaints: 0, replies: 12 }, '3 bounced 12 replied of 221'],
    [
      { sent: 1840, bounces: 0, refusals: 2, complaints: 1, replies: 0 },
      '0 bounced 2 refused 1 complained 0 replied of 1,840',
    ],
    [{ sent: 0, bounces: 0, refusals: 0, complaints: 0, replies: 0 }, 'nothing sent'],
  ])('say of the last 14 days what happened, and always bounces and replies', async (health, words) => {
    await show([mailbox({ health })]);
    expect(row().querySelector('.health')?.textContent?.replace(/\s+/g, ' ').trim()).toBe(words);
  });

  it('are released by their button', async () => {
    await show([mailbox({ held: true })]);
    button('Release').click();
    server.http.expectOne({ method: 'POST', url: '/api/mailboxes/1/release' }).flush(null);
  });

  it('are held by their button', async () => {
    await show([mailbox()]);
    button('Hold').click();
    server.http.expectOne({ method: 'POST', url: '/api/mailboxes/1/hold' }).flush(null);
  });

  it('draw load and ceiling as shares of the quota, never beyond the edge', async () => {
    await show([mailbox({ sentToday: 10, plannedToday: 90, quotaToday: 20 })]);
    const style = (selector: string, name: 'width' | 'left') =>
      row().querySelector<HTMLElement>(`.load .${selector}`)!.style[name];
    expect([style('sent', 'width'), style('planned', 'width'), style('ceiling', 'left')]).toEqual([
      '25%',
      '100%',
      '50%',
    ]);
  });
});
