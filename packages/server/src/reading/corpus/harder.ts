import type { IncomingKind, Suggestion } from '@baton/core';
import { ANSWERS, ORIGINAL, written, type MailCase, type Written } from './mail-case';

const reply = (name: string, own: string, w: Written, suggests?: Suggestion): MailCase => ({
  name: `reply, harder: ${name}`,
  kind: 'reply',
  own,
  ...(suggests ? { suggests } : {}),
  raw: written({ headers: ANSWERS, ...w }),
});
const is = (kind: IncomingKind, name: string, w: Written, over: Partial<MailCase> = {}): MailCase => ({
  name: `${kind}, harder: ${name}`,
  kind,
  raw: written({ headers: ANSWERS, ...w }),
  ...over,
});
const away = (text: string, backOn: string | null, w: Written = {}): MailCase =>
  is('auto_reply', text.slice(0, 60), { subject: 'Automatic reply: Kelp', text, ...w }, { backOn });

const AWAYS: readonly MailCase[] = [
  away('I’ll be OOO Monday 11/23 through Friday 11/27 – back Monday 11/30.', '2026-11-30'),
  away('Hi there! I’m off enjoying some family time and will be back at my desk on Tues, Dec 1.', '2026-12-01'),
  away('I am away from 24th November and returning on 1st December.', '2026-12-01'),
  away('Currently on business travel. Returning to the office on Thu 26 Nov.', '2026-11-26'),
  away('I am on leave w/c 23 November and w/c 30 November, back 7 December.', '2026-12-07'),
  away('I’m out of the office till the 1st.', '2026-12-02'),
  away('I will be out of the office until the end of the week.', '2026-11-30'),
  away('I will be out of the office for the next two weeks.', '2026-12-08'),
  away('I’m on sabbatical until February 2027.', '2027-02-01'),
  away(
    'Please note that the winery is closed between 24 December and 3 January. We are back on Monday 4 January.',
    '2027-01-04',
  ),
  away('I am unavailable 25-27 November.', '2026-11-30'),
  away('I’m on annual leave from the 20th Nov and I will be back on the 2nd of Dec.', '2026-12-02'),
  away('Out of office: returning 1.12.2026', '2026-12-01'),
  away('I am out on 24 and 25 November. I will answer on Thursday.', '2026-11-26'),
  away(
    'Thank you for your email! I am currently out of the office with no email access. I will be returning on December 14. If you need immediate assistance before then, you may reach me at my mobile.',
    '2026-12-14',
  ),
  away(
    'I am out of the office from 20 November until 27 November 2026 inclusive with limited access to my email. I will be in again on Monday 30 November.',
    '2026-11-30',
  ),
  away(
    'Guten Tag,\n\nich bin vom 23.11. bis zum 4.12. nicht erreichbar. In dringenden Fällen hilft Ihnen Bo Lind (bo@vines.example) weiter.\n\nMit freundlichen Grüßen\nAna Reyes',
    '2026-12-07',
  ),
  away('Ich bin bis Freitag außer Haus.', '2026-11-30'),
  away('Danke für Ihre Mail. Ich bin wieder ab Dienstag, 1.12. im Büro.', '2026-12-01'),
  away('Ich bin krankheitsbedingt nicht im Büro. Ihre Mails werden nicht gelesen.', null),
  away('Aufgrund von Betriebsferien sind wir bis 8. Januar 2027 geschlossen.', '2027-01-11'),
  away('Je serai absente du lundi 23 au vendredi 27 novembre.', '2026-11-30'),
  away('De retour au bureau mercredi.', '2026-11-25'),
  away('Nos bureaux sont fermés jusqu’au lundi 4 janvier.', '2027-01-04'),
  away('Estaré de vuelta el 1 de diciembre de 2026.', '2026-12-01'),
  away('Sarò in ufficio di nuovo il 1° dicembre.', '2026-12-01'),
  away('Ik ben er weer op dinsdag 1 december.', '2026-12-01'),
  away('Volto ao escritório na segunda-feira, 30 de novembro.', '2026-11-30'),
  away('Jag är tillbaka på måndag.', '2026-11-30'),
  away('Jeg holder ferie i uge 49 og er tilbage mandag den 7. december.', '2026-12-07'),
  away('Wracam do pracy 1.12.2026 r.', '2026-12-01'),
  away('Budu zpět v pondělí 30. listopadu.', '2026-11-30'),
  is(
    'auto_reply',
    'an absence that names a colleague and thanks',
    {
      subject: 'Re: Kelp',
      headers: { ...ANSWERS, 'Auto-Submitted': 'auto-replied', Precedence: 'bulk' },
      text: 'Thank you for your message. I am on holiday until 4 December. Please contact Bo Lind (bo@vines.example) in my absence.',
    },
    { backOn: '2026-12-07' },
  ),
  is(
    'auto_reply',
    'with a list header of the company',
    {
      subject: 'Out of office',
      headers: { ...ANSWERS, 'Auto-Submitted': 'auto-generated', 'X-Auto-Response-Suppress': 'All' },
      text: 'I am out of the office until 4 December.',
    },
    { backOn: '2026-12-07' },
  ),
];

