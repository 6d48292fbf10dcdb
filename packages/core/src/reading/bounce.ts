import { addressOf } from './address-of';
import type { IncomingMessage } from './classify';
import { readDeliveryReport, type ReportedRecipient } from './delivery-report';
import type { BounceKind } from './incoming-kinds';

export interface Bounce {
  bounce: BounceKind;
  /** Whom it is about; null where it does not say. */
  about: string | null;
  because: string[];
}

/** Of whom reports come where they follow no standard. */
const DAEMON =
  /^(?:mailer-?daemon|postmaster|mail-?daemon|mail(?:er|delivery)?[._-]?(?:system|subsystem|delivery|administrator)|mdaemon|noreply-bounce|bounces?|maildelivery)(?:[+._-][^@]*)?@/i;

/** What such messages are called. */
const SUBJECT =
  /undeliver(?:able|ed)|undelivered|delivery (?:status notification|fail|has failed|problem|error|report|incomplete|notification)|(?:mail|message|e-?mail) delivery (?:fail|system|subsystem|problem|error)|returned (?:mail|to sender|message)|mail returned|could not (?:be )?deliver|not (?:be )?delivered|not deliverable|failure notice|delivery delayed|warning: (?:could not|message)|message you sent|rejected mail|unzustellbar|nicht zustellbar|nicht zugestellt|unzustellbarkeit|zustellung|fehlgeschlagen|non remis|non délivré|échec (?:de|d['’])|remise|retour à l['’]expéditeur|no entregado|no se (?:ha )?(?:pudo|podido) entregar|devuelto|error de entrega|fallo (?:de|en la) entrega|mancata consegna|non recapitat|impossibile recapitare|mancato recapito|onbestelbaar|niet (?:bezorgd|afgeleverd)|não (?:foi )?(?:entregue|pôde ser entregue)|falha na entrega|olevererat|kan inte leverera|ikke leveret|ikke levert|uleverbar|toimitus epäonnistui|nie(?:dostarczon|można dostarczyć)|zwrot|nedoručen|nedoručiteln|kézbesíthetetlen|sikertelen|недоставлен|не доставлен|невозможно доставить|iletilemedi|teslim edilemedi|配信(?:不能|エラー)|送信エラー|退信|无法(?:投递|送达)|반송/iu;

/** What they say. */
const TEXT =
  /(?:could not|couldn['’]t|cannot|can['’]t|was not|were not|not able to|unable to|failed to|wasn['’]t|did not|didn['’]t) (?:be )?(?:deliver|reach|send|route|relay)|(?:delivery|message|mail|e-?mail) (?:to .{0,120} )?(?:has |have )?(?:permanently |finally )?(?:failed|been (?:rejected|returned|delayed)|delayed|not been delivered|bounced)|permanent (?:fatal )?errors?|undeliver(?:able|ed)|returned to sender|following (?:address|recipient)|rejected (?:by|your)|konnte nicht (?:an .{0,80} )?zugestellt|nicht zugestellt werden|nicht zustellbar|n['’]a pas pu être (?:remis|délivré|distribué|acheminé)|n['’]a pu être|no se (?:ha )?(?:pudo|podido) entregar|no (?:ha podido|pudo) ser entregado|non (?:è stato possibile|ha potuto) (?:recapitare|consegnare)|non è stato recapitato|kon niet worden (?:bezorgd|afgeleverd)|não (?:foi possível entregar|pôde ser entregue)|kunde inte levereras|kunne ikke leveres|ei voitu toimittaa|nie (?:można|udało się) dostarczyć|nie mogła zostać dostarczona|nelze doručit|nebylo možné doručit|nem (?:sikerült|lehetett) kézbesíteni|не (?:удалось|может быть|была?) доставлен|не удалось доставить|iletilemedi|配信できません|送信できません|无法投递|无法送达/iu;

/** Words that say that a server is still trying. */
const STILL_TRYING =
  /\b(?:delay(?:ed)?|still (?:trying|undelivered|being)|will (?:continue|keep|be retried|retry|try again)|not yet been delivered|(?:this is )?(?:only )?a warning|temporarily deferred|no action is required)\b|verzögert|noch nicht zugestellt|weitere zustellversuche|retardé|de nouvelles tentatives|retrasad|se seguirá intentando|ritardo|vertraagd|försenad|forsinket|opóźnion|zpožděn|задерж/iu;
const GIVEN_UP =
  /\b(?:giving up|given up|permanent(?:ly)?|fail(?:ed|ure)|undeliverable|fatal|no further attempts|could not be delivered|expired|returned to sender)\b|endgültig|unzustellbar|échec|definitiv/iu;

/** Why it came back, in a server's words: the stated reason outranks a code that contradicts it. In order. */
const REASONS: readonly [BounceKind, RegExp][] = [
  [
    'soft',
    /(?:mail ?box|inbox|account|user|recipient|storage|postfach|konto).{0,40}(?:\bfull\b|over (?:its |the )?(?:quota|limit|storage)|exceeded|\bvoll\b|überschritten)|(?:over ?quota|quota (?:is )?(?:exceeded|full|reached)|(?<!size )exceed(?:s|ed) (?:the |its |their )?(?:storage |mailbox )?(?:quota|limit|allocat)|out of storage|insufficient (?:system )?storage|not enough (?:storage|space)|storage (?:allocation )?exceeded|disk full)|(?:boîte|messagerie|bal).{0,30}(?:pleine|saturée)|(?:buz[óo]n|bandeja|casilla).{0,30}(?:llen[oa]|excedid)|(?:casella|mailbox).{0,30}piena|(?:postvak|mailbox).{0,20}vol\b|caixa.{0,30}cheia|ящик.{0,30}переполнен|skrzynka.{0,40}(?:pełna|przepełniona)|schránka.{0,20}plná/iu,
  ],
  [
    'blocked',
    /\b(?:spam|spammy|unsolicited|junk|black-?list(?:ed)?|block-?list(?:ed)?|blocked|dnsbl|rbl|reputation|dmarc|spf|dkim|unauthenticated|policy|policies|virus|malware|phish(?:ing)?|content (?:rejected|filter)|message (?:content )?(?:rejected|refused) (?:due|because|as|for)|suspicious|bulk (?:mail|e-?mail)|sender (?:is )?(?:rejected|denied|blocked|not allowed|refused|verify|verification)|banned|abus(?:e|ive)|not accepted from|access denied.{0,30}(?:ip|sender)|reverse dns|ptr record|rate limit(?:ed)?|too many (?:messages|connections|e-?mails)|message (?:size|too (?:large|big))|too large|size (?:limit|exceeds)|attachment)\b|indésirable|no deseado|indesiderat|unerwünscht|ongewenst|спам/iu,
  ],
  [
    'hard',
    /\b(?:(?:user|mailbox|account|recipient|address|addressee|e-?mail|alias|person|customer)s?(?: name)?(?: \S+){0,4}? (?:unknown|not (?:found|known|exist|valid|available here|listed|a valid)|(?:does|do)(?: not|n['’]t) exist|doesn['’]?t exist|invalid|disabled|inactive|deactivated|suspended|closed|deleted|expired|no longer|unavailable|is not|has been (?:disabled|closed|deleted|suspended))|(?:no such|unknown|invalid|non-?existent|nonexistent|bad|unrecogni[sz]ed|undeliverable|inactive|disabled|not a valid|not our|no) (?:user|mailbox|account|recipient|address|addressee|person|customer|local|destination|domain|host)(?: \S+)?|recipient (?:address )?(?:rejected|unknown|not found)|address (?:rejected|not found|unknown)|couldn['’]t be found|could not be found|wasn['’]t found|doesn['’]t have an? .{0,40} account|(?:no|not) (?:longer )?(?:work|employ|with)(?:s|ed)? (?:here|us|at)|unrout(?:e)?able|un-?routeable|domain (?:name )?(?:not found|does not exist|has no|invalid|unknown)|host (?:or domain name )?(?:not found|unknown)|name or service not known|nxdomain|no mx|relay(?:ing)? (?:access )?(?:denied|not (?:permitted|allowed))|null mx|user doesn['’]t)\b|(?:empfänger|benutzer|adresse|postfach|konto).{0,40}(?:unbekannt|nicht (?:gefunden|bekannt|vorhanden|existiert|gültig)|existiert nicht|ungültig|deaktiviert|gesperrt)|(?:unbekannte[rs]?|ungültige[rs]?) (?:empfänger|benutzer|adresse)|(?:utilisateur|destinataire|adresse|compte|boîte).{0,40}(?:inconnue?|introuvable|n['’]existe pas|invalide|désactivée?|inexistante?)|(?:usuario|destinatario|direcci[óo]n|cuenta|buz[óo]n).{0,40}(?:desconocid[oa]|no (?:existe|encontrad[oa]|v[áa]lid[oa])|inexistente|inv[áa]lid[oa]|desactivad[oa])|(?:utente|destinatario|indirizzo|casella|account).{0,40}(?:sconosciut[oa]|inesistente|non (?:esiste|trovat[oa]|valid[oa])|disattivat[oa])|(?:gebruiker|ontvanger|adres|mailbox).{0,40}(?:onbekend|bestaat niet|niet gevonden|ongeldig)|(?:usuário|destinatário|endereço|conta).{0,40}(?:desconhecid[oa]|não (?:existe|encontrad[oa])|inexistente|inválid[oa])|(?:användaren?|mottagaren?|adressen).{0,40}(?:okänd|finns inte)|(?:modtager(?:en)?|mottaker(?:en)?|bruger(?:en)?|adresse(?:n)?).{0,40}(?:ukendt|ukjent|findes ikke|finnes ikke)|(?:użytkownik|odbiorca|adres|konto).{0,40}(?:nieznan|nie istnieje|nieprawidłow)|(?:uživatel|příjemce|adresa|schránka).{0,40}(?:neznám|neexistuje)|(?:пользовател|получател|адрес|ящик).{0,60}(?:не найден|не существует|неизвест|недействител|отключ)/iu,
  ],
  [
    'soft',
    /\b(?:grey-?list(?:ed|ing)?|gray-?list(?:ed|ing)?|temporar(?:y|ily)|try (?:again )?later|timed? ?out|timeout|connection (?:refused|reset|failed|lost|timed out)|could not connect|unable to connect|no route to host|network (?:is )?unreachable|host (?:is )?(?:unreachable|down|not responding)|server (?:is )?(?:busy|unavailable|down|not responding)|service (?:is )?(?:unavailable|not available)|retry time(?:out)?|delivery time expired|message expired|too (?:old|long in queue)|loop(?:s|ing)?|hop count|resources)\b/iu,
  ],
];

/** The words of a report that are looked at: the message that came back stands below them. */
const MOST_LETTERS = 6000;

/**
 * Whether a message says that another came back or is delayed: by its parts (RFC 3464, RFC 6522), or, where a server follows no
 * standard, by its sender, subject and words. Null for anything else, reports of success with it.
 */
export function asBounce(message: IncomingMessage): Bounce | null {
  const reported = message.deliveryReports.flatMap(readDeliveryReport);
  const failed = reported.find((r) => r.action === 'failed') ?? reported.find((r) => r.action === 'delayed');
  if (failed) {
    const said = `${failed.action} ${failed.status} ${failed.diagnostic}`.trim();
    return {
      bounce: failed.action === 'delayed' ? 'delayed' : severity(failed),
      about: addressOf(failed.address),
      because: [`it carries a delivery report (RFC 3464): ${said}`],
    };
  }
  if (reported.length > 0) return null;
  return asFreeBounce(message);
}

function asFreeBounce(message: IncomingMessage): Bounce | null {
  const { subject, headers } = message;
  const text = aboveOriginal(message.text);
  const named = headers['x-failed-recipients']?.split(/[,\s]+/).find((a) => a.includes('@'));
  const isDaemon = DAEMON.test(addressOf(message.from) ?? message.from);
  const isEmpty = /^\s*<\s*>/.test(headers['return-path'] ?? '');
  const isReport = /multipart\/report/i.test(headers['content-type'] ?? '');
  const says = SUBJECT.test(subject) || TEXT.test(text);
  if (!named && !(says && (isDaemon || isEmpty || isReport))) return null;
  const status = /\b[245]\.\d{1,3}\.\d{1,3}\b/.exec(text)?.[0] ?? '';
  const isDelayed = STILL_TRYING.test(`${subject}\n${text}`) && !GIVEN_UP.test(`${subject}\n${text}`);
  const from = isDaemon ? 'a mail daemon' : isEmpty ? 'an empty return path' : 'a mail server';
  return {
    bounce: isDelayed ? 'delayed' : severity({ status, diagnostic: text }),
    about: named ? addressOf(named) : addressIn(text, addressOf(message.from)),
    because: [`it comes from ${from} and its words say that a message came back`],
  };
}

/** What a server says, without the message that it gives back. */
function aboveOriginal(text: string): string {
  const head = text.slice(0, MOST_LETTERS);
  const at =
    /^(?:-{2,}|={2,}|_{2,})?[ \t]*(?:(?:this is )?(?:a copy of )?(?:the |your |my )?(?:original|returned) (?:message|mail|headers?)\b|(?:below|following) (?:this line )?is a copy|below this line|included is a copy|message headers? follow|(?:ursprüngliche|original)[ -]?nachricht|message d['’]origine|mensaje original|messaggio originale|return-path: <|received: (?:from|by) )/im.exec(
      head,
    )?.index;
  return at === undefined || at === 0 ? head : head.slice(0, at);
}

/** Hard: the address is no good. Blocked: the server would not have this mail or sender. Soft: may pass. */
function severity({ status, diagnostic }: Pick<ReportedRecipient, 'status' | 'diagnostic'>): BounceKind {
  const stated = REASONS.find(([, words]) => words.test(diagnostic))?.[0];
  if (stated) return stated;
  if (/^[45]\.7\./.test(status) || /^5\.[36]\./.test(status)) return 'blocked';
  if (/^[45]\.2\.2$/.test(status)) return 'soft';
  if (status.startsWith('5')) return 'hard';
  if (status.startsWith('4')) return 'soft';
  return /(?:^|\D)55[0-4](?:\D|$)/.test(diagnostic) ? 'hard' : 'soft';
}

/** The address that a report speaks of: where it names one as such, else the first. */
function addressIn(text: string, reporter: string | null): string | null {
  const named = [
    /(?:final|original)-recipient:\s*(?:rfc822;\s*)?<?([^\s<>;,]+@[^\s<>;,]+)>?/i,
    /RCPT TO:\s*<([^\s<>]+@[^\s<>]+)>/i,
    /^\s*<([^\s<>]+@[^\s<>]+)>\s*(?::|\(|$)/m,
    /^\s*([^\s<>:,;"']+@[^\s<>:,;"']+)\s*(?::|$)/m,
    /<([^<>\s]+@[^<>\s]+)>/,
    /[^\s<>"'(),;:[\]]+@[^\s<>"'(),;:[\]]+/,
  ];
  for (const form of named) {
    const match = form.exec(text);
    const address = match && addressOf((match[1] ?? match[0]).replace(/[.]+$/, ''));
    if (address && address !== reporter) return address;
  }
  return null;
}
