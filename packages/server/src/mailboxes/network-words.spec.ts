import { describe, expect, it } from 'vitest';
import { networkWords } from './network-words';

const server = { host: 'smtp.tidewaterkelp.example', port: 465 };

describe('trouble with the network', () => {
  it.each([
    ['getaddrinfo ENOTFOUND smtp.tidewaterkelp.example', 'The server smtp.tidewaterkelp.example was not found'],
    ['connect ECONNREFUSED 127.0.0.1:465', 'Nothing is listening on port 465 of smtp.tidewaterkelp.example.'],
    ['connect ENETUNREACH 192.0.2.7:465', 'The network does not reach smtp.tidewaterkelp.example.'],
    ['Connection timeout', 'smtp.tidewaterkelp.example does not respond on port 465.'],
    ['error:0A00010B:SSL routines:ssl3_get_record:wrong version number', 'STARTTLS, or another port, may be right.'],
    ["Hostname/IP does not match certificate's altnames: Host: x", 'shows is for another name.'],
    ['certificate has expired', 'has expired.'],
    ['self-signed certificate', 'is not one that this machine trusts.'],
    ['read ECONNRESET', 'smtp.tidewaterkelp.example broke off the connection.'],
  ])('is said in words, with %j after them', (said, words) => {
    expect(networkWords(said, server)).toContain(words);
    expect(networkWords(said, server)).toContain(`(${said})`);
  });

  it('leaves what a server itself says', () => {
    const said = '535 5.7.8 The user name or password is wrong';
    expect(networkWords(said, server)).toBe(said);
  });
});
