import { newAddressIn } from './address-changed';

/** Whom to write to instead. */
export interface NewContact {
  name: string | null;
  address: string | null;
  role: string | null;
}

/** A name: words that begin with a capital, small ones of names between them. */
const NAME =
  /(?<![\p{L}\d@.-])\p{Lu}[\p{L}'’-]+(?:\s+(?:(?:van|von|vom|de|der|den|del|della|di|da|dos|do|la|le|zu|zur|ten|ter|bin|al|el|af|av|y|Mc|Mac)\s+){0,2}\p{Lu}[\p{L}'’-]+\.?|\s+\p{Lu}\.(?=\s\p{Lu})){0,3}(?![\p{L}\d@])/gu;
/** What begins with a capital and is no name of a person. */
const NO_NAME = new Set(
  `please kindly contact write mail email e-mail for from to our my the this that he she they i we you hello hi dear thanks thank regards best kind all any instead in at on if as since until after new and or but re fw
  bitte kontaktieren wenden sie ihr ihre ihren unser unsere mein meine herr herrn frau der die das den dem guten tag hallo liebe lieber ansprechpartner ansprechpartnerin nachfolger nachfolgerin kollege kollegin kollegen in für ab seit vielen dank mit neue neuer einkauf einkaufs leiter leiterin leitung geschäftsführer geschäftsführerin anfragen künftig zukünftig unternehmen firma e mail
  veuillez merci bonjour monsieur madame mme m notre votre mon ma mes pour le la les je nous vous il elle cordialement contactez
  por favor hola buenos buenas días señor señora sr sra estimado estimada puede contacte contactar para nuestro nuestra su mi el ella gracias saludos le les
  per favore buongiorno salve gentile signor signora sig dott dottssa può contattare grazie saluti il lo la
  neem gelieve graag beste dag de heer mevrouw dhr mevr voor onze mijn u bedankt groet contact
  vänligen hej kontakta tack hälsningar venligst kontakt tak hilsen vennligst takk ota yhteyttä kiitos terveisin
  proszę dzień dobry pan pani panem panią kontakt dziękuję pozdrawiam dobrý prosím kontaktujte pan paní děkuji
  mr mrs ms dr prof head director manager purchasing sales marketing ceo coo cfo
  monday tuesday wednesday thursday friday saturday sunday january february march april may june july august september october november december
  montag dienstag mittwoch donnerstag freitag januar februar märz mai juni juli oktober dezember`.split(/\s+/),
);

const ROLE_WORD =
  'head|manager(?:in)?|director|lead|leader|officer|buyer|purchas(?:er|ing)|procurement|assistant|coordinator|owner|partner|ceo|coo|cfo|cto|chair|president|secretary|administrator|supervisor|accountant|engineer|consultant|specialist|executive|principal|cellar master|winemaker|nachfolger(?:in)?|leiter(?:in)?|leitung|einkauf(?:s\\p{L}*)?|einkäufer(?:in)?|geschäftsführ\\p{L}*|vertrieb\\p{L}*|assisten[zt]\\p{L}*|inhaber(?:in)?|vorstand|betriebsleit\\p{L}*|kellermeister(?:in)?|responsable|directeur|directrice|acheteu(?:r|se)|chef(?:fe)?|gérante?|jef[ea]|director[ae]?|comprador[ae]?|encargad[oa]|gerente|responsabile|direttore|direttrice|titolare|diretora?|gestor[ae]?|comprador[ae]?|inkoper|hoofd|directeur|inköp(?:are|s\\p{L}*)|inköpschef|indkøb(?:er|s\\p{L}*)|innkjøp(?:er|s\\p{L}*)|leder|päällikkö|johtaja|\\p{L}+päällikkö|kierowni(?:k|czka)|dyrektor(?:ka)?|vedoucí|ředitel(?:ka)?';
const ROLE = new RegExp(
  `(?<![\\p{L}@.])(?:(?:[\\p{L}]+[ -]){0,2}(?:${ROLE_WORD})(?:(?:[ -]|\\s(?:of|for|für|des|der|de|du|del|della|de la|van|av|af|and|&|und|et|y|e|i|d['’])\\s?)(?!(?:at|is|who|ist|est|es|unter|via|under|on|and I|has|will)\\b)\\p{L}+){0,4})`,
  'iu',
);
/** What stands before a role and is no part of it. */
const BEFORE_ROLE =
  /^(?:(?:our|the|my|a|an|new|now|is|as|who|his|her|their|successor|replacement|colleague|unsere?[nmrs]?|meine?[nmrs]?|der|die|das|den|dem|ist|neue[nmrs]?|jetzt|nun|an|als|notre|nos|mon|ma|le|la|les|un|une|nouveau|nouvelle|est|nuestr[oa]|mi|el|nuev[oa]|es|nostr[oa]|il|lo|nuov[oa]|è|onze|mijn|de|het|nieuwe|vår|vores|ny|nye|naszą?|nasz[ay]?|now|contact|to|with|please|is)\s+)+/iu;

