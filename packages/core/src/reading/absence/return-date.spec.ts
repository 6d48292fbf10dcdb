import { describe, expect, it } from 'vitest';
import { returnDate } from './return-date';

/** A Tuesday. */
const RECEIVED = Date.UTC(2026, 10, 24, 10);
const back = (text: string) => returnDate(text, RECEIVED);

describe('the day on which somebody is back', () => {
  it.each([
    ['I am out of the office and back on 7 December.', '2026-12-07'],
    ['I will return on Monday, December 7th, 2026.', '2026-12-07'],
    ['I’m away and will be back in the office on 7th of December.', '2026-12-07'],
    ['I am on holiday, returning 12/07/2026.', '2026-12-07'],
    ['Back on 2026-12-09.', '2026-12-09'],
    ['Back on 3 January', '2027-01-03'],
    ['I shall be back on Thursday.', '2026-11-26'],
    ['I will be back on Tuesday.', '2026-12-01'],
    ['I am travelling and back in two weeks.', '2026-12-08'],
    ['I return tomorrow.', '2026-11-25'],
    ['I am away this week and back next week.', '2026-11-30'],
    ['I’ll be back on Wednesday next week.', '2026-12-02'],
    ['I am back in week 50.', '2026-12-07'],
    ['From 1 December I am on leave; I am back on 14 December.', '2026-12-14'],
    ['I am out of office from 23 November and will be back on 30 November.', '2026-11-30'],
    ['Ich bin ab dem 7.12. wieder im Büro.', '2026-12-07'],
    ['Ich bin am 7. Dezember wieder für Sie da.', '2026-12-07'],
    ['Ab Montag, den 7. Dezember 2026, bin ich zurück.', '2026-12-07'],
    ['Ich bin in zwei Wochen wieder da.', '2026-12-08'],
    ['Ich bin ab KW 50 wieder erreichbar.', '2026-12-07'],
    ['Ich bin ab Donnerstag wieder erreichbar.', '2026-11-26'],
    ['Je serai de retour le 7 décembre.', '2026-12-07'],
    ['Absente, de retour le lundi 7 décembre 2026.', '2026-12-07'],
    ['Je serai de retour lundi.', '2026-11-30'],
    ['Vuelvo el 7 de diciembre.', '2026-12-07'],
    ['Estaré de vuelta el lunes 7 de diciembre de 2026.', '2026-12-07'],
    ['Sarò di ritorno il 7 dicembre.', '2026-12-07'],
    ['Rientro lunedì 7 dicembre.', '2026-12-07'],
    ['Ik ben op 7 december terug.', '2026-12-07'],
    ['Estarei de volta a 7 de dezembro.', '2026-12-07'],
    ['Jag är tillbaka den 7 december.', '2026-12-07'],
    ['Jeg er tilbage mandag den 7. december.', '2026-12-07'],
    ['Jeg er tilbake uke 50.', '2026-12-07'],
    ['Palaan töihin 7.12.2026.', '2026-12-07'],
    ['Wracam 7 grudnia.', '2026-12-07'],
    ['Budu zpět 7. prosince.', '2026-12-07'],
    ['2026. december 7-én vagyok vissza.', '2026-12-07'],
    ['Вернусь 7 декабря.', '2026-12-07'],
    ['12月7日に復帰します。', '2026-12-07'],
  ])('%s', (text, day) => expect(back(text)).toBe(day));
});

describe('the last day of an absence is the one before', () => {
  it.each([
    ['I am away until Friday 4 December.', '2026-12-07'],
    ['I am away until 4 December inclusive.', '2026-12-07'],
    ['I am on leave through December 9.', '2026-12-10'],
    ['I am away from 1 to 4 December.', '2026-12-07'],
    ['I am away 1–9 December.', '2026-12-10'],
    ['I am out of the office from 24/11/2026 to 02/12/2026.', '2026-12-03'],
    ['Ich bin bis einschließlich 4. Dezember nicht im Büro.', '2026-12-07'],
    ['Ich bin vom 24.11. bis zum 2.12.2026 im Urlaub.', '2026-12-03'],
    ['Ich bin bis 02.12.2026 abwesend.', '2026-12-03'],
    ['Je suis absente jusqu’au 4 décembre inclus.', '2026-12-07'],
    ['Je suis en congé du 1er au 9 décembre.', '2026-12-10'],
    ['Estaré ausente hasta el 9 de diciembre.', '2026-12-10'],
    ['Estaré fuera del 1 al 9 de diciembre.', '2026-12-10'],
    ['Sono assente fino al 9 dicembre.', '2026-12-10'],
    ['Ik ben afwezig t/m 9 december.', '2026-12-10'],
    ['Estou ausente até 9 de dezembro.', '2026-12-10'],
    ['Jag har semester t.o.m. den 9 december.', '2026-12-10'],
    ['Jeg holder ferie til og med 9. december.', '2026-12-10'],
    ['Jestem na urlopie do 9 grudnia.', '2026-12-10'],
    ['Я в отпуске до 9 декабря.', '2026-12-10'],
    ['I am out of the office on 25 November.', '2026-11-26'],
    ['I am away until Friday.', '2026-11-30'],
  ])('%s', (text, day) => expect(back(text)).toBe(day));

  it('but nobody’s absence ends with a Monday', () => {
    expect(back('I am away until 7 December.')).toBe('2026-12-07');
    expect(back('I am away until Monday.')).toBe('2026-11-30');
    expect(back('I am away up to and including 7 December.')).toBe('2026-12-08');
  });

  it('is not what counts where both are said', () => {
    expect(back('I am away until 4 December. I am back on 9 December.')).toBe('2026-12-09');
    expect(back('Ich bin vom 1.12. bis 4.12. abwesend und am 8.12. wieder erreichbar.')).toBe('2026-12-08');
  });
});

describe('no day is found', () => {
  it.each([
    ['I am out of the office with no access to mail.'],
    ['Call +44 20 7946 0012 or write to 12/3 Slip Road.'],
    ['Back on 31 February.'],
    ['We are back to you as soon as we can.'],
    ['I may 7 times say no.'],
    ['Office hours: 9.00-17.00'],
  ])('%s', (text) => expect(back(text)).toBeNull());
});

it('takes as long for a hostile text as for any other', () => {
  const found = ['until '.repeat(20_000), '1.'.repeat(50_000), '7 '.repeat(50_000), 'bis zum '.repeat(10_000)].map(
    back,
  );
  expect(found).toEqual([null, null, null, null]);
  expect(back('back 1/2/'.repeat(10_000))).toBeNull();
});
