import { inShort } from './in-short';
import type { IncomingMessage } from './incoming-message';
import { returnDate } from './absence/return-date';

/** Headers that only automatic answers have; RFC 3834 knows one, the others grew. */
const HEADERS: readonly string[] = [
  'x-autoreply',
  'x-autoreply-from',
  'x-autorespond',
  'x-autoresponder',
  'x-mail-autoreply',
  'x-vacation',
  'auto-reply',
];

/** Subjects that programs give to them, at their head. */
const SUBJECT =
  /^\s*(?:(?:re|aw|sv|rv|fwd?)\s*:\s*)*\[?(?:(?:i(?:['’]m| am) )?(?:out of (?:the )?office|ooo\b|away from (?:the |my )?(?:office|desk|mail|e-?mail))|auto(?:matic|mated)?[- ]?(?:reply|response|answer|responder)|on (?:annual |parental |maternity |paternity |sick )?(?:leave|vacation|holiday)\b|vacation (?:reply|message|notice|response)|absence (?:notice|notification|message)|(?:automatische |auto[- ]?)(?:antwort|mitteilung)|abwesen(?:heit|d)|abwesenheits\p{L}*|nicht im (?:büro|haus)|urlaubs\p{L}*|(?:ich bin )?im urlaub|réponse automatique|réponse d['’]absence|message d['’]absence|absence(?: du bureau)?\b|absente? (?:du bureau|jusqu|pour)|respuesta autom[áa]tica|fuera de (?:la )?oficina|ausente|de vacaciones|risposta automatica|fuori (?:ufficio|sede)|assente|automatisch (?:antwoord|bericht)|afwezig\p{L}*|niet aanwezig|resposta autom[áa]tica|ausência|fora do escritório|autosvar|automatiskt svar|frånvaro\p{L}*|automatisk svar|fravær\p{L}*|ikke på kontoret|automaattinen (?:vastaus|poissaolo)\p{L}*|poissa(?:olo)?\p{L}*|automatyczna odpowied[źz]|odpowied[źz] automatyczna|nieobecno\p{L}*|poza biurem|automatická odpověď|mimo kancelář|nepřítomnost|automatikus válasz|házon kívül|răspuns automat|автоответ|автоматический ответ|автоматична відповідь|отсутствую|αυτόματη απάντηση|εκτός γραφείου|otomatik (?:yanıt|cevap)|ofis dışı|自動返信|自動応答|不在|自动回复|自動回覆|자동 ?(?:응답|회신))/iu;

/** A message that says of itself what it is. */
const SAYS_SO =
  /\bthis is an? (?:automat(?:ic|ed)(?:ally[- ]generated)?|auto)[- ]?(?:reply|response|message|e-?mail|answer)|\b(?:automatically generated (?:reply|response|message|e-?mail)|do not reply to this (?:automat|message|e-?mail))|\bdies ist eine automatisch(?:e| generierte| erstellte) (?:antwort|nachricht|mitteilung|e-?mail)|ceci est (?:un message|une réponse) automatique|(?:este es un mensaje|respuesta) autom[áa]tic[oa]|(?:questo è un messaggio|risposta) automatic[oa]|dit is een automatisch|esta é uma (?:resposta|mensagem) automática|detta är ett automatiskt|dette er (?:et|en) automatisk|tämä on automaattinen|to jest (?:automatyczna|wiadomość automatyczna)|toto je automatick|ez egy automatikus|это автоматическ|このメールは自動|这是自动|自动回复/iu;

/** Somebody says that they are not there. */
const AWAY =
  /\b(?:out of (?:the )?office|(?:am|will be) (?:currently |now )?(?:away|out|on (?:\p{L}+ )?(?:leave|holiday|vacation)|travell?ing|unavailable|absent)|i(?:['’]m) (?:currently )?(?:away|out of|on (?:\p{L}+ )?(?:leave|holiday|vacation)))\b|(?:bin|befinde mich) .{0,60}?(?:nicht im (?:büro|haus)|abwesend|im urlaub|außer haus|in elternzeit|nicht erreichbar)|(?:je suis|serai) .{0,30}(?:absente?|en congés?|en vacances|en déplacement)|(?:estoy|estaré|me encuentro) .{0,30}(?:fuera|ausente|de vacaciones)|(?:sono|sarò) .{0,30}(?:assente|in ferie|fuori (?:ufficio|sede))|(?:ik ben|ben ik) .{0,40}(?:afwezig|met vakantie|op vakantie|niet (?:aanwezig|bereikbaar))|(?:estou|estarei) .{0,30}(?:ausente|de férias|fora)|jag (?:är|har) .{0,30}(?:semester|ledig|inte på kontoret|bortrest)|jeg (?:er|har|holder) .{0,30}(?:ferie|ikke på kontoret|fraværende)|olen .{0,30}(?:lomalla|poissa)|(?:jestem|przebywam) .{0,30}(?:urlopie|nieobecn|poza biurem)|jsem .{0,30}(?:dovolené|mimo kancelář|nepřítom)|szabadságon vagyok|(?:я |нахожусь )?(?:в отпуске|отсутствую)|不在に|休暇|休假|不在办公室/iu;
/** What else such messages say, and people who write themselves seldom. */
const ALSO =
  /\b(?:urgent|urgency|emergenc|limited access|no access to|not (?:be )?(?:checking|reading|monitor)|as soon as (?:i|possible)|upon my return|when i (?:return|am back)|in my absence|will (?:not )?be (?:forwarded|read)|please contact)|(?:dringend|in meiner abwesenheit|nicht weitergeleitet|wenden sie sich|vertretung|schnellstmöglich)|(?:urgence|urgent|en mon absence|dès mon retour|vous pouvez contacter)|(?:urgente|en mi ausencia|a mi regreso|acceso limitado|contacte con)|(?:urgenze|in mia assenza|al mio rientro|contattare)|(?:dringend|spoed|bij afwezigheid|contact opnemen met)|(?:brådskande|akut|i min frånvaro)|(?:haster|i mit fravær|i mitt fravær)|(?:pilnych|pilne|podczas mojej nieobecności)|(?:neodkladn|naléhav)|(?:sürgős|távollétem)|(?:срочн)/iu;

/** Longer than this is written by hand. */
const MOST_LETTERS = 1500;

/** Whether a text says that somebody is not there. */
export const saysAway = (text: string): boolean => AWAY.test(text) || ABSENT.test(text);
/** Subjects that are only for absences. */
const ABSENT =
  /out of (?:the )?office|\b(?:vacation|holiday|annual leave|parental leave|maternity|paternity|sick leave|absence|ooo)\b|abwesen|urlaub|elternzeit|\babsen(?:ce|te?)\b|en congé|vacances|fuera de (?:la )?oficina|ausente|ausencia|vacaciones|fuori (?:ufficio|sede)|assente|ferie|afwezig|vakantie|ausência|férias|frånvar|semester|fravær|poissa|nieobecn|urlop|nepřítom|dovolen|szabadság|отсутств|отпуск|εκτός γραφείου|izinde|不在|休暇|休假|부재/iu;

/**
 * Why a message is taken for an automatic answer: by its headers (RFC 3834 and its unofficial kin), its subject, or what it
 * says; [] for one that is none. Without header or subject it takes several signs, since people say of themselves that they
 * are away, too.
 *
 * @param own its own words, see `ownWords`
 * @param receivedMs when it came in, epoch ms UTC
 */
export function automaticReasons(message: IncomingMessage, own: string, receivedMs: number): string[] {
  const h = message.headers;
  const reasons: string[] = [];
  const submitted = h['auto-submitted']
    ?.replace(/[;(].*/s, '')
    .trim()
    .toLowerCase();
  if (submitted && submitted !== 'no') reasons.push(`its header Auto-Submitted says ${submitted} (RFC 3834)`);
  for (const name of HEADERS) if (h[name]) reasons.push(`it has the header ${name}`);
  if (/^auto[-_]reply$/i.test((h['precedence'] ?? h['x-precedence'] ?? h['preference'])?.trim() ?? ''))
    reasons.push('its header Precedence says so');
  if (SUBJECT.test(message.subject)) reasons.push(`its subject begins “${inShort(message.subject)}”`);
  if (reasons.length > 0) return reasons;
  const says = SAYS_SO.exec(own.slice(0, MOST_LETTERS));
  if (says) return [`it says of itself “${says[0]}”`];
  const away = own.length <= MOST_LETTERS && !/[?？]/u.test(own) ? AWAY.exec(own) : null;
  if (away && ALSO.test(own) && returnDate(own, receivedMs) !== null)
    return [`it says “${away[0]}”, until when, and what to do meanwhile`];
  return [];
}
