/*
 * What a person wrote themselves, of all that is in their message. Mail programs mark what they quote in a few ways (RFC 3676,
 * 4.5: lines that begin with ">"; a line that says who wrote when; the head of the message answered), in the language of the
 * program and not of the person.
 */

/** As much of a message as is looked at: what a person writes is far shorter. */
const MOST_LETTERS = 100_000;

/** "wrote:" as mail programs say it. */
const WROTE =
  'wrote|writes|schrieb|a écrit|escribió|ha scritto|scrive|escreveu|schreef|skrev|kirjoitti|napisał(?:\\(a\\)|a)?|napsal(?:\\(a\\)|a)?|napísal(?:\\(a\\)|a)?|írta|scris|a scris|пише|написа(?:л|ла|л\\(а\\)|в|ла)?|написал\\(-а\\)|έγραψε|yazdı|şunu yazdı|のメール|写道|寫道|님이 작성';
/** With what such lines begin. */
const ON = 'On|Am|Le|El|Il|Em|No dia|Op|Den|Pe|W dniu|Dne|Dňa|Στις|В|At';
const ATTRIBUTION = new RegExp(
  [
    // "---- On Tue, 24 Nov 2026 08:00:00 +0000 Ines <ines@…> wrote ----", "Quoting Ines <ines@…>:"
    `^-{2,}\\s?(?:${ON})\\s.{4,300}(?:${WROTE})\\s?-{2,}$`,
    `^(?:Quoting|Zitat von|Zitiere|Citando a?|Citant|En réponse à|Citeren|Quote von|Citerar|Citerer)\\s.{2,120}[:：]\\s*$`,
    `^(?:${ON})\\s.{4,300}(?:${WROTE})\\s*[:：]\\s*$`,
    // The name behind it: "Am 23.11.26 um 10:12 schrieb Ines Aldrich:"
    `^(?:${ON})\\s.{2,200}\\d.{0,80}\\s(?:${WROTE})\\s.{1,120}:\\s*$`,
    // The name first: "Ines Aldrich <ines@…> schrieb am Mo., 23. Nov. 2026, 10:12:"
    `^.{0,200}(?:${WROTE})\\s.{0,120}\\d{1,2}[:.]\\d\\d.{0,60}:\\s*$`,
    `^.{2,120}<[^<>\\s]+@[^<>\\s]+>.{0,60}(?:${WROTE})\\s*.{0,60}:\\s*$`,
    // "2026年11月23日(月) 10:12 Ines Aldrich <ines@…>:", "23.11.2026, 10:12, "Ines" <ines@…>:"
    `^\\s*(?:\\d{1,4}[./年-].{6,80})<[^<>\\s]+@[^<>\\s]+>\\s*(?:${WROTE})?\\s*[:：]\\s*$`,
    // Any language: a date with a time, an address, a colon.
    `^.{0,40}\\d{1,4}.{0,60}\\d{1,2}[:.h]\\d\\d.{0,120}<[^<>\\s]+@[^<>\\s]+>\\s*[:：]\\s*$`,
  ].join('|'),
  'iu',
);
/** Such a line may be wrapped over as many. */
const MOST_WRAPPED = 4;

/** Says that another message follows as it was. */
const ORIGINAL =
  /^[\s>*]*[-_=]{2,}\s*(?:original[ -]?message|original appointment|forwarded (?:message|by)|begin forwarded|ursprüngliche nachricht|originalnachricht|original-nachricht|weitergeleitete nachricht|message d['’]origine|message original|message transféré|mensaje original|mensaje reenviado|mensagem original|mensagem encaminhada|messaggio originale|messaggio inoltrato|oorspronkelijk bericht|doorgestuurd bericht|ursprungligt meddelande|originalmeddelande|oprindelig meddelelse|opprinnelig melding|alkuperäinen viesti|wiadomość oryginalna|oryginalna wiadomość|původní zpráva|eredeti üzenet|mesaj original|исходное сообщение|пересылаемое сообщение|orijinal (?:mesaj|ileti)|αρχικό μήνυμα|mail original|message (?:d['’]origine|initial)|reply separator|urspr(?:ungs|\.)? ?nachricht|original mail)/iu;
const FORWARDED =
  /^\s*(?:begin forwarded message|anfang der weitergeleiteten nachricht|début du message réexpédié|inicio del mensaje reenviado|inizio messaggio inoltrato)\s*:/iu;

