/*
 * Why a message came back, in a server's words. The stated reason outranks the code (RFC 3463): servers give 5.1.1 for full
 * mailboxes and 5.7.1 for unknown ones.
 */

import type { BlockedFor, BounceKind } from '../incoming-kinds';

export interface BounceReason {
  bounce: BounceKind;
  /** Of `blocked`: what the server objects to. */
  blockedFor: BlockedFor | null;
}

/** A mailbox that takes no more at the moment. */
const FULL =
  /(?:mail ?box|inbox|account|user|recipient|storage|postfach|konto).{0,40}(?:\bfull\b|over (?:its |the )?(?:quota|limit|storage)|exceeded|\bvoll\b|überschritten)|(?:over ?quota|quota (?:is )?(?:exceeded|full|reached)|(?<!size )exceed(?:s|ed) (?:the |its |their )?(?:storage |mailbox )?(?:quota|limit|allocat)|out of storage|insufficient (?:system )?storage|not enough (?:storage|space)|storage (?:allocation )?exceeded|(?:mail ?box|inbox|account) (?:\S+ )?exceeds|disk (?:is )?full|no (?:disk )?space|mail ?box (?:size )?(?:limit|quota)|mail ?box(?: \\S+)? is full|inbox (?:is )?full|out of (?:disk )?space|too (?:much|many) (?:data|mails?) in)|(?:boîte|messagerie|bal).{0,60}(?:pleine|saturée)|(?:buz[óo]n|bandeja|casilla).{0,60}(?:llen[oa]|excedid)|(?:casella|mailbox).{0,60}piena|(?:postvak|mailbox).{0,20}vol\b|caixa.{0,60}cheia|ящик.{0,30}переполнен|skrzynka.{0,40}(?:pełna|przepełniona)|schránka.{0,20}plná/iu;

