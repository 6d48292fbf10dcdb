import { ANA, bounce } from './bounce-case';
import { ORIGINAL, type MailCase } from './mail-case';

/** Bounces that follow no standard. */
export const FREE_BOUNCES: readonly MailCase[] = [
  bounce('addresses in brackets, each with its reason', 'hard', {
    subject: 'failure notice',
    text: 'Hi. This is the send program at mail.vines.example.\nI’m afraid I wasn’t able to deliver your message to the following addresses.\nThis is a permanent error; I’ve given up. Sorry it didn’t work out.\n\n<ana@vines.example>:\n192.0.2.7 does not like recipient.\nRemote host said: 550 5.1.1 <ana@vines.example>: Recipient address rejected: undeliverable address\nGiving up on 192.0.2.7.\n\n--- Below this line is a copy of the message.\n\nReturn-Path: <ines@tidewaterkelp.example>\nSubject: spam filter for your vines',
  }),
  bounce('a full mailbox in the same style', 'full', {
    subject: 'failure notice',
    text: 'Hi. This is the send program.\nI wasn’t able to deliver your message to the following addresses.\n\n<ana@vines.example>:\nThe user’s mailbox is over quota. (#5.2.2)\n\n--- Below this line is a copy of the message.\n',
  }),
  bounce('an indented address with what a host said', 'blocked', {
    subject: 'Mail delivery failed: returning message to sender',
    text:
      'This message was created automatically by mail delivery software.\n\nA message that you sent could not be delivered to one or more of its\nrecipients. This is a permanent error. The following address(es) failed:\n\n  ana@vines.example\n    host mx.vines.example [192.0.2.7]\n    SMTP error from remote mail server after end of data:\n    554 5.7.1 Spam message rejected\n\n------ This is a copy of the message, including all the headers. ------\n\n' +
      ORIGINAL,
  }),
  bounce('retry timeout exceeded', 'soft', {
    subject: 'Mail delivery failed: returning message to sender',
    text: 'A message that you sent could not be delivered to one or more of its\nrecipients. This is a permanent error. The following address(es) failed:\n\n  ana@vines.example\n    retry timeout exceeded\n',
  }),
  bounce('a warning in that style', 'delayed', {
    subject: 'Warning: message 1kXyz delayed 24 hours',
    text: 'This message was created automatically by mail delivery software.\nA message that you sent has not yet been delivered to one or more of its\nrecipients after more than 24 hours on the queue on mx.tidewaterkelp.example.\n\nThe address to which the message has not yet been delivered is:\n\n  ana@vines.example\n\nNo action is required on your part. Delivery attempts will continue for\nsome time, and this warning may be repeated.',
  }),
  bounce('a transcript', 'hard', {
    subject: 'Returned mail: User unknown',
    text: 'The original message was received at Tue, 24 Nov 2026 08:00:00 GMT\nfrom localhost\n\n   ----- The following addresses had permanent fatal errors -----\n<ana@vines.example>\n\n   ----- Transcript of session follows -----\n... while talking to mx.vines.example.:\n>>> RCPT To:<ana@vines.example>\n<<< 550 ana@vines.example... No such user here\n550 <ana@vines.example>... User unknown',
  }),
  bounce('a transcript with a block list', 'blocked', {
    subject: 'Returned mail: Service unavailable',
    text: '   ----- The following addresses had permanent fatal errors -----\n<ana@vines.example>\n    (reason: 554 5.7.1 Rejected: 192.0.2.9 listed at zone.example)\n\n   ----- Transcript of session follows -----\n... while talking to mx.vines.example.:\n<<< 554 5.7.1 Rejected: 192.0.2.9 listed at zone.example',
  }),
  bounce('delivery has failed to these recipients', 'hard', {
    from: 'postmaster@vines.example',
    subject: 'Undeliverable: Kelp trial for your vines',
    text:
      'Delivery has failed to these recipients or groups:\n\nana@vines.example<mailto:ana@vines.example>\nThe email address you entered couldn’t be found. Please check the recipient’s email address and try to resend the message. If the problem continues, please contact your helpdesk.\n\nDiagnostic information for administrators:\n\nGenerating server: mx.vines.example\n\nana@vines.example\nRemote Server returned ‘550 5.1.10 RESOLVER.ADR.RecipientNotFound; Recipient not found by SMTP address lookup’\n\nOriginal message headers:\n\n' +
      ORIGINAL,
  }),
  bounce('address not found, as a page', 'hard', {
    from: 'Mail Delivery Subsystem <mailer-daemon@post.example>',
    subject: 'Delivery Status Notification (Failure)',
    html: '<html><body><h1>Address not found</h1><p>Your message wasn’t delivered to <b>ana@vines.example</b> because the address couldn’t be found, or is unable to receive mail.</p><p>The response from the remote server was:</p><p>550 5.1.1 User unknown</p></body></html>',
  }),
  bounce('message blocked, as a page', 'blocked', {
    from: 'Mail Delivery Subsystem <mailer-daemon@post.example>',
    subject: 'Delivery Status Notification (Failure)',
    html: '<html><body><h1>Message blocked</h1><p>Your message to <b>ana@vines.example</b> has been blocked. See technical details below for more information.</p><p>The response was:</p><p>550 5.7.1 [192.0.2.9] Our system has detected an unusual rate of unsolicited mail originating from your IP address.</p></body></html>',
  }),
  bounce('an administrator’s report', 'hard', {
    from: 'System Administrator <administrator@vines.example>',
    subject: 'Undeliverable: Kelp trial',
    text: 'Your message\n\n  To:      ana@vines.example\n  Subject: Kelp trial\n  Sent:    Tue, 24 Nov 2026 08:00:00\n\ndid not reach the following recipient(s):\n\nana@vines.example on Tue, 24 Nov 2026 08:01:00\n    The recipient name is not recognized\n\tThe MTS-ID of the original message is: c=US;a= ;p=Vines;l=MX0-1\n    MX0:VINES:SITE 0 (000C05A6) Unknown Recipient',
  }),
  bounce('a directory’s report', 'hard', {
    from: 'Postmaster <postmaster@vines.example>',
    subject: 'DELIVERY FAILURE: User ana (ana@vines.example) not listed in the Directory',
    text: 'Your message\n\n  Subject: Kelp trial\n\nwas not delivered to:\n\n  ana@vines.example\n\nbecause:\n\n  User ana (ana@vines.example) not listed in the Directory',
  }),
  bounce('the rejection of a gateway', 'blocked', {
    from: 'postmaster@gate.vines.example',
    subject: 'Message rejected: Kelp trial',
    text: 'The message you sent to ana@vines.example has been rejected by the recipient’s mail gateway because it was classified as spam.\nYour message was not delivered.\n',
  }),
  bounce('an attachment that is not wanted', 'blocked', {
    from: 'Mail Gateway <mailgate@vines.example>',
    subject: 'Mail delivery failure: prohibited attachment',
    text: 'Your mail to ana@vines.example was not delivered: it contained a prohibited attachment.',
  }),
  bounce('could not be delivered after days', 'soft', {
    subject: 'Delivery failure',
    text: 'The following message could not be delivered to <ana@vines.example> because the destination server could not be reached for 5 days.\nLast error: connection timed out.',
  }),
  bounce('a queue that still tries', 'delayed', {
    subject: 'Delivery Status Notification (Delay)',
    text: 'This is an automatically generated Delivery Status Notification.\n\nTHIS IS A WARNING MESSAGE ONLY.\n\nYOU DO NOT NEED TO RESEND YOUR MESSAGE.\n\nDelivery to the following recipient has been delayed:\n\n     ana@vines.example\n\nMessage will be retried for 2 more day(s)',
  }),
  bounce('permanent failure with technical details', 'hard', {
    subject: 'Delivery Status Notification (Failure)',
    text:
      'Delivery to the following recipient failed permanently:\n\n     ana@vines.example\n\nTechnical details of permanent failure:\nWe tried delivering your message, but it was rejected by the server for the recipient domain vines.example by mx.vines.example. [192.0.2.7].\n\nThe error that the other server returned was:\n550 5.1.1 <ana@vines.example>: Recipient address rejected: User unknown\n\n----- Original message -----\n\n' +
      ORIGINAL,
  }),
  bounce('the original quoted line by line', 'hard', {
    subject: 'Non-delivery report',
    text: 'The following recipients could not be reached:\n\n  ana@vines.example: mailbox does not exist\n\n> From: ines@tidewaterkelp.example\n> To: ana@vines.example\n> Subject: full moon\n> Message-ID: <m1@tidewaterkelp.example>\n> \n> Our mailbox is full of spam',
  }),
  bounce('the original cut off, its To as the only sign', 'hard', {
    subject: 'Returned mail',
    text: 'The user you tried to reach is unknown. Your message was returned to sender.\n\n---- Original message follows ----\n\nFrom: ines@tidewaterkelp.example\nTo: ana@vines.example\nSubj',
  }),
  bounce('in base64', 'hard', {
    encoding: 'base64',
    subject: 'Undeliverable mail',
    text: 'Your message could not be delivered.\n\n<ana@vines.example>: unknown user\n',
  }),
  bounce('in quoted-printable', 'full', {
    encoding: 'quoted-printable',
    subject: 'Undeliverable mail',
    text: 'Your message could not be delivered to the following recipient because the mailbox is over its storage quota at the moment:\n\n<ana@vines.example>: 552 mailbox over quota\n',
  }),
  bounce('an empty return path', 'hard', {
    from: 'Vines Mail <noreply@vines.example>',
    headers: { 'Return-Path': '<>' },
    subject: 'Your message was not delivered',
    text: 'Sorry, ana@vines.example is not a valid address here. Your message could not be delivered.',
  }),
  bounce(
    'failed recipients in the head',
    'hard',
    {
      headers: { 'X-Failed-Recipients': 'ana@vines.example, bo@vines.example' },
      subject: 'Mail delivery failed',
      text: 'all relevant MX records point to non-existent hosts',
    },
    [ANA, 'bo@vines.example'],
  ),
  bounce('German, a web provider', 'hard', {
    subject: 'Mail delivery failed: returning message to sender',
    text: 'Diese Nachricht wurde automatisch von der Mail-Software erzeugt.\n\nLeider konnte Ihre Nachricht an folgende Adressen nicht zugestellt werden:\n\n  ana@vines.example\n\n550 Der Empfänger existiert nicht.\n',
  }),
  bounce('German, an office', 'hard', {
    from: 'postmaster@vines.example',
    subject: 'Unzustellbar: Kelp trial for your vines',
    text: 'Fehler bei der Nachrichtenzustellung an folgende Empfänger oder Gruppen:\n\nana@vines.example\nDie eingegebene E-Mail-Adresse konnte nicht gefunden werden. Überprüfen Sie die E-Mail-Adresse des Empfängers.\n\nDiagnoseinformationen für Administratoren:\n\nRemote Server returned ‘550 5.1.10 RESOLVER.ADR.RecipientNotFound’',
  }),
  bounce('German, full', 'full', {
    subject: 'Nachricht nicht zugestellt',
    text: 'Ihre Nachricht an ana@vines.example konnte nicht zugestellt werden, da das Postfach des Empfängers voll ist.',
  }),
  bounce('German, delayed', 'delayed', {
    subject: 'Zustellung verzögert',
    text: 'Ihre Nachricht an ana@vines.example wurde noch nicht zugestellt. Der Server wird weitere Zustellversuche unternehmen.',
  }),
  bounce('French, an office', 'hard', {
    from: 'postmaster@vines.example',
    subject: 'Non remis : Kelp trial for your vines',
    text: 'Échec de la remise pour ces destinataires ou groupes :\n\nana@vines.example\nL’adresse de courrier que vous avez entrée est introuvable. Vérifiez l’adresse du destinataire.',
  }),
  bounce('French, a provider', 'hard', {
    subject: 'Votre message n’a pas été distribué',
    text: 'Votre message n’a pu être délivré aux destinataires suivants :\n\nana@vines.example\n550 Adresse inconnue / utilisateur inconnu',
  }),
  bounce('French, full', 'full', {
    subject: 'Échec de la distribution',
    text: 'Votre message n’a pas pu être remis à ana@vines.example : la boîte du destinataire est pleine.',
  }),
  bounce('Spanish', 'hard', {
    from: 'postmaster@vines.example',
    subject: 'No se puede entregar: Kelp trial',
    text: 'Error de entrega a los siguientes destinatarios o grupos:\n\nana@vines.example\nNo se ha encontrado la dirección de correo electrónico especificada.',
  }),
  bounce('Spanish, full', 'full', {
    subject: 'Mensaje devuelto',
    text: 'No se pudo entregar su mensaje a ana@vines.example: el buzón del destinatario está lleno.',
  }),
  bounce('Italian', 'hard', {
    subject: 'Mancato recapito',
    text: 'Impossibile recapitare il messaggio al seguente destinatario:\n\nana@vines.example\n\nIndirizzo inesistente.',
  }),
  bounce('Dutch', 'hard', {
    from: 'postmaster@vines.example',
    subject: 'Onbestelbaar: Kelp trial',
    text: 'De bezorging is mislukt voor deze geadresseerden:\n\nana@vines.example\nHet opgegeven e-mailadres bestaat niet.',
  }),
  bounce('Portuguese', 'hard', {
    from: 'postmaster@vines.example',
    subject: 'Não é possível entregar: Kelp trial',
    text: 'Falha na entrega a estes destinatários ou grupos:\n\nana@vines.example\nO endereço de email que você inseriu não foi encontrado.',
  }),
  bounce('Swedish', 'hard', {
    from: 'postmaster@vines.example',
    subject: 'Kan inte levereras: Kelp trial',
    text: 'Det gick inte att leverera till dessa mottagare:\n\nana@vines.example\nE-postadressen hittades inte. Mottagaren finns inte.',
  }),
  bounce('Danish', 'hard', {
    from: 'postmaster@vines.example',
    subject: 'Kan ikke leveres: Kelp trial',
    text: 'Levering mislykkedes til disse modtagere:\n\nana@vines.example\nDen mailadresse, du har angivet, blev ikke fundet.',
  }),
  bounce('Polish', 'hard', {
    subject: 'Nie można dostarczyć wiadomości',
    text: 'Nie udało się dostarczyć wiadomości do:\n\nana@vines.example\n\nAdres nie istnieje.',
  }),
  bounce('Czech', 'hard', {
    subject: 'Nedoručitelné: Kelp trial',
    text: 'Zprávu nebylo možné doručit těmto příjemcům:\n\nana@vines.example\nAdresa neexistuje.',
  }),
  bounce('Russian', 'hard', {
    subject: 'Недоставленное сообщение',
    text: 'Ваше сообщение не может быть доставлено.\n\n<ana@vines.example>: пользователь не найден',
  }),
  bounce('Chinese', 'hard', {
    from: 'postmaster@vines.example',
    subject: '系统退信',
    text: '抱歉，您的邮件被退回来了……\n\n收件人邮件地址（ana@vines.example）不存在，邮件无法送达。',
  }),
  bounce('Japanese', 'hard', {
    subject: 'メール配信エラー',
    text: '次の宛先へのメールを配信できませんでした。\n\nana@vines.example\n\n宛先のユーザーが見つかりません。',
  }),
  bounce('a mailing gateway with a code in signs', 'hard', {
    from: 'postmaster@vines.example',
    subject: 'Delivery Status Notification (Failure)',
    text: 'This is an automatically generated Delivery Status Notification.\n\nDelivery to the following recipients failed.\n\n       ana@vines.example\n\n #< #5.1.1 smtp;550 5.1.1 unknown user> #SMTP#',
  }),
  bounce('sender verification failed', 'sender', {
    subject: 'Mail delivery failed',
    text: 'A message that you sent could not be delivered. The following address failed:\n\n  ana@vines.example\n    SMTP error from remote mail server after RCPT TO:<ana@vines.example>:\n    550 Sender verify failed\n',
  }),
  bounce('our own limit', 'sender', {
    from: 'Mail Delivery Subsystem <mailer-daemon@post.example>',
    subject: 'Delivery Status Notification (Failure)',
    text: 'You have reached a limit for sending mail. Your message was not sent to ana@vines.example.\n\nYou exceeded the number of recipients allowed per day: sending limit reached.',
  }),
  bounce('greylisted until it gave up', 'greylisted', {
    subject: 'Undeliverable: Kelp',
    text: 'Your message to <ana@vines.example> could not be delivered.\n\nThe mail server answered: 451 4.7.1 Greylisted, try again in 300 seconds',
  }),
  bounce('by an alias of ours in the text', 'hard', {
    to: 'ines@tidewaterkelp.example',
    subject: 'Undeliverable',
    text: 'Message from ines@tidewaterkelp.example to ana@vines.example could not be delivered: no such recipient.',
  }),
];
