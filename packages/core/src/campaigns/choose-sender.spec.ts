import { describe, expect, it } from 'vitest';
import { chooseSender, mailboxNamed } from './choose-sender';

const ines = { id: 1, address: 'ines@tidewaterkelp.example', senderName: 'Ines Vidal' };
const tomas = { id: 2, address: 'tomas@tidewaterkelp.example', senderName: 'Tomás Reyes' };
const other = { id: 3, address: 'ines@kelp.test', senderName: '' };

describe('the mailbox that a cell names', () => {
  it.each([
    ['ines@tidewaterkelp.example', 1],
    [' INES@TidewaterKelp.example ', 1],
    ['Ines V. <ines@kelp.test>', 3],
    ['tomás  reyes', 2],
    ['Toma\u0301s Reyes', 2],
    ['tomas', 2],
    // Two mailboxes begin like this.
    ['ines', null],
    ['wren', null],
    ['', null],
    ['<>', null],
    ['@', null],
  ])('is found in %j: %s', (cell, id) => {
    expect(mailboxNamed(cell, [ines, tomas, other])?.id ?? null).toBe(id);
  });
});

describe('the sender of somebody', () => {
  it('is the one that their row names, then the one that wrote to them last, then any', () => {
    expect(chooseSender({ named: 'tomas', lastId: 1 }, [ines, tomas])).toEqual({ mailboxId: 2, unknown: '' });
    expect(chooseSender({ named: ' ', lastId: 1 }, [ines, tomas])).toEqual({ mailboxId: 1, unknown: '' });
    expect(chooseSender({ named: '', lastId: 9 }, [ines, tomas])).toEqual({ mailboxId: null, unknown: '' });
  });

  it('is nobody else where the row names one that the campaign does not have', () => {
    expect(chooseSender({ named: 'Wren ', lastId: 1 }, [ines, tomas])).toEqual({ mailboxId: null, unknown: 'Wren' });
    const long = chooseSender({ named: 'x'.repeat(79) + '😀'.repeat(500), lastId: null }, [ines]).unknown;
    expect([long.length, long.at(-1), /\p{Surrogate}/u.test(long)]).toEqual([81, '…', false]);
  });
});
