import type { BounceKind, IncomingKind, NewContact, Suggestion } from '@baton/core';

/** A message as it stands on the wire, with what is true of it. */
export interface MailCase {
  name: string;
  raw: Buffer;
  kind: IncomingKind;
  bounce?: BounceKind;
  concerns?: string[];
  /** ISO date; null where it names none. */
  backOn?: string | null;
  own?: string;
  contact?: Partial<NewContact>;
  suggests?: Suggestion;
}

/** When all of them came in: a Tuesday. */
export const RECEIVED = 'Tue, 24 Nov 2026 09:00:00 +0000';

export interface Written {
  from?: string;
  to?: string;
  subject?: string;
  text?: string;
  html?: string;
  headers?: Readonly<Record<string, string>>;
  /** Further parts: content type, and content. */
  parts?: readonly [type: string, content: string][];
  /** The type of the whole where it has several parts. */
  type?: string;
  encoding?: '8bit' | 'base64' | 'quoted-printable';
  charset?: 'utf-8' | 'iso-8859-1';
}

export const ANSWERS = {
  'In-Reply-To': '<m1@tidewaterkelp.example>',
  References: '<m1@tidewaterkelp.example>',
} as const;

/** Writes a message (RFC 5322, RFC 2045). */
export function written(w: Written): Buffer {
  const head = Object.entries({
    From: w.from ?? 'Ana Reyes <ana@vines.example>',
    To: w.to ?? 'Ines Aldrich <ines@tidewaterkelp.example>',
    Subject: encodedWord(w.subject ?? 'Re: Kelp trial for your vines'),
    Date: RECEIVED,
    'MIME-Version': '1.0',
    ...w.headers,
  }).map(([name, value]) => `${name}: ${value}`);
  const bodies = [
    ...(w.text === undefined ? [] : [textPart(`text/plain; charset=${w.charset ?? 'utf-8'}`, w.text, w)]),
    ...(w.html === undefined ? [] : [textPart(`text/html; charset=${w.charset ?? 'utf-8'}`, w.html, w)]),
    ...(w.parts ?? []).map(([type, content]) => Buffer.from(`Content-Type: ${type}\r\n\r\n${crlf(content)}\r\n`)),
  ];
  const start = Buffer.from(head.map((line) => `${line}\r\n`).join(''));
  if (bodies.length === 1 && !w.type) return Buffer.concat([start, bodies[0] as Buffer]);
  const type =
    w.type ?? (w.html !== undefined && w.text !== undefined && !w.parts ? 'multipart/alternative' : 'multipart/mixed');
  const boundary = 'edge-of-parts';
  return Buffer.concat([
    start,
    Buffer.from(`Content-Type: ${type}; boundary="${boundary}"\r\n\r\n`),
    ...bodies.flatMap((body) => [Buffer.from(`--${boundary}\r\n`), body, Buffer.from('\r\n')]),
    Buffer.from(`--${boundary}--\r\n`),
  ]);
}

const crlf = (text: string): string => text.replace(/\r?\n/g, '\r\n');

const encodedWord = (text: string): string =>
  /^[\x20-\x7e]*$/.test(text) ? text : `=?utf-8?B?${Buffer.from(text).toString('base64')}?=`;

function textPart(type: string, text: string, { encoding = '8bit', charset }: Written): Buffer {
  const bytes = Buffer.from(crlf(text), charset === 'iso-8859-1' ? 'latin1' : 'utf8');
  const head = Buffer.from(`Content-Type: ${type}\r\nContent-Transfer-Encoding: ${encoding}\r\n\r\n`);
  if (encoding === 'base64')
    return Buffer.concat([head, Buffer.from(bytes.toString('base64').replace(/.{76}/g, '$&\r\n'))]);
  return Buffer.concat([head, encoding === 'quoted-printable' ? quotedPrintable(bytes) : bytes, Buffer.from('\r\n')]);
}

/** RFC 2045, 6.7, with short lines. */
function quotedPrintable(bytes: Buffer): Buffer {
  const lines = bytes.toString('latin1').split('\r\n');
  const coded = lines.map((line) =>
    line
      .replace(/[^\x20-\x3c\x3e-\x7e]/g, (c) => `=${c.charCodeAt(0).toString(16).toUpperCase().padStart(2, '0')}`)
      .replace(/((?:=[0-9A-F]{2}|[^=]){60,68}?)(?=.)(?!$)/g, '$1=\r\n')
      .replace(/ $/, '=20'),
  );
  return Buffer.from(coded.join('\r\n'));
}

/** The head of a message of ours that came back. */
export const ORIGINAL =
  'Message-ID: <m1@tidewaterkelp.example>\nFrom: Ines Aldrich <ines@tidewaterkelp.example>\nTo: ana@vines.example\nSubject: Kelp trial for your vines\nList-Unsubscribe: <https://tidewaterkelp.example/u/x>\n';
