import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { beforeEach, describe, expect, it } from 'vitest';
import type { SuppressionList, SuppressionView } from '@baton/contract';
import { LiveServer, settle, textOf } from '../../testing/live-server';
import { Suppressions } from './suppressions';

const PATH = '/api/suppressions';
const entry = (id: number, key: string): SuppressionView => ({
  id,
  kind: key.includes('@') ? 'address' : 'domain',
  key,
  reason: 'asked',
  source: 'by hand',
  createdAt: Date.UTC(2026, 10, 23, 9),
});
const list = (total: number, found: number, ...keys: string[]): SuppressionList => ({
  total,
  found,
  entries: keys.map((key, i) => entry(i + 1, key)),
});

let server: LiveServer;
let fixture: ComponentFixture<Suppressions>;
const host = () => fixture.nativeElement as HTMLElement;
const button = (words: RegExp) =>
  [...host().querySelectorAll('button')].find((b) => words.test(b.textContent ?? '')) as HTMLButtonElement;
const pause = () => new Promise((resolve) => setTimeout(resolve, 200));
const rows = () => host().querySelectorAll('tbody tr').length;

async function search(text: string): Promise<void> {
  const box = host().querySelector('input[type=search]') as HTMLInputElement;
  box.value = text;
  box.dispatchEvent(new Event('input'));
  await pause();
  await settle(fixture);
}

beforeEach(async () => {
  TestBed.configureTestingModule({ providers: LiveServer.providers() });
  server = new LiveServer();
  fixture = TestBed.createComponent(Suppressions);
  await settle(fixture);
  await pause();
  server.answer(PATH, list(2, 2, 'ana@vines.example', 'slate.example'));
  await settle(fixture);
});

describe('the suppression list', () => {
  it('says how many there are, and which are whole domains', () => {
    expect(textOf(fixture)).toContain('2 on the list');
    expect(rows()).toBe(2);
    expect(textOf(fixture)).toContain('slate.example whole domain');
  });

  it('asks the server for what is sought, and says how much of it is shown', async () => {
    await search('slate');
    const asked = server.http.match((r) => r.url === PATH && r.params.get('search') === 'slate');
    expect(asked).toHaveLength(1);
    asked[0]?.flush(list(23_000, 1200, 'slate.example'));
    await settle(fixture);
    expect(textOf(fixture)).toContain('1,200 found of 23,000, showing the newest 1');
    await search('kelp');
    server.answer(PATH, list(23_000, 0));
    await settle(fixture);
    expect(textOf(fixture)).toContain('No entry matches.');
  });

  it('takes an entry off only after a second press', async () => {
    button(/Remove/).click();
    await settle(fixture);
    server.http.expectNone((r) => r.method === 'DELETE');
    button(/Write to them again/).click();
    await settle(fixture);
    expect(server.http.expectOne(`${PATH}/1`).request.method).toBe('DELETE');
  });

  it('names the first lines of a file that were not taken, and counts the others', async () => {
    const input = host().querySelector('input[type=file]') as HTMLInputElement;
    Object.defineProperty(input, 'files', { value: [new File(['x'], 'left.csv')], configurable: true });
    input.dispatchEvent(new Event('change'));
    await settle(fixture);
    const aside = Array.from({ length: 9 }, (_, i) => ({ line: i + 2, cells: ['x'], reason: 'it is neither' }));
    server.http.expectOne(`${PATH}/import`).flush({ added: 3, known: 0, aside, asideTotal: 9 });
    await settle(fixture);
    expect(textOf(fixture)).toContain('line 6, it is neither; and 4 more.');
  });
});
