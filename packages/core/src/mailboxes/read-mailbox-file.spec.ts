import { describe, expect, it } from 'vitest';
import { readMailboxFile } from './read-mailbox-file';

describe('readMailboxFile', () => {
  it('takes columns in any order and spelling, and leaves open what is not there', () => {
    const { mailboxes, aside } = readMailboxFile(
      'Daily quota;App password;E-mail;SMTP port;Colour\n60;geheim ist;Ines@Tidewaterkelp.example;587;blue\n;x;tomas@tidewaterkelp.example;;',
    );
    expect(aside).toEqual([]);
    expect(mailboxes.map((m) => [m.line, m.address, m.password, m.dailyQuota, m.smtpPort, m.imapHost])).toEqual([
      [2, 'Ines@tidewaterkelp.example', 'geheim ist', 60, 587, null],
      [3, 'tomas@tidewaterkelp.example', 'x', null, null, null],
    ]);
  });

  it.each([
    ['address,password\nines,x', 'no @'],
    ['address,password\nines@x.example,', 'password is missing'],
    ['address\nines@x.example', 'password is missing'],
    ['address,password,quota\nines@x.example,x,many', '“many” is not a daily quota'],
    ['address,password,smtp port\nines@x.example,x,99999', 'from 1 to 65535'],
    ['address,password,smtp security\nines@x.example,x,ssl3', 'tls, starttls or none'],
  ])('keeps %j aside with its reason', (text, reason) => {
    const { mailboxes, aside } = readMailboxFile(text);
    expect(mailboxes).toEqual([]);
    expect(aside[0]?.reason).toContain(reason);
  });

  it('takes an address once', () => {
    const { mailboxes, aside } = readMailboxFile('address,password\na@x.example,1\nA@X.example,2\na@x.example,3');
    expect(mailboxes).toHaveLength(1);
    expect(aside.map((a) => [a.line, a.reason])).toEqual([
      [3, 'It is already in line 2.'],
      [4, 'It is already in line 2.'],
    ]);
  });
});
