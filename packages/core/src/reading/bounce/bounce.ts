import { addressOf } from '../address-of';
import type { BlockedFor, BounceKind } from '../incoming-kinds';
import { fieldOf, type IncomingMessage } from '../incoming-message';
import { readDeliveryReport, type ReportedRecipient } from './delivery-report';
import { bounceReason, statedReason } from './reasons';
import { recipientsIn } from './recipients-in-text';
import { serverWords } from './server-words';

export interface Bounce {
  bounce: BounceKind;
  blockedFor: BlockedFor | null;
  /** Whom it is about; [] where it does not say. */
  concerns: string[];
  /** Enhanced status code (RFC 3463), or the reply code (RFC 5321, 4.2) where there is none; null where it has neither. */
  code: string | null;
  /** What the server said; null where it is not quoted. */
  serverWords: string | null;
  isSure: boolean;
  because: string[];
}

/** Of whom reports come where they follow no standard. */
const DAEMON =
  /^(?:mailer-?daemon|postmaster|mail-?daemon|mail(?:er|delivery)?[._-]?(?:system|subsystem|delivery|administrator)|mdaemon|noreply-bounce|bounces?|maildelivery|mail|system|delivery|ndr|no-?reply-?(?:bounce|ndr)|mail-?gateway|mailgate)(?:[+._-][^@]*)?@/i;

