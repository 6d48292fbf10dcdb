import { describe, expect, it } from 'vitest';
import { ownWords } from './own-words';

const QUOTE = '> Would a sack of kelp meal be of use to you?\n> To leave, answer with unsubscribe.';

describe('own words stand above a quotation', () => {
  it.each([
    'On Mon, 23 Nov 2026 at 10:12, Ines Aldrich <ines@tidewaterkelp.example> wrote:',
    'On 23/11/2026 10:12, Ines Aldrich wrote:',
    'On Monday, November 23, 2026 at 10:12 AM Ines Aldrich\n<ines@tidewaterkelp.example> wrote:',
    'On Mon, 23 Nov 2026,\nInes Aldrich from Tidewater Kelp Works\n<ines@tidewaterkelp.example>\nwrote:',
    'Am Mo., 23. Nov. 2026 um 10:12 Uhr schrieb Ines Aldrich <ines@tidewaterkelp.example>:',
    'Am 23.11.26 um 10:12 schrieb Ines Aldrich:',
    'Ines Aldrich <ines@tidewaterkelp.example> schrieb am Mo., 23. Nov. 2026, 10:12:',
    'Le lun. 23 nov. 2026 à 10:12, Ines Aldrich <ines@tidewaterkelp.example> a\nécrit :',
    'El lun, 23 nov 2026 a las 10:12, Ines Aldrich (<ines@tidewaterkelp.example>) escribió:',
    'Il giorno lun 23 nov 2026 alle ore 10:12 Ines Aldrich <ines@tidewaterkelp.example> ha scritto:',
    'Op ma 23 nov 2026 om 10:12 schreef Ines Aldrich <ines@tidewaterkelp.example>:',
    'Em seg., 23 de nov. de 2026 às 10:12, Ines Aldrich <ines@tidewaterkelp.example> escreveu:',
    'Den mån 23 nov. 2026 kl 10:12 skrev Ines Aldrich <ines@tidewaterkelp.example>:',
    'W dniu 23.11.2026 o 10:12, Ines Aldrich napisał(a):',
    'Dne 23. 11. 2026 v 10:12 Ines Aldrich napsal(a):',
    '2026年11月23日(月) 10:12 Ines Aldrich <ines@tidewaterkelp.example>:',
    'Ines Aldrich <ines@tidewaterkelp.example> wrote:',
  ])('%s', (attribution) => {
    expect(ownWords(`Yes, please.\n\n${attribution}\n\n${QUOTE}`)).toBe('Yes, please.');
    expect(ownWords(`Yes, please.\r\n${attribution}\r\nWould a sack of kelp meal be of use?\r\n`)).toBe('Yes, please.');
  });

  it.each([
    '-----Original Message-----\nFrom: Ines Aldrich\nSent: Monday\nTo: Ana\n\nWould a sack',
    '-----Ursprüngliche Nachricht-----\nVon: Ines\nGesendet: Montag\n\nWould',
    '________________________________\nFrom: Ines Aldrich <ines@tidewaterkelp.example>\nSent: Monday, 23 November\nTo: Ana\nSubject: Kelp\n\nWould a sack',
    'From: Ines Aldrich <ines@tidewaterkelp.example>\nDate: Monday\n\nWould',
    '*From:* Ines Aldrich <ines@tidewaterkelp.example>\n*Sent:* Monday\n*To:* Ana\n\nunsubscribe here',
    'De : Ines Aldrich <ines@tidewaterkelp.example>\nEnvoyé : lundi 23 novembre\nÀ : Ana\nObjet : Kelp\n\nWould',
    'De: Ines Aldrich\nEnviado el: lunes\nPara: Ana\nAsunto: Kelp\n\nWould',
    'Von: Ines Aldrich\nDatum: Montag\nAn: Ana\nBetreff: Kelp\n\nWould',
    'Da: Ines Aldrich\nInviato: lunedì\nA: Ana\nOggetto: Kelp\n\nWould',
    'От: Ines Aldrich\nОтправлено: 23 ноября\nКому: Ana\nТема: Kelp\n\nWould',
    'Begin forwarded message:\n\nFrom: Ines\nDate: Monday\n\nWould',
  ])('%j', (quoted) => expect(ownWords(`Yes, please.\n\n${quoted}`)).toBe('Yes, please.'));

  it('or below it, or between its lines', () => {
    const wrote = 'On Mon, 23 Nov 2026, Ines wrote:';
    expect(ownWords(`${wrote}\n${QUOTE}\n\nPlease take me off your list.`)).toBe('Please take me off your list.');
    expect(ownWords(`${wrote}\n> Would a sack be of use?\n\nYes.\n\n> And when?\n\nIn March.\n`)).toBe(
      'Yes.\n\nIn March.',
    );
    expect(ownWords(`Thank you.\n\n${wrote}\n> Would a sack be of use?\nYes.`)).toBe('Thank you.\n\nYes.');
  });

  it('are none where all is quoted', () => expect(ownWords(`On Mon, Ines wrote:\n${QUOTE}`)).toBe(''));
});

