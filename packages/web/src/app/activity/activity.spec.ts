import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { ActivityEntry } from '@baton/contract';
import { LiveServer, settle, textOf, PATIENTLY } from '../testing/live-server';
import { Activity } from './activity';

const entry = (n: number, over: Partial<ActivityEntry> = {}): ActivityEntry => ({
  ...{ key: `p${n}`, at: Date.parse('2026-11-24T10:42:00Z') - n * 60_000, kind: 'sent', detail: '', step: 0 },
  person: { id: n, address: `p${n}@vines.example` },
  campaign: { id: 4, name: 'Kelp trial' },
  mailbox: { id: 2, address: 'ines@tidewaterkelp.example' },
  ...over,
});
let server: LiveServer;
let fixture: ComponentFixture<Activity>;

/** The request that waits, answered. */
async function answer(entries: ActivityEntry[], hasMore = false): Promise<URLSearchParams> {
  let asked = '';
  await vi.waitFor(() => {
    const [request] = server.http.match((r) => r.url === '/api/activity');
    if (!request) throw new Error('nothing was asked');
    asked = request.request.params.toString();
    request.flush({ entries, hasMore });
  }, PATIENTLY);
  await settle(fixture);
  return new URLSearchParams(asked);
}

beforeEach(() => {
  TestBed.configureTestingModule({ providers: LiveServer.providers() });
  server = new LiveServer();
  fixture = TestBed.createComponent(Activity);
  fixture.detectChanges();
});

describe('the activity', () => {
  it('says what happened, to whom and from where, and goes on as more happens', async () => {
    await answer([
      entry(1, { kind: 'hard_bounce', detail: '550 5.1.1 No such user' }),
      entry(2, { step: 1 }),
      entry(3, { key: 'm1', kind: null, detail: 'held', person: null, campaign: null }),
    ]);
    const text = textOf(fixture);
    for (const words of ['hard bounce', '550 5.1.1 No such user', 'follow-up 1', 'held', 'Kelp trial'])
      expect(text).toContain(words);
    const links = [...(fixture.nativeElement as HTMLElement).querySelectorAll('a')].map((a) => a.getAttribute('href'));
    expect(links).toEqual(expect.arrayContaining(['/people/person/1', '/campaigns/4', '/mailboxes/2']));
    server.tell('progress');
    await answer([entry(0, { person: { id: 9, address: 'new@vines.example' } })]);
    expect(textOf(fixture)).toContain('new@vines.example');
  });

  it('is filtered, searched, and shows older ones', async () => {
    await answer([], false);
    expect(textOf(fixture)).toContain('Nothing has happened yet.');
    const select = (fixture.nativeElement as HTMLElement).querySelector('select') as HTMLSelectElement;
    select.value = 'bounces';
    select.dispatchEvent(new Event('change'));
    fixture.detectChanges();
    expect((await answer([])).get('group')).toBe('bounces');
    expect(textOf(fixture)).toContain('Nothing of this kind.');
    const search = (fixture.nativeElement as HTMLElement).querySelector('input') as HTMLInputElement;
    search.value = 'ana';
    search.dispatchEvent(new Event('input'));
    fixture.detectChanges();
    expect((await answer([entry(1)], true)).get('search')).toBe('ana');
    (fixture.nativeElement as HTMLElement).querySelector<HTMLButtonElement>('.older button')?.click();
    fixture.detectChanges();
    expect((await answer([entry(1), entry(2)])).get('limit')).toBe('200');
    expect(textOf(fixture)).not.toContain('Show older');
  });
});