const QUOTED =
  'On Tue, 24 Nov 2026 at 08:00, Ines Aldrich <ines@tidewaterkelp.example> wrote:\n> Dear Ana,\n> Unsubscribe: https://tidewaterkelp.example/u/x';
const REPLIES: readonly MailCase[] = [
  reply(
    'a banner above',
    'Yes, we would like to try it.',
    {
      text: `CAUTION: This email originated from outside of the organization. Do not click links unless you recognize the sender.\n\nYes, we would like to try it.\n\n${QUOTED}`,
    },
    'interested',
  ),
  reply('a banner within the quotation', 'Let’s talk on Monday.', {
    text: 'Let’s talk on Monday.\n\nFrom: Ines Aldrich <ines@tidewaterkelp.example>\nSent: Tuesday, 24 November 2026 08:00\nTo: Ana Reyes <ana@vines.example>\nSubject: [EXTERNAL] Kelp\n\nCAUTION: External email.\n\nDear Ana',
  }),
  reply('dashes around the attribution', 'Works for me.', {
    text: 'Works for me.\n\n---- On Tue, 24 Nov 2026 08:00:00 +0000 Ines Aldrich <ines@tidewaterkelp.example> wrote ----\n\nDear Ana,\nunsubscribe here',
  }),
  reply('quoting', 'Works for me.', {
    text: 'Quoting Ines Aldrich <ines@tidewaterkelp.example>:\n\n> Dear Ana,\n> unsubscribe here\n\nWorks for me.',
  }),
  reply('who wrote, without a date', 'Works for me.', {
    text: 'Ines Aldrich wrote:\n> Dear Ana,\n> unsubscribe here\n\nWorks for me.',
  }),
  reply('a name and a title without a close', 'Please send the price list.', {
    text: `Please send the price list.\n\nAna Reyes\nHead of Vineyards\nVines Ltd\n+1 555 0100\nana@vines.example\n\n${QUOTED}`,
  }),
  reply('a name behind dashes', 'Please send the price list.', {
    text: 'Please send the price list.\n\n--\nAna Reyes | Vines\nTo unsubscribe from our newsletter click here',
  }),
  reply('a date line of two lines', 'Maybe later.', {
    text: 'Maybe later.\n\nIl giorno mar 24 nov 2026 alle ore 08:00\nInes Aldrich <ines@tidewaterkelp.example> ha scritto:\n\n> Dear Ana',
  }),
  reply('a forwarded head in Spanish', 'Hablemos en enero.', {
    subject: 'RE: Kelp',
    text: 'Hablemos en enero.\n\nDe: Ines Aldrich <ines@tidewaterkelp.example>\nEnviado el: martes, 24 de noviembre de 2026 8:00\nPara: Ana Reyes <ana@vines.example>\nAsunto: Kelp\n\nPara darse de baja',
  }),
  reply('a head in Swedish', 'Ring mig.', {
    subject: 'SV: Kelp',
    text: 'Ring mig.\n\nFrån: Ines Aldrich <ines@tidewaterkelp.example>\nSkickat: den 24 november 2026 08:00\nTill: Ana Reyes\nÄmne: Kelp\n\navregistrera',
  }),
  reply('a head in Danish', 'Ring til mig.', {
    subject: 'SV: Kelp',
    text: 'Ring til mig.\n\nFra: Ines Aldrich\nSendt: 24. november 2026 08:00\nTil: Ana Reyes\nEmne: Kelp\n\nafmeld',
  }),
  reply('a head in Dutch', 'Bel me.', {
    subject: 'Antw: Kelp',
    text: 'Bel me.\n\nVan: Ines Aldrich\nVerzonden: dinsdag 24 november 2026 08:00\nAan: Ana Reyes\nOnderwerp: Kelp\n\nuitschrijven',
  }),
  reply('a head in Polish', 'Proszę o telefon.', {
    subject: 'ODP: Kelp',
    text: 'Proszę o telefon.\n\nOd: Ines Aldrich\nWysłano: wtorek, 24 listopada 2026 08:00\nDo: Ana Reyes\nTemat: Kelp\n\nwypisz',
  }),
  reply('numbered answers between', '1. Two hectares.\n\n2. In spring, and please call before.', {
    text: '> 1. How much land?\n\n1. Two hectares.\n\n> 2. When?\n\n2. In spring, and please call before.',
  }),
  reply('nothing but thanks', 'Thanks!', { text: `Thanks!\n\n${QUOTED}` }),
  reply(
    'a mobile page',
    'Sounds good',
    {
      html: '<html><body dir="auto">Sounds good<br id="lineBreak"><br><div dir="ltr">Sent from my phone</div><div dir="ltr"><br><blockquote type="cite">On 24 Nov 2026, at 08:00, Ines Aldrich &lt;ines@tidewaterkelp.example&gt; wrote:<br><br></blockquote></div><blockquote type="cite"><div dir="ltr">Dear Ana, unsubscribe</div></blockquote></body></html>',
    },
    'interested',
  ),
  reply('a page beside an empty text', 'Sounds good', {
    text: ' ',
    html: '<div>Sounds good</div><div>-----Original Message-----<br>From: Ines<br>To: Ana<br>Subject: Kelp</div>',
  }),
  reply('bullets', 'We need:\n- two sacks\n- a price list\n- a date', {
    text: `We need:\n- two sacks\n- a price list\n- a date\n\n${QUOTED}`,
  }),
  reply('a disclaimer in French', 'Rappelez-moi.', {
    text: 'Rappelez-moi.\n\nCe message et toutes les pièces jointes sont confidentiels. Si vous n’êtes pas le destinataire, merci de le supprimer et de ne plus nous écrire.',
  }),
  reply('a green footer', 'Call me.', {
    text: 'Call me.\n\nPlease consider the environment before printing this email.',
  }),
  reply('a company’s footer with its list', 'Call me.', {
    text: 'Call me.\n\n-- \nVines Ltd. You receive this because you are a customer. Unsubscribe: https://vines.example/u',
  }),
  reply(
    'a long answer',
    'Dear Ines,\n\nthank you for your message, which my brother and I read with interest. We tried seaweed meal in 2019 on the upper terraces and were not convinced, mostly because it came late.\n\nIf you can deliver before the end of February, we would try again on half a hectare. Could you send me a price for that?\n\nBest wishes\nAna',
    {
      text: `Dear Ines,\n\nthank you for your message, which my brother and I read with interest. We tried seaweed meal in 2019 on the upper terraces and were not convinced, mostly because it came late.\n\nIf you can deliver before the end of February, we would try again on half a hectare. Could you send me a price for that?\n\nBest wishes\nAna\n\n${QUOTED}`,
    },
  ),
  reply('asks to be called only', 'Please don’t email, call me instead.', {
    text: `Please don’t email, call me instead.\n\n${QUOTED}`,
  }),
  reply('stop at a place', 'Do you stop at our place on your tour?', {
    text: `Do you stop at our place on your tour?\n\n${QUOTED}`,
  }),
  reply('removes something', 'We removed our old vines last year, so there is nothing to feed.', {
    text: `We removed our old vines last year, so there is nothing to feed.\n\n${QUOTED}`,
  }),
  reply('an unsubscribed person who comes back', 'I unsubscribed by mistake, please put me back on your list.', {
    text: `I unsubscribed by mistake, please put me back on your list.\n\n${QUOTED}`,
  }),
  reply('somebody else wants out', 'My colleague asked you to remove him, but I am interested.', {
    text: `My colleague asked you to remove him, but I am interested.\n\n${QUOTED}`,
  }),
  reply(
    'a bounce they saw',
    'Your mail to bo@vines.example came back to me as undeliverable, so write to me instead.',
    { text: `Your mail to bo@vines.example came back to me as undeliverable, so write to me instead.\n\n${QUOTED}` },
  ),
  reply('no longer buys', 'We no longer work with distributors, only directly.', {
    text: `We no longer work with distributors, only directly.\n\n${QUOTED}`,
  }),
  reply('left the building', 'I left the office early yesterday, sorry. Call me today.', {
    text: `I left the office early yesterday, sorry. Call me today.\n\n${QUOTED}`,
  }),
  reply('a new address of the cellar', 'Yes! Please send the sacks to our new address: Hill Road 2.', {
    text: `Yes! Please send the sacks to our new address: Hill Road 2.\n\n${QUOTED}`,
  }),
  reply(
    'from postmaster, by a person',
    'I look after the mail here, and the vines too. How much is a sack?',
    {
      from: 'Bo Lind <postmaster@vines.example>',
      text: `I look after the mail here, and the vines too. How much is a sack?\n\n${QUOTED}`,
    },
    'question',
  ),
  reply(
    'through a ticket system',
    'Hi Ines, yes, we would like a sample. Bo',
    {
      from: 'Vines <support@vines.example>',
      subject: 'Re: Kelp trial [Ticket 4411]',
      text: `Hi Ines, yes, we would like a sample. Bo\n\n${QUOTED}`,
    },
    'interested',
  ),
];

