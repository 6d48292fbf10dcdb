import { describe, expect, it } from 'vitest';
import { addressCheck, isShared, samenessKey } from './check-address';
import { parseAddress } from './address';

describe('isShared', () => {
  it('knows addresses of functions, with numbers and separators behind them', () => {
    for (const local of [
      'info',
      'info2',
      'sales-3',
      'verkauf_',
      'no-reply',
      'noreply.07',
      'office1',
      'buchhaltung',
      'abuse',
    ])
      expect([local, isShared(`${local}@kelp.example`)]).toEqual([local, true]);
  });

  it('takes no person’s for one, whatever it is made of', () => {
    for (const local of [
      'ana',
      'infos',
      'in.fo',
      'inf',
      'p',
      'sales.ana',
      '123',
      '-1',
      '_',
      'öffice',
      'élan',
      'x'.repeat(60),
    ])
      expect([local, isShared(`${local}@kelp.example`)]).toEqual([local, false]);
  });
});

describe('samenessKey', () => {
  it('is without dots and what follows a plus sign, before the sign only', () => {
    expect(samenessKey('ana.m.reyes+fair@kelp.example')).toBe('anamreyes@kelp.example');
    expect(samenessKey('ana@sub.kelp.example')).toBe('ana@sub.kelp.example');
    expect(samenessKey('a+b+c.d@kelp.example')).toBe('a@kelp.example');
  });
});

describe('addressCheck', () => {
  it('says in words what is worth a look, all of it, and what a misspelt domain was meant to be', () => {
    const domains = new Map([
      ['harbour.example', 400],
      ['harbuor.example', 1],
      ['bin.test', 1],
    ]);
    const same = new Map([['anareyes@harbour.example', 2]]);
    const check = addressCheck({ domains, same, isThrowAway: (domain) => domain === 'bin.test' });
    const notesOf = (address: string) => {
      const parsed = parseAddress(address);
      if (!parsed.ok) throw new Error(parsed.reason);
      return check(parsed.value).map(({ kind, mend }) => (mend === null ? kind : `${kind} ${mend}`));
    };
    expect(notesOf('bo@harbour.example')).toEqual([]);
    expect(notesOf('info@harbour.example')).toEqual(['shared']);
    expect(notesOf('ana.reyes@harbour.example')).toEqual(['doubled']);
    expect(notesOf('bo@harbuor.example')).toEqual(['misspelt bo@harbour.example']);
    expect(notesOf('office@bin.test')).toEqual(['shared', 'throw_away']);
  });
});
