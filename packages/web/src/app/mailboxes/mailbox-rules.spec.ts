import { TestBed, type ComponentFixture } from '@angular/core/testing';
import type { MailboxRules } from '@baton/contract';
import { DEFAULT_REST_BOUNDS } from '@baton/core';
import { beforeEach, describe, expect, it } from 'vitest';
import { LiveServer, settle, textOf } from '../testing/live-server';
import { MailboxRulesPanel } from './mailbox-rules';

const rules: MailboxRules = {
  rest: DEFAULT_REST_BOUNDS,
  domainCap: null,
  holidays: [{ day: '2026-12-25', name: 'Midwinter' }],
};

let server: LiveServer;
let fixture: ComponentFixture<MailboxRulesPanel>;
const host = () => fixture.nativeElement as HTMLElement;
const box = (name: string) => host().querySelector(`[aria-label="${name}"]`) as HTMLInputElement;
async function set(name: string, value: string, event = 'change'): Promise<void> {
  box(name).value = value;
  box(name).dispatchEvent(new Event('input'));
  box(name).dispatchEvent(new Event(event));
  await settle(fixture);
}
const put = () => server.http.expectOne({ method: 'PUT', url: '/api/mailboxes/rules' });

beforeEach(async () => {
  TestBed.configureTestingModule({ providers: LiveServer.providers() });
  server = new LiveServer();
  fixture = TestBed.createComponent(MailboxRulesPanel);
  await settle(fixture);
  server.answer('/api/mailboxes/rules', rules);
  await settle(fixture);
});

describe('rules for every mailbox', () => {
  it('are changed where they stand in the sentence', async () => {
    await set('Hard bounces', '5');
    const saved = put();
    expect(saved.request.body).toMatchObject({ rest: { bounces: 5, among: 30, complaints: 1, days: 3 } });
    saved.flush(null);
    await settle(fixture);
    await set('Messages a day to one domain', '2');
    expect(put().request.body).toMatchObject({ domainCap: 2, rest: { bounces: 5 } });
  });

  it('show what holds again when the server refuses', async () => {
    await set('Working days of rest', '900');
    put().flush({ title: 'x', status: 400, detail: 'At most 60.' }, { status: 400, statusText: 'x' });
    await settle(fixture);
    await settle(fixture);
    expect(box('Working days of rest').value).toBe('3');
  });

  it('send what is not a whole number too, so that the server says what is wrong with it', async () => {
    for (const [typed, sent] of [
      ['2.5', 2.5],
      ['', null],
    ] as const) {
      await set('Hard bounces', typed);
      const saved = put();
      expect((saved.request.body as MailboxRules).rest.bounces).toBe(sent);
      const detail = 'Hard bounces must be a whole number.';
      saved.flush({ title: 'x', status: 400, detail }, { status: 400, statusText: 'x' });
      await settle(fixture);
      await settle(fixture);
      expect(box('Hard bounces').value).toBe('3');
    }
  });

  it('take a day off and let it go', async () => {
    expect(textOf(fixture)).toContain('Fri 25 Dec 2026Midwinter');
    [...host().querySelectorAll('button')].find((b) => b.textContent?.trim() === 'Add')!.click();
    await settle(fixture);
    expect(textOf(fixture)).toContain('Enter a date.');
    await set('Day off', '31 Dec 2026');
    await set('Name of the holiday', 'Stocktaking', 'input');
    [...host().querySelectorAll('button')].find((b) => b.textContent?.trim() === 'Add')!.click();
    await settle(fixture);
    const saved = put();
    expect((saved.request.body as MailboxRules).holidays).toEqual([
      { day: '2026-12-25', name: 'Midwinter' },
      { day: '2026-12-31', name: 'Stocktaking' },
    ]);
    saved.flush(null);
    await settle(fixture);
    box('Delete Fri 25 Dec').click();
    await settle(fixture);
    expect((put().request.body as MailboxRules).holidays).toEqual([{ day: '2026-12-31', name: 'Stocktaking' }]);
  });
});