const OUT: readonly MailCase[] = [
  ...[
    'Hi, I’d appreciate it if you took me off your mailing list.',
    'Please do not send me any more of these mails',
    'Please discontinue sending emails to this address.',
    'REMOVE',
    'Remove me!!!',
    'no more emails please',
    'Please stop.',
    'Can you take us off your list please? Thank you.',
    'I don’t want to hear from you again.',
    'Stop harassing me or I will report you.',
    'Would you kindly remove my email from your records?',
    'I am not interested. Do not contact me further.',
    'We do not accept unsolicited emails. Please remove our address.',
    'I did not sign up for this, unsubscribe me.',
    'Lösche mich aus deiner Liste',
    'Bitte streichen Sie uns von der Liste.',
    'Wir wünschen keine weitere Kontaktaufnahme.',
    'Kein Interesse, bitte nicht mehr anschreiben.',
    'Retirez-moi de vos fichiers.',
    'Je vous prie de ne plus me contacter.',
    'Stop pub',
    'Eliminen mis datos de su base.',
    'Por favor no enviar más correos.',
    'Rimuovete il mio indirizzo.',
    'Chiedo la cancellazione dei miei dati.',
    'Verwijder mijn e-mailadres a.u.b.',
    'Gelieve mij niet meer te mailen.',
    'Descadastrar',
    'Ta bort min mejladress ur ert register.',
    'Slett meg fra listen deres.',
    'Wypiszcie mnie z tej listy.',
    'Отпишите меня, пожалуйста.',
  ].map((text) => is('unsubscribe', text, { text: `${text}\n\n${QUOTED}` })),
];

