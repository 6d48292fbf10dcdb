import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { MatDialog } from '@angular/material/dialog';
import { Router } from '@angular/router';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { PersonView } from '@baton/contract';
import { LiveServer, SHELL, settle, textOf } from '../../testing/live-server';
import { PersonPage } from './person-page';

const odile: PersonView = {
  id: 7,
  address: 'odile@cedres.example',
  name: 'Odile Marchetti',
  standing: 'They replied to Vines, so they get no more messages.',
  suppression: null,
  lists: [
    {
      id: 1,
      name: 'North coast',
      fields: [
        { name: 'Région', value: 'North' },
        { name: 'note', value: '' },
      ],
    },
  ],
  campaigns: [
    {
      id: 3,
      name: 'Vines',
      campaignState: 'running',
      state: 'replied',
      reason: 'answered',
      mailbox: 'ines@tidewaterkelp.example',
      messages: [{ step: 0, state: 'sent', at: Date.UTC(2026, 10, 23, 9), subject: 'Kelp?' }],
    },
  ],
  history: [
    {
      at: Date.UTC(2026, 10, 24, 9),
      kind: 'reply',
      campaign: 'Vines',
      words: 'Yes please.',
      incomingId: 12,
      canUndo: true,
    },
  ],
  notes: [{ id: 1, at: Date.UTC(2026, 10, 24, 9), text: 'Prefers the telephone.' }],
  historyTotal: 1,
};

let server: LiveServer;
let fixture: ComponentFixture<PersonPage>;
const host = () => fixture.nativeElement as HTMLElement;
beforeEach(async () => {
  TestBed.configureTestingModule({ providers: LiveServer.providers() });
  server = new LiveServer();
  fixture = TestBed.createComponent(PersonPage);
  fixture.componentRef.setInput('contactId', '7');
  await settle(fixture);
  server.answer('/api/shell', SHELL);
  server.answer('/api/people/7', odile);
  await settle(fixture);
});

describe('PersonPage', () => {
  it('says how much of a long history is shown, and where the rest is', async () => {
    expect(textOf(fixture)).toContain('History newest first');
    server.tell('progress');
    server.answer('/api/people/7', { ...odile, historyTotal: 1812 });
    await settle(fixture);
    expect(textOf(fixture)).toContain('History the newest 1 of 1,812; the export has all of them');
  });

  it('says where they stand, what they got, what came back and what is known of them', () => {
    const text = textOf(fixture);
    for (const words of [
      'They replied to Vines, so they get no more messages.',
      'answered · from ines@tidewaterkelp.example',
      'first messageKelp?Mon 23 Nov 09:00',
      'RégionNorthnote·',
    ])
      expect(text).toContain(words);
    expect(host().querySelector('.event a')?.getAttribute('href')).toBe('/replies/12');
    expect(host().querySelector('.note')?.textContent).toContain('Prefers the telephone.');
  });

  it('undoes from the history what Baton did because of a message', () => {
    host().querySelector<HTMLButtonElement>('.event button')!.click();
    server.http.expectOne({ method: 'POST', url: '/api/replies/12/undo' });
  });

  it('erases only after a second press', async () => {
    const go = vi.spyOn(TestBed.inject(Router), 'navigate').mockResolvedValue(true);
    const button = [...host().querySelectorAll('button')].find((b) =>
      b.textContent?.includes('Erase'),
    ) as HTMLButtonElement;
    button.click();
    await settle(fixture);
    server.http.expectNone((r) => r.method === 'DELETE');
    expect(button.textContent).toContain('Erase for good?');
    button.dispatchEvent(new Event('blur'));
    await settle(fixture);
    expect(button.textContent?.trim()).toBe('Erase');
    button.click();
    button.click();
    await settle(fixture);
    server.http.expectOne((r) => r.method === 'DELETE').flush(null);
    await settle(fixture);
    expect(go).toHaveBeenCalledWith(['/people']);
  });

  it('shows each message as the person gets it', async () => {
    const open = vi.spyOn(TestBed.inject(MatDialog), 'open');
    const subject = [...(fixture.nativeElement as HTMLElement).querySelectorAll('button')].find((b) =>
      b.textContent?.includes('Kelp?'),
    );
    subject?.click();
    await settle(fixture);
    const proof = {
      from: 'Ines',
      to: 'ana@x.example',
      subject: 'Kelp!',
      html: '<p>Hello</p>',
      text: '',
      pictures: [],
      sentSubject: 'Kelp?',
    };
    const url = server.http.match((r) => r.url.endsWith('/messages/0'));
    expect(url).toHaveLength(1);
    url[0]?.flush(proof);
    await settle(fixture);
    expect(open.mock.calls[0]?.[1]).toMatchObject({ data: proof });
    expect(document.body.textContent).toContain('It left as “Kelp?”');
  });
});