/** What such messages are called. */
const SUBJECT =
  /undeliver(?:able|ed)|undelivered|delivery (?:status notification|fail|has failed|problem|error|report|incomplete|notification)|(?:mail|message|e-?mail) delivery (?:fail|system|subsystem|problem|error)|returned (?:mail|to sender|message)|mail returned|could not (?:be )?deliver|not (?:be )?delivered|not deliverable|failure notice|delivery delayed|warning: (?:could not|message)|message you sent|rejected mail|unzustellbar|nicht zustellbar|nicht zugestellt|unzustellbarkeit|zustellung|fehlgeschlagen|non remis|non délivré|échec (?:de|d['’])|remise|retour à l['’]expéditeur|no entregado|no se (?:ha )?(?:pudo|podido|puede) entregar|devuelto|error de entrega|fallo (?:de|en la) entrega|mancata consegna|non recapitat|impossibile recapitare|mancato recapito|onbestelbaar|niet (?:bezorgd|afgeleverd)|não (?:foi )?(?:entregue|pôde ser entregue)|falha na entrega|não é possível entregar|kan ikke (?:leveres|leveras)|leveransfel|levering mislyk|lieferung|zugestellt|olevererat|kan inte leverera|ikke leveret|ikke levert|uleverbar|toimitus epäonnistui|nie(?:dostarczon|można dostarczyć)|zwrot|nedoručen|nedoručiteln|kézbesíthetetlen|sikertelen|недоставлен|не доставлен|невозможно доставить|iletilemedi|teslim edilemedi|配信(?:不能|エラー)|送信エラー|退信|无法(?:投递|送达)|반송/iu;

/** What they say. */
const TEXT =
  /(?:could not|couldn['’]t|cannot|can['’]t|was not|were not|not able to|unable to|failed to|wasn['’]t|did not|didn['’]t) (?:be )?(?:deliver|reach|send|route|relay)|(?:delivery|message|mail|e-?mail) (?:to .{0,120} )?(?:has |have )?(?:permanently |finally )?(?:failed|been (?:rejected|returned|delayed)|delayed|not been delivered|bounced)|permanent (?:fatal )?errors?|undeliver(?:able|ed)|returned to sender|following (?:address|recipient)|rejected (?:by|your)|konnte nicht (?:an .{0,80} )?zugestellt|nicht zugestellt werden|nicht zustellbar|n['’]a pas pu être (?:remis|délivré|distribué|acheminé)|n['’]a pu être|no se (?:ha )?(?:pudo|podido) entregar|no (?:ha podido|pudo) ser entregado|non (?:è stato possibile|ha potuto) (?:recapitare|consegnare)|non è stato recapitato|kon niet worden (?:bezorgd|afgeleverd)|não (?:foi possível entregar|pôde ser entregue)|kunde inte levereras|kunne ikke leveres|ei voitu toimittaa|nie (?:można|udało się) dostarczyć|nie mogła zostać dostarczona|nelze doručit|nebylo možné doručit|nem (?:sikerült|lehetett) kézbesíteni|не (?:удалось|может быть|была?) доставлен|не удалось доставить|iletilemedi|配信できません|送信できません|无法投递|无法送达/iu;

/** Words that say that a server is still trying. */
const STILL_TRYING =
  /\b(?:delay(?:ed)?|still (?:trying|undelivered|being)|will (?:continue|keep|be retried|retry|try again)|not yet been delivered|(?:this is )?(?:only )?a warning|temporarily deferred|no action is required)\b|verzögert|noch nicht zugestellt|weitere zustellversuche|retardé|de nouvelles tentatives|retrasad|se seguirá intentando|ritardo|vertraagd|försenad|forsinket|opóźnion|zpožděn|задерж/iu;
const GIVEN_UP =
  /\b(?:giving up|given up|permanent(?:ly)?|fail(?:ed|ure)|undeliverable|(?<!non-)fatal|no further attempts|could not be delivered|expired|returned to sender)\b|endgültig|unzustellbar|échec|definitiv/iu;

/** How programs call themselves that send reports. */
const DAEMON_NAME =
  /mail(?:er)?[- ](?:delivery|daemon|system|administrator)|delivery (?:sub)?system|postmaster|system administrator|internet mail delivery|zustellsystem|mailsystem|delivery (?:status )?notification/i;
/** A report that somebody sends on. */
const SENT_ON = /^\s*(?:fwd?|wg|tr|rv|i|fs|vb|doorst|vs)\s*:/i;
const DAEMON_QUOTED = /(?:mailer-daemon|postmaster|mail delivery (?:sub)?system|mail-?daemon)/i;

/** The words of a report that are looked at: the message that came back stands below them. */
const MOST_LETTERS = 6000;
/** Some reports have their title above their text. */
const MOST_OF_TITLE = 400;

/**
 * Whether a message says that another came back or is delayed: by its parts (RFC 3464, RFC 6522), or, where a server follows no
 * standard, by its sender, subject and words. Null for anything else, reports of success with it.
 */
export function asBounce(message: IncomingMessage): Bounce | null {
  const reported = message.deliveryReports.flatMap(readDeliveryReport);
  const failed = reported.filter((r) => isFailure(r));
  const about = failed.length > 0 ? failed : reported.filter((r) => r.action === 'delayed');
  if (about.length > 0) return asReport(message, about);
  return reported.length > 0 ? null : asFreeBounce(message);
}

/** Some servers leave the action out, or name it in words of their own. */
const isFailure = ({ action, status }: ReportedRecipient): boolean =>
  /^(?:fail|undeliver|bounce|reject)/.test(action) || (action === '' && /^[45]/.test(status));

function asReport(message: IncomingMessage, about: readonly ReportedRecipient[]): Bounce {
  const [first] = about as [ReportedRecipient, ...ReportedRecipient[]];
  const human = aboveOriginal(message.text);
  const words = first.diagnostic || serverWords(human);
  const isDelayed = first.action === 'delayed';
  const said = `${first.action} ${first.status} ${first.diagnostic}`.trim();
  // Servers that hide their reason in the code still say it to people.
  const stated = statedReason(words) ?? statedReason(serverWords(human)) ?? unlessGuessed(human);
  return {
    ...(isDelayed ? DELAYED : (stated ?? bounceReason(words, first.status))),
    concerns: unique(about.map((r) => addressAsSent(message, r))),
    code: codeOf(first.status, words),
    serverWords: words === '' ? null : words,
    isSure: true,
    because: [`it carries a delivery report (RFC 3464): ${said}`],
  };
}

const DELAYED = { bounce: 'delayed', blockedFor: null } as const;

/** Reports list what may have happened; words that state one thing only are a reason. */
const unlessGuessed = (text: string) =>
  /\b(?:may|might|could be|possible|probably|either|one of the following)\b/i.test(text) ? null : statedReason(text);

/** Forwarded mail is reported for the address it was forwarded to: what counts is the one that was written to. */
function addressAsSent(message: IncomingMessage, { address, otherAddress }: ReportedRecipient): string | null {
  const sentTo = originalTo(message);
  const other = addressOf(otherAddress);
  return other !== null && other === sentTo ? other : addressOf(address);
}

const originalTo = ({ enclosed, text }: IncomingMessage): string | null => {
  const at = originalAt(text) ?? /^> /m.exec(text)?.index;
  const quoted = at === undefined ? [] : [text.slice(at)];
  for (const original of [...enclosed, ...quoted]) {
    const to = fieldOf(original.slice(0, 20_000), 'to');
    const address = to === null ? null : addressOf(to.split(',')[0] as string);
    if (address) return address;
  }
  return null;
};

function asFreeBounce(message: IncomingMessage): Bounce | null {
  const { headers } = message;
  const failed = headers['x-failed-recipients'];
  const from = failed ? 'it names those whom a message did not reach' : whyFree(message);
  if (from === null) return null;
  const text = aboveOriginal(message.text);
  const quoted = serverWords(text);
  const whole = `${message.subject}\n\n${text}`;
  const isDelayed = STILL_TRYING.test(whole) && !GIVEN_UP.test(whole);
  const code = codeOf('', quoted || text) ?? codeOf('', message.subject);
  const status = /^\d\./.test(code ?? '') ? (code as string) : '';
  const ours = new Set([addressOf(message.from), ...message.to]);
  const isOurs = (address: string) => ours.has(address);
  const written = [failed ? failed.replace(/[,\s]+/g, '\n') : text, message.subject];
  const named = written.map((w) => recipientsIn(w, isOurs)).find((found) => found.length > 0) ?? [];
  const to = originalTo(message);
  const concerns = named.length === 0 && to !== null ? [to] : named;
  return {
    ...(isDelayed ? DELAYED : ((quoted ? statedReason(quoted) : null) ?? bounceReason(text, status))),
    concerns: to !== null && named.length > 1 && named.includes(to) && !failed ? [to] : concerns,
    code,
    serverWords: quoted === '' ? null : quoted,
    isSure: concerns.length > 0,
    because: [from],
  };
}

/** Why a message without a report is one all the same; null where it is none. */
function whyFree({ from, fromName, headers, subject, text }: IncomingMessage): string | null {
  const isCalledSo = SUBJECT.test(subject);
  const above = aboveOriginal(text);
  const saysSo = TEXT.test(above) || SUBJECT.test(above.slice(0, MOST_OF_TITLE));
  if (SENT_ON.test(subject))
    return isCalledSo && DAEMON_QUOTED.test(text) && TEXT.test(text)
      ? 'it sends on a report that a message came back'
      : null;
  if (!isCalledSo && !saysSo) return null;
  const says = 'and its words say that a message came back';
  if (DAEMON.test(addressOf(from) ?? from) || DAEMON_NAME.test(fromName)) return `it comes from a mail daemon ${says}`;
  if (/multipart\/report/i.test(headers['content-type'] ?? '')) return `it comes from a mail server ${says}`;
  const isEmpty = /^\s*<\s*>/.test(headers['return-path'] ?? '');
  if (isEmpty && !isAutoReply(headers)) return `it comes from an empty return path ${says}`;
  const isProgram = headers['auto-submitted'] !== undefined || isEmpty;
  const quotes = /\b[45]\d\d\b/.test(serverWords(above));
  return isCalledSo && saysSo && (quotes || isProgram) ? `its subject ${says}` : null;
}

const isAutoReply = (headers: IncomingMessage['headers']): boolean =>
  /^\s*auto-replied/i.test(headers['auto-submitted'] ?? '') || headers['in-reply-to'] !== undefined;

/** The code that says most. */
function codeOf(status: string, words: string): string | null {
  const stated = /(?<![\d.])[245]\.\d{1,3}\.\d{1,3}(?![\d.])/.exec(words)?.[0] ?? '';
  if (/^\d\.[1-7]/.test(status) || (status !== '' && stated === '')) return status;
  return stated || (/(?<![\d.])[45]\d\d(?=[ -])/.exec(words)?.[0] ?? null);
}

const unique = (addresses: readonly (string | null)[]): string[] => [
  ...new Set(addresses.filter((a): a is string => a !== null)),
];

const ORIGINAL =
  /^(?:-{2,}|={2,}|_{2,})?[ \t]*(?:(?:this is )?(?:a copy of )?(?:the |your |my )?(?:original|returned) (?:message|mail|headers?)\b|(?:below|following) (?:this line )?is a copy|below this line|included is a copy|message headers? follow|content of the (?:original )?message|start of (?:the )?(?:returned|original) message|(?:the )?headers? of the (?:original|message)|unsent message (?:below|follows)|begin (?:message|original) header|(?:original )?message (?:text|headers?) follows?|dies ist eine kopie|es folgt (?:eine kopie|die)|kopie der (?:original)?nachricht|ceci est une copie|copie du message|esta es una copia|copia del mensaje|questa è una copia|copia del messaggio|dit is een kopie|исходное сообщение|(?:ursprüngliche|original)[ -]?nachricht|message d['’]origine|mensaje original|messaggio originale|return-path: <|received: (?:from|by) )/im;

/** Where the message that came back begins. */
function originalAt(text: string): number | null {
  const at = ORIGINAL.exec(text)?.index;
  return at === undefined || at === 0 ? null : at;
}

/** What a server says, without the message that it gives back. */
function aboveOriginal(text: string): string {
  const head = text.slice(0, MOST_LETTERS);
  return head.slice(0, originalAt(head) ?? head.length).replace(/^>(?: .*)?$/gm, '');
}
