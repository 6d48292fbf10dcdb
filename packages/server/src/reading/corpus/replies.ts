import type { Suggestion } from '@baton/core';
import { ANSWERS, written, type MailCase, type Written } from './mail-case';

const reply = (name: string, own: string, w: Written, suggests?: Suggestion): MailCase => ({
  name: `reply: ${name}`,
  kind: 'reply',
  own,
  concerns: ['ana@vines.example'],
  ...(suggests ? { suggests } : {}),
  raw: written({ headers: ANSWERS, ...w }),
});

const QUOTED = '> Dear Ana,\n> would a trial interest you?\n> Unsubscribe: https://tidewaterkelp.example/u/x';

/** Answers with what they seem to come to; the words are the whole message. */
const SAID: readonly [text: string, suggests: Suggestion][] = [
  ['Yes please, send me two sacks.', 'interested'],
  ['Sounds interesting. Call me on Thursday.', 'interested'],
  ['We would love to try it on the lower block.', 'interested'],
  ['I’d be happy to talk. Does Thursday at ten suit you?', 'interested'],
  ['Sure, send over the details.', 'interested'],
  ['Gerne, schicken Sie mir bitte ein Muster.', 'interested'],
  ['Cela m’intéresse, appelez-moi demain.', 'interested'],
  ['Nos interesa. Envíenos más información.', 'interested'],
  ['Graag, stuur maar een proefzak.', 'interested'],
  ['Thanks, but no thanks.', 'not_interested'],
  ['We’re not interested at this time.', 'not_interested'],
  ['No need, we already have a supplier.', 'not_interested'],
  ['Unfortunately this is not a good fit for us.', 'not_interested'],
  ['We’ll pass, good luck with it.', 'not_interested'],
  ['Danke, aber wir haben derzeit keinen Bedarf.', 'not_interested'],
  ['Merci, mais nous n’avons pas besoin de ce produit.', 'not_interested'],
  ['No gracias, ya tenemos proveedor.', 'not_interested'],
  ['Nee bedankt, geen interesse.', 'not_interested'],
  ['I don’t write the orders myself, please call Eva.', 'referral'],
  ['You should speak to Bo Lind, who handles purchasing. bo@vines.example', 'referral'],
  ['I’m not the right person. Try Bo at bo@vines.example.', 'referral'],
  ['I’ve forwarded this to my colleague Bo.', 'referral'],
  ['Dafür ist Herr Lind zuständig, bitte wenden Sie sich an ihn: bo@vines.example', 'referral'],
  ['Veuillez contacter Bo Lind, qui s’occupe des achats.', 'referral'],
  ['How much does it cost per hectare?', 'question'],
  ['Is it certified for organic growing?', 'question'],
  ['Wie viel braucht man pro Hektar?', 'question'],
  ['Quel est le prix au kilo ?', 'question'],
];

/** Answers that speak of leaving a list, of mail that came back, or of being away, and are none of these. */
const NOT_WHAT_THEY_SEEM: readonly string[] = [
  'Please remove this logo from the proposal, then we can talk.',
  'How do I unsubscribe Bo and subscribe myself instead? He left it to me to decide.',
  'I nearly hit unsubscribe, but the trial sounds good. Send details.',
  'Your last message bounced around our office and everybody liked it.',
  'My mailbox was full last week, so please send the offer again.',
  'I was out of the office last week. Yes, let’s do it.',
  'I am out of the office next week, can we talk on 7 December?',
  'We stop the harvest in October, so November is fine.',
  'Please don’t send the invoice yet, we need the sample first.',
  'Your sample could not be delivered, the courier came on Sunday. Can you send it again?',
  'Please delete the second sack from the order.',
  'Take me through the prices, please.',
  'I never signed up for the trial, how do I do that?',
  'Thank you for your message. I will get back to you next week once I have talked to my brother.',
  'I’ve left the sample with our cellar master; he will test it.',
  'Bitte löschen Sie den zweiten Sack aus der Bestellung.',
  'I nearly missed it: how do I unsubscribe or change my address at the cooperative?',
  'Please make sure we get no weeds in the sacks this time.',
  'I get no more messages from you, is something broken?',
  'Don’t mail me. Call me instead, 555 0123.',
  'Ich finde Ihre Mails nicht mehr, bitte schicken Sie alles noch einmal.',
  'Ik heb uw mails nog niet ontvangen, stuur ze nog eens.',
  'Jag vill inte missa ert mejl, skicka det igen.',
  'Merci de retirer notre commande de lundi, nous la referons.',
  'Nous allons arrêter de traiter les vignes en août. Envoyez les prix.',
  'The pump is not working any more, so we water by hand.',
  'Your parcel has left on 4 December, they say. Nothing came.',
  'Your samples have arrived, and we will look into them shortly.',
  'Bitte schicken Sie uns keine Rechnung, wir zahlen bar.',
  'Merci de retirer le deuxième sac de la commande.',
];