/** The head of a message that is quoted: its From first, and another field behind it. */
const HEAD_FROM =
  /^[\s>]*\*?(?:from|von|de|da|van|från|fra|lähettäjä|od|felad[oó]|expéditeur|remitente|mittente|afzender|от|від|kimden|από|差出人|发件人|寄件者|보낸 사람)\s?\*?\s?[:：]\*?\s*\S/iu;
const HEAD_MORE =
  /^[\s>]*\*?(?:sent|date|to|cc|subject|gesendet|datum|an|betreff|envoyé|envoyée|à|objet|enviado(?: el)?|fecha|para|asunto|inviato|data|a|oggetto|verzonden|aan|onderwerp|enviada(?: em)?|assunto|skickat|till|ämne|sendt|til|emne|lähetetty|päiväys|vastaanottaja|aihe|wysłano|do|temat|odesláno|komu|předmět|elküldve|címzett|tárgy|trimis|către|subiect|отправлено|дата|кому|тема|gönderildi|tarih|kime|konu|στάλθηκε|προς|θέμα|送信日時|宛先|件名|发送时间|收件人|主题|보낸 날짜|받는 사람|제목)\s?\*?\s?[:：]/iu;
/** Lines in which the second field has to come. */
const HEAD_LINES = 4;
const RULE = /^\s*(?:_{10,}|-{20,}|={20,})\s*$/;

