import { addressOf } from '../address-of';

/* Somebody is there as before, and has another address. */

const CHANGED = new RegExp(
  [
    '(?:my|our|this|the|his|her) (?:new |old |work |company )?(?:e-?mail|mail)(?: address(?:es)?)?(?: \\S+){0,3} (?:has|have) (?:now |recently )?(?:been )?(?:changed|moved)',
    'my address (?:has|is) (?:now |recently )?(?:been )?changed',
    '(?:my|our|a|the|his|her) new (?:e-?mail|mail)(?: address)?',
    'new (?:e-?mail |mail )?address (?:is|:|as of|from)',
    '(?:changed|changing|moved|updated|switched) (?:my|our|to a new|their) (?:e-?mail|mail|address|domain)',
    '(?:please |kindly )?(?:update|change|amend|correct) (?:your (?:records|address ?book|contacts?)|my (?:e-?mail |contact )?(?:address|details))',
    '(?:this|my old|the old|my previous|that) (?:e-?mail |mail )?(?:address|account|mailbox|inbox)(?: \\S+)? (?:is|will be|has been|was|will) (?:\\S+ )?(?:no longer (?:in use|monitored|active|valid|used|checked|read|available)|closed|discontinued|deactivated|retired|replaced|switched off|shut down|deleted|not (?:monitored|in use|read|checked|active))',
    "(?:i|we) (?:no longer|do not|don't) (?:use|check|monitor|read) (?:this|my old|the old) (?:\\S+ )?(?:address|account|mailbox|inbox)",
    '(?:our|the) (?:company|firm|domain)(?: \\S+)? (?:has )?(?:changed|moved) (?:its |to )?(?:a )?(?:new )?(?:name|domain|e-?mail)',
    '(?:meine|unsere|neue|die) (?:neue )?(?:e-?mail-?)?(?:mail)?adresse(?:n)? (?:hat sich geändert|lautet|haben sich geändert|ist (?:ab sofort|jetzt|nun)|wurde geändert)|(?:neue|geänderte) (?:e-?mail|mail)-?\\s?adresse|diese (?:e-?mail-?)?adresse (?:ist|wird) .{0,40}(?:nicht mehr|abgeschaltet|deaktiviert|eingestellt)',
    "nouvelle adresse|(?:mon|notre) adresse (?:e-?mail |mail |électronique )?(?:a changé|change)|changement d['’]adresse|cette adresse (?:n['’]est plus|ne sera plus)",
    '(?:nueva|nuevo) (?:direcci[óo]n|correo|e-?mail)|(?:ha cambiado|he cambiado|cambi[óoé]) (?:mi|de|nuestr[oa]) (?:direcci[óo]n|correo|e-?mail)|(?:mi|nuestra) direcci[óo]n .{0,30}ha cambiado|este correo ya no',
    "nuovo indirizzo|(?:il mio|l'|questo) indirizzo .{0,40}(?:cambiat|non è più)|nuova (?:e-?mail|mail|casella)",
    'novo (?:endereço|e-?mail)|(?:meu|nosso) (?:endereço|e-?mail) (?:mudou|foi alterado)|este e-?mail (?:já )?não',
    'nieuwe? (?:e-?mail|mail)-?\\s?adres|(?:mijn|ons|dit) (?:e-?mail|mail)?-?\\s?adres (?:is|wordt) (?:gewijzigd|veranderd|niet (?:meer|langer))',
    'ny(?:tt|e|a)? (?:e-?post|mejl|mail|e-?mail)-?\\s?adr\\p{L}+|(?:e-?post|mejl|mail|e-?mail)adress(?:en)? (?:har|är|er|blev) (?:ändrats|ändrad|ændret|endret)|skift(?:et|at) (?:e-?mail|mail|mejl|e-?post)',
    'uusi (?:sähköposti)?osoit|sähköpostiosoitteeni on (?:muuttunut|vaihtunut)',
    'nowy adres|zmieni(?:ł|łem|łam|liśmy) (?:adres|maila|e-?mail)|(?:adres|mój e-?mail) (?:uległ zmianie|się zmienił)',
    'nov(?:á|ou) (?:e-?mailov(?:á|ou) )?adres|nový (?:e-?mail|mail)|změnil[ai]? (?:se mi |jsem )?(?:e-?mail|adres)',
    'új (?:e-?mail|címem)|e-?mail címem megváltozott|noua adresă|adresa (?:mea )?de e-?mail s-a schimbat',
    'новы[йм] (?:адрес|e-?mail|email|почт)|адрес (?:электронной почты )?(?:изменился|сменился)|нова адреса|νέα (?:διεύθυνση|e-?mail)|yeni (?:e-?posta|mail) adres',
    'メールアドレス(?:が|を)(?:変更|変わ)|新しい(?:メール)?アドレス|邮箱(?:已)?(?:更换|变更|更改)|新(?:的)?(?:邮箱|电子邮件)|이메일 주소가 변경',
  ].join('|'),
  'iu',
);

/**
 * The words with which a message says that somebody's address has changed; null where it does not. It has to name the new one.
 *
 * @param own its own words, see `ownWords`
 * @param old addresses that are not the new one
 */
export function addressChangedWords(own: string, old: readonly string[]): string | null {
  const text = own.slice(0, 3000).replace(/\s+/g, ' ').replaceAll('’', "'");
  const words = CHANGED.exec(text)?.[0];
  return words !== undefined && newAddressIn(text, old) !== null ? words : null;
}

/** The address in a text that is none of those known; the last where a line names the old one first ("from a@x to b@y"). */
export function newAddressIn(text: string, known: readonly string[]): string | null {
  const found = [...text.matchAll(/[^\s<>"'“”„(),;:[\]=]+@[^\s<>"'“”„(),;:[\]]+/g)]
    .map((m) => addressOf(m[0].replace(/[.!?…]+$/, '')))
    .filter((a): a is string => a !== null && !known.includes(a));
  const from = /(?:from|von|de|da|van|fra|från|z|ze)\s+\S+@\S+\s+(?:to|auf|zu|à|a|naar|til|till|na)\s+\S+@/iu.test(
    text,
  );
  return (from ? found[1] : undefined) ?? found[0] ?? null;
}
