import { describe, expect, it } from 'vitest';
import { ownWords } from './own-words';
import { wantsOut } from './wants-out';

const wants = (text: string, subject = 'Re: Kelp for your vines') => wantsOut(subject, ownWords(text)) !== null;

describe('a wish to be left alone', () => {
  it.each([
    ['STOP'],
    ['stop.'],
    ['Unsubscribe'],
    ['unsubscribe please'],
    ['Hello Ines,\n\nSTOP\n\nAna'],
    ['Remove me'],
    ['Please remove me from your list.'],
    ['Kindly remove my email address from your database.'],
    ['Please take my address\noff your list, thank you.'],
    ['Take us off your mailing list'],
    ['Please unsubscribe me from these mails.'],
    ['please don’t send any more'],
    ['Never contact me again.'],
    ['Don’t contact us again'],
    ['Please do not write to us again.'],
    ['Stop emailing me.'],
    ['Hi, please stop sending these messages.'],
    ['I no longer wish to receive your emails.'],
    ['We don’t want to be contacted.'],
    ['No more mails please'],
    ['I would like to opt out.'],
    ['How do I unsubscribe?'],
    ['Leave us alone!'],
    ['Piss off.'],
    ['Delete my data in line with Art. 17 GDPR.'],
    ['Cease all contact.'],
    ['Bitte abmelden'],
    ['Bitte nehmen Sie mich aus dem Verteiler.'],
    ['keine weiteren Mails'],
    ['Bitte keine Werbung mehr.'],
    ['Schreiben Sie mir bitte nicht mehr.'],
    ['Ich möchte keine E-Mails mehr von Ihnen erhalten.'],
    ['Löschen Sie bitte meine Adresse.'],
    ['Lassen Sie mich in Ruhe.'],
    ['Ich widerspreche der Nutzung meiner Daten.'],
    ['Merci de ne plus me contacter.'],
    ['Veuillez me désinscrire.'],
    ['Retirez-moi de votre liste.'],
    ['Je ne souhaite plus recevoir vos mails.'],
    ['Laissez-nous tranquilles'],
    ['Por favor, denme de baja.'],
    ['Quiero darme de baja'],
    ['No me escriban más.'],
    ['No deseo recibir más correos.'],
    ['Elimine mi dirección, por favor.'],
    ['Cancellatemi dalla lista.'],
    ['Non scrivetemi più.'],
    ['Non desidero ricevere altre mail.'],
    ['Graag uitschrijven'],
    ['Haal mij van de lijst.'],
    ['Ik wil geen mails meer ontvangen.'],
    ['Não quero receber mais e-mails.'],
    ['Remova-me da lista.'],
    ['Ta bort mig från listan.'],
    ['Skicka inte fler mejl.'],
    ['Fjern meg fra listen.'],
    ['Afmeld mig'],
    ['Poistakaa osoitteeni listalta.'],
    ['Proszę usunąć mój adres.'],
    ['Nie chcę otrzymywać takich wiadomości.'],
    ['Odstraňte mě ze seznamu.'],
    ['Ne küldjön több levelet.'],
    ['Удалите меня из рассылки.'],
    ['Больше не пишите мне.'],
    ['Διαγράψτε με από τη λίστα.'],
    ['Lütfen bir daha yazmayın.'],
    ['配信停止をお願いします。'],
    ['请退订'],
  ])('%s', (text) => expect(wants(text)).toBe(true));

  it('may stand in the subject, whatever the answer says', () => {
    expect(wants('Sent from my phone', 'Unsubscribe')).toBe(true);
    expect(wants('', 'RE: STOP')).toBe(true);
    expect(wants('', 'AW: Abmelden')).toBe(true);
  });

  it('may stand below what is quoted, and above an attribution over two lines', () => {
    expect(wants('On Mon, Ines wrote:\n> Would it be of use?\n\nPlease take me off your list.')).toBe(true);
    expect(
      wants('STOP\n\nOn Monday, November 23, 2026 at 10:12 AM Ines Aldrich\n<ines@tidewaterkelp.example> wrote:\n> Hi'),
    ).toBe(true);
  });
});

describe('what only has its words', () => {
  it.each([
    ['I don’t write the orders myself, please call Eva.'],
    ['Could you remove this logo from the brochure?'],
    ['Yes please.\n\n*From:* Ines Aldrich\n*Sent:* Monday\nTo leave: unsubscribe'],
    ['Oui.\n\nDe : Ines Aldrich\nEnvoyé : lundi\nPour vous désabonner, répondez STOP'],
    ['Yes.\n\n-- \nVines Ltd\nTo unsubscribe from our newsletter click here'],
    ['Yes.\n\nTo unsubscribe from our newsletter, click here: https://vines.example/u'],
    ['Please don’t unsubscribe me, I am just busy.'],
    ['I do not want to be a bother, but can you send the price?'],
    ['Don’t write us off yet, we may buy in spring.'],
    ['Not interested, thanks.'],
    ['I never signed up for your news, but this is of use.'],
    ['Please stop by when you are in the valley.'],
    ['Please do not send the samples before March.'],
    ['Does your kelp stop the leaves from yellowing?'],
    ['We removed the old vines last year.'],
    ['You wrote “answer with unsubscribe to be removed from the list”: how many do?'],
    ['Kein Interesse, danke.'],
    ['Bitte senden Sie uns keine Muster vor März, sondern den Preis.'],
    ['Wir löschen gerade die alten Bestände.'],
    ['Pas intéressé, merci.'],
    ['No nos interesa, gracias.'],
    ['No me escriba a este número, mejor al fijo.'],
    ['Non siamo interessati.'],
    ['Geen interesse.'],
    ['Please remove the second pallet from the offer.'],
    ['Can you take us through the numbers?'],
    ['I will take this off the table for now.'],
    ['Nie, dziękuję.'],
    ['We stopped sending our must to them.'],
    ['I have opted for the smaller sack.'],
  ])('%s', (text) => expect(wants(text)).toBe(false));
});

it('takes as long for a hostile text as for any other', () => {
  for (const evil of [
    'please '.repeat(20_000),
    'remove my '.repeat(10_000),
    '"'.repeat(50_000),
    'nicht '.repeat(20_000),
    'a'.repeat(99_000),
  ])
    expect(wants(evil)).toBe(false);
});
