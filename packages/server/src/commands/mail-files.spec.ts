import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { mailsIn, splitMbox } from './mail-files';
import { readMail } from './read-mail';

let folder: string;
beforeAll(async () => (folder = await mkdtemp(join(tmpdir(), 'baton-mail-'))));
afterAll(() => rm(folder, { recursive: true }));

const mail = (subject: string, text: string) =>
  `From: Ana <ana@vines.example>\nTo: ines@tidewaterkelp.example\nSubject: ${subject}\nDate: Tue, 24 Nov 2026 09:00:00 +0000\n\n${text}\n`;
const now = Date.UTC(2026, 11, 1);
async function read(path: string) {
  const all: Record<string, unknown>[] = [];
  for await (const one of mailsIn(path)) all.push((await readMail(one, now)) as Record<string, unknown>);
  return all;
}

it('reads a file, an mbox and the folders with them, by name', async () => {
  await mkdir(join(folder, 'b'));
  await writeFile(join(folder, 'a.eml'), mail('Re: Kelp', 'Yes please, call me.'));
  await writeFile(join(folder, '.hidden'), mail('Re: Kelp', 'No.'));
  await writeFile(
    join(folder, 'b', 'box'),
    `From ana Tue\n${mail('unsubscribe', '')}\nFrom ana Tue\n${mail('Re: Kelp', '>From here on, yes.\nFrom the cellar.')}`,
  );
  expect(await read(folder)).toMatchObject([
    { file: join(folder, 'a.eml'), kind: 'reply', subKind: 'interested', ownWords: 'Yes please, call me.' },
    { file: join(folder, 'b', 'box'), message: 1, kind: 'unsubscribe', concerns: ['ana@vines.example'] },
    { message: 2, kind: 'reply', ownWords: 'From here on, yes.\nFrom the cellar.' },
  ]);
});

it('prints every field of a message, whatever it is', async () => {
  await writeFile(join(folder, 'empty.eml'), '');
  const [empty] = await read(join(folder, 'empty.eml'));
  expect(Object.keys(empty ?? {})).toEqual([
    ...[
      'file',
      'kind',
      'subKind',
      'sureness',
      'concerns',
      'code',
      'serverWords',
      'blockedFor',
      'dateBack',
      'awayUntil',
    ],
    ...['newContact', 'ownWords', 'suggests', 'matchedIds', 'reasons', 'from', 'subject', 'messageId', 'received'],
  ]);
});

it('does not believe a date of 1970', async () => {
  await writeFile(join(folder, 'old.eml'), mail('Re: Kelp', 'ok').replace('24 Nov 2026', '1 Jan 1970'));
  expect(await read(join(folder, 'old.eml'))).toMatchObject([{ received: new Date(now).toISOString() }]);
});

it('splits an mbox at its lines only, however it comes in pieces', async () => {
  const box = Buffer.from('From x\nA: 1\n\nFrom within\n\n\nFrom y\r\nB: 2\r\n\r\nlast');
  for (const size of [1, 3, 100]) {
    const pieces = Array.from({ length: Math.ceil(box.length / size) }, (_, i) =>
      box.subarray(i * size, (i + 1) * size),
    );
    const found: string[] = [];
    for await (const raw of splitMbox(
      (async function* () {
        yield* pieces;
      })(),
    ))
      found.push(raw.toString());
    expect(found.length).toBe(3);
    expect(found[2]).toBe('B: 2\r\n\r\nlast');
  }
});
