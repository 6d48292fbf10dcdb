import { lookup as dnsLookup, type LookupAddress } from 'node:dns';
import { request as httpRequest, type IncomingMessage } from 'node:http';
import { request as httpsRequest } from 'node:https';
import { BlockList, isIP, type LookupFunction } from 'node:net';
import { DomainError } from '@baton/core';

const MOST_REDIRECTS = 4;
const TIMEOUT_MS = 20_000;

/** Networks that are not the internet: this machine, its neighbours, and what no packet goes to (RFC 6890). */
const PRIVATE = new BlockList();
for (const [net, bits] of [
  ['0.0.0.0', 8],
  ['10.0.0.0', 8],
  ['100.64.0.0', 10],
  ['127.0.0.0', 8],
  ['169.254.0.0', 16],
  ['172.16.0.0', 12],
  ['192.0.0.0', 24],
  ['192.168.0.0', 16],
  ['198.18.0.0', 15],
  ['224.0.0.0', 3],
] as const)
  PRIVATE.addSubnet(net, bits, 'ipv4');
for (const [net, bits] of [
  ['::', 128],
  ['::1', 128],
  ['fc00::', 7],
  ['fe80::', 10],
  ['ff00::', 8],
] as const)
  PRIVATE.addSubnet(net, bits, 'ipv6');

/** Whether an IP address is of this machine, its network, or none at all; IPv4 written as IPv6 counts as what it is. */
export function isPrivateAddress(ip: string): boolean {
  const mapped = /^(?:::ffff:|64:ff9b::)(\d+\.\d+\.\d+\.\d+)$/i.exec(ip)?.[1];
  const bare = mapped ?? ip;
  return PRIVATE.check(bare, isIP(bare) === 6 ? 'ipv6' : 'ipv4');
}

export interface FetchLimits {
  allowPrivate: boolean;
  maxBytes: number;
}

/**
 * Fetches a file over HTTP. The address is judged as it is resolved for the connection itself, at every redirect, so
 * that no name can point elsewhere in between.
 *
 * @throws DomainError with a sentence for whatever keeps it from being fetched
 */
export async function fetchFile(address: string, limits: FetchLimits): Promise<Buffer> {
  let url = parseUrl(address);
  for (let i = 0; i <= MOST_REDIRECTS; i++) {
    const response = await open(url, limits.allowPrivate);
    const { statusCode = 0, headers } = response;
    if (statusCode >= 300 && statusCode < 400 && headers.location !== undefined) {
      response.resume();
      url = parseUrl(new URL(headers.location, url).href);
      continue;
    }
    if (statusCode !== 200) {
      response.resume();
      throw new DomainError('unreachable', `${url.host} answers ${statusCode}; expected the file.`);
    }
    return readBody(response, limits.maxBytes);
  }
  throw new DomainError('unreachable', `${url.host} sends on more than ${MOST_REDIRECTS} times.`);
}

function parseUrl(address: string): URL {
  const url = URL.canParse(address) ? new URL(address) : null;
  if (url?.protocol !== 'http:' && url?.protocol !== 'https:')
    throw new DomainError('invalid', `“${address.slice(0, 100)}” is not a web address; expected https://…`);
  return url;
}

function open(url: URL, allowPrivate: boolean): Promise<IncomingMessage> {
  const refusal = () =>
    new DomainError(
      'forbidden',
      `${url.hostname} is an address of this machine or its network; allow such addresses for this list if it is meant.`,
    );
  const literal = url.hostname.replace(/^\[|\]$/g, '');
  if (isIP(literal) !== 0 && isPrivateAddress(literal) && !allowPrivate) throw refusal();
  const lookup: LookupFunction = (host, options, done) => {
    dnsLookup(host, { ...options, all: true }, (error, found) => {
      const all = (found as LookupAddress[] | undefined) ?? [];
      const [first] = all;
      if (error) done(error, '', 0);
      else if (!first || (!allowPrivate && all.some((a) => isPrivateAddress(a.address)))) done(refusal(), '', 0);
      else if (options.all) done(null, all);
      else done(null, first.address, first.family);
    });
  };
  return new Promise((resolve, reject) => {
    const send = url.protocol === 'https:' ? httpsRequest : httpRequest;
    const request = send(url, { lookup, timeout: TIMEOUT_MS, headers: { accept: 'text/csv, */*' } }, resolve);
    request.on('timeout', () => request.destroy(new Error('it does not answer')));
    request.on('error', (error) =>
      reject(
        error instanceof DomainError
          ? error
          : new DomainError('unreachable', `${url.host} could not be reached: ${error.message}.`, { cause: error }),
      ),
    );
    request.end();
  });
}

async function readBody(response: IncomingMessage, maxBytes: number): Promise<Buffer> {
  const chunks: Buffer[] = [];
  let size = 0;
  for await (const chunk of response as AsyncIterable<Buffer>) {
    size += chunk.length;
    if (size > maxBytes) {
      response.destroy();
      throw new DomainError('too_large', `The file has more than ${Math.floor(maxBytes / 1024 / 1024)} MB.`);
    }
    chunks.push(chunk);
  }
  return Buffer.concat(chunks);
}
