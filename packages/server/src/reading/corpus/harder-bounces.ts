import { ANA, bounce as of } from './bounce-case';
import type { MailCase, Written } from './mail-case';

const bounce = (name: string, kind: Parameters<typeof of>[1], w: Written, concerns?: string[]): MailCase =>
  of(
    `harder: ${name}`,
    kind,
    { from: 'Mail Delivery Subsystem <mailer-daemon@mx.vines.example>', subject: 'Undelivered mail', ...w },
    concerns,
  );

/** A second round of bounces, in words and forms further away. */
export const HARDER_BOUNCES: readonly MailCase[] = [
  bounce('an own wording', 'hard', {
    from: 'Post Office <postoffice@vines.example>',
    subject: 'Mail could not be delivered',
    text: 'Dear sender,\n\nwe regret to tell you that your mail to <ana@vines.example> could not be delivered since there is nobody of that name at our domain.\n\nThe post office',
    headers: { 'Return-Path': '<>' },
  }),
  bounce('status in the subject', 'hard', {
    subject: 'Undeliverable: 550 5.1.1 ana@vines.example user unknown',
    text: 'See the subject.',
  }),
  bounce('only a code', 'hard', { text: 'Message to ana@vines.example could not be delivered.\n\n5.1.1' }),
  bounce('a code for full that says unknown', 'hard', {
    text: 'Your message could not be delivered.\n\n<ana@vines.example>: 552 5.2.2 No such user here',
  }),
  bounce('the words of two servers', 'blocked', {
    text: 'The following address failed:\n\nana@vines.example:\n  SMTP error from remote mail server after end of data:\n  550-5.7.1 Our system has detected that this message is\n  550 5.7.1 likely suspicious due to the very low reputation of the sending domain.',
  }),
  bounce('a reply code alone in the text', 'full', {
    text: 'Failed to deliver to ‘ana@vines.example’\nSMTP module(domain vines.example) reports:\n host mx.vines.example says:\n 552 Mailbox has exceeded the limit',
  }),
  bounce('a table', 'hard', {
    html: '<table><tr><td>Recipient</td><td>ana@vines.example</td></tr><tr><td>Status</td><td>Message not delivered</td></tr><tr><td>Reason</td><td>550 5.1.1 Unknown user</td></tr></table>',
    subject: 'Delivery failure notification',
  }),
  bounce('temporary failures until it expired', 'soft', {
    text: 'Message could not be delivered for 3 days.\n\n<ana@vines.example>: 451 4.3.2 Please try again later',
    subject: 'Undeliverable mail',
  }),
  bounce('a wrong domain', 'hard', {
    text: 'I couldn’t find any host named vines.example. (#5.1.2)\n\n<ana@vines.example>:\nSorry, I couldn’t find any host named vines.example. (#5.1.2)',
    subject: 'failure notice',
  }),
  bounce('a moved person', 'hard', {
    text: 'Your message could not be delivered.\n\nana@vines.example: 551 5.1.6 User no longer at this address',
  }),
  bounce('too large', 'sender', {
    text: 'Your mail to ana@vines.example was not delivered: the message is larger than the size limit of 10 MB.',
  }),
  bounce('a virus found', 'blocked', {
    text: 'Your mail to ana@vines.example was not delivered because it contained a virus.',
  }),
  bounce('an outage', 'soft', {
    text: 'Your mail to ana@vines.example could not be delivered: the server mx.vines.example did not respond (connection refused).',
  }),
  bounce('an own domain that is not set up', 'blocked', {
    text: 'ana@vines.example: 550 5.7.23 The message was rejected because of Sender Policy Framework violation',
    subject: 'Undeliverable: Kelp',
  }),
  bounce('a daemon with a plus', 'hard', {
    from: 'bounces+123-ana=vines.example@mailer.example',
    subject: 'Delivery failure',
    text: 'Delivery to ana@vines.example failed: unknown recipient.',
  }),
  bounce(
    'a group that takes no mail from outside',
    'blocked',
    {
      from: 'postmaster@vines.example',
      subject: 'Undeliverable: Kelp',
      text: 'Your message to growers@vines.example couldn’t be delivered.\nOnly senders inside the organization can send to this group. (5.7.133)',
    },
    ['growers@vines.example'],
  ),
  bounce('an address in a sentence, ours before it', 'hard', {
    text: 'A message from <ines@tidewaterkelp.example> to <ana@vines.example> could not be delivered. Reason: invalid recipient.',
  }),
  bounce(
    'several of whom each has a line',
    'hard',
    {
      text: 'Your message did not reach some or all of the intended recipients.\n\nThe following recipients cannot be reached:\n\n  ana@vines.example\n    The e-mail account does not exist at the organization this message was sent to.\n  bo@vines.example\n    The e-mail account does not exist at the organization this message was sent to.',
    },
    [ANA, 'bo@vines.example'],
  ),
  bounce('a warning, four hours', 'delayed', {
    subject: 'Warning: could not send message for past 4 hours',
    text: '    **********************************************\n    **      THIS IS A WARNING MESSAGE ONLY      **\n    **  YOU DO NOT NEED TO RESEND YOUR MESSAGE  **\n    **********************************************\n\n   ----- The following addresses had transient non-fatal errors -----\n<ana@vines.example>\n\n   ----- Transcript of session follows -----\n<ana@vines.example>... Deferred: Connection timed out with mx.vines.example.\nWarning: message still undelivered after 4 hours\nWill keep trying until message is 5 days old',
  }),
  bounce('a French provider', 'hard', {
    subject: 'Non remise du message',
    text: 'Bonjour,\n\nvotre message n’a pas pu être acheminé vers ana@vines.example.\nMotif : 550 5.1.1 Adresse destinataire inconnue',
  }),
  bounce('a Spanish provider, blocked', 'blocked', {
    subject: 'Mensaje no entregado',
    text: 'Su mensaje a ana@vines.example no pudo ser entregado.\nMotivo: 554 5.7.1 Mensaje rechazado por el filtro antispam',
  }),
  bounce('an Italian provider, full', 'full', {
    subject: 'Mancata consegna',
    text: 'Il messaggio non è stato consegnato a ana@vines.example.\nMotivo: casella di posta piena',
  }),
  bounce('a Turkish server', 'hard', {
    subject: 'Teslim edilemedi: Kelp',
    text: 'İletiniz şu alıcıya teslim edilemedi:\n\nana@vines.example\n\n550 5.1.1 Unknown user',
  }),
  bounce('a Hungarian server', 'hard', {
    subject: 'Kézbesíthetetlen: Kelp',
    text: 'Az üzenetet nem sikerült kézbesíteni a következő címzettnek:\n\nana@vines.example\n\n550 5.1.1 User unknown',
  }),
  bounce('a Finnish server', 'hard', {
    subject: 'Toimitus epäonnistui',
    text: 'Viestiä ei voitu toimittaa vastaanottajalle ana@vines.example: 550 5.1.1 Tuntematon käyttäjä',
  }),
  bounce('a Korean server', 'hard', {
    subject: '반송 메일',
    text: '메일을 전송하지 못했습니다.\n\nana@vines.example\n\n550 5.1.1 User unknown',
  }),
];
