import { expect, it } from 'vitest';
import { diskNeed } from './disk-need';

const MB = 1024 * 1024;
const at = (bytes: number) => diskNeed('/data/baton.key', () => Promise.resolve(bytes));

it('a disk that is about to be full is told of, and no other', async () => {
  expect(await at(500 * MB)).toEqual([]);
  expect(await at(500 * MB - 1)).toMatchObject([{ title: '499 MB are left on the disk where Baton keeps its data' }]);
  expect(await at(0)).toMatchObject([{ title: '0 MB are left on the disk where Baton keeps its data', action: '' }]);
});

it('is the disk of the folder that has the key', async () => {
  let asked = '';
  await diskNeed('/data/baton.key', (folder) => {
    asked = folder;
    return Promise.resolve(0);
  });
  expect(asked).toBe('/data');
});

it('says nothing where nothing is kept, or nothing is known', async () => {
  expect(await diskNeed('', () => Promise.resolve(0))).toEqual([]);
  expect(await diskNeed('/nowhere/at/all/baton.key')).toEqual([]);
  expect(await diskNeed('baton.key', () => Promise.reject(new Error('not told')))).toEqual([]);
});