/** As far around a name as its role stands. */
const NEAR = 90;

/**
 * The person that a message names to write to instead: by the address it gives, and the name and role beside it.
 *
 * @param own its own words, see `ownWords`
 * @param known addresses of which none is meant: the sender's, and ours
 * @returns null where it names nobody
 */
export function newContactIn(own: string, known: readonly string[]): NewContact | null {
  const text = own.slice(0, 4000).replace(/[ \t]+/g, ' ');
  const address = newAddressIn(text, known);
  const at = address === null ? null : text.toLowerCase().indexOf(address);
  const name = at === null || address === null ? nameBehindCue(text) : nameBeside(text, at, address);
  if (address === null && name === null) return null;
  return { name: name?.text ?? null, address, role: roleBeside(text, name?.at ?? at ?? 0, name?.text ?? '') };
}

interface Found {
  text: string;
  at: number;
}

function namesIn(text: string): Found[] {
  return [...text.matchAll(NAME)].flatMap((m) => {
    let words = m[0].split(/\s+/);
    let at = m.index;
    while (words.length > 0 && NO_NAME.has((words[0] as string).toLowerCase().replace(/\.$/, ''))) {
      at += (words[0] as string).length + 1;
      words = words.slice(1);
    }
    while (words.length > 0 && NO_NAME.has((words.at(-1) as string).toLowerCase())) words = words.slice(0, -1);
    return words.length === 0 ? [] : [{ text: words.join(' ').replace(/['’]s?$/, ''), at }];
  });
}

const plain = (text: string): string =>
  text
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .replaceAll('ß', 'ss')
    .replaceAll('ø', 'o')
    .replaceAll('ł', 'l')
    .toLowerCase();

/** The name of which the address has a part; else the nearest before it, or in brackets behind it. */
function nameBeside(text: string, at: number, address: string): Found | null {
  const local = plain(address.split('@')[0] as string);
  const umlauts = (word: string) => [
    plain(word),
    plain(word.replace(/ä/gi, 'ae').replace(/ö/gi, 'oe').replace(/ü/gi, 'ue')),
  ];
  const parts = local.split(/[^\p{L}]+/u);
  const around = namesIn(text).filter((n) => Math.abs(n.at - at) < 250 && !isRole(n.text));
  const alike = around.filter((n) =>
    n.text
      .split(/[\s-]+/)
      .some((word) => umlauts(word).some((w) => parts.includes(w) || (word.length > 2 && local.includes(w)))),
  );
  const byLength = [...alike].sort((a, b) => b.text.split(' ').length - a.text.split(' ').length);
  if (byLength[0]) return byLength[0];
  const before = around.filter((n) => n.at < at && !/[.!?]\s/.test(text.slice(n.at + n.text.length, at)));
  const behind = around.filter((n) => n.at > at && n.at - at - address.length < 5);
  return before.filter((n) => n.text.includes(' ')).at(-1) ?? behind[0] ?? null;
}

const isRole = (name: string): boolean => ROLE.exec(name)?.[0].length === name.length;

/** Words after which somebody is named. */
const CUE =
  /(?:contact|write to|speak (?:to|with)|talk to|reach out to|get in touch with|ask(?: for)?|try|successor(?: is)?|replaced by|taken over by|handed over to|responsible is|wenden sie sich (?:bitte )?an|kontaktieren sie|sprechen sie mit|rufen sie|zuständig ist|(?:nachfolger(?:in)?|ansprechpartner(?:in)?)(?: ist|:)|contacter|contactez|adresser à|adressez-vous à|voir avec|contacte (?:con|a)|hable con|dirigirse a|diríjase a|contattare|rivolgersi a|si rivolga a|parlare con|contact (?:opnemen )?(?:op )?met|contacte|fale com|kontakta|kontakt(?:e|er)?|prata med|tal med|snakk med|ota yhteyttä|skontaktować się z|kontakt z|kontaktujte)\s+/giu;

function nameBehindCue(text: string): Found | null {
  for (const cue of text.matchAll(CUE)) {
    const from = cue.index + cue[0].length;
    const found = namesIn(text.slice(from, from + 80))[0];
    if (found && found.at < 40) return { text: found.text, at: from + found.at };
  }
  return null;
}

function roleBeside(text: string, at: number, name: string): string | null {
  const behind = text.slice(at + name.length, at + name.length + NEAR).split(/[.!?](?=\s|$)/)[0] as string;
  const before = (text
    .slice(Math.max(0, at - NEAR), at)
    .split(/[.!?]\s/)
    .at(-1) ?? '') as string;
  for (const part of [behind, before]) {
    const found = ROLE.exec(part.replace(/\S+@\S+/g, '|').replace(/\s+/g, ' '))?.[0];
    const role = found?.replace(BEFORE_ROLE, '').trim();
    if (role) return role;
  }
  return null;
}
