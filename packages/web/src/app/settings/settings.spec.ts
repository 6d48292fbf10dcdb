import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { beforeEach, describe, expect, it } from 'vitest';
import { LiveServer, settle, textOf } from '../testing/live-server';
import { Settings } from './settings';

const OWN = {
  name: 'Tidewater Kelp Works',
  postalAddress: '4 Slip Road',
  zone: 'Europe/Dublin',
  dateForm: 'iso',
  publicAddress: '',
  rowsFolder: '/home/ines/outcomes',
};
const VIEW = { ...OWN, publicPages: 'http://127.0.0.1:4301', rowsFound: 'Tue 3 Nov: 2 files were written.' };
let server: LiveServer;
let fixture: ComponentFixture<Settings>;
const field = (name: string) =>
  (fixture.nativeElement as HTMLElement).querySelector(`[formControlName=${name}]`) as HTMLInputElement;
const save = () =>
  (fixture.nativeElement as HTMLElement).querySelector<HTMLElement>('button:not([type=button])')?.click();

beforeEach(async () => {
  TestBed.configureTestingModule({ providers: LiveServer.providers() });
  server = new LiveServer();
  fixture = TestBed.createComponent(Settings);
  await settle(fixture);
  server.answer('/api/settings', VIEW);
  await settle(fixture);
});

async function type(name: string, value: string): Promise<void> {
  field(name).value = value;
  field(name).dispatchEvent(new Event('input'));
  await settle(fixture);
}

describe('settings', () => {
  it('show what holds, and save what was changed', async () => {
    expect(
      ['name', 'postalAddress', 'zone', 'dateForm', 'publicAddress', 'rowsFolder'].map((name) => field(name).value),
    ).toEqual(Object.values(OWN));
    await type('postalAddress', '4 Slip Road\nCarrow Bay');
    save();
    const put = server.http.expectOne({ method: 'PUT', url: '/api/settings' });
    expect(put.request.body).toEqual({ ...OWN, postalAddress: '4 Slip Road\nCarrow Bay' });
    put.flush(null);
    await settle(fixture);
    expect(textOf(fixture)).not.toContain('no time zone');
  });

  it('say what came of a test of the public address, until it is changed', async () => {
    const test = (fixture.nativeElement as HTMLElement).querySelector('button[type=button]') as HTMLButtonElement;
    expect(test.disabled).toBe(true);
    expect(textOf(fixture)).toContain('http://127.0.0.1:4301');
    await type('publicAddress', 'https://mail.kelp.example');
    test.click();
    await settle(fixture);
    const asked = server.http.expectOne({ method: 'POST', url: '/api/settings/public-address-test' });
    expect(asked.request.body).toEqual({ publicAddress: 'https://mail.kelp.example' });
    asked.flush({ ok: false, said: 'Nothing answered within 15 seconds.' });
    await settle(fixture);
    expect(textOf(fixture)).toContain('Nothing answered within 15 seconds.');
    await type('publicAddress', 'https://mail.kelp.example/baton');
    expect(textOf(fixture)).not.toContain('Nothing answered');
  });

  it('keep what was typed and say what is wrong with it', async () => {
    await type('name', '');
    save();
    await settle(fixture);
    server.http.expectNone({ method: 'PUT', url: '/api/settings' });
    expect(textOf(fixture)).toContain('Enter a name.');
    await type('name', 'Kelp');
    await type('zone', 'Mars/Base');
    save();
    server.http
      .expectOne({ method: 'PUT', url: '/api/settings' })
      .flush({ detail: 'There is no time zone “Mars/Base”.' }, { status: 400, statusText: 'x' });
    await settle(fixture);
    expect(textOf(fixture)).toContain('There is no time zone “Mars/Base”.');
    expect(field('zone').value).toBe('Mars/Base');
  });
});