describe('what is no quotation stays', () => {
  it.each([
    'On Monday we are closed. Ask Eva.',
    'From: the harbour we take the road to your works.\nIs that right?',
    'Two things:\n\n- the price\n- the date',
    'I wrote: it works.',
    'Thanks! Could you call me tomorrow?\nBo',
    'Thank you\nCould you send the price?\nAnd a sample too.',
    'On Tuesdays I am out, and last week I wrote\nto your colleague about the price.',
  ])('%j', (text) => expect(ownWords(text)).toBe(text));
});

describe('what stands under a letter is left out', () => {
  it.each([
    ['a marked signature', 'Yes.\n\n-- \nAna Ruiz\nBuyer\nunsubscribe from our news at www.vines.example', 'Yes.'],
    ['a signature that lost its space', 'Yes.\n--\nAna', 'Yes.'],
    [
      'a block of contacts',
      'Yes.\n\nKind regards,\n\nAna Ruiz\nBuyer | Vines Ltd\n+34 600 123 456',
      'Yes.\n\nKind regards,\n\nAna Ruiz',
    ],
    [
      'what somebody is',
      'Ja.\n\nMit freundlichen Grüßen\nAna Ruiz\nEinkauf\nReben am Hang',
      'Ja.\n\nMit freundlichen Grüßen\nAna Ruiz',
    ],
    ['the telephone it was written on', 'Yes.\n\nSent from my phone', 'Yes.'],
    ['the same in German', 'Ja.\n\nVon meinem Telefon gesendet', 'Ja.'],
    ['the program', 'Yes.\nGet Outlook for Android', 'Yes.'],
    [
      'a disclaimer',
      'Yes.\n\nThis e-mail and any attachments are confidential. If you have received it in error, unsubscribe.',
      'Yes.',
    ],
    ['a disclaimer in French', 'Oui.\n\nCe message et ses pièces jointes sont confidentiels.', 'Oui.'],
    ['a wish to save paper', 'Sí.\n\nAntes de imprimir este mensaje, piense en el medio ambiente.', 'Sí.'],
  ])('%s', (_, text, own) => expect(ownWords(text)).toBe(own));

  it('and what is written above a signature and below it both count where it stands over the quotation', () =>
    expect(ownWords('Yes.\n-- \nAna\n\nOn Mon, Ines wrote:\n> Would it?\n\nAnd in March.')).toBe(
      'Yes.\n\nAnd in March.',
    ));
});

it('takes as long for a hostile text as for any other, and leaves it as it is', () => {
  for (const evil of ['On '.repeat(30_000), '<'.repeat(100_000), 'On a\n'.repeat(20_000), 'a@'.repeat(50_000)])
    expect(ownWords(evil)).toBe(evil.trim());
});
