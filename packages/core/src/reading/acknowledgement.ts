import { addressOf } from './address-of';
import type { IncomingMessage } from './incoming-message';

/** Says that a message arrived. */
const RECEIVED =
  /\b(?:(?:we|i)(?:'ve| have)? (?:successfully )?received your (?:recent )?(?:e-?mail|message|enquiry|inquiry|request|query|mail|application|order|submission|ticket)|your (?:e-?mail|message|request|enquiry|inquiry|ticket|case|incident|query|application|order|submission|mail)(?: \S*\d\S*)? (?:has been|was|is) (?:successfully )?(?:received|logged|created|opened|registered|assigned|forwarded|queued|submitted)|(?:thank you|thanks)(?: very much| so much)? for (?:contacting|your (?:recent )?(?:e-?mail|message|enquiry|inquiry|request|query|interest|mail|application|feedback)|getting in touch|reaching out|writing(?: to)?|e-?mailing|submitting)|your (?:e-?mail|message|enquiry|inquiry|request) has (?:safely )?(?:reached us|arrived|come in)|we(?:'ve| have)? (?:just )?(?:got|received|noted) your (?:e-?mail|message|enquiry|inquiry|request|mail)|(?:acknowledge|confirm)(?:s|ing)? (?:the )?receipt|(?:a )?(?:support )?(?:ticket|case|request) (?:has been|was) (?:created|opened|logged|received)|(?:ticket|case|reference|request) (?:id|number|no\.?|#))|(?:wir haben|ich habe) ihre .{0,30}(?:erhalten|bekommen)|(?:vielen|besten|herzlichen) dank für (?:ihre|die) (?:nachricht|anfrage|e-?mail|mail|kontaktaufnahme|mitteilung|zuschrift|bewerbung)|danke für (?:ihre|deine|eure) (?:nachricht|anfrage|e-?mail|mail)|ist bei uns eingegangen|eingangsbestätigung|(?:ticket|vorgangs|fall)-?nummer|(?:nous avons|j'ai) bien reçu (?:votre|ta)|votre (?:message|demande|courriel|mail|e-?mail) (?:a (?:bien )?été (?:reçu|enregistré|pris)|nous est bien)|accusé de réception|merci (?:de|pour) (?:nous avoir contacté|votre (?:message|demande|mail|courriel))|hemos recibido su|(?:su|tu) (?:mensaje|solicitud|consulta|correo) ha sido (?:recibid|registrad)|acuse de recibo|gracias por (?:contactar|su (?:mensaje|correo|consulta|inter[ée]s)|escribir|ponerse en contacto)|abbiamo ricevuto (?:la sua|il suo|la tua|il tuo)|grazie per (?:averci (?:contattato|scritto)|il suo messaggio|la sua (?:richiesta|e-?mail))|recebemos (?:a )?(?:sua|o seu|o teu|seu)|obrigad[oa] (?:por|pelo|pela) (?:entrar|contact|seu|sua|mensagem)|(?:wij|we) hebben uw .{0,30}ontvangen|bedankt voor (?:uw|je) (?:bericht|e-?mail|mail|aanvraag)|ontvangstbevestiging|vi har (?:mottagit|tagit emot|modtaget|mottatt) (?:ditt|din|dit|er|ert)|tack för (?:ditt|din|att du)|tak for din|takk for din|(?:olemme|olen) vastaanottaneet|kiitos (?:yhteydenotosta|viestist)|(?:otrzymaliśmy|dziękujemy za) .{0,20}(?:wiadomoś|zgłoszeni|zapytani|kontakt)|(?:obdrželi|přijali) jsme|děkujeme za (?:vaši|váš)|megkaptuk|köszönjük (?:levelét|megkeresését)|(?:мы получили|получили) ваш|ваше (?:обращение|письмо|сообщение) (?:принято|получено|зарегистрировано)|спасибо за (?:ваше )?(?:обращение|письмо)|お問い合わせ(?:いただき|を受け付け|ありがとう)|受け付けました|受付(?:いたし|完了)|我们已(?:经)?收到|感谢您的(?:来信|联系|邮件)|문의.{0,10}접수/iu;
/** Says that somebody will see to it. */
const WILL =
  /\b(?:(?:will|shall|'ll|aim to|try to|endeavou?r to|strive to) (?:\S+ ){0,3}?(?:get back|respond|reply|be in touch|review|contact you|answer|come back|process|attend|look into)|(?:is|will) be(?:ing)? (?:reviewed|processed|handled|looked|dealt|passed)|(?:within|in) (?:the next )?(?:\d+|one|two|three|a few|24|48)(?:[- ]\S+)? (?:working |business )?(?:hours|days)|as soon as possible|shortly|(?:ticket|case|reference|request) (?:id|number|no\.?|#))|(?:melden|kümmern|bearbeiten|antworten|beantworten).{0,60}|schnellstmöglich|in kürze|dans les (?:meilleurs|plus brefs) délais|vous répond(?:rons|ra)|(?:lo antes posible|en breve|a la mayor brevedad|responderemos)|(?:al più presto|quanto prima|risponderemo)|(?:o mais (?:breve|rápido)|em breve|responderemos)|zo (?:spoedig|snel) mogelijk|så (?:snart|fort) (?:som )?(?:vi|möjligt|mulig)|hurtigst muligt|mahdollisimman pian|(?:jak najszybciej|wkrótce|niezwłocznie)|(?:co nejdříve|brzy)|(?:hamarosan|mielőbb)|(?:в ближайшее время|как можно скорее)|(?:ご連絡|返信|回答)(?:いた|申し|させ)|(?:尽快|稍后)/iu;
/** Mailboxes behind which a program stands. */
const ROLE =
  /^(?:support|help(?:desk)?|service(?:desk)?|info|contact|kontakt|contacto|contatti|office|no-?reply|do-?not-?reply|enquir(?:y|ies)|inquir(?:y|ies)|customer(?:-?(?:service|care|support))?|kundenservice|servicedesk|tickets?|sales|orders?|hello|team|admin|reception|jobs|careers|press)(?:[+._-][^@]*)?@/i;
const TICKET =
  /[[(#](?:ticket|case|ref|req|inc|sr|cas|id)?[-#: ]*\d{3,}[\])]?|\b(?:ticket|case|ref(?:erence)?|request|vorgang|incident|INC|REQ|CAS)[-#:. ]*(?:id|no\.?|nr\.?|number)?[-#:. ]*[A-Z]{0,4}-?\d{3,}/i;

/**
 * Why a message is an acknowledgement: a program says that ours arrived and that somebody will see to it. Null for anything else.
 *
 * @param own its own words, see `ownWords`
 * @param isAutomatic whether its headers or its subject say that a program wrote it
 */
export function acknowledgementReason(
  { from, subject }: IncomingMessage,
  own: string,
  isAutomatic: boolean,
): string | null {
  const text = own.slice(0, 2500).replace(/\s+/g, ' ').replaceAll('’', "'");
  const received = RECEIVED.exec(`${subject}\n${text}`);
  if (!received) return null;
  const signs = [isAutomatic, TICKET.test(`${subject}\n${text}`), ROLE.test(addressOf(from) ?? '') && WILL.test(text)];
  const isEnough = isAutomatic || (signs.filter(Boolean).length >= 1 && WILL.test(text) && !/[?？]/u.test(text));
  return isEnough ? `it says “${received[0].trim()}”` : null;
}
