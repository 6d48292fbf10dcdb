import { TestBed, type ComponentFixture } from '@angular/core/testing';
import type { PersonalLine, PersonalLines, ProofAsked } from '@baton/contract';
import { EMPTY_CONTENT, letterDoc } from '@baton/core';
import { beforeEach, describe, expect, it } from 'vitest';
import { LiveServer, settle, textOf } from '../testing/live-server';
import { PersonalLinesPage } from './personal-lines';

const lines: PersonalLines = {
  column: null,
  counts: { to_do: 2, written: 0, approved: 1, rejected: 0 },
  total: 3,
  order: ['to_do', 'approved', 'to_do'],
};
const person = (index: number): PersonalLine => ({
  rowId: 10 + index,
  address: `p${index}@x.example`,
  fields: { company: `Estate ${index}` },
  line: index === 1 ? 'Done' : '',
  state: lines.order[index] as PersonalLine['state'],
});
const content = { ...EMPTY_CONTENT, body: letterDoc('{{ personal_line }} x') };
let server: LiveServer;
let fixture: ComponentFixture<PersonalLinesPage>;
const host = () => fixture.nativeElement as HTMLElement;
const box = () => host().querySelector('textarea') as HTMLTextAreaElement;
const button = (words: RegExp) =>
  [...host().querySelectorAll('button')].find((b) => words.test(b.textContent?.trim() ?? '')) as HTMLButtonElement;

async function answer(index: number): Promise<void> {
  server.answer(`/api/lists/7/lines/${index}`, person(index));
  await settle(fixture);
}

async function write(text: string): Promise<void> {
  box().value = text;
  box().dispatchEvent(new Event('input'));
  await settle(fixture);
}

beforeEach(async () => {
  TestBed.configureTestingModule({ providers: LiveServer.providers() });
  server = new LiveServer();
  fixture = TestBed.createComponent(PersonalLinesPage);
  fixture.componentRef.setInput('messageId', '4');
  fixture.componentRef.setInput('listId', '7');
  await settle(fixture);
  server.answer('/api/messages', [
    {
      id: 4,
      name: 'Trial',
      content,
      updatedAt: 0,
      proofsReadAt: null,
      changedSinceRead: false,
      fault: null,
      usedBy: [],
    },
  ]);
  server.answer('/api/lists/7', {
    list: { id: 7, name: 'Growers' },
    columns: [{ name: 'company', key: 'company', role: 'field' }],
  });
  server.answer('/api/lists/7/lines', lines);
  await settle(fixture);
  await answer(0);
});

describe('personal lines', () => {
  it('are written beside the person’s row, and read in the message as they are typed', async () => {
    expect(textOf(fixture)).toContain('1 of 3 lines of Growers have been decided, for “Trial”.');
    expect(textOf(fixture)).toContain('companyEstate 0');
    server.http.match('/api/proof').forEach((r) => r.flush({ proof: null }));
    await write('Your terraces!');
    const asked = server.http.match('/api/proof').at(-1)?.request.body as ProofAsked;
    expect(asked).toMatchObject({ index: 0, typed: { personalline: 'Your terraces!' } });
    expect(asked.content).toEqual(content);
  });

  it('are approved by key, and the next one comes', async () => {
    await write('Your terraces!');
    box().dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', ctrlKey: true, bubbles: true }));
    const kept = server.http.expectOne('/api/lists/7/rows/10/line');
    expect(kept.request.body).toEqual({ line: 'Your terraces!', decision: 'approved' });
    kept.flush(null);
    await settle(fixture);
    await answer(1);
    expect(box().value).toBe('Done');
    expect(textOf(fixture)).toContain('p1@x.example');
  });

  it('are kept when the box is left, and not when nothing was typed', async () => {
    box().dispatchEvent(new Event('blur'));
    server.http.expectNone('/api/lists/7/rows/10/line');
    await write('half a thought');
    box().dispatchEvent(new Event('blur'));
    expect(server.http.expectOne('/api/lists/7/rows/10/line').request.body).toEqual({
      line: 'half a thought',
      decision: 'written',
    });
  });

  it('are gone through by what is still to do, and say when that is all', async () => {
    button(/^to do 2/).click();
    await settle(fixture);
    button(/^Skip/).click();
    await settle(fixture);
    await answer(2);
    expect(textOf(fixture)).toContain('3 of 3');
    button(/^approved 1/).click();
    await settle(fixture);
    await answer(1);
    expect(textOf(fixture)).toContain('p1@x.example');
    button(/^→/).click();
    await settle(fixture);
    expect(document.body.textContent).toContain('There are no more approved lines.');
  });
});