/** The address, or its domain, is no good. */
const UNKNOWN =
  /\b(?:(?:user|mailbox|account|recipient|address|addressee|e-?mail|alias|person|customer)s?(?: name)?(?: \S+){0,4}? (?:unknown|not (?:found|known|exist|valid|available here|listed|a valid)|(?:does|do)(?: not|n['’]t) exist|doesn['’]?t exist|invalid|disabled|inactive|deactivated|suspended|closed|deleted|expired|no longer|unavailable|is not|has been (?:disabled|closed|deleted|suspended))|(?:no such|unknown|invalid|non-?existent|nonexistent|bad|unrecogni[sz]ed|undeliverable|inactive|disabled|not a valid|not our|no) (?:user|mailbox|account|recipient|address|addressee|person|customer|local|destination|domain|host)(?: \S+)?|recipient (?:address )?(?:unknown|not found)|recipient address rejected: access denied|(?:user|recipient|person|address|account|mailbox) (?:that )?you (?:\S+ ){1,3}to (?:\S+ ){1,2}(?:is (?:unknown|invalid|no longer)|does not|doesn['’]t)|non-?existent (?:hosts?|domains?)|no (?:mx|a|mail) records?|all relevant mx|(?:nobody|no ?one) (?:\S+ ){0,3}(?:name|address|here)|there is no (?:such |\S+ )?(?:person|user|mailbox|account|address)|address (?:not found|unknown)|couldn['’]t be found|could not be found|wasn['’]t found|doesn['’]t have an? .{0,40} account|(?:no|not) (?:longer )?(?:work|employ|with)(?:s|ed)? (?:here|us|at)|unrout(?:e)?able|un-?routeable|domain (?:name )?(?:not found|does not exist|has no|invalid|unknown)|host (?:or domain name )?(?:not found|unknown)|name or service not known|nxdomain|no mx|(?:relay(?:ing)? (?:access )?|relay )(?:denied|not (?:permitted|allowed))|unable to relay|(?:all )?recipients? (?:were )?invalid|account (?:that you tried to reach )?(?:is|has been|was)? ?(?:disabled|closed|deleted)|no longer (?:active|in use|valid|available|accept|at this|receiv)|not a (?:known|valid|local|registered)|no mailbox|(?<!\b4\d\d\b.{0,80})mailbox unavailable|mailbox not (?:found|here)|not listed in|badly formatted|bad destination|does not (?:accept mail|receive)|undeliverable address|non-local|(?:permanently|been) (?:deactivated|closed)|null mx|user doesn['’]t)\b|(?:empfänger|benutzer|adresse|postfach|konto).{0,40}(?:unbekannt|nicht (?:gefunden|bekannt|vorhanden|existiert|gültig)|existiert nicht|ungültig|deaktiviert|gesperrt)|(?:unbekannte[rs]?|ungültige[rs]?) (?:empfänger|benutzer|adresse)|(?:utilisateur|destinataire|adresse|compte|boîte).{0,40}(?:inconnue?|introuvable|n['’]existe pas|invalide|désactivée?|inexistante?)|(?:usuario|destinatario|direcci[óo]n|cuenta|buz[óo]n).{0,40}(?:desconocid[oa]|no (?:existe|encontrad[oa]|v[áa]lid[oa])|inexistente|inv[áa]lid[oa]|desactivad[oa])|(?:utente|destinatario|indirizzo|casella|account).{0,40}(?:sconosciut[oa]|inesistente|non (?:esiste|trovat[oa]|valid[oa])|disattivat[oa])|(?:gebruiker|ontvanger|adres|mailbox).{0,40}(?:onbekend|bestaat niet|niet gevonden|ongeldig)|(?:usuário|destinatário|endereço|conta).{0,40}(?:desconhecid[oa]|não (?:existe|encontrad[oa])|inexistente|inválid[oa])|(?:användaren?|mottagaren?|adressen).{0,40}(?:okänd|finns inte)|(?:modtager(?:en)?|mottaker(?:en)?|bruger(?:en)?|adresse(?:n)?).{0,40}(?:ukendt|ukjent|findes ikke|finnes ikke)|(?:użytkownik|odbiorca|adres|konto).{0,40}(?:nieznan|nie istnieje|nieprawidłow)|(?:uživatel|příjemce|adresa|schránka).{0,40}(?:neznám|neexistuje)|(?:пользовател|получател|адрес|ящик).{0,60}(?:не найден|не существует|неизвест|недействител|отключ)|no se (?:ha )?(?:encontr\p{L}+|pudo encontrar) (?:la direcci[óo]n|el destinatario|al destinatario)|endereço.{0,60}não (?:foi|pôde ser) (?:encontrad|localizad)|adress?e?\p{L}*.{0,60}(?:ikke fundet|ikke funnet|hittades inte|kunde inte hittas|kon niet worden gevonden|introuvable)|(?:地址|用户|收件人|邮箱).{0,40}(?:不存在|无效|错误|未找到|找不到)|(?:宛先|ユーザー?|アドレス|受信者).{0,30}(?:存在しま|見つかりま|不明)|(?:사용자|수신자|주소).{0,20}(?:없|존재하지)/iu;

/** The sender's own side is at fault: its address, its account, or the message as it is built. */
const SENDER =
  /\b(?:sender address rejected|(?:sender|return[- ]path|envelope[- ]from|from (?:address|domain)|originator)(?:'s)? (?:e-?mail )?(?:address |domain |verif(?:y|ication) )?(?:\S+ )?(?:is |has |was |could |does )?(?:been )?(?:not exist|does not exist|not found|unknown|invalid|unverif\w+|not (?:be )?verified|fail(?:ed|ure)|has no|not resolve|is not (?:valid|a valid|verified|owned)|lacks)|(?:could not|cannot|unable to|failed to|can['’]t) (?:verify|resolve|check) (?:the )?(?:sender|from)|sender verify fail\w*|(?:not|isn['’]t) (?:allowed|permitted|authori[sz]ed) to (?:send|relay) (?:as|from|through|via)|does not have permission(?:s)? to (?:send|submit)|send ?as denied|not owned by user|authentication (?:is )?(?:required|needed)|must authenticate|not authenticated|(?:daily|hourly|your|user|account)(?: \S+){0,4} (?:sending )?(?:limit|quota)s? (?:for sending )?(?:has been |was |is )?(?:exceeded|reached)|sending (?:limit|quota)|exceeded (?:the |your |its )?(?:daily |hourly |maximum )?(?:sending|user sending|number of (?:messages|recipients))|too many recipients|outbound spam|(?:account|mailbox) (?:has been )?(?:blocked|suspended|restricted) (?:from|for) sending|out ?going (?:mail )?(?:is )?(?:blocked|suspended|disabled))\b|absender(?:adresse)? .{0,30}(?:ungültig|unbekannt|existiert nicht|nicht (?:verifiziert|gefunden))|adresse (?:de l['’])?expéditeur .{0,20}(?:invalide|inconnue)|remitente (?:no v[áa]lido|desconocido)/iu;

/** The message is too large, or built wrongly. */
const MALFORMED =
  /\b(?:(?:bare (?:lf|cr|line feed))|line (?:is )?too long|lines? (?:longer|exceeds?)|malformed|missing (?:or (?:bad|invalid) )?(?:from|date|message-id|header)|invalid (?:header|from|message)|multiple (?:from|subject|to) headers?|not (?:rfc|compliant)|rfc ?(?:5322|2822|822) (?:violation|compliant|compliance|section)|non-?compliant|message (?:header )?(?:size|too (?:large|big|long))|too large|size (?:limit|exceeds)|exceeds? (?:the )?(?:maximum |max )?(?:allowed )?(?:message )?size|larger than)\b|nachricht ist zu groß|message trop (?:volumineux|gros|long)|mensaje demasiado grande|messaggio troppo grande/iu;

/** Who sent it has not proven that they may (SPF, RFC 7208; DKIM, RFC 6376; DMARC, RFC 7489). */
const AUTHENTICATION =
  /\b(?:dmarc|spf|dkim|arc (?:fail|validation)|unauthenticated|authentication (?:checks?|results?|information|failed|failure)|(?:fails|failed|does not pass|did not pass|lacks?) (?:email )?authentication|sender policy framework|domainkeys?|(?:not|un)signed|alignment|spoof(?:ed|ing)?|forged)\b/iu;

/** Where it came from has a bad name. */
const REPUTATION =
  /\b(?:black-?list(?:ed|ing)?|block-?list(?:ed|ing)?|deny-?list(?:ed)?|dnsbl|rbl|surbl|reputation|(?<!not )listed (?:in|on|by|at)|(?:ip|client|sending|connecting)(?: (?!said)\S+){0,4} (?:is |was |has been |temporarily |permanently )*(?:blocked|banned|rejected|refused|denied|deferred)|(?:host|server)(?: (?!said)\S+){0,3} (?:is |was |has been )*(?:blocked|banned)|blocked using|reverse dns|ptr (?:record)?|rdns|no ptr|(?:generic|dynamic) (?:ip|host|address)|sender score|complaint rate|user complaints|too many (?:complaints|spam)|poor (?:ip|domain|sender)|low (?:ip|domain)|throttl\w+|rate[- ]?limit(?:ed|ing)?|too many (?:messages|connections|e-?mails|concurrent)|unusual rate|access denied.{0,40}\bip\b)\b|schwarze liste|liste noire|lista negra|lista nera|zwarte lijst/iu;

/** What it says is taken for spam. */
const SPAM =
  /\b(?:spam(?:my|ming|mer)?|unsolicited|junk|phish(?:ing)?|virus|malware|infected|bulk (?:mail|e-?mail|message)|content (?:rejected|filter(?:ed|ing)?|scan\w*|restriction|denied|blocked)|(?:message|mail|e-?mail) content|suspicious|suspected|mail ?filter|abus(?:e|ive)|prohibited (?:content|attachment)|uribl|(?:contains|contained) (?:an? )?(?:url|link|attachment|banned|forbidden|blocked|unacceptable))\b|indésirable|no deseado|indesiderat|unerwünscht|ongewenst|nicht erwünscht|pourriel|спам/iu;

/** The recipient's side does not want it, for a rule of its own. */
const POLICY =
  /\b(?:polic(?:y|ies)|blocked|banned|prohibited|forbidden|not (?:allowed|permitted|accepted|authori[sz]ed)|(?:sender|message|mail|delivery) (?:is |was |has been |access )*(?:rejected|denied|refused|disallowed)|reject(?:ed|s) (?:by|due|because|as|for|your|the message)|access denied|administrative(?:ly)? (?:prohibit\w*|denied|refus\w*)|transport rule|restricted|internal (?:senders|users|only)|only accepts? (?:mail|messages) from|moderat(?:ed|ion|or)|not (?:on|in) (?:the|my|their|our) (?:allow|white|safe|approved)\w*|refused (?:due|because|by)|attachment|closed (?:list|group)|contact (?:your|the) (?:administrator|postmaster))\b|nicht erlaubt|abgelehnt|refusée?|rechazad|rifiutat|geweigerd|recusad/iu;

/** Nothing but that the address was not taken. */
const REJECTED =
  /\b(?:recipient|address|addressee|user|rcpt)(?: address)? (?:is |was |has been )?(?:rejected|refused|denied)\b/iu;

/** Comes again if it is sent again. */
const GREYLISTED =
  /\b(?:gr[ea]y[- ]?list(?:ed|ing)?|postgrey|first (?:time|delivery) attempt|(?:not yet )?(?:authorized to deliver|deferred) .{0,40}(?:gr[ea]y|try again in \d)|temporarily (?:deferred|rejected).{0,40}(?:gr[ea]y|unknown sender|try again in \d)|come back (?:later|in)|retry in \d)\b/iu;

/** Something failed that may pass. */
const PASSING =
  /\b(?:grey-?list(?:ed|ing)?|gray-?list(?:ed|ing)?|temporar(?:y|ily)|try (?:again )?later|timed? ?out|timeout|connection (?:refused|reset|failed|lost|timed out)|could not connect|unable to connect|no route to host|network (?:is )?unreachable|host (?:is )?(?:unreachable|down|not responding)|server (?:is )?(?:busy|unavailable|down|not responding)|service (?:is )?(?:unavailable|not available)|retry time(?:out)?|delivery time expired|message expired|too (?:old|long in queue)|loop(?:s|ing|ed)?|hop count|too many hops|hops exceeded|resources)\b/iu;

/** In order: what comes first is the more particular. */
const REASONS: readonly [BounceKind, BlockedFor | null, RegExp][] = [
  ['sender', null, SENDER],
  ['full', null, FULL],
  ['greylisted', null, GREYLISTED],
  ['sender', null, MALFORMED],
  ['blocked', 'authentication', AUTHENTICATION],
  ['blocked', 'reputation', REPUTATION],
  ['blocked', 'spam', SPAM],
  ['hard', null, UNKNOWN],
  ['blocked', 'policy', POLICY],
  ['hard', null, REJECTED],
  ['soft', null, PASSING],
];

/** Addresses of web pages have words of their own (/policy, /unknown-user). */
const WEB = /\bhttps?:\/\/\S+|\bwww\.\S+/giu;

/**
 * Why a message came back. What a server states outranks its code; of words that state nothing, the code decides.
 *
 * @param words what the server said
 * @param status enhanced status code (RFC 3463) such as 5.1.1, or ''
 */
export function bounceReason(words: string, status: string): BounceReason {
  const stated = statedReason(words);
  if (stated) return stated;
  if (/^[45]\.7\./.test(status)) return { bounce: 'blocked', blockedFor: 'policy' };
  if (/^[45]\.2\.2$/.test(status)) return { bounce: 'full', blockedFor: null };
  if (/^5\.1\.[78]$/.test(status) || /^5\.[36]\./.test(status)) return { bounce: 'sender', blockedFor: null };
  if (status.startsWith('5')) return { bounce: 'hard', blockedFor: null };
  if (status.startsWith('4')) return { bounce: 'soft', blockedFor: null };
  return { bounce: /(?:^|\D)55[0-4](?:\D|$)/.test(words) ? 'hard' : 'soft', blockedFor: null };
}

/** The reason that a server states; null where its words give none. */
export function statedReason(words: string): BounceReason | null {
  const text = words.replace(WEB, ' ');
  const found = REASONS.find(([, , pattern]) => pattern.test(text));
  return found ? { bounce: found[0], blockedFor: found[1] } : null;
}
