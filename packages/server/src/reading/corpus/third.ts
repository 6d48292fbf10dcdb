import type { BounceKind, IncomingKind, Suggestion } from '@baton/core';
import { bounce as ofBounce } from './bounce-case';
import { ANSWERS, written, type MailCase, type Written } from './mail-case';

const bounce = (name: string, kind: BounceKind, text: string, w: Written = {}, concerns?: string[]): MailCase =>
  ofBounce(`third: ${name}`, kind, { subject: 'Mail delivery failed', text, ...w }, concerns);
const is = (kind: IncomingKind, text: string, w: Written = {}, over: Partial<MailCase> = {}): MailCase => ({
  name: `${kind}, third: ${text.slice(0, 70)}`,
  kind,
  raw: written({ text, headers: ANSWERS, ...w }),
  ...over,
});
const AUTO = { headers: { ...ANSWERS, 'Auto-Submitted': 'auto-replied' }, subject: 'Automatic reply: Kelp' };
const away = (text: string, backOn: string | null): MailCase => is('auto_reply', text, AUTO, { backOn });
const reply = (text: string, suggests?: Suggestion, w: Written = {}): MailCase =>
  is('reply', text, { text: `${text}\n\n${QUOTE}`, ...w }, { own: text, ...(suggests ? { suggests } : {}) });
const QUOTE =
  'On Tuesday, 24 November 2026 at 08:00, Ines Aldrich <ines@tidewaterkelp.example> wrote:\n\n> Dear Ana,\n>\n> if you would rather not hear from us, unsubscribe here';
const out = (text: string): MailCase => is('unsubscribe', text, { text: `${text}\n\n${QUOTE}` });

const BOUNCES: readonly MailCase[] = [
  bounce(
    'no longer accepts mail',
    'hard',
    'ana@vines.example: This account no longer accepts mail.\n\nYour message has not been delivered.',
  ),
  bounce(
    'account suspended',
    'hard',
    'Message could not be delivered to ana@vines.example.\nReason: account suspended',
  ),
  bounce('mail box full, two words', 'full', 'Delivery to ana@vines.example failed: mail box full'),
  bounce(
    'storage',
    'full',
    'Your message to ana@vines.example couldn’t be delivered. The recipient has used up all of their storage.\n552 5.2.2 out of storage space',
  ),
  bounce(
    'rejected for its content',
    'blocked',
    '<ana@vines.example>: 554 5.7.1 Message content rejected, id=123 - SPAM',
  ),
  bounce(
    'a listed host',
    'blocked',
    'ana@vines.example\n  550 Rejected: your host 192.0.2.9 is listed in zone.example',
  ),
  bounce('SPF', 'blocked', 'ana@vines.example:\n550 5.7.1 SPF check failed'),
  bounce(
    'a frozen message',
    'delayed',
    'Message 1k9 has been frozen (delivery error message). The message has not yet been delivered to ana@vines.example; the server will keep trying.',
    { subject: 'Message frozen' },
  ),
  bounce(
    'an unknown virtual user',
    'hard',
    '<ana@vines.example> (expanded from <sales@vines.example>): unknown user: "ana"',
    {},
    ['ana@vines.example'],
  ),
  bounce(
    'a sender’s domain that has no mail',
    'sender',
    'ana@vines.example: 553 5.1.8 Domain of sender address ines@tidewaterkelp.example does not exist',
  ),
  bounce('no route', 'hard', 'ana@vines.example: No route to domain; domain not found'),
  bounce(
    'too many errors',
    'soft',
    'ana@vines.example: 421 Service temporarily unavailable, closing connection; giving up after 3 days',
  ),
  bounce(
    'an office page in German',
    'blocked',
    'Ihre Nachricht an ana@vines.example wurde nicht zugestellt.\n\nIhre Nachricht wurde vom E-Mail-System des Empfängers als Spam abgelehnt.',
    { from: 'postmaster@vines.example', subject: 'Unzustellbar: Kelp' },
  ),
  bounce(
    'an office page in French',
    'full',
    'Échec de remise pour ces destinataires ou groupes :\n\nana@vines.example\nLa boîte aux lettres du destinataire est pleine et ne peut plus accepter de messages.',
    { from: 'postmaster@vines.example', subject: 'Non remis : Kelp' },
  ),
  bounce(
    'greylisting that was not waited for',
    'greylisted',
    '<ana@vines.example>: 450 4.7.1 Recipient address rejected: temporarily deferred by greylisting',
  ),
  bounce(
    'rate limited',
    'blocked',
    'ana@vines.example: 421 4.7.28 Our system has detected an unusual rate of mail originating from your IP address',
  ),
];