/** Replies of people in the styles of mail programs. */
export const REPLIES: readonly MailCase[] = [
  ...SAID.map(([text, suggests]) =>
    reply(
      text,
      text,
      { text: `${text}\n\nOn Tue, 24 Nov 2026 at 08:00, Ines Aldrich <ines@tidewaterkelp.example> wrote:\n${QUOTED}` },
      suggests,
    ),
  ),
  ...NOT_WHAT_THEY_SEEM.map((text) =>
    reply(text, text, {
      text: `${text}\n\nOn Tue, 24 Nov 2026 at 08:00, Ines Aldrich <ines@tidewaterkelp.example> wrote:\n${QUOTED}`,
    }),
  ),
  reply('a head below', 'Yes, next week.', {
    text: 'Yes, next week.\n\n________________________________\nFrom: Ines Aldrich <ines@tidewaterkelp.example>\nSent: Tuesday, November 24, 2026 8:00 AM\nTo: Ana Reyes\nSubject: Kelp trial\n\nDear Ana,\nunsubscribe',
  }),
  reply('a head in stars', 'Yes, next week.', {
    text: 'Yes, next week.\n\n*From:* Ines Aldrich <ines@tidewaterkelp.example>\n*Sent:* Tuesday\n*To:* Ana\n*Subject:* Kelp\n\nunsubscribe',
  }),
  reply('a German head', 'Ja, nächste Woche.', {
    subject: 'AW: Kelp',
    text: 'Ja, nächste Woche.\n\nVon: Ines Aldrich <ines@tidewaterkelp.example>\nGesendet: Dienstag, 24. November 2026 08:00\nAn: Ana Reyes\nBetreff: Kelp\n\nSie können sich abmelden',
  }),
  reply('a French head', 'Oui, volontiers.', {
    subject: 'RE: Kelp',
    text: 'Oui, volontiers.\n\nDe : Ines Aldrich\nEnvoyé : mardi 24 novembre 2026 08:00\nÀ : Ana\nObjet : Kelp\n\nse désabonner',
  }),
  reply('an original message', 'Yes.', {
    text: 'Yes.\n\n-----Original Message-----\nFrom: Ines\nTo: Ana\nSubject: Kelp\n\nHello',
  }),
  reply('between the quoted lines', 'Two hectares.\n\nIn spring.', {
    text: 'On Tue, 24 Nov 2026 at 08:00, Ines Aldrich <ines@tidewaterkelp.example> wrote:\n> How much land?\n\nTwo hectares.\n\n> When?\n\nIn spring.',
  }),
  reply('below the quotation', 'Fine with me.', { text: '> would a trial interest you?\n\nFine with me.' }),
  reply('a signature', 'Send it to the cellar, please.', {
    text: `Send it to the cellar, please.\n\n-- \nAna Reyes\nVines\n+1 555 0100\n\nOn Tue, Ines Aldrich wrote:\n${QUOTED}`,
  }),
  reply('a block under the name', 'Send it to the cellar, please.\n\nKind regards,\nAna Reyes', {
    text: 'Send it to the cellar, please.\n\nKind regards,\nAna Reyes\nHead of Vineyards\nVines Ltd | Hill Road 1\nT +1 555 0100\nwww.vines.example',
  }),
  reply('sent from my phone', 'ok', {
    text: `ok\n\nSent from my phone\n\n> On 24 Nov 2026, at 08:00, Ines Aldrich <ines@tidewaterkelp.example> wrote:\n> \n${QUOTED}`,
  }),
  reply('gesendet von', 'Passt.', {
    text: `Passt.\n\nVon meinem Telefon gesendet\n\nAm 24.11.2026 um 08:00 schrieb Ines Aldrich <ines@tidewaterkelp.example>:\n\n${QUOTED}`,
  }),
  reply('a wrapped attribution', 'Good idea.', {
    text: `Good idea.\n\nOn Tuesday, November 24, 2026 at 8:00 AM Ines Aldrich\n<ines@tidewaterkelp.example> wrote:\n\n${QUOTED}`,
  }),
  reply('a disclaimer', 'Please call me.', {
    text: 'Please call me.\n\nThis e-mail and any attachments are confidential. If you have received this message in error, please delete it and do not contact us again.',
  }),
  reply('a German disclaimer', 'Rufen Sie an.', {
    text: 'Rufen Sie an.\n\nDiese E-Mail enthält vertrauliche Informationen. Wenn Sie nicht der richtige Adressat sind, löschen Sie bitte diese Mail.',
  }),
  reply('a page with a block quote', 'Yes please!', {
    html: '<div dir="ltr">Yes please!</div><br><div class="quote"><div class="attr">On Tue, Nov 24, 2026 at 8:00 AM Ines Aldrich &lt;<a href="mailto:ines@tidewaterkelp.example">ines@tidewaterkelp.example</a>&gt; wrote:<br></div><blockquote style="margin:0"><div>Dear Ana</div><div>Unsubscribe</div></blockquote></div>',
  }),
  reply('a page with a head', 'Yes please!', {
    html: '<div><p>Yes please!</p></div><div style="border:none;border-top:solid #E1E1E1 1.0pt"><p><b>From:</b> Ines Aldrich &lt;ines@tidewaterkelp.example&gt;<br><b>Sent:</b> Tuesday<br><b>To:</b> Ana<br><b>Subject:</b> Kelp</p></div><p>Dear Ana, unsubscribe</p>',
  }),
  reply('a page with a rule', 'Tuesday works.', {
    html: '<p>Tuesday works.</p><hr><p><b>Von:</b> Ines Aldrich<br><b>Gesendet:</b> Dienstag<br><b>An:</b> Ana<br><b>Betreff:</b> Kelp</p><p>Abmelden</p>',
  }),
  reply('Spanish attribution', 'De acuerdo.', {
    text: `De acuerdo.\n\nEl mar, 24 nov 2026 a las 8:00, Ines Aldrich (<ines@tidewaterkelp.example>) escribió:\n\n${QUOTED}`,
  }),
  reply('Italian attribution', 'Va bene.', {
    text: `Va bene.\n\nIl giorno mar 24 nov 2026 alle ore 08:00 Ines Aldrich <ines@tidewaterkelp.example> ha scritto:\n\n${QUOTED}`,
  }),
  reply('Dutch attribution', 'Prima.', {
    text: `Prima.\n\nOp di 24 nov 2026 om 08:00 schreef Ines Aldrich <ines@tidewaterkelp.example>:\n\n${QUOTED}`,
  }),
  reply('Portuguese attribution', 'Pode ser.', {
    text: `Pode ser.\n\nEm ter., 24 de nov. de 2026 às 08:00, Ines Aldrich <ines@tidewaterkelp.example> escreveu:\n\n${QUOTED}`,
  }),
  reply('Swedish attribution', 'Låter bra.', {
    text: `Låter bra.\n\nDen tis 24 nov. 2026 kl 08:00 skrev Ines Aldrich <ines@tidewaterkelp.example>:\n\n${QUOTED}`,
  }),
  reply('Polish attribution', 'Zgoda.', {
    text: `Zgoda.\n\nwt., 24 lis 2026 o 08:00 Ines Aldrich <ines@tidewaterkelp.example> napisał(a):\n\n${QUOTED}`,
  }),
  reply('Japanese attribution', '了解しました。', {
    text: `了解しました。\n\n2026年11月24日(火) 8:00 Ines Aldrich <ines@tidewaterkelp.example>:\n\n${QUOTED}`,
  }),
  reply('Russian attribution', 'Хорошо.', {
    text: `Хорошо.\n\nвт, 24 нояб. 2026 г. в 08:00, Ines Aldrich <ines@tidewaterkelp.example>:\n\n${QUOTED}`,
  }),
  reply('in base64', 'Yes, on Friday.', {
    encoding: 'base64',
    text: 'Yes, on Friday.\n\nAm 24.11.26 um 08:00 schrieb Ines Aldrich:\n> Hallo',
  }),
  reply('in quoted-printable', 'Klingt gut – bitte anrufen.', {
    encoding: 'quoted-printable',
    text: 'Klingt gut – bitte anrufen.\n\nAm 24.11.26 um 08:00 schrieb Ines Aldrich:\n> Hallo',
  }),
];

const flowed = written({ headers: ANSWERS, text: '' }).toString('utf8');
/** Lines that belong together end with a space (RFC 3676). */
export const FLOWED: MailCase = {
  name: 'reply: flowed lines',
  kind: 'reply',
  own: 'This is a long answer that the program wrapped, and it should be read as one.',
  raw: Buffer.from(
    `${flowed.slice(0, flowed.indexOf('Content-Type'))}Content-Type: text/plain; charset=utf-8; format=flowed\r\n\r\nThis is a long answer that the program wrapped, \r\nand it should be read as one.\r\n`,
  ),
};