/** What a program adds under a message of its own accord. */
const SENT_FROM =
  /^\s*(?:sent (?:from|via|with) (?:my|the|a|an)?\b|get outlook for|gesendet (?:von|mit|aus)|von meinem .{1,30} gesendet|diese nachricht wurde von meinem|envoyé (?:de|depuis|à partir de)|télécharger outlook|enviado desde|enviado do|enviado a partir|obtener outlook|obtenha o outlook|inviato da|scarica outlook|verzonden (?:vanaf|met|via|vanuit)|skickat från|sendt fra|lähetetty|wysłane z|odesláno z|elküldve|trimis de pe|отправлено (?:с|из)|надіслано|iphone['’]?(?:um)?dan gönderildi|στάλθηκε από|iphoneから送信|发自我的|나의 .{1,20}에서 보냄).{0,80}$/iu;
/** How a signature is marked (RFC 3676, 4.3), and as others draw it. */
const SIGNATURE = /^(?:-- ?|—|–|_{2,9}|-{3,19}|\*{3,}|={3,19})\s*$/;

/** How people end a letter: what follows is their name, and then who they are. */
const CLOSING =
  /^\s*(?:(?:with )?(?:(?:my|many|all|very|our) )?(?:(?:kind|best|warm|warmest|kindest)(?: personal)? )?(?:regards|wishes)|best|cheers|(?:yours|your) (?:sincerely|faithfully|truly)|sincerely(?: yours)?|(?:many )?thanks(?: (?:and|&) (?:best|kind) regards| in advance| again)?|thank you|mit (?:freundlichen|besten|herzlichen|lieben|vielen) grü(?:ß|ss)en|(?:freundliche|beste|herzliche|liebe|viele|schöne)n? grü(?:ß|ss)e.{0,30}|(?:vg|lg|mfg|gruß|gruss|br|kr)|(?:bien )?cordialement|(?:bien|très) à vous|salutations(?: distinguées)?|meilleures salutations|bonne journée|(?:un )?(?:cordial )?saludos?(?: cordiales)?|atentamente|un abrazo|cordiali saluti|distinti saluti|saluti|un saluto|met vriendelijke groet(?:en)?|vriendelijke groet(?:en)?|groet(?:en|jes)?|mvg|atenciosamente|cumprimentos|com os melhores cumprimentos|abraços?|med vänlig(?:a)? häls?ning(?:ar)?|vänliga häls?ningar|hälsningar|mvh|med venlig hilsen|(?:bedste|venlig(?:e)?|vennlig) hilse(?:n|ner)|hilsen|vh|ystävällisin terveisin|terveisin|z poważaniem|pozdrawiam|s pozdravem|hezký den|üdvözlettel|cu stimă|с уважением|з повагою|με εκτίμηση|saygılarımla|iyi çalışmalar|敬具|此致|よろしくお願いいたします。?)\s*[,.!]?\s*$/iu;
/** What stands in the block under a name. */
const CONTACT =
  /https?:\/\/|www\.|@|(?:\+|\b0)\d[\d\s()/.-]{6,}|\||\b(?:tel|phone|mobile|mobil|fax|gsm|cell)\b|\b(?:GmbH|Ltd|Inc|LLC|S\.?A\.?|S\.?L\.?|B\.?V\.?|AG|AB|A\/S|Oy|Kft|s\.r\.o)\b/iu;
/** Lines of such a block at most. */
const MOST_BLOCK = 14;

/** Paragraphs that a company's server puts under every message. */
const DISCLAIMER =
  /^[\s*_[(]*(?:(?:confidentiality|legal|privacy|important) (?:notice|note|disclaimer)|disclaimer\b|confidential\b.{0,20}:|this (?:e-?mail|message|communication|transmission)(?: and any| \(|,| is| may| contains| was| has been| transmission)|the (?:information|contents?) (?:contained )?(?:in|of) this (?:e-?mail|message)|the contents of this|if you (?:are not the intended|have received this)|please consider the environment|think before you print|save paper|(?:this e-?mail|message) (?:has been )?scanned|(?:caution|warning|attention|achtung|vorsicht|note)\s?[:!-]\s?(?:this|external|diese|the|cette?)|\[?external\]?(?: (?:e-?mail|sender|message))?\]?\s*[:.!-]?\s*$|external (?:e-?mail|sender|message)|this (?:e-?mail|message) (?:originated|came|was sent) (?:from )?outside|you don['’]t often get e-?mail from|diese e-?mail stammt von (?:außerhalb|einem externen)|ce (?:message|courriel|mail) provient de l['’]ext|este (?:mensaje|correo) (?:proviene|procede) de fuera|diese (?:e-?mail|nachricht|mail)(?: und| enthält| kann| ist)|der inhalt dieser|vertraulichkeitshinweis|bitte denken sie an die umwelt|bitte prüfen sie.{0,40}ausdruck|(?:ce (?:message|courriel|courrier|mail)|cet e-?mail)(?: et| est| peut| contient|,)|avis de confidentialité|pensez à l['’]environnement|este (?:mensaje|correo|e-?mail)(?: y| es| puede| contiene| electrónico|,| se)|aviso (?:legal|de confidencialidad)|antes de imprimir|questo (?:messaggio|documento|e-?mail)|la presente (?:e-?mail|comunicazione)|le informazioni contenute|prima di stampare|dit (?:bericht|e-?mail)|de informatie (?:in|verzonden)|deze e-?mail|esta mensagem|este e-?mail|antes de imprimir|denna? (?:e-?post|mejl)|detta (?:meddelande|e-?post)|denne (?:e-?mail|e-?post|mail)|tämä (?:viesti|sähköposti)|ta wiadomość|niniejsza wiadomość|tato zpráva|ez az üzenet|это сообщение|bu (?:e-?posta|mesaj|ileti))/iu;

/**
 * A person's own words: without what they quote (above, below or between their words), their signature, what their program or
 * their company's server adds, and lines that only say who wrote when.
 *
 * @param text the readable text of a message
 * @returns '' where they wrote nothing themselves
 */
export function ownWords(text: string): string {
  const lines = text
    .slice(0, MOST_LETTERS)
    .replaceAll('\r\n', '\n')
    .replace(/[\u200b\u200c\u2060\ufeff]/g, '')
    .replaceAll('\u00a0', ' ')
    .split('\n')
    .map((line) => line.trimEnd());
  const own: string[] = [];
  for (const part of unquotedParts(lines)) own.push(...withoutBlock(withoutEnd(part)));
  return own
    .join('\n')
    .replace(/\n{3,}/g, '\n\n')
    .trim();
}

const isQuoted = (line: string): boolean => /^\s{0,2}(?:>|\|\s|&gt;)/.test(line);

/** The runs of lines that are not quoted, in order. */
function unquotedParts(lines: readonly string[]): string[][] {
  const parts: string[][] = [[]];
  const put = (line: string) => void (parts.at(-1) as string[]).push(line);
  for (let i = 0; i < lines.length; i++) {
    const line = lines[i] as string;
    if (isQuoted(line)) {
      if (parts.at(-1)?.length !== 0) parts.push([]);
      continue;
    }
    const after = afterAttribution(lines, i) ?? afterBareAttribution(lines, i);
    if (after !== null) {
      const next = nextFilled(lines, after);
      // What it speaks of is marked line by line, and more of their own may follow; or is all that follows.
      if (next !== null && isQuoted(lines[next] as string)) {
        i = next - 1;
        continue;
      }
      break;
    }
    if (ORIGINAL.test(line) || FORWARDED.test(line) || isHead(lines, i)) break;
    put(line);
  }
  return parts;
}

/** Where lines go on behind one, perhaps wrapped, that says who wrote when; null where none begins here. */
function afterAttribution(lines: readonly string[], from: number): number | null {
  let joined = '';
  for (let n = 0; n < MOST_WRAPPED && from + n < lines.length; n++) {
    const line = (lines[from + n] as string).trim();
    if (line === '' || isQuoted(line)) return null;
    joined = joined === '' ? line : `${joined} ${line}`;
    if (joined.length > 400) return null;
    if (ATTRIBUTION.test(joined)) return from + n + 1;
    // Only a line that begins like one can be wrapped.
    if (n === 0 && !BEGINS_ATTRIBUTION.test(line)) return null;
  }
  return null;
}

/** "Ines Aldrich wrote:" says who wrote only above what is marked as quoted. */
function afterBareAttribution(lines: readonly string[], at: number): number | null {
  if (!BARE.test((lines[at] as string).trim())) return null;
  const next = nextFilled(lines, at + 1);
  return next !== null && isQuoted(lines[next] as string) ? at + 1 : null;
}

const BARE = new RegExp(`^.{2,100}\\s(?:${WROTE})\\b.{0,60}[:：]$`, 'iu');

const BEGINS_ATTRIBUTION = new RegExp(`^(?:-{2,}\\s?)?(?:(?:${ON})\\s|.{0,120}<[^<>\\s]*@?|\\d{1,4}[./年-])`, 'iu');

function nextFilled(lines: readonly string[], from: number): number | null {
  for (let i = from; i < lines.length; i++) if (lines[i] !== '') return i;
  return null;
}

function isHead(lines: readonly string[], at: number): boolean {
  const from = RULE.test(lines[at] as string) ? nextFilled(lines, at + 1) : at;
  if (from === null || !HEAD_FROM.test(lines[from] as string)) return false;
  let seen = 0;
  for (let i = from + 1; i < lines.length && seen < HEAD_LINES; i++) {
    if (lines[i] === '') continue;
    seen++;
    if (HEAD_MORE.test(lines[i] as string)) return true;
  }
  return false;
}

/** A run of lines without signature, disclaimers and what programs add. */
function withoutEnd(lines: readonly string[]): string[] {
  const kept: string[] = [];
  for (let i = 0; i < lines.length; i++) {
    const line = lines[i] as string;
    // Above everything, such a line is no end: nothing has been said yet.
    if (SIGNATURE.test(line) && kept.some((l) => l !== '')) break;
    if (SENT_FROM.test(line)) continue;
    if (DISCLAIMER.test(line) && (i === 0 || lines[i - 1] === '')) {
      if (kept.some((l) => l !== '')) break;
      // Above everything it is a banner of their server, and their words come below it.
      while (i + 1 < lines.length && lines[i + 1] !== '') i++;
      continue;
    }
    kept.push(line);
    if (CLOSING.test(line)) return [...kept, ...nameOnly(lines.slice(i + 1))];
  }
  return kept;
}

const NAME_LINE = /^\s*\p{Lu}[\p{L}.'’-]*(?: (?:\p{Lu}[\p{L}.'’-]*|van|von|de|der|den|del|di|da)){1,3}\s*$/u;

/** A run of lines without the block about its writer that ends it: a name, and lines of which one has their contacts. */
function withoutBlock(lines: readonly string[]): string[] {
  for (let i = 1; i < lines.length; i++) {
    if (lines[i - 1] !== '' || !NAME_LINE.test(lines[i] as string)) continue;
    const block = lines.slice(i + 1).filter((line) => line !== '');
    const isAbout = block.length > 0 && block.length <= MOST_BLOCK && block.some((line) => CONTACT.test(line));
    if (isAbout && !block.some((line) => line.length > 80 || (/[.?!]\s*$/.test(line) && !CONTACT.test(line))))
      return lines.slice(0, i);
  }
  return [...lines];
}

/** What follows the end of a letter: the name, and where no block about the person follows, all of it. */
function nameOnly(rest: readonly string[]): string[] {
  const filled = rest.filter((line) => line.trim() !== '').slice(0, MOST_BLOCK + 1);
  // Whoever goes on writing ends sentences.
  const saysMore = filled.some((line) => /[.?!…:]\s*$/.test(line) && !CONTACT.test(line));
  const isAbout = filled.length > 1 && (filled.some((l) => CONTACT.test(l)) || filled.length <= MOST_BLOCK);
  if (saysMore || !isAbout) return withoutEnd(rest);
  const at = rest.findIndex((line) => line.trim() !== '');
  const name = rest[at] ?? '';
  return CONTACT.test(name) || SENT_FROM.test(name) || SIGNATURE.test(name) ? [] : rest.slice(0, at + 1);
}