const REST: readonly MailCase[] = [
  away(
    'Thanks for getting in touch. I’m on a tasting tour and back at my desk on Monday the 30th of November.',
    '2026-11-30',
  ),
  away('I am currently away from my desk. Back in the office on the 2nd December.', '2026-12-02'),
  away('I’ll be out from Nov. 24 to Nov. 26.', '2026-11-27'),
  away('My office hours are Monday to Thursday. I am out of the office on Friday, 27 November.', '2026-11-30'),
  away('I have no access to my mail before 1 December.', '2026-12-01'),
  away('I am out until Tuesday morning.', '2026-12-01'),
  away('I am on jury duty for the rest of this week.', '2026-11-30'),
  away('The office will be closed on Thursday and Friday for Thanksgiving and will reopen on Monday.', '2026-11-30'),
  away('Ich bin erst am 7. Dezember wieder zu erreichen.', '2026-12-07'),
  away('Vom 30. November bis 11. Dezember bin ich auf Reisen.', '2026-12-14'),
  away('Ich bin bis zum 04.12.26 im Urlaub.', '2026-12-07'),
  away('Je suis absente jusqu’au 30/11.', '2026-11-30'),
  away('Absente du bureau jusqu’au vendredi 4 décembre au soir.', '2026-12-07'),
  away('No estaré disponible hasta el próximo lunes.', '2026-11-30'),
  away('Estoy de baja médica.', null),
  away('Sono fuori sede fino a venerdì.', '2026-11-30'),
  away('Afwezig van 23 november tot 7 december.', '2026-12-07'),
  away('Estou fora até dia 30/11.', '2026-11-30'),
  away('Åter på jobbet 1/12.', '2026-12-01'),
  away('Jestem nieobecna do 27.11.2026 włącznie.', '2026-11-30'),
  reply('OK.'),
  reply('Yes.', 'interested'),
  reply('Please do.', 'interested'),
  reply('Could you ring me this afternoon? 555 0199', 'interested'),
  reply('We are all set, thanks.', 'not_interested'),
  reply('It’s not something we’d consider at the moment.', 'not_interested'),
  reply('Too expensive for us.', 'not_interested'),
  reply('We stopped farming last year.'),
  reply('Bo Lind takes care of this now. I’ve put him in copy.', 'referral'),
  reply('You want our cellar master for that: cy@vines.example', 'referral'),
  reply('What is the minimum order?', 'question'),
  reply('Where are you based?', 'question'),
  reply('Before I say yes or no: is there a discount for cooperatives?', 'question'),
  reply('Who is your contact in our region?', 'question'),
  reply('Can I unsubscribe from the paper catalogue but keep the emails? I like them.'),
  reply('If this does not work out I will unsubscribe, but for now tell me more.', 'interested'),
  reply('Remove the stones first, you said last year. We did. What next?', 'question'),
  reply('Don’t contact my old number, use this one: 555 0123.'),
  reply('No more than two sacks, please.'),
  reply('Stop by any time!', 'interested'),
  reply('Our postmaster says your mail nearly ended in the spam folder, but here I am.'),
  reply('I’m back from leave, sorry for the delay. Let’s talk on Friday.', 'interested'),
  reply('I’ll be on holiday from 4 December, so let’s talk before.', 'interested'),
  reply('Our address has changed, by the way: Hill Road 2. Please send the sample there.'),
  reply('My brother left the vineyard to me, so I decide now. Please send prices.', 'interested'),
  reply('Vielleicht im Frühjahr, melden Sie sich dann noch einmal.'),
  reply('Ja, gerne! Wann passt es Ihnen?', 'interested'),
  reply('Wir haben keinen Bedarf, trotzdem danke.', 'not_interested'),
  reply('Pas pour nous, merci.', 'not_interested'),
  reply('Me interesa mucho, llámeme.', 'interested'),
  reply('Interessante! Mi chiami domani.', 'interested'),
  ...[
    'Please take me off.',
    'remove pls',
    'Don’t send me anything else.',
    'I want off this list',
    'UNSUBSCRIBE NOW OR I CALL MY LAWYER',
    'How many times do I have to tell you to stop emailing me?',
    'Please ensure that I receive no further correspondence.',
    'Do not reply. Do not write again. Ever.',
    'Kindly unsubscribe us.',
    'I never asked for these emails. Stop it.',
    'We’re not interested and would like to be removed from your mailing list.',
    'Bitte entfernen Sie meine Adresse.',
    'Keine Mails mehr!',
    'Bitte sehen Sie von weiteren Zuschriften ab.',
    'Merci de supprimer mon adresse.',
    'Plus de mails svp',
    'Dejen de escribirme.',
    'Quiero darme de baja.',
    'Basta email!',
    'Mag ik van deze lijst af?',
    'Ik wil deze mails niet meer ontvangen.',
    'Jag vill inte ha fler mejl.',
    'Nie chcę dostawać tych maili.',
  ].map(out),
  is(
    'left',
    'Dear sender, Ana is not working with us anymore. Her tasks were taken over by Bo Lind (bo@vines.example).',
    AUTO,
    { contact: { name: 'Bo Lind', address: 'bo@vines.example' } },
  ),
  is('left', 'I have now left my role at Vines. Bo Lind, bo@vines.example, is your new contact.', AUTO, {
    contact: { name: 'Bo Lind', address: 'bo@vines.example' },
  }),
  is('left', 'Ana Reyes ist seit Oktober nicht mehr im Haus. Neuer Ansprechpartner: Bo Lind, bo@vines.example', AUTO, {
    contact: { name: 'Bo Lind', address: 'bo@vines.example' },
  }),
  is('left', 'Mme Reyes n’est plus dans notre société. Contactez M. Bo Lind : bo@vines.example', AUTO, {
    contact: { name: 'Bo Lind', address: 'bo@vines.example' },
  }),
  is(
    'address_changed',
    'I’ve moved to a new email address: ana@reyesvines.example. This one will stop working soon.',
    AUTO,
    { contact: { address: 'ana@reyesvines.example' } },
  ),
  is('acknowledgement', 'Your email has reached us. We aim to answer within three working days.', {
    ...AUTO,
    subject: 'We got your message',
  }),
  is('acknowledgement', 'Hello, thanks for your enquiry! One of our team will be in touch soon.', {
    ...AUTO,
    subject: 'Thanks for your enquiry',
  }),
  is(
    'challenge',
    'Hi, I use a filter against unwanted mail. Please confirm that you sent this message by clicking the link; it will then reach me: https://vines.example/ok',
    { ...AUTO, subject: 'Confirm your email to Ana' },
  ),
  is('noise', 'Your weekly summary', {
    from: 'Vines Portal <no-reply@portal.example>',
    subject: 'Weekly summary',
    headers: { 'List-Unsubscribe': '<https://portal.example/u>' },
  }),
];

/** A third round. */
export const THIRD: readonly MailCase[] = [...BOUNCES, ...REST];
