import { drawFor, type Persona } from './persona';

const ANSWERS: Partial<Record<Persona, readonly string[]>> = {
  keen: [
    'Thank you, that sounds useful. Could you send the soil results, and what a pallet costs with delivery?',
    'Yes, we would try it on two rows. When could you deliver?',
    'Good timing, we are planning the spring feed now. Can we talk on Thursday morning?',
    'Could you bring two pallets before pruning?',
  ],
  curious: [
    'Sorry for the late answer. Please send me the soil results.',
    'I had put this aside. Yes, a sack to try would be welcome.',
  ],
  decliner: [
    'Thank you, but we have a supplier we are happy with.',
    'Not for us this year, sorry.',
    'We do not use kelp here. All the best.',
  ],
  referrer: [
    'I am not the right person for this. Please write to our buyer, Robin Vale, robin.vale@harbourlane.example.',
    'This is for the cellar master: mo.lindqvist@coastcellars.example.',
  ],
  inline: ['Two rows at first, please.', 'In March, before the buds.'],
  foreigner: [
    'Vielen Dank, das klingt interessant. Bitte schicken Sie uns ein Muster.',
    'Merci, cela nous intéresse. Pouvez-vous nous envoyer vos prix ?',
    'Gracias, nos interesa. ¿Cuánto cuesta un palé?',
  ],
  elsewhere: ['I am writing from my other address: yes, please send a sack to try.'],
  asks_out: ['Please remove me from your list.', 'Unsubscribe me, please.'],
};

/** What a person of this kind writes; the same for the same person and mail. */
export function answerOf(persona: Persona, seed: number, what: string): string {
  const texts = ANSWERS[persona] ?? ['Thank you.'];
  return texts[Math.floor(drawFor(seed, `words ${what}`) * texts.length)] as string;
}
