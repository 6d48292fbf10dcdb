import { describe, expect, it } from 'vitest';
import { automaticReasons } from './auto-reply';
import { EMPTY_MESSAGE, type IncomingMessage } from './incoming-message';
import { ownWords } from './own-words';

const RECEIVED = Date.UTC(2026, 10, 24);
const isOne = (over: Partial<IncomingMessage>) => {
  const message: IncomingMessage = {
    ...EMPTY_MESSAGE,
    ...{ from: 'ana@vines.example', subject: 'Re: Kelp' },
    ...over,
  };
  return automaticReasons(message, ownWords(message.text), RECEIVED).length > 0;
};

describe('an automatic answer', () => {
  it.each<[Record<string, string>]>([
    [{ 'auto-submitted': 'auto-replied' }],
    [{ 'auto-submitted': 'Auto-Replied; owner=ana' }],
    [{ 'auto-submitted': 'auto-generated (rejected)' }],
    [{ 'x-autoreply': 'yes' }],
    [{ 'x-autorespond': 'Away' }],
    [{ precedence: 'auto_reply' }],
  ])('is known by its header %j', (headers) => expect(isOne({ headers })).toBe(true));

  it.each([
    'Out of Office: Kelp',
    'Automatic reply: Kelp',
    'Auto-Reply: Kelp',
    'I am out of the office',
    'Re: Out of the office',
    'On annual leave',
    'Automatische Antwort: Kelp',
    'Abwesenheitsnotiz: Kelp',
    'Abwesend: Kelp',
    'Réponse automatique : Kelp',
    'Absence du bureau',
    'Respuesta automática: Kelp',
    'Fuera de la oficina: Kelp',
    'Risposta automatica: Kelp',
    'Automatisch antwoord: Kelp',
    'Resposta automática: Kelp',
    'Autosvar: Kelp',
    'Automatisk svar: Kelp',
    'Automaattinen vastaus: Kelp',
    'Automatyczna odpowiedź: Kelp',
    'Automatická odpověď: Kelp',
    'Automatikus válasz: Kelp',
    'Автоответ: Kelp',
    'Otomatik yanıt: Kelp',
    '自動返信: Kelp',
    '自动回复: Kelp',
  ])('is known by its subject %j', (subject) => expect(isOne({ subject })).toBe(true));

  it.each([
    'This is an automatic reply. Ana is not here.',
    'Dies ist eine automatisch generierte Antwort.',
    'I am out of the office until 4 December. For urgent matters please contact Eva.',
    'Ich bin bis 4.12. im Urlaub. In dringenden Fällen wenden Sie sich an Eva.',
    'Je suis en congés jusqu’au 4 décembre. En cas d’urgence, vous pouvez contacter Eva.',
    'Estoy fuera de la oficina hasta el 4 de diciembre. Para temas urgentes, contacte con Eva.',
  ])('is known by what it says: %s', (text) => expect(isOne({ text })).toBe(true));
});

describe('an answer of a person', () => {
  it.each([
    'I am out of the office next week, can we talk on 7 December?',
    'I am travelling until Friday, but yes, send a sack.',
    'Please contact Eva, she does the orders.',
    'Yes.\n\nOn Mon, Ines wrote:\n> This is an automatic reply',
  ])('may speak of an absence: %s', (text) => expect(isOne({ text })).toBe(false));

  it.each([[{ 'auto-submitted': 'no' }], [{ 'x-auto-response-suppress': 'All' }], [{ precedence: 'bulk' }]])(
    'may have the header %j',
    (headers) => expect(isOne({ headers: headers as unknown as Record<string, string> })).toBe(false),
  );

  it.each(['Re: Kelp', 'Office supplies', 'Automation of your works', 'Leave it to us'])(
    'may have the subject %j',
    (subject) => expect(isOne({ subject })).toBe(false),
  );
});