const MORE: readonly MailCase[] = [
  is(
    'left',
    'a person who says good-bye',
    {
      subject: 'Automatic reply: Kelp',
      text: 'Dear all,\n\nFriday 20 November was my last day at Vines. For anything to do with the vineyard, please get in touch with Bo Lind, Vineyard Manager, at bo@vines.example.\n\nAll the best\nAna',
    },
    { contact: { name: 'Bo Lind', address: 'bo@vines.example', role: 'Vineyard Manager' } },
  ),
  is(
    'left',
    'no longer monitored since they left',
    {
      subject: 'Automatic reply: Kelp',
      text: 'Ana Reyes is no longer an employee of Vines and this mailbox is not monitored. Please email bo@vines.example.',
    },
    { contact: { address: 'bo@vines.example' } },
  ),
  is('left', 'retired, by hand', {
    subject: 'Re: Kelp',
    from: 'Bo Lind <bo@vines.example>',
    text: `Ana has retired. I have taken over the vines.\n\n${QUOTED}`,
  }),
  is(
    'left',
    'moved to another company',
    {
      subject: 'Automatic reply',
      text: 'I have moved on to a new role outside the company. Please contact our office: office@vines.example',
    },
    { contact: { address: 'office@vines.example' } },
  ),
  is(
    'address_changed',
    'a merger',
    {
      subject: 'Automatic reply',
      text: 'Following our merger my email address has changed to ana.reyes@hillvines.example. This mailbox will be closed on 31 December.',
    },
    { contact: { address: 'ana.reyes@hillvines.example' } },
  ),
  is('acknowledgement', 'a web form', {
    from: 'Vines <no-reply@vines.example>',
    subject: 'We have received your message',
    text: 'Hello Ines,\n\nthis is an automated confirmation that your message has been received. A member of our team will contact you within 2 business days.\n\nPlease do not reply to this email.',
  }),
  is('acknowledgement', 'a desk with a number in the subject', {
    from: 'IT Service Desk <servicedesk@vines.example>',
    subject: 'INC0012345 has been created: Kelp trial',
    text: 'Your incident INC0012345 has been logged. Our team will look into it shortly.',
  }),
  is('challenge', 'a quarantine at the recipient', {
    from: 'Vines Mail Guard <guard@vines.example>',
    subject: 'Action required to deliver your email',
    text: 'Ana Reyes uses Mail Guard to keep unwanted mail away. Your message has been placed on hold. Click the link below to verify that you are a real sender and your message will be delivered: https://vines.example/guard/1',
  }),
  is('receipt', 'not read', {
    subject: 'Not read: Kelp trial',
    text: 'Your message\n\nTo: Ana\nSubject: Kelp trial\n\nwas deleted without being read on Tuesday.',
  }),
  is('receipt', 'in French', {
    subject: 'Lu : Kelp',
    text: 'Votre message\n\nÀ : Ana\nObjet : Kelp\n\na été lu le mardi 24 novembre 2026.',
  }),
  is('calendar', 'German invitation', {
    subject: 'Einladung: Kelp besprechen (Do. 3. Dez. 2026 14:00)',
    text: 'Ana Reyes lädt Sie ein.',
    parts: [['text/calendar; method=REQUEST', 'BEGIN:VCALENDAR\nMETHOD:REQUEST\nEND:VCALENDAR']],
  }),
  is('noise', 'a social invitation', {
    from: 'Network <invitations@network.example>',
    subject: 'Bo wants to connect',
    headers: { 'List-Unsubscribe': '<https://network.example/u>' },
    text: 'Bo wants to connect with you.',
  }),
  is('noise', 'marketing', {
    from: 'Pumps Inc <offers@pumps.example>',
    subject: '20 % off all pumps',
    headers: { 'List-Unsubscribe': '<mailto:u@pumps.example>', Precedence: 'bulk' },
    text: 'Only this week.',
  }),
  is(
    'complaint',
    'without a report, by a desk',
    {
      from: 'Postal Abuse <abuse@post.example>',
      subject: 'Abuse complaint',
      headers: {},
      text: `We have received a complaint about the following message sent from your network:\n\n${ORIGINAL}`,
    },
    { concerns: ['ana@vines.example'] },
  ),
];

/** A second round, in words and forms further away. */
export const HARDER: readonly MailCase[] = [...AWAYS, ...REPLIES, ...OUT, ...MORE];
