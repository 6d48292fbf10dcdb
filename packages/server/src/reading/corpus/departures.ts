import type { NewContact } from '@baton/core';
import { ANSWERS, written, type MailCase, type Written } from './mail-case';

const BO = { name: 'Bo Lind', address: 'bo@vines.example' };

const left = (text: string, contact: Partial<NewContact> = BO, w: Written = {}): MailCase => ({
  name: `left: ${text.slice(0, 70)}`,
  kind: 'left',
  contact,
  raw: written({
    subject: 'Automatic reply: Kelp',
    text,
    headers: { 'Auto-Submitted': 'auto-replied', ...ANSWERS },
    ...w,
  }),
});
const byHand = { subject: 'Re: Kelp', headers: ANSWERS, from: 'Vines Office <office@vines.example>' };
const moved = (text: string, address: string, w: Written = {}): MailCase => ({
  name: `address: ${text.slice(0, 70)}`,
  kind: 'address_changed',
  contact: { address },
  raw: written({
    subject: 'Automatic reply: Kelp',
    text,
    headers: { 'Auto-Submitted': 'auto-replied', ...ANSWERS },
    ...w,
  }),
});

/** People who left, and people whose address is another. */
export const DEPARTURES: readonly MailCase[] = [
  left('Ana Reyes no longer works at Vines. Please contact Bo Lind at bo@vines.example.'),
  left(
    'I have left the company. Please direct your enquiry to Bo Lind (bo@vines.example), our new head of purchasing.',
    { ...BO, role: 'head of purchasing' },
  ),
  left(
    'Thank you for your email. As of 1 November I am no longer with Vines. For purchasing matters please write to my successor Bo Lind, bo@vines.example.',
  ),
  left('Ana is no longer with us. Her replacement is Bo Lind, Purchasing Manager: bo@vines.example', {
    ...BO,
    role: 'Purchasing Manager',
  }),
  left('Please note that I have retired. Kindly contact Bo Lind <bo@vines.example> instead.'),
  left('Ana Reyes has left the organisation. Your message has not been forwarded.', {}),
  left('My last day at Vines was 30 October. bo@vines.example (Bo Lind) has taken over.'),
  left('This employee is no longer employed by Vines. Contact: Bo Lind, Cellar Master, bo@vines.example', {
    ...BO,
    role: 'Cellar Master',
  }),
  left('Ana left us in May. You could try Bo Lind, bo@vines.example, who does the buying now.', BO, byHand),
  left('Hello, Ana no longer works here. Please take this up with Bo Lind (bo@vines.example).', BO, byHand),
  left('Frau Reyes ist nicht mehr bei uns beschäftigt. Bitte wenden Sie sich an Herrn Bo Lind (bo@vines.example).'),
  left(
    'Ich arbeite nicht mehr für die Vines GmbH. Meine Nachfolgerin ist Bo Lind, Leiterin Einkauf, bo@vines.example.',
    { ...BO, role: 'Leiterin Einkauf' },
  ),
  left(
    'Ana Reyes hat das Unternehmen zum 31. Oktober verlassen. Ihr Ansprechpartner ist ab sofort Bo Lind, bo@vines.example.',
  ),
  left('Je ne travaille plus chez Vines. Veuillez contacter Bo Lind à l’adresse bo@vines.example.'),
  left('Ana Reyes a quitté l’entreprise. Merci de vous adresser à Bo Lind, responsable des achats : bo@vines.example', {
    ...BO,
    role: 'responsable des achats',
  }),
  left('Ya no trabajo en Vines. Por favor, contacte con Bo Lind en bo@vines.example.'),
  left(
    'Ana Reyes ha dejado la empresa. Para cualquier consulta, diríjase a Bo Lind, jefe de compras (bo@vines.example).',
    { ...BO, role: 'jefe de compras' },
  ),
  left('Ana Reyes non lavora più in azienda. Può contattare Bo Lind: bo@vines.example.'),
  left('Ana Reyes is niet meer werkzaam bij Vines. Neem contact op met Bo Lind via bo@vines.example.'),
  left('Já não trabalho na Vines. Por favor contacte Bo Lind, bo@vines.example.'),
  left('Ana har slutat hos oss. Kontakta Bo Lind på bo@vines.example.'),
  left('Ana er ikke længere ansat hos os. Kontakt venligst Bo Lind på bo@vines.example.'),
  left('Ana Reyes już nie pracuje w naszej firmie. Proszę o kontakt z Bo Lind: bo@vines.example'),
  left('Ana Reyes už u nás nepracuje. Kontaktujte prosím Bo Lind, bo@vines.example.'),
  left('Ана больше не работает в нашей компании. Пишите на bo@vines.example.', { address: 'bo@vines.example' }),
  left('退職いたしました。後任は Bo Lind (bo@vines.example) です。', { address: 'bo@vines.example' }),
  moved(
    'My email address has changed. Please write to ana.reyes@reyesvines.example from now on.',
    'ana.reyes@reyesvines.example',
  ),
  moved('Please note my new email address: ana@reyesvines.example', 'ana@reyesvines.example'),
  moved('This mailbox is no longer monitored. Please use ana@reyesvines.example.', 'ana@reyesvines.example'),
  moved('I no longer use this address. You can reach me at ana@reyesvines.example.', 'ana@reyesvines.example', byHand),
  moved(
    'We have changed our domain. My new address is ana@reyesvines.example. Please update your records.',
    'ana@reyesvines.example',
  ),
  moved(
    'Meine neue E-Mail-Adresse lautet ana@reyesvines.example. Bitte aktualisieren Sie Ihr Adressbuch.',
    'ana@reyesvines.example',
  ),
  moved('Diese Adresse wird nicht mehr gelesen. Neue E-Mail-Adresse: ana@reyesvines.example', 'ana@reyesvines.example'),
  moved('Mon adresse électronique a changé : ana@reyesvines.example', 'ana@reyesvines.example'),
  moved('He cambiado de correo. Mi nueva dirección es ana@reyesvines.example.', 'ana@reyesvines.example'),
  moved('Il mio indirizzo è cambiato. Il nuovo indirizzo è ana@reyesvines.example.', 'ana@reyesvines.example'),
  moved('Mijn e-mailadres is gewijzigd. Mijn nieuwe e-mailadres is ana@reyesvines.example.', 'ana@reyesvines.example'),
  moved('Jag har en ny e-postadress: ana@reyesvines.example', 'ana@reyesvines.example'),
];
